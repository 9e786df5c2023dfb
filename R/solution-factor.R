#' Factor a questionnaire in one call
#'
#' Chains [correlate_items()], [extract_factors()] (or [extract_components()]), which finds the
#' number of factors where a rule is named, and [rotate_factors()], and nothing else: the same calls
#' by hand, with the same seed, give the same numbers.
#'
#' @inheritParams extract_factors
#' @param method As in [extract_factors()], or `"components"`.
#' @param ... Passed on, by their names: to [correlate_items()] `kind`, `missing`, `repair`,
#'   `continuous_from`, `n`; to the extraction `analyse`, `lowest_uniqueness` and
#'   `extraction_starts` (its `starts`); to [rotate_factors()] `oblique`, `gamma`, `kappa`, `delta`,
#'   `power`, `zeros`, `target`, `normalization`, `optimum`.
#' @param rotation,starts Passed on to [rotate_factors()].
#' @param by Group columns, bare or in quotes: then there is a solution for each
#'   group, aligned to that of everybody ([softsieve-group-solutions]).
#' @param replicates With `by`: how many times people are resampled in each group for limits, from
#'   20 on, or 0 for none.
#' @param seed A whole number; the rule for the number of factors and the rotation both use it.
#' @param threads Number of threads.
#' @return An object of class `factor_solution` ([softsieve-factor-solution]); with `by` one of
#'   class `group_solutions` ([softsieve-group-solutions]).
#' @section Errors: `softsieve_error_argument` (a name that no stage knows), and those of the
#' stages.
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' factor_solution(motives, seed = 1)
#' factor_solution(motives, 4, kind = "polychoric", rotation = "geomin", delta = 0.001, seed = 1)
#' factor_solution(motives, 4, by = cafe, replicates = 100, seed = 1)
#' @export
factor_solution <- function(x,
    factors = if (identical(method, "components")) "parallel" else "probable", ...,
    method = "minres", rotation = "oblimin", starts = 100L, by = NULL, replicates = 500L,
    seed = NULL, threads = NULL) {
  by <- settle_by(rlang::enquo(by), x)
  if (!identical(replicates, 0L) && !identical(replicates, 0)) {
    replicates <- check_whole(replicates, "replicates", 20L, 1e6L)
  }
  seed <- settle_seed(seed)
  asked <- sort_by_stage(list(...), x, method)
  drawn <- list(seed = seed, threads = threads)
  correlations <- call_with(as_correlations, c(list(x, threads = threads), asked$correlate))
  first <- c(list(correlations, factors), drawn)
  extracted <- if (identical(method, "components")) {
    call_with(extract_components, c(first, asked$extract))
  } else {
    call_with(extract_factors, c(first, list(method = method), asked$extract))
  }
  solution <- call_with(rotate_factors,
    c(list(extracted, rotation, starts = starts), drawn, asked$rotate))
  solution$call <- match.call()
  if (is.null(by)) return(solution)
  solve_groups(solution, by, replicates, seed, threads, match.call())
}

# Which stage each further argument is for, by the stages' own arguments.
sort_by_stage <- function(dots, x, method) {
  own <- c("x", "...", "solution", "factors", "components", "method", "rotation", "starts", "seed",
    "threads", "by", "replicates")
  known <- function(f) setdiff(names(formals(f)), own)
  matrix <- !is_questionnaire(x) && (!is.data.frame(x) || !is.null(matrix_in_frame(x)))
  stages <- list(
    correlate = known(if (matrix) correlate_items.matrix else correlate_items.questionnaire),
    extract = c(
      known(if (identical(method, "components")) extract_components else extract_factors),
      if (!identical(method, "components")) "extraction_starts"),
    rotate = c(known(rotate_factors), names(parameters_of(ROTATIONS))))
  all <- unlist(stages, use.names = FALSE)
  wrong <- if (is.null(names(dots))) {
    rep("an argument without a name", length(dots))
  } else {
    setdiff(names(dots), all)
  }
  if (length(wrong)) {
    stop_input("argument", "Every argument must be one that a stage knows.",
      got = sprintf("Not known here: %s.", name_culprits(wrong)),
      todo = c(hint_nearest(wrong[1L], all), sprintf("Known: %s.", paste(all, collapse = ", "))))
  }
  sorted <- lapply(stages, function(names) dots[intersect(names, names(dots))])
  names(sorted$extract) <- sub("^extraction_starts$", "starts", names(sorted$extract))
  sorted
}
