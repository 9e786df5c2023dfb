# How much each row (item) counts in rotation: core_row_weights() has the formulas.

NORMALIZATIONS <- family(
  none = spec(label = "rows as they are", weights = function(loadings) rep(1, nrow(loadings))),
  kaiser = spec(label = "rows of equal length", reference = "Kaiser (1958)",
    weights = function(loadings) core_row_weights(loadings, "kaiser")),
  cureton_mulaik = spec(label = "rows by how simple they look",
    reference = "Cureton & Mulaik (1975)",
    weights = function(loadings) core_row_weights(loadings, "cureton_mulaik")))
