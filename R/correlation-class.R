#' What item correlations hold
#'
#' [correlate_items()] returns an object of class `item_correlations` ([softsieve-result]). Its
#' `values`, for p items:
#'
#' * `correlations`: p x p; `covariances`: p x p, or `NULL` unless of kind Pearson or covariance:
#'   the correlations times the items' standard deviations, each of these over all who answered the
#'   item (so that every stage that needs covariances uses the same ones; with missing answers they
#'   are not those of the people of each pair);
#' * `standard_errors`: p x p, of the correlations, from how much each person's (or cluster's)
#'   answers move them, so that skewed answers, missing answers, weights and clusters are allowed
#'   for; where that is not known (Spearman, mixed, counts, a matrix), by the formulas of
#'   [correlate_items()]; `n_pair`: p x p, how many people answered both;
#' * `n`: how many people with all answers, drawn one by one and counting alike, would tell as much
#'   about unrelated items: the harmonic mean of `n_pair`, times `effective_share` (1 without
#'   weights), over `design_effect` (1 without clusters); chance levels rest on it, and what else
#'   needs one number; `people`: how many gave at least one answer that was used;
#' * `items`: tibble, one row for each: `item`, `wording`, `scale`, `reversed`, `mean`, `sd`,
#'   `skewness`, `categories` (how many different answers);
#' * `thresholds`, `category_values`: for polychoric and mixed, named lists of each item's
#'   thresholds and of its answers, rising;
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
new_item_correlations <- function(found, people, share, items, settings, findings, source, call,
    questionnaire = NULL, tables = NULL, threads = 1L) {
  thresholds <- found$thresholds
  if (!is.null(thresholds)) names(thresholds) <- items$item
  values <- list(correlations = found$correlations, covariances = found$covariances,
    standard_errors = found$standard_errors, n_pair = found$n_pair, n = NA_real_, people = people,
    effective_share = share, items = items, thresholds = thresholds,
    empty_cells = found$empty_cells, chi_square = found$chi_square, chi_df = found$chi_df,
    category_values = category_values_of(found, thresholds),
    smallest_eigenvalue = core_smallest_eigenvalue(found$correlations))
  # kept as NULL where there is none
  values["questionnaire"] <- list(questionnaire)
  if (!is.null(tables)) values$tables <- tables
  if (!is.null(questionnaire)) values$cluster <- clusters_of(questionnaire)
  values$em <- found[["em"]]
  settings$order <- questionnaire$settings$order
  values <- settle_errors(values, settings, source, threads)
  new_result("item_correlations", values, settings,
    bind_findings(findings, find_in_correlations(values, settings)), source, call)
}

#' @exportS3Method tibble::as_tibble
as_tibble.item_correlations <- function(x, ...) {
  v <- x$values
  pair <- which(upper.tri(v$correlations), arr.ind = TRUE)
  tibble_of(item = rownames(v$correlations)[pair[, 1L]],
    with = colnames(v$correlations)[pair[, 2L]], correlation = v$correlations[pair],
    standard_error = v$standard_errors[pair], people = v$n_pair[pair])
}

# The categories of each item that has thresholds, rising; NULL for others.
category_values_of <- function(found, thresholds) {
  if (is.null(thresholds)) return(NULL)
  known <- if (is.null(found$category_values)) found$values else found$category_values
  one <- function(cuts, values) if (!is.null(cuts)) as.numeric(values)
  stats::setNames(Map(one, unname(thresholds), unname(known)), names(thresholds))
}

# What anybody who uses the matrix must know of it.
find_in_correlations <- function(values, settings) {
  r <- values$correlations
  p <- ncol(r)
  pair <- range(values$n_pair[upper.tri(r)])
  same <- core_identical_pairs(r)
  bind_findings(
    if (nrow(same)) {
      new_finding("identical_items", rownames(r)[same[, 1L]], colnames(r)[same[, 2L]],
        format_unit(r[same]), item = rownames(r)[same[, 1L]], value = r[same], limit = 1)
    },
    if (values$n <= p) {
      new_finding("fewer_people_than_items", count_of(values$n, "person", "people"),
        count_of(p, "item"), value = values$n, limit = p)
    },
    if (abs(values$smallest_eigenvalue) < 1e-10) {
      new_finding("not_positive_definite", value = values$smallest_eigenvalue, limit = 0)
    },
    if (values$n < values$people) find_n_of_tests(values, settings),
    if (pair[1L] < 0.5 * pair[2L]) {
      new_finding("few_pairs", format_count(pair[1L]), count_of(pair[2L], "person", "people"),
        value = pair[1L], limit = 0.5 * pair[2L])
    },
    if (!is.null(values$cluster)) find_clusters(values, settings))
}

