# Work that consists of replicates 0, 1, ..., each keyed by (seed, number), so that any range of
# them can be made anywhere: here, on threads, or by the workers of a plan of the package future.
#
# A worker function has the form worker(first, count, payload, threads, progress) and gives a matrix
# with a column for each replicate (or a list as long). It is sent with a payload of plain data.

# How long a range should take at least, in seconds: ten times what sending it costs.
RANGE_SECONDS <- c(local = 0.5, batch = 20)

# All of `count` replicates (from `first` on), and findings about workers. Ranges begin at multiples
# of `align`, from which on replicates are made together.
run_ranges <- function(worker, count, payload, threads, label, first = 0L, align = 1L) {
  here <- function(from, many, progress) worker(first + from, many, payload, threads, progress)
  all_here <- function() with_progress(label, count, function(progress) here(0L, count, progress))
  workers <- workers_there()
  if (workers < 2L || count < 4L * align) return(list(value = all_here(), findings = NULL))
  # the first few are made here, and show how long the others take
  began <- proc.time()[["elapsed"]]
  pilot <- here(0L, align, function(done) NULL)
  seconds <- proc.time()[["elapsed"]] - began
  size <- range_size(seconds, align, count - align, threads, workers)
  if (is.na(size)) {
    say_why("%s: not sent to workers, as it takes too little time.", label)
    return(list(value = all_here(), findings = NULL))
  }
  key <- rlang::hash(list(body(worker), first, count, align, payload))
  kept <- kept_ranges(key)
  kept[["0"]] <- pilot
  ranges <- missing_ranges(kept, count, size)
  say_why("%s: %d ranges go to %d workers.", label, nrow(ranges), workers)
  sent <- with_progress(label, max(1L, nrow(ranges)), function(progress) {
    send_ranges(worker, ranges, first, payload, key, kept, progress)
  })
  findings <- find_in_hands(sent$hands)
  forget_ranges(key)
  list(value = join_pieces(sent$kept), findings = findings)
}

# Ranges (start, count) that no piece covers, each of up to `size` replicates.
missing_ranges <- function(kept, count, size) {
  starts <- as.integer(names(kept))
  ends <- starts + vapply(kept, pieces_long, 0L)
  order <- order(starts)
  from <- c(0L, ends[order])
  to <- c(starts[order], count)
  gaps <- Filter(function(i) to[i] > from[i], seq_along(from))
  rows <- lapply(gaps, function(i) {
    start <- seq(from[i], to[i] - 1L, by = size)
    data.frame(start = start, count = pmin(size, to[i] - start))
  })
  do.call(rbind, c(list(data.frame(start = integer(), count = integer())), rows))
}

pieces_long <- function(piece) if (is.matrix(piece)) ncol(piece) else length(piece)

join_pieces <- function(pieces) {
  pieces <- unname(pieces[order(as.integer(names(pieces)))])
  if (is.matrix(pieces[[1L]])) do.call(cbind, pieces) else do.call(c, pieces)
}

# How many workers the plan has; 1 where there is none, or where this is one.
workers_there <- function() {
  if (!isNamespaceLoaded("future")) return(1L)
  if (inherits(future::plan(), "sequential")) return(1L)
  workers <- future::nbrOfWorkers()
  as.integer(min(workers, 1000))
}

# Replicates in a range, a multiple of `align`; NA where sending does not pay.
range_size <- function(seconds, align, rest, threads, workers) {
  batch <- inherits(future::plan(), "batchtools")
  least <- getOption("softsieve.range_seconds", RANGE_SECONDS[[if (batch) "batch" else "local"]])
  # a worker has one thread
  each <- max(1e-6, seconds * min(threads, align) / align)
  if (rest * each / threads < 2 * least) return(NA_integer_)
  size <- max(least / each, rest / (4 * workers))
  as.integer(align * max(1, ceiling(size / align)))
}

say_why <- function(...) if (isTRUE(getOption("softsieve.verbose"))) rlang::inform(sprintf(...))

