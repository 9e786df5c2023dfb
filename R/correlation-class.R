#' What item correlations hold
#'
#' [correlate_items()] returns an object of class `item_correlations` ([softsieve-result]). Its
#' `values`, for p items:
#'
#' * `correlations`: p x p; `covariances`: p x p, or `NULL` unless of kind Pearson or covariance:
#'   the correlations times the items' standard deviations, each of these over all who answered the
#'   item (so that every stage that needs covariances uses the same ones; with gaps they are not
#'   those of the people of each pair);
#' * `standard_errors`: p x p, of the correlations; `n_pair`: p x p, how many people answered both;
#' * `n`: the number that tests use: the smallest of `n_pair` (everybody with an answer under
#'   `"em"`), times the effective share of the weights; `people`: how many gave at least one answer
#'   that was used; `effective_share`: 1 without weights;
#' * `items`: tibble, one row for each: `item`, `wording`, `scale`, `reversed`, `mean`, `sd`,
#'   `skewness`, `categories` (how many different answers);
#' * `thresholds`: for polychoric and mixed, a named list of each item's thresholds;
#' * `empty_cells`: for polychoric and mixed, p x p, empty cells of each pair's table;
#' * `chi_square`, `chi_df`: where the tables were made (items with up to 16 different answers,
#'   pairwise or complete), p x p: each pair's chi-square of independence and its degrees of
#'   freedom;
#' * `smallest_eigenvalue`;
#' * `questionnaire`: the answers that they came from, for stages that need these, or `NULL` (a
#'   matrix was given, or counts); `tables`: the counts of [tabulate_items()], where they came from
#'   these.
#'
#' `as_tibble()` has one row for each pair: `item`, `with`, `correlation`, `standard_error`,
#' `people`.
#' @name softsieve-item-correlations
NULL

# `found` is what the core returns; `people` how many entered; `share` the weights' effective share.
new_item_correlations <- function(
  found,
  people,
  share,
  items,
  settings,
  findings,
  source,
  call,
  questionnaire = NULL,
  tables = NULL
) {
  n <- if (identical(settings$missing, "em")) people else min(found$n_pair[upper.tri(found$n_pair)])
  thresholds <- found$thresholds
  if (!is.null(thresholds)) names(thresholds) <- items$item
  values <- list(
    correlations = found$correlations,
    covariances = found$covariances,
    standard_errors = found$standard_errors,
    n_pair = found$n_pair,
    n = if (share < 1) floor(n * share) else n,
    people = people,
    effective_share = share,
    items = items,
    thresholds = thresholds,
    empty_cells = found$empty_cells,
    chi_square = found$chi_square,
    chi_df = found$chi_df,
    smallest_eigenvalue = core_smallest_eigenvalue(found$correlations)
  )
  # kept as NULL where there is none
  values["questionnaire"] <- list(questionnaire)
  if (!is.null(tables)) values$tables <- tables
  new_result(
    "item_correlations",
    values,
    settings,
    bind_findings(findings, find_in_correlations(values, settings)),
    source,
    call
  )
}

#' @exportS3Method tibble::as_tibble
as_tibble.item_correlations <- function(x, ...) {
  v <- x$values
  pair <- which(upper.tri(v$correlations), arr.ind = TRUE)
  tibble::tibble(
    item = rownames(v$correlations)[pair[, 1L]],
    with = colnames(v$correlations)[pair[, 2L]],
    correlation = v$correlations[pair],
    standard_error = v$standard_errors[pair],
    people = v$n_pair[pair]
  )
}

