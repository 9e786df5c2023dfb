#' How factors split as one more is taken
#'
#' Solutions with `from` to `to` factors under each other, and how the factors of each level
#' correlate with those of the level before: which of them stays, which divides (Goldberg 2006).
#'
#' @inheritParams factor_solution
#' @param x As for [factor_solution()]; or a solution: then its correlations are taken, and its way
#'   of extraction and rotation.
#' @param from,to Numbers of factors, from 1 on. `to` may name a rule as in [extract_factors()];
#'   when left out, it is the number of the solution given, or parallel analysis's, and at least one
#'   more than `from`.
#' @param ... Passed on as in [factor_solution()], for answers or a matrix.
#' @return An object of class `solution_ladder` ([softsieve-result]); `values` holds
#'   * `rungs`: tibble, one row for each pair of factors of neighbouring levels: `level`, `factor`,
#'     `level_before`, `factor_before`, `correlation` (of their scores, from -1 to 1) and `parent`
#'     (is it the factor of the level before that this one correlates with most?);
#'   * `factors`: tibble, one row for each factor of each level: `level`, `factor`, `items` (how
#'     many load on it most), `share` (of the variance), `item` (the strongest), `loading` (of that
#'     item), `wording` and `reversed` (its);
#'   * `correlations`: a list of matrices, for each level but the first its factors' scores with
#'     those of the level before;
#'   * `solutions`: a list of all levels' solutions. Where the solution given has names, factors of
#'     other levels that match its factors have them too ([name_factors()]).
#' @section Formula: Scores are regression scores (of components: components). From the weights
#'   \eqn{W = R^{-1} S}{W = R^-1 S}, S being the structure and R the items' correlations, those of
#'   two levels correlate by
#'   \deqn{D_1^{-1/2} W_1' R W_2 D_2^{-1/2}, \quad D = diag(W'RW)}{
#'     D1^-1/2 W1' R W2 D2^-1/2, D = diag(W'RW)}
#'   so that nobody need be scored.
#' @section Errors: `softsieve_error_levels` (`from` above `to`; more factors than the items
#'   allow), and those of [factor_solution()].
#' @eval describe_papers("Goldberg (2006)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution_ladder(motives, to = 4, seed = 1)
#' @export
solution_ladder <- function(x, from = 1L, to = NULL, ..., method = "minres", rotation = "oblimin",
    starts = 100L, seed = NULL, threads = NULL) {
  from <- check_whole(from, "from", 1L)
  seed <- settle_seed(seed)
  solve <- function(factors) {
    factor_solution(x, factors, ..., method = method, rotation = rotation, starts = starts,
      seed = seed, threads = threads)
  }
  top <- if (is_result(x, "factor_solution")) {
    check_dots_empty(...)
    x
  } else {
    found <- solve(if (is.null(to)) "parallel" else to)
    # a ladder has two levels at least
    if (is.null(to) && ncol(found$values$loadings) <= from) solve(from + 1L) else found
  }
  to <- settle_top(to, from, top)
  one <- function(k) {
    if (k == ncol(top$values$loadings)) return(top)
    solved <- solve_alike(top$values$item_correlations, top, k, seed, threads)
    # that a level has other factors is what a ladder is for: nothing is told of names
    rename_factors(solved, factor_names(keep_names(solved, top)))
  }
  levels <- from:to
  solutions <- with_progress("Levels", length(levels), function(progress) {
    lapply(levels, function(k) {
      found <- one(k)
      progress(k - from + 1L)
      found
    })
  })
  names(solutions) <- levels
  found <- Map(rungs_between, solutions[-1L], solutions[-length(solutions)])
  values <- list(rungs = stack_rows(lapply(found, `[[`, "rungs")),
    factors = stack_rows(lapply(solutions, factors_of_level)),
    correlations = lapply(found, `[[`, "correlations"), solutions = solutions)
  new_result("solution_ladder", values,
    c(top$settings, list(from = from, to = to, ladder_seed = seed)),
    findings_that_travel(do.call(bind_findings, unname(lapply(solutions, `[[`, "findings")))),
    top$source, match.call())
}

settle_top <- function(to, from, top) {
  k <- ncol(top$values$loadings)
  if (is.null(to) || !is.numeric(to)) to <- k
  if (k == 1L && isTRUE(all(to > 1))) stop_without_rotation()
  p <- nrow(top$values$loadings)
  most <- if (one_of_model(top$settings) == "component") p else core_most_factors(p)
  if (checkmate::test_int(to, lower = from + 1L, upper = most, tol = 0)) return(as.integer(to))
  stop_input("levels",
    sprintf("`to` must be above `from` (%d), and no more than the items allow (%d).", from, most),
    got = describe_value(to), todo = "A ladder needs two levels at least.")
}

# A solution of one factor was never rotated: nobody knows how several should be.
stop_without_rotation <- function() {
  stop_input("levels", "A ladder up from one factor must know how to rotate.",
    got = "A solution of one factor came, which has no rotation.",
    todo = "Give the answers instead, with `to` and `rotation`.")
}

# The factors of one level, with those of the level before.
rungs_between <- function(here, before) {
  weights <- function(x) core_score_weights(x$values$correlations, x$values$structure)
  r <- here$values$correlations
  between <- core_score_correlations(r, weights(here), weights(before))
  dimnames(between) <- list(factor_names(here), factor_names(before))
  parent <- max.col(abs(between), ties.method = "first")
  rungs <- tibble_of(level = ncol(here$values$loadings),
    factor = rep(rownames(between), ncol(between)), level_before = ncol(before$values$loadings),
    factor_before = rep(colnames(between), each = nrow(between)), correlation = as.numeric(between),
    parent = as.logical(col(between) == parent))
  list(rungs = rungs, correlations = between)
}

factors_of_level <- function(solution) {
  v <- solution$values
  size <- abs(v$loadings)
  strongest <- apply(size, 2L, which.max)
  tibble::tibble(level = ncol(v$loadings), factor = colnames(v$loadings),
    items = tabulate(home_factor(v$loadings, cutoff("salient_loading")), ncol(v$loadings)),
    share = v$variance$share, item = v$items$item[strongest],
    loading = v$loadings[cbind(strongest, seq_along(strongest))],
    wording = v$items$wording[strongest], reversed = v$items$reversed[strongest])
}

#' @exportS3Method tibble::as_tibble
as_tibble.solution_ladder <- function(x, ...) x$values$rungs

#' @export
glance.solution_ladder <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(from = x$settings$from, to = x$settings$to, method = x$settings$method,
    rotation = x$settings$rotation)
}
