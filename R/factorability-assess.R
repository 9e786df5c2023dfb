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
#' @param least Sampling adequacy below which an item, or all, should not be factored.
#' @return An object of class `factorability` ([softsieve-result]); `values` holds `adequacy` (one
#'   number from 0 to 1), `items` (tibble, lowest adequacy first: `item`, `wording`, `reversed`,
#'   `adequacy`, `squared_multiple`), `sphericity` (list: `statistic`, `df`, `p`, `form`: see below,
#'   `why` there is no test, or empty), `determinant`,
#'   `condition_number` (largest over smallest eigenvalue), `n` (of tests), `people`,
#'   `people_per_item`, `share_worth` (share of correlations above .30 in size), `collinear` (tibble
#'   of pairs at .90 or more), `verdict` (`"unrelated"` where sphericity is not
#'   rejected, `"unacceptable"` below `least`, else Kaiser's words for adequacy: `"miserable"` in
#'   the .50s, `"mediocre"`, `"middling"`, `"meritorious"` and `"marvelous"` from .90),
#'   `anti_image` (p x p on request: partial correlations given all other items, sign turned,
#'   adequacies on the diagonal) and `groups` (tibble, one row for each group, on request: a group
#'   that cannot be judged says `why`).
#' @section Findings: those of [correlate_items()], `unrelated_items`, `no_sphericity` (why there is
#'   no test), `adequacy_undefined` (an
#'   item, or all, that correlates with no other: then adequacy is `NA`), `low_adequacy`,
#'   `low_item_adequacy`, `collinear_pair`, `few_people`, `small_group`,
#'   `group_not_judged`.
#' @section Errors: `softsieve_error_identical_items`, `softsieve_error_too_few_people`,
#'   `softsieve_error_singular`, and those of [correlate_items()].
#' @section Formulas:
#' Sphericity, with p(p - 1)/2 degrees of freedom. Complete Pearson correlations (`form` "bartlett")
#' \deqn{\chi^2 = -(n - 1 - (2p + 5)/6) \ln |R|}{chi-square = -(n - 1 - (2p + 5)/6) ln |R|}
#' Missing answers, ranks and polychoric correlations ("squares"), with \eqn{s} the correlations of
#' the answers, their ranks, or their normal scores, over the people of each pair
#' \deqn{\chi^2 = \sum_{i < j} (n_{ij} - 1) s_{ij}^2}{chi-square = sum (n_ij - 1) s_ij^2}
#' Weights and clusters ("adjusted"): n - 1 times the sum of squared correlations, adjusted in mean
#' and variance (see [extract_factors()]). Unrelated items stay unrelated when answers are missing
#' at random, so that both hold then, too.
#' Adequacy of item i, with \eqn{q} the partial correlations given all other items; overall the same
#' over all pairs
#' \deqn{\frac{\sum_j r_{ij}^2}{\sum_j r_{ij}^2 + \sum_j q_{ij}^2}}{
#'   sum_j r_ij^2 / (sum_j r_ij^2 + sum_j q_ij^2)}
#' @eval describe_papers("Bartlett (1951)", "Pitman (1937)", "MacCallum et al. (1999)",
#'   "Kaiser & Rice (1974)", "Guttman (1953)")
#' @family before factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' assess_factorability(motives)
#' @concept KMO Kaiser-Meyer-Olkin sampling adequacy
#' @export
assess_factorability <- function(x, ..., by = NULL, anti_image = FALSE,
    least = cutoff("adequacy_least")) {
  by <- settle_by(rlang::enquo(by), x)
  check_number(least, "least", 0, 1)
  check_flag(anti_image, "anti_image")
  whole <- as_correlations(x, ...)
  check_invertible(whole)
  values <- measure_factorability(whole, least)
  if (anti_image) values$anti_image <- core_anti_image(whole$values$correlations)
  grouped <- if (!is.null(by)) factorability_by_group(whole, by, least)
  values$groups <- grouped$groups
  new_result("factorability", values,
    c(whole$settings, list(least = least, by = by, anti_image = anti_image)),
    bind_findings(whole$findings, find_in_factorability(values, least), grouped$findings),
    whole$source, match.call())
}

measure_factorability <- function(x, least) {
  r <- x$values$correlations
  adequacy <- core_sampling_adequacy(r)
  sphericity <- sphericity_of(x)
  items <- x$values$items[c("item", "wording", "reversed")]
  items$adequacy <- unname(adequacy$items)
  items$squared_multiple <- core_squared_multiple(r)
  unrelated <- isTRUE(sphericity$p >= cutoff("sphericity_p"))
  verdict <- if (unrelated) {
    "unrelated"
  } else if (is.na(adequacy$overall) || adequacy$overall < least) {
    "unacceptable"
  } else {
    adequacy_word(adequacy$overall)
  }
  pairs <- as_tibble(x)
  close <- abs(pairs$correlation) >= cutoff("collinear_r")
  list(adequacy = adequacy$overall, items = items[order(items$adequacy, na.last = FALSE), ],
    sphericity = sphericity, determinant = exp(-core_no_factor(r)),
    condition_number = core_condition_number(r), n = x$values$n, people = x$values$people,
    people_per_item = x$values$people / ncol(r),
    share_worth = mean(abs(pairs$correlation) > cutoff("correlation_worth")),
    collinear = pairs[close, c("item", "with", "correlation")], verdict = verdict)
}

