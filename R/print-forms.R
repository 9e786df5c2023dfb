# Prints of what a solution can be taken apart into: layers of components, general and group
# factors.

#' @export
print.component_layers <- function(x, ...) {
  t <- x$values$table
  half <- which(t$running_share >= 0.5)[1L]
  shown <- utils::head(t, max(10L, x$settings$factors))
  show_result(
    x,
    sprintf(
      "%s of %s, layer by layer: the first %s for half of the variance.",
      capitalise(x$settings$analysed),
      count_of(nrow(t), "item"),
      if (half == 1L) "accounts" else sprintf("%d account", half)
    ),
    paste(
      "What each component reproduces, and how much is left off the diagonal after it",
      "(root mean square, and largest)."
    ),
    table_lines(
      list(
        component = shown$component,
        eigenvalue = format_number(shown$eigenvalue, 3L),
        share = format_share(shown$share, 1L),
        running_share = format_share(shown$running_share, 1L),
        "rms left" = format_unit(shown$rmsr, 3L),
        "largest left" = format_unit(shown$largest_residual, 3L)
      ),
      c(FALSE, rep(TRUE, 5L))
    ),
    below = if (nrow(t) > nrow(shown)) {
      sprintf("%d more, down to nothing left after %s", nrow(t) - nrow(shown), t$component[nrow(t)])
    } else {
      character()
    },
    next_step = paste(
      "fitted(x, component = j) is one layer's matrix, residuals(x, after = j) what is",
      "left."
    )
  )
}

#' @export
print.hierarchical_form <- function(x, ...) {
  v <- x$values
  h <- x$settings$general
  hide <- cutoff("salient_loading") / 1.5
  t <- v$table
  columns <- lapply(t[colnames(v$loadings)], function(l) ifelse(abs(l) < hide, "", format_unit(l)))
  higher <- lapply(seq_len(ncol(v$higher_loadings)), function(j) {
    format_unit(v$higher_loadings[, j])
  })
  names(higher) <- colnames(v$higher_loadings)
  show_result(
    x,
    sprintf(
      "%s %s for %s of the common variance of %s.",
      if (h == 1L) "The general factor" else sprintf("The %d general factors", h),
      if (h == 1L) "accounts" else "account",
      format_share(v$general_share),
      count_of(nrow(t), "item")
    ),
    paste(
      "Loadings on what is general (G) and on what is left of each factor; all of them",
      "are uncorrelated (Schmid-Leiman)."
    ),
    c(
      table_lines(
        c(
          list(item = t$item),
          columns,
          list(
            "general share" = format_share(t$general_share),
            communality = format_unit(t$communality),
            wording = keyed_wording(t$wording, t$reversed)
          )
        ),
        c(FALSE, rep(TRUE, length(columns) + 2L), FALSE)
      ),
      "",
      "  How the factors load on what is general:",
      table_lines(
        c(
          list(factor = rownames(v$higher_loadings)),
          higher,
          list("of its own" = format_share(v$higher_uniqueness))
        ),
        c(FALSE, rep(TRUE, h + 1L))
      )
    ),
    below = sprintf("Loadings below %s in size not shown", format_unit(hide)),
    next_step = paste(
      "assess_reliability() tells how much of a total score is general (omega",
      "hierarchical)."
    )
  )
}
