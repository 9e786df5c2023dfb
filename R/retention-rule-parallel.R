# The headline: parallel analysis as it was asked for.
judge_parallel <- function(e) {
  v <- e$parallel$values
  k <- v$suggested
  limit <- limit_column(e$parallel$settings)
  at <- min(k + 1L, nrow(v$eigenvalues))
  list(suggested = k, table = v$eigenvalues,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(v$eigenvalues$eigenvalue[at], v$eigenvalues[[limit]][at])))
}
