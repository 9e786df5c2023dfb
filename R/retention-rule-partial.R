# Velicer's minimum average partial: how many components leave the smallest partial correlations.

judge_partials <- function(e, averages, power) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  k <- which.min(averages[-e$p]) - 1L
  list(suggested = k,
    table = tibble::tibble(components = seq_len(e$p - 1L) - 1L, average = averages[-e$p]),
    reason = sprintf("partials to the %s smallest: %s", power, format_unit(averages[k + 1L], 4L)))
}
