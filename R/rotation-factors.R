#' Rotate factors to where they can be read
#'
#' Turns the factors so that each item loads on as few of them as possible. How well the factors
#' together reproduce the correlations does not change. Rotating a solution that is rotated already
#' starts from the unrotated loadings.
#'
#' @param solution What [extract_factors()] or this function returned.
#' @param rotation What to make as simple as possible.
#'
#'   Oblique (factors may correlate): `"oblimin"` (with `gamma`), `"quartimin"` (gamma 0),
#'   `"covarimin"` (oblimin of reference axes with gamma 1), `"geomin"` (with `delta`), `"promax"`
#'   (with `power`), `"simplimax"` (with `zeros`), `"pattern_simplicity"`.
#'
#'   Orthogonal: `"varimax"`, `"quartimax"`, `"equamax"`, `"parsimax"`, `"factor_parsimony"`,
#'   `"crawford_ferguson"` (with `kappa`), `"infomax"`, `"entropy"`, `"oblimax"`.
#'
#'   With one general factor in addition to the others: `"bifactor_quartimin"`, `"bifactor_geomin"`.
#'   Towards loadings you name: `"target"` (some or all of them), `"procrustes"` (a whole matrix, in
#'   closed form). `"none"` gives the unrotated factors back.
#' @eval describe_parameters(ROTATIONS, "rotation")
#' @param oblique May the factors correlate? `NULL` is what the rotation is known for. Some criteria
#'   have one form only.
#' @param normalization How much items count while turning: `"none"`: as they are; `"kaiser"`: all
#'   alike (items that belong nowhere then pull as hard as the others); `"cureton_mulaik"`: more,
#'   the more an item looks as if it loads once.
#' @param starts Number of starts, the first from the unrotated position, the others random.
#' @param optimum 1 for the best rotation found, 2 for the second best, to look at.
#' @inheritParams parallel_analysis
#' @return An object of class `factor_solution` ([softsieve-factor-solution]); its `settings` hold
#'   the rotation's, and `values$search` the distinct optima's criterion `value` and the `share` of
#'   starts that met each.
#' @section Errors: `softsieve_error_class`, `softsieve_error_argument`, `softsieve_error_rotation`
#'   (an oblique form that the rotation does not have; factors that fall together; no second
#'   optimum), `softsieve_error_target`.
#' @section Findings: `names_kept` and `names_lost` (of a solution that was named), `one_factor`
#'   (nothing to rotate), `several_optima` (starts ended in different
#'   places), `second_optimum` (not the best is shown), `rotation_not_converged`,
#'   `high_factor_correlation` (above .80).
#' @section Formulas:
#' With \eqn{l} the loadings, p items and k factors, rotation minimises
#'
#' Crawford-Ferguson; \eqn{\kappa}{kappa} is 0 for quartimax, 1/p for varimax, k/(2p) for equamax,
#' (k - 1)/(p + k - 2) for parsimax and 1 for factor parsimony
#' \deqn{\frac{1 - \kappa}{4} \sum_i \sum_{j \ne m} l_{ij}^2 l_{im}^2 + \frac{\kappa}{4} \sum_j
#'   \sum_{i \ne n} l_{ij}^2 l_{nj}^2}{
#'   (1 - kappa)/4 sum_i sum_(j != m) l_ij^2 l_im^2 + kappa/4 sum_j sum_(i != n) l_ij^2 l_nj^2}
#' Oblimin; covarimin is its form with \eqn{\gamma}{gamma} 1 of the loadings on reference axes (with
#' the pattern itself it has no minimum)
#' \deqn{\frac{1}{4} \sum_{j \ne m} (\sum_i l_{ij}^2 l_{im}^2 - \frac{\gamma}{p} \sum_i l_{ij}^2
#'   \sum_i l_{im}^2)}{
#'   1/4 sum_(j != m) (sum_i l_ij^2 l_im^2 - gamma/p sum_i l_ij^2 sum_i l_im^2)}
#' Geomin
#' \deqn{\sum_i (\prod_j (l_{ij}^2 + \delta))^{1/k}}{sum_i (prod_j (l_ij^2 + delta))^(1/k)}
#' Infomax, of squared loadings as shares of their sum, with
#' \eqn{Q(x) = -\sum x \ln x}{Q(x) = -sum x ln x}
#' \deqn{\ln k + Q(squares) - Q(row\, sums) - Q(column\, sums)}{
#'   ln k + Q(squares) - Q(row sums) - Q(column sums)}
#' Entropy
#' \deqn{-\frac{1}{2} \sum l^2 \ln l^2}{-1/2 sum l^2 ln l^2}
#' Oblimax
#' \deqn{2 \ln \sum l^2 - \ln \sum l^4}{2 ln sum l^2 - ln sum l^4}
#' Pattern simplicity, with \eqn{S} the squared loadings
#' \deqn{\frac{1}{4} (\ln |diag(S'S)| - \ln |S'S|)}{1/4 (ln |diag S'S| - ln |S'S|)}
#' Target, over the elements that are given
#' \deqn{\sum (l_{ij} - t_{ij})^2}{sum (l_ij - t_ij)^2}
#' Simplimax: the sum of the smallest squared loadings. Bifactor: quartimin or geomin of all factors
#' but one.
#'
#' Promax is the least squares turn of varimax loadings towards their `power`, signs kept.
#'   Procrustes
#' is the least squares turn of loadings A towards `target` B: orthogonal by the singular vectors of
#' A'B (Schonemann 1966), oblique with factors scaled to variance 1 (Hurley & Cattell 1962)
#' \deqn{T = UV', \quad T = (A'A)^{-1} A'B}{T = UV', T = (A'A)^-1 A'B}
#' @eval describe_papers("Jennrich (2001)", "Jennrich (2002)", "Browne (2001)", "Harman (1976)",
#'   "Hurley & Cattell (1962)", "Schonemann (1966)", "Jennrich & Bentler (2011)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- extract_factors(motives, factors = 4)
#' rotate_factors(solution, "oblimin", seed = 1)
#' rotate_factors(solution, "geomin", seed = 1)$values$search
#' @concept Kaiser normalization
#' @export
rotate_factors <- function(solution, rotation = "oblimin", ..., oblique = NULL,
    normalization = c("none", "kaiser", "cureton_mulaik"), starts = 100L, optimum = 1L, seed = NULL,
    threads = NULL) {
  check_class(solution, "solution", "factor_solution", "extract_factors()")
  given <- settle_arguments(ROTATE_TAKES)
  asked <- settle_parameters(ROTATIONS, rotation, list(...))
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  unrotated <- solution$values$unrotated
  if (rotation == "none" || ncol(unrotated) == 1L) {
    alone <- find_single(ncol(unrotated) == 1L && rotation != "none")
    turned <- unrotated_turn(unrotated)
    return(put_rotation(solution, turned, NULL, "none", list(), alone, match.call()))
  }
  spec <- ROTATIONS[[rotation]]
  how <- c(list(asked = asked, oblique = settle_oblique(oblique, spec)),
    given[c("normalization", "starts", "optimum")], list(seed = seed, threads = threads))
  unit <- units_of(solution$values$items, solution$settings)
  found <- with_progress("Rotation", starts, function(progress) {
    turn_loadings(unrotated, spec, how, unit, progress)
  })
  search <- if (!is.null(found$start_values)) core_distinct_optima(found$start_values)
  searched <- c(how[c("normalization", "starts", "optimum")], list(rotation_seed = seed))
  put_rotation(solution, found$turned, search, rotation,
    c(spec$settle(asked, unrotated), how["oblique"], if (!is.null(search)) searched),
    bind_findings(find_in_rotation(found$shown, search, found$turned$correlations, optimum),
      find_wording_left(solution, found$turned)),
    match.call())
}

