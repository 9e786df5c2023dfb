# Eigenvalues against 1, and against what sampling error and the larger eigenvalues leave.

RULE_EMPIRICAL <- spec(name = "empirical_kaiser", label = "empirical Kaiser criterion", order = 6,
  reference = "Braeken & van Assen (2017)", pearson = TRUE,
  misleads = paste("Too few factors when there are fewer than about 10 people for each item or",
    "factors correlate highly; its reference never falls below 1."),
  judge = function(e) {
    table <- tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
      reference = core_empirical_kaiser(e$eigenvalues, e$n))
    k <- core_leading_above(table$eigenvalue, table$reference)
    at <- min(k + 1L, e$p)
    list(suggested = k, table = table,
      reason = sprintf("eigenvalue %d: %s", at,
        format_against(table$eigenvalue[at], table$reference[at])))
  })

RULE_ONE <- spec(name = "eigenvalue_one", label = "eigenvalue above 1", order = 13,
  reference = "Kaiser (1960)", pearson = FALSE,
  misleads = paste(
    "Too many factors nearly always: in samples, unrelated items too have eigenvalues",
    "above 1, about half of them. Here for comparison only."),
  judge = function(e) {
    k <- sum(e$eigenvalues > 1)
    list(suggested = k,
      table = tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
        above_one = e$eigenvalues > 1),
      reason = sprintf("eigenvalue %d: %s", min(k + 1L, e$p),
        format_number(e$eigenvalues[min(k + 1L, e$p)])))
  })
