# Core: factor scores.

# Regression scores (Thurstone 1935): for a person's standardised answers z on the items o that were
# answered, structure[o, ]' inv(R[o, o]) z[o], the best linear prediction of the factors from what
# there is. People with the same gaps share one solution of the equations.
# z: people x p with NA; usable: who is scored (logical); others get NA.
core_regression_scores <- function(z, correlations, structure, usable) {
  scores <- matrix(NA_real_, nrow(z), ncol(structure), dimnames = list(NULL, colnames(structure)))
  for (rows in core_gap_patterns(z, usable)) {
    has <- !is.na(z[rows[1L], ])
    weights <- solve(correlations[has, has, drop = FALSE], structure[has, , drop = FALSE])
    scores[rows, ] <- z[rows, has, drop = FALSE] %*% weights
  }
  scores
}

# Determinacy of each factor when nothing is missing: the correlation of its regression score with
# the factor (Guttman 1955), the root of diag(S' inv(R) S). Observed correlations R that could not
# come together with such factors (then S' inv(R) S exceeds the factor correlations somewhere, and a
# "correlation" may pass 1) give way to those that the model reproduces. `by_model` tells which.
core_determinacy <- function(correlations, structure, between, reproduced) {
  predicted <- function(r) {
    e <- eigen(r, symmetric = TRUE)
    kept <- e$values > 1e-12 * e$values[1L]
    crossprod(crossprod(e$vectors[, kept, drop = FALSE], structure) / sqrt(e$values[kept]))
  }
  inside <- predicted(correlations)
  by_model <- core_smallest_eigenvalue(between - inside) < -1e-9
  if (by_model) inside <- predicted(reproduced)
  list(values = sqrt(pmin(diag(inside), 1)), by_model = by_model)
}
