# Least squares weighted by standard errors, and the adjusted test.

core <- function(name) get(name, asNamespace("softsieve"))

noisy <- function() {
  set.seed(4)
  r <- cor(matrix(rnorm(900), 100) %*% chol(known_correlations()))
  dimnames(r) <- dimnames(known_correlations())
  r
}

test_that("equal weights give minimum residuals, known loadings are recovered", {
  r <- noisy()
  plain <- extract_by("minres", r, 2L, .005)
  even <- extract_by("wls", r, 2L, .005, weights = matrix(3, 9, 9))
  expect_equal(tcrossprod(even$loadings), tcrossprod(plain$loadings), tolerance = 1e-6)
  exact <- extract_factors(known_correlations(), 3, n = 300, method = "wls")
  expect_lt(exact$values$fit$largest_residual, 1e-7)
  expect_equal(exact$values$items$communality,
    diag(known_pattern() %*% known_between() %*% t(known_pattern())), ignore_attr = TRUE,
    tolerance = 1e-6)
})

test_that("no search does better, on or off the bound of the communalities", {
  r <- noisy()
  set.seed(8)
  for (case in 1:3) {
    w <- matrix(runif(81, .1, 4), 9)
    w <- w + t(w)
    lowest <- if (case == 3) .5 else .005
    found <- extract_by("wls", r, 2L, lowest, starts = 3L, weights = w)
    expect_true(found$converged)
    value <- function(l) sum((w * (r - tcrossprod(l))^2)[upper.tri(r)])
    expect_equal(value(found$loadings), found$discrepancy)
    expect_lte(max(rowSums(found$loadings^2)), 1 - lowest + 1e-12)
    # rows kept inside by their length
    inside <- function(x) {
      l <- matrix(x, 9)
      l / pmax(1, sqrt(rowSums(l^2) / (1 - lowest)))
    }
    search <- function(start) {
      optim(start, function(x) value(inside(x)), method = "BFGS",
        control = list(maxit = 800, reltol = 1e-13))$value
    }
    ends <- c(search(found$loadings + rnorm(18, 0, .05)), replicate(4, search(rnorm(18, 0, .5))))
    expect_gte(min(ends), found$discrepancy - 1e-8)
    expect_equal(min(ends), found$discrepancy, tolerance = 1e-4)
  }
})

test_that("the adjusted chi-square keeps its level, and reacts to misfit", {
  draw <- function(seed, second) {
    set.seed(seed)
    common <- matrix(rnorm(600), 300)
    x <- common[, 1] %o% rep(.7, 6) + matrix(rnorm(1800), 300) * sqrt(.5)
    x[, 4:6] <- x[, 4:6] + second * common[, 2]
    as.data.frame(apply(x, 2, function(v) findInterval(v, c(-.3, .9))))
  }
  fits <- function(second, seeds) {
    vapply(seeds, function(s) {
      extract_factors(draw(s, second), 1, kind = "polychoric", method = "wls",
        starts = 0)$values$fit$chi_square
    }, 0)
  }
  level <- fits(0, 1:60)
  # 9 degrees of freedom: mean 9, variance 18; the mean of 60 has a standard error of .55
  expect_lt(abs(mean(level) - 9), 1.8)
  expect_gt(mean(level > qchisq(.5, 9)), .3)
  expect_true(all(fits(.8, 1:5) > qchisq(.999, 9)))
})

