# The cost of errors and tests that rest on the answers: against plain base R in the same run, and
# in seconds of 24,000 x 48. Run: Rscript bench/robust.R
suppressPackageStartupMessages(library(softsieve))
core <- function(name) getFromNamespace(name, "softsieve")
clock <- function(work) unname(system.time(work())[["elapsed"]])
factors <- function(n, p, k = 4L) {
  loadings <- matrix(0, p, k)
  loadings[cbind(seq_len(p), rep_len(seq_len(k), p))] <- .65
  common <- matrix(rnorm(n * k), n)
  common %*% t(loadings) + matrix(rnorm(n * p), n) * sqrt(1 - .65^2)
}
answers <- function(n, p) {
  as.data.frame(matrix(findInterval(factors(n, p), c(-1.2, -.4, .4, 1.2)) + 1, n))
}

set.seed(1)
x <- as.matrix(answers(2000, 26)) + 0
plain <- function() {
  z <- scale(x) * sqrt(nrow(x) / (nrow(x) - 1))
  r <- crossprod(z) / nrow(x)
  pairs <- which(upper.tri(r), arr.ind = TRUE)
  moves <- vapply(seq_len(nrow(pairs)), function(k) {
    a <- z[, pairs[k, 1L]]
    b <- z[, pairs[k, 2L]]
    a * b - r[pairs[k, , drop = FALSE]] * (a^2 + b^2) / 2
  }, numeric(nrow(x)))
  crossprod(moves)
}
ours <- function() {
  core("cpp_pearson_influences")(x, numeric(), seq_len(nrow(x)) - 1L, "covariances", integer(), 2L,
    NULL)
}
stopifnot(max(abs(plain() - ours())) < 1e-6 * max(abs(plain())))
times <- vapply(1:5, function(i) c(plain = clock(plain), ours = clock(ours)), numeric(2L))
cat(sprintf(
  "covariances of 325 correlations, 2,000 people: base R %.2f s, core %.2f s, ratio %.1f\n",
  median(times[1L, ]), median(times[2L, ]), median(times[1L, ] / times[2L, ])))

large <- questionnaire(answers(24000, 48), ends = c(1, 5))
for (kind in c("pearson", "polychoric")) {
  both <- clock(function() {
    x <- correlate_items(large, kind = kind)
    print(extract_factors(x, 4, method = "ml")$values$fit[c("chi_square", "p", "rmsea")])
  })
  cat(sprintf("24,000 x 48, %s: correlations and the test of 4 factors %.1f s\n", kind, both))
}
x <- correlate_items(large)
cat(sprintf("24,000 x 48: count_factors %.1f s\n", clock(function() count_factors(x, seed = 1))))
cat(sprintf("24,000 x 48: factor_solution %.1f s, sift_items %.1f s\n",
  clock(function() factor_solution(x, seed = 1)), clock(function() sift_items(x, seed = 1))))
