# Eigenvalues against 1, and against what sampling error and the larger eigenvalues leave.

judge_empirical_kaiser <- function(e) {
  table <- tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
    reference = core_empirical_kaiser(e$eigenvalues, e$n))
  k <- core_leading_above(table$eigenvalue, table$reference)
  at <- min(k + 1L, e$p)
  list(suggested = k, table = table,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(table$eigenvalue[at], table$reference[at])))
}

judge_eigenvalue_one <- function(e) {
  k <- sum(e$eigenvalues > 1)
  list(suggested = k,
    table = tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
      above_one = e$eigenvalues > 1),
    reason = sprintf("eigenvalue %d: %s", min(k + 1L, e$p),
      format_number(e$eigenvalues[min(k + 1L, e$p)])))
}
