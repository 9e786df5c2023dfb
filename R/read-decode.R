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
