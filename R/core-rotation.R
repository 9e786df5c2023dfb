# Core: rotation.

# What a criterion is made from, for the compiled core.
core_request <- function(criterion, parameter = 0, target = matrix(0, 0L, 0L),
    weights = target * 0 + 1) {
  list(criterion = criterion, parameter = parameter, target = target, weights = weights)
}

# Rotates `loadings` (p x k, k >= 2) whose rows count by `weights`; turning: "orthogonal", "oblique"
# or "reference" (the criterion is of the loadings on reference axes). Returns `best`, `second` (or
# NULL) and start_values; best and second hold loadings, transformation T, correlations T'T, value,
# gradient, iterations and converged.
core_rotate_weighted <- function(loadings, turning, request, weights, starts, seed, threads,
    progress = NULL) {
  core_rotate_each(list(loadings), turning, list(request), list(weights), starts, seed, threads,
    progress)[[1L]]
}

# The same of several loadings, each with a request, weights and a seed of its own.
core_rotate_each <- function(each, turning, requests, weights, starts, seeds, threads,
    progress = NULL) {
  found <- cpp_rotate_each(Map(`*`, each, weights), turning, requests, starts, seeds, threads,
    tolerance = 1e-8, max_iterations = 1000L, progress)
  Map(function(one, loadings, weights) {
    finish <- function(end) {
      if (is.null(end)) return(NULL)
      if (turning == "reference") end$transformation <- core_primary_axes(end$transformation)
      end$loadings <- if (turning == "reference") {
        loadings %*% t(solve(end$transformation))
      } else {
        end$loadings / weights
      }
      end$correlations <- crossprod(end$transformation)
      diag(end$correlations) <- 1
      end
    }
    list(best = finish(one$best), second = finish(one$second), start_values = one$start_values)
  }, found, each, weights)
}

# Row weights: "none"; "kaiser", each row to length 1 (Kaiser 1958, Psychometrika 23, 187-200);
# "cureton-mulaik" besides gives most weight to rows that look as if they had one salient loading,
# whose share of the first unrotated factor is about sqrt(1/k), and least to those that lie along
# that factor or away from it (Cureton & Mulaik 1975, Psychometrika 40, 183-195). With a = |l_i1| /
# |l_i| and c = arccos sqrt(1/k): cos^2 of 90 degrees times (c - arccos a) / c when a is at least
# sqrt(1/k), else (arccos a - c) / (90 degrees - c); plus .001.
core_row_weights <- function(loadings, how) {
  lengths <- sqrt(rowSums(loadings^2))
  lengths[lengths == 0] <- 1
  if (how == "none") return(rep(1, nrow(loadings)))
  if (how == "kaiser") return(1 / lengths)
  angle <- acos(pmin(abs(loadings[, 1L]) / lengths, 1))
  middle <- acos(sqrt(1 / ncol(loadings)))
  away <- ifelse(angle <= middle, (middle - angle) / middle, (angle - middle) / (pi / 2 - middle))
  (cos(away * pi / 2)^2 + 0.001) / lengths
}

# The factors that belong to reference axes: each at a right angle to the other factors' axes.
core_primary_axes <- function(axes) {
  factors <- t(solve(axes))
  factors %*% diag(1 / sqrt(colSums(factors^2)), ncol(factors))
}

# Promax (Hendrickson & White 1964, Br. J. Stat. Psychol. 17, 65-70) from orthogonally rotated
# loadings A: aims at sign(A) |A|^power. `transformation` is that of the start.
core_promax <- function(loadings, transformation, power) {
  turned <- core_oblique_procrustes(loadings, sign(loadings) * abs(loadings)^power)
  turned$transformation <- transformation %*% turned$transformation
  turned
}

# Oblique Procrustes (Hurley & Cattell 1962, Behav. Sci. 7, 258-262): least squares on the target,
# columns scaled so that factors have variance 1. loadings = A inv(T)'.
core_oblique_procrustes <- function(loadings, target) {
  turn <- solve(crossprod(loadings), crossprod(loadings, target))
  turn <- turn %*% diag(sqrt(diag(solve(crossprod(turn)))), ncol(turn))
  list(loadings = loadings %*% turn, transformation = t(solve(turn)),
    correlations = solve(crossprod(turn)))
}

# Orthogonal Procrustes (Schonemann 1966, Psychometrika 31, 1-10): T = UV' of the singular vectors
# of A'B.
core_orthogonal_procrustes <- function(loadings, target) {
  parts <- svd(crossprod(loadings, target))
  turn <- parts$u %*% t(parts$v)
  list(loadings = loadings %*% turn, transformation = turn, correlations = diag(ncol(turn)))
}

# Starts that ended in different optima differ by more than rounding: their distinct criterion
# values, lowest first, with the share of starts that met each.
core_distinct_optima <- function(values, slack = 1e-6) {
  values <- sort(values)
  first <- which(c(TRUE, diff(values) > slack * (1 + abs(values[-1L]))))
  list(value = values[first], share = diff(c(first, length(values) + 1L)) / length(values))
}
