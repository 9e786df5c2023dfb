# From what a study file says of its answers to the questionnaire.

questionnaire_of_study <- function(s) {
  data <- read_study_answers(s)
  codebook <- if (!is.null(s$codebook)) read_codebook(study_path(s, s$codebook))
  asking <- stage_arguments(s, "ask")
  asking["missing_codes"] <- list(codes_of_study(asking$missing_codes))
  # columns are named by words: they go in as they are
  asked <- rlang::inject(questionnaire(data, codebook = codebook, !!!asking))
  asked <- keep_by_filters(asked, data, s$answers$filters)
  drop_as_decided(asked, s)
}

# Codes as numbers where all are; words stay words.
codes_of_study <- function(codes) {
  if (is.null(codes)) return(NULL)
  number <- suppressWarnings(as.numeric(codes))
  if (anyNA(number)) as.character(codes) else number
}

# Filters are about items as they are analysed, and about every other column of the file.
keep_by_filters <- function(asked, data, filters) {
  if (!length(filters)) return(asked)
  known <- as_tibble(asked)
  beside <- data[setdiff(names(data), names(known))]
  keep_where(asked, filters, tibble::as_tibble(c(as.list(known), as.list(beside))))
}

# Where items are sifted, dropping is the first step of that, and stands in its trail.
drop_as_decided <- function(asked, s) {
  gone <- names(s$by_hand$drop)
  if (s$sift$run) return(asked)
  strange <- setdiff(gone, colnames(asked$values$answers))
  if (length(strange)) {
    stop_input(
      "items",
      "Items that are dropped must be among the items.",
      got = sprintf("Not there: %s.", name_culprits(strange)),
      todo = hint_nearest(strange[1L], colnames(asked$values$answers))
    )
  }
  if (!length(gone)) return(asked)
  keep_items(asked, -tidyselect::all_of(gone))
}

# Where a file (or a database) that the study names is.
study_path <- function(settings, name) {
  if (grepl("^(/|~|[A-Za-z]:|[a-z]+://)", name)) name else file.path(settings$folder, name)
}

# The way to `file` from the folder `home`, so that a study can be moved together with its answers.
relative_path <- function(file, home) {
  there <- strsplit(normalizePath(file, winslash = "/", mustWork = FALSE), "/", fixed = TRUE)[[1L]]
  here <- strsplit(normalizePath(home, winslash = "/"), "/", fixed = TRUE)[[1L]]
  if (there[1L] != here[1L]) return(file) # another drive
  shared <- sum(cumprod(
    utils::head(there, min(lengths(list(there, here)))) ==
      utils::head(here, min(lengths(list(there, here))))
  ))
  paste(c(rep("..", length(here) - shared), there[-seq_len(shared)]), collapse = "/")
}
