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
  tibble_of(item = rep(rownames(l), ncol(l)), factor = rep(colnames(l), each = nrow(l)),
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

# What extraction notices.

find_in_extraction <- function(found, items, analysed, lowest, method) {
  observed <- observed_units(items, list(analysed = analysed))
  bound <- items$item[found$uniquenesses / observed^2 <= lowest + 1e-8]
  unit <- fitted_units(found, observed, list(method = method, lowest_uniqueness = lowest))
  moved <- which(abs(unit^2 - 1) >= 0.0005)
  bind_findings(
    if (!found$converged) {
      new_finding("not_converged", count_of(found$iterations, "step"),
        format(found$gradient, digits = 2L), value = found$gradient, limit = CONVERGED_BELOW)
    },
    if (found$apart) {
      new_finding("starts_apart", found$apart, found$starts, value = found$apart,
        limit = found$starts)
    },
    if (length(bound)) {
      new_finding("improper_solution", bound, format(lowest), item = bound, value = lowest,
        limit = lowest)
    },
    if (length(moved)) {
      new_finding("fitted_variance", items$item[moved], format_number(unit[moved]^2, 3L),
        item = items$item[moved], value = unit[moved]^2, limit = 1)
    })
}

# What factors are called, and which of two solutions' factors are the same: names are kept when a
# solution is computed again.

# What a factor of another solution must be like to take over its name.
NAME_FROM <- function() cutoff("factor_similar")

# F1, F2, ... or C1, C2, ...: what factors are called as long as nobody names them.
plain_names <- function(k, settings) {
  paste0(upper(substr(one_of_model(settings), 1L, 1L)), seq_len(k))
}

factor_names <- function(solution) colnames(solution$values$loadings)

# Has anybody named its factors?
is_named <- function(solution) length(solution$settings$factor_names) > 0L

# The solution with other words for its factors. Names stand wherever loadings have columns: every
# later stage takes them from there.
rename_factors <- function(solution, names) {
  v <- solution$values
  k <- length(names)
  for (part in c("loadings", "structure", "raw_loadings", "transformation")) {
    if (!is.null(v[[part]])) colnames(v[[part]]) <- names
  }
  dimnames(v$factor_correlations) <- list(names, names)
  v$variance$factor <- names
  plain <- plain_names(k, solution$settings)
  parts <- unclass(solution)
  parts$values <- v
  parts$settings$factor_names <- if (!identical(names, plain)) stats::setNames(names, plain)
  structure(parts, class = oldClass(solution))
}

# Names of an earlier solution of much the same items, for the factors that match: those whose
# congruence over the shared items is high enough. The others keep their plain names, and findings
# say which is which.
keep_names <- function(solution, earlier) {
  if (!is_named(earlier)) return(solution)
  matched <- match_factors(solution, earlier)
  before <- factor_names(earlier)
  named <- setdiff(before, plain_names(length(before), earlier$settings))
  rows <- matched[matched$with %in% named, ]
  sure <- !is.na(rows$congruence) & abs(rows$congruence) >= NAME_FROM()
  names <- factor_names(solution)
  names[match(rows$factor[sure], names)] <- rows$with[sure]
  told <- function(row) {
    sprintf("%s (%s, congruence %s)", row$with, row$factor, format_unit(abs(row$congruence)))
  }
  kept <- rename_factors(solution, names)
  kept$findings <- bind_findings(solution$findings, if (any(sure)) {
    new_finding("names_kept", join_words(told(rows[sure, ])), value = sum(sure),
      limit = NAME_FROM())
  }, if (!all(sure)) {
    new_finding("names_lost", join_words(rows$with[!sure]), format_unit(NAME_FROM()),
      value = sum(!sure), limit = NAME_FROM())
  })
  kept
}

# The least number of shared items over which factors can be matched.
LEAST_SHARED <- 3L

shared_items <- function(a, b) intersect(a$values$items$item, b$values$items$item)

# One row for each factor of `a`: factor, with (that of `b` which stands for it, NA where none is
# left), sign (-1 where they run against each other), congruence (at least 0) and rms_difference of
# the loadings after reflection, over the items they share.
match_factors <- function(a, b) {
  shared <- shared_items(a, b)
  check_shared(shared)
  first <- a$values$loadings[shared, , drop = FALSE]
  second <- b$values$loadings[shared, , drop = FALSE]
  aligned <- core_aligned(second, first)
  difference <- first - aligned$loadings
  tibble_of(factor = colnames(first), with = colnames(second)[aligned$column],
    sign = ifelse(is.na(aligned$column), NA_real_, aligned$sign), congruence = aligned$congruence,
    rms_difference = unname(apply(difference, 2L, core_root_mean_square)))
}

check_shared <- function(shared) {
  if (length(shared) >= LEAST_SHARED) return(invisible())
  stop_input("other_items",
    sprintf("Solutions must share at least %d items to be compared.", LEAST_SHARED),
    got = if (length(shared)) {
      sprintf("They share %s: %s.", count_of(length(shared), "item"), name_culprits(shared))
    } else {
      "They share none."
    },
    todo = "Compare solutions of the same questionnaire.")
}

# How alike two factors are, in a word.
likeness <- function(congruence) {
  ifelse(is.na(congruence), "none",
    ifelse(congruence >= cutoff("factor_equal"), "very similar",
      ifelse(congruence >= cutoff("factor_similar"), "similar", "different")))
}
