# What may be assumed of a scale: one factor, equal loadings, answers fine enough to count as
# numbers; and which coefficient that leaves to report.

# `s`: covariances; `n`: people behind the tests.
check_assumptions <- function(s, items, n, seed, threads) {
  k <- ncol(s)
  blank <- tibble::tibble(
    factors = NA_integer_,
    chi_square = NA_real_,
    df = NA_real_,
    rmsea = NA_real_,
    difference = NA_real_,
    difference_df = NA_real_,
    equal_p = NA_real_,
    coarse = NA
  )
  blank$coarse <- any(
    items$categories <= 4L | abs(items$skewness) > cutoff("interval_skewness"),
    na.rm = TRUE
  )
  r <- core_standardised(s)
  if (k < 3L || n <= k || core_smallest_eigenvalue(r) < 1e-10) return(blank)
  parallel <- parallel_analysis(
    correlate_items(r, n = n),
    replicates = 200L,
    seed = seed,
    threads = threads
  )
  blank$factors <- as.integer(parallel$values$suggested)
  found <- core_equal_loadings(s, n)
  blank[c("chi_square", "df", "difference", "difference_df", "equal_p")] <- list(
    found$free_chi_square,
    found$free_df,
    found$difference,
    found$difference_df,
    found$p
  )
  # three items fit one factor whatever they are
  if (found$free_df > 0) {
    blank$rmsea <- sqrt(max(found$free_chi_square - found$free_df, 0) / (found$free_df * (n - 1)))
  }
  blank
}

# Which coefficient to report, and why, in a sentence.
choose_coefficient <- function(part) {
  a <- part$assumptions
  m <- part$measured
  k <- nrow(part$items)
  report <- function(coefficient, why) list(report = coefficient, why = why)
  if (k < 2L) {
    return(report(
      NA_character_,
      "one item has no reliability that can be worked out from one wave"
    ))
  }
  if (k == 2L) {
    return(report(
      "standardised_alpha",
      "two items: no model can be checked, and this equals the Spearman-Brown coefficient"
    ))
  }
  if (is.na(m[["omega"]])) return(report("alpha", "no one-factor model could be fitted"))
  if (isTRUE(a$factors > 1L) || isTRUE(a$rmsea > cutoff("rmsea_poor"))) {
    return(report("omega", one_factor_in_doubt(a)))
  }
  if (isTRUE(a$coarse) && !is.na(m[["categorical_omega"]])) {
    return(report(
      "categorical_omega",
      "few or skewed answers: distances between them should not be taken as equal"
    ))
  }
  report("omega", why_omega(a$equal_p))
}

one_factor_in_doubt <- function(a) {
  sprintf(
    paste(
      "but one factor is in doubt (parallel analysis: %d; RMSEA %s): split the scale,",
      "or report omega hierarchical"
    ),
    a$factors,
    if (is.na(a$rmsea)) "not known" else format_unit(a$rmsea, 3L)
  )
}

# Omega beside alpha, by the test of equal loadings.
why_omega <- function(p) {
  if (is.na(p)) return("equal loadings, which alpha needs, cannot be tested here")
  if (p >= cutoff("equal_loadings_p")) {
    return(sprintf("equal loadings are tenable (%s), so that alpha would do as well", format_p(p)))
  }
  sprintf("loadings are not equal (%s), which alpha takes for granted", format_p(p))
}
