#' Read a file of answers
#'
#' Reads a delimited text file with one row for each person. The delimiter is found from the first
#' lines unless it is given. A column becomes numeric when all that stands in it is a number; codes
#' with leading zeros (`007`) stay text, so that ids keep their form. Which columns are items, ids or
#' groups is said later, in [questionnaire()].
#'
#' @param file Path of a CSV, TSV or other delimited text file with a header line.
#' @param delimiter One character, or `NULL` to find it (comma, semicolon, tab or bar).
#' @param decimal The decimal mark: `"."` or `","`.
#' @param encoding The file's encoding, for example `"UTF-8"` or `"latin1"`.
#' @param missing Texts that stand for no answer, besides an empty cell. Numeric codes such as 9
#'   belong into the codebook's `missing_codes`.
#' @return A tibble, one row for each person, one column for each column of the file, numeric or
#'   character.
#' @section Errors: `softsieve_error_file_missing`, `softsieve_error_file_empty`,
#'   `softsieve_error_duplicate_names`, `softsieve_error_ragged`, `softsieve_error_argument`.
#' @examples
#' file <- system.file("extdata", "repair_cafe_answers.csv", package = "softsieve")
#' read_responses(file)
#' @export
read_responses <- function(file, delimiter = NULL, decimal = ".", encoding = "UTF-8", missing = "NA") {
  check_file(file)
  check_choice(decimal, "decimal", c(".", ","))
  data <- read_text_table(file, delimiter, encoding, missing, call = environment())
  data[] <- lapply(data, tidy_column, decimal = decimal)
  data
}

# All columns as text; a header that is no header, and rows of another length, are errors.
read_text_table <- function(file, delimiter = NULL, encoding = "UTF-8", missing = character(), call = caller_env()) {
  locale <- readr::locale(encoding = encoding)
  if (is.null(delimiter)) delimiter <- find_delimiter(readr::read_lines(file, n_max = 20L, locale = locale))
  data <- suppressWarnings(readr::read_delim(
    file, delim = delimiter, col_types = readr::cols(.default = "c"), locale = locale, na = c("", missing),
    name_repair = "minimal", trim_ws = TRUE, progress = FALSE, show_col_types = FALSE, lazy = FALSE
  ))
  check_column_names(names(data), file, call)
  troubles <- readr::problems(data)
  if (nrow(troubles)) {
    lines <- unique(troubles$row)
    stop_input("ragged", "Every line of the file must have as many cells as the header.",
               got = sprintf("\"%s\": %s with another number of cells (line %s).", basename(file),
                             count_of(length(lines), "line"), name_culprits(lines)),
               todo = sprintf("Cells were split at \"%s\": is that the delimiter? Is a quote left open?", delimiter), call = call)
  }
  if (!nrow(data)) {
    stop_input("file_empty", "The file must have at least one line below its header.",
               got = sprintf("\"%s\" has a header of %s and no answers.", basename(file), count_of(ncol(data), "column")), call = call)
  }
  tibble::as_tibble(stats::setNames(lapply(seq_along(data), function(i) data[[i]]), names(data))) # without the reader's attributes
}

# The mark that splits the first lines into the same number of cells, and into most.
find_delimiter <- function(lines) {
  lines <- lines[nzchar(lines)]
  marks <- c(",", ";", "\t", "|")
  counts <- vapply(marks, function(mark) lengths(regmatches(lines, gregexpr(mark, lines, fixed = TRUE))), numeric(length(lines)))
  counts <- matrix(counts, ncol = length(marks))
  even <- apply(counts, 2L, function(x) x[1L] > 0 && mean(x == x[1L]) > 0.8)
  if (!any(even)) even <- counts[1L, ] > 0
  if (!any(even)) return(",")
  marks[even][which.max(counts[1L, even])]
}

check_column_names <- function(names, file, call) {
  twice <- unique(names[duplicated(names)])
  nameless <- which(is.na(names) | !nzchar(names))
  if (length(nameless)) {
    stop_input("duplicate_names", "Every column must have a name.",
               got = sprintf("\"%s\": no name above column %s.", basename(file), name_culprits(nameless)),
               todo = "Write a header line with one name for each column.", call = call)
  }
  if (length(twice)) {
    stop_input("duplicate_names", "Every column must have a name of its own.",
               got = sprintf("\"%s\": %s more than once.", basename(file), name_culprits(twice)),
               todo = "Rename the columns in the file; guessing which is meant could mix up items.", call = call)
  }
}

# Numbers where all that is there is a number, text otherwise.
tidy_column <- function(x, decimal) {
  there <- x[!is.na(x)]
  mark <- if (decimal == ",") "," else "[.]"
  number <- sprintf("^[-+]?([0-9]+(%s[0-9]*)?|%s[0-9]+)([eE][-+]?[0-9]+)?$", mark, mark)
  if (!length(there) || !all(grepl(number, there)) || any(grepl("^0[0-9]", there))) return(x)
  as.numeric(if (decimal == ",") sub(",", ".", x, fixed = TRUE) else x)
}