# What a worker does: the range, and what shows whether it computes as others do.
range_on_worker <- function(worker, first, count, payload) {
  list(value = worker(first, count, payload, 1L, function(done) NULL), hand = hand_of_worker())
}

# A version, and numbers that may differ in their last bits between processors.
hand_of_worker <- function() {
  grid <- seq(-20, 20, length.out = 1001L)
  list(version = as.character(utils::packageVersion("softsieve")),
    numbers = rlang::hash(list(exp(grid), log(grid[grid > 0]),
      cpp_sample_eigenvalues(50L, 8L, matrix(0, 0L, 0L), "components", 0L, 1L, 1, 1L, NULL))))
}

MOST_TRIES <- 3L

# Ranges go out, as many at once as there are workers; one whose worker died goes out again.
send_ranges <- function(worker, ranges, first, payload, key, kept, progress) {
  trip <- list2env(list(left = seq_len(nrow(ranges)), tries = integer(nrow(ranges)), out = list(),
    hands = list(), kept = kept))
  tick <- range_ticker(nrow(ranges))
  send <- function(i) send_range(worker, first + ranges$start[i], ranges$count[i], payload)
  while (length(trip$left) || length(trip$out)) {
    fill_workers(trip, send)
    ended <- names(trip$out)[vapply(trip$out, has_ended, NA)]
    if (!length(ended)) Sys.sleep(0.02)
    for (name in ended) {
      if (is.null(trip$out[[name]])) next # went with a worker that was renewed
      if (!range_came(as.integer(name), trip, ranges, key)) next
      progress(nrow(ranges) - length(trip$left) - length(trip$out))
      tick()
    }
  }
  list(kept = trip$kept, hands = trip$hands)
}

fill_workers <- function(trip, send) {
  while (length(trip$left) && length(trip$out) < workers_there()) {
    i <- trip$left[1L]
    trip$left <- trip$left[-1L]
    trip$tries[i] <- trip$tries[i] + 1L
    trip$out[[as.character(i)]] <- send(i)
  }
}

# What came of range i: kept, or to be sent again (FALSE).
range_came <- function(i, trip, ranges, key) {
  name <- as.character(i)
  got <- what_came(trip$out[[name]])
  trip$out[[name]] <- NULL
  if (!inherits(got, "error")) {
    start <- as.character(ranges$start[i])
    trip$hands <- c(trip$hands, list(got$hand))
    trip$kept[[start]] <- got$value
    keep_range(key, trip$kept, start)
    return(TRUE)
  }
  if (!inherits(got, "FutureError") || trip$tries[i] == MOST_TRIES) stop_range(got)
  trip$left <- c(trip$left, i)
  if (renew_workers()) {
    # what the other workers had ends with them, which is not its fault
    lost <- as.integer(names(trip$out))
    trip$tries[lost] <- trip$tries[lost] - 1L
    trip$left <- c(lost, trip$left)
    trip$out <- list()
  }
  FALSE
}

# A future, or the error of a worker that could not be reached.
send_range <- function(worker, first, count, payload) {
  tryCatch(
    future::future(
      utils::getFromNamespace("range_on_worker", "softsieve")(worker, first, count, payload),
      globals = list(worker = worker, first = first, count = count, payload = payload),
      packages = character(), seed = NULL, lazy = FALSE),
    error = function(e) as_future_error(e))
}

has_ended <- function(one) {
  inherits(one, "error") || tryCatch(future::resolved(one), error = function(e) TRUE)
}

what_came <- function(one) {
  if (inherits(one, "error")) return(one)
  tryCatch(future::value(one), error = function(e) e)
}

# What a worker that is gone makes of being spoken to.
as_future_error <- function(e) {
  if (!inherits(e, "FutureError")) class(e) <- c("FutureError", class(e))
  e
}

# Workers that R holds connections to are started again when one has gone; TRUE where they were.
renew_workers <- function() {
  if (!inherits(future::plan(), "cluster")) return(FALSE)
  plans <- future::plan("list")
  # (a plan that is given again as it is keeps its workers)
  future::plan("sequential")
  future::plan(plans)
  TRUE
}

