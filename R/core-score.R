# Core: scores of people on factors, components and scales. `model` is a list of R `correlations`
# (p x p), L `loadings` and S `structure` (p x k), P `between` (k x k, the factors' correlations)
# and U `uniquenesses` (p). Weights W (p x k) are of standardised answers: scores are Z W.

# R^-1 S: the best linear prediction of the factors (Thurstone 1935). Of components these are the
# components themselves; R may then be singular, and the weights are those of least length.
core_regression_weights <- function(model) {
  core_score_weights(model$correlations, model$structure)
}

# U^-1 L (L' U^-1 L)^-1: unbiased, with the least error of what is an item's own (Bartlett 1937).
core_bartlett_weights <- function(model) {
  own <- model$loadings / model$uniquenesses
  t(core_solve(crossprod(model$loadings, own), t(own)))
}

# R^-1 L P^1/2 (P^1/2 L' R^-1 L P^1/2)^-1/2 P^1/2: scores that correlate as the factors do, W'RW =
# P (ten Berge, Krijnen, Wansbeek & Shapiro 1999, eq. 8).
core_preserving_weights <- function(model) {
  root <- core_power(model$between, 0.5)
  solved <- core_solve(model$correlations, model$loadings %*% root)
  solved %*% core_power(crossprod(model$loadings %*% root, solved), -0.5) %*% root
}

# U^-1 L (L' U^-1 R U^-1 L)^-1/2: Bartlett's with the further condition that scores do not
# correlate (Anderson & Rubin 1956), W'RW = I.
core_uncorrelated_weights <- function(model) {
  own <- model$loadings / model$uniquenesses
  own %*% core_power(crossprod(own, model$correlations %*% own), -0.5)
}

# A matrix that cannot be inverted gives NA: the method cannot be had from these items.
core_solve <- function(a, b) {
  tryCatch(solve(a, b), error = function(e) matrix(NA_real_, nrow(a), ncol(b)))
}

# Symmetric power of a positive definite matrix.
core_power <- function(m, power) {
  if (anyNA(m)) return(m * NA)
  e <- eigen(m, symmetric = TRUE)
  if (min(e$values) < 1e-10 * max(e$values)) return(m * NA)
  e$vectors %*% (e$values^power * t(e$vectors))
}

# Those items of a model that `has` names.
core_part_of_model <- function(model, has) {
  model$correlations <- model$correlations[has, has, drop = FALSE]
  model$loadings <- model$loadings[has, , drop = FALSE]
  model$structure <- model$structure[has, , drop = FALSE]
  model$uniquenesses <- model$uniquenesses[has]
  model
}

# How far scores are from the factors they stand for: the root of diag(W'RW - W'S - S'W + P). Of
# regression scores it is the spread of the factor among people with the same answers, of Bartlett's
# their standard error about the factor.
core_score_errors <- function(weights, r, structure, between) {
  spread <- colSums(weights * (r %*% weights))
  apart <- spread - 2 * colSums(weights * structure) + diag(between)
  sqrt(ifelse(apart < 1e-12, 0, apart))
}

# Correlations of scores (rows) with factors (columns), W'S over the scores' deviations.
core_score_validity <- function(weights, r, structure) {
  crossprod(weights, structure) / sqrt(colSums(weights * (r %*% weights)))
}

# Scores of standardised answers z (people x p, NA for gaps) by weights that are made anew for each
# pattern of gaps: weigh(has) of the items answered. With `model`, their errors too (its `told_by`
# are the correlations that these rest on). NA where there are no such weights.
core_scores_by_pattern <- function(z, k, weigh, model = NULL) {
  scores <- matrix(NA_real_, nrow(z), k)
  apart <- if (!is.null(model)) scores
  for (rows in core_gap_patterns(z, rowSums(!is.na(z)) > 0)) {
    has <- !is.na(z[rows[1L], ])
    weights <- weigh(has)
    scores[rows, ] <- z[rows, has, drop = FALSE] %*% weights
    if (is.null(model)) next
    r <- model$told_by[has, has, drop = FALSE]
    each <- core_score_errors(weights, r, model$structure[has, , drop = FALSE], model$between)
    apart[rows, ] <- rep(each, each = length(rows))
  }
  list(scores = scores, errors = apart)
}

# The weights of those items that were answered, when a gap takes the person's mean of the answered
# items of the same factor (`home`, turned by `sign`): the weight of what is missing is shared out
# among these. Where none of them was answered it falls to nobody: everybody's mean, 0, stands in.
core_own_mean_weights <- function(weights, has, home, sign) {
  turned <- weights * sign
  for (one in unique(home[!has])) {
    of <- home == one
    heirs <- which(of & has)
    if (!length(heirs)) next
    left <- colSums(turned[of & !has, , drop = FALSE]) / length(heirs)
    turned[heirs, ] <- turned[heirs, ] + rep(left, each = length(heirs))
  }
  (turned * sign)[has, , drop = FALSE]
}

# Determinacy of each factor when nothing is missing: the correlation of its regression score with
# the factor (Guttman 1955), the root of diag(S' inv(R) S). Observed correlations R that could not
# come together with such factors (then S' inv(R) S exceeds the factor correlations somewhere, and a
# "correlation" may pass 1) give way to those that the model reproduces. `by_model` tells which.
core_determinacy <- function(correlations, structure, between, reproduced) {
  predicted <- function(r) crossprod(structure, core_score_weights(r, structure))
  inside <- predicted(correlations)
  by_model <- core_smallest_eigenvalue(between - inside) < -1e-9
  if (by_model) inside <- predicted(reproduced)
  list(values = sqrt(pmin(diag(inside), 1)), by_model = by_model)
}

# The smallest correlation that two equally good sets of scores of a factor can have, 2 d^2 - 1 with
# d the determinacy (Guttman 1955).
core_smallest_correlation <- function(determinacy) 2 * determinacy^2 - 1

# Scores on scales: means of the answered items of each (n x p answers with gaps, p x k membership),
# and how many were answered.
core_scale_means <- function(answers, members) {
  there <- !is.na(answers)
  answers[!there] <- 0
  count <- there %*% members
  list(means = (answers %*% members) / count, count = count)
}

# Percentile rank of each score among others: the share below it, and half of the share equal to it,
# in per cent.
core_percentile <- function(scores, among) {
  among <- sort(among)
  below <- findInterval(scores, among, left.open = TRUE)
  up_to <- findInterval(scores, among)
  100 * (below + up_to) / 2 / length(among)
}

# Steps of rebuilding deviations y (people x p) from scores y W, S being their covariances: lists of
# `take` and `give` (p x k) so that the best linear prediction of y from the first m scores is the
# sum over j <= m of (y take_j) give_j'. Weights are made orthonormal in S, first to last
# (Cholesky).
core_rebuilding_steps <- function(weights, s) {
  take <- weights %*% backsolve(chol(crossprod(weights, s %*% weights)), diag(ncol(weights)))
  list(take = take, give = s %*% take)
}

core_rebuild <- function(y, steps) tcrossprod(y %*% steps$take, steps$give)

# Squares of y left after each step, summed over the answers `there`.
core_left_after <- function(y, there, steps) {
  scores <- y %*% steps$take
  left <- numeric(ncol(scores))
  for (j in seq_along(left)) {
    y <- y - tcrossprod(scores[, j], steps$give[, j])
    left[j] <- sum(y[there]^2)
  }
  left
}
