#' Extract factors
#'
#' Finds the loadings of `factors` common factors that leave the smallest residual correlations
#' (minimum residuals, also called unweighted least squares). No normality is assumed. The factors
#' come unrotated: [rotate_factors()] turns them to where they can be read.
#'
#' @inheritParams assess_factorability
#' @param factors How many: a whole number, `"parallel"` (what [parallel_analysis()] suggests),
#'   `"probable"` (the most probable number, [count_factors()]), or what one of these two functions
#'   returned (then parallel analysis's number is taken).
#' @param method `"minres"`.
#' @param lowest_uniqueness Bound below which no uniqueness may fall, from 0 to 0.5.
#' @param seed,threads For `factors = "parallel"` and `"probable"`, passed on.
#' @return An object of class `factor_solution` ([softsieve-factor-solution]).
#' @section Errors: `softsieve_error_factors` (too few or too many, with the numbers that are
#'   possible; or none above chance), `softsieve_error_identical_items`,
#'   `softsieve_error_too_few_people`, `softsieve_error_singular`, and those of [correlate_items()].
#' @section Findings: `improper_solution` (a uniqueness at its bound; the item is named),
#'   `not_converged`, `low_communality`.
#' @section Formula: Minimises the sum of squared off-diagonal elements of R - LL', by Newton steps on
#'   the uniquenesses with exact second derivatives, from 1 - squared multiple correlations.
#' @references Harman, H. H., & Jones, W. H. (1966). Factor analysis by minimizing residuals
#'   (minres). *Psychometrika*, 31, 351-368.
#'
#'   Joreskog, K. G., & Goldberger, A. S. (1972). Factor analysis by generalized least squares.
#'   *Psychometrika*, 37, 243-260.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' extract_factors(motives, factors = 4)
#' @export
extract_factors <- function(x, factors = "parallel", ..., method = "minres", lowest_uniqueness = 0.005, seed = NULL,
                            threads = NULL) {
  call <- environment()
  method <- check_choice(method, "method", methods_of("extraction"))
  check_number(lowest_uniqueness, "lowest_uniqueness", 0, 0.5)
  x <- in_name_of(call, correlate_items(x, ...))
  check_invertible(x, call)
  chosen <- settle_factors(factors, x, seed, threads, call)
  r <- x$values$correlations
  smc <- core_squared_multiple(r)
  fit <- core_fit_uniquenesses(r, chosen$k, method, 1 - smc, lowest_uniqueness, tolerance = 1e-9, max_iterations = 200L)
  identity <- diag(chosen$k)
  turned <- core_order_and_reflect(fit$loadings, identity, identity)
  settings <- c(x$settings, list(method = method, factors = chosen$k, factors_by = chosen$by,
                                 lowest_uniqueness = lowest_uniqueness,
                                 rotation = "none"))
  search <- list(iterations = fit$iterations, gradient = fit$gradient, converged = fit$converged)
  findings <- find_in_extraction(fit, x$values$items$item, lowest_uniqueness)
  new_factor_solution(x, turned$loadings, identity, identity, turned$loadings, fit$uniquenesses, smc, search, NULL,
                      settings,
                      findings, match.call())
}

# The number of factors and where it comes from.
settle_factors <- function(factors, x, seed, threads, call) {
  most <- core_most_factors(ncol(x$values$correlations))
  by <- "given"
  if (identical(factors, "parallel")) factors <- in_name_of(call, parallel_analysis(x, seed = seed, threads = threads))
  if (identical(factors, "probable")) {
    factors <- in_name_of(call, count_factors(x, rules = "parallel", seed = seed, threads = threads))
    by <- "the most probable number"
  }
  if (inherits(factors, c("parallel_analysis", "factor_count"))) {
    if (!identical(factors$source$items, x$source$items)) {
      stop_input("factors", "The number of factors must have been found on the same items.", got = "It was found on other items.",
                 todo = "Run count_factors() or parallel_analysis() on these items.", call = call)
    }
    if (by == "given") by <- "parallel analysis"
    # where the model does not apply, the probable number is that of parallel analysis
    if (by != "parallel analysis" && length(factors$values$outside)) by <- "parallel analysis, as probabilities do not apply"
    k <- if (by == "the most probable number") factors$values$probable else factors$values$suggested
    if (k == 0L) {
      stop_input("factors", "At least one factor must stand above chance to be extracted.",
                 got = if (by == "the most probable number") "The most probable number is 0." else "Parallel analysis suggests 0 factors.",
                 todo = c("Look at the items with assess_factorability().",
                          "If theory asks for a factor, give factors = 1 and say so."), call = call)
    }
    factors <- min(k, max(most, 1L))
  }
  list(k = check_factors(factors, most, ncol(x$values$correlations), call), by = by)
}

check_factors <- function(factors, most, p, call) {
  whole <- is.numeric(factors) && length(factors) == 1L && is.finite(factors) && factors == round(factors)
  if (whole && factors >= 1 && factors <= most) return(as.integer(factors))
  possible <- if (most < 1L) sprintf("%s allow no factor: at least three items are needed.", count_of(p, "item")) else
    sprintf("%s allow 1 to %d.", count_of(p, "item"), most)
  got <- if (whole && factors > most) sprintf("%s came, for %s.", count_of(factors, "factor"), count_of(p, "item")) else
    describe_value(factors)
  stop_input("factors", "`factors` must be a whole number that leaves degrees of freedom, \"parallel\" or \"probable\".",
             got = got, todo = possible, call = call)
}

find_in_extraction <- function(fit, items, lowest) {
  bound <- items[fit$uniquenesses <= lowest + 1e-8]
  finding <- function(code, severity, text, ...) new_finding("extraction", code, severity, text, ...)
  bind_findings(
    if (!fit$converged) finding("not_converged", "serious", value = fit$gradient, limit = 1e-9,
                                text = sprintf("Extraction stopped after %s with a gradient of %s: do not trust this solution; try fewer factors.",
                                               count_of(fit$iterations, "step"), format(fit$gradient, digits = 2L))),
    if (length(bound)) finding("improper_solution", "serious", item = bound, value = lowest, limit = lowest,
                               text = sprintf("%s has its uniqueness at the bound (%s): too many factors, too few people, or a near copy of another item.",
                                              bound, format(lowest)))
  )
}
