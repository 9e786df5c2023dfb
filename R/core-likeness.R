# Core: how alike solutions are, and what drawn numbers say.

# Coefficients of congruence of the columns of a with those of b, a'b / sqrt(a'a b'b) (Tucker 1951);
# 0 for a column of zeros.
core_congruences <- function(a, b) {
  size <- sqrt(colSums(a^2)) %o% sqrt(colSums(b^2))
  ifelse(size > 0, crossprod(a, b) / pmax(size, .Machine$double.xmin), 0)
}

# `loadings` in the order and signs of `target` (both p x k, the same items): columns that stand for
# its columns, as the assignment whose congruences in size add up to most says. Columns of the
# target that nothing stands for are NA.
core_aligned <- function(loadings, target) {
  found <- cpp_align_factors(loadings, target)
  turn <- function(x) x[, found$column, drop = FALSE] * rep(found$sign, each = nrow(x))
  list(loadings = turn(loadings), column = found$column, sign = found$sign,
    congruence = ifelse(is.na(found$column), NA_real_, found$congruence))
}

core_root_mean_square <- function(x) sqrt(mean(x^2))

# Weights of regression scores of standardised answers, R^-1 S with S the structure (Thurstone
# 1935); of components these are the components themselves. `r` may be singular: then the weights of
# least length.
core_score_weights <- function(r, structure) {
  e <- eigen(r, symmetric = TRUE)
  kept <- e$values > max(e$values) * 1e-10
  vectors <- e$vectors[, kept, drop = FALSE]
  vectors %*% (crossprod(vectors, structure) / e$values[kept])
}

# Correlations of the scores that two sets of weights give, from the items' correlations:
# D1^-1/2 W1' R W2 D2^-1/2 with D the variances W'RW.
core_score_correlations <- function(r, first, second) {
  spread <- function(w) sqrt(colSums(w * (r %*% w)))
  crossprod(first, r %*% second) / (spread(first) %o% spread(second))
}

# Standard error and percentile limits of each row of `draws` (numbers x replicates).
core_drawn_limits <- function(draws, level) {
  away <- (1 - level) / 2
  limits <- apply(draws, 1L, stats::quantile, c(away, 1 - away), na.rm = TRUE, names = FALSE)
  list(error = apply(draws, 1L, stats::sd, na.rm = TRUE), lower = limits[1L, ],
    upper = limits[2L, ])
}

# The same for numbers that draws are biased of, as samples are: about the corrected estimate, twice
# the estimate less the draws' mean, as far as the root mean square of the draws about the estimate
# says (correcting adds noise of its own). Within -1 and 1.
core_corrected_limits <- function(draws, estimate, level) {
  bias <- rowMeans(draws, na.rm = TRUE) - estimate
  error <- apply(draws, 1L, stats::sd, na.rm = TRUE)
  reach <- stats::qnorm((1 + level) / 2) * sqrt(error^2 + bias^2)
  list(error = error, bias = bias, lower = pmax(estimate - bias - reach, -1),
    upper = pmin(estimate - bias + reach, 1))
}
