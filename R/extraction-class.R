#' What a factor solution holds
#'
#' [extract_factors()], [rotate_factors()] and [factor_solution()] return an object of class
#' `factor_solution` ([softsieve-result]). Its `values`, for p items and k factors called F1..Fk in
#' the order of the variance they explain, each turned so that its loadings sum to a positive number:
#'
#' * `items`: tibble, one row for each item: `item`, `wording`, `scale`, `reversed`, `mean`, `sd`,
#'   `start_communality` (squared multiple correlation), `communality`, `uniqueness`, `complexity`
#'   (on how many factors the item loads, in effect: 1 to k; Hofmann 1978);
#' * `loadings`: the pattern matrix, p x k; `structure`: correlations of items with factors, p x k;
#' * `factor_correlations`: k x k, the identity when the rotation is orthogonal or none;
#' * `unrotated`: the loadings as extracted, p x k; `transformation`: T, k x k, with loadings =
#'   unrotated inv(T)' (oblique) or unrotated T (orthogonal);
#' * `variance`: tibble, one row for each factor: `factor`, `sum_of_squares` (of pattern times
#'   structure; adds up to the communalities), `share` of all variance, `running_share`,
#'   `share_of_common`;
#' * `correlations`: the p x p matrix that was factored; `n`: number of people behind it;
#' * `fit`: tibble of one row: `df`, `rmsr` (root mean square residual correlation),
#'   `largest_residual`, `iterations`, `gradient`, `converged`; under maximum likelihood and generalised least
#'   squares also `chi_square`, `corrected`, `p`, `rmsea`, `rmsea_lower`, `rmsea_upper`, `close_p`, `cfi`,
#'   `tli`, `aic`, `bic` (see [extract_factors()]);
#' * `search`: `NULL`, or how the rotation was found: the distinct optima's criterion `value` and the
#'   `share` of starts that met each.
#'
#' `residuals()` gives the p x p matrix of observed minus reproduced correlations, `fitted()` the
#' reproduced one, `tidy()` one row for each item and factor, `glance()` one row of fit.
#' @references Hofmann, R. J. (1978). Complexity and simplicity as objective indices descriptive of
#'   factor solutions. *Multivariate Behavioral Research*, 13, 247-250.
#' @name softsieve-factor-solution
NULL

# Measures that methods with a test have beside those that all have.
FIT_MEASURES <- c("chi_square", "corrected", "p", "rmsea", "rmsea_lower", "rmsea_upper", "close_p", "cfi", "tli", "aic", "bic")

# `x` is the item_correlations that were factored; the rest are p x k and k x k matrices.
new_factor_solution <- function(x, loadings, correlations, transformation, unrotated, uniquenesses, start, extraction,
                                search,
                                settings, findings, call) {
  k <- ncol(loadings)
  names <- paste0("F", seq_len(k))
  items <- x$values$items
  dimnames(loadings) <- dimnames(unrotated) <- list(items$item, names)
  dimnames(correlations) <- dimnames(transformation) <- list(names, names)
  items$start_communality <- unname(start)
  items$communality <- unname(core_communalities(loadings, correlations))
  items$uniqueness <- unname(uniquenesses)
  items$complexity <- unname(core_complexity(loadings))
  r <- x$values$correlations
  residuals <- r - core_reproduced(loadings, correlations, uniquenesses)
  explained <- core_factor_variance(loadings, correlations)
  values <- list(
    items = items, loadings = loadings, structure = core_structure(loadings,
                                                                   correlations), factor_correlations = correlations,
    unrotated = unrotated, transformation = transformation,
    variance = tibble::tibble(factor = names, sum_of_squares = unname(explained), share = unname(explained) / nrow(r),
                              running_share = cumsum(unname(explained)) / nrow(r), share_of_common = unname(explained) / sum(explained)),
    correlations = r, n = x$values$n,
    fit = tibble::tibble(df = core_degrees_of_freedom(nrow(r), k), rmsr = core_rmsr(residuals),
                         largest_residual = max(abs(residuals[upper.tri(residuals)])), iterations = extraction$iterations,
                         gradient = extraction$gradient, converged = extraction$converged,
                         !!!as.list(extraction)[intersect(FIT_MEASURES, names(extraction))]),
    search = search
  )
  validate_factor_solution(new_result("factor_solution", values, settings, findings, x$source, call))
}

validate_factor_solution <- function(x) {
  v <- x$values
  k <- ncol(v$loadings)
  stopifnot(identical(rownames(v$loadings), v$items$item), identical(dim(v$factor_correlations), c(k, k)),
            all(colSums(v$loadings) >= 0), all(is.finite(v$loadings)))
  x
}

#' @export
as_tibble.factor_solution <- function(x, ...) {
  tibble::as_tibble(cbind(x$values$items[c("item", "wording", "reversed")], as.data.frame(x$values$loadings),
                          x$values$items[c("communality", "uniqueness", "complexity")]))
}

#' @export
tidy.factor_solution <- function(x, ...) {
  l <- x$values$loadings
  tibble::tibble(item = rep(rownames(l), ncol(l)), factor = rep(colnames(l), each = nrow(l)), loading = as.numeric(l),
                 structure = as.numeric(x$values$structure))
}

#' @export
glance.factor_solution <- function(x, ...) {
  tibble::tibble(factors = ncol(x$values$loadings), items = nrow(x$values$loadings), n = x$values$n,
                 method = x$settings$method,
                 rotation = x$settings$rotation, share = sum(x$values$variance$share), x$values$fit)
}

#' @export
fitted.factor_solution <- function(object, ...) {
  core_reproduced(object$values$loadings, object$values$factor_correlations, object$values$items$uniqueness)
}

#' @export
residuals.factor_solution <- function(object, ...) object$values$correlations - fitted.factor_solution(object)
