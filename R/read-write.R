# Writing: whole or not at all, and nothing that a spreadsheet would run.

#' Write a result as CSV, JSON or a Word table
#'
#' CSV holds the result's main table, JSON (by the name `.json`) all of its values, settings and findings, a Word
#' document (`.docx`) its tables with rounded numbers (of [assess_reliability()] those of scales and items).
#' The file is written beside its place and then renamed, so that a broken run leaves no half file.
#' Text that a spreadsheet would take for a formula (it starts with `=`, `+`, `-`, `@`, a tab or a
#' line break) gets an apostrophe in front.
#'
#' @param x A result of this package or a data frame.
#' @param file Path of the file to write: CSV (UTF-8, commas, decimal points), or JSON or DOCX when its name ends
#'   so (DOCX needs the package flextable).
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_unwritable` when the folder is not there or may not be written,
#'   `softsieve_error_package`.
#' @examples
#' write_table(repair_cafe_codebook, tempfile(fileext = ".csv"))
#' @export
write_table <- function(x, file) {
  check_text(file, "file")
  call <- environment()
  form <- tolower(tools::file_ext(file))
  if (form == "json") return(write_whole(file, function(path) writeLines(json_of(x), path, useBytes = TRUE), call = call))
  if (form == "docx") return(write_whole(file, function(path) write_docx(tables_for_word(x), path, call), call = call))
  table <- tidy_for_sheet(as_tibble(x))
  write_whole(file, function(path) readr::write_csv(table, path, na = "", progress = FALSE), call = call)
}

# The tables of a result as people read them, each named by its title: its main table, numbers with two decimals, unless
# its class knows better.
tables_for_word <- function(x) UseMethod("tables_for_word")

#' @exportS3Method
tables_for_word.default <- function(x) {
  rounded <- lapply(as_tibble(x), function(column) {
    if (!is.numeric(column)) return(ifelse(is.na(column), "", as.character(column)))
    if (all(column == round(column), na.rm = TRUE)) format_count(column) else format_number(column)
  })
  list(Table = as.data.frame(rounded, check.names = FALSE))
}

write_docx <- function(tables, path, call) {
  if (!requireNamespace("flextable", quietly = TRUE)) {
    stop_input("package", "Word tables need the package flextable.", got = "It is not installed.", todo = "install.packages(\"flextable\")", call = call)
  }
  made <- lapply(tables, function(table) flextable::autofit(flextable::flextable(table)))
  flextable::save_as_docx(values = made, path = path)
}

# A result as JSON: values, settings and findings, numbers with 15 digits; a data frame as rows.
json_of <- function(x) {
  parts <- if (inherits(x, "softsieve_result")) unclass(x)[c("values", "settings", "findings", "source")] else x
  jsonlite::toJSON(parts, digits = 15, auto_unbox = TRUE, na = "null", null = "null", matrix = "rowmajor", pretty = TRUE, force = TRUE)
}

tidy_for_sheet <- function(table) {
  names(table) <- neutral_text(names(table))
  table[] <- lapply(table, function(x) {
    if (is.list(x)) x <- vapply(x, function(part) paste(part, collapse = " "), "")
    if (is.factor(x)) x <- as.character(x)
    if (is.character(x)) neutral_text(x) else x
  })
  table
}

neutral_text <- function(x) ifelse(!is.na(x) & grepl("^[=+@\t\r\n-]", x), paste0("'", x), x)

# Calls write(path) with a path beside `file` and renames when it is done.
write_whole <- function(file, write, call = caller_env()) {
  folder <- dirname(file)
  check_writable(folder, call)
  beside <- tempfile(".softsieve-", folder, paste0(".", tools::file_ext(file)))
  on.exit(unlink(beside), add = TRUE)
  write(beside)
  if (!file.rename(beside, file)) {
    stop_input("unwritable", "The file must be writable.", got = sprintf("\"%s\" could not be replaced.", file),
               todo = "Is it open in another program?", call = call)
  }
  invisible(file)
}

check_writable <- function(folder, call = caller_env()) {
  if (dir.exists(folder) && file.access(folder, 2L) == 0) return(invisible(folder))
  stop_input("unwritable", "The folder to write into must exist and be writable.",
             got = if (dir.exists(folder)) sprintf("\"%s\" may not be written to.",
                                                   folder) else sprintf("There is no folder \"%s\".", folder),
             todo = "Name another folder, or make it first.", call = call)
}
