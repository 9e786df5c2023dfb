#' How far each scale can be trusted
#'
#' What a reviewer asks of a scale: how reliable is its score, by which assumption, how sure is
#' that, and which item helps or hurts.
#'
#' @param scales What [form_scales()] takes: a factor solution, a questionnaire whose codebook names
#'   scales, or a named list of item names.
#' @param data The answers: a [questionnaire()], or a data frame (raw answers, which are keyed as
#'   those were that the solution or the scales came from); or what [correlate_items()] returned or
#'   takes (then there are no intervals but those of alpha). Left out, `scales` when that is a
#'   questionnaire.
#' @param ... Passed on to [correlate_items()]: `missing`, `n`.
#' @param by Group columns, bare or in quotes: alpha and omega for each group, with a test of equal
#'   alphas.
#' @param again The same people's answers at a second wave, for test-retest: a questionnaire with
#'   the same id column, or with people in the same order.
#' @param target The reliability for which the number of items needed is worked out, from .50 to
#' .99.
#' @param replicates How many times people are drawn with replacement for intervals: 0 for none,
#' else from 50 to 100,000.
#' @param level Of all intervals, from .50 to .999.
#' @inheritParams parallel_analysis
#' @return An object of class `reliability` ([softsieve-reliability]).
#' @section Errors: `softsieve_error_scales` (items that are not there, an item in two scales),
#'   `softsieve_error_waves` (people of the second wave that do not match),
#'   `softsieve_error_groups`, and those of [correlate_items()].
#' @section Findings: `against_scale` (negative correlation with the rest: probably a reversed item
#'   that was not keyed; it is never turned in silence), `negative_alpha`, `alpha_rises_without`,
#'   `nearly_redundant`, `few_items`, `fewer_people_than_items`, `different_ranges`,
#'   `several_factors` (in what should be one scale), `one_factor_improper`, `scales_overlap`,
#'   `alphas_differ`, `split_sampled`, `no_bootstrap`, `no_total`.
#' @section Which to report: `values$assumptions$report` names it, and the print says why. Omega
#'   where one factor fits; alpha is the same when loadings are equal; categorical omega where items
#'   have four answers or fewer, or are skewed; where more than one factor is in a scale, omega with
#'   a warning that points to omega hierarchical; standardised alpha of two items (it is the
#'   Spearman-Brown coefficient; Eisinga, te Grotenhuis & Pelzer 2013). Where reverse-worded items
#'   share their wording, [wording_factor()] shows omega of the topic alone and with the wording.
#' @section Formulas:
#' With covariances \eqn{s_{ij}}{s_ij} of k items and \eqn{V} their sum:
#'
#' Alpha (Guttman's lambda 3)
#' \deqn{\alpha = \frac{k}{k - 1} (1 - \sum s_{ii} / V)}{alpha = k/(k - 1) (1 - sum s_ii / V)}
#' The other lambdas; lambda 4 over all splits into two parts A and B, exact up to 24 items
#' \deqn{\lambda_1 = 1 - \sum s_{ii} / V}{lambda 1 = 1 - sum s_ii / V}
#' \deqn{\lambda_2 = \lambda_1 + \sqrt{\frac{k}{k - 1} \sum_{i \ne j} s_{ij}^2} / V}{
#'   lambda 2 = lambda 1 + sqrt(k/(k - 1) sum s_ij^2) / V, i != j}
#' \deqn{\lambda_4 = \max 4 cov(A, B) / V}{lambda 4 = max 4 cov(A, B) / V}
#' \deqn{\lambda_5 = \lambda_1 + 2 \sqrt{\max_i \sum_j s_{ij}^2} / V}{
#'   lambda 5 = lambda 1 + 2 sqrt(max_i sum_j s_ij^2) / V}
#' \deqn{\lambda_6 = 1 - \sum (1 / s^{ii}) / V}{lambda 6 = 1 - sum (1/s^ii) / V}
#' Greatest lower bound, with \eqn{S - diag(\psi)}{S - diag(psi)} semidefinite
#' \deqn{1 - \max \sum \psi / V}{1 - max sum psi / V}
#' Of a one-factor minres model with loadings \eqn{l} and uniquenesses \eqn{u} in the items' units:
#' omega (composite reliability the same of standardised items), coefficient H, variance extracted
#' \deqn{\omega = (\sum l)^2 / ((\sum l)^2 + \sum u)}{omega = (sum l)^2 / ((sum l)^2 + sum u)}
#' \deqn{H = 1 / (1 + 1 / \sum \frac{l^2}{1 - l^2})}{H = 1/(1 + 1/sum l^2/(1 - l^2))}
#' \deqn{\sum l^2 / k}{sum l^2 / k}
#' Categorical omega, with \eqn{h} the covariance of two answers whose normal variables correlate so
#' (Green & Yang 2009)
#' \deqn{\sum h(l_i l_j) / \sum h(r_{ij})}{sum h(l_i l_j) / sum h(r_ij)}
#' Standard error of measurement of a score with standard deviation \eqn{s}; items needed for a
#' target reliability \eqn{w}
#' \deqn{s \sqrt{1 - rel}}{s sqrt(1 - rel)}
#' \deqn{k \frac{w (1 - rel)}{rel (1 - w)}}{k w (1 - rel) / (rel (1 - w))}
#' Stratified alpha (Cronbach, Schonemann & McKie 1965)
#' \deqn{1 - \sum V_s (1 - \alpha_s) / V}{1 - sum V_s (1 - alpha_s) / V}
#' Heterotrait-monotrait ratio: mean size of correlations between the scales over the geometric mean
#' of those within (Henseler, Ringle & Sarstedt 2015).
#'
#' Intervals of alpha: Feldt (1965), Bonett (2002), and the delta method for normal answers (van
#'   Zyl,
#' Neudecker & Nel 2000); of all coefficients: percentile and bias-corrected accelerated (Efron
#'   1987)
#' over resampled people. Of more than 2,500 people not single ones are drawn but 500 parts into
#' which they are shuffled (`bench/` holds the two ways against each other). The acceleration is
#' estimated by leaving out each of up to 200 parts of the people (50 with more than 2,500). The
#' greatest split half of a draw is climbed to from that of all people; with more than 100 items the
#' general factor is not fitted to draws. Ratios of two scales and stratified alpha have no
#'   interval. Nor have lambda 4 and the greatest lower bound: as the best of many bounds they come
#'   out too large in samples, and in draws too large again, so that limits would lie too high
#'   (`bench/intervals.R` has the bias).
#' @eval describe_papers("Feldt (1965)", "Bonett (2002)", "Efron (1987)", "Green & Yang (2009)",
#'   "Guttman (1945)", "Zinbarg, Revelle, Yovel & Li (2005)")
#' @family scales
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' trust <- assess_reliability(motives, replicates = 200, seed = 1)
#' trust
#' tidy(trust)
#' thrift <- assess_reliability(list(thrift = c("t1", "t2", "t3")), motives, replicates = 0)
#' thrift$values$coefficients
#' @concept Cronbach's alpha
#' @concept McDonald's omega
#' @export
assess_reliability <- function(scales, data = NULL, ..., by = NULL, again = NULL, target = 0.80,
    replicates = 1000L, level = 0.95, seed = NULL, threads = NULL) {
  asked <- settle_arguments(RELIABILITY_TAKES)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  if (is_result(data, c("factor_solution", "softsieve_scale_set"))) {
    stop_input("class", "`data` must be answers.", got = "Scales came in their place.",
      todo = "Scales come first: assess_reliability(scales, data).")
  }
  if (is.null(data)) data <- scales
  by <- settle_by(rlang::enquo(by), data)
  known <- if (is_result(scales, c("factor_solution", "softsieve_scale_set"))) scales$values$key
  if (is.data.frame(data)) data <- raw_answers(data, known)
  if (is_questionnaire(data)) check_keyed_alike(data, known)
  scales <- with_units_of(form_scales(if (is.data.frame(scales)) data else scales), data)
  given <- gather_reliability(scales, data, threads, ...)
  parts <- lapply(names(given$members), function(name) {
    assess_scale(given, name, level, seed, threads)
  })
  whole <- assess_whole(given, seed, threads)
  drawn <- draw_people(given, parts, whole, asked$replicates, seed, threads)
  values <- reliability_values(given, parts, whole, drawn, target, level)
  grouped <- if (!is.null(by)) {
    reliability_by_group(scales, behind_scales(data)$answers, by, level, ...)
  }
  values$groups <- grouped$groups
  values$equal_alphas <- grouped$tests
  values$stability <- if (!is.null(again)) assess_stability(given, again, level)
  findings <- bind_findings(findings_that_travel(given$correlations$findings), scales$findings,
    find_in_reliability(values, given), drawn$finding, grouped$findings)
  settings <- c(given$correlations$settings,
    list(scales_by = scales$settings$by, standardise = scales$settings$standardise, by = by,
      again = !is.null(again), target = target, replicates = drawn$replicates, level = level,
      seed = seed))
  new_reliability(values, settings, findings, given$correlations$source, match.call())
}

RELIABILITY_TAKES <- list(
  replicates = a_whole("Draws of the people for intervals of reliability", 0, 1e5),
  target = a_number("The reliability that scales should have", 0.5, 0.99),
  level = a_number("Of the intervals of reliability", 0.5, 0.999))

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
  tibble_of(scales = nrow(s), items = sum(s$items), lowest = min(s$reliability, na.rm = TRUE),
    highest = max(s$reliability, na.rm = TRUE),
    omega_hierarchical = if (is.null(general)) {
      NA_real_
    } else {
      general$estimate[general$scale == "all items" & general$part == "general"][1L]
    },
    replicates = x$settings$replicates, level = x$settings$level, seed = x$settings$seed)
}
