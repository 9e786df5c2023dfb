# Least squares weighted by standard errors, and the adjusted test.

core_correlate <- softsieve:::core_correlate
core_pearson_influence <- softsieve:::core_pearson_influence
core_polychoric_influence <- softsieve:::core_polychoric_influence

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
  expect_equal(
    exact$values$items$communality,
    diag(known_pattern() %*% known_between() %*% t(known_pattern())),
    ignore_attr = TRUE,
    tolerance = 1e-6
  )
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
      optim(
        start,
        function(x) value(inside(x)),
        method = "BFGS",
        control = list(maxit = 800, reltol = 1e-13)
      )$value
    }
    ends <- c(search(found$loadings + rnorm(18, 0, .05)), replicate(4, search(rnorm(18, 0, .5))))
    expect_gte(min(ends), found$discrepancy - 1e-8)
    expect_equal(min(ends), found$discrepancy, tolerance = 1e-4)
  }
})

test_that("a person's influence on a correlation is its derivative by the person's weight", {
  set.seed(6)
  n <- 6000
  z <- matrix(rnorm(3 * n), n) %*% chol(matrix(c(1, .5, .3, .5, 1, .4, .3, .4, 1), 3))
  x <- apply(z, 2, function(v) findInterval(v, c(-1, .2, .9))) + 0
  for (kind in c("pearson", "polychoric")) {
    weighed <- function(person, h) {
      core_correlate(x, kind, "complete", replace(rep(1, n), person, 1 + h), NULL, 1L)$correlations[
        1,
        3
      ]
    }
    found <- core_correlate(x, kind, "complete", NULL, NULL, 1L)
    influence <- if (kind == "pearson") {
      core_pearson_influence(x, found$correlations)
    } else {
      core_polychoric_influence(x, found$correlations, found$thresholds)
    }
    people <- c(1, 20, 77, 300)
    slopes <- vapply(people, function(i) (weighed(i, 1) - weighed(i, -1)) / 2, 0)
    # expected information stands in for the observed one
    expect_equal(unname(influence(1, 3)(people)) / n, slopes, tolerance = .05, label = kind)
  }
})

test_that("influence with gaps counts the answers there are", {
  x <- as.matrix(motives(items = c(m1, m2, p1))$values$answers)[1:300, ]
  x[1:120, 1] <- NA
  found <- core_correlate(x, "polychoric", "pairwise", NULL, NULL, 1L)
  move <- core_polychoric_influence(x, found$correlations, found$thresholds)(1, 3)(1:300)
  expect_equal(mean(move), 0, tolerance = .02)
  expect_true(all(move[is.na(x[, 1]) & is.na(x[, 3])] == 0))
  # leaving a person out moves the correlation by about minus its influence over n
  person <- which(complete.cases(x))[1:20]
  out <- vapply(
    person,
    function(i) {
      core_correlate(x[-i, ], "polychoric", "pairwise", NULL, NULL, 1L)$correlations[1, 3] -
        found$correlations[1, 3]
    },
    0
  )
  expect_gt(cor(out, -move[person]), .99)
})

test_that("who answered both items is not who stands at the mean of one", {
  x <- cbind(c(1, 2, 3, 2, 2, 1, 3, 2), c(1, 3, 4, NA, NA, 2, 5, 1))
  found <- core_correlate(x, "pearson", "pairwise", NULL, NULL, 1L)
  move <- core_pearson_influence(x, found$correlations)(1, 2)(1:8)
  z <- apply(x, 2, function(v) {
    (v - mean(v, na.rm = TRUE)) / sqrt(mean((v - mean(v, na.rm = TRUE))^2, na.rm = TRUE))
  })
  expect_equal(move[1], (z[1, 1] * z[1, 2] - found$correlations[1, 2] * sum(z[1, ]^2) / 2) * 8 / 6)
  expect_identical(move[4:5], c(0, 0))
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
    vapply(
      seeds,
      function(s) {
        extract_factors(
          draw(s, second),
          1,
          kind = "polychoric",
          method = "wls",
          starts = 0
        )$values$fit$chi_square
      },
      0
    )
  }
  level <- fits(0, 1:60)
  # 9 degrees of freedom: mean 9, variance 18; the mean of 60 has a standard error of .55
  expect_lt(abs(mean(level) - 9), 1.8)
  expect_gt(mean(level > qchisq(.5, 9)), .3)
  expect_true(all(fits(.8, 1:5) > qchisq(.999, 9)))
})

test_that("where there is no adjusted test it is said why, and nothing is shown for one", {
  s <- extract_factors(correlate_items(motives())$values$correlations, 2, n = 800, method = "wls")
  expect_match(
    s$findings$text[s$findings$code == "no_adjusted_test"],
    "only correlations were given"
  )
  expect_false("chi_square" %in% names(s$values$fit))
  expect_match(
    extract_factors(motives(), 2, kind = "spearman", method = "wls")$findings$text,
    "not for spearman",
    all = FALSE
  )
  # correlations know the answers they came from
  expect_equal(
    extract_factors(correlate_items(motives()), 2, method = "wls")$values$fit,
    extract_factors(motives(), 2, method = "wls")$values$fit
  )
  tested <- extract_factors(motives(), 4, kind = "polychoric", method = "wls")
  expect_output(print(tested), "\\(adjusted\\)")
  expect_equal(tested$values$fit$p, pchisq(tested$values$fit$chi_square, 227, lower.tail = FALSE))
  expect_error(
    extract_factors(motives(), 2, kind = "covariance", method = "wls"),
    "Covariances are analysed",
    class = "softsieve_error_argument"
  )
})
