# The shape of the scree plot, and the variance accounted for.

RULE_ELBOW <- spec(name = "elbow", label = "scree elbow", order = 14, reference = "Cattell (1966)",
  pearson = FALSE,
  misleads = paste("Nearly always 1 when the first eigenvalue is far larger than the rest; chance",
    "plays no part in it."),
  judge = function(e) {
    table <- tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
      bend = core_bends(e$eigenvalues))
    if (e$p < 3L) return(list(suggested = NA_integer_, reason = "needs three items", table = table))
    at <- which.max(table$bend)
    list(suggested = at - 1L, table = table, reason = sprintf("sharpest bend at rank %d", at))
  })

RULE_SHARE <- spec(name = "running_share", label = "share of variance", order = 15,
  reference = "Jolliffe (2002)", pearson = FALSE,
  misleads = paste("Meant for components that stand in for the items; it grows with the number of",
    "items, says nothing of common factors and takes up noise."),
  judge = function(e) {
    share <- cumsum(e$eigenvalues) / e$p
    k <- which(share >= e$settings$share - 1e-12)[1L]
    list(suggested = k,
      table = tibble::tibble(rank = seq_len(e$p), eigenvalue = e$eigenvalues, running_share = share,
        reaches_80 = share >= 0.8, reaches_90 = share >= 0.9),
      reason = sprintf("first %s %s (target %s)",
        if (k == 1L) "reaches" else sprintf("%d reach", k),
        format_share(share[k]), format_share(e$settings$share)))
  })
