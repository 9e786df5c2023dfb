# Writing: whole or not at all, and nothing that a spreadsheet would run.

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
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_ending` (another ending), `softsieve_error_too_large` (a Word
#'   table of more than 300 rows), `softsieve_error_unwritable` when the folder is not there or may
#'   not be written, or the disk is full, `softsieve_error_package`.
#' @examples
#' write_table(repair_cafe_codebook, tempfile(fileext = ".csv"))
#' @export
write_table <- function(x, file) {
  check_text(file, "file")
  call <- environment()
  form <- check_ending(file, names(TABLE_WRITERS), call)
  write <- TABLE_WRITERS[[form]]
  write_whole(file, function(path) write(x, path, call), call = call)
}

# One writer for each ending: function(result or data frame, path, call).
TABLE_WRITERS <- list(
  csv = function(x, path, call) {
    write_text(readr::format_csv(tidy_for_sheet(as_tibble(x)), na = ""), path)
  },
  tsv = function(x, path, call) {
    write_text(readr::format_tsv(tidy_for_sheet(as_tibble(x)), na = ""), path)
  },
  xlsx = function(x, path, call) {
    needs_package("writexl", "XLSX files", call)
    writexl::write_xlsx(as.data.frame(tidy_for_sheet(as_tibble(x))), path)
  },
  parquet = function(x, path, call) {
    needs_package("nanoparquet", "Parquet files", call)
    nanoparquet::write_parquet(as.data.frame(tidy_for_sheet(as_tibble(x))), path)
  },
  json = function(x, path, call) write_text(json_of(x), path),
  docx = function(x, path, call) write_docx(tables_for_word(x), path, call)
)

# The ending of a file's name, one of those that can be written.
check_ending <- function(file, endings, call = caller_env()) {
  form <- tolower(tools::file_ext(file))
  if (form %in% endings) return(form)
  stop_input(
    "ending",
    sprintf(
      "The file's name must end in %s.",
      sub("(.*) and ", "\\1 or ", join_words(paste0(".", endings)))
    ),
    got = sprintf("\"%s\" came.", basename(file)),
    todo = "The ending says what kind of file is written.",
    call = call
  )
}

needs_package <- function(package, what, call) {
  if (requireNamespace(package, quietly = TRUE)) return(invisible())
  stop_input(
    "package",
    sprintf("%s need the package %s.", what, package),
    got = "It is not installed.",
    todo = sprintf("install.packages(\"%s\"), or write CSV.", package),
    call = call
  )
}

# Text as UTF-8; what does not arrive on the disk is an error.
write_text <- function(text, path) {
  bytes <- charToRaw(enc2utf8(paste0(sub("\n$", "", paste(text, collapse = "\n")), "\n")))
  to <- suppressWarnings(file(path, "wb")) # what it warns of is its error, too
  tryCatch(writeBin(bytes, to), finally = close(to))
  if (!isTRUE(file.size(path) == length(bytes))) {
    stop("the file on the disk is shorter than what was written")
  }
}

# The tables of a result as people read them, each named by its title: its main table, numbers with
# two decimals, unless its class knows better.
tables_for_word <- function(x) UseMethod("tables_for_word")

#' @exportS3Method
tables_for_word.default <- function(x) {
  rounded <- lapply(as_tibble(x), function(column) {
    if (!is.numeric(column)) return(ifelse(is.na(column), "", as.character(column)))
    if (all(column == round(column), na.rm = TRUE)) format_count(column) else format_number(column)
  })
  list(Table = as.data.frame(rounded, check.names = FALSE))
}

# More would take a word processor, and the package that writes it, minutes.
MOST_WORD_ROWS <- 300L

write_docx <- function(tables, path, call) {
  long <- vapply(tables, nrow, 1L)
  if (any(long > MOST_WORD_ROWS)) {
    stop_input(
      "too_large",
      sprintf("A Word table holds up to %d rows.", MOST_WORD_ROWS),
      got = sprintf("%s came.", count_of(max(long), "row")),
      todo = "Write XLSX or CSV.",
      call = call
    )
  }
  needs_package("flextable", "Word tables", call)
  made <- lapply(tables, function(table) flextable::autofit(flextable::flextable(table)))
  flextable::save_as_docx(values = made, path = path)
}

# A result as JSON: values, settings and findings, numbers with 15 digits; a data frame as rows.
json_of <- function(x) {
  parts <- x
  if (inherits(x, "softsieve_result")) {
    parts <- unclass(x)[c("values", "settings", "findings", "source")]
    # correlations know their answers; these have a file of their own
    parts$values$questionnaire <- NULL
  }
  jsonlite::toJSON(
    parts,
    digits = 15,
    auto_unbox = TRUE,
    na = "null",
    null = "null",
    matrix = "rowmajor",
    pretty = TRUE,
    force = TRUE
  )
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

# Calls write(path) with a path beside `file`, and renames when what was written is whole. A writer
# that fails, or warns that something did not reach the disk, leaves nothing.
write_whole <- function(file, write, call = caller_env()) {
  folder <- dirname(file)
  check_writable(folder, call)
  beside <- tempfile(".softsieve-", folder, paste0(".", tools::file_ext(file)))
  on.exit(unlink(beside), add = TRUE)
  failed <- function(e) {
    if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
    stop_input(
      "unwritable",
      "The file must be written whole.",
      got = sprintf("\"%s\": %s", basename(file), conditionMessage(e)),
      todo = "Is the disk full? Nothing was left behind.",
      call = call
    )
  }
  tryCatch(write(beside), error = failed)
  if (!is_whole(beside)) failed(simpleError("it broke off before its end"))
  if (!file.rename(beside, file)) {
    stop_input(
      "unwritable",
      "The file must be writable.",
      got = sprintf("\"%s\" could not be replaced.", file),
      todo = "Is it open in another program?",
      call = call
    )
  }
  invisible(file)
}

# How files end that are whole: those of kinds whose writers do not tell of a full disk.
FILE_TAILS <- list(
  png = as.raw(c(0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82)),
  parquet = charToRaw("PAR1")
)

is_whole <- function(path) {
  size <- file.size(path)
  if (is.na(size) || size == 0) return(FALSE)
  form <- tolower(tools::file_ext(path))
  if (form %in% c("xlsx", "docx")) {
    return(!inherits(try(utils::unzip(path, list = TRUE), silent = TRUE), "try-error"))
  }
  tail <- FILE_TAILS[[form]]
  if (form == "svg") tail <- charToRaw("</svg>")
  if (is.null(tail)) return(TRUE)
  from <- file(path, "rb")
  on.exit(close(from))
  seek(from, max(0, size - 64))
  length(grepRaw(tail, readBin(from, "raw", 64L), fixed = TRUE)) > 0L
}

check_writable <- function(folder, call = caller_env()) {
  if (dir.exists(folder) && file.access(folder, 2L) == 0) return(invisible(folder))
  stop_input(
    "unwritable",
    "The folder to write into must exist and be writable.",
    got = if (dir.exists(folder)) {
      sprintf("\"%s\" may not be written to.", folder)
    } else {
      sprintf("There is no folder \"%s\".", folder)
    },
    todo = "Name another folder, or make it first.",
    call = call
  )
}
