# Text from outside may hold signs that steer a terminal, turn the direction of writing round or
# break a file's format. In every face (prints, messages, figures, reports, tables) they stand as
# visible marks, <U+001B>; in results and data they stay what they are.

# Controls (but for line ends and tabs, which are blanks), bytes that are not text, embeddings and
# overrides of the direction of writing, separators of lines, signs that are not characters.
STEERING <- paste0(
  "(*UTF)[\\x{0001}-\\x{0008}\\x{000b}\\x{000c}\\x{000e}-\\x{001f}\\x{007f}-\\x{009f}\\x{061c}",
  "\\x{200e}\\x{200f}\\x{2028}-\\x{202e}\\x{2066}-\\x{2069}\\x{fdd0}-\\x{fdef}\\x{feff}",
  "\\x{fff9}-\\x{fffb}\\x{fffe}\\x{ffff}]")

# `blanks`: line ends and tabs as one blank, for what stands in a line or a cell.
visible_text <- function(x, blanks = FALSE) {
  if (!is.character(x)) return(x)
  there <- !is.na(x)
  broken <- there & !validEnc(x)
  # bytes that are not characters come as <ff>
  if (any(broken)) x[broken] <- vapply(x[broken], mark_bytes, "", USE.NAMES = FALSE)
  x <- enc2utf8(x)
  if (blanks) {
    long <- there & grepl("[\t\r\n]", x)
    if (any(long)) x[long] <- gsub("\\s*[\t\r\n]\\s*", " ", x[long], perl = TRUE)
  }
  steering <- there & grepl(STEERING, x, perl = TRUE)
  if (any(steering)) x[steering] <- vapply(x[steering], mark_steering, "", USE.NAMES = FALSE)
  x
}

# Bytes that are not characters as <ff>. (iconv() lets some through: halves of characters.)
mark_bytes <- function(text) {
  text <- iconv(text, "UTF-8", "UTF-8", sub = "byte")
  if (validUTF8(text)) return(text)
  bytes <- charToRaw(text)
  odd <- bytes >= as.raw(0x80)
  paste(ifelse(odd, sprintf("<%s>", bytes), rawToChar(bytes, multiple = TRUE)), collapse = "")
}

mark_steering <- function(text) {
  at <- gregexpr(STEERING, text, perl = TRUE)
  found <- regmatches(text, at)[[1L]]
  regmatches(text, at) <- list(sprintf("<U+%04X>", vapply(found, utf8ToInt, 0L)))
  text
}

# A result with all its words and names so, however deep: what faces are made from.
all_visible <- function(x) {
  if (is.character(x)) {
    kept <- attributes(x)
    x <- visible_text(x)
    attributes(x) <- kept
  } else if (is.list(x)) {
    kept <- attributes(x)
    x <- lapply(unclass(x), all_visible)
    attributes(x) <- kept
  } else if (!is.atomic(x) || is.null(attributes(x))) {
    return(x)
  }
  for (name in intersect(names(attributes(x)), c("names", "dimnames", "levels"))) {
    held <- attr(x, name, exact = TRUE)
    attr(x, name) <- if (is.list(held)) lapply(held, seen_names) else seen_names(held)
  }
  x
}

seen_names <- function(x) if (is.character(x)) visible_text(x) else x
