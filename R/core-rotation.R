# Core: rotation. Kaiser (1958) row weights: each row is scaled to length 1 before rotation and back
# after, so that items with small communalities count as much as the others.

# Rotates `loadings` (p x k, k >= 2). Returns loadings, transformation T, factor correlations T'T,
# and how the search went: value, gradient, iterations, converged, start_values.
core_rotate_weighted <- function(loadings, oblique, criterion, parameter, kaiser, starts, seed, threads,
                                 progress = NULL) {
  weights <- if (kaiser) sqrt(rowSums(loadings^2)) else rep(1, nrow(loadings))
  weights[weights == 0] <- 1
  found <- core_rotate(loadings / weights, oblique, criterion, parameter, starts, seed, threads,
                       tolerance = 1e-8, max_iterations = 1000L, progress)
  found$loadings <- found$loadings * weights
  found$correlations <- crossprod(found$transformation)
  diag(found$correlations) <- 1
  found
}

# Starts that ended in different optima differ by more than rounding: their distinct criterion
# values, lowest first, with the share of starts that met each.
core_distinct_optima <- function(values, slack = 1e-6) {
  values <- sort(values)
  group <- cumsum(c(TRUE, diff(values) > slack * (1 + abs(values[-1L]))))
  list(value = as.numeric(tapply(values, group, min)), share = as.numeric(table(group)) / length(values))
}
