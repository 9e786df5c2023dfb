#' Extract factors
#'
#' Finds the loadings of `factors` common factors. The factors come unrotated: [rotate_factors()]
#' turns them to where they can be read. For components, [extract_components()].
#'
#' @inheritParams assess_factorability
#' @param factors How many: a whole number, `"probable"` (the number that [count_factors()] takes:
#'   the most probable one, less further factors that are wording, neighbours or a pair), the name
#'   of one of its rules ([catalogue_table()]; `"parallel"` is [parallel_analysis()]), or what
#'   one of these two functions returned.
#' @param method What the loadings make small, or reproduce:
#'   * `"minres"`: the residual correlations (minimum residuals, unweighted least squares); no
#'     normality is assumed;
#'   * `"ml"`: maximum likelihood of normal answers;
#'   * `"gls"`: residuals weighted by the inverse of the matrix;
#'   * `"wls"`: residual correlations weighted by one over their squared standard errors (for
#'     polychoric correlations, or Pearson ones of answers that are not normal);
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
#'   different places), `different_units`, `no_test` (why no test of fit is shown), `normal_theory`
#'   (the test takes the answers for normal and complete, as they are not known).
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
#' @section The test of k factors: One test of so many factors, and one RMSEA, CFI and TLI, for the
#'   same correlations, whichever method extracts (all but image, alpha, minimum rank and
#'   `principal_axis_once`), in every stage. Where the answers are known (Pearson, covariance or
#'   polychoric; pairwise, complete or EM; weights; 30 clusters or more; up to 70 items), it rests
#'   on how much each person's or cluster's answers move each correlation, with \eqn{G} the
#'   covariances of these moves, and needs no normality: n times the sum of squared residuals of
#'   least squares, adjusted in mean and variance
#' \deqn{\chi^2 = a T + df - a\, tr(UG), \quad a = \sqrt{df / tr (UG)^2}}{
#'   chi-square = a T + df - a tr(UG), a = sqrt(df / tr (UG)^2)}
#'   with \eqn{T} made smaller by a quarter of Bartlett's correction, and the variance by what a
#'   sample adds to it. Of more than 5,000 people, 5,000 from first to last give \eqn{G}. With
#'   Pearson correlations EM and pairwise deletion hold their level when answers are missing
#'   completely at random; under missing at random EM alone does.
#'   RMSEA, CFI and TLI estimate the misfit of the population under the likelihood's discrepancy
#'   \eqn{F}, with \eqn{U} that of maximum likelihood (Brosseau-Liard, Savalei & Li 2012; Savalei
#'   2021), also for polychoric correlations:
#' \deqn{RMSEA = \sqrt{\max(0, n F - tr(UG)) / (df\, n)}}{
#'   RMSEA = sqrt(max(0, n F - tr(UG)) / (df n))}
#'   with Bartlett's correction of F (squared for polychoric correlations; with weights and clusters
#'   once more, for the n of the correlations), limits (90 %) from the
#'   noncentrality of its adjusted chi-square, and `close_p` that of an RMSEA up to .05.
#'   With missing answers F is divided by 1 + 2.5g, under EM T by 1 + 4g and F by 1 + 5.5g, g being
#'   the mean over people of the share of their answers that is missing times the number that is
#'   there, over n: few people with missing answers vary more than the influences know. These
#'   numbers were found in samples of known populations.
#'   Of a matrix alone, complete normal answers are taken for granted, and a finding says so:
#'   Bartlett's chi-square of maximum likelihood, RMSEA from it, CFI and TLI from (n - 1) F. Where
#'   neither holds (Spearman and mixed correlations, few clusters, weighted counts) nothing is
#'   shown, and a finding says why. AIC (chi-square - 2 df) and BIC (chi-square - df ln n), of (n -
#'   1) F, are there for complete Pearson correlations alone. A CFI below .95 does not ask for more
#'   factors: adding factors until it is reached finds too many (the number is [count_factors()]'s
#'   question). SRMR is the root mean square of the residual correlations with the diagonal, RMSR
#'   without. How often true models are rejected: the article on validation
#'   (`bench/tests.csv`).
#' @eval describe_papers("Harman & Jones (1966)", "Harman & Fukuda (1966)", "Joreskog (1967)",
#'   "Joreskog & Goldberger (1972)", "Muthen (1984)", "Satorra & Bentler (1994)",
#'   "Asparouhov & Muthen (2010)", "Brosseau-Liard, Savalei & Li (2012)", "Savalei (2021)",
#'   "Savalei & Bentler (2009)", "Kaiser & Caffrey (1965)", "Guttman (1953)",
#'   "ten Berge & Kiers (1991)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' extract_factors(motives, factors = 4)
#' extract_factors(motives, factors = 4, method = "ml")$values$fit
#' extract_factors(motives, factors = "probable", analyse = "covariances", seed = 1)
#' @concept Heywood case
#' @export
extract_factors <- function(x, factors = "probable", ..., method = "minres", analyse = NULL,
    lowest_uniqueness = 0.005, starts = 5L, seed = NULL, threads = NULL) {
  asked <- settle_arguments(EXTRACT_TAKES)
  x <- as_correlations(x, ...)
  check_invertible(x)
  analysed <- settle_analysed(analyse, x)
  chosen <- settle_factors(factors, x, core_most_factors(ncol(x$values$correlations)), "factors",
    seed, threads)
  extract_number(x, chosen, method, analysed, lowest_uniqueness, asked$starts,
    settle_threads(threads), match.call())
}

