# The one door for files: what they are is told by their first bytes, not by their names; what is
# packed is unpacked, within limits; nothing but the file that was named is opened.

# Limits, said before the work begins. Ten times what the largest surveys need.
MOST_BYTES <- 2^30
MOST_COLUMNS <- 10000L
MOST_CELLS <- 1e8

# How files of these kinds begin.
FILE_MARKS <- list(zip = as.raw(c(0x50, 0x4b, 0x03, 0x04)),
  excel_old = as.raw(c(0xd0, 0xcf, 0x11, 0xe0)),
  parquet = charToRaw("PAR1"), gzip = as.raw(c(0x1f, 0x8b)), bzip2 = charToRaw("BZh"),
  xz = as.raw(c(0xfd, 0x37, 0x7a, 0x58, 0x5a)), pdf = charToRaw("%PDF-"),
  png = as.raw(c(0x89, 0x50, 0x4e, 0x47)), rtf = charToRaw("{\\rtf"), rds = charToRaw("RDX"),
  # two kinds of files in which programs for statistics keep data
  tagged_data = as.raw(c(0x3c, 0x73, 0x74, 0x61, 0x74, 0x61, 0x5f, 0x64, 0x74, 0x61, 0x3e)),
  binary_data = as.raw(c(0x24, 0x46, 0x4c, 0x32)))
PACKED <- c("gzip", "xz")
STRANGE_KINDS <- c(
  # (R does not tell where such a file was cut off)
  bzip2 = "packed by bzip2, which is not unpacked here",
  pdf = "a PDF",
  png = "a picture",
  rtf = "a document",
  rds = "a file of R objects",
  tagged_data = "a file of a statistics program",
  binary_data = "a file of a statistics program")

# R takes some names for something else ("stdin", "clipboard", addresses); a path it takes for one.
as_path <- function(file) if (grepl("^([/\\\\~]|[A-Za-z]:)", file)) file else file.path(".", file)

# "text", or the name of a mark.
kind_of_file <- function(file) {
  size <- max(lengths(FILE_MARKS))
  first <- readBin(as_path(file), "raw", size)
  begins <- function(mark) length(first) >= length(mark) && all(first[seq_along(mark)] == mark)
  kind <- names(FILE_MARKS)[vapply(FILE_MARKS, begins, NA)]
  if (length(kind)) kind[1L] else "text"
}

# The bytes of a text file, unpacked where they are packed.
text_bytes <- function(file) {
  kind <- kind_of_file(file)
  if (kind != "text" && !kind %in% PACKED) refuse_kind(file, kind)
  if (file.size(file) > MOST_BYTES) stop_too_large(file, "bytes")
  if (kind == "text") return(readBin(as_path(file), "raw", file.size(file)))
  # text packs some twenty times
  most <- min(MOST_BYTES, max(2^26, 300 * file.size(file)))
  from <- gzfile(file, "rb")
  on.exit(close(from))
  pieces <- list()
  got <- 0
  repeat {
    piece <- unpack_piece(from, file)
    if (!length(piece)) break
    got <- got + length(piece)
    if (got > most) stop_too_large(file, "bytes unpacked", most)
    pieces <- c(pieces, list(piece))
  }
  if (!got) stop_damaged(file, "It unpacks to nothing.")
  bytes <- unlist(pieces)
  whole <- kind != "gzip" || is_whole_gzip(file, bytes)
  if (!whole) stop_damaged(file, "It unpacks to something else than was packed.")
  bytes
}

# The last bytes of a gzip file are the sum and the size of what its last part unpacks to
# (RFC 1952, 2.3.1).
gzip_end <- function(file) {
  from <- file(as_path(file), "rb")
  on.exit(close(from))
  seek(from, max(0, file.size(file) - 8))
  end <- readBin(from, "raw", 8L)
  list(sum = little(end, 1L, 4L), size = little(end, 5L, 4L))
}

is_whole_gzip <- function(file, bytes) {
  end <- gzip_end(file)
  end$size <= length(bytes) && cpp_zip_sum(utils::tail(bytes, end$size)) == end$sum
}

unpack_piece <- function(from, file, size = 2^24) {
  damaged <- function(e) stop_damaged(file, "It cannot be unpacked to its end.")
  tryCatch(readBin(from, "raw", size), error = damaged, warning = damaged)
}

# A whole number of a few bytes, the lowest first.
little <- function(bytes, at, size) {
  sum(as.numeric(bytes[seq(at, length.out = size)]) * 256^(seq_len(size) - 1L))
}

refuse_kind <- function(file, kind) {
  what <- if (kind %in% names(STRANGE_KINDS)) STRANGE_KINDS[[kind]] else "no text"
  stop_input("reader", "The file must be text (CSV, JSON lines, YAML), a sheet or Parquet.",
    got = sprintf("\"%s\" is %s.", basename(file), what), todo = "Save it as CSV in UTF-8.")
}

stop_damaged <- function(file, got) {
  stop_input("reader", sprintf("\"%s\" must be whole.", basename(file)), got = got,
    todo = "Does it open in the program that wrote it? Save it again, or as CSV.")
}

# `what` is said to be too much of: bytes, columns, cells, ...
stop_too_large <- function(file, what, most = NULL) {
  if (is.null(most)) most <- c(columns = MOST_COLUMNS, cells = MOST_CELLS, bytes = MOST_BYTES)[what]
  stop_input("too_large", sprintf("A file may hold up to %s %s.", format_count(most), what),
    got = sprintf("\"%s\" holds more.", basename(file)),
    todo = "Keep the columns and people that are needed, or split the file.")
}
