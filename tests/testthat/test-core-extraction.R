# The search over uniquenesses, by least squares and maximum likelihood, and the minimum trace
# problem.

fit <- function(r, k, method, start = 1 / diag(solve(r)), lowest = 0.005) {
  softsieve:::cpp_fit_uniquenesses(r, k, method, start, lowest, 1e-9, 200L)
}

# A matrix that no model of few factors fits.
rough_correlations <- function(p = 8, n = 60, seed = 3) {
  set.seed(seed)
  common <- rnorm(n)
  cor(matrix(rnorm(n * p), n) + outer(common, seq(0.2, 1.4, length.out = p)))
}

likelihood_discrepancy <- function(loadings, psi, r) {
  sigma <- loadings %*% t(loadings) + diag(psi)
  c(determinant(sigma)$modulus) - c(determinant(r)$modulus) + sum(diag(solve(sigma, r))) - ncol(r)
}

test_that("both discrepancies recover a matrix built from known loadings", {
  r <- known_correlations()
  truth <- known_pattern() %*% known_between() %*% t(known_pattern())
  for (method in c("minres", "ml")) {
    f <- fit(r, 3L, method)
    expect_true(f$converged)
    expect_lt(f$discrepancy, 1e-12)
    expect_equal(f$loadings %*% t(f$loadings), unname(truth), tolerance = 1e-6)
    expect_equal(f$uniquenesses, unname(1 - diag(truth)), tolerance = 1e-6)
  }
})

test_that("the maximum likelihood minimum is one: a brute search over loadings finds nothing lower",
  {
    r <- rough_correlations()
    for (k in 1:2) {
      f <- fit(r, k, "ml")
      expect_equal(likelihood_discrepancy(f$loadings, f$uniquenesses, r), f$discrepancy,
        tolerance = 1e-9)
      free <- function(x) {
        likelihood_discrepancy(matrix(x[seq_len(8 * k)], 8), exp(x[8 * k + 1:8]), r)
      }
      brute <- optim(c(f$loadings + 0.1, log(f$uniquenesses)), free, method = "BFGS",
        control = list(maxit = 2000, reltol = 1e-15))
      expect_gte(brute$value, f$discrepancy - 1e-9)
      expect_equal(brute$value, f$discrepancy, tolerance = 1e-6)
      for (start in c(.1, .9)) {
        expect_equal(fit(r, k, "ml", rep(start, 8))$discrepancy, f$discrepancy, tolerance = 1e-9)
      }
    }
  })

test_that("with maximum likelihood the residual eigenvalues and the scale invariance hold", {
  r <- rough_correlations()
  f <- fit(r, 2L, "ml")
  scaled <- r / sqrt(f$uniquenesses %o% f$uniquenesses)
  expect_equal(f$residual, eigen(scaled)$values[3:8], tolerance = 1e-8)
  expect_equal(f$discrepancy, sum(f$residual - log(f$residual) - 1), tolerance = 1e-10)
  shuffled <- c(5, 2, 8, 1, 7, 3, 6, 4)
  expect_equal(fit(r[shuffled, shuffled], 2L, "ml")$uniquenesses, f$uniquenesses[shuffled],
    tolerance = 1e-7)
})

test_that("a uniqueness that wants to be negative stops at its bound, and the rest is optimal", {
  loadings <- c(1.05, .6, .5, .4, .3)
  r <- loadings %o% loadings
  diag(r) <- 1
  f <- fit(r * .999 + diag(.001, 5), 1L, "ml")
  expect_equal(f$uniquenesses[1], 0.005)
  expect_true(f$converged)
})

test_that(
  "the least common variance is that of a brute search, and of an exact one-factor matrix its own",
  {
    psi_of <- function(r) softsieve:::cpp_minimum_rank(r, rep(1, ncol(r)))
    r <- rough_correlations(4, 40, 9)
    psi <- psi_of(r)
    expect_gt(min(eigen(r - diag(psi))$values), -1e-7)
    expect_lt(min(eigen(r - diag(psi))$values), 1e-5)
    objective <- function(x) {
      lowest <- min(eigen(r - diag(x^2), symmetric = TRUE, only.values = TRUE)$values)
      -sum(x^2) + 1e4 * max(0, -lowest)
    }
    best <- min(vapply(1:20, function(i) {
      set.seed(i)
      start <- optim(sqrt(psi * runif(4, 0.2, 1)), objective,
        control = list(maxit = 5000, reltol = 1e-12))
      optim(start$par, objective, control = list(maxit = 5000, reltol = 1e-14))$value
    }, 0))
    expect_equal(-best, sum(psi), tolerance = 1e-3)
    expect_gte(sum(psi), -best - 1e-3)
    loadings <- c(.7, .6, .65, .55, .6)
    exact <- loadings %o% loadings
    diag(exact) <- 1
    expect_equal(psi_of(exact), 1 - loadings^2, tolerance = 1e-6)
  })

test_that("maximum likelihood of a matrix that is nearly singular ends, at the least of plain R", {
  r <- nearly_singular()
  for (k in c(1, 2, 5)) {
    found <- softsieve:::core_search_surely(r, k, "ml", rep(.005, 24), 2L, 4L)
    expect_true(found$converged)
    sigma <- tcrossprod(found$loadings) + diag(found$uniquenesses)
    ln <- function(m) as.numeric(determinant(m)$modulus)
    expect_equal(found$discrepancy, ln(sigma) - ln(r) + sum(diag(solve(sigma, r))) - 24)
  }
})
