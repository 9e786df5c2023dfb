#' Correlations by group or by window
#'
#' The same correlations in each group of rows, or in each stretch of so many rows, side by side:
#' which differ, by how much, and what a narrower spread of a group alone would do.
#'
#' @param x A [questionnaire()].
#' @param by The groups: a column, bare or in quotes, or an expression of columns, such as
#'   `cut(depth, 3)`.
#' @param window In the place of `by`: a number of rows; stretches of so many, in the order of rows.
#' @param level Of limits, from .50 to .999. Those of differences are for all of them together
#'   (Bonferroni).
#' @param ... What [correlate_items()] takes: `kind`, `missing`.
#' @return An object of class `grouped_correlations` ([softsieve-result]); `values` holds `groups`
#'   (tibble: `group`, `rows`, `mean_size` of correlations), `correlations` (tibble, one row for
#'   each pair of items and group: `item`, `with`, `group`, `n`, `correlation`, `lower`, `upper`),
#'   `differences` (tibble, one row for each pair of items and of groups, the largest first: `item`,
#'   `with`, `group`, `against`, `correlation`, `correlation_against`, `difference`, `lower`,
#'   `upper`, `differs` (do the limits leave out 0?), `by_narrowing`: what the correlation of all
#'   rows becomes in `group` where its spread is narrower, `NA` where it is not) and `narrower`
#'   (tibble: `group`, `item`, `share` of the standard deviation over all rows).
#' @section Errors: `softsieve_error_groups` (fewer than two groups of 10 rows), those of
#'   [correlate_items()].
#' @section Findings: `narrower_spread`, `group_not_judged`, `few_people_in_group`.
#' @family before factors
#' @examples
#' log <- questionnaire(repair_log, visitors:kilograms, order = day, measured = TRUE,
#'   called = c(row = "day", column = "gauge"))
#' correlations_by(log, by = format(day, "%Y"))
#' correlations_by(log, window = 104)
#' @export
correlations_by <- function(x, by = NULL, window = NULL, level = 0.95, ...) {
  check_class(x, "x", "questionnaire", "questionnaire()")
  check_number(level, "level", 0.5, 0.999)
  rows <- settle_parts(rlang::enquo(by), window, x)
  all <- correlate_items(x, ...)
  parts <- lapply(rows, function(at) correlate_alike(subset_people(x, at), all))
  long <- stack_rows(Map(correlations_of_part, parts, names(rows), level))
  narrower <- narrower_in(parts, all)
  values <- list(
    groups = tibble_of(group = names(rows), rows = lengths(rows),
      mean_size = vapply(parts, function(one) {
        r <- one$values$correlations
        mean(abs(r[upper.tri(r)]))
      }, 0)),
    correlations = long,
    differences = differences_of_parts(parts, names(rows), level, all, narrower),
    narrower = narrower)
  new_result("grouped_correlations", values,
    c(all$settings, list(level = level, window = window)),
    bind_findings(findings_that_travel(all$findings), if (nrow(narrower)) {
      new_finding("narrower_spread", narrower$item, narrower$group, format_share(narrower$share),
        item = narrower$item, value = narrower$share, limit = NARROW)
    }), x$source, match.call())
}

# A group whose standard deviation is below this share of that of all rows is narrower.
NARROW <- 0.8
LEAST_ROWS <- 10L

