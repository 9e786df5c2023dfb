# Core: the order, the signs and the derived matrices of a factor solution. `loadings` is the
# pattern matrix (p x k) and `correlations` that of the factors (k x k, identity when orthogonal).

core_structure <- function(loadings, correlations) loadings %*% correlations

# The part of each item's variance that the factors account for: diag(L P L').
core_communalities <- function(loadings, correlations) {
  rowSums(loadings * core_structure(loadings, correlations))
}

# Variance explained by each factor, overlap shared out: sums over items of pattern times structure.
# Adds up to the sum of the communalities.
core_factor_variance <- function(loadings, correlations) {
  colSums(loadings * core_structure(loadings, correlations))
}

# Factors by falling variance, each turned so that its loadings sum to a positive number.
# `transformation` T follows, as do the factor correlations. Items count by their standard
# deviations `unit` where covariances are analysed.
core_order_and_reflect <- function(loadings, correlations, transformation, unit = 1) {
  order <- order(-core_factor_variance(loadings * unit, correlations))
  signs <- ifelse(colSums(loadings) < 0, -1, 1)[order]
  turn <- function(m) m[, order, drop = FALSE] %*% diag(signs, length(signs))
  list(loadings = turn(loadings), transformation = turn(transformation),
    correlations = t(turn(t(turn(correlations)))))
}

# The same of several, each a list of loadings, correlations and transformation.
core_order_each <- function(each, unit = 1) lapply(each, function(one) {
  core_order_and_reflect(one$loadings, one$correlations, one$transformation, unit)
})

# On how many factors an item loads, in effect (Hofmann 1978): (sum l^2)^2 / sum l^4, from 1 to k.
core_complexity <- function(loadings) rowSums(loadings^2)^2 / rowSums(loadings^4)

core_reproduced <- function(loadings, correlations, uniquenesses) {
  core_structure(loadings, correlations) %*% t(loadings) + diag(uniquenesses, length(uniquenesses))
}

# Root mean squares of the residual correlations off the diagonal (rmsr), and with it (srmr, Bentler
# 1995), and the largest off it, in size.
core_residual_sizes <- function(residuals) {
  off <- residuals[upper.tri(residuals)]
  whole <- residuals[upper.tri(residuals, diag = TRUE)]
  list(rmsr = sqrt(mean(off^2)), srmr = sqrt(mean(whole^2)), largest_residual = max(abs(off)))
}

core_degrees_of_freedom <- function(p, k) ((p - k)^2 - (p + k)) / 2

# The largest k that leaves degrees of freedom (Ledermann 1937).
core_most_factors <- function(p) {
  k <- seq_len(p - 1L)
  max(0L, k[core_degrees_of_freedom(p, k) >= 0])
}
