# Delimited text: encoding, delimiter, marks of numbers, and the ways in which files are broken.

# All columns as text. A header that is not a header, rows of another length, and lines that an open
# quote swallows are errors: every line of the file is accounted for.
read_text_table <- function(file, delimiter = NULL, encoding = NULL, missing = character()) {
  decoded <- decode_file(file, encoding)
  lines <- decoded$lines
  if (!any(nzchar(trimws(lines)))) stop_no_header(file)
  if (is.null(delimiter)) delimiter <- find_delimiter(utils::head(lines, 20L))
  wide <- length(lines) && count_in(lines[1L], delimiter) >= MOST_COLUMNS
  if (wide) stop_too_large(file, "columns")
  read <- columns_of_lines(lines, file, delimiter, missing)
  guessed <- decoded$encoding %in% GUESSES && decoded$guessed
  list(data = tibble::as_tibble(read$columns, .name_repair = "minimal"),
    how = c(delimiter_text(delimiter), paste0(decoded$encoding, if (guessed) " (guessed)")),
    findings = bind_findings(read$broken, find_header_again(read$again)))
}

# Lines, the first of which names the columns, as columns of text: each line accounted for.
# `shift`: how many lines further in the file they are. `broken`: a finding, or NULL; `again`: the
# rows that repeated the header, which are left out.
columns_of_lines <- function(lines, file, delimiter, missing, shift = 0) {
  data <- parse_lines(lines, delimiter, missing)
  if (!ncol(data)) stop_no_header(file)
  check_column_names(names(data), basename(file))
  problems <- readr::problems(data)
  problems$row <- problems$row + shift
  check_even(problems, file, delimiter)
  # (without the reader's attributes)
  columns <- stats::setNames(lapply(seq_along(data), function(i) data[[i]]), names(data))
  broken <- check_lines(columns, lines, basename(file), delimiter)
  without_header_again(list(columns = columns, broken = broken))
}

without_header_again <- function(read) {
  read$again <- header_again(read$columns)
  if (length(read$again)) read$columns <- lapply(read$columns, function(x) x[-read$again])
  read
}

stop_no_header <- function(file) {
  stop_input("file_empty", "The file must have a header line with the columns' names.",
    got = sprintf("None was found in \"%s\".", basename(file)),
    todo = "Open the file in a text editor: is it a table?")
}

parse_lines <- function(lines, delimiter, missing) {
  copy <- tempfile("softsieve-", fileext = ".txt")
  on.exit(unlink(copy, expand = FALSE), add = TRUE)
  # (the reader takes a session's option for an encoding of its own)
  hidden <- options(encoding = "native.enc")
  on.exit(options(hidden), add = TRUE)
  lines <- enc2utf8(lines)
  write_own(copy, sum(nchar(lines, "bytes") + 1),
    function(to) writeLines(lines, to, useBytes = TRUE))
  suppressWarnings(readr::read_delim(copy, delim = delimiter,
    col_types = readr::cols(.default = "c"), locale = readr::locale(encoding = "UTF-8"),
    na = c("", missing), name_repair = "minimal", trim_ws = TRUE, progress = FALSE,
    show_col_types = FALSE, lazy = FALSE))
}

DELIMITER_NAMES <- c("," = "comma", ";" = "semicolon", "\t" = "tab", "|" = "bar")

delimiter_text <- function(delimiter) {
  if (!delimiter %in% names(DELIMITER_NAMES)) return(sprintf("cells split at \"%s\"", delimiter))
  paste("cells split at", DELIMITER_NAMES[[delimiter]])
}

find_header_again <- function(again) {
  if (!length(again)) return(NULL)
  new_finding("header_repeated", name_culprits(again + 1L), value = length(again))
}

# Lines of the file = the header + one for each person + those within quoted cells + empty ones. A
# cell that holds line ends and as many delimiters as a line has swallowed lines: a quote was left
# open.
check_lines <- function(columns, lines, name, delimiter) {
  n <- length(columns[[1L]])
  within <- integer(n)
  swallowed <- logical(n)
  for (x in columns) {
    hit <- grep("\n", x, fixed = TRUE)
    within[hit] <- within[hit] + count_in(x[hit], "\n")
    swallowed[hit] <- swallowed[hit] | count_in(x[hit], delimiter) >= max(1L, length(columns) - 1L)
  }
  head_ends <- sum(count_in(names(columns), "\n"))
  first <- 1L + head_ends + cumsum(c(1L, within[-n] + 1L)) # the line that each person begins in
  read <- 1L + head_ends + length(within) + sum(within)
  there <- length(lines)
  empty <- sum(!nzchar(trimws(lines)))
  if (any(swallowed) || read > there || read < there - empty) {
    at <- if (any(swallowed)) first[which(swallowed)] else read + 1L
    stop_input("ragged",
      "Every line of the file must be read as a line.",
      got = sprintf(
        "\"%s\" has %s, of which %s as people; from line %s on lines were taken for one cell.",
        name, count_of(there, "line"),
        if (n == 1L) "1 was read" else paste(format_count(n), "were read"), name_culprits(at)),
      todo = "Is a quote (\") left open there? Close it, or take it away.")
  }
  long <- which(within > 0)
  if (!length(long)) return(NULL)
  new_finding("line_ends_in_cells",
    count_of(length(long), "person's answers run", "people's answers run"),
    name_culprits(first[long]), value = length(long))
}

# How often a mark stands in each text.
count_in <- function(x, mark) {
  less <- nchar(x, "bytes") - nchar(gsub(mark, "", x, fixed = TRUE), "bytes")
  ifelse(is.na(x), 0L, as.integer(less / nchar(mark, "bytes")))
}