ROTATE_TAKES <- list(
  rotation = a_text("How factors are turned", function() rotations_of_studies(),
    check = function(x, name) check_choice(x, name, names(ROTATIONS))),
  oblique = a_flag("For rotations that can be either"),
  normalization = a_text("How much each item counts in rotation", function() names(NORMALIZATIONS)),
  optimum = a_whole("1 for the best rotation found, 2 for the second best", 1, 2),
  starts = a_whole("Random starts of the rotation", 1, 1e5))

# Rotations to a matrix have no place in a file of words and numbers.
rotations_of_studies <- function() {
  takes_matrix <- function(one) any(vapply(one$parameters, `[[`, "", "type") == "matrix")
  names(Filter(function(one) !takes_matrix(one), ROTATIONS))
}

# Each of several loadings (p x k, k >= 2) turned as `how` says (asked, oblique, normalization,
# starts, optimum, seed, threads), in their order and with their signs: `turned`, what the search
# ended with (`shown`) and the criterion of each start.
turn_each <- function(each, spec, how, unit, progress = NULL) {
  asked <- lapply(each, function(loadings) spec$settle(how$asked, loadings))
  searches <- if (is.null(spec$closed)) {
    core_rotate_each(each, turning_of(spec, how$oblique), requests_of(spec, asked, dim(each[[1L]])),
      lapply(each, NORMALIZATIONS[[how$normalization]]$weights), how$starts,
      rep(how$seed, length(each)), how$threads, progress)
  } else {
    vector("list", length(each))
  }
  shown <- if (is.null(spec$closed)) {
    Map(spec$finish, choose_optima(searches, how$optimum), asked)
  } else {
    Map(function(loadings, a) {
      c(spec$closed(loadings, a, how$oblique), list(converged = TRUE))
    }, each, asked)
  }
  check_factors_apart(lapply(shown, `[[`, "transformation"), spec$name)
  Map(function(shown, turned, found) {
    list(turned = turned, shown = shown, start_values = found$start_values)
  }, shown, core_order_each(shown, unit), searches)
}

