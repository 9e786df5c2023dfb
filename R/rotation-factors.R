#' Rotate factors to where they can be read
#'
#' Turns the factors so that each item loads on as few of them as possible. How well the factors
#' together reproduce the correlations does not change. Rotating a solution that is rotated already
#' starts from the unrotated loadings.
#'
#' @param solution What [extract_factors()] or this function returned.
#' @param rotation `"oblimin"` (oblique: factors may correlate; with `gamma` 0, quartimin),
#'   `"varimax"` (orthogonal: factors stay uncorrelated) or `"none"`.
#' @param gamma Oblimin's parameter, at most 1: the higher, the more the factors may correlate.
#' @param kaiser Weight rows to equal length while rotating (Kaiser 1958)? Off unless asked for: items
#'   that belong nowhere would then pull as hard as the others.
#' @param starts Number of starts, the first from the unrotated position, the others random.
#' @inheritParams parallel_analysis
#' @return An object of class `factor_solution` ([softsieve-factor-solution]); its `settings` hold the
#'   rotation's, and `values$search` the distinct optima and how many of the starts met each.
#' @section Errors: `softsieve_error_class`, `softsieve_error_argument`.
#' @section Findings: `one_factor` (nothing to rotate), `several_optima` (starts ended in different
#'   places), `rotation_not_converged`, `high_factor_correlation` (above .80).
#' @section Formulas: Oblimin minimises 1/4 of the sum over pairs of factors of sum l_ij^2 l_il^2 -
#'   gamma/p sum l_ij^2 sum l_il^2. Varimax maximises the variance of squared loadings within
#'   factors, found here as the Crawford-Ferguson criterion with kappa = 1/p.
#' @references Jennrich, R. I. (2001). A simple general procedure for orthogonal rotation.
#'   *Psychometrika*, 66, 289-306.
#'
#'   Jennrich, R. I. (2002). A simple general method for oblique rotation. *Psychometrika*, 67, 7-19.
#'
#'   Kaiser, H. F. (1958). The varimax criterion for analytic rotation in factor analysis.
#'   *Psychometrika*, 23, 187-200.
#'
#'   Jennrich, R. I., & Sampson, P. F. (1966). Rotation for simple loadings. *Psychometrika*, 31,
#'   313-323.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- extract_factors(motives, factors = 4)
#' rotate_factors(solution, "oblimin", seed = 1)
#' @export
rotate_factors <- function(solution, rotation = c("oblimin", "varimax", "none"), gamma = 0, kaiser = FALSE,
                           starts = 100L,
                           seed = NULL, threads = NULL) {
  check_class(solution, "solution", "factor_solution", "extract_factors()")
  rotation <- check_choice(rotation, "rotation", methods_of("rotation"))
  check_number(gamma, "gamma", -10, 1)
  check_flag(kaiser, "kaiser")
  starts <- check_whole(starts, "starts", 1L, 1e5L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  unrotated <- solution$values$unrotated
  k <- ncol(unrotated)
  single <- k == 1L && rotation != "none"
  if (rotation == "none" || k == 1L) return(put_rotation(solution, unrotated_turn(unrotated), NULL, "none", list(),
                                                         find_single(single), match.call()))

  oblique <- rotation == "oblimin"
  criterion <- if (oblique) "oblimin" else "crawford-ferguson"
  parameter <- if (oblique) gamma else 1 / nrow(unrotated)
  found <- with_progress("Rotation", starts, function(progress) {
    core_rotate_weighted(unrotated, oblique, criterion, parameter, kaiser, starts, seed, threads, progress)
  })
  turned <- core_order_and_reflect(found$loadings, found$correlations, found$transformation)
  search <- core_distinct_optima(found$start_values)
  settings <- list(kaiser = kaiser, starts = starts, rotation_seed = seed)
  if (oblique) settings <- c(list(gamma = gamma), settings)
  put_rotation(solution, turned, search, rotation, settings, find_in_rotation(found, search, turned$correlations),
               match.call())
}

unrotated_turn <- function(unrotated) {
  list(loadings = unrotated, correlations = diag(ncol(unrotated)), transformation = diag(ncol(unrotated)))
}

# The solution with other loadings: what extraction found stays, what an earlier rotation said goes.
put_rotation <- function(solution, turned, search, rotation, settings, findings, call) {
  v <- solution$values
  x <- list(values = list(items = v$items[c("item", "wording", "scale", "reversed", "mean", "sd")],
                          correlations = v$correlations, n = v$n),
            source = solution$source)
  kept <- solution$settings[setdiff(names(solution$settings),
                                    c("rotation", "gamma", "kaiser", "starts", "rotation_seed"))]
  earlier <- solution$findings[solution$findings$stage != "rotation", ]
  new_factor_solution(x, turned$loadings, turned$correlations, turned$transformation, v$unrotated, v$items$uniqueness,
                      v$items$start_communality, v$fit, search, c(kept, list(rotation = rotation), settings),
                      bind_findings(earlier, findings), call)
}

find_single <- function(single) {
  if (!single) return(NULL)
  new_finding("rotation", "one_factor", "note",
              text = "One factor has nothing to be turned against: it stays as extracted.")
}

find_in_rotation <- function(found, search, correlations) {
  off <- abs(correlations[upper.tri(correlations)])
  finding <- function(code, severity, text, ...) new_finding("rotation", code, severity, text, ...)
  bind_findings(
    if (!found$converged) finding("rotation_not_converged", "caution", value = found$gradient, limit = 1e-8,
                                  text = sprintf("Rotation stopped with a gradient of %s.",
                                                 format(found$gradient, digits = 2L))),
    if (length(search$value) > 1L) finding("several_optima", if (search$share[1L] < 0.5) "caution" else "note",
                                           value = search$share[1L],
                                           text = sprintf("The starts ended in %d different places; %s met the best, which is shown.",
                                                          length(search$value), format_share(search$share[1L]))),
    if (max(off) > 0.8) finding("high_factor_correlation", "caution", value = max(off), limit = 0.8,
                                text = sprintf("Two factors correlate %s: they may be one. Compare a solution with one factor fewer.", format_unit(max(off))))
  )
}
