# Core: eigenvalues against chance.

# Chance levels of each rank from a ranks x replicates matrix of chance eigenvalues.
core_chance_levels <- function(chance, percentile) {
  list(mean = rowMeans(chance), upper = apply(chance, 1L, stats::quantile, probs = percentile / 100, names = FALSE))
}

# How many of the leading values stand above their levels before the first that does not.
core_leading_above <- function(values, levels) sum(cumprod(values > levels))
