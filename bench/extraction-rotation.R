# Extraction and rotation: what they cost beside eigen(), and beside the same algorithm in plain
# base R. Everything in one run on one machine; quote the ratios. Run from the package root: make
# bench

library(softsieve)
seconds <- function(code) system.time(code)[["elapsed"]]
structured <- function(p, k, n, seed) {
  set.seed(seed)
  pattern <- matrix(0, p, k)
  pattern[cbind(seq_len(p), rep_len(seq_len(k), p))] <- stats::runif(p, 0.4, 0.8)
  phi <- matrix(0.3, k, k)
  diag(phi) <- 1
  common <- matrix(rnorm(n * k), n) %*% chol(phi) %*% t(pattern)
  cor(common + matrix(rnorm(n * p), n) %*% diag(sqrt(1 - rowSums(pattern^2))))
}

r <- structured(50, 5, 1000, 1)
start <- 1 / diag(solve(r))
cat("A full fit at p = 50, k = 5, over 40 calls of eigen() of that size (at most 1)\n")
for (method in c("minres", "ml", "gls")) {
  ours <- theirs <- numeric()
  for (round in 1:7) {
    ours[round] <- seconds(
      for (i in 1:10) softsieve:::cpp_fit_uniquenesses(r, 5L, method, start, 0.005, 1e-9, 200L)) /
      10
    theirs[round] <- seconds(for (i in 1:40) eigen(r, symmetric = TRUE))
  }
  again <- vapply(1:5,
    function(i) seconds(softsieve:::extract_by(method, r, 5L, 0.005, starts = 5L)), 0)
  cat(sprintf("  %s: %.1f ms, %.2f; with five more starts %.2f\n", method, 1e3 * median(ours),
    median(ours) / median(theirs), median(again) / median(theirs)))
}

# Quartimin by gradient projection (Jennrich 2002), as plain R has it.
plain_quartimin <- function(a, t, tolerance = 1e-6) {
  k <- ncol(a)
  criterion <- function(l) {
    s <- l^2
    across <- rowSums(s) - s
    list(value = sum(s * across) / 4, gradient = l * across)
  }
  step <- 1
  inverse <- solve(t)
  l <- a %*% t(inverse)
  now <- criterion(l)
  for (iteration in 1:1000) {
    g <- -t(t(l) %*% now$gradient %*% inverse)
    g <- g - t %*% diag(colSums(t * g))
    size <- sqrt(sum(g^2))
    if (size < tolerance) break
    step <- step * 2
    for (halving in 1:40) {
      trial <- t - step * g
      trial <- trial %*% diag(1 / sqrt(colSums(trial^2)))
      trial_inverse <- solve(trial)
      trial_l <- a %*% t(trial_inverse)
      then <- criterion(trial_l)
      if (then$value <= now$value - 0.5 * step * size^2) break
      step <- step / 2
    }
    t <- trial
    inverse <- trial_inverse
    l <- trial_l
    now <- then
  }
  now$value
}
solution <- extract_factors(r, 5, n = 1000)
a <- solution$values$unrotated
request <- softsieve:::core_request("oblimin", 0)
whole <- search <- theirs <- numeric()
for (round in 1:9) {
  whole[round] <- seconds(
    for (i in 1:20) rotate_factors(solution, "quartimin", starts = 100, seed = i, threads = 2)) /
    20
  search[round] <- seconds(
    for (i in 1:20) softsieve:::core_rotate_weighted(a, "oblique", request, rep(1, 50), 100L, i, 2L)
  ) /
    20
  theirs[round] <- seconds(for (i in 1:20) plain_quartimin(a, qr.Q(qr(matrix(rnorm(25), 5))))) * 5
}
cat(sprintf(
  paste("100 starts of quartimin at 50 x 5, two threads, to the same in plain R: %.1f ms,",
    "%.0f times faster (at least 60)\n"),
  1e3 * median(search), median(theirs / search)))
cat(sprintf("  with the solution made of it (rotate_factors()): %.1f ms, %.0f times faster\n",
  1e3 * median(whole), median(theirs / whole)))

large <- structured(300, 12, 2000, 2)
cat(sprintf(
  "p = 300, k = 12: minres %.2f s, maximum likelihood %.2f s, 100 starts of quartimin %.2f s\n",
  seconds(fit <- extract_factors(large, 12, n = 2000)),
  seconds(extract_factors(large, 12, n = 2000, method = "ml")),
  seconds(rotate_factors(fit, "quartimin", seed = 1, threads = 2))))
