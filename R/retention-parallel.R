#' How many factors stand above chance
#'
#' Unrelated items, too, give some eigenvalues above 1, the more so the fewer people there are.
#' Parallel analysis draws such chance eigenvalues many times, for as many people and items as there
#' are, and keeps the factors whose eigenvalues stand above what chance gives at the same rank.
#'
#' The chance matrices are drawn by Bartlett's decomposition, without drawing people: the cost does
#' not grow with `n`. Replicate i depends on `seed` and i alone, so the result does not depend on the
#' number of threads.
#'
#' @inheritParams assess_factorability
#' @param reference What an eigenvalue must exceed: `"upper"`, the upper percentile of the chance
#'   eigenvalues of its rank, or `"mean"`, their mean.
#' @param percentile The upper percentile, from 50 to 99.9.
#' @param replicates Number of chance matrices, at least 20.
#' @param seed A whole number; drawn from R's generator when `NULL`, so that [set.seed()] settles it.
#' @param threads Number of threads; all processors, but never more than eight, when `NULL`.
#' @return An object of class `parallel_analysis` ([softsieve-result]); `values` holds `eigenvalues`
#'   (tibble, one row for each rank: `rank`, `eigenvalue`, `share` of the variance, `running_share`,
#'   `chance_mean`, `chance_upper`, `above_chance`), `suggested` (how many to keep: the leading ranks
#'   above the reference, up to the first that is not) and `n`.
#' @section Errors: `softsieve_error_argument`, and those of [correlate_items()].
#' @references Horn, J. L. (1965). A rationale and test for the number of factors in factor analysis.
#'   *Psychometrika*, 30, 179-185.
#'
#'   Buja, A., & Eyuboglu, N. (1992). Remarks on parallel analysis. *Multivariate Behavioral
#'   Research*, 27, 509-540.
#'
#'   Bartlett, M. S. (1933). On the theory of statistical regression. *Proceedings of the Royal
#'   Society of Edinburgh*, 53, 260-283.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' parallel_analysis(motives, seed = 1)
#' @export
parallel_analysis <- function(x, ..., reference = c("upper", "mean"), percentile = 95, replicates = 1000L,
                              seed = NULL, threads = NULL) {
  call <- environment()
  reference <- check_choice(reference, "reference", methods_of("reference"))
  check_number(percentile, "percentile", 50, 99.9)
  replicates <- check_whole(replicates, "replicates", 20L, 1e6L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  x <- in_name_of(call, correlate_items(x, ...))
  r <- x$values$correlations
  p <- ncol(r)
  observed <- eigen(r, symmetric = TRUE, only.values = TRUE)$values
  chance <- with_progress("Chance eigenvalues", replicates, function(progress) {
    core_chance_eigenvalues(as.integer(x$values$n), p, replicates, seed, threads, progress)
  })
  levels <- core_chance_levels(chance, percentile)
  limit <- if (reference == "upper") levels$upper else levels$mean
  eigenvalues <- tibble::tibble(
    rank = seq_len(p), eigenvalue = observed, share = observed / p, running_share = cumsum(observed) / p,
    chance_mean = levels$mean, chance_upper = levels$upper, above_chance = observed > limit
  )
  values <- list(eigenvalues = eigenvalues, suggested = core_leading_above(observed, limit), n = x$values$n)
  settings <- c(x$settings, list(reference = reference, percentile = percentile, replicates = replicates, seed = seed))
  new_result("parallel_analysis", values, settings, find_in_parallel(values, limit), x$source, match.call())
}

#' @export
as_tibble.parallel_analysis <- function(x, ...) x$values$eigenvalues

#' @export
glance.parallel_analysis <- function(x, ...) {
  tibble::tibble(suggested = x$values$suggested, above_one = sum(x$values$eigenvalues$eigenvalue > 1), n = x$values$n,
                 replicates = x$settings$replicates, seed = x$settings$seed)
}

find_in_parallel <- function(values, limit) {
  k <- values$suggested
  e <- values$eigenvalues$eigenvalue
  above_one <- sum(e > 1)
  gap <- abs(e - limit)[seq_len(min(k + 1L, length(e)))]
  near <- which.min(gap)
  finding <- function(code, severity, text, ...) new_finding("retention", code, severity, text, ...)
  bind_findings(
    if (k == 0L) finding("no_factor", "serious", value = 0,
                         text = "No eigenvalue stands above chance: these items look unrelated, and there is nothing to extract."),
    if (above_one != k) finding("eigenvalue_one_differs", "note", value = above_one, limit = k,
                                text = sprintf("%s above 1, but unrelated items give such values too (the largest by chance is about %s).",
                                               if (above_one == 1) "1 eigenvalue is" else paste(above_one,
                                                   "eigenvalues are"),
                                               format_number(values$eigenvalues$chance_mean[1L]))),
    if (gap[near] < 0.02) finding("close_call", "caution", value = e[near], limit = limit[near],
                                  text = sprintf("Eigenvalue %d (%s) is within .02 of its chance level (%s): compare solutions with %d and %d factors.",
                                                 near, format_number(e[near], 3L), format_number(limit[near],
                                                     3L), near - 1L, near))
  )
}
