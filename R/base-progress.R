# Progress of long work.

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
  bar <- cli::cli_progress_bar(
    format = "{cli::pb_spin} {format_count(number)} {what}",
    total = NA, clear = TRUE, current = FALSE, auto_terminate = FALSE)
  on.exit(try(cli::cli_progress_done(id = bar), silent = TRUE), add = TRUE)
  work(function(done) {
    number <<- done
    cli::cli_progress_update(inc = 1, id = bar, force = FALSE)
  })
}
