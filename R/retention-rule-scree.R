# The shape of the scree plot, and the variance accounted for.

judge_elbow <- function(e) {
  table <- tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
    bend = core_bends(e$eigenvalues))
  if (e$p < 3L) return(list(suggested = NA_integer_, reason = "needs three items", table = table))
  at <- which.max(table$bend)
  list(suggested = at - 1L, table = table, reason = sprintf("sharpest bend at rank %d", at))
}

judge_cumulative_share <- function(e) {
  share <- cumsum(e$eigenvalues) / e$p
  k <- which(share >= e$settings$share - 1e-12)[1L]
  list(suggested = k,
    table = tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
      cumulative_share = share, reaches_80 = share >= 0.8, reaches_90 = share >= 0.9),
    reason = sprintf("first %s %s (target %s)", if (k == 1L) "reaches" else sprintf("%d reach", k),
      format_share(share[k]), format_share(e$settings$share)))
}
