# The study file behind a page: written whole after each decision, never over what somebody else
# wrote meanwhile, and by one page at a time.

sum_of_file <- function(file) if (file.exists(file)) unname(tools::md5sum(file)) else ""

# Beside the file stands which process has it on a page (a folder: only one can make it). One that
# has ended has it no more. Gives 0, or the process that has it.
lock_of <- function(file) file.path(dirname(file), paste0(".", basename(file), ".page"))

take_lock <- function(file) {
  lock <- lock_of(file)
  holder <- file.path(lock, "process")
  if (!dir.create(lock, showWarnings = FALSE)) {
    process <- if (kind_of_path(holder) == "plain") {
      suppressWarnings(as.integer(lines_of(holder, 1L)))
    }
    alive <- length(process) && !is.na(process) && isTRUE(tools::pskill(process, 0L))
    if (alive && process != Sys.getpid()) return(process)
    unlink(lock, recursive = TRUE, expand = FALSE)
    if (!dir.create(lock, showWarnings = FALSE)) return(NA_integer_)
  }
  if (quietly({
    writeLines(as.character(Sys.getpid()), holder)
    TRUE
  })) 0L else NA_integer_
}

give_lock_back <- function(page) {
  if (identical(page$holder, 0L)) unlink(lock_of(page$file), recursive = TRUE, expand = FALSE)
}

begin_page <- function(page, file) {
  page$file <- file
  take_up_file(page)
  page$holder <- take_lock(file)
  page$words <- page_words(page$study$settings$language)
  if (is.null(page$results)) page$results <- file.path(dirname(file), "results")
}

# Reads the study anew: what a page holds of it is what the file says.
take_up_file <- function(page) {
  page$study <- read_study(page$file)
  page$sum <- sum_of_file(page$file)
  page$undone <- list()
  # without a seed two runs differ: one is drawn, and written with the first decision
  if (is.null(page$study$settings$seed)) {
    page$study <- change_study(page$study, seed = sample.int(99999L, 1L))
  }
  page
}

# Writes `study`, unless the file has changed on disk: then both stay, and people say which counts.
put_study <- function(page, study, anyway = FALSE) {
  if (!anyway && sum_of_file(page$file) != page$sum) {
    page$mine <- study
    tell_page(page, "conflict", list(there = file.exists(page$file)))
    return(FALSE)
  }
  written <- tryCatch({
    write_study(study, page$file, defaults = FALSE)
    NULL
  }, softsieve_error = said_shortly)
  if (!is.null(written)) {
    tell_page(page, "said", list(problem = written))
    return(FALSE)
  }
  page$study <- study
  page$sum <- sum_of_file(page$file)
  page$mine <- NULL
  TRUE
}