# (parameters that loadings settle differ, all others are the same)
requests_of <- function(spec, asked, size) {
  same <- vapply(asked, identical, NA, asked[[1L]])
  if (!all(same)) return(lapply(asked, function(one) spec$request(size[1L], size[2L], one)))
  rep(list(spec$request(size[1L], size[2L], asked[[1L]])), length(asked))
}

turn_loadings <- function(loadings, spec, how, unit = 1, progress = NULL) {
  turn_each(list(loadings), spec, how, unit, progress)[[1L]]
}

# May factors correlate: as asked, or as the rotation is known for.
settle_oblique <- function(oblique, spec) {
  if (is.null(oblique)) return(spec$oblique)
  if (oblique == spec$oblique || spec$both) return(oblique)
  stop_input("rotation",
    sprintf("%s must be %s.", capitalise(spec$name), if (spec$oblique) "oblique" else "orthogonal"),
    got = sprintf("oblique = %s came.", oblique),
    todo = "Leave `oblique` out, or take another rotation.")
}

# Promax searches an orthogonal position, whatever it makes of it.
turning_of <- function(spec, oblique) {
  if (spec$axes) return("reference")
  if (oblique && !spec$starts_orthogonal) "oblique" else "orthogonal"
}

choose_optima <- function(searches, optimum) {
  if (optimum == 1L) return(lapply(searches, `[[`, "best"))
  second <- lapply(searches, `[[`, "second")
  if (!any(vapply(second, is.null, NA))) return(second)
  stop_input("rotation", "There must be a second optimum to show it.",
    got = "All starts ended in one place.", todo = "Leave `optimum` out, or give more starts.")
}

# Some criteria have no minimum among oblique rotations: factors then run into each other.
check_factors_apart <- function(transformations, rotation) {
  apart <- vapply(transformations, function(t) all(is.finite(t)) && rcond(t) > 1e-6, NA)
  if (all(apart)) return(invisible())
  stop_input("rotation", "Factors must stay apart while they are turned.",
    got = sprintf("%s has no minimum here: factors fall together.", capitalise(rotation)),
    todo = "Give a gamma of 0 or below, or take quartimin or geomin.")
}

unrotated_turn <- function(unrotated) {
  list(loadings = unrotated, correlations = diag(ncol(unrotated)),
    transformation = diag(ncol(unrotated)))
}

# What an earlier rotation left in the settings, but for the criteria's own parameters.
OF_ROTATION <- c("rotation", "oblique", "normalization", "starts", "optimum", "rotation_seed",
  "factor_names")

# The solution with other loadings: what extraction found stays, what an earlier rotation said goes.
# Names stay with the factors that match.
put_rotation <- function(solution, turned, search, rotation, settings, findings, call) {
  earlier <- c(OF_ROTATION, names(parameters_of(ROTATIONS)))
  kept <- solution$settings[setdiff(names(solution$settings), earlier)]
  earlier <- solution$findings[solution$findings$stage != "rotation", ]
  rotated <- new_factor_solution(extracted_part(solution), turned, search,
    c(kept, list(rotation = rotation), settings), bind_findings(earlier, findings), call)
  keep_names(rotated, solution)
}

find_single <- function(single) {
  if (!single) return(NULL)
  new_finding("one_factor")
}

find_in_rotation <- function(found, search, correlations, optimum) {
  off <- abs(correlations[upper.tri(correlations)])
  several <- length(search$value)
  bind_findings(
    # rounding keeps the gradient of a large criterion from falling to 1e-8
    if (!found$converged && found$gradient > 1e-7 * (1 + abs(found$value))) {
      new_finding("rotation_not_converged", format(found$gradient, digits = 2L),
        value = found$gradient, limit = 1e-07)
    },
    if (optimum == 2L) {
      new_finding("second_optimum", format(found$value, digits = 5L),
        format(search$value[1L], digits = 5L), value = found$value, limit = search$value[1L])
    },
    if (several > 1L && optimum == 1L) {
      new_finding("several_optima", several, format_share(search$share[1L]),
        severity = if (search$share[1L] < 0.5) "caution" else "note", value = search$share[1L])
    },
    if (max(off) > cutoff("factor_overlap")) {
      new_finding("high_factor_correlation", format_unit(max(off)), value = max(off),
        limit = cutoff("factor_overlap"))
    })
}
