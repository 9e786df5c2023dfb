# Parallel analysis as Horn wrote it: against the mean of chance.
RULE_MEAN <- spec(name = "parallel_mean", label = "parallel analysis (mean)", order = 2,
  reference = "Horn (1965)", pearson = FALSE,
  misleads = "Too many factors: half of all chance eigenvalues exceed their mean.",
  judge = function(e) {
    table <- e$parallel$values$eigenvalues[c("rank", "eigenvalue", "chance_mean")]
    k <- core_leading_above(table$eigenvalue, table$chance_mean)
    at <- min(k + 1L, nrow(table))
    list(suggested = k, table = table,
      reason = sprintf("eigenvalue %d: %s", at,
        format_against(table$eigenvalue[at], table$chance_mean[at])))
  })
