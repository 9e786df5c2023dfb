# Writing: whole or not at all, and nothing that a spreadsheet would run.

#' Write a result as CSV or JSON
#'
#' CSV holds the result's main table, JSON (by the name `.json`) all of its values, settings and findings.
#' The file is written beside its place and then renamed, so that a broken run leaves no half file.
#' Text that a spreadsheet would take for a formula (it starts with `=`, `+`, `-`, `@`, a tab or a
#' line break) gets an apostrophe in front.
#'
#' @param x A result of this package or a data frame.
#' @param file Path of the file to write: CSV (UTF-8, commas, decimal points), or JSON when its name ends so.
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_unwritable` when the folder is not there or may not be written.
#' @examples
#' write_table(repair_cafe_codebook, tempfile(fileext = ".csv"))
#' @export
write_table <- function(x, file) {
  check_text(file, "file")
  if (tolower(tools::file_ext(file)) == "json") {
    return(write_whole(file, function(path) writeLines(json_of(x), path, useBytes = TRUE), call = environment()))
  }
  table <- tidy_for_sheet(as_tibble(x))
  write_whole(file, function(path) readr::write_csv(table, path, na = "", progress = FALSE), call = environment())
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
