# Core: reliability of a sum of items from its covariance matrix (k x k).

# Alpha (Cronbach 1951, Psychometrika 16, 297-334): k / (k - 1) (1 - sum of variances / variance of
# the sum). A lower bound when errors are uncorrelated.
core_alpha <- function(covariances) {
  k <- ncol(covariances)
  if (k < 2L) return(NA_real_)
  k / (k - 1) * (1 - sum(diag(covariances)) / sum(covariances))
}

# Omega total (McDonald 1999): (sum of loadings)^2 / ((sum of loadings)^2 + sum of uniquenesses) of
# a one-factor model, loadings and uniquenesses in the items' units.
core_omega <- function(loadings, uniquenesses) sum(loadings)^2 / (sum(loadings)^2 + sum(uniquenesses))

# Correlation of each item with the sum of the others (corrected for overlap).
core_item_rest <- function(covariances) {
  variances <- diag(covariances)
  with_rest <- rowSums(covariances) - variances
  rest_variance <- sum(covariances) - 2 * rowSums(covariances) + variances
  with_rest / sqrt(variances * rest_variance)
}

core_alpha_without <- function(covariances) {
  vapply(seq_len(ncol(covariances)), function(i) core_alpha(covariances[-i, -i, drop = FALSE]), 0)
}
