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
