#' What a factor solution holds
#'
#' [extract_factors()], [extract_components()], [rotate_factors()] and [factor_solution()] return an
#' object of class `factor_solution` ([softsieve-result]). Its `values`, for p items and k factors
#' called F1..Fk (components: C1..Ck) in the order of the variance they explain, each turned so that
#' its loadings sum to a positive number:
#'
#' * `items`: tibble, one row for each item: `item`, `wording`, `scale`, `reversed`, `mean`, `sd`,
#'   `loading_unit` (see below), `start_communality` (squared multiple correlation; `NA` for a
#'   singular matrix), `communality`, `uniqueness` (both as shares of the item's variance),
#'   `complexity` (on how many factors the item loads, in effect: 1 to k; Hofmann 1978);
#' * `loadings`: the pattern matrix, p x k, for items of variance 1; `structure`: correlations of
#'   items with factors, p x k; `raw_loadings`: where covariances were analysed the pattern in the
#'   items' units, p x k, otherwise `NULL`. Under `"ml"` and `"gls"` the model may give an item
#'   whose uniqueness is at its bound another variance than was observed: its loadings, communality
#'   and uniqueness are those of an item with the fitted variance, and `loading_unit` is the root of
#'   that variance as a multiple of the observed one (1 for every other item);
#' * `factor_correlations`: k x k, the identity when the rotation is orthogonal or none;
#' * `unrotated`: the loadings as extracted, p x k; `transformation`: T, k x k, with loadings =
#'   unrotated inv(T)' (oblique) or unrotated T (orthogonal);
#' * `variance`: tibble, one row for each factor: `factor`, `sum_of_squares` (of pattern times
#'   structure; adds up to the communalities, or to the variance explained in the items' units),
#'   `share` of all variance, `cumulative_share`, `share_of_common`; `variance_unrotated`: the same
#'   before rotation;
#' * `correlations`: the p x p matrix of correlations behind it; `item_correlations`: what
#'   [correlate_items()] gave, with the answers, for stages that draw people again; `n`: number of
#'   people that tests use; `people`: how many gave an answer that was used;
#' * `key`: how answers are keyed, for new ones ([score_respondents()]): tibble with a codebook's
#'   columns `item`, `wording`, `lowest`, `highest`, `reversed`, `labels`, `missing_codes`, and
#'   `ends_by` (`"codebook"`, or `"answers"` where the ends are those of the answers there were);
#'   `NULL` where a matrix was given;
#' * `fit`: tibble of one row: `df`, `discrepancy` (the minimum of what the method minimises),
#'   `rmsr` (root mean square residual correlation off the diagonal), `srmr` (the same over the
#'   diagonal too), `largest_residual`, `iterations`, `gradient`, `converged`, `starts` (searches
#'   made), `apart` (how many ended elsewhere); for methods with a test also `chi_square`,
#'   `corrected`, `p`, `rmsea`, `rmsea_lower`, `rmsea_upper`, `close_p`, `cfi`, `tli`, `aic`, `bic`
#'   (see [extract_factors()]); of components `first_by_chance` (the share of the variance that the
#'   first component of as many unrelated normal columns has, or `NA`);
#' * `residual_pairs`: tibble, the ten largest residual correlations: `item`, `with`, `observed`,
#'   `reproduced`, `residual`;
#' * `search`: `NULL`, or how the rotation was found: the distinct optima's criterion `value` and
#'   the `share` of starts that met each.
#'
#' `residuals()` gives the p x p matrix of observed minus reproduced correlations (or covariances,
#' where these were analysed), `fitted()` the reproduced one, `tidy()` one row for each item and
#' factor, `glance()` one row of fit.
#' @eval describe_papers("Hofmann (1978)")
#' @name softsieve-factor-solution
NULL

# What rotation does not touch: `items` (with start_communality and uniqueness), `correlations`,
# `n`, `unrotated` (p x k), `fit`, `residual_pairs` and `source`.
EXTRACTED <- c("correlations", "item_correlations", "n", "people", "key", "unrotated", "fit",
  "residual_pairs")
ITEM_COLUMNS <- c("item", "wording", "scale", "reversed", "mean", "sd", "start_communality",
  "uniqueness", "loading_unit")

extracted_part <- function(solution) {
  c(solution$values[EXTRACTED],
    list(items = solution$values$items[ITEM_COLUMNS], source = solution$source))
}

