# A formula written for R, a spreadsheet or a database. An entry has a
# label, parameters and
#
#   write  function(formula, data, asked): text, named by score where there is one for each
#
# Names, labels and codes come from people's files: they stand in quotes of the language, doubled or
# escaped, and never as code.

FORMULAS <- family(
  r = spec(label = "R code", parameters = list(),
    write = function(formula, data, asked) write_r_formula(formula)),
  spreadsheet = spec(label = "spreadsheet formulas",
    parameters = list(row = parameter("integer", "row of the first person", 1L, 1048576L, 2L)),
    write = function(formula, data, asked) write_cell_formulas(formula, data, asked$row)),
  sql = spec(label = "SQL",
    parameters = list(table = parameter("text", "name of the table of answers",
      default = "answers")),
    write = function(formula, data, asked) write_sql_formula(formula, data, asked$table)))

#' @rdname score_formula
#' @param formula What `score_formula()` returns.
#' @param language `"r"` (a function of a data frame), `"spreadsheet"` (a formula for each score, in
#'   the form that XLSX files keep: English names, commas, decimal points), `"sql"` (a SELECT of
#'   standard SQL).
#' @param data A data frame of the answers, or a file of them ([read_responses()] reads it): its
#'   columns say which letter an item has in the spreadsheet (then it must be given), and whether
#'   answers are numbers or words.
#' @param ... For `"spreadsheet"`: `row` (of the first person, 2 when left out); for `"sql"`:
#'   `table` (`"answers"` when left out).
#' @return `formula_code()`: text; for `"spreadsheet"` one formula for each score, by its name.
#' @section Codes and words: Codes for no answer of the codebook count as missing answers in every
#'   language; labels are turned into numbers where `data` shows words (in R always). Answers
#'   outside the codebook's range, which [score_respondents()] refuses, are allowed for.
#' @export
formula_code <- function(formula, language = c("r", "spreadsheet", "sql"), data = NULL, ...) {
  check_class(formula, "formula", "score_formula", "score_formula()")
  language <- check_choice(language, "language", names(FORMULAS))
  asked <- settle_parameters(FORMULAS, language, list(...))
  if (is.character(data)) data <- read_responses(data)
  if (!is.null(data)) {
    if (!is.data.frame(data)) check_class(data, "data", "data.frame", "read_responses()")
    absent <- setdiff(rownames(formula$values$weights), names(data))
    if (length(absent)) {
      stop_input("other_items", "`data` must have the items of the formula.",
        got = sprintf("Not in the data: %s.", name_culprits(absent)),
        todo = hint_nearest(absent[1L], names(data)))
    }
  }
  FORMULAS[[language]]$write(formula, data, asked)
}