test_that("what a test rests on is said, and nothing is shown where there is none", {
  s <- extract_factors(correlate_items(motives())$values$correlations, 2, n = 800, method = "wls")
  expect_match(s$findings$text[s$findings$code == "normal_theory"], "only correlations were given")
  expect_identical(s$values$fit$rests, "normal")
  expect_match(extract_factors(motives(), 2, kind = "spearman", method = "wls")$findings$text,
    "sampling errors of Spearman correlations", all = FALSE)
  # correlations know the answers they came from
  expect_equal(extract_factors(correlate_items(motives()), 2, method = "wls")$values$fit,
    extract_factors(motives(), 2, method = "wls")$values$fit)
  tested <- extract_factors(motives(), 4, kind = "polychoric", method = "wls")
  expect_output(print(tested), "\\(adjusted\\)")
  expect_equal(tested$values$fit$p, pchisq(tested$values$fit$chi_square, 227, lower.tail = FALSE))
  expect_error(extract_factors(motives(), 2, kind = "covariance", method = "wls"),
    "Covariances are analysed", class = "softsieve_error_argument")
})

test_that("Bartlett's correction takes two thirds of a person for each factor", {
  factor <- function(...) softsieve:::core_bartlett_factor(...)
  expect_equal(factor(200, 9, 2), (199 - 23 / 6 - 4 / 3) / 200)
  expect_equal(factor(200, 9, 5) - factor(200, 9, 2), -2 / 200)
  # as many items and factors as people: never below one person
  expect_equal(factor(10, 40, 8), 1 / 10)
})

test_that("products of large matrices are those of R at every edge of a tile, on any threads", {
  set.seed(5)
  sizes <- expand.grid(rows = c(1, 7, 8, 9, 97), inner = c(1, 256, 300), columns = c(1, 5, 6, 70))
  for (i in seq_len(nrow(sizes))) {
    a <- matrix(rnorm(sizes$rows[i] * sizes$inner[i]), sizes$rows[i])
    b <- matrix(rnorm(sizes$inner[i] * sizes$columns[i]), sizes$inner[i])
    found <- softsieve:::cpp_multiply(a, b, 1L)
    expect_lt(max(abs(found - a %*% b)), 1e-12)
    expect_identical(softsieve:::cpp_multiply(a, b, 3L), found)
  }
  # rows that hold no number stay among themselves
  a[2, 1] <- NaN
  expect_identical(which(is.nan(rowSums(softsieve:::cpp_multiply(a, b, 1L)))), 2L)
})

test_that("where few people answer otherwise than most there is no test, and a reason", {
  # 130 people of eight items, of whom two to five answer some items otherwise
  rare <- function(i) {
    set.seed(i)
    f <- matrix(rnorm(260), 130) %*% chol(matrix(c(1, .3, .3, 1), 2))
    y <- f[, rep(1:2, each = 4)] * .6 + matrix(rnorm(1040), 130) * .8
    as.data.frame((y > -2) + 1)
  }
  seen <- c(tests = 0, none = 0)
  for (i in 1:25) {
    x <- tryCatch(correlate_items(rare(i)), softsieve_error = function(e) NULL)
    if (is.null(x)) next
    expect_no_warning({
      count <- count_factors(x, rules = c("rmsea_lower", "hull"), replicates = 20, seed = 1)
    })
    fits <- count$values$fits
    known <- !is.na(fits$chi_square)
    seen <- seen + c(any(known), any(!known & fits$df > 0))
    # limits hold their estimate, and are not as narrow as if thousands had answered
    width <- (fits$rmsea_upper - fits$rmsea_lower)[known & fits$rmsea > .05 & fits$df > 10]
    expect_true(all(width > .02))
    e <- extract_factors(x, 2, starts = 1)
    if (is.na(e$values$fit$chi_square)) {
      expect_match(e$findings$text, "cannot be told from these answers", all = FALSE)
      # what the likelihood alone says stays
      expect_true(is.finite(e$values$fit$bic))
      expect_no_match(capture.output(print(e)), "chi-square")
    }
  }
  expect_true(all(seen > 0))
  # a few units whose influences are too large for the variance that is left to be known
  parts <- function(size) core("core_robust_parts")(diag(6), NULL, matrix(size, 5, 6), 5, 1L)
  expect_null(core("core_robust_traces")(parts(10)))
  expect_equal(core("core_robust_traces")(parts(.1))$trace, 6)
})
