# What rules about the number of factors judge by, and what they say.
#
# The evidence e: correlations (item_correlations), r (its p x p matrix), n, p, eigenvalues,
# parallel (a parallel_analysis), partial_squares and partial_fourths (p each), fits (tibble, one
# row for each number of factors; NULL when the matrix is singular), answers (a questionnaire, or
# NULL), and settings (percentile, replicates, share, seed, threads, most).

gather_retention_evidence <- function(correlations, parallel, settings) {
  r <- correlations$values$correlations
  p <- ncol(r)
  n <- correlations$values$n
  singular <- correlations$values$smallest_eigenvalue < 1e-10 || n < p + 1
  most <- min(core_most_factors(p),
    if (is.null(settings$most)) max(10, parallel$values$suggested + 2) else settings$most)
  e <- list(correlations = correlations, r = r, n = n, p = p,
    eigenvalues = eigen(r, symmetric = TRUE, only.values = TRUE)$values, parallel = parallel,
    answers = correlations$values$questionnaire, settings = settings, most = most)
  if (singular) return(e)
  e <- c(e, cpp_average_partials(r))
  e$fits <- fits_of_ladder(most, correlations, settings$threads)
  e
}

# The fit of 0, 1, ... factors: the likelihood's discrepancy F, BIC (n - 1) F - df ln n (Raftery
# 1995), and the measures of fit_of_factors(), NA where there is no test.
fits_of_ladder <- function(most, correlations, threads) {
  r <- correlations$values$correlations
  k <- 0:most
  fits <- fits_for_tests(correlations, k, information_of(correlations, threads)$basis, threads)
  measured <- lapply(k, function(factors) {
    found <- fit_of_factors(correlations, factors, threads, fits[[factors + 1L]])$measures
    tibble::new_tibble(found[c("chi_square", "p", "rmsea", "rmsea_lower", "rmsea_upper", "cfi")],
      nrow = 1L)
  })
  measured <- stack_rows(measured)
  df <- core_degrees_of_freedom(ncol(r), k)
  of_each <- function(what) vapply(fits, function(fit) what(fit$ml), 0)
  discrepancy <- of_each(function(ml) ml$discrepancy)
  above <- upper.tri(r)
  tibble::tibble(factors = k, df = df, discrepancy = discrepancy,
    measured[setdiff(names(measured), "cfi")],
    bic = (correlations$values$n - 1) * discrepancy - df * log(correlations$values$n),
    cfi = measured$cfi,
    rmsr = of_each(function(ml) sqrt(mean((r - tcrossprod(ml$loadings))[above]^2))),
    converged = of_each(function(ml) ml$converged) == 1,
    proper = of_each(function(ml) min(ml$uniquenesses)) > 0.005 * 1.001)
}

# Every rule asked, in a table and with its evidence. A rule that needs the inverse of a singular
# matrix, or more than it finds, says so instead of a number.
ask_rules <- function(rules, e) {
  said <- lapply(rules, function(rule) rule$judge(e))
  each <- function(parts, get, type) unname(vapply(parts, get, type))
  known <- function(s) if (is.na(s$suggested)) NA_integer_ else as.integer(s$suggested)
  table <- tibble_of(rule = names(rules),
    label = each(rules, function(x) x$label, ""),
    suggested = each(said, known, 1L),
    holds = !each(rules, function(x) x$pearson, NA) |
      kind_is(e$correlations$settings$kind, "like_pearson"),
    reason = each(said, function(x) x$reason, ""),
    misleads = each(rules, function(x) x$misleads, ""),
    reference = each(rules, function(x) x$reference, ""))
  list(table = table, evidence = lapply(said, `[[`, "table"))
}

# What a rule says when it cannot judge.
silent_rule <- function(reason) list(suggested = NA_integer_, reason = reason, table = NULL)

# Most rules fit factors, or take the inverse of the matrix.
needs_fits <- function(e) {
  if (is.null(e$fits)) {
    return(silent_rule("needs more people than items, and no item that follows from others"))
  }
  if (e$most < 1L) silent_rule("needs three items")
}

# The first number of factors at which something holds, or NA and a reason.
first_that <- function(fits, holds, reason, never) {
  at <- which(holds)[1L]
  list(suggested = if (is.na(at)) NA_integer_ else fits$factors[at],
    reason = if (is.na(at)) never else reason(at), table = fits)
}