# Kaiser's words.
adequacy_word <- function(adequacy) {
  if (is.na(adequacy)) return("not defined")
  if (adequacy < cutoff("adequacy_least")) return("unacceptable")
  words <- c("mediocre", "middling", "meritorious", "marvelous")
  reached <- vapply(words, function(word) adequacy >= cutoff(paste0("adequacy_", word)), NA)
  if (any(reached)) words[sum(reached)] else "miserable"
}

# "below .60 is miserable, from .60 on mediocre, from .70 on middling, ...".
adequacy_ladder <- function() {
  words <- c("mediocre", "middling", "meritorious", "marvelous")
  at <- vapply(words, function(word) cutoff(paste0("adequacy_", word)), 0)
  join_words(c(sprintf("below %s it is called miserable", format_unit(at[1L])),
    sprintf("from %s on %s", format_unit(at), words)))
}

# One row for each group. A group that cannot be judged says why, and the others go on.
factorability_by_group <- function(whole, by, least) {
  blank <- tibble::tibble(n = NA_real_, adequacy = NA_real_, chi_square = NA_real_, df = NA_real_,
    p = NA_real_, weakest_item = NA_character_, weakest_adequacy = NA_real_,
    verdict = NA_character_)
  judge_groups(whole$values$questionnaire, by, "factorability", function(part) {
    correlations <- correlate_alike(part, whole)
    check_invertible(correlations)
    v <- measure_factorability(correlations, least)
    tibble::tibble(n = v$n, adequacy = v$adequacy, chi_square = v$sphericity$statistic,
      df = v$sphericity$df, p = v$sphericity$p, weakest_item = v$items$item[1L],
      weakest_adequacy = v$items$adequacy[1L], verdict = v$verdict)
  }, blank)
}

#' @exportS3Method tibble::as_tibble
as_tibble.factorability <- function(x, ...) x$values$items

#' @export
glance.factorability <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble::tibble(adequacy = v$adequacy, chi_square = v$sphericity$statistic, df = v$sphericity$df,
    p = v$sphericity$p, determinant = v$determinant, n = v$n, people_per_item = v$people_per_item,
    verdict = v$verdict)
}

find_in_factorability <- function(values, least) {
  low <- values$items[which(values$items$adequacy < least), ]
  alone <- values$items$item[is.na(values$items$adequacy)]
  unrelated <- isTRUE(values$sphericity$p >= cutoff("sphericity_p"))
  bind_findings(
    if (unrelated) {
      new_finding("unrelated_items", value = values$sphericity$p, limit = cutoff("sphericity_p"))
    },
    if (length(values$sphericity$why) && !isTRUE(values$sphericity$told)) {
      new_finding("no_sphericity", values$sphericity$why)
    },
    if (length(alone)) {
      none <- is.na(values$adequacy)
      new_finding("adequacy_undefined", if (none) {
        "No item correlates with any other"
      } else {
        sprintf("%s correlates with no other item", alone)
      }, item = if (none) NA_character_ else alone)
    },
    if (isTRUE(values$adequacy < least)) {
      new_finding("low_adequacy", format_unit(values$adequacy), format_unit(least),
        value = values$adequacy, limit = least)
    },
    if (nrow(low)) {
      new_finding("low_item_adequacy", low$item, format_unit(low$adequacy), format_unit(least),
        item = low$item, value = low$adequacy, limit = least)
    },
    if (nrow(values$collinear)) {
      new_finding("collinear_pair", values$collinear$item, values$collinear$with,
        format_unit(values$collinear$correlation), item = values$collinear$item,
        value = values$collinear$correlation, limit = cutoff("collinear_r"))
    },
    find_few_people(values))
}

# How many people loadings ask for, by how much items share (MacCallum, Widaman, Zhang & Hong 1999):
# what the other items predict is the least that they share.
find_few_people <- function(values) {
  shared <- mean(values$items$squared_multiple)
  wanted <- if (shared >= 0.6) 100 else if (shared >= 0.5) 200 else 300
  if (values$n >= wanted) return(NULL)
  new_finding("few_people", count_of(values$n, "person", "people"), format_share(shared), wanted,
    value = values$n, limit = wanted)
}
