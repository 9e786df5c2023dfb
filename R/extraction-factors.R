#' Extract factors
#'
#' Finds the loadings of `factors` common factors. The factors come unrotated: [rotate_factors()] turns them
#' to where they can be read.
#'
#' @inheritParams assess_factorability
#' @param factors How many: a whole number, `"parallel"` (what [parallel_analysis()] suggests),
#'   `"probable"` (the most probable number, [count_factors()]), or what one of these two functions
#'   returned (then parallel analysis's number is taken).
#' @param method What the loadings make small, or reproduce:
#'   * `"minres"`: the residual correlations (minimum residuals, unweighted least squares); no normality is
#'     assumed;
#'   * `"ml"`: maximum likelihood of normal answers, with chi-square and all measures of fit;
#'   * `"gls"`: residuals weighted by the inverse of the matrix, with the same measures;
#'   * `"principal_axis"`: eigenvectors of the matrix with communalities on its diagonal, repeated until they
#'     reproduce themselves (it ends where minres does); `"principal_axis_once"`: one step from squared
#'     multiple correlations;
#'   * `"alpha"`: factors of the greatest alpha; `"image"`: of what other items predict;
#'   * `"minimum_rank"`: the least common variance left unexplained.
#' @param lowest_uniqueness Bound below which no uniqueness may fall, from 0 to 0.5.
#' @param seed,threads For `factors = "parallel"` and `"probable"`, passed on.
#' @return An object of class `factor_solution` ([softsieve-factor-solution]).
#' @section Errors: `softsieve_error_factors` (too few or too many, with the numbers that are
#'   possible; or none above chance), `softsieve_error_identical_items`,
#'   `softsieve_error_too_few_people`, `softsieve_error_singular`, and those of [correlate_items()].
#' @section Findings: `improper_solution` (a uniqueness at its bound; the item is named),
#'   `not_converged`, `low_communality`.
#' @section Formulas: With S = LL' + Psi: minres minimises the sum of squared off-diagonal elements of R -
#'   LL', ml ln |S| - ln |R| + tr R S^-1 - p, gls 1/2 tr (I - R^-1 S)^2, all three by Newton steps on the
#'   uniquenesses with exact second derivatives, from 1 - squared multiple correlations. Image: loadings U q
#'   (lambda - 1) / sqrt(lambda) with lambda, q of U^-1 R U^-1, U^2 = 1/r^ii. Fit (ml, gls): chi-square = (n -
#'   1) F; `corrected` (n - 1 - (2p + 5)/6 - 2k/3) F with its `p`; RMSEA = sqrt(max(0, chi-square - df) / (df (n
#'   - 1))), its 90 % interval from the noncentral chi-square and `close_p`, that of RMSEA up to .05; CFI and
#'   TLI against no factor; AIC = chi-square - 2 df, BIC = chi-square - df ln n.
#' @references Harman, H. H., & Jones, W. H. (1966). Factor analysis by minimizing residuals
#'   (minres). *Psychometrika*, 31, 351-368.
#'
#'   Joreskog, K. G. (1967). Some contributions to maximum likelihood factor analysis. *Psychometrika*, 32,
#'   443-482.
#'
#'   Joreskog, K. G., & Goldberger, A. S. (1972). Factor analysis by generalized least squares.
#'   *Psychometrika*, 37, 243-260.
#'
#'   Kaiser, H. F., & Caffrey, J. (1965). Alpha factor analysis. *Psychometrika*, 30, 1-14.
#'
#'   Guttman, L. (1953). Image theory for the structure of quantitative variates. *Psychometrika*, 18,
#'   277-296.
#'
#'   ten Berge, J. M. F., & Kiers, H. A. L. (1991). A numerical approach to the approximate and the exact
#'   minimum rank of a covariance matrix. *Psychometrika*, 56, 309-315.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' extract_factors(motives, factors = 4)
#' extract_factors(motives, factors = 4, method = "ml")$values$fit
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
  fit <- core_extract(r, chosen$k, method, lowest_uniqueness)
  check_extracted(fit$loadings, method, call)
  identity <- diag(chosen$k)
  turned <- core_order_and_reflect(fit$loadings, identity, identity)
  settings <- c(x$settings, list(method = method, factors = chosen$k, factors_by = chosen$by,
                                 lowest_uniqueness = lowest_uniqueness,
                                 rotation = "none"))
  search <- c(list(iterations = fit$iterations, gradient = fit$gradient, converged = fit$converged),
              measures_of_fit(r, chosen$k, method, fit$discrepancy, x$values$n))
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

# Where the discrepancy is that of a test: maximum likelihood and generalised least squares.
measures_of_fit <- function(r, k, method, discrepancy, n) {
  if (!method %in% c("ml", "gls")) return(list())
  none <- core_fit_uniquenesses(r, 0L, method, rep(1, ncol(r)), 0.005, 1e-9, 100L)$discrepancy
  core_fit_measures(discrepancy, none, ncol(r), k, n)
}

# Methods that work through a reduced matrix give out when it has fewer than k positive eigenvalues.
check_extracted <- function(loadings, method, call) {
  empty <- sum(colSums(loadings^2) < 1e-10)
  if (!empty) return(invisible())
  stop_input("factors", "Every factor must explain something.",
             got = sprintf("%s finds %s of the %d empty.", capitalise(method_label("extraction", method)),
                           count_of(empty, "factor"), ncol(loadings)),
             todo = "Take fewer factors, or another method.", call = call)
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
