# Numbers and text as people read them. Prints, figures and reports share these, so that a number
# looks the same wherever it stands.

# A number beside its limit: with as many digits as tell the two apart, so that .69999 is not shown
# as the .70 it misses.
format_beside <- function(x, limits, digits = 2L, form = format_unit) {
  if (is.na(x)) return("not defined")
  limits <- limits[limits != x]
  while (digits < 6L && form(x, digits) %in% form(limits, digits)) {
    digits <- digits + 1L
  }
  form(x, digits)
}

# Bounded by 1 in size (loadings, correlations, reliability): two decimals and no leading zero.
format_unit <- function(x, digits = 2L) {
  text <- sub("^(-?)0[.]", "\\1.", sprintf("%.*f", digits, x))
  text <- sub("^-(0?[.]0*)$", "\\1", text) # no minus before a rounded zero
  ifelse(is.na(x), "", text)
}

format_number <- function(x, digits = 2L) {
  text <- sub(
    "^-(0[.]?0*)$",
    "\\1",
    # (no minus before a rounded zero)
    formatC(x, digits = digits, format = "f", big.mark = ",", decimal.mark = "."))
  ifelse(is.na(x), "", text)
}
# "0.75 against 1.18"
format_against <- function(x, limit) {
  beside <- function(one, other) format_beside(one, other, form = format_number)
  sprintf("%s against %s", beside(x, limit), beside(limit, x))
}

# " [.74, .79]", or nothing where there are no limits.
bracket <- function(lower, upper) {
  ifelse(is.na(lower), "", sprintf(" [%s, %s]", format_unit(lower), format_unit(upper)))
}

format_count <- function(x) {
  ifelse(is.na(x), "", formatC(x, digits = 0L, format = "f", big.mark = ",", decimal.mark = "."))
}
format_share <- function(x, digits = 0L) ifelse(is.na(x), "", sprintf("%.*f %%", digits, 100 * x))

format_p <- function(p) ifelse(p < 0.001, "p < .001", paste("p =", format_unit(p, 3L)))

# Numbers as text, whatever the session's options make of them: 9, not 9e+00.
plain_numbers <- function(x) sprintf("%.15g", x)

# Small and capital letters in any locale: in Turkish, tolower("I") is not "i".
lower <- function(x) tolower(chartr("I", "i", x))
upper <- function(x) toupper(chartr("i", "I", x))

capitalise <- function(x) paste0(upper(substr(x, 1L, 1L)), substring(x, 2L))

# "1 item", "2 items"
count_of <- function(n, one, many = paste0(one, "s")) {
  paste(format_count(n), if (n == 1) one else many)
}

# Cut to `width` display columns with an ellipsis.
clip_text <- function(x, width) {
  x[is.na(x)] <- ""
  long <- nchar(x, "width") > width
  x[long] <- paste0(sub("\\s+$", "", strtrim(x[long], max(1, width - 3L))), "...")
  x
}

# The wording as people need it beside a number: an item that was reverse-scored says so.
keyed_wording <- function(wording, reversed) {
  paste0(ifelse(reversed %in% TRUE, "(reversed) ", ""), ifelse(is.na(wording), "", wording))
}

# Lines of a plain table from a list of character columns: numbers right, words left. The last
# column takes what is left of the width, if it holds words. Where the others are too wide for that,
# headings are broken into lines; where they still are, the table goes on below, with its first
# column again.
table_lines <- function(columns, right, width = console_width(), indent = "  ") {
  room <- width - nchar(indent)
  last <- if (right[length(columns)]) integer() else length(columns)
  fixed <- setdiff(seq_along(columns), last)
  least <- if (length(last)) min(LEAST_WORDS, column_widths(columns[last])) + 2L else 0L
  fits <- function(widths) sum(widths + 2L) - 2L + least <= room
  whole <- column_widths(columns)
  broken <- if (fits(whole[fixed])) names(columns) else break_headings(columns)
  widths <- pmax(column_widths(unname(columns)), column_widths(broken))
  blocks <- if (fits(widths[fixed])) list(seq_along(columns)) else blocks_of(widths, last, room)
  lines <- lapply(blocks, function(block) {
    end <- block[length(block)]
    if (end %in% last) {
      used <- sum(widths[setdiff(block, end)] + 2L)
      columns[[end]] <- clip_text(columns[[end]], max(LEAST_WORDS, room - used))
      widths[end] <- 0L
    }
    block_lines(columns[block], broken[block], right[block], widths[block])
  })
  between <- rep(c(list(""), list(NULL)), c(length(blocks) - 1L, 1L))
  lines <- unlist(Map(c, lines, between), use.names = FALSE)
  sub("\\s+$", "", ifelse(nzchar(lines), paste0(indent, lines), lines))
}

# What a column of words keeps, at least.
LEAST_WORDS <- 12L

column_widths <- function(columns) {
  heads <- if (is.null(names(columns))) rep("", length(columns)) else names(columns)
  widest <- function(x) max(nchar(unlist(strsplit(x, "\n", fixed = TRUE)), "width"), 0L)
  if (is.character(columns)) return(vapply(columns, widest, 0L, USE.NAMES = FALSE))
  both <- function(head, column) max(widest(head), widest(column))
  mapply(both, heads, columns, USE.NAMES = FALSE)
}

# Headings of several words on several lines, as narrow as the column below allows.
break_headings <- function(columns) {
  below <- column_widths(unname(columns))
  broken <- Map(function(head, width) strwrap(head, max(width + 1L, 9L)), names(columns), below)
  vapply(broken, paste, "", collapse = "\n", USE.NAMES = FALSE)
}

# Which columns stand beside each other: the first, and as many others as there is room for.
blocks_of <- function(widths, last, room) {
  blocks <- list()
  block <- 1L
  for (column in seq_along(widths)[-1L]) {
    takes <- if (column %in% last) min(LEAST_WORDS, widths[column]) else widths[column]
    full <- sum(widths[block] + 2L) + takes > room
    if (full && length(block) > 1L) {
      blocks <- c(blocks, list(block))
      block <- 1L
    }
    block <- c(block, column)
  }
  c(blocks, list(block))
}

block_lines <- function(columns, heads, right, widths) {
  heads <- strsplit(heads, "\n", fixed = TRUE)
  most <- max(lengths(heads), 1L)
  cells <- Map(function(head, body, flush, width) {
    format_column(c(rep("", most - length(head)), head, body), flush, width)
  }, heads, columns, right, widths)
  do.call(paste, c(unname(cells), list(sep = "  ")))
}

format_column <- function(x, right, width = 0L) {
  wide <- nchar(x, "width")
  fill <- strrep(" ", pmax(max(wide, width) - wide, 0L))
  if (right) paste0(fill, x) else paste0(x, fill)
}

console_width <- function() min(max(cli::console_width(), 60L), 120L)

wrap_lines <- function(text, indent = "", hang = indent) {
  unlist(lapply(text, strwrap, width = console_width(), initial = indent, prefix = hang),
    use.names = FALSE)
}

# A table as text of files, on one thread: readr's newer writer shares R's memory between threads,
# and was once seen never to end.
delimited_text <- function(table, delimiter = ",", col_names = TRUE) {
  # (text of no characters is left empty, as what is missing is)
  table[] <- lapply(table, function(x) if (is.character(x)) ifelse(nzchar(x), x, NA) else x)
  # (whatever the session's options say of encodings)
  hidden <- options(encoding = "native.enc")
  on.exit(options(hidden))
  readr::with_edition(1, readr::format_delim(table, delimiter, na = "", col_names = col_names))
}

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
