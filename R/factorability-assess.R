#' Can these items be factored?
#'
#' Two questions before any factoring. Are the items related at all? Bartlett's test of sphericity
#' holds the matrix against one without correlations. Do they share more than pairs share? Sampling
#' adequacy sets correlations against partial correlations: near 1, what two items have in common
#' they have in common with the others too; below .50, an item stands alone or with one other.
#'
#' @param x What [correlate_items()] takes.
#' @param ... Passed on to [correlate_items()] when `x` is not correlated yet: `missing`, `n`.
#' @param by Group columns, bare or in quotes: the same for each group as well. Needs a
#'   questionnaire.
#' @param anti_image Keep the anti-image correlations?
#' @param least,acceptable,good Cut-offs for sampling adequacy.
#' @return An object of class `factorability` ([softsieve-result]); `values` holds `adequacy` (one
#'   number from 0 to 1), `items` (tibble, lowest adequacy first: `item`, `wording`, `reversed`,
#'   `adequacy`, `squared_multiple`), `sphericity` (list: `statistic`, `df`, `p`), `determinant`,
#'   `condition_number` (largest over smallest eigenvalue), `n` (of tests), `people`,
#'   `people_per_item`, `share_worth` (share of correlations above .30 in size), `collinear` (tibble
#'   of pairs at .90 or more), `verdict` (`"good"`, `"acceptable"`, `"poor"` or `"no"`),
#'   `anti_image` (p x p on request: partial correlations given all other items, sign turned,
#'   adequacies on the diagonal) and `groups` (tibble, one row for each group, on request: a group
#'   that cannot be judged says `why`).
#' @section Findings: those of [correlate_items()], `unrelated_items`, `adequacy_undefined` (an
#'   item, or all, that correlates with no other: then adequacy is `NA`), `low_adequacy`,
#'   `low_item_adequacy`, `collinear_pair`, `few_people_per_item`, `small_group`,
#'   `group_not_judged`.
#' @section Errors: `softsieve_error_identical_items`, `softsieve_error_too_few_people`,
#'   `softsieve_error_singular`, and those of [correlate_items()].
#' @section Formulas:
#' Sphericity, with p(p - 1)/2 degrees of freedom
#' \deqn{\chi^2 = -(n - 1 - (2p + 5)/6) \ln |R|}{chi-square = -(n - 1 - (2p + 5)/6) ln |R|}
#' Adequacy of item i, with \eqn{q} the partial correlations given all other items; overall the same
#' over all pairs
#' \deqn{\frac{\sum_j r_{ij}^2}{\sum_j r_{ij}^2 + \sum_j q_{ij}^2}}{
#'   sum_j r_ij^2 / (sum_j r_ij^2 + sum_j q_ij^2)}
#' With pairwise deletion the test uses the smallest number of people behind any pair.
#' @references Bartlett, M. S. (1951). The effect of standardization on a chi-square approximation
#'   in factor analysis. *Biometrika*, 38, 337-344.
#'
#'   Kaiser, H. F., & Rice, J. (1974). Little jiffy, mark IV. *Educational and Psychological
#'   Measurement*, 34, 111-117.
#'   Guttman, L. (1953). Image theory for the structure of quantitative variates. *Psychometrika*,
#'   18, 277-296.
#' @family before factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' assess_factorability(motives)
#' @srrstats {UL2.3} items that follow from others are found and named
#' @srrstats {UL2.0} diagnoses whether the items can be factored
#' @export
assess_factorability <- function(
  x,
  ...,
  by = NULL,
  anti_image = FALSE,
  least = cutoff("adequacy_least"),
  acceptable = cutoff("adequacy_acceptable"),
  good = cutoff("adequacy_good")
) {
  call <- environment()
  by <- settle_by(rlang::enquo(by), x, call)
  check_number(least, "least", 0, 1)
  check_number(acceptable, "acceptable", least, 1)
  check_number(good, "good", acceptable, 1)
  check_flag(anti_image, "anti_image")
  whole <- as_correlations(x, ..., call = call)
  check_invertible(whole, call)
  cutoffs <- list(least = least, acceptable = acceptable, good = good)
  values <- measure_factorability(whole, cutoffs)
  if (anti_image) values$anti_image <- core_anti_image(whole$values$correlations)
  grouped <- if (!is.null(by)) factorability_by_group(whole, by, cutoffs, call)
  values$groups <- grouped$groups
  new_result(
    "factorability",
    values,
    c(whole$settings, cutoffs, list(by = by, anti_image = anti_image)),
    bind_findings(whole$findings, find_in_factorability(values, least), grouped$findings),
    whole$source,
    match.call()
  )
}