# What people who use the package progressr asked to be told by.
range_ticker <- function(steps) {
  if (!requireNamespace("progressr", quietly = TRUE)) return(function() NULL)
  step <- progressr::progressor(steps = steps)
  function() step()
}

stop_range <- function(e) {
  if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
  lacks <- grepl("no package called", conditionMessage(e), fixed = TRUE)
  stop_input("workers", if (lacks) {
    "Every worker of the plan must have softsieve."
  } else {
    "Every range of replicates must come back from a worker."
  }, got = first_line(conditionMessage(e)), todo = if (lacks) {
    "Install it there, or give future::plan(\"sequential\")."
  } else {
    "What came back is kept: the same call goes on there. Or give future::plan(\"sequential\")."
  })
}

# Workers of another version are an error; those that compute the last bits differently are told.
find_in_hands <- function(hands) {
  own <- hand_of_worker()
  versions <- unique(vapply(hands, `[[`, "", "version"))
  if (any(versions != own$version)) {
    stop_input("workers", "Every worker must have the version of softsieve that is here.",
      got = sprintf("Here %s; there %s.", own$version, join_words(setdiff(versions, own$version))),
      todo = "Install the same version everywhere.")
  }
  differ <- sum(vapply(hands, function(hand) hand$numbers != own$numbers, NA))
  if (!differ) return(NULL)
  new_finding("workers_differ", count_of(differ, "range"), value = differ)
}

# Ranges of replicates that came back are kept, so that a run that was broken off goes on: in this
# session, and, where the option softsieve.keep_ranges names a folder, there, also when the session
# was killed. Such files hold numbers only.

kept_ranges <- function(key) {
  kept <- unfinished_pieces(key)
  folder <- getOption("softsieve.keep_ranges")
  if (is.null(folder)) return(kept)
  for (file in list.files(folder, range_files(key))) {
    start <- sub("^.*-([0-9]+)[.]range$", "\\1", file)
    piece <- read_range(file.path(folder, file))
    if (is.null(kept[[start]]) && !is.null(piece)) kept[[start]] <- piece
  }
  kept
}

keep_range <- function(key, kept, start) {
  keep_unfinished(key, kept)
  folder <- getOption("softsieve.keep_ranges")
  piece <- kept[[start]]
  if (!is.null(folder) && is.matrix(piece) && is.double(piece)) {
    write_range(piece, file.path(folder, sprintf("%s-%s.range", key, start)))
  }
}

forget_ranges <- function(key) {
  forget_unfinished()
  folder <- getOption("softsieve.keep_ranges")
  if (is.null(folder)) return(invisible())
  unlink(file.path(folder, list.files(folder, range_files(key))), expand = FALSE)
}

range_files <- function(key) sprintf("^%s-[0-9]+[.]range$", key)

# Rows, columns and a sum, then the numbers.
write_range <- function(piece, file) {
  fresh <- paste0(file, "-new")
  to <- base::file(fresh, "wb")
  tryCatch({
    writeBin(c(dim(piece) + 0, sum_of_piece(piece)), to)
    writeBin(as.vector(piece), to)
  }, finally = close(to))
  file.rename(fresh, file)
}

# NULL where the file is not whole.
read_range <- function(file) {
  from <- base::file(file, "rb")
  on.exit(close(from))
  head <- readBin(from, "double", 3L)
  good <- length(head) == 3L && !anyNA(head) && all(head[1:2] >= 0) && prod(head[1:2]) <= 1e9
  if (!good) return(NULL)
  values <- readBin(from, "double", prod(head[1:2]))
  if (length(values) != prod(head[1:2])) return(NULL)
  piece <- matrix(values, head[1L])
  if (sum_of_piece(piece) == head[3L]) piece
}

# A number that changes with any of the numbers.
sum_of_piece <- function(piece) strtoi(substr(rlang::hash(as.vector(piece)), 1L, 7L), 16L) + 0
