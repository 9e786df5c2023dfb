# Core: the nearest correlation matrix.

# Higham (2002, IMA Journal of Numerical Analysis 22, 329-343): alternating projections, with
# Dykstra's correction, onto the positive semidefinite matrices and those with ones on the diagonal.
# Eigenvalues below `floor` times the largest are lifted to it at the end, so that the result can be
# inverted. Returns correlations, distance (Frobenius), largest_change, iterations, converged.
core_nearest_correlation <- function(correlations, floor = 1e-6, tolerance = 1e-9,
    max_iterations = 1000L) {
  y <- correlations
  correction <- 0 * y
  for (iteration in seq_len(max_iterations)) {
    before <- y
    shifted <- y - correction
    e <- eigen(shifted, symmetric = TRUE)
    x <- e$vectors %*% (pmax(e$values, 0) * t(e$vectors))
    correction <- x - shifted
    y <- (x + t(x)) / 2
    diag(y) <- 1
    if (max(abs(y - before)) < tolerance) break
  }
  e <- eigen(y, symmetric = TRUE)
  if (min(e$values) < floor * e$values[1L]) {
    y <- e$vectors %*% (pmax(e$values, floor * e$values[1L]) * t(e$vectors))
    y <- y / sqrt(diag(y) %o% diag(y))
  }
  dimnames(y) <- dimnames(correlations)
  change <- y - correlations
  list(correlations = (y + t(y)) / 2, distance = sqrt(sum(change^2)),
    largest_change = max(abs(change)), iterations = iteration,
    converged = iteration < max_iterations)
}