measure_factorability <- function(x, cutoffs) {
  r <- x$values$correlations
  adequacy <- core_sampling_adequacy(r)
  sphericity <- core_sphericity(r, x$values$n)
  items <- x$values$items[c("item", "wording", "reversed")]
  items$adequacy <- unname(adequacy$items)
  items$squared_multiple <- core_squared_multiple(r)
  related <- sphericity$p < cutoff("sphericity_p")
  verdict <- if (!related || is.na(adequacy$overall) || adequacy$overall < cutoffs$least) {
    "no"
  } else if (adequacy$overall < cutoffs$acceptable) {
    "poor"
  } else if (adequacy$overall < cutoffs$good) {
    "acceptable"
  } else {
    "good"
  }
  pairs <- as_tibble(x)
  close <- abs(pairs$correlation) >= cutoff("collinear_r")
  list(
    adequacy = adequacy$overall,
    items = items[order(items$adequacy, na.last = FALSE), ],
    sphericity = sphericity[c("statistic", "df", "p")],
    determinant = sphericity$determinant,
    condition_number = core_condition_number(r),
    n = x$values$n,
    people = x$values$people,
    people_per_item = x$values$n / ncol(r),
    share_worth = mean(abs(pairs$correlation) > cutoff("correlation_worth")),
    collinear = pairs[close, c("item", "with", "correlation")],
    verdict = verdict
  )
}

# One row for each group. A group that cannot be judged says why, and the others go on.
factorability_by_group <- function(whole, by, cutoffs, call) {
  blank <- tibble::tibble(
    n = NA_real_,
    adequacy = NA_real_,
    chi_square = NA_real_,
    df = NA_real_,
    p = NA_real_,
    weakest_item = NA_character_,
    weakest_adequacy = NA_real_,
    verdict = NA_character_
  )
  judge_groups(
    whole$values$questionnaire,
    by,
    call,
    "factorability",
    function(part) {
      correlations <- correlate_alike(part, whole)
      check_invertible(correlations, call)
      v <- measure_factorability(correlations, cutoffs)
      tibble::tibble(
        n = v$n,
        adequacy = v$adequacy,
        chi_square = v$sphericity$statistic,
        df = v$sphericity$df,
        p = v$sphericity$p,
        weakest_item = v$items$item[1L],
        weakest_adequacy = v$items$adequacy[1L],
        verdict = v$verdict
      )
    },
    blank
  )
}

#' @exportS3Method tibble::as_tibble
as_tibble.factorability <- function(x, ...) x$values$items

#' @export
glance.factorability <- function(x, ...) {
  check_dots_empty(...)
  with(
    x$values,
    tibble::tibble(
      adequacy = adequacy,
      chi_square = sphericity$statistic,
      df = sphericity$df,
      p = sphericity$p,
      determinant = determinant,
      n = n,
      people_per_item = people_per_item,
      verdict = verdict
    )
  )
}

find_in_factorability <- function(values, least) {
  low <- values$items[which(values$items$adequacy < least), ]
  alone <- values$items$item[is.na(values$items$adequacy)]
  unrelated <- values$sphericity$p >= cutoff("sphericity_p")
  bind_findings(
    if (unrelated) {
      new_finding("unrelated_items", value = values$sphericity$p, limit = cutoff("sphericity_p"))
    },
    if (length(alone)) {
      none <- is.na(values$adequacy)
      new_finding(
        "adequacy_undefined",
        if (none) {
          "No item correlates with any other"
        } else {
          sprintf("%s correlates with no other item", alone)
        },
        item = if (none) NA_character_ else alone
      )
    },
    if (isTRUE(values$adequacy < least)) {
      new_finding(
        "low_adequacy",
        format_unit(values$adequacy),
        format_unit(least),
        value = values$adequacy,
        limit = least
      )
    },
    if (nrow(low)) {
      new_finding(
        "low_item_adequacy",
        low$item,
        format_unit(low$adequacy),
        format_unit(least),
        item = low$item,
        value = low$adequacy,
        limit = least
      )
    },
    if (nrow(values$collinear)) {
      new_finding(
        "collinear_pair",
        values$collinear$item,
        values$collinear$with,
        format_unit(values$collinear$correlation),
        item = values$collinear$item,
        value = values$collinear$correlation,
        limit = cutoff("collinear_r")
      )
    },
    if (values$people_per_item < 5) {
      new_finding(
        "few_people_per_item",
        format_number(values$people_per_item, 1L),
        value = values$people_per_item,
        limit = 5
      )
    }
  )
}
