# Rules on the ladder of maximum likelihood fits with 0, 1, 2, ... factors.

RULE_HULL <- spec(
  name = "hull",
  label = "hull",
  order = 9,
  reference = "Lorenzo-Seva, Timmerman & Kiers (2011)",
  pearson = FALSE,
  misleads = "Blind to factors that add little to fit; cannot suggest 0.",
  judge = function(e) {
    if (!is.null(refused <- needs_fits(e))) return(refused)
    tried <- e$fits[e$fits$factors <= max(e$parallel$values$suggested + 1L, 2L) & e$fits$df > 0, ]
    # CFI is cut off at 1, and has no bend where the fit is perfect: the share of misfit taken away
    # has
    fit <- 1 - tried$discrepancy / tried$discrepancy[1L]
    found <- core_hull(fit, tried$df)
    table <- tibble::tibble(factors = tried$factors, df = tried$df, fit = fit, cfi = tried$cfi,
      on_hull = found$on_hull, bend = found$st)
    if (all(is.na(found$st))) {
      return(list(suggested = NA_integer_,
        reason = "fewer than three solutions on the hull",
        table = table))
    }
    at <- which.max(found$st)
    list(suggested = tried$factors[at], table = table,
      reason = sprintf("sharpest bend: %s of misfit gone", format_share(fit[at], 1L)))
  })

RULE_LIKELIHOOD <- spec(name = "likelihood_ratio", label = "sequential test of fit", order = 10,
  reference = "Lawley (1940)", pearson = FALSE,
  misleads = "Too many factors with many people: it asks for a model that holds exactly.",
  judge = function(e) {
    if (!is.null(refused <- needs_fits(e))) return(refused)
    fits <- e$fits[c("factors", "df", "chi_square", "p")]
    if (all(is.na(fits$p))) return(silent_rule(no_test_here(e)))
    first_that(fits, !is.na(fits$p) & fits$p > 0.05,
      function(at) sprintf("first not rejected: %s", format_p(fits$p[at])),
      sprintf("rejected up to %d", max(fits$factors)))
  })

RULE_RMSEA <- spec(name = "rmsea_lower", label = "RMSEA lower limit", order = 11,
  reference = "Preacher, Zhang, Kim & Mels (2013)",
  pearson = FALSE,
  misleads = paste(
    "Too few factors when the factors left out are small: close fit is not exact fit.",
    "In small samples the limit is low whatever the number."),
  judge = function(e) {
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
  })

RULE_BIC <- spec(name = "bic", label = "BIC", order = 12, reference = "Schwarz (1978)",
  pearson = TRUE,
  misleads = paste("Too few factors in small samples, too many in very large ones when the model",
    "only nears the population."),
  judge = function(e) {
    if (!is.null(refused <- needs_fits(e))) return(refused)
    at <- which.min(e$fits$bic)
    list(suggested = e$fits$factors[at],
      table = e$fits[c("factors", "df", "discrepancy", "bic")],
      reason = sprintf("smallest: %s", format_number(e$fits$bic[at], 0L)))
  })

no_test_here <- function(e) sprintf("no test: %s", information_of(e$correlations)$why)
