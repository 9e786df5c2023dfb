# Parallel analysis as Horn wrote it: against the mean of chance.
judge_parallel_mean <- function(e) {
  table <- e$parallel$values$eigenvalues[c("rank", "eigenvalue", "chance_mean")]
  k <- core_leading_above(table$eigenvalue, table$chance_mean)
  at <- min(k + 1L, nrow(table))
  list(suggested = k, table = table,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(table$eigenvalue[at], table$chance_mean[at])))
}
