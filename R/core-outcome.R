# Core: how well a few components, factors or columns of x predict y in rows left out. Everything is
# learned from the rows of training alone: means, deviations, correlations, weights, coefficients.

# What is needed of the rows of training: means, deviations and correlations (pairwise).
core_learn_columns <- function(x) {
  mean <- colMeans(x, na.rm = TRUE)
  sd <- apply(x, 2L, stats::sd, na.rm = TRUE)
  keep <- which(is.finite(sd) & sd > 0)
  r <- suppressWarnings(stats::cor(x[, keep, drop = FALSE], use = "pairwise.complete.obs"))
  r[is.na(r)] <- 0
  diag(r) <- 1
  list(mean = mean, sd = sd, keep = keep, r = r)
}

# Rows in those units, at the mean (0) where a value is missing.
core_in_learned_units <- function(x, learned) {
  z <- sweep(sweep(x, 2L, learned$mean), 2L, learned$sd, "/")[, learned$keep, drop = FALSE]
  z[is.na(z)] <- 0
  z
}

# Weights (p x k) of the first k components, of regression scores of k factors, or 1 for the column
# that loads most on each of k components turned by varimax.
core_outcome_weights <- function(learned, k, of) {
  r <- learned$r
  p <- ncol(r)
  if (of == "factors") {
    found <- core_search_surely(r, k, "minres", rep(0.005, p), 2L, 4L)
    return(core_score_weights(r, found$loadings))
  }
  e <- eigen(r, symmetric = TRUE)
  first <- seq_len(k)
  if (of == "components") {
    return(e$vectors[, first, drop = FALSE] %*% diag(1 / sqrt(pmax(e$values[first], 1e-12)), k))
  }
  loadings <- e$vectors[, first, drop = FALSE] %*% diag(sqrt(pmax(e$values[first], 0)), k)
  if (k > 1L) {
    loadings <- core_rotate_weighted(loadings, "orthogonal",
      core_request("crawford-ferguson", 1 / p), rep(1, p), 1L, 1, 1L)$best$loadings
  }
  chosen <- integer()
  for (j in order(-colSums(loadings^2))) {
    left <- setdiff(seq_len(p), chosen)
    chosen <- c(chosen, left[which.max(abs(loadings[left, j]))])
  }
  diag(p)[, chosen, drop = FALSE]
}

# Predictions for other rows by least squares, or of a class (y is 0 or 1) by logistic regression:
# probabilities, held within 1e-6 of 0 and 1.
core_predict_outcome <- function(scores, y, others, class) {
  X <- cbind(1, scores)
  Z <- cbind(1, others)
  if (!class) {
    b <- stats::lm.fit(X, y)$coefficients
    b[is.na(b)] <- 0
    return(drop(Z %*% b))
  }
  b <- suppressWarnings(stats::glm.fit(X, y, family = stats::binomial())$coefficients)
  b[is.na(b)] <- 0
  pmin(pmax(stats::plogis(drop(Z %*% b)), 1e-6), 1 - 1e-6)
}

# Loss of each row: squared error, or minus twice the log-likelihood.
core_outcome_loss <- function(y, predicted, class) {
  if (class) -2 * (y * log(predicted) + (1 - y) * log(1 - predicted)) else (y - predicted)^2
}

# Losses of the rows left out in one fold (rows x models): nothing but the mean ("none"), 1 to
# `most` components (or what `of` says), all columns, and the one that is best in training.
core_outcome_fold <- function(x, y, out, most, of, class) {
  learned <- core_learn_columns(x[-out, , drop = FALSE])
  here <- core_in_learned_units(x[-out, , drop = FALSE], learned)
  there <- core_in_learned_units(x[out, , drop = FALSE], learned)
  own <- y[-out]
  try_with <- function(w) core_predict_outcome(here %*% w, own, there %*% w, class)
  p <- ncol(here)
  alone <- vapply(seq_len(p), function(j) {
    sum(core_outcome_loss(own, core_predict_outcome(here[, j], own, here[, j], class), class))
  }, 0)
  predicted <- cbind(rep(mean(own), length(out)),
    vapply(seq_len(most), function(k) {
      if (k > p) return(rep(NA_real_, length(out)))
      try_with(core_outcome_weights(learned, k, of))
    }, numeric(length(out))),
    if (p + 1L < length(own)) try_with(diag(p)) else NA_real_,
    try_with(diag(p)[, which.min(alone), drop = FALSE]))
  if (class) predicted[, 1L] <- pmin(pmax(predicted[, 1L], 1e-6), 1 - 1e-6)
  list(loss = core_outcome_loss(y[out], predicted, class),
    hit = if (class) (predicted > 0.5) == (y[out] == 1))
}
