#' Can these items be factored?
#'
#' Two questions before any factoring. Are the items related at all? Bartlett's test of sphericity
#' holds the matrix against one without correlations. Do they share more than pairs share? Sampling
#' adequacy sets correlations against partial correlations: near 1, what two items have in common
#' they have in common with the others too; below .50, an item stands alone or with one other.
#'
#' @param x What [correlate_items()] takes.
#' @param ... Passed on to [correlate_items()] when `x` is not correlated yet: `missing`, `n`.
#' @param least,acceptable,good Cut-offs for sampling adequacy.
#' @return An object of class `factorability` ([softsieve-result]); `values` holds `adequacy` (one
#'   number from 0 to 1), `items` (tibble, lowest adequacy first: `item`, `wording`, `reversed`, `adequacy`,
#'   `squared_multiple`), `sphericity` (list: `statistic`, `df`, `p`), `determinant`, `n`,
#'   `people_per_item` and `verdict` (`"good"`, `"acceptable"`, `"poor"` or `"no"`).
#' @section Errors: `softsieve_error_identical_items`, `softsieve_error_too_few_people`,
#'   `softsieve_error_singular`, and those of [correlate_items()].
#' @section Formulas: Sphericity: chi-square = -(n - 1 - (2p + 5)/6) ln|R| with p(p - 1)/2 degrees of
#'   freedom. Adequacy of item i: the sum over j of r_ij^2 over the sum of r_ij^2 + q_ij^2, q being
#'   the partial correlations given all other items; overall the same over all pairs. With pairwise
#'   deletion the test uses the smallest number of people behind any pair.
#' @references Bartlett, M. S. (1951). The effect of standardization on a chi-square approximation
#'   in factor analysis. *Biometrika*, 38, 337-344.
#'
#'   Kaiser, H. F., & Rice, J. (1974). Little jiffy, mark IV. *Educational and Psychological
#'   Measurement*, 34, 111-117.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' assess_factorability(motives)
#' @export
assess_factorability <- function(x, ..., least = cutoff("adequacy_least"), acceptable = cutoff("adequacy_acceptable"),
                                 good = cutoff("adequacy_good")) {
  call <- environment()
  check_number(least, "least", 0, 1)
  check_number(acceptable, "acceptable", least, 1)
  check_number(good, "good", acceptable, 1)
  x <- in_name_of(call, correlate_items(x, ...))
  check_invertible(x, call)
  r <- x$values$correlations
  adequacy <- core_sampling_adequacy(r)
  sphericity <- core_sphericity(r, x$values$n)
  items <- x$values$items[c("item", "wording", "reversed")]
  items$adequacy <- unname(adequacy$items)
  items$squared_multiple <- core_squared_multiple(r)
  items <- items[order(items$adequacy), ]
  related <- sphericity$p < cutoff("sphericity_p")
  verdict <- if (!related || adequacy$overall < least) "no" else
    if (adequacy$overall < acceptable) "poor" else if (adequacy$overall < good) "acceptable" else "good"
  values <- list(adequacy = adequacy$overall, items = items, sphericity = sphericity[c("statistic", "df", "p")],
                 determinant = sphericity$determinant, n = x$values$n, people_per_item = x$values$n / ncol(r), verdict = verdict)
  settings <- c(x$settings, list(least = least, acceptable = acceptable, good = good))
  new_result("factorability", values, settings, find_in_factorability(values, related, least), x$source, match.call())
}

#' @export
as_tibble.factorability <- function(x, ...) x$values$items

#' @export
glance.factorability <- function(x, ...) {
  with(x$values, tibble::tibble(adequacy = adequacy, chi_square = sphericity$statistic, df = sphericity$df, p = sphericity$p,
                                determinant = determinant, n = n, people_per_item = people_per_item, verdict = verdict))
}

find_in_factorability <- function(values, related, least) {
  low <- values$items[values$items$adequacy < least, ]
  finding <- function(code, severity, text, ...) new_finding("factorability", code, severity, text, ...)
  bind_findings(
    if (!related) finding("unrelated_items", "serious", value = values$sphericity$p, limit = cutoff("sphericity_p"),
                          text = "Bartlett's test does not tell these items from unrelated ones: there may be nothing to factor."),
    if (values$adequacy < least) finding("low_adequacy", "serious", value = values$adequacy, limit = least,
                                         text = sprintf("Overall sampling adequacy is %s, below %s: the items do not share enough to be factored.",
                                                        format_unit(values$adequacy), format_unit(least))),
    if (nrow(low)) finding("low_item_adequacy", "caution", item = low$item, value = low$adequacy, limit = least,
                           text = sprintf("%s has adequacy %s, below %s: leave out the lowest, and run again before judging the next.",
                                          low$item, format_unit(low$adequacy), format_unit(least))),
    if (values$people_per_item < 5) finding("few_people_per_item", "caution", value = values$people_per_item, limit = 5,
                                            text = sprintf("%s people for each item: loadings will vary much from sample to sample.",
                                                           format_number(values$people_per_item, 1L)))
  )
}
