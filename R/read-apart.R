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
  if (inherits(answer$result, "handed_over")) return(take_over(answer$result))
  if (is.null(answer$error)) return(answer$result)
  e <- answer$error
  if (is.null(e$parent)) stop_apart(conditionMessage(e))
  stop_apart(conditionMessage(e$parent))
}

# There: many cells go by a file `to`, and columns of whole numbers within 255 of each other by a
# byte each, 0 where missing (serialized they are four times as much, turned about twice). It
# knows nothing of this session.
hand_over <- function(columns, to) {
  if (!is.list(columns) || sum(as.numeric(lengths(columns))) < 1e4) return(columns)
  lowest <- vapply(columns, function(x) {
    if (!is.integer(x) || !is.null(attributes(x)) || length(x) >= 2^29) return(NA_real_)
    ends <- suppressWarnings(as.numeric(c(min(x, na.rm = TRUE), max(x, na.rm = TRUE))))
    if (is.finite(ends[1L]) && ends[2L] - ends[1L] < 255) ends[1L] else NA_real_
  }, 0)
  small <- which(!is.na(lowest))
  rest <- unname(unclass(columns))
  rest[small] <- lengths(rest)[small]
  con <- file(to, "wb")
  on.exit(close(con))
  serialize(list(lowest = lowest, rest = rest, shape = attributes(columns)), con, xdr = FALSE)
  for (i in small) {
    x <- columns[[i]]
    if (lowest[i] != 1) x <- as.integer(x - (lowest[i] - 1))
    writeBin(x, con, size = 1L)
  }
  structure(to, class = "handed_over")
}
environment(hand_over) <- baseenv()

# Here: what was handed over.
take_over <- function(to) {
  con <- file(to, "rb")
  on.exit({
    close(con)
    unlink(to, expand = FALSE)
  })
  cut <- function(...) stop_apart("What was read could not be handed over whole: is the disk full?")
  got <- tryCatch(unserialize(con), error = cut)
  for (i in which(!is.na(got$lowest))) {
    bytes <- readBin(con, "raw", got$rest[[i]])
    if (length(bytes) < got$rest[[i]]) cut()
    got$rest[[i]] <- core_widen_bytes(bytes, got$lowest[i])
  }
  attributes(got$rest) <- got$shape
  got$rest
}
