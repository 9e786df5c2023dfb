# How scores of factors are estimated. A spec has, beside what all have, `score`, function(z,
# correlations, structure, usable): people x factors, from standardised answers with gaps.

SCORE_REGRESSION <- spec(
  name = "regression",
  label = "regression scores",
  order = 1,
  reference = "Thurstone (1935)",
  score = function(z, correlations, structure, usable) {
    core_regression_scores(z, correlations, structure, usable)
  }
)
