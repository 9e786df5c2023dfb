# What may be assumed of a scale: one factor, equal loadings, answers fine enough to count as
# numbers; and which coefficient that leaves to report.

# `given`: what reliability is worked out from; `at`: the scale's items among them; `n`: people
# behind chance levels.
check_assumptions <- function(given, at, n, seed, threads) {
  items <- given$items[at, ]
  s <- given$covariances[at, at, drop = FALSE]
  k <- length(at)
  blank <- tibble_of(factors = NA_integer_, chi_square = NA_real_, df = NA_real_, rmsea = NA_real_,
    difference = NA_real_, difference_df = NA_real_, equal_p = NA_real_, coarse = NA,
    pair = NA_character_, pair_residual = NA_real_)
  blank$coarse <- any(items$categories <= 4L | abs(items$skewness) > cutoff("interval_skewness"),
    na.rm = TRUE)
  r <- core_standardised(s)
  if (k < 3L || n <= k || core_smallest_eigenvalue(r) < 1e-10) return(blank)
  part <- correlations_of_some(given$correlations, items$item)
  blank$factors <- factors_by_chance(part, seed, threads)
  equal <- test_equal_loadings(part, s, threads)
  blank[c("difference", "difference_df", "equal_p")] <- equal[c("difference", "difference_df", "p")]
  blank$df <- core_degrees_of_freedom(k, 1L)
  fit <- fit_of_factors(part, 1L, threads)$measures
  blank[c("chi_square", "rmsea")] <- fit[c("chi_square", "rmsea")]
  if (isTRUE(blank$factors > 1L) || isTRUE(blank$rmsea > cutoff("rmsea_poor"))) {
    blank[c("pair", "pair_residual")] <- pair_to_blame(part, seed, threads)
  }
  blank
}

factors_by_chance <- function(part, seed, threads) {
  found <- parallel_analysis(part, replicates = 200L, seed = seed, threads = threads)
  as.integer(found$values$suggested)
}

# Are the loadings equal? From the answers where they are known, else by maximum likelihood of
# normal ones; NA where neither holds.
test_equal_loadings <- function(part, s, threads) {
  known <- information_of(part, threads)
  if (known$basis == "normal") return(core_equal_loadings(s, known$n))
  whole <- part$values$part_of
  if (known$basis == "none" || part$settings$missing == "em") {
    return(list(difference = NA_real_, difference_df = NA_integer_, p = NA_real_))
  }
  at <- match(part$values$items$item, whole$values$items$item)
  used <- answers_of_information(whole)
  used$answers <- used$answers[, at, drop = FALSE]
  r <- part$values$correlations
  loadings <- core_search_surely(r, 1L, "minres", 0.005, 2L, 4L)$loadings
  loadings <- loadings * sign(sum(loadings))
  sd <- sqrt(diag(s))
  units <- seq_len(max(used$unit) + 1L) - 1L
  moves <- influence_of_kind(part, used, threads)("rows", units)
  slopes <- core_loading_slopes(loadings)
  moves <- moves %*% slopes %*% solve(crossprod(slopes))
  own <- moves_of_spreads(used, units)
  all <- sweep(moves, 2L, sd, "*") + sweep(own, 2L, loadings * sd, "*")
  n <- nrow(used$answers)
  core_equal_by_moves(drop(loadings) * sd, all * sqrt(length(units) / n), n)
}

# What each unit does to the items' standard deviations, over these: w (z^2 - 1) / 2 n / n_i.
moves_of_spreads <- function(used, units) {
  x <- used$answers
  w <- if (length(used$weights)) used$weights else rep(1, nrow(x))
  there <- !is.na(x)
  seen <- colSums(there * w)
  mean <- colSums(replace(x, !there, 0) * w) / seen
  away <- sweep(x, 2L, mean)
  away[!there] <- 0
  spread <- colSums(away^2 * w) / seen
  each <- (sweep(away^2, 2L, spread, "/") - there) / 2 * w
  each <- sweep(each, 2L, nrow(x) / seen, "*")
  rowsum(each, used$unit, reorder = TRUE)
}

# Where one factor is in doubt: the two items whose residual is largest, when without one of them
# one factor is close enough; else NA.
pair_to_blame <- function(part, seed, threads) {
  none <- list(pair = NA_character_, residual = NA_real_)
  items <- part$values$items$item
  if (length(items) < 5L) return(none)
  r <- part$values$correlations
  left <- r - tcrossprod(core_search_surely(r, 1L, "minres", 0.005, 2L, 4L)$loadings)
  diag(left) <- 0
  two <- arrayInd(which.max(abs(left)), dim(left))
  better <- vapply(two, function(out) {
    rest <- correlations_of_some(part, items[-out])
    fit <- fit_of_factors(rest, 1L, threads)$measures
    isTRUE(fit$rmsea <= cutoff("rmsea_close")) && factors_by_chance(rest, seed, threads) <= 1L
  }, NA)
  if (!any(better)) return(none)
  list(pair = paste(items[sort(two)], collapse = " and "), residual = left[two])
}

# Which coefficient to report, and why, in a sentence.
choose_coefficient <- function(part) {
  a <- part$assumptions
  m <- part$measured
  k <- nrow(part$items)
  report <- function(coefficient, why) list(report = coefficient, why = why)
  if (k < 2L) {
    return(report(NA_character_,
      "one item has no reliability that can be worked out from one wave"))
  }
  if (k == 2L) {
    return(report("standardised_alpha",
      "two items: no model can be checked, and this equals the Spearman-Brown coefficient"))
  }
  if (is.na(m[["omega"]])) return(report("alpha", "no one-factor model could be fitted"))
  if (isTRUE(a$factors > 1L) || isTRUE(a$rmsea > cutoff("rmsea_poor"))) {
    return(report("omega", one_factor_in_doubt(a)))
  }
  if (isTRUE(a$coarse) && !is.na(m[["categorical_omega"]])) {
    return(report("categorical_omega",
      "few or skewed answers: distances between them should not be taken as equal"))
  }
  report("omega", why_omega(a$equal_p))
}

one_factor_in_doubt <- function(a) {
  if (!is.na(a$pair)) {
    return(sprintf(
      paste(
        "but %s share more than the factor explains (residual %s; without one of them one factor",
        "fits): drop one of the two, or say so"),
      a$pair, format_unit(a$pair_residual)))
  }
  sprintf(
    paste("but one factor is in doubt (parallel analysis: %d; RMSEA %s): split the scale,",
      "or report omega hierarchical"),
    a$factors, if (is.na(a$rmsea)) "not known" else format_unit(a$rmsea, 3L))
}

# Omega beside alpha, by the test of equal loadings.
why_omega <- function(p) {
  if (is.na(p)) return("equal loadings, which alpha needs, cannot be tested here")
  if (p >= cutoff("equal_loadings_p")) {
    return(sprintf("equal loadings are tenable (%s), so that alpha would do as well", format_p(p)))
  }
  sprintf("loadings are not equal (%s), which alpha takes for granted", format_p(p))
}
