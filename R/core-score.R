# Core: scores of people on factors, components and scales. `model` is a list of R `correlations`
# (p x p), L `loadings` and S `structure` (p x k), P `between` (k x k, the factors' correlations)
# and U `uniquenesses` (p). Weights W (p x k) are of standardised answers: scores are Z W.

# R^-1 S: the best linear prediction of the factors (Thurstone 1935). Of components these are the
# components themselves; R may then be singular, and the weights are those of least length.
core_regression_weights <- function(model) core_score_weights(model$correlations, model$structure)

# The same times the roots of the eigenvalues (`roots`): eigenvectors, whose scores have the
# eigenvalues as variances (Hotelling 1933).
core_unit_weights <- function(model) sweep(core_regression_weights(model), 2L, model$roots, "*")

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

# What is known of each factor from its score: `slopes`, of the best prediction of the factor from
# the score alone (diag(W'S) / diag(W'RW)), and `errors`, the root of what it leaves, diag(P) -
# diag(W'S)^2 / diag(W'RW). Of unbiased scores (Bartlett's) slopes are 1, and the error is the
# score's about the factor: the root of diag(W'RW - W'S - S'W + P).
core_score_errors <- function(weights, r, structure, between, unbiased = FALSE) {
  spread <- colSums(weights * (r %*% weights))
  shared <- colSums(weights * structure)
  slopes <- if (unbiased) rep(1, length(shared)) else shared / spread
  apart <- slopes^2 * spread - 2 * slopes * shared + diag(between)
  list(slopes = slopes, errors = sqrt(ifelse(apart < 1e-12, 0, apart)))
}

# Of items that are cut normal variables: how the answers as they are go together, and with the
# factors. `thresholds` and `values` (categories, rising) of each item, NULL for items that are not
# cut; r (p x p) and `structure` (p x k) of what lies behind. Answer and normal variable correlate
# kappa = sum of rise times density at the threshold, over the answers' deviation; two answers by
# the probabilities of their tables.
core_answers_model <- function(thresholds, values, r, structure) {
  cut <- !vapply(thresholds, is.null, NA)
  rise <- lapply(values, diff)
  kappa <- rep(1, length(cut))
  sd <- rep(1, length(cut))
  for (i in which(cut)) {
    share <- diff(c(0, stats::pnorm(thresholds[[i]]), 1))
    mean <- sum(share * values[[i]])
    sd[i] <- sqrt(sum(share * (values[[i]] - mean)^2))
    kappa[i] <- sum(rise[[i]] * stats::dnorm(thresholds[[i]])) / sd[i]
  }
  own <- r * (kappa %o% kappa)
  for (j in which(cut)) {
    for (i in which(cut)[which(cut) < j]) {
      covariance <- cpp_cut_covariance(thresholds[[i]], rise[[i]], thresholds[[j]], rise[[j]],
        r[i, j])
      own[i, j] <- own[j, i] <- covariance / (sd[i] * sd[j])
    }
  }
  diag(own) <- 1
  list(correlations = own, kappa = kappa)
}

# Correlations of scores (rows) with factors (columns), W'S over the scores' deviations.
core_score_validity <- function(weights, r, structure) {
  crossprod(weights, structure) / sqrt(colSums(weights * (r %*% weights)))
}

# Scores of standardised answers z (people x p, NA for gaps) by weights that are made again for each
# pattern of gaps: weigh(has) of the items answered. With `model`, their errors too (its `told_by`
# are the correlations that these rest on), and `centres`, what is expected of the factor. NA where
# there are no such weights.
core_scores_by_pattern <- function(z, k, weigh, model = NULL, unbiased = FALSE) {
  scores <- matrix(NA_real_, nrow(z), k)
  apart <- centres <- if (!is.null(model)) scores
  for (rows in core_gap_patterns(z, rowSums(!is.na(z)) > 0)) {
    has <- !is.na(z[rows[1L], ])
    weights <- weigh(has)
    scores[rows, ] <- z[rows, has, drop = FALSE] %*% weights
    if (is.null(model)) next
    r <- model$told_by[has, has, drop = FALSE]
    structure <- model$structure[has, , drop = FALSE]
    each <- core_score_errors(weights, r, structure, model$between, unbiased)
    apart[rows, ] <- rep(each$errors, each = length(rows))
    centres[rows, ] <- sweep(scores[rows, , drop = FALSE], 2L, each$slopes, "*")
  }
  list(scores = scores, errors = apart, centres = centres)
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
# "correlation" may pass 1) give way to those that the model reproduces. `by_model` shows which.
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

# Scores on scales: means of the answered items of each (n x p answers with missing values, p x k
# membership), and how many were answered.
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

# Information about a factor at `levels` from an answer whose normal variable correlates s with it
# and is cut at `thresholds`: sum over categories of P'^2 / P (Samejima 1969).
core_graded_information <- function(s, thresholds, levels) {
  root <- sqrt(1 - s^2)
  z <- outer(s * levels, c(-Inf, thresholds, Inf), "-") / root
  above <- stats::pnorm(z)
  slope <- stats::dnorm(z) * s / root
  categories <- seq_len(ncol(z) - 1L)
  p <- above[, categories, drop = FALSE] - above[, categories + 1L, drop = FALSE]
  d <- slope[, categories, drop = FALSE] - slope[, categories + 1L, drop = FALSE]
  rowSums(ifelse(p > 1e-12, d^2 / p, 0))
}

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