# What anybody who uses the matrix must know of it.
find_in_correlations <- function(values, settings) {
  r <- values$correlations
  p <- ncol(r)
  same <- core_identical_pairs(r)
  bind_findings(
    if (nrow(same)) {
      new_finding(
        "identical_items",
        rownames(r)[same[, 1L]],
        colnames(r)[same[, 2L]],
        format_unit(r[same]),
        item = rownames(r)[same[, 1L]],
        value = r[same],
        limit = 1
      )
    },
    if (values$n <= p) {
      new_finding(
        "fewer_people_than_items",
        count_of(values$n, "person", "people"),
        count_of(p, "item"),
        value = values$n,
        limit = p
      )
    },
    if (abs(values$smallest_eigenvalue) < 1e-10) {
      new_finding("not_positive_definite", value = values$smallest_eigenvalue, limit = 0)
    },
    if (values$n < values$people && settings$missing == "pairwise") {
      find_n_of_tests(values)
    },
    if (values$n < 0.5 * max(values$n_pair) * values$effective_share) {
      new_finding(
        "few_pairs",
        format_count(min(values$n_pair)),
        count_of(max(values$n_pair), "person", "people"),
        value = values$n,
        limit = 0.5 * max(values$n_pair)
      )
    }
  )
}

# Why tests use fewer people than there are.
find_n_of_tests <- function(values) {
  off <- upper.tri(values$n_pair)
  at <- which(values$n_pair == min(values$n_pair[off]) & off, arr.ind = TRUE)[1L, ]
  weights <- if (values$effective_share < 1) {
    sprintf(", times the effective share of the weights (%s)", format_share(values$effective_share))
  } else {
    ""
  }
  new_finding(
    "n_of_tests",
    format_count(values$n),
    count_of(values$people, "person", "people"),
    rownames(values$n_pair)[at[1L]],
    colnames(values$n_pair)[at[2L]],
    weights,
    value = values$n,
    limit = values$people
  )
}

# What the way they were computed met: tables, categories, weights, convergence.
find_in_method <- function(found, items, settings, share) {
  pairs_where <- function(hit) {
    at <- which(hit & upper.tri(hit), arr.ind = TRUE)
    sprintf("%s with %s", items$item[at[, 1L]], items$item[at[, 2L]])
  }
  status <- if (is.null(found$status)) matrix(0, nrow(items), nrow(items)) else found$status
  empty <- if (is.null(found$empty_cells)) 0 * status else found$empty_cells
  bound <- pairs_where(status == 2)
  halved <- pairs_where(status == 1)
  hollow <- pairs_where(empty > 0 & status == 0)
  few <- !is.na(items$categories) & items$categories <= 4L
  coarse <- items$item[few | abs(items$skewness) > 1.5]
  numbers <- kind_is(settings$kind, "core") == "pearson" && length(coarse)
  bind_findings(
    if (length(bound)) {
      new_finding(
        "correlation_at_bound",
        if (length(bound) == 1L) "1 correlation is" else paste(length(bound), "correlations are"),
        name_culprits(bound),
        value = length(bound)
      )
    },
    if (length(halved)) {
      new_finding(
        "half_added",
        count_of(length(halved), "2 x 2 table"),
        name_culprits(halved),
        value = length(halved)
      )
    },
    if (length(hollow)) {
      new_finding(
        "empty_cells",
        count_of(length(hollow), "table"),
        pairs_where(empty == max(empty) & status == 0)[1L],
        value = length(hollow)
      )
    },
    if (numbers) {
      new_finding(
        "categories_as_numbers",
        if (length(coarse) == 1L) "1 item has" else paste(length(coarse), "items have"),
        name_culprits(coarse),
        severity = if (length(coarse) > nrow(items) / 2) "caution" else "note",
        value = length(coarse)
      )
    },
    if (isFALSE(found[["em"]]$converged)) {
      new_finding(
        "em_not_converged",
        format_count(found[["em"]]$iterations),
        value = found[["em"]]$iterations
      )
    },
    if (settings$weighted) {
      new_finding("weighted", format_share(share), value = share)
    }
  )
}

#' @export
glance.item_correlations <- function(x, ...) {
  check_dots_empty(...)
  r <- x$values$correlations
  tibble::tibble(
    items = ncol(r),
    people = x$values$people,
    n = x$values$n,
    kind = x$settings$kind,
    missing = x$settings$missing,
    mean_size = mean(abs(r[upper.tri(r)])),
    smallest_eigenvalue = x$values$smallest_eigenvalue
  )
}
