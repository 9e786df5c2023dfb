#' Extract factors
#'
#' Finds the loadings of `factors` common factors. The factors come unrotated: [rotate_factors()]
#' turns them to where they can be read. For components, [extract_components()].
#'
#' @inheritParams assess_factorability
#' @param factors How many: a whole number, `"probable"` (the most probable number,
#'   [count_factors()]), the name of one of its rules ([retention_rule_table()]; `"parallel"` is
#'   [parallel_analysis()]), or what one of these two functions returned (then parallel analysis's
#'   number is taken).
#' @param method What the loadings make small, or reproduce:
#'   * `"minres"`: the residual correlations (minimum residuals, unweighted least squares); no
#'     normality is assumed;
#'   * `"ml"`: maximum likelihood of normal answers, with chi-square and all measures of fit;
#'   * `"gls"`: residuals weighted by the inverse of the matrix, with the same measures;
#'   * `"wls"`: residual correlations weighted by one over their squared standard errors (for
#'     polychoric correlations, or Pearson ones of answers that are not normal), with an adjusted
#'     chi-square;
#'   * `"principal_axis"`: eigenvectors of the matrix with communalities on its diagonal, repeated
#'     until they reproduce themselves (it ends where minres does, also where a uniqueness is at its
#'     bound); `"principal_axis_once"`: one step from squared multiple correlations;
#'   * `"alpha"`: factors of the greatest alpha; `"image"`: of what other items predict;
#'   * `"minimum_rank"`: the least common variance left unexplained.
#' @param analyse `"correlations"` or `"covariances"`; `NULL` is covariances for those of kind
#'   `"covariance"`. Maximum likelihood, generalised least squares, alpha and image find the same
#'   factors either way; the others let items with more variance pull harder. Loadings are shown for
#'   items of variance 1 all the same; those in the items' units stand in `values$raw_loadings`.
#' @param lowest_uniqueness Bound below which no uniqueness may fall, as a share of the item's
#'   variance, from 0 to 0.5.
#' @param starts How many random starts, from 0 to 100, `"minres"`, `"ml"`, `"gls"` and `"wls"` make
#'   at first, beside the usual one, the end of another method and the solution with one factor
#'   less, to see whether all end in the same place; where they do not, a uniqueness is at its
#'   bound, or the last factor is hardly larger than what is left, up to 250 searches are made. All
#'   starts are always the same ones. 0: a single search.
#' @param seed,threads For `factors` found by a rule, passed on.
#' @return An object of class `factor_solution` ([softsieve-factor-solution]).
#' @section Errors: `softsieve_error_factors` (too few or too many, with the numbers that are
#'   possible; or none above chance), `softsieve_error_identical_items`,
#'   `softsieve_error_too_few_people`, `softsieve_error_singular` (with the items that follow from
#'   others), `softsieve_error_argument`, and those of [correlate_items()].
#' @section Findings: `improper_solution` (a uniqueness at its bound; the item is named, with
#'   remedies), `fitted_variance` (maximum likelihood and generalised least squares give such an
#'   item another variance than was observed), `not_converged`, `starts_apart` (searches ended in
#'   different places), `different_units`, `no_adjusted_test` (why weighted least squares come
#'   without a test).
#' @section Formulas:
#' With \eqn{S = LL' + \Psi}{S = LL' + Psi} fitted to the correlations \eqn{R}, each method makes as
#' small as it can:
#'
#' Minimum residuals (each pair counts twice, above and below the diagonal)
#' \deqn{\sum_{i \ne j} (r_{ij} - s_{ij})^2}{sum over i != j of (r_ij - s_ij)^2}
#' Maximum likelihood
#' \deqn{F = \ln |S| - \ln |R| + tr(R S^{-1}) - p}{F = ln |S| - ln |R| + tr(R S^-1) - p}
#' Generalised least squares
#' \deqn{F = tr (I - R^{-1} S)^2 / 2}{F = tr (I - R^-1 S)^2 / 2}
#' Weighted least squares, with standard errors of the correlations
#' \deqn{\sum_{i < j} (r_{ij} - s_{ij})^2 / se_{ij}^2}{sum over i < j of (r_ij - s_ij)^2 / se_ij^2}
#' Image, with \eqn{U^2 = 1/r^{ii}} and eigenvalues \eqn{\lambda}{lambda} and vectors \eqn{q} of
#' \eqn{U^{-1} R U^{-1}}{U^-1 R U^-1}
#' \deqn{L = U q (\lambda - 1) / \sqrt{\lambda}}{L = U q (lambda - 1) / sqrt(lambda)}
#'
#' `values$fit$discrepancy` is the minimum, in the units analysed. Searches go by Newton steps on
#'   the
#' uniquenesses with exact second derivatives, from several kinds of start (1 - squared multiple
#' correlations first), and where these give out by a bounded quasi-Newton search, to a gradient
#' below 1e-8. No uniqueness falls below its bound; under minres, wls, principal_axis and alpha the
#' communality is held with it (Harman & Fukuda 1966), so that the two add up to the item's
#'   variance.
#'
#' Fit of ml and gls, with \eqn{df = ((p - k)^2 - p - k) / 2}: chi-square, and `corrected`
#' (Bartlett's) with its `p`
#' \deqn{\chi^2 = (n - 1) F}{chi-square = (n - 1) F}
#' \deqn{\chi^2_c = (n - 1 - (2p + 5)/6 - 2k/3) F}{corrected = (n - 1 - (2p + 5)/6 - 2k/3) F}
#' RMSEA, its 90 % interval from the noncentral chi-square and `close_p`, that of RMSEA up to .05
#' \deqn{RMSEA = \sqrt{\max(0, \chi^2_c - df) / (df (n - 1))}}{
#'   RMSEA = sqrt(max(0, corrected - df) / (df (n - 1)))}
#' AIC and BIC; CFI and TLI are against no factor
#' \deqn{AIC = \chi^2 - 2 df, \quad BIC = \chi^2 - df \ln n}{
#'   AIC = chi-square - 2 df, BIC = chi-square - df ln n}
#' Of wls, with \eqn{G} the covariances of the correlations from the answers themselves
#' \deqn{\chi^2 = a T + df - a\, tr(UG), \quad T = \sum (r - s)^2 / se^2, \quad a = \sqrt{df / tr
#'   (UG)^2}}{
#'   chi-square = a T + df - a tr(UG), T = sum (r - s)^2 / se^2, a = sqrt(df / tr (UG)^2)}
#' p, RMSEA, CFI and TLI rest on it, and there is no AIC or BIC. It needs the answers (not a matrix
#' alone), without weights, Pearson or polychoric correlations, and no more than 70 items. SRMR is
#'   the
#' root mean square of the residual correlations with the diagonal, RMSR without.
#' @references Harman, H. H., & Jones, W. H. (1966). Factor analysis by minimizing residuals
#'   (minres). *Psychometrika*, 31, 351-368.
#'
#'   Harman, H. H., & Fukuda, Y. (1966). Resolution of the Heywood case in the minres
#'   solution. *Psychometrika*, 31, 563-571.
#'
#'   Joreskog, K. G. (1967). Some contributions to maximum likelihood factor analysis.
#'   *Psychometrika*, 32, 443-482.
#'
#'   Joreskog, K. G., & Goldberger, A. S. (1972). Factor analysis by generalized least squares.
#'   *Psychometrika*, 37, 243-260.
#'
#'   Muthen, B. (1984). A general structural equation model with dichotomous, ordered categorical,
#'   and continuous latent variable indicators. *Psychometrika*, 49, 115-132.
#'
#'   Satorra, A., & Bentler, P. M. (1994). Corrections to test statistics and standard errors in
#'   covariance structure analysis. In A. von Eye & C. C. Clogg (Eds.), *Latent variables analysis*
#'   (pp. 399-419). Sage.
#'
#'   Kaiser, H. F., & Caffrey, J. (1965). Alpha factor analysis. *Psychometrika*, 30, 1-14.
#'
#'   Guttman, L. (1953). Image theory for the structure of quantitative variates. *Psychometrika*,
#'   18, 277-296.
#'
#'   ten Berge, J. M. F., & Kiers, H. A. L. (1991). A numerical approach to the approximate and the
#'   exact minimum rank of a covariance matrix. *Psychometrika*, 56, 309-315.
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' extract_factors(motives, factors = 4)
#' extract_factors(motives, factors = 4, method = "ml")$values$fit
#' extract_factors(motives, factors = "probable", analyse = "covariances", seed = 1)
#' @srrstats {UL4.0} a class of its own
#' @export
extract_factors <- function(
  x,
  factors = "parallel",
  ...,
  method = "minres",
  analyse = NULL,
  lowest_uniqueness = 0.005,
  starts = 5L,
  seed = NULL,
  threads = NULL
) {
  call <- environment()
  method <- check_choice(method, "method", factor_methods())
  check_number(lowest_uniqueness, "lowest_uniqueness", 0, 0.5)
  starts <- check_whole(starts, "starts", 0L, 100L)
  x <- as_correlations(x, ..., call = call)
  answers <- x$values$questionnaire
  check_invertible(x, call)
  analysed <- settle_analysed(analyse, x, call)
  weights <- if (spec_of("extraction", method)$weights) weights_of_correlations(x, analysed, call)
  chosen <- settle_factors(
    factors,
    x,
    core_most_factors(ncol(x$values$correlations)),
    "factors",
    seed,
    threads,
    call
  )
  found <- extract_by(
    method,
    analysed_matrix(x, analysed),
    chosen$k,
    lowest_uniqueness,
    starts,
    weights
  )
  check_extracted(found$loadings, method, call)
  settings <- c(
    x$settings,
    list(
      method = method,
      factors = chosen$k,
      factors_by = chosen$by,
      analysed = analysed,
      lowest_uniqueness = lowest_uniqueness,
      extraction_starts = starts,
      rotation = "none"
    )
  )
  tested <- test_of_fit(x, answers, found, chosen$k, method)
  findings <- bind_findings(
    find_in_extraction(found, x$values$items, analysed, lowest_uniqueness, method),
    tested$finding,
    find_in_units(x$values$items, analysed, answers, method)
  )
  wrap_extraction(x, found, tested$measures, settings, findings, match.call())
}

