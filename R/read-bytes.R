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

# From the bytes of a text file to lines in UTF-8. R's own iconv() does all decoding, before any
# reader sees the text: what cannot be decoded is refused and named.

# lines: character, in UTF-8, without line ends; encoding: what they were taken for; guessed: was
# that found?
decode_file <- function(file, encoding) {
  bytes <- text_bytes(file)
  guessed <- is.null(encoding)
  if (guessed) encoding <- guess_encoding(bytes)
  text <- decode_bytes(bytes, encoding, basename(file), guessed)
  list(lines = text_lines(text), encoding = encoding, guessed = guessed)
}

# The mark at the beginning of a file, and what it says.
BYTE_MARKS <- list("UTF-8" = as.raw(c(0xef, 0xbb, 0xbf)), "UTF-16LE" = as.raw(c(0xff, 0xfe)),
  "UTF-16BE" = as.raw(c(0xfe, 0xff)))

# Guesses for what is neither marked nor valid UTF-8, the likeliest first: Windows' Latin letters,
# and DOS code pages, which have letters where Windows has punctuation or nothing.
GUESSES <- c("windows-1252", "CP850", "CP437")

guess_encoding <- function(bytes) {
  marked <- vapply(BYTE_MARKS,
    function(mark) length(bytes) >= length(mark) && all(bytes[seq_along(mark)] == mark),
    NA)
  if (any(marked)) return(names(BYTE_MARKS)[which(marked)[1L]])
  plain <- bytes[bytes != as.raw(0L)]
  if (validUTF8(rawToChar(plain))) return("UTF-8")
  odd <- plain[plain >= as.raw(0x80)]
  letters <- vapply(GUESSES, function(guess) share_of_letters(odd, guess), 0)
  GUESSES[which.max(letters)]
}

# How much of what is not plain ASCII would be letters; -1 where it cannot be decoded at all.
share_of_letters <- function(odd, encoding) {
  text <- iconv(rawToChar(odd), encoding, "UTF-8")
  if (is.na(text)) return(-1)
  mean(grepl("[[:alpha:]]", strsplit(text, "")[[1L]]))
}

decode_bytes <- function(bytes, encoding, name, guessed) {
  mark <- BYTE_MARKS[[match(upper(encoding), names(BYTE_MARKS), nomatch = 1L)]]
  if (length(bytes) >= length(mark) && all(bytes[seq_along(mark)] == mark)) {
    bytes <- bytes[-seq_along(mark)]
  }
  wide <- grepl("^(UTF-?16|UTF-?32|UCS)", encoding, ignore.case = TRUE)
  if (!wide && any(bytes == as.raw(0L))) stop_zeros(name)
  check_encoding(encoding)
  decoded <- iconv(list(bytes), encoding, "UTF-8", toRaw = TRUE)[[1L]]
  if (length(decoded) && any(decoded == as.raw(0L))) stop_zeros(name)
  if (!is.null(decoded)) {
    text <- rawToChar(decoded)
    Encoding(text) <- "UTF-8"
    if (validUTF8(text)) return(text)
  }
  bad <- undecodable_lines(bytes, encoding)
  stop_input("encoding",
    "Every character of the file must be one of its encoding.",
    got = sprintf("\"%s\" as %s%s: line %s cannot be decoded.", name, encoding,
      if (guessed) " (guessed)" else "", name_culprits(bad)),
    todo = c(
      sprintf("Give the encoding, for example %s.",
        paste0('encoding = "', setdiff(GUESSES, encoding), '"', collapse = " or ")),
      "Or save the file as CSV in UTF-8."))
}

stop_zeros <- function(name) {
  stop_input("encoding", "A text file must hold text.",
    got = sprintf("\"%s\" has bytes of 0 in it: it is not text, or text in UTF-16.", name),
    todo = "Give encoding = \"UTF-16LE\", or save it as CSV in UTF-8.")
}

check_encoding <- function(encoding) {
  known <- tryCatch(!is.na(iconv("a", encoding, "UTF-8")), error = function(e) FALSE)
  # (of wide encodings one byte is not a character)
  if (known || grepl("^(UTF-?16|UTF-?32|UCS)", encoding, ignore.case = TRUE)) return(invisible())
  stop_input("argument",
    "`encoding` must be one that iconv() knows.",
    got = describe_value(encoding),
    todo = paste("For example \"UTF-8\", \"latin1\", \"windows-1252\" or \"CP850\"; iconvlist()",
      "names them all."))
}

undecodable_lines <- function(bytes, encoding) {
  ends <- which(bytes == as.raw(0x0a))
  from <- c(1L, ends + 1L)
  to <- c(ends, length(bytes))
  bad <- vapply(seq_along(from), function(i) {
    from[i] <= to[i] && is.na(iconv(rawToChar(bytes[from[i]:to[i]]), encoding, "UTF-8"))
  }, NA)
  which(bad)
}

# Lines end with a line feed, a carriage return, or both.
text_lines <- function(text) {
  if (!nzchar(text)) return(character())
  text <- gsub("\r\n?", "\n", text, perl = TRUE)
  strsplit(text, "\n", fixed = TRUE)[[1L]]
}
