#' What scores hold
#'
#' [score_respondents()] returns an object of class `respondent_scores` ([softsieve-result]). Its
#' `values`:
#'
#' * `scores`: tibble, one row for each person in the order of the data: the id and group columns,
#'   `answered` (how many items), and a column for each factor or scale, `NA` for people with too
#'   few answers, or with none to the items of that factor; with `errors`, after each,
#'   `<name>_error`, `<name>_lower` and `<name>_upper`; with `also`, `<name>_standardised`,
#'   `<name>_t_score`, `<name>_percentile`;
#' * `factors`: tibble, one row for each factor or scale: `factor`, `people` (with a score), `mean`
#'   and `sd` of the scores; of a solution `determinacy` (correlation of the best score with the
#'   factor, from all items that anybody answered, from 0 to 1), `smallest` (smallest correlation of
#'   two equally
#'   good sets of scores, from -1 to 1) and `validity` (correlation of these scores with the
#'   factor); of scales `items` and `reliability` (`NA` where neither it nor `errors` was asked
#'   for);
#' * `correlations`: `NULL` for one factor, else tibble, one row for each two: `factor`, `with`,
#'   `factors` (correlation of the factors; `NA` of scales), `scores` (of the scores when nothing is
#'   missing, by the formula W'RW; `NA` of scales), `observed` (of these people's scores),
#'   `leaks` and `leaks_back` (correlation of the score of `factor` with the factor `with`, and the
#'   other way round);
#' * `norms`: `NULL`, or tibble, one row for each factor or scale and group: `scale`, `group`,
#'   `people`, `mean`, `sd`, `p10`, `p25`, `p50`, `p75`, `p90`;
#' * `norm_table`: `NULL`, or tibble, one row for each score that somebody has: `scale`, `group`,
#'   `score`, `people`, `percentile`, `standardised`, `t_score`;
#' * `weights`: p x k, of standardised answers (of scales: of the answers) when nothing is missing;
#'   `items`: tibble: `item`, `wording`, `reversed`, `mean`, `sd` (what answers were standardised
#'   by); `key`: how answers are keyed, as in [softsieve-factor-solution].
#'
#' `as_tibble()` gives `scores`, `tidy()` one row for each person and factor, `glance()` one row.
#' @name softsieve-respondent-scores
NULL

new_respondent_scores <- function(table, scoring, found, compared, settings, findings, source,
    call) {
  items <- scoring$items
  if (!is.null(scoring$units)) items[c("mean", "sd")] <- scoring$units[c("mean", "sd")]
  new_result("respondent_scores",
    list(scores = table, factors = quality_of_scores(scoring, found),
      correlations = correlations_of_scores(scoring, found$scores), norms = compared$norms,
      norm_table = compared$table, weights = scoring$weights, items = items, key = scoring$key),
    settings, findings, source, call)
}

#' @exportS3Method tibble::as_tibble
as_tibble.respondent_scores <- function(x, ...) x$values$scores

#' @export
tidy.respondent_scores <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scores
  factors <- x$values$factors$factor
  beside <- c("error", "lower", "upper", FORMS)
  parts <- c(score = "", stats::setNames(paste0("_", beside), beside))
  there <- parts[paste0(factors[1L], parts) %in% names(s)]
  columns <- lapply(there, function(part) unlist(s[paste0(factors, part)], use.names = FALSE))
  own <- unlist(lapply(there, function(part) paste0(factors, part)))
  people <- s[setdiff(names(s), own)]
  tibble::tibble(people[rep(seq_len(nrow(s)), length(factors)), ],
    factor = rep(factors, each = nrow(s)), !!!columns)
}

#' @export
glance.respondent_scores <- function(x, ...) {
  check_dots_empty(...)
  f <- x$values$factors
  tibble::tibble(people = nrow(x$values$scores), scored = max(f$people), factors = nrow(f),
    method = x$settings$score, missing = x$settings$score_missing,
    lowest_determinacy = if (is.null(f[["determinacy"]])) NA_real_ else min(f$determinacy))
}