# Why chance levels use fewer people than there are.
find_n_of_tests <- function(values, settings) {
  pair <- range(values$n_pair[upper.tri(values$n_pair)])
  why <- c(
    if (pair[1L] < values$people) {
      sprintf("%s answered both items of a pair", say_range_of_people(pair))
    },
    if (values$effective_share < 1) {
      sprintf("the weights' effective share is %s", format_share(values$effective_share))
    },
    if (values$design_effect > 1) {
      sprintf(if (length(settings$order)) {
        "neighbouring rows depend on each other (design effect %s)"
      } else {
        "the clusters' design effect is %s"
      }, format_number(values$design_effect))
    })
  new_finding("n_of_tests", format_count(values$n), format_count(values$people), join_words(why),
    value = values$n, limit = values$people)
}

say_range_of_people <- function(pair) {
  most <- count_of(pair[2L], "person", "people")
  if (pair[1L] == pair[2L]) most else paste(format_count(pair[1L]), "to", most)
}

# Too few clusters to show how much they vary.
find_clusters <- function(values, settings) {
  clusters <- length(unique(values$cluster))
  if (clusters >= CLUSTERS_FOR_TESTS) return(NULL)
  if (length(settings$order)) {
    return(new_finding("few_blocks", format_count(clusters), CLUSTERS_FOR_TESTS, value = clusters,
      limit = CLUSTERS_FOR_TESTS))
  }
  new_finding("few_clusters", count_of(clusters, "cluster"), settings$cluster, CLUSTERS_FOR_TESTS,
    value = clusters, limit = CLUSTERS_FOR_TESTS)
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
  skewed <- items$item[!few & abs(items$skewness) > 1.5]
  numbers <- kind_is(settings$kind, "core") == "pearson" && length(skewed)
  bind_findings(
    if (length(bound)) {
      new_finding("correlation_at_bound",
        if (length(bound) == 1L) "1 correlation is" else paste(length(bound), "correlations are"),
        name_culprits(bound), value = length(bound))
    },
    if (length(halved)) {
      new_finding("half_added", count_of(length(halved), "2 x 2 table"), name_culprits(halved),
        value = length(halved))
    },
    if (length(hollow)) {
      new_finding("empty_cells", count_of(length(hollow), "table"),
        pairs_where(empty == max(empty) & status == 0)[1L], value = length(hollow))
    },
    if (numbers) {
      new_finding("skewed_as_numbers",
        if (length(skewed) == 1L) "1 item has" else paste(length(skewed), "items have"),
        name_culprits(skewed),
        severity = if (length(skewed) > nrow(items) / 2) "caution" else "note",
        value = length(skewed))
    },
    if (isFALSE(found[["em"]]$converged)) {
      new_finding("em_not_converged", format_count(found[["em"]]$iterations),
        value = found[["em"]]$iterations)
    },
    if (settings$weighted) new_finding("weighted", format_share(share), value = share))
}

#' @export
glance.item_correlations <- function(x, ...) {
  check_dots_empty(...)
  r <- x$values$correlations
  tibble_of(items = ncol(r), people = x$values$people, n = x$values$n, kind = x$settings$kind,
    missing = x$settings$missing, mean_size = mean(abs(r[upper.tri(r)])),
    smallest_eigenvalue = x$values$smallest_eigenvalue)
}

# Correlations of some of the items; without the questionnaire, which stays with all of them.
correlations_of_some <- function(all, items) {
  v <- all$values
  at <- match(items, v$items$item)
  square <- c("correlations", "covariances", "standard_errors", "n_pair", "empty_cells",
    "chi_square", "chi_df")
  for (name in square) if (!is.null(v[[name]])) v[[name]] <- v[[name]][at, at, drop = FALSE]
  if (!is.null(v$thresholds)) v$thresholds <- v$thresholds[at]
  v$items <- v$items[at, ]
  v$n <- n_of_tests(v, all$settings)
  if (is.null(v$part_of)) v$part_of <- all # of a part: what that is a part of
  v$smallest_eigenvalue <- core_smallest_eigenvalue(v$correlations)
  v["questionnaire"] <- list(NULL)
  if (!is.null(v$tables)) v$tables <- keep_counted(v$tables, items)
  parts <- unclass(all)
  parts$values <- v
  parts$source$items <- items
  structure(parts, class = class(all))
}
