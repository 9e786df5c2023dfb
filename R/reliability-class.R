#' What reliability holds
#'
#' [assess_reliability()] returns an object of class `reliability` ([softsieve-result]). Its
#' `values`:
#'
#' * `scales`: tibble, one row for each scale: `scale`, `items`, `n` (people behind tests),
#'   `wrong_key` (items that run against all others, or `NA`: then no coefficient is worth reading),
#'   `report` (the coefficient to report), `reliability`, `lower`, `upper` (that coefficient),
#'   `alpha`, `omega`, `mean_correlation`, `lowest_correlation`, `highest_correlation`, `mean`, `sd`
#'   (of the mean of the items), `sem` (standard error of measurement of that mean), `score_margin`
#'   (half the interval of one person's score), `items_needed` (how many items of this kind the
#'   target reliability needs);
#' * `coefficients`: tibble: `scale`, `coefficient`, `estimate`, `standard_error` (bootstrap),
#'   `lower`, `upper`, `interval` (which kind these are: `"bca"`, `"feldt"`, or `NA`);
#' * `intervals`: tibble of every interval there is: `scale`, `coefficient`, `interval` (`"feldt"`,
#'   `"bonett"`, `"delta"`, `"percentile"`, `"bca"`), `lower`, `upper`;
#' * `items`: tibble, one row for each item: `scale`, `item`, `wording`, `reversed`, `mean`, `sd`,
#'   `item_rest` (correlation with the sum of the others), `squared_multiple` (correlation with the
#'   others), `loading` on one factor, `alpha_without`, `omega_without`, `discrimination`
#'   (difference of means between the people in the upper and the lower 27 % by the other items, as
#'   a share of the range), `flag`;
#' * `assumptions`: tibble: `scale`, `factors` (by parallel analysis of its items), `chi_square`,
#'   `df`, `rmsea` (one factor, maximum likelihood), `difference`, `difference_df`, `equal_p` (equal
#'   against free loadings), `coarse` (four answers or fewer, or skewed), `report`, `why`;
#' * `hierarchy`: `NULL` with one scale, else tibble: `scale` (and `"all items"`), `form`
#'   (`"schmid_leiman"`, `"bifactor"`), `part` (`"general"`: omega hierarchical; `"groups"`;
#'   `"total"`), `estimate`, `lower`, `upper` (`"bca"`);
#' * `pairs`: tibble, one row for two scales: `scale`, `with`, `correlation` of their scores,
#'   `without_error` (corrected for unreliability), `difference` (reliability of the difference
#'   score), `heterotrait` (heterotrait-monotrait ratio), `variance_extracted` (the smaller one),
#'   `squared` (of `without_error`);
#' * `total`: `NULL` with one scale, else list: `stratified_alpha`, `alpha` of all items;
#' * `halves`: tibble of split halves of equal size: `scale`, `from`, `to`, `share`; `splits`:
#'   tibble: `scale`, `number`, `all` (or a sample), `mean`, `lowest`, `highest`, `greatest` (of
#'   splits of any size), `exact`;
#' * `totals`: tibble of the scores (means of the items): `scale`, `score`, `people`; `NULL` without
#' answers;
#' * `groups`: `NULL` or tibble: `group`, `people`, `scale`, `n`, `alpha`, `lower`, `upper`,
#'   `omega`; `equal_alphas`: tibble: `scale`, `statistic`, `df`, `df2`, `p`;
#' * `stability`: `NULL` or tibble: `scale`, `people`, `coefficient`, `estimate`, `lower`, `upper`,
#' `sem`, `smallest_change`, `shift`.
#'
#' `as_tibble()` gives `scales`, `tidy()` the items, `glance()` one row.
#' @name softsieve-reliability
NULL

new_reliability <- function(values, settings, findings, source, call) {
  new_result("softsieve_reliability", values, settings, findings, source, call)
}

#' @exportS3Method tibble::as_tibble
as_tibble.softsieve_reliability <- function(x, ...) x$values$scales

#' @export
tidy.softsieve_reliability <- function(x, ...) {
  check_dots_empty(...)
  x$values$items
}

#' @export
glance.softsieve_reliability <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scales
  general <- x$values$hierarchy
  tibble::tibble(scales = nrow(s), items = sum(s$items), lowest = min(s$reliability, na.rm = TRUE),
    highest = max(s$reliability, na.rm = TRUE),
    omega_hierarchical = if (is.null(general)) {
      NA_real_
    } else {
      general$estimate[general$scale == "all items" & general$part == "general"][1L]
    },
    replicates = x$settings$replicates, level = x$settings$level, seed = x$settings$seed)
}
