# Velicer's minimum average partial: how many components leave the smallest partial correlations.

judge_partials <- function(e, averages, power) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  k <- which.min(averages[-e$p]) - 1L
  list(suggested = k,
    table = tibble::tibble(components = seq_len(e$p - 1L) - 1L, average = averages[-e$p]),
    reason = sprintf("partials to the %s smallest: %s", power, format_unit(averages[k + 1L], 4L)))
}

RULE_PARTIAL <- spec(name = "average_partial", label = "minimum average partial", order = 7,
  reference = "Velicer (1976)", pearson = FALSE,
  misleads = "Too few factors when loadings are low or a factor has few items.",
  judge = function(e) judge_partials(e, e$partial_squares, "square"))

RULE_PARTIAL_FOURTH <- spec(name = "average_partial_fourth",
  label = "minimum average partial (4th)", order = 8, reference = "Velicer, Eaton & Fava (2000)",
  pearson = FALSE,
  misleads = "As its elder, but a little less inclined to too few.",
  judge = function(e) judge_partials(e, e$partial_fourths, "4th"))
