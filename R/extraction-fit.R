# How well an extraction fits, where its method has a test.

# Measures of fit, where the method has a test, and a finding where it would have one but for
# something.
test_of_fit <- function(x, answers, found, k, method) {
  r <- x$values$correlations
  p <- ncol(r)
  test <- spec_of("extraction", method)$test
  if (test == "likelihood") {
    none <- cpp_fit_uniquenesses(r, 0L, method, rep(1, p), 0.005, 1e-9, 100L)$discrepancy
    return(list(measures = core_likelihood_fit(found$discrepancy, none, p, k, x$values$n)))
  }
  if (test != "adjusted") return(list())
  missing <- if (is.null(answers)) {
    "only correlations were given, not the answers"
  } else if (!x$settings$kind %in% c("pearson", "polychoric")) {
    sprintf("it is worked out for Pearson and polychoric correlations, not for %s", x$settings$kind)
  } else if (x$settings$missing == "em") {
    "correlations by EM have no influence functions here"
  } else if (isTRUE(x$settings$weighted)) {
    "people are weighted"
  } else if (p > 70L) {
    "there are more than 70 items"
  }
  if (length(missing)) {
    return(list(finding = new_finding("no_adjusted_test", missing)))
  }
  list(measures = adjusted_test(x, answers$values$answers, found$loadings))
}

# The adjusted chi-square, and the measures that rest on it.
adjusted_test <- function(x, answers, loadings) {
  r <- x$values$correlations
  if (x$settings$missing == "complete") {
    answers <- answers[stats::complete.cases(answers), , drop = FALSE]
  }
  n <- nrow(answers)
  upper <- upper.tri(r)
  gamma <- core_correlation_gamma(answers, r, x$values$thresholds)
  v <- 1 / (n * x$values$standard_errors[upper]^2)
  fit <- core_adjusted_chi_square(
    gamma,
    v,
    core_loading_slopes(loadings),
    (r - tcrossprod(loadings))[upper],
    n
  )
  none <- core_adjusted_chi_square(gamma, v, NULL, r[upper], n)
  c(
    list(
      chi_square = fit$chi_square,
      p = if (fit$df > 0) stats::pchisq(fit$chi_square, fit$df, lower.tail = FALSE) else NA_real_
    ),
    core_fit_measures(fit$chi_square, fit$df, none$chi_square, none$df, n)
  )
}