EXTRACT_TAKES <- list(
  method = a_text("How factors are extracted", function() names(EXTRACTIONS),
    check = function(x, name) check_choice(x, name, factor_methods())),
  analyse = a_text("Correlations, or covariances of the items", c("correlations", "covariances"),
    setting = "analysed", check = NULL),
  lowest_uniqueness = a_number("The least share of an item that is its own", 0, 0.5),
  starts = a_whole("Random starts of the extraction", 0, 100, entry = "extraction_starts",
    setting = "extraction_starts"))

# Extraction of a number that is settled; `threads` 0: without the test of fit, as draws want it.
extract_number <- function(x, chosen, method, analysed, lowest_uniqueness, starts, threads,
    made_by = NULL) {
  answers <- x$values$questionnaire
  weights <- if (EXTRACTIONS[[method]]$weights) weights_of_correlations(x, analysed)
  found <- extract_by(method, analysed_matrix(x, analysed), chosen$k, lowest_uniqueness, starts,
    weights)
  check_extracted(found$loadings, method)
  settings <- c(x$settings,
    list(method = method, factors = chosen$k, factors_by = chosen$by, analysed = analysed,
      lowest_uniqueness = lowest_uniqueness, extraction_starts = starts, rotation = "none"))
  tested <- if (threads > 0L) test_of_fit(x, chosen$k, method, threads)
  findings <- bind_findings(
    find_in_extraction(found, x$values$items, analysed, lowest_uniqueness, method), tested$finding,
    find_in_units(x$values$items, analysed, answers, method))
  wrap_extraction(x, found, tested$measures, settings, findings, made_by)
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
    measures)
  extracted <- list(items = items, correlations = r, item_correlations = x, n = x$values$n,
    people = x$values$people, key = key_of(items_behind(x)), unrotated = turned$loadings,
    fit = tibble::as_tibble(fit), residual_pairs = largest_residuals(r, reproduced),
    source = x$source)
  turned[c("correlations", "transformation")] <- list(identity)
  findings <- bind_findings(findings_that_travel(x$findings), findings)
  new_factor_solution(extracted, turned, NULL, settings, findings, call)
}

# The pairs that the factors reproduce worst.
largest_residuals <- function(r, reproduced, most = 10L) {
  pair <- which(upper.tri(r), arr.ind = TRUE)
  residual <- (r - reproduced)[pair]
  top <- utils::head(order(-abs(residual)), most)
  tibble_of(item = rownames(r)[pair[top, 1L]], with = colnames(r)[pair[top, 2L]],
    observed = r[pair][top], reproduced = reproduced[pair][top], residual = residual[top])
}

# Methods that work through a reduced matrix give out when it has fewer than k positive eigenvalues.
check_extracted <- function(loadings, method) {
  empty <- sum(colSums(loadings^2) < 1e-10)
  if (!empty) return(invisible())
  stop_input("factors", "Every factor must explain something.",
    got = sprintf("%s finds %s of the %d empty.", capitalise(EXTRACTIONS[[method]]$label),
      count_of(empty, "factor"), ncol(loadings)),
    todo = "Take fewer factors, or another method.")
}

# How well an extraction fits: the measures of so many factors (correlation-fit.R) for methods that
# fit a model, whichever it is.
test_of_fit <- function(x, k, method, threads) {
  if (!EXTRACTIONS[[method]]$tested) return(list())
  fit_of_factors(x, k, threads)
}
