# Prints of what a solution can be taken apart into: layers of components, general and group
# factors.

#' @export
print.component_layers <- function(x, ...) {
  t <- x$values$table
  half <- which(t$cumulative_share >= 0.5)[1L]
  show_result(x,
    sprintf("%s of %s, layer by layer: the first %s of the variance.",
      capitalise(x$settings$analysed), count_of(nrow(t), "item"),
      if (half == 1L) {
        sprintf("accounts for %s", format_share(t$cumulative_share[1L]))
      } else {
        sprintf("%d account for %s", half, format_share(t$cumulative_share[half]))
      }),
    paste("What each component reproduces, and how much is left off the diagonal after it",
      "(root mean square, and largest)."),
    table_text(x),
    next_step = paste(
      "fitted(x, component = j) is one layer's matrix, residuals(x, after = j) what is",
      "left."))
}

#' @export
print.hierarchical_form <- function(x, ...) {
  v <- x$values
  h <- x$settings$general
  hide <- hierarchical_limit()
  show_result(x,
    sprintf("%s %s for %s of the common variance of %s.",
      if (h == 1L) "The general factor" else sprintf("The %d general factors", h),
      if (h == 1L) "accounts" else "account", format_share(v$general_share),
      count_of(nrow(v$table), "item")),
    paste("Loadings on what is general (G) and on what is left of each factor; all of them",
      "are uncorrelated (Schmid-Leiman)."),
    c(table_text(x, "loadings"), table_text(x, "higher", titled = TRUE)),
    below = sprintf("Loadings below %s in size not shown", format_unit(hide)),
    next_step = paste("assess_reliability() shows how much of a total score is general (omega",
      "hierarchical)."))
}

#' @export
print.wording_form <- function(x, ...) {
  v <- x$values
  show_result(
    x,
    sprintf("Wording accounts for %s of what %s share, beside %s (%s).", format_share(v$share),
      count_of(nrow(v$table), "item"), count_of(x$settings$factors, "topic"), n_of_people(v)),
    c(
      sprintf("Items that share their wording: %s. Their factor correlates with no topic.",
        join_words(x$settings$items)),
      sprintf("Root mean square residual: %s with it, %s without.", format_unit(v$rmsr, 3L),
        format_unit(v$rmsr_without, 3L))),
    c(table_text(x, "loadings"), table_text(x, "scales", titled = TRUE)),
    below = sprintf("Loadings below %s in size not shown", format_unit(hierarchical_limit())),
    next_step = "omega is what to report of a scale with such items, not what includes the wording."
  )
}

#' @export
print.information_curves <- function(x, ...) {
  c <- x$values$curves
  each <- vapply(unique(c$factor), function(factor) {
    own <- c[c$factor == factor, ]
    best <- which.min(own$error)
    sprintf("%s is known best at %s (error %s)", factor, format_number(own$level[best], 1L),
      format_unit(own$error[best]))
  }, "")
  show_result(x, sprintf("%s.", join_words(each)),
    paste(
      "Levels are standard deviations from the mean of the factor; slope: how steeply answers rise",
      "with it; most at: where the item tells most."),
    c(table_text(x, "slopes"), table_text(x, "curves", titled = TRUE)),
    next_step = "plot() draws the curves; values$thresholds has where each answer begins.")
}
