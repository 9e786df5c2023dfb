# The headline: parallel analysis as it was asked for.
RULE_PARALLEL <- spec(name = "parallel", label = "parallel analysis", order = 1,
  reference = "Horn (1965)", pearson = FALSE,
  misleads = paste(
    "Too few factors when a strong first one leaves little for the others, or factors",
    "correlate highly; too many with the mean of chance and many items."),
  judge = function(e) {
    v <- e$parallel$values
    k <- v$suggested
    limit <- limit_column(e$parallel$settings)
    at <- min(k + 1L, nrow(v$eigenvalues))
    list(suggested = k, table = v$eigenvalues,
      reason = sprintf("eigenvalue %d: %s", at,
        format_against(v$eigenvalues$eigenvalue[at], v$eigenvalues[[limit]][at])))
  })
