# Progress of long work.

# Runs `work(progress)` with a bar that appears when it takes long; `progress` takes the count done.
with_progress <- function(label, total, work) {
  bar <- cli::cli_progress_bar(label, total = total, clear = TRUE, current = FALSE)
  # an interrupt may find the bar half updated: taking it away must not hide the interrupt
  on.exit(try(cli::cli_progress_done(id = bar), silent = TRUE), add = TRUE)
  work(function(done) cli::cli_progress_update(set = done, id = bar, force = FALSE))
}
