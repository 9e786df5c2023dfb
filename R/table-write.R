# Files that results are written to. An entry is called by the ending
# of the files' names and has
#
#   package  what must be installed for it, or NULL
#   write    function(x, what, path): a result (its table `what`) or data frame into a file

#' Write a result as CSV, XLSX, JSON or a Word table
#'
#' The ending of the name says what is written: CSV or TSV, a sheet (XLSX) or Parquet hold the
#' result's main table, JSON all of its values, settings and findings, a Word document (DOCX) its
#' tables with rounded numbers (of [assess_reliability()] those of scales and items). The file is
#' written beside its place, looked at whether it is whole, and then renamed, so that a broken run
#' or a full disk leaves no half file. Text that a spreadsheet would take for a formula (it starts
#' with `=`, `+`, `-`, `@`, a tab or a line break) gets an apostrophe in front.
#'
#' @param x A result of this package or a data frame.
#' @param file Path of the file to write, with one of the endings `.csv`, `.tsv`, `.xlsx` (needs the
#'   package writexl), `.parquet` (nanoparquet), `.json`, `.docx` (flextable). Text is UTF-8 with
#'   decimal points.
#' @param what Which of the result's tables, by name, as Word would show it (numbers in full); the
#'   main one when left out, in Word all of them.
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_ending` (another ending), `softsieve_error_too_large` (a Word
#'   table of more than 300 rows), `softsieve_error_unwritable` when the folder is not there or may
#'   not be written, or the disk is full, `softsieve_error_package`.
#' @family files
#' @examples
#' write_table(repair_cafe_codebook, tempfile(fileext = ".csv"))
#' @export
write_table <- function(x, file, what = NULL) {
  check_text(file, "file")
  form <- check_ending(file, names(WRITERS))
  if (!is.null(what)) check_table_name(x, what)
  writer <- WRITERS[[form]]
  if (!is.null(writer[["package"]])) needs_package(writer[["package"]], writer$label)
  write_whole(file, function(path) writer$write(x, what, path))
}

check_table_name <- function(x, what) {
  known <- names(tables_of(x))
  if (length(known)) return(check_choice(what, "what", known))
  stop_input("argument", "`what` is for results that have several tables.", got = describe_value(x),
    todo = "Leave it out.")
}

WRITERS <- family(
  csv = spec(label = "CSV files", write = function(x, what, path) {
    write_text(delimited_text(tidy_for_sheet(table_data(x, what))), path)
  }),
  tsv = spec(label = "TSV files", write = function(x, what, path) {
    write_text(delimited_text(tidy_for_sheet(table_data(x, what)), "\t"), path)
  }),
  xlsx = spec(label = "XLSX files", package = "writexl", write = function(x, what, path) {
    writexl::write_xlsx(as.data.frame(tidy_for_sheet(table_data(x, what))), path)
  }),
  parquet = spec(label = "Parquet files", package = "nanoparquet", write = function(x, what, path) {
    nanoparquet::write_parquet(as.data.frame(tidy_for_sheet(table_data(x, what))), path)
  }),
  json = spec(label = "JSON files", write = function(x, what, path) {
    write_text(json_of(if (is.null(what)) x else table_data(x, what)), path)
  }),
  docx = spec(label = "Word tables", package = "flextable",
    write = function(x, what, path) write_docx(tables_for_word(x, what), path)))

write_docx <- function(tables, path) {
  long <- vapply(tables, function(table) nrow(table$frame), 1L)
  if (any(long > MOST_WORD_ROWS)) {
    stop_input("too_large", sprintf("A Word table holds up to %d rows.", MOST_WORD_ROWS),
      got = sprintf("%s came.", count_of(max(long), "row")), todo = "Write XLSX or CSV.")
  }
  made <- lapply(tables, word_layout)
  flextable::save_as_docx(values = made, path = path)
}

# A result as JSON: values, settings and findings, numbers with 15 digits; a data frame as rows.
json_of <- function(x) {
  jsonlite::toJSON(without_answers(x), digits = 15, auto_unbox = TRUE, na = "null", null = "null",
    matrix = "rowmajor", pretty = TRUE, force = TRUE)
}

# Correlations know the answers that they came from, and solutions their correlations: whoever saves
# these does not mean to hand on what people said, which has files of its own.
BEHIND <- c("questionnaire", "item_correlations", "going_on", "rule_specs")

without_answers <- function(x) {
  if (is_result(x, "softsieve_result")) {
    x <- unclass(x)[c("values", "settings", "findings", "source")]
  }
  if (!is.list(x) || is.data.frame(x)) return(x)
  if (!is.null(names(x))) x <- x[!names(x) %in% BEHIND]
  lapply(x, without_answers)
}

# How tables look in Word, in files of their own and in the report.

WORD_FONT <- "Times New Roman"
WORD_WIDTH <- 6.5 # inches between the margins of a letter page
FAINT_INK <- "#8a8a8a"

# Lines above and below the heads and at the end, no others; wording takes what room is left.
word_layout <- function(cells) {
  frame <- cells$frame
  right <- cells$right
  line <- officer::fp_border(width = 1)
  widest <- vapply(seq_along(frame), function(j) {
    max(nchar(c(unlist(strsplit(names(frame)[j], " ")), frame[[j]])), 3L)
  }, 0)
  size <- if (sum(pmin(widest, 30L)) > 95L) 8 else if (sum(pmin(widest, 30L)) > 75L) 9 else 10
  room <- pmin(widest, 52L) + 2
  table <- flextable::flextable(frame)
  table <- flextable::border_remove(table)
  table <- flextable::hline_top(table, part = "header", border = line)
  table <- flextable::hline_bottom(table, part = "header", border = line)
  table <- flextable::hline_bottom(table, part = "body", border = line)
  table <- flextable::font(table, fontname = WORD_FONT, part = "all")
  table <- flextable::fontsize(table, size = size, part = "all")
  table <- flextable::padding(table, padding = 1.5, part = "all")
  table <- flextable::line_spacing(table, space = 1, part = "all")
  table <- flextable::height_all(table, height = 1.2 * size / 72)
  # words that follow numbers keep away from them
  after <- which(!right & c(FALSE, utils::head(right, -1L)))
  if (length(after)) table <- flextable::padding(table, j = after, padding.left = 9, part = "all")
  if (any(right)) table <- flextable::align(table, j = which(right), align = "right", part = "all")
  if (any(!right)) table <- flextable::align(table, j = which(!right), align = "left", part = "all")
  for (j in which(lengths(cells$faint) > 0L)) {
    table <- flextable::color(table, i = cells$faint[[j]], j = j, color = FAINT_INK)
  }
  table <- flextable::width(table, j = seq_along(room), width = WORD_WIDTH * room / sum(room))
  flextable::set_table_properties(table, layout = "fixed", opts_word = list(split = FALSE))
}
