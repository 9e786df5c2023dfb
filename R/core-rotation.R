# Core: rotation.

# What a criterion is made from, for the compiled core.
core_request <- function(criterion, parameter = 0, target = matrix(0, 0L, 0L), weights = target * 0 + 1) {
  list(criterion = criterion, parameter = parameter, target = target, weights = weights)
}

# Rotates `loadings` (p x k, k >= 2) whose rows count by `weights`. Returns `best`, `second` (or NULL) and
# start_values; best and second hold loadings, transformation T, correlations T'T, value, gradient,
# iterations and converged.
core_rotate_weighted <- function(loadings, oblique, request, weights, starts, seed, threads, progress = NULL) {
  found <- core_rotate(loadings * weights, oblique, request, starts, seed, threads, tolerance = 1e-8,
                       max_iterations = 1000L, progress)
  finish <- function(end) {
    if (is.null(end)) return(NULL)
    end$loadings <- end$loadings / weights
    end$correlations <- crossprod(end$transformation)
    diag(end$correlations) <- 1
    end
  }
  list(best = finish(found$best), second = finish(found$second), start_values = found$start_values)
}

# Row weights: "none"; "kaiser", each row to length 1 (Kaiser 1958, Psychometrika 23, 187-200);
# "cureton-mulaik" besides gives most weight to rows that look as if they had one salient loading, whose
# share of the first unrotated factor is about sqrt(1/k), and least to those that lie along that factor or
# away from it (Cureton & Mulaik 1975, Psychometrika 40, 183-195). With a = |l_i1| / |l_i| and c = arccos sqrt(1/k):
# cos^2 of 90 degrees times (c - arccos a) / c when a is at least sqrt(1/k), else (arccos a - c) / (90
# degrees - c); plus .001.
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

# Promax (Hendrickson & White 1964, Br. J. Stat. Psychol. 17, 65-70) from orthogonally rotated loadings
# A: least squares on the target sign(A) |A|^power, columns scaled so that factors have variance 1.
# `transformation` is that of the start.
core_promax <- function(loadings, transformation, power) {
  target <- sign(loadings) * abs(loadings)^power
  turn <- solve(crossprod(loadings), crossprod(loadings, target))
  turn <- turn %*% diag(sqrt(diag(solve(crossprod(turn)))), ncol(turn))
  correlations <- solve(crossprod(turn))
  # loadings = unrotated inv(T)': T = inv(V U)' for the start's V
  list(loadings = loadings %*% turn, transformation = t(solve(transformation %*% turn)), correlations = correlations)
}

# Starts that ended in different optima differ by more than rounding: their distinct criterion
# values, lowest first, with the share of starts that met each.
core_distinct_optima <- function(values, slack = 1e-6) {
  values <- sort(values)
  group <- cumsum(c(TRUE, diff(values) > slack * (1 + abs(values[-1L]))))
  list(value = as.numeric(tapply(values, group, min)), share = as.numeric(table(group)) / length(values))
}
