# Waiting for a process of its own that reads for this one: a database's (read-database-apart.R), or
# that of files of kinds that others wrote the readers of (read-source-text.R).

stop_apart <- function(text) stop(text, call. = FALSE)

# What it answers to what was asked last, within so many seconds. `ended`: what is said where it is
# no more.
answer_of <- function(session, seconds, ended) {
  # (whoever interrupts this one ends that one)
  done <- FALSE
  on.exit(if (!done) session$kill())
  limit <- Sys.time() + seconds
  repeat {
    left <- as.numeric(limit - Sys.time(), units = "secs")
    if (left <= 0) stop_apart("It has not answered in time.")
    ready <- session$poll_process(1000 * min(left, 1))
    if (!session$is_alive() && ready != "ready") stop_apart(ended)
    answer <- if (ready == "ready") session$read()
    if (!is.null(answer) && answer$code %in% c(200L, 500:502)) break
  }
  done <- TRUE
  if (answer$code != 200L) stop_apart(ended)
  if (is.null(answer$error)) return(answer$result)
  e <- answer$error
  stop_apart(conditionMessage(if (is.null(e$parent)) e else e$parent))
}