# `turned`: loadings (p x k), correlations and transformation (k x k).
new_factor_solution <- function(extracted, turned, search, settings, findings, call) {
  items <- extracted$items
  names <- plain_names(ncol(turned$loadings), settings)
  loadings <- turned$loadings
  correlations <- turned$correlations
  dimnames(loadings) <- list(items$item, names)
  dimnames(correlations) <- dimnames(turned$transformation) <- list(names, names)
  dimnames(extracted$unrotated) <- dimnames(loadings)
  items$communality <- unname(core_communalities(loadings, correlations))
  items$complexity <- unname(core_complexity(loadings))
  unit <- units_of(items, settings)
  explained <- core_factor_variance(loadings * unit, correlations)
  before <- colSums((extracted$unrotated * unit)^2)
  values <- list(items = items, loadings = loadings,
    structure = core_structure(loadings, correlations),
    raw_loadings = if (settings$analysed == "covariances") loadings * unit,
    factor_correlations = correlations, unrotated = extracted$unrotated,
    transformation = turned$transformation, variance = variance_table(names, explained, unit),
    variance_unrotated = variance_table(names, before, unit), correlations = extracted$correlations,
    item_correlations = extracted$item_correlations, n = extracted$n, people = extracted$people,
    key = extracted$key, fit = extracted$fit, residual_pairs = extracted$residual_pairs,
    search = search)
  validate_factor_solution(new_result("factor_solution", values, settings, findings,
    extracted$source, call))
}

# What an item's standardised loadings are multiplied by to be in the units analysed.
units_of <- function(items, settings) observed_units(items, settings) * items$loading_unit

# The standard deviation that an item's loadings refer to, over the observed one: another than 1
# only where maximum likelihood or generalised least squares hold a uniqueness at its bound, and the
# fitted variance differs.
fitted_units <- function(found, observed, settings) {
  if (!EXTRACTIONS[[settings$method]]$fits_variance) return(rep(1, length(observed)))
  fitted <- (rowSums(found$loadings^2) + found$uniquenesses) / observed^2
  share <- found$uniquenesses / observed^2
  own <- (share <= settings$lowest_uniqueness + 1e-8 | fitted > 1 + 1e-8)
  sqrt(ifelse(own & abs(fitted - 1) > 1e-8, fitted, 1))
}

# The items' standard deviations as they were analysed.
observed_units <- function(items, settings) {
  if (settings$analysed == "covariances") items$sd else rep(1, nrow(items))
}

variance_table <- function(names, explained, unit) {
  explained <- unname(explained)
  # tibble() itself takes longer than the searches of a rotation
  tibble::new_tibble(
    list(factor = names, sum_of_squares = explained, share = explained / sum(unit^2),
      cumulative_share = cumsum(explained) / sum(unit^2),
      share_of_common = explained / sum(explained)),
    nrow = length(names))
}

validate_factor_solution <- function(x) {
  v <- x$values
  k <- ncol(v$loadings)
  stopifnot(identical(rownames(v$loadings), v$items$item),
    identical(dim(v$factor_correlations), c(k, k)), all(is.finite(v$loadings)))
  x
}

#' @exportS3Method tibble::as_tibble
as_tibble.factor_solution <- function(x, ...) {
  tibble::as_tibble(cbind(x$values$items[c("item", "wording", "reversed")],
    as.data.frame(x$values$loadings), x$values$items[c("communality", "uniqueness", "complexity")]))
}

#' @export
tidy.factor_solution <- function(x, ...) {
  check_dots_empty(...)
  l <- x$values$loadings
  tibble::tibble(item = rep(rownames(l), ncol(l)), factor = rep(colnames(l), each = nrow(l)),
    loading = as.numeric(l), structure = as.numeric(x$values$structure))
}

#' @export
glance.factor_solution <- function(x, ...) {
  check_dots_empty(...)
  tibble::tibble(factors = ncol(x$values$loadings), items = nrow(x$values$loadings), n = x$values$n,
    method = x$settings$method, rotation = x$settings$rotation, analysed = x$settings$analysed,
    share = sum(x$values$variance$share), x$values$fit)
}

#' @export
fitted.factor_solution <- function(object, ...) {
  check_dots_empty(...)
  v <- object$values
  unit <- units_of(v$items, object$settings)
  core_reproduced(v$loadings * unit, v$factor_correlations, v$items$uniqueness * unit^2)
}

#' @export
residuals.factor_solution <- function(object, ...) {
  check_dots_empty(...)
  unit <- observed_units(object$values$items, object$settings)
  object$values$correlations * (unit %o% unit) - fitted.factor_solution(object)
}

#' @export
coef.factor_solution <- function(object, ...) {
  check_dots_empty(...)
  object$values$loadings
}

# A component whose eigenvalue is zero as far as numbers of this length tell is rounding.
NO_VARIANCE <- 1e-10

has_variance <- function(loadings) mean(loadings^2) > NO_VARIANCE
