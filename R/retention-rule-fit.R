# Rules on the ladder of maximum likelihood fits with 0, 1, 2, ... factors.

judge_hull <- function(e) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  tried <- e$fits[e$fits$factors <= max(e$parallel$values$suggested + 1L, 2L) & e$fits$df > 0, ]
  # CFI is cut off at 1, and has no bend where the fit is perfect: the share of misfit taken away
  # has
  fit <- 1 - tried$discrepancy / tried$discrepancy[1L]
  found <- core_hull(fit, tried$df)
  table <- tibble::tibble(factors = tried$factors, df = tried$df, fit = fit, cfi = tried$cfi,
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

no_test_here <- function(e) sprintf("no test: %s", information_of(e$correlations)$why)
