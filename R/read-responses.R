#' Read a file of answers
#'
#' Reads a table with one row for each person: delimited text (CSV, TSV), sheets (XLSX, XLS, ODS),
#' Parquet or JSON lines. What a file is, its first bytes tell; only JSON lines are known by their
#' ending. Text may be packed (`.csv.gz`, `.csv.xz`). Of text files the encoding, the delimiter and
#' the decimal and thousands marks are found unless they are given, and what was decided is kept as
#' a finding (shown by [questionnaire()]). A column becomes numeric when all that stands in it is a
#' number; codes with leading zeros (`007`) and numbers of 16 digits and more stay text, so that ids
#' keep their form. Which columns are items, ids, groups or weights is said later, in
#' [questionnaire()]. Sheets and Parquet are read in a process of their own (package callr).
#'
#' @param file Path of the file; or a [database_table()], of which only `decimal` and
#'   `thousands` say anything (numbers in columns of text).
#' @param delimiter For text: one character, or `NULL` to find it (comma, semicolon, tab or bar).
#' @param decimal,thousands For text: the decimal mark (`"."` or `","`) and the mark between
#'   thousands (`"."`, `","`, `"'"` or a space), or `NULL` to find them. A comma counts as a decimal
#'   mark only where a fifth of a column or more is written so: one stray `4,5` stays text, and is
#'   an error in an item.
#' @param encoding For text: for example `"UTF-8"`, `"latin1"` or `"CP850"`, or `NULL` to find it
#'   (UTF-8, UTF-16, Windows' or DOS's Latin letters). What cannot be decoded is an error that names
#'   the line.
#' @param missing Texts that stand for no answer, besides an empty cell. Numeric codes such as 9
#'   belong in the codebook's `missing_codes`.
#' @param sheet For sheets: the name or the number of the sheet.
#' @param header_rows 1 when the file begins with the columns' names alone, 2 when their wording
#'   stands in the line below, 3 when codes of the survey program stand below that; `NULL` finds
#'   out, and says so. The wording becomes the columns' `label` attribute, which [questionnaire()]
#'   reads.
#' @return A tibble, one row for each person, one column for each column of the file, numeric or
#'   character. Its attribute `reading` is a tibble of findings: how the file was read.
#' @section Errors: `softsieve_error_file_missing`, `softsieve_error_file_empty`,
#'   `softsieve_error_duplicate_names`, `softsieve_error_ragged` (lines of another length, or
#'   swallowed by an open quote: every line is accounted for), `softsieve_error_encoding`,
#'   `softsieve_error_reader` (a package is needed to read such files, or the file is damaged or of
#'   another kind), `softsieve_error_too_large` (over 1 GB, 10,000 columns or 100 million cells, or
#'   packed as no answers are), `softsieve_error_argument`; of tables those of
#'   [database_table()] and `softsieve_error_no_answers`.
#' @section Findings: `how_read`, `header_repeated` (lines that repeat the header were dropped),
#'   `wording_row`, `header_rows`, `line_ends_in_cells` (a quoted cell goes over several lines),
#'   `nearly_numeric` (a column at least half of which is numbers stays text because of some cells,
#'   which are named).
#' @family files
#' @examples
#' file <- system.file("extdata", "repair_cafe_answers.csv", package = "softsieve")
#' answers <- read_responses(file)
#' answers
#' attr(answers, "reading")$text
#' @export
read_responses <- function(file, delimiter = NULL, decimal = NULL, thousands = NULL,
    encoding = NULL, missing = "NA", sheet = 1, header_rows = NULL) {
  from_table <- is_database_table(file)
  if (!from_table) check_file(file)
  if (!is.null(decimal)) check_choice(decimal, "decimal", c(".", ","))
  if (!is.null(thousands)) check_choice(thousands, "thousands", c(",", ".", "'", " "))
  if (!is.null(header_rows)) header_rows <- check_whole(header_rows, "header_rows", 1L, 3L)
  table <- if (from_table) {
    check_reading(delimiter, encoding, missing, sheet)
    read_database_table(file)
  } else {
    read_table_file(file, delimiter, encoding, missing, sheet, header_rows, typed = TRUE)
  }
  marks <- settle_marks(table$data, decimal, thousands, !is.null(table$whole))
  columns <- lapply(table$data, function(x) if (is.character(x)) tidy_column(x, marks) else x)
  for (name in names(table$labels)[!is.na(table$labels)]) {
    attr(columns[[name]], "label") <- table$labels[[name]]
  }
  data <- tibble::as_tibble(columns, .name_repair = "minimal")
  attr(data, "reading") <- bind_findings(
    new_finding("how_read", if (from_table) paste(file$table, collapse = ".") else basename(file),
      paste(c(table$how, marks$how), collapse = ", "), count_of(nrow(data), "person", "people"),
      count_of(ncol(data), "column")),
    table$findings, find_nearly_numeric(data, marks))
  data
}

# Text columns in which at least half is numbers: the other cells stand in the way.
find_nearly_numeric <- function(data, marks) {
  found <- lapply(names(data), function(name) {
    x <- data[[name]]
    if (!is.character(x)) return(NULL)
    there <- x[!is.na(x) & nzchar(x)]
    odd <- unique(there[!is_number(there, marks)])
    if (!length(odd) || mean(is_number(there, marks)) < 0.5) return(NULL)
    new_finding("nearly_numeric", name, name_culprits(sprintf("\"%s\"", odd), 5L), item = name,
      value = length(odd))
  })
  do.call(bind_findings, found)
}
