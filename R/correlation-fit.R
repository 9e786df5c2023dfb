# The test of k factors and the measures of fit: one of each for the same correlations, whatever the
# method of extraction, in every stage that shows them.

# measures: a list of
#   chi_square, p    of k factors; rests: on "people" (their answers) or "normal" theory
#   rmsea, rmsea_lower, rmsea_upper (90 %), close_p (of an RMSEA up to .05), cfi, tli
#   aic, bic         NA unless there is a likelihood: Pearson correlations of complete answers
# all NA without degrees of freedom, or where nothing is known to rest a test on; then `finding`
# says why. `finding` also shows where normal theory stands in for answers that are not there.
fit_of_factors <- function(x, k, threads = 1L) {
  r <- x$values$correlations
  p <- ncol(r)
  df <- core_degrees_of_freedom(p, k)
  known <- information_for(x, df, threads)
  blank <- no_measures()
  if (known$basis == "none") {
    told <- if (!isTRUE(known$told)) new_finding("no_test", known$why)
    return(list(measures = blank, finding = told))
  }
  normal <- known$basis == "normal"
  finding <- if (normal) new_finding("normal_theory", known$why)
  if (df <= 0) return(list(measures = blank, finding = finding))
  ml <- likelihood_of_factors(r, k)
  measures <- if (normal) {
    core_likelihood_fit(ml$discrepancy, core_no_factor(r), p, k, known$n)
  } else {
    robust_measures(x, k, ml, known, df, threads)
  }
  measures$rests <- if (normal) "normal" else "people"
  measures[c("aic", "bic")] <- likelihood_criteria(x, ml$discrepancy, df)
  list(measures = measures[names(blank)], finding = finding)
}

# What is known, for a test of so many degrees of freedom: nothing of singular matrices, nor of
# fewer clusters than that.
information_for <- function(x, df, threads) {
  known <- information_of(x, threads)
  why <- if (x$values$smallest_eigenvalue < 1e-8) {
    "the matrix is singular"
  } else if (known$basis == "answers" && x_clustered(x) && known$units <= df) {
    sprintf("%s for %s", count_of(known$units, "cluster"), degrees_of(df))
  }
  if (!is.null(why)) known[c("basis", "why")] <- list("none", why)
  known
}

likelihood_criteria <- function(x, discrepancy, df) {
  if (!has_likelihood(x)) return(list(NA_real_, NA_real_))
  chi <- (x$values$people - 1) * discrepancy
  list(chi - 2 * df, chi - df * log(x$values$people))
}

no_measures <- function() {
  list(chi_square = NA_real_, p = NA_real_, rests = NA_character_, rmsea = NA_real_,
    rmsea_lower = NA_real_, rmsea_upper = NA_real_, close_p = NA_real_, cfi = NA_real_,
    tli = NA_real_, aic = NA_real_, bic = NA_real_)
}

degrees_of <- function(df) sprintf("%s of freedom", count_of(df, "degree"))

x_clustered <- function(x) !is.null(x$values$cluster)

has_likelihood <- function(x) {
  kind_is(x$settings$kind, "core") == "pearson" &&
    !isTRUE(x$settings$weighted) &&
    !x_clustered(x) &&
    min(x$values$n_pair) == max(x$values$n_pair)
}

SEARCHES_FOR_FIT <- 4L

# Maximum likelihood and least squares with k factors (0: none): loadings, discrepancy.
likelihood_of_factors <- function(r, k) solution_of_factors(r, k, "ml")

solution_of_factors <- function(r, k, method) {
  p <- ncol(r)
  if (k == 0L) return(list(loadings = matrix(0, p, 0L), discrepancy = core_no_factor(r)))
  found <- core_search_surely(r, k, method, rep(0.005, p), 2L, SEARCHES_FOR_FIT)
  found[c("loadings", "discrepancy")]
}

# The test: least squares, n times the sum of squared residual correlations, adjusted in mean and
# variance. What estimates the population's misfit: the likelihood's discrepancy less its mean.
robust_measures <- function(x, k, ml, known, df, threads) {
  r <- x$values$correlations
  n <- known$n
  least <- solution_of_factors(r, k, "minres")
  residuals <- (r - tcrossprod(least$loadings))[upper.tri(r)]
  of_squares <- traces_of(known, "squares", x, least$loadings, threads)
  # (of unrelated items both weigh all pairs alike)
  weighs <- if (k) "likelihood" else "squares"
  of_likelihood <- traces_of(known, weighs, x, ml$loadings, threads)
  if (is.null(of_squares) || is.null(of_likelihood)) return(no_measures())
  # least squares need about a quarter of what Bartlett takes off, the likelihood of polychoric
  # correlations twice as much, with weights and clusters once more for the people that they leave;
  # gaps of few people make both larger than the influences know: as samples of known populations
  # show (bench/tests.R, on others)
  by <- 1 + known$filled * if (x$settings$missing == "em") c(4, 5.5) else c(0, 2.5)
  squares <- n * sum(residuals^2) * (3 + core_bartlett_factor(n, ncol(r), k)) / 4 / by[1L]
  tested <- core_adjusted(squares, df, of_squares)
  corrected <- function(discrepancy, k) {
    small <- core_bartlett_factor(n, ncol(r), k)
    if (kind_is(x$settings$kind, "ordinal")) small <- small^2
    unlike <- isTRUE(x$settings$weighted) || x_clustered(x)
    if (unlike) small <- small * core_bartlett_factor(x$values$n, ncol(r), k)
    n * discrepancy * small / by[2L]
  }
  misfit <- core_adjusted(corrected(ml$discrepancy, k), df, of_likelihood)
  none <- corrected(core_no_factor(r), 0L) - sum(diag(known$gamma))
  c(list(chi_square = tested$chi_square, p = tested$p),
    core_robust_measures(misfit, df, none, ncol(r) * (ncol(r) - 1) / 2, n))
}

# Traces under the model, from parts that are made once for these correlations.
traces_of <- function(known, which, x, loadings, threads) {
  parts <- parts_of_information(known, which, x, threads)
  core_robust_traces(parts, if (ncol(loadings)) loadings, threads)
}
