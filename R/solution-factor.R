#' Factor a questionnaire in one call
#'
#' Chains [correlate_items()], [parallel_analysis()], [extract_factors()] (or [extract_components()]) and
#' [rotate_factors()], and nothing else: the same calls by hand, with the same seed, give the same numbers.
#'
#' @inheritParams extract_factors
#' @param method As in [extract_factors()], or `"components"`.
#' @param ... Passed on to [correlate_items()]: `missing`, `n`.
#' @param rotation,starts Passed on to [rotate_factors()].
#' @param seed A whole number; parallel analysis and rotation both use it.
#' @param threads Number of threads ([parallel_analysis()]).
#' @return An object of class `factor_solution` ([softsieve-factor-solution]).
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' factor_solution(motives, seed = 1)
#' @export
factor_solution <- function(x, factors = "parallel", ..., method = "minres", rotation = "oblimin", starts = 100L,
                            seed = NULL,
                            threads = NULL) {
  seed <- settle_seed(seed)
  call <- environment()
  solution <- in_name_of(call, {
    correlations <- correlate_items(x, ...)
    extracted <- if (identical(method, "components")) extract_components(correlations, factors, seed = seed, threads = threads) else
      extract_factors(correlations, factors, method = method, seed = seed, threads = threads)
    rotate_factors(extracted, rotation, starts = starts, seed = seed, threads = threads)
  })
  solution$call <- match.call()
  solution
}
