#' Which items belong to which factor
#'
#' The pattern matrix as people read it: items sorted by the factor they load on most and by the
#' size of that loading, small loadings left blank, the wording beside.
#'
#' @param solution A `factor_solution`.
#' @param hide_below Loadings smaller than this in size, from 0 to 1, are `NA` in the table (blank
#' in print).
#' @param sort Sort the items? Otherwise they stand in the questionnaire's order.
#' @return An object of class `pattern_table` ([softsieve-result]); `values` holds `table` (a
#'   tibble, one row for each item: `item`, `factor` (the one it loads on most, `NA` when no loading
#'   reaches `hide_below`), a column for each factor, `communality`, `uniqueness`, `complexity`,
#'   `wording`, `reversed`), `loadings` (all of them, p x k), `hidden` (how many are blank in the
#'   table) and `factors` (their names).
#' @section Findings: `no_salient_loading`, `crossing_item`, `low_communality`.
#' @references Floyd, F. J., & Widaman, K. F. (1995). Factor analysis in the development and
#'   refinement of clinical assessment instruments. *Psychological Assessment*, 7, 286-299.
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' pattern_table(factor_solution(motives, seed = 1))
#' @export
pattern_table <- function(solution, hide_below = cutoff("salient_loading"), sort = TRUE) {
  check_class(solution, "solution", "factor_solution", "extract_factors() or rotate_factors()")
  check_number(hide_below, "hide_below", 0, 1)
  check_flag(sort, "sort")
  loadings <- solution$values$loadings
  home <- home_factor(loadings, hide_below)
  order <- seq_len(nrow(loadings))
  if (sort) order <- order(home, -apply(abs(loadings), 1L, max), na.last = TRUE)
  hidden <- abs(loadings) < hide_below
  shown <- loadings
  shown[hidden] <- NA
  items <- solution$values$items
  table <- tibble::as_tibble(cbind(
    tibble::tibble(item = items$item, factor = colnames(loadings)[home]),
    as.data.frame(shown),
    items[c("communality", "uniqueness", "complexity", "wording", "reversed")]
  ))[
    order,

  ]
  values <- list(
    table = table,
    loadings = loadings,
    hidden = sum(hidden),
    factors = colnames(loadings)
  )
  settings <- c(solution$settings, list(hide_below = hide_below, sort = sort))
  new_result(
    "pattern_table",
    values,
    settings,
    find_in_pattern(solution, home, hide_below),
    solution$source,
    match.call()
  )
}

#' @exportS3Method tibble::as_tibble
as_tibble.pattern_table <- function(x, ...) x$values$table

# Item by item with every loading: files lose nothing of what is hidden on show.
full_pattern <- function(pattern) {
  table <- pattern$values$table
  table[pattern$values$factors] <- as.data.frame(
    pattern$values$loadings[table$item, , drop = FALSE]
  )
  table
}

find_in_pattern <- function(solution, home, salient) {
  items <- solution$values$items
  weak <- items$item[is.na(home)]
  # before rotation items are expected to load on several
  unread <- solution$settings$rotation == "none" && ncol(solution$values$loadings) > 1L
  crossing <- if (!unread) crossing_items(solution$values$loadings, salient)
  low <- items[items$communality < cutoff("low_communality") & !is.na(home), ]
  bind_findings(
    if (length(weak)) {
      new_finding("no_salient_loading", weak, format_unit(salient), item = weak, limit = salient)
    },
    if (length(crossing)) {
      new_finding("crossing_item", crossing, item = crossing, limit = salient)
    },
    if (nrow(low)) {
      new_finding(
        "low_communality",
        low$item,
        format_share(low$communality),
        item = low$item,
        value = low$communality,
        limit = cutoff("low_communality")
      )
    }
  )
}

# The index of the factor an item loads on most, NA when no loading is salient.
home_factor <- function(loadings, salient) {
  size <- abs(loadings)
  home <- max.col(size, ties.method = "first")
  home[size[cbind(seq_along(home), home)] < salient] <- NA
  home
}

# Items with salient loadings on two or more factors.
crossing_items <- function(loadings, salient) {
  rownames(loadings)[rowSums(abs(loadings) >= salient) > 1L]
}

#' @export
glance.pattern_table <- function(x, ...) {
  check_dots_empty(...)
  t <- x$values$table
  tibble::tibble(
    items = nrow(t),
    factors = length(x$values$factors),
    without_factor = sum(is.na(t$factor)),
    hidden = x$values$hidden
  )
}

#' @export
tidy.pattern_table <- function(x, ...) {
  check_dots_empty(...)
  l <- x$values$loadings[x$values$table$item, , drop = FALSE]
  tibble::tibble(
    item = rep(rownames(l), ncol(l)),
    factor = rep(colnames(l), each = nrow(l)),
    loading = as.numeric(l),
    hidden = as.logical(abs(l) < x$settings$hide_below)
  )
}

#' @export
coef.pattern_table <- function(object, ...) {
  check_dots_empty(...)
  object$values$loadings
}
