# Progress of long work, and what was interrupted of it.

# Runs `work(progress)` with a bar that appears when it takes long; `progress` takes the count done.
with_progress <- function(label, total, work) {
  total <- max(1, ceiling(total))
  bar <- cli::cli_progress_bar(label, total = total, clear = TRUE, current = FALSE,
    auto_terminate = FALSE)
  # an interrupt may find the bar half updated: taking it away must not hide the interrupt
  on.exit(try(cli::cli_progress_done(id = bar), silent = TRUE), add = TRUE)
  # a total that was only estimated may be passed: the bar then stays full
  work(function(done) cli::cli_progress_update(set = min(done, total), id = bar, force = FALSE))
}

# The same of work whose end is not known: `what` ("people counted") is told with the number.
with_counter <- function(what, work) {
  number <- 0
  bar <- cli::cli_progress_bar(format = "{cli::pb_spin} {format_count(number)} {what}", total = NA,
    clear = TRUE, current = FALSE, auto_terminate = FALSE)
  on.exit(try(cli::cli_progress_done(id = bar), silent = TRUE), add = TRUE)
  work(function(done) {
    number <<- done
    cli::cli_progress_update(inc = 1, id = bar, force = FALSE)
  })
}

# Work that was interrupted and can go on in the same session: the pieces of the last such run,
# under a key that says what it was. Nothing is kept of a run that ended.

UNFINISHED <- new.env(parent = emptyenv())

unfinished_pieces <- function(key) if (identical(UNFINISHED$key, key)) UNFINISHED$pieces else list()

keep_unfinished <- function(key, pieces) {
  UNFINISHED$key <- key
  UNFINISHED$pieces <- pieces
}

forget_unfinished <- function() rm(list = ls(UNFINISHED), envir = UNFINISHED)
