# How much each row (item) counts in rotation: core_row_weights() has the formulas.

ROWS_NONE <- spec(name = "none", label = "rows as they are", order = 1, weights = function(
    loadings) {
  rep(1, nrow(loadings))
})

ROWS_KAISER <- spec(name = "kaiser", label = "rows of equal length", order = 2,
  reference = "Kaiser (1958)",
  weights = function(loadings) core_row_weights(loadings, "kaiser"))

ROWS_CURETON_MULAIK <- spec(name = "cureton_mulaik", label = "rows by how simple they look",
  order = 3, reference = "Cureton & Mulaik (1975)",
  weights = function(loadings) core_row_weights(loadings, "cureton_mulaik"))
