#' Which items belong to which factor
#'
#' The pattern matrix as people read it: items sorted by the factor they load on most and by the
#' size of that loading, small loadings left blank, a word for what is wrong with an item, the
#' wording beside.
#'
#' @param solution A `factor_solution`.
#' @param hide_below Loadings smaller than this in size, from 0 to 1, are left blank in print (grey
#'   in Word). Nothing else depends on it: the table and files have them all.
#' @param sort `"factor"`: by the factor an item loads on most (those without a salient loading
#'   last), and by the size of that loading; `"size"`: by the size alone; `"communality"`: the
#'   highest first; `"questionnaire"`: in the questionnaire's order. Equal ones stay in the
#'   questionnaire's order.
#' @param structure Show the structure coefficients (correlations of items with factors) beside the
#'   pattern? They differ from the loadings where factors correlate.
#' @param weak_below An item whose loadings are all smaller in size is marked `weak`.
#' @param cross_loading_from,cross_loading_within An item that is not weak is marked `cross_loading`
#'   when its second largest loading reaches `cross_loading_from` in size, or is within
#'   `cross_loading_within` of the largest.
#' @param communality_below An item whose communality is smaller is marked `low`.
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `pattern_table` ([softsieve-result]); `values` holds
#'   * `table`: tibble, one row for each item: `item`, `factor` (the one it loads on most, `NA` when
#'     it is weak), a column for each factor, with `structure` one more for each (`structure_F1`,
#'     ...), `communality`, `uniqueness`, `complexity`, `marks` (their words, or `""`), `wording`,
#'     `reversed`;
#'   * `marks`: tibble, one row for each mark: `item`, `mark`, `value` (what breaks the limit),
#'     `limit`, `source`;
#'   * `loadings` and `structure`: all of them, p x k; `hidden`: how many loadings are blank in
#'     print; `factors`: their names.
#' @eval describe_marks()
#' @section Findings: `no_salient_loading`, `cross_loading_item`, `low_communality`,
#'   `against_wording`.
#' @eval describe_papers("Floyd & Widaman (1995)", "Howard (2016)", "Child (2006)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' pattern_table(factor_solution(motives, seed = 1))
#' @concept cross-loading
#' @export
pattern_table <- function(solution, hide_below = cutoff("salient_loading"),
    sort = c("factor", "size", "communality", "questionnaire"), structure = FALSE,
    weak_below = cutoff("salient_loading"), cross_loading_from = cutoff("salient_loading"),
    cross_loading_within = cutoff("cross_loading_distance"),
    communality_below = cutoff("low_communality"), ...) {
  check_dots_empty(...)
  check_class(solution, "solution", "factor_solution", "extract_factors() or rotate_factors()")
  asked <- settle_arguments(PATTERN_TAKES)
  limits <- asked[c("weak_below", "cross_loading_from", "cross_loading_within",
    "communality_below")]
  loadings <- solution$values$loadings
  marks <- marks_of(solution, limits)
  values <- list(table = lay_out_pattern(solution, marks, weak_below, structure), marks = marks,
    loadings = loadings, structure = solution$values$structure,
    hidden = sum(abs(loadings) < hide_below), factors = colnames(loadings))
  values$table <- values$table[PATTERN_ORDERS[[asked$sort]](solution, weak_below), ]
  new_result("pattern_table", values, c(solution$settings, asked),
    find_in_marks(marks, solution, limits), solution$source, match.call())
}

PATTERN_TAKES <- list(hide_below = a_number("Smaller loadings are not shown", 0, 1),
  sort = a_text("In which order items stand", function() names(PATTERN_ORDERS)),
  structure = a_flag("Show the correlations of items with factors beside the loadings"),
  weak_below = a_number("An item whose loadings are all smaller is marked weak", 0, 1),
  cross_loading_from = a_number("An item whose second loading is as large is marked cross_loading",
    0, 1),
  cross_loading_within = a_number(
    "An item whose second loading is as near the first is marked cross_loading", 0, 1),
  communality_below = a_number("An item whose communality is smaller is marked low", 0, 1))

# In which order items stand.
PATTERN_ORDERS <- list(
  factor = function(solution, weak_below) {
    loadings <- solution$values$loadings
    home <- home_factor(loadings, weak_below)
    order(home, -largest_size(loadings), na.last = TRUE)
  },
  size = function(solution, weak_below) order(-largest_size(solution$values$loadings)),
  communality = function(solution, weak_below) {
    order(-round(solution$values$items$communality, EQUAL_TO))
  },
  questionnaire = function(solution, weak_below) seq_len(nrow(solution$values$items)))

largest_size <- function(loadings) round(apply(abs(loadings), 1L, max), EQUAL_TO)

# One row for each item, in the questionnaire's order.
lay_out_pattern <- function(solution, marks, weak_below, structure) {
  items <- solution$values$items
  loadings <- solution$values$loadings
  beside <- solution$values$structure
  colnames(beside) <- structure_columns(colnames(loadings))
  words <- vapply(items$item, function(one) paste(marks$mark[marks$item == one], collapse = ", "),
    "")
  tibble::as_tibble(c(
    list(item = items$item, factor = colnames(loadings)[home_factor(loadings, weak_below)]),
    columns_of(loadings), if (structure) columns_of(beside),
    items[c("communality", "uniqueness", "complexity")], list(marks = unname(words)),
    items[c("wording", "reversed")]))
}

structure_columns <- function(factors) paste0("structure_", factors)

# The columns of a matrix as a list of plain vectors, by their names.
columns_of <- function(x) {
  stats::setNames(lapply(seq_len(ncol(x)), function(j) unname(x[, j])), colnames(x))
}

# For the help page.
describe_marks <- function() {
  lines <- vapply(MARKS, function(one) {
    source <- if (is.na(one$reference)) "" else sprintf("; %s", one$reference)
    limits <- paste0("`", one$limits, "`", collapse = ", ")
    sprintf("* `%s`: %s (%s%s).", one$name, one$label, limits, source)
  }, "")
  rest <- paste(
    "Before a rotation, items are expected to load on several factors and with any sign: neither",
    "`cross_loading` nor `against` is marked.")
  paste(c("@section Marks:", lines, "", rest), collapse = "\n")
}

#' @exportS3Method tibble::as_tibble
as_tibble.pattern_table <- function(x, ...) x$values$table

#' @export
glance.pattern_table <- function(x, ...) {
  check_dots_empty(...)
  t <- x$values$table
  tibble::tibble(items = nrow(t), factors = length(x$values$factors),
    without_factor = sum(is.na(t$factor)), hidden = x$values$hidden)
}

#' @export
tidy.pattern_table <- function(x, ...) {
  check_dots_empty(...)
  l <- x$values$loadings[x$values$table$item, , drop = FALSE]
  tibble::tibble(item = rep(rownames(l), ncol(l)), factor = rep(colnames(l), each = nrow(l)),
    loading = as.numeric(l), hidden = as.logical(abs(l) < x$settings$hide_below))
}

#' @export
coef.pattern_table <- function(object, ...) {
  check_dots_empty(...)
  object$values$loadings
}