# The mark that splits the first lines into the same number of cells, and into most.
find_delimiter <- function(lines) {
  lines <- lines[nzchar(lines)]
  marks <- c(",", ";", "\t", "|")
  counts <- vapply(marks, count_in, integer(length(lines)), x = lines)
  counts <- matrix(counts, ncol = length(marks))
  even <- apply(counts, 2L, function(x) x[1L] > 0 && mean(x == x[1L]) > 0.8)
  if (!any(even)) even <- counts[1L, ] > 0
  if (!any(even)) return(",")
  marks[even][which.max(counts[1L, even])]
}

check_even <- function(problems, file, delimiter) {
  if (!nrow(problems)) return(invisible())
  lines <- unique(problems$row)
  stop_input("ragged",
    "Every line of the file must have as many cells as the header.",
    got = sprintf("\"%s\": %s with another number of cells (line %s).", basename(file),
      count_of(length(lines), "line"), name_culprits(lines)),
    todo = sprintf("Cells were split at \"%s\": is that the delimiter? Is a quote left open?",
      delimiter))
}

check_column_names <- function(names, file) {
  twice <- unique(names[duplicated(names)])
  # (nor can one be told from another by signs that are not seen)
  text <- enc2utf8(as.character(names))
  valid <- which(!is.na(text) & validUTF8(text))
  unseen <- valid[!grepl("[^\\p{Z}\\p{C}]", text[valid], perl = TRUE)]
  nameless <- sort(union(which(is.na(names)), unseen))
  if (length(nameless)) {
    stop_input("duplicate_names", "Every column must have a name.",
      got = sprintf("\"%s\": no name above column %s.", file, name_culprits(nameless)),
      todo = "Write a header line with one name for each column.")
  }
  reserved <- grep("^[.]{2}([.]|[0-9]+)$", names, value = TRUE)
  if (length(reserved)) {
    stop_input("duplicate_names", "No column may be called as R calls the arguments of a function.",
      got = sprintf("\"%s\": %s.", file, name_culprits(reserved)),
      todo = "Rename it, for example to q1.")
  }
  if (length(twice)) {
    stop_input("duplicate_names", "Every column must have a name of its own.",
      got = sprintf("\"%s\": %s more than once.", file, name_culprits(twice)),
      todo = "Rename the columns in the file; guessing which is meant could mix up items.")
  }
}

# Rows in which every cell repeats its column's name.
header_again <- function(columns) {
  same <- Reduce(`&`, Map(function(x, name) !is.na(x) & x == name, columns, names(columns)))
  which(same)
}

# The decimal and the thousands mark of a table of text, given or found, and words for them.
# `of_text`: was all of it text, whatever it is by now?
settle_marks <- function(data, decimal, thousands, of_text = FALSE) {
  text <- data[vapply(data, is.character, NA)]
  if (!length(text) && !of_text) return(list(decimal = ".", thousands = "", how = character()))
  share <- function(pattern) max(0, vapply(text, share_like, 0, pattern = pattern))
  grouped_dot <- share("^[-+]?[0-9]{1,3}([.][0-9]{3})+,[0-9]+$")
  grouped_comma <- share("^[-+]?[0-9]{1,3}(,[0-9]{3})+[.][0-9]+$")
  if (is.null(decimal)) {
    comma <- share("^[-+]?[0-9]+,[0-9]+$") >= 0.2 && share("^[-+]?[0-9]+[.][0-9]+$") == 0
    decimal <- if (grouped_comma == 0 && (grouped_dot > 0 || comma)) "," else "."
  }
  if (is.null(thousands)) thousands <- thousands_mark(decimal, grouped_dot, grouped_comma)
  how <- c(if (decimal == ",") "decimal comma" else "decimal point",
    if (nzchar(thousands)) sprintf("\"%s\" between thousands", thousands))
  list(decimal = decimal, thousands = thousands, how = how)
}

# The mark between thousands that goes with the decimal mark, where numbers are grouped so.
thousands_mark <- function(decimal, grouped_dot, grouped_comma) {
  if (decimal == "," && grouped_dot > 0) return(".")
  if (decimal == "." && grouped_comma > 0) "," else ""
}

# The share of the cells with something in them that look like the pattern.
share_like <- function(x, pattern) if (all(is.na(x))) 0 else mean(grepl(pattern, x[!is.na(x)]))

is_number <- function(x, marks) {
  x <- without_thousands(x, marks)
  mark <- if (marks$decimal == ",") "," else "[.]"
  grepl(sprintf("^[-+]?([0-9]+(%s[0-9]*)?|%s[0-9]+)([eE][-+]?[0-9]+)?$", mark, mark), x)
}

without_thousands <- function(x, marks) {
  if (!nzchar(marks$thousands)) return(x)
  grouped <- !is.na(x) &
    grepl(sprintf("^[-+]?[0-9]{1,3}([%s][0-9]{3})+([^0-9].*)?$", marks$thousands), x)
  x[grouped] <- gsub(marks$thousands, "", x[grouped], fixed = TRUE)
  x
}

# Numbers where all that is there is a number, text otherwise. (Of a database, empty texts come.)
tidy_column <- function(x, marks) {
  there <- x[!is.na(x) & nzchar(x)]
  if (!length(there) || !all(is_number(there, marks)) || any(grepl("^0[0-9]", there))) return(x)
  # ids of more digits than a number holds
  if (any(grepl("^[-+]?[0-9]{16,}$", there))) return(x)
  x <- without_thousands(x, marks)
  as.numeric(if (marks$decimal == ",") sub(",", ".", x, fixed = TRUE) else x)
}
