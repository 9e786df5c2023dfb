# Delimited text: encoding, delimiter, marks of numbers, and the ways in which files are broken.

# All columns as text. A header that is no header, and rows of another length, are errors.
read_text_table <- function(file, delimiter = NULL, encoding = NULL, missing = character(), call = caller_env()) {
  if (is.null(encoding)) encoding <- find_encoding(file)
  locale <- readr::locale(encoding = encoding)
  if (is.null(delimiter)) delimiter <- find_delimiter(readr::read_lines(file, n_max = 20L, locale = locale))
  data <- suppressWarnings(readr::read_delim(
    file, delim = delimiter, col_types = readr::cols(.default = "c"), locale = locale, na = c("", missing),
    name_repair = "minimal", trim_ws = TRUE, progress = FALSE, show_col_types = FALSE, lazy = FALSE
  ))
  check_column_names(names(data), basename(file), call)
  check_even(readr::problems(data), file, delimiter, call)
  columns <- stats::setNames(lapply(seq_along(data),
                                    function(i) data[[i]]), names(data)) # without the reader's attributes
  again <- header_again(columns)
  if (length(again)) columns <- lapply(columns, function(x) x[-again])
  marks <- c("," = "comma", ";" = "semicolon", "\t" = "tab", "|" = "bar")
  list(data = tibble::as_tibble(columns, .name_repair = "minimal"),
       how = c(if (delimiter %in% names(marks)) paste("cells split at",
                                                      marks[[delimiter]]) else sprintf("cells split at \"%s\"",
                                                          delimiter), encoding),
       findings = if (length(again)) new_finding("reading", "header_repeated", "caution", value = length(again),
                                                 text = sprintf("The header stands again in line %s: left out. Were files put together?", name_culprits(again + 1L))))
}

# UTF-8 where all of it is valid UTF-8, UTF-16 by its mark, Windows' Latin-1 otherwise.
find_encoding <- function(file) {
  bytes <- readBin(file, "raw", min(file.size(file), 1e6))
  if (length(bytes) > 1L && bytes[1L] == 0xff && bytes[2L] == 0xfe) return("UTF-16LE")
  if (length(bytes) > 1L && bytes[1L] == 0xfe && bytes[2L] == 0xff) return("UTF-16BE")
  # a character may be cut at the end of the stretch
  ends <- seq.int(max(1L, length(bytes) - 3L), length(bytes))
  valid <- any(vapply(ends, function(end) validUTF8(rawToChar(bytes[seq_len(end)][bytes[seq_len(end)] != 0])), NA))
  if (valid) "UTF-8" else "windows-1252"
}

# The mark that splits the first lines into the same number of cells, and into most.
find_delimiter <- function(lines) {
  lines <- lines[nzchar(lines)]
  marks <- c(",", ";", "\t", "|")
  counts <- vapply(marks, function(mark) lengths(regmatches(lines, gregexpr(mark, lines, fixed = TRUE))),
                   numeric(length(lines)))
  counts <- matrix(counts, ncol = length(marks))
  even <- apply(counts, 2L, function(x) x[1L] > 0 && mean(x == x[1L]) > 0.8)
  if (!any(even)) even <- counts[1L, ] > 0
  if (!any(even)) return(",")
  marks[even][which.max(counts[1L, even])]
}

check_even <- function(problems, file, delimiter, call) {
  if (!nrow(problems)) return(invisible())
  lines <- unique(problems$row)
  stop_input("ragged", "Every line of the file must have as many cells as the header.",
             got = sprintf("\"%s\": %s with another number of cells (line %s).", basename(file),
                           count_of(length(lines), "line"), name_culprits(lines)),
             todo = sprintf("Cells were split at \"%s\": is that the delimiter? Is a quote left open?",
                            delimiter), call = call)
}

check_column_names <- function(names, file, call) {
  twice <- unique(names[duplicated(names)])
  nameless <- which(is.na(names) | !nzchar(names))
  if (length(nameless)) {
    stop_input("duplicate_names", "Every column must have a name.",
               got = sprintf("\"%s\": no name above column %s.", file, name_culprits(nameless)),
               todo = "Write a header line with one name for each column.", call = call)
  }
  if (length(twice)) {
    stop_input("duplicate_names", "Every column must have a name of its own.",
               got = sprintf("\"%s\": %s more than once.", file, name_culprits(twice)),
               todo = "Rename the columns in the file; guessing which is meant could mix up items.", call = call)
  }
}

# Rows in which every cell repeats its column's name.
header_again <- function(columns) {
  same <- Reduce(`&`, Map(function(x, name) !is.na(x) & x == name, columns, names(columns)))
  which(same)
}

# The decimal and the thousands mark of a table of text, given or found, and words for them.
settle_marks <- function(data, decimal, thousands) {
  text <- data[vapply(data, is.character, NA)]
  if (!length(text)) return(list(decimal = ".", thousands = "", how = character()))
  share <- function(pattern) max(0,
                                 vapply(text,
                                        function(x) if (all(is.na(x))) 0 else mean(grepl(pattern, x[!is.na(x)])), 0))
  grouped_dot <- share("^[-+]?[0-9]{1,3}([.][0-9]{3})+,[0-9]+$")
  grouped_comma <- share("^[-+]?[0-9]{1,3}(,[0-9]{3})+[.][0-9]+$")
  if (is.null(decimal)) {
    comma <- share("^[-+]?[0-9]+,[0-9]+$")
    point <- share("^[-+]?[0-9]+[.][0-9]+$")
    decimal <- if (grouped_comma == 0 && (grouped_dot > 0 || (comma >= 0.2 && point == 0))) "," else "."
  }
  if (is.null(thousands)) thousands <- if (decimal == "," && grouped_dot > 0) "." else if (decimal == "." &&
      grouped_comma > 0) "," else ""
  how <- c(if (decimal == ",") "decimal comma" else "decimal point",
           if (nzchar(thousands)) sprintf("\"%s\" between thousands", thousands))
  list(decimal = decimal, thousands = thousands, how = how)
}

is_number <- function(x, marks) {
  x <- without_thousands(x, marks)
  mark <- if (marks$decimal == ",") "," else "[.]"
  grepl(sprintf("^[-+]?([0-9]+(%s[0-9]*)?|%s[0-9]+)([eE][-+]?[0-9]+)?$", mark, mark), x)
}

without_thousands <- function(x, marks) {
  if (!nzchar(marks$thousands)) return(x)
  grouped <- !is.na(x) & grepl(sprintf("^[-+]?[0-9]{1,3}([%s][0-9]{3})+([^0-9].*)?$", marks$thousands), x)
  x[grouped] <- gsub(marks$thousands, "", x[grouped], fixed = TRUE)
  x
}

# Numbers where all that is there is a number, text otherwise.
tidy_column <- function(x, marks) {
  there <- x[!is.na(x)]
  if (!length(there) || !all(is_number(there, marks)) || any(grepl("^0[0-9]", there))) return(x)
  x <- without_thousands(x, marks)
  as.numeric(if (marks$decimal == ",") sub(",", ".", x, fixed = TRUE) else x)
}