# What the core found, in the units analysed, as a solution that is not rotated yet.
wrap_extraction <- function(x, found, measures, settings, findings, call) {
  items <- x$values$items[c("item", "wording", "scale", "reversed", "mean", "sd")]
  r <- x$values$correlations
  k <- ncol(found$loadings)
  items$loading_unit <- fitted_units(found, observed_units(items, settings), settings)
  unit <- units_of(items, settings)
  items$start_communality <- if (x$values$smallest_eigenvalue > 1e-10) {
    unname(core_squared_multiple(r))
  } else {
    NA_real_
  }
  items$uniqueness <- unname(found$uniquenesses / unit^2)
  identity <- diag(k)
  turned <- core_order_and_reflect(found$loadings / unit, identity, identity, unit)
  own <- items$loading_unit
  reproduced <- core_reproduced(turned$loadings * own, identity, items$uniqueness * own^2)
  fit <- c(
    list(df = if (one_of_model(settings) == "factor") {
      core_degrees_of_freedom(nrow(r), k)
    } else {
      NA_real_
    }),
    core_residual_sizes(r - reproduced),
    found[c("discrepancy", "iterations", "gradient", "converged", "starts", "apart")],
    measures
  )
  extracted <- list(
    items = items,
    correlations = r,
    item_correlations = x,
    n = x$values$n,
    people = x$values$people,
    key = key_of(items_behind(x)),
    unrotated = turned$loadings,
    fit = tibble::as_tibble(fit),
    residual_pairs = largest_residuals(r, reproduced),
    source = x$source
  )
  turned[c("correlations", "transformation")] <- list(identity)
  findings <- bind_findings(findings_that_travel(x$findings), findings)
  new_factor_solution(extracted, turned, NULL, settings, findings, call)
}

# The pairs that the factors reproduce worst.
largest_residuals <- function(r, reproduced, most = 10L) {
  pair <- which(upper.tri(r), arr.ind = TRUE)
  residual <- (r - reproduced)[pair]
  top <- utils::head(order(-abs(residual)), most)
  tibble::tibble(
    item = rownames(r)[pair[top, 1L]],
    with = colnames(r)[pair[top, 2L]],
    observed = r[pair][top],
    reproduced = reproduced[pair][top],
    residual = residual[top]
  )
}

# Methods that work through a reduced matrix give out when it has fewer than k positive eigenvalues.
check_extracted <- function(loadings, method, call) {
  empty <- sum(colSums(loadings^2) < 1e-10)
  if (!empty) return(invisible())
  stop_input(
    "factors",
    "Every factor must explain something.",
    got = sprintf(
      "%s finds %s of the %d empty.",
      capitalise(method_label("extraction", method)),
      count_of(empty, "factor"),
      ncol(loadings)
    ),
    todo = "Take fewer factors, or another method.",
    call = call
  )
}
