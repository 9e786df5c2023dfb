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
  blank <- tibble_of(n = NA_real_, adequacy = NA_real_, chi_square = NA_real_, df = NA_real_,
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
  tibble_of(adequacy = v$adequacy, chi_square = v$sphericity$statistic, df = v$sphericity$df,
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

# The test of whether the items are unrelated at all, by whichever form holds for these
# correlations.

# statistic, df, p (NA where there is no test), form ("bartlett", "squares", "adjusted" or "none")
# and why there is none.
#
#   bartlett  complete Pearson correlations: Bartlett (1951)
#   squares   sum of (n_ij - 1) s_ij^2: whatever the answers' distribution, each term is 1 on
#             average when the answers of unrelated items are shuffled (Pitman 1937, J. R. Stat.
#             Soc. Suppl. 4, 225-232). s_ij: correlations of the answers, their ranks, or under
#             polychoric their normal scores, on the people of each pair
#   adjusted  weights and clusters: n times the sum of squared correlations, adjusted in mean and
#             variance as the test of k factors is
sphericity_of <- function(x, threads = 1L) {
  r <- x$values$correlations
  p <- ncol(r)
  df <- p * (p - 1) / 2
  weighed <- isTRUE(x$settings$weighted) || !is.null(x$values$cluster)
  if (weighed) return(adjusted_sphericity(x, df, threads))
  if (kind_is(x$settings$kind, "core") == "pearson" && all_answered(x)) {
    found <- core_sphericity(r, x$values$n)
    return(c(found[c("statistic", "df", "p")], list(form = "bartlett", why = character())))
  }
  known <- whole_of(x)$values
  if (is.null(known$questionnaire) && is.null(known$tables)) {
    return(no_sphericity(df, "only correlations were given, not the answers"))
  }
  s <- scores_correlated(x)
  statistic <- sum((s$n - 1) * s$squares)
  list(statistic = statistic, df = df, p = stats::pchisq(statistic, df, lower.tail = FALSE),
    form = "squares", why = character())
}

all_answered <- function(x) {
  x$settings$missing %in% c("given", "complete") || min(x$values$n_pair) == max(x$values$n_pair)
}

no_sphericity <- function(df, why, told = FALSE) {
  list(statistic = NA_real_, df = df, p = NA_real_, form = "none", why = why, told = told)
}

adjusted_sphericity <- function(x, df, threads) {
  known <- information_of(x, threads)
  if (known$basis != "answers") return(no_sphericity(df, known$why, isTRUE(known$told)))
  if (!is.null(x$values$cluster) && known$units <= df) {
    why <- sprintf("%s for %s", count_of(known$units, "cluster"), degrees_of(df))
    return(no_sphericity(df, why))
  }
  r <- x$values$correlations
  traces <- core_robust_traces(parts_of_information(known, "squares", x, threads))
  if (is.null(traces)) return(no_sphericity(df, NOT_KNOWN_HOW_IT_VARIES))
  found <- core_adjusted((known$n - 1) * sum(r[upper.tri(r)]^2), df, traces)
  list(statistic = found$chi_square, df = df, p = found$p, form = "adjusted", why = character())
}

# For each pair: how many answered both, and the squared correlation of what stands for the answers.
scores_correlated <- function(x) {
  v <- x$values
  whole <- whole_of(x)
  items <- match(v$items$item, whole$values$items$item)
  known <- scores_of_all(whole)
  pick <- function(m) m[items, items][upper.tri(diag(length(items)))]
  list(n = pick(known$n), squares = pick(known$squares))
}

# A part of correlations keeps the whole beside it, with the answers.
whole_of <- function(x) if (is.null(x$values$part_of)) x else x$values$part_of

scores_of_all <- function(x) {
  v <- x$values
  if (!kind_is(x$settings$kind, "ordinal") && x$settings$missing != "em") {
    return(list(n = v$n_pair, squares = v$correlations^2))
  }
  if (is.null(v$questionnaire)) {
    # of counts: the polychoric correlations over their variance when items are unrelated
    told <- vapply(v$thresholds, core_threshold_information, 0)
    return(list(n = v$n_pair, squares = v$correlations^2 * (told %o% told)))
  }
  answers <- v$questionnaire$values$answers + 0
  if (x$settings$missing == "complete") {
    answers <- answers[stats::complete.cases(answers), , drop = FALSE]
  }
  scores <- lapply(seq_len(ncol(answers)), function(i) {
    core_normal_scores(answers[, i], v$thresholds[[i]])
  })
  scores <- do.call(cbind, scores)
  list(n = crossprod(!is.na(scores)), squares = stats::cor(scores, use = "pairwise.complete.obs")^2)
}

# In words, for prints and reports.
say_sphericity <- function(sphericity) {
  if (is.na(sphericity$p)) return(sprintf("No test of sphericity: %s", sphericity$why))
  sprintf("Sphericity (%s): chi-square = %s, df = %d, %s",
    switch(sphericity$form, bartlett = "Bartlett's test", squares = "sum of squared correlations",
      adjusted = "adjusted for how people were sampled"),
    format_number(sphericity$statistic, 1L), sphericity$df, format_p(sphericity$p))
}