# Rows of each part, by name.
settle_parts <- function(by, window, x) {
  n <- nrow(x$values$answers)
  if (rlang::quo_is_null(by) == is.null(window)) {
    stop_input("argument", "Give `by`, or `window`, and not both.",
      got = if (is.null(window)) "Neither came." else "Both came.")
  }
  if (!is.null(window)) {
    window <- check_whole(window, "window", LEAST_ROWS, max(LEAST_ROWS, n %/% 2L))
    series <- series_of(x$values$people, x$settings$order)
    order <- if (is.null(series)) seq_len(n) else series$rows
    part <- pmin((seq_len(n) - 1L) %/% window, n %/% window - 1L)
    rows <- split(order, part)
    ends <- cumsum(lengths(rows))
    return(stats::setNames(rows, sprintf("rows %d to %d", c(0L, ends[-length(ends)]) + 1L, ends)))
  }
  known <- all_columns(x)
  value <- tryCatch(rlang::eval_tidy(by, known), error = function(e) {
    stop_input("groups", "`by` must be a column, or an expression of columns.",
      got = conditionMessage(e), todo = sprintf("Columns: %s.", name_culprits(names(known), 30L)))
  })
  if (checkmate::test_string(value) && value %in% names(known)) value <- known[[value]]
  rows <- if (is.atomic(value) && length(value) == n) split(seq_len(n), value)
  rows <- rows[lengths(rows) >= LEAST_ROWS]
  if (length(rows) > 1L) return(rows)
  stop_input("groups", "There must be two groups or more, of ten rows or more each.",
    got = sprintf("%s came.", count_of(length(rows), "such group")))
}

pairs_of_items <- function(r) which(upper.tri(r), arr.ind = TRUE)

# How many independent rows that count alike each pair rests on.
rows_of_pairs <- function(part, at) {
  v <- part$values
  v$n_pair[at] * v$effective_share / v$design_effect
}

correlations_of_part <- function(part, name, level) {
  r <- part$values$correlations
  at <- pairs_of_items(r)
  limits <- core_fisher_limits(r[at], rows_of_pairs(part, at), level)
  tibble_of(item = rownames(r)[at[, 1L]], with = rownames(r)[at[, 2L]], group = name,
    n = part$values$n_pair[at], correlation = r[at], lower = limits$lower, upper = limits$upper)
}

narrower_in <- function(parts, all) {
  whole <- all$values$items
  stack_rows(Map(function(part, name) {
    share <- part$values$items$sd / whole$sd
    hit <- which(share < NARROW)
    tibble_of(group = rep(name, length(hit)), item = whole$item[hit], share = share[hit])
  }, parts, names(parts)))
}

differences_of_parts <- function(parts, names, level, all, narrower) {
  at <- pairs_of_items(all$values$correlations)
  two <- utils::combn(length(parts), 2L)
  own <- 1 - (1 - level) / (nrow(at) * ncol(two))
  r <- lapply(parts, function(part) part$values$correlations[at])
  n <- lapply(parts, rows_of_pairs, at)
  items <- rownames(all$values$correlations)
  made <- stack_rows(lapply(seq_len(ncol(two)), function(j) {
    i <- two[1L, j]
    k <- two[2L, j]
    limits <- core_difference_limits(r[[i]], r[[k]], n[[i]], n[[k]], own)
    tibble::tibble(item = items[at[, 1L]], with = items[at[, 2L]], group = names[i],
      against = names[k], correlation = r[[i]], correlation_against = r[[k]],
      difference = r[[i]] - r[[k]], lower = limits$lower, upper = limits$upper,
      differs = limits$lower > 0 | limits$upper < 0)
  }))
  share <- function(item) {
    found <- narrower$share[match(paste(made$group, item), paste(narrower$group, narrower$item))]
    ifelse(is.na(found), 1, found)
  }
  least <- pmin(share(made$item), share(made$with))
  whole <- all$values$correlations[cbind(match(made$item, items), match(made$with, items))]
  made$by_narrowing <- ifelse(least < 1, core_narrowed(whole, least), NA_real_)
  made[order(-abs(made$difference)), ]
}

#' @exportS3Method tibble::as_tibble
as_tibble.grouped_correlations <- function(x, ...) x$values$differences

#' @export
tidy.grouped_correlations <- function(x, ...) {
  check_dots_empty(...)
  x$values$correlations
}

#' @export
glance.grouped_correlations <- function(x, ...) {
  check_dots_empty(...)
  d <- x$values$differences
  tibble_of(groups = nrow(x$values$groups), differences = nrow(d), differ = sum(d$differs),
    largest = max(abs(d$difference)))
}
