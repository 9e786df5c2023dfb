#' A workbook that works scores out
#'
#' Writes an XLSX file of live formulas: from values over standardised ones to scores, and of
#' components back to values. Whoever opens it can change a cell and see what follows.
#'
#' @param x A `factor_solution` of up to 100 items.
#' @param data The answers: a [questionnaire()] or a data frame, of up to 5,000 rows. Values are
#'   keyed: reversed items are reverse-scored already.
#' @param file Path of the file to write; its name ends in `.xlsx`.
#' @param method As in [score_respondents()].
#' @return `file`, invisibly. Its sheets are `about`, `values`, `columns` (mean and standard
#'   deviation that values are standardised by, those of the solution, and those of the values
#'   here), `weights`, `standardised`, `scores`, and of components `loadings` and `back`. Rows with
#'   missing values have no scores there. Scores are those of [predict()][softsieve-beside] to
#'   rounding.
#' @section Errors: `softsieve_error_package` (writexl is not installed), `softsieve_error_ending`,
#'   `softsieve_error_unwritable`, `softsieve_error_argument` (too many rows or items),
#'   `softsieve_error_class`, those of [score_respondents()].
#' @family scores
#' @examplesIf requireNamespace("writexl", quietly = TRUE)
#' log <- questionnaire(repair_log, visitors:parts, id = day, measured = TRUE)
#' busy <- factor_solution(log, 2, method = "components", rotation = "none")
#' write_worked(busy, log, tempfile(fileext = ".xlsx"))
#' @export
write_worked <- function(x, data, file, method = NULL) {
  check_class(x, "x", "factor_solution", "factor_solution()")
  if (missing(data) || missing(file)) {
    stop_input("argument", "`data` and `file` must say what is worked out, and where.",
      got = "Nothing came.", todo = "For example write_worked(x, answers, \"by-hand.xlsx\").")
  }
  check_text(file, "file")
  check_ending(file, "xlsx")
  needs_package("writexl", "Workbooks")
  scoring <- gather_scoring(x, method, NULL)
  given <- answers_by_key(data, scoring$key, scoring$items$item)
  size <- dim(given$answers)
  if (size[1L] > MOST_WORKED[["rows"]] || size[2L] > MOST_WORKED[["items"]]) {
    stop_input("argument", "A workbook takes up to 5,000 rows and 100 items.",
      got = sprintf("%s rows and %d items came.", format_count(size[1L]), size[2L]),
      todo = "Give some of the rows: data[1:100, ].")
  }
  units <- settle_units(scoring, NULL, given$answers)
  id <- if (is_questionnaire(data)) data$settings$id
  ids <- if (length(id)) as.character(given$people[[id]]) else as.character(seq_len(size[1L]))
  sheets <- worked_sheets(x, scoring, given$answers, units, ids)
  write_whole(file, function(path) writexl::write_xlsx(sheets, path))
  invisible(file)
}

MOST_WORKED <- c(rows = 5000L, items = 100L)

worked_sheets <- function(x, scoring, answers, units, ids) {
  p <- ncol(answers)
  k <- length(scoring$names)
  at <- seq_len(nrow(answers)) + 1L
  item <- sheet_column(seq_len(p) + 1L)
  score <- sheet_column(seq_len(k) + 1L)
  table <- function(columns, names) {
    stats::setNames(as.data.frame(c(list(ids), columns), optional = TRUE), c("row", names))
  }
  live <- function(text) writexl::xl_formula(text)
  values <- lapply(seq_len(p), function(j) as.numeric(answers[, j]))
  z <- lapply(seq_len(p), function(j) {
    live(sprintf("=IF(values!%s%d=\"\",\"\",(values!%s%d-columns!$B$%d)/columns!$C$%d)", item[j],
      at, item[j], at, j + 1L, j + 1L))
  })
  sums <- lapply(seq_len(k), function(f) {
    row <- sprintf("standardised!$%s%d:$%s%d", item[1L], at, item[p], at)
    live(sprintf("=IF(COUNT(%s)<%d,\"\",SUMPRODUCT(%s,weights!$%s$%d:$%s$%d))", row, p, row,
      item[1L], f + 1L, item[p], f + 1L))
  })
  last <- nrow(answers) + 1L
  here <- function(name) live(sprintf("=%s(values!%s2:%s%d)", name, item, item, last))
  columns <- data.frame(item = scoring$items$item, mean = units$mean, sd = units$sd,
    mean_here = here("AVERAGE"), sd_here = here("STDEV"),
    wording = ifelse(is.na(scoring$items$wording), "", scoring$items$wording))
  weights <- data.frame(score = scoring$names, t(scoring$weights), check.names = FALSE)
  sheets <- list(about = about_worked(x, scoring), values = table(values, scoring$items$item),
    columns = columns, weights = weights, standardised = table(z, scoring$items$item),
    scores = table(sums, scoring$names))
  if (scoring$of != "components") return(sheets)
  loadings <- x$values$loadings[, scoring$names, drop = FALSE]
  if (isTRUE(scoring$spec[["roots"]])) loadings <- sweep(loadings, 2L, scoring$model$roots, "/")
  back <- lapply(seq_len(p), function(j) {
    row <- sprintf("scores!$%s%d:$%s%d", score[1L], at, score[k], at)
    live(sprintf(
      "=IF(COUNT(%s)<%d,\"\",columns!$B$%d+columns!$C$%d*SUMPRODUCT(%s,loadings!$%s$%d:$%s$%d))",
      row, k, j + 1L, j + 1L, row, score[1L], j + 1L, score[k], j + 1L))
  })
  c(sheets, list(
    loadings = data.frame(item = scoring$items$item, loadings, check.names = FALSE,
      row.names = NULL),
    back = table(back, scoring$items$item)))
}

about_worked <- function(x, scoring) {
  said <- c(sprintf("Scores on %s, worked out: %s.", count_of(length(scoring$names), scoring$one),
    scoring$spec$label),
    "values: the answers, reverse-scored where items are reversed; change a cell, and see.",
    "columns: mean and sd that values are standardised by; beside them those of the values here.",
    "weights: what a standardised value counts in each score.",
    "standardised: (value - mean) / sd. scores: the sum of weight times standardised value.",
    if (scoring$of == "components") {
      paste("loadings: what a score counts in each item. back: mean + sd times the sum of loading",
        "times score; with all components it is the values again.")
    },
    sprintf("Written by softsieve %s.", utils::packageVersion("softsieve")))
  data.frame(about = in_called(said, x$source))
}

# A, B, ..., Z, AA, ...
sheet_column <- function(number) {
  vapply(number, function(n) {
    text <- ""
    while (n > 0L) {
      text <- paste0(LETTERS[(n - 1L) %% 26L + 1L], text)
      n <- (n - 1L) %/% 26L
    }
    text
  }, "")
}
