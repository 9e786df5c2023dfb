#' Extract principal components
#'
#' Components are weighted sums of the items that take up as much of their variance as can be, one
#' after the other. Unlike factors they make no difference between what items share and what is
#' theirs alone.
#'
#' @inheritParams extract_factors
#' @param components How many: a whole number, a share of the variance between 0 and 1 (as many as
#'   reach it), the name of a rule or `"probable"`, or what [parallel_analysis()] or
#'   [count_factors()] returned. For all of them give the number of items.
#' @param analyse `"correlations"` or `"covariances"`; `NULL` is covariances for those of kind
#' `"covariance"`.
#' @return An object of class `factor_solution` ([softsieve-factor-solution]) with components
#'   C1..Ck: loadings are eigenvectors times the roots of their eigenvalues, uniqueness is what the
#'   components leave of an item. [component_layers()] takes them apart one by one;
#'   [rotate_factors()] turns them.
#' @section Errors: `softsieve_error_factors` (with the numbers that are possible),
#'   `softsieve_error_argument`, and those of [correlate_items()]. A singular matrix is no trouble
#'   for a given number.
#' @section Findings: `different_units` (covariances of items whose standard deviations differ
#' much).
#' @eval describe_papers("Hotelling (1933)", "Jolliffe (2002)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' extract_components(motives, components = 4)
#' extract_components(motives, components = 0.5)$values$variance
#' @concept principal components cumulative variance
#' @export
extract_components <- function(x, components = "parallel", ..., analyse = NULL, seed = NULL,
    threads = NULL) {
  x <- as_correlations(x, ...)
  answers <- x$values$questionnaire
  analysed <- settle_analysed(analyse, x)
  s <- analysed_matrix(x, analysed)
  share <- is.numeric(components) &&
    length(components) == 1L &&
    is.finite(components) &&
    components > 0 &&
    components < 1
  chosen <- if (share) {
    list(k = core_components_for(s, components),
      by = sprintf("%s of the variance", format_share(components)))
  } else {
    settle_factors(components, x, ncol(s), "components", seed, threads)
  }
  found <- extract_by("components", s, chosen$k, 0)
  settings <- c(x$settings,
    list(method = "components", factors = chosen$k, factors_by = chosen$by, analysed = analysed,
      rotation = "none"))
  first <- list(first_by_chance = first_by_chance(x, analysed))
  wrap_extraction(x, found, first, settings,
    bind_findings(find_in_units(x$values$items, analysed, answers, "components")), match.call())
}

# The share of the variance that the first component of as many unrelated normal columns has: the
# mean of 200 draws (of more than 300 columns fewer, 20 at least), always the same. NA of
# covariances, and where correlations vary by more than those: of ordinal kinds, weighted people and
# clusters.
first_by_chance <- function(x, analysed) {
  p <- ncol(x$values$correlations)
  plain <- analysed == "correlations" && kind_is(x$settings$kind, "like_pearson") &&
    !isTRUE(x$settings$weighted) && !x_clustered(x)
  if (!plain || is.na(x$values$n) || x$values$n < 3 || p < 2L) return(NA_real_)
  drawn <- cpp_sample_eigenvalues(as.integer(x$values$n), p, matrix(0, 0L, 0L), "components", 0L,
    as.integer(max(20, min(200, 5e9 / p^3))), 1, 1L, NULL)
  mean(drawn[1L, ]) / p
}
