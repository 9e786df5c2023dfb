#' Factors of the factors, and what is left apart from them
#'
#' Where factors correlate, something more general may stand behind them. This factors the factor
#' correlations, and gives the Schmid-Leiman form: how each item loads on the general factor(s)
#' directly, and on what is left of its own group factor, all of them uncorrelated.
#'
#' @param solution A solution with an oblique rotation, of two factors or more ([rotate_factors()]).
#' @param factors How many general factors: a whole number, mostly 1. Several are rotated by
#' varimax.
#' @param x A `hierarchical_form`.
#' @param ... Not used.
#' @return An object of class `hierarchical_form` ([softsieve-result]); `values` holds, for p items,
#'   k factors and h general ones:
#'   * `loadings`: p x (h + k), the general factors G (or G1..Gh) first;
#'   * `table`: tibble, one row for each item: `item`, a column for each loading, `general_share`
#'     (of the item's communality that is general), `communality` (the row's sum of squares: as in
#'     `solution` but for what the general factors leave of the factor correlations), `uniqueness`
#'     (as in `solution`), `wording`, `reversed`;
#'   * `higher_loadings`: k x h, of the factors on the general ones; `higher_uniqueness`: k;
#'   * `variance`: tibble, one row for each column of `loadings`: `factor`, `sum_of_squares`,
#'     `share` (of all variance), `share_of_common`;
#'   * `general_share`: the share of the common variance that is general, from 0 to 1;
#'   * `residual`: root mean square of the factor correlations that the general factors leave.
#' @section Formulas:
#' With pattern \eqn{L} and factor correlations \eqn{P} that are factored by minimum residuals
#' \deqn{P = GG' + U^2}{P = GG' + U^2}
#' general loadings are \eqn{LG} and group loadings \eqn{LU}. Two factors tell no more than
#' \eqn{\sqrt{r}}{sqrt(r)} for both of their loadings, and with three the fit is exact.
#' @section Errors: `softsieve_error_class`, `softsieve_error_factors` (one factor; uncorrelated
#'   factors; more general factors than the factor correlations allow).
#' @section Findings: `two_factors` (loadings on the general factor are taken as equal),
#'   `wholly_general` (a factor that is entirely general), `weak_general` (less than half of the
#'   common variance is general).
#' @eval describe_papers("Schmid & Leiman (1957)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' hierarchical_form(factor_solution(motives, factors = 4, seed = 1))
#' @export
hierarchical_form <- function(solution, factors = 1L) {
  check_class(solution, "solution", "factor_solution", "rotate_factors() or factor_solution()")
  k <- ncol(solution$values$loadings)
  factors <- check_higher_number(solution, factors)
  between <- solution$values$factor_correlations
  higher <- core_higher_factors(between, factors)
  form <- core_schmid_leiman(solution$values$loadings, higher$loadings)
  general <- if (factors == 1L) "G" else paste0("G", seq_len(factors))
  loadings <- cbind(form$general, form$group)
  colnames(loadings) <- c(general, colnames(solution$values$loadings))
  dimnames(higher$loadings) <- list(colnames(between), general)
  items <- solution$values$items
  squares <- colSums(loadings^2)
  values <- list(loadings = loadings,
    table = hierarchical_table(loadings, general, items),
    higher_loadings = higher$loadings,
    higher_uniqueness = stats::setNames(higher$uniquenesses, colnames(between)),
    variance = tibble_of(factor = names(squares), sum_of_squares = unname(squares),
      share = unname(squares) / nrow(items), share_of_common = unname(squares) / sum(squares)),
    general_share = sum(squares[general]) / sum(squares),
    residual = if (k > 2L) {
      core_residual_sizes(
        between - core_reproduced(higher$loadings, diag(factors), higher$uniquenesses))$rmsr
    } else {
      0
    })
  new_result("hierarchical_form", values, c(solution$settings, list(general = factors)),
    find_in_hierarchy(values, higher, colnames(between)), solution$source, match.call())
}

check_higher_number <- function(solution, factors) {
  between <- solution$values$factor_correlations
  k <- ncol(between)
  if (k < 2L || max(abs(between[upper.tri(between)])) < 1e-8) {
    stop_input("factors", "There must be two factors or more, and they must correlate.",
      got = if (k < 2L) "The solution has one factor." else "The factors do not correlate.",
      todo = "Rotate obliquely first, for example rotate_factors(solution, \"oblimin\").")
  }
  most <- max(1L, core_most_factors(k))
  if (checkmate::test_int(factors, lower = 1, upper = most, tol = 0)) return(as.integer(factors))
  stop_input("factors",
    "`factors` must be a whole number of general factors that the factor correlations can tell.",
    got = describe_value(factors),
    todo = sprintf("The correlations of %d factors allow 1%s.", k,
      if (most > 1L) paste(" to", most) else ""))
}

hierarchical_table <- function(loadings, general, items) {
  home <- max.col(abs(loadings[, setdiff(colnames(loadings), general), drop = FALSE]),
    ties.method = "first")
  common <- rowSums(loadings^2)
  table <- tibble::as_tibble(cbind(items["item"], as.data.frame(loadings),
    general_share = rowSums(loadings[, general, drop = FALSE]^2) / common, communality = common,
    items[c("uniqueness", "wording", "reversed")]))
  table[order(home, -abs(loadings[cbind(seq_along(home), home + length(general))])), ]
}

find_in_hierarchy <- function(values, higher, names) {
  bound <- names[higher$uniquenesses <= HIGHER_LOWEST + 1e-8]
  bind_findings(if (length(names) == 2L) new_finding("two_factors"), if (length(bound)) {
    new_finding("wholly_general", bound, value = HIGHER_LOWEST, limit = HIGHER_LOWEST)
  }, if (values$general_share < cutoff("general_share")) {
    new_finding("weak_general", format_share(values$general_share), value = values$general_share,
      limit = cutoff("general_share"))
  })
}

#' @exportS3Method tibble::as_tibble
as_tibble.hierarchical_form <- function(x, ...) x$values$table

#' @rdname hierarchical_form
#' @export
tidy.hierarchical_form <- function(x, ...) {
  check_dots_empty(...)
  l <- x$values$loadings
  tibble_of(item = rep(rownames(l), ncol(l)), factor = rep(colnames(l), each = nrow(l)),
    loading = as.numeric(l))
}

#' @export
glance.hierarchical_form <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(items = nrow(x$values$table), factors = ncol(x$values$loadings) - x$settings$general,
    general = x$settings$general, general_share = x$values$general_share,
    residual = x$values$residual)
}

#' @export
coef.hierarchical_form <- function(object, ...) {
  check_dots_empty(...)
  object$values$loadings
}
