# A formula written for R, a spreadsheet or a database. A way of writing is a spec whose name starts
# with FORMULA_ (base-registry.R): name, label, order, parameters and
#
#   write  function(formula, data, asked): text, named by score where there is one for each
#
# Names, labels and codes come from people's files: they stand in quotes of the language, doubled or
# escaped, and never as code.

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
#' @section Codes and words: Codes for no answer of the codebook count as gaps in every language;
#'   labels are turned into numbers where `data` shows words (in R always). Answers outside the
#'   codebook's range, which [score_respondents()] refuses, are allowed for.
#' @export
formula_code <- function(formula, language = c("r", "spreadsheet", "sql"), data = NULL, ...) {
  call <- environment()
  check_class(formula, "formula", "score_formula", "score_formula()")
  language <- check_choice(language, "language", names_of("formula"))
  asked <- settle_parameters("formula", language, list(...), call)
  if (is.character(data)) data <- in_name_of(call, read_responses(data))
  if (!is.null(data)) {
    if (!is.data.frame(data)) check_class(data, "data", "data.frame", "read_responses()")
    absent <- setdiff(rownames(formula$values$weights), names(data))
    if (length(absent)) {
      stop_input("other_items", "`data` must have the items of the formula.",
        got = sprintf("Not in the data: %s.", name_culprits(absent)),
        todo = hint_nearest(absent[1L], names(data)))
    }
  }
  in_name_of(call, spec_of("formula", language)$write(formula, data, asked))
}

# With all digits that a number has; E-notation keeps databases from taking decimals for exact.
exactly <- function(x, e = FALSE) {
  text <- sprintf(if (e) "%.16e" else "%.17g", x)
  # 17 digits where 15 say the same are hard to read
  short <- sprintf(if (e) "%.14e" else "%.15g", x)
  ifelse(as.numeric(short) == x, short, text)
}

# What is known of an item's codes: numbers for no answer, and labels (named by the words, lower
# case), where the key has them.
codes_of_item <- function(formula, item) {
  key <- formula$values$key
  row <- if (is.null(key)) NA else match(item, key$item)
  if (is.na(row)) return(list(missing = numeric(), labels = NULL, possible = numeric()))
  missing <- if (is.null(key$missing_codes)) numeric() else key$missing_codes[[row]]
  ends <- c(key$lowest[row], key$highest[row])
  whole <- checkmate::test_integerish(ends, any.missing = FALSE) && diff(ends) <= 100
  list(missing = as.numeric(missing), labels = key$labels[[row]],
    possible = if (whole) seq(ends[1L], ends[2L]) else numeric())
}

# The terms of one score: item, weight, and where gaps are passed over `sign` and `turned`: the
# keyed answer is sign * x + turned, and the score `whole` times the mean of these.
terms_of_score <- function(formula, j) {
  v <- formula$values
  at <- which(v$weights[, j] != 0)
  list(item = rownames(v$weights)[at], weight = unname(v$weights[at, j]),
    sign = unname(sign(v$weights[at, j])), turned = turned_by(v)[at],
    whole = sum(abs(v$weights[at, j])), least = v$least[j])
}

# lowest + highest of reversed items, 0 of the others.
turned_by <- function(v) {
  if (is.null(v$key)) return(rep(0, nrow(v$weights)))
  ifelse(v$items$reversed %in% TRUE, v$key$lowest + v$key$highest, 0)
}

# Does the item's column hold words (as far as the data show)?
holds_words <- function(data, item) {
  if (is.null(data)) return(FALSE)
  x <- data[[item]]
  (is.character(x) || is.factor(x)) &&
    any(is.na(suppressWarnings(as.numeric(as.character(x[!is.na(x)])))))
}
