# Comparison data (Ruscio & Roche 2012): samples with k factors and the answers' own distributions;
# k grows as long as their eigenvalues come significantly nearer to the observed ones.

judge_comparison <- function(e) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  draw <- comparison_source(e)
  misfit <- list(draw(0L))
  p <- NULL
  for (k in seq_len(e$most)) {
    misfit[[k + 1L]] <- draw(k)
    p[k] <- core_tends_smaller(misfit[[k + 1L]], misfit[[k]])
    if (p[k] > cutoff("comparison_p")) break
  }
  k <- length(p)
  if (k && p[k] > cutoff("comparison_p")) k <- k - 1L
  table <- tibble::tibble(factors = seq_along(misfit) - 1L, misfit = vapply(misfit, mean, 0),
    misfit_sd = vapply(misfit, stats::sd, 0), nearer_p = c(NA, p))
  list(suggested = k, table = table, reason = if (k == length(p)) {
    sprintf("still nearer with %d", k)
  } else {
    sprintf("%d is not nearer than %d (%s)", k + 1L, k, format_p(p[k + 1L]))
  })
}

# A function of k that gives the misfits of samples with k factors. With answers at hand, Pearson
# correlations and categories: normal variables are cut into the observed shares, and correlate so
# that the answers correlate as observed. Else the items are normal, and no people need be drawn.
comparison_source <- function(e) {
  s <- e$settings
  count <- comparison_samples(s$replicates, e$n)
  observed <- e$eigenvalues
  if (is.null(e$answers) || !kind_is(e$correlations$settings$kind, "like_pearson")) {
    return(function(k) {
      root <- if (k) core_population_root(kept_loadings(e$r, k)) else matrix(0, 0L, 0L)
      drawn <- cpp_sample_eigenvalues(as.integer(e$n), e$p, root, "components", 0L, count, s$seed,
        s$threads, NULL)
      sqrt(colMeans((drawn - observed)^2))
    })
  }
  cuts <- lapply(seq_len(e$p), function(i) cutting_of(e$answers$values$answers[, i]))
  thresholds <- lapply(cuts, `[[`, "thresholds")
  values <- lapply(cuts, `[[`, "values")
  latent <- cpp_latent_correlations(thresholds, values, e$r, s$threads)
  if (core_smallest_eigenvalue(latent) < 1e-6) {
    latent <- core_nearest_correlation(latent)$correlations * 0.999 + diag(0.001, e$p)
  }
  function(k) {
    payload <- list(loadings = if (k) kept_loadings(latent, k) else matrix(0, e$p, 0L),
      thresholds = thresholds, values = values, people = as.integer(e$n), observed = observed,
      seed = s$seed)
    if (workers_there() < 2L) {
      return(drop(misfits_in_range(0L, count, payload, s$threads, function(done) NULL)))
    }
    drop(run_ranges(misfits_in_range, count, payload, s$threads, "Comparison data")$value)
  }
}

# A column for each sample, as run_ranges() has it.
misfits_in_range <- function(first, count, payload, threads, progress) {
  loadings <- payload$loadings
  misfits <- cpp_comparison_misfits(loadings, pmax(1 - rowSums(loadings^2), 0), payload$thresholds,
    payload$values, payload$people, payload$observed, as.integer(first), as.integer(count),
    payload$seed, threads, NULL)
  matrix(misfits, 1L)
}

# How many samples are drawn: as many as replicates were asked for (else the paper's 500), but of
# many people fewer, so that no more than 850,000 people are made up for each number of factors.
# Their samples differ less.
comparison_samples <- function(replicates, n) {
  asked <- if (is.numeric(replicates)) replicates else 500
  as.integer(min(asked, max(COMPARISON_LEAST, COMPARISON_PEOPLE / n)))
}
COMPARISON_LEAST <- 40
COMPARISON_PEOPLE <- 8.5e5

# An item as a normal variable cut into its categories; more than 16 answers go into 16 classes of
# about equal size, each standing for its mean.
cutting_of <- function(answers) {
  answers <- answers[!is.na(answers)]
  class <- answers
  if (length(unique(answers)) > 16L) {
    class <- ceiling(rank(answers, ties.method = "average") / length(answers) * 16)
  }
  shares <- table(class) / length(answers)
  list(thresholds = stats::qnorm(cumsum(shares)[-length(shares)]),
    values = as.numeric(tapply(answers, class, mean)))
}

# Rules on the ladder of maximum likelihood fits with 0, 1, 2, ... factors.

judge_hull <- function(e) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  tried <- e$fits[e$fits$factors <= max(e$parallel$values$suggested + 1L, 2L) & e$fits$df > 0, ]
  # CFI is cut off at 1, and has no bend where the fit is perfect: the share of misfit taken away
  # has
  fit <- 1 - tried$discrepancy / tried$discrepancy[1L]
  found <- core_hull(fit, tried$df)
  table <- tibble_of(factors = tried$factors, df = tried$df, fit = fit, cfi = tried$cfi,
    on_hull = found$on_hull, bend = found$st)
  if (all(is.na(found$st))) {
    return(list(suggested = NA_integer_, reason = "fewer than three solutions on the hull",
      table = table))
  }
  at <- which.max(found$st)
  list(suggested = tried$factors[at], table = table,
    reason = sprintf("sharpest bend: %s of misfit gone", format_share(fit[at], 1L)))
}

judge_likelihood_ratio <- function(e) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  fits <- e$fits[c("factors", "df", "chi_square", "p")]
  if (all(is.na(fits$p))) return(silent_rule(no_test_here(e)))
  first_that(fits, !is.na(fits$p) & fits$p > 0.05,
    function(at) sprintf("first not rejected: %s", format_p(fits$p[at])),
    sprintf("rejected up to %d", max(fits$factors)))
}

judge_rmsea_lower <- function(e) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  fits <- e$fits[c("factors", "df", "rmsea", "rmsea_lower", "rmsea_upper")]
  if (all(is.na(fits$rmsea_lower))) return(silent_rule(no_test_here(e)))
  first_that(fits,
    !is.na(fits$rmsea_lower) & fits$rmsea_lower < cutoff("rmsea_close"),
    function(at) {
      sprintf("first below %s: %s", format_unit(cutoff("rmsea_close")),
        format_unit(fits$rmsea_lower[at], 3L))
    },
    sprintf("above %s up to %d", format_unit(cutoff("rmsea_close")), max(fits$factors)))
}

judge_bic <- function(e) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  at <- which.min(e$fits$bic)
  list(suggested = e$fits$factors[at], table = e$fits[c("factors", "df", "discrepancy", "bic")],
    reason = sprintf("smallest: %s", format_number(e$fits$bic[at], 0L)))
}

no_test_here <- function(e) {
  why <- information_of(e$correlations)$why
  sprintf("no test: %s", if (length(why)) why else NOT_KNOWN_HOW_IT_VARIES)
}
