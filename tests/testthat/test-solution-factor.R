# Extraction, rotation and the pattern.

test_that(
  "loadings that made a matrix are recovered exactly, whatever the order and signs of items",
  {
    pattern <- known_pattern()
    r <- known_correlations()
    s <- factor_solution(r, 3, n = 500, seed = 1)
    expect_lt(max(abs(residuals(s))), 1e-7)
    expect_equal(s$values$items$uniqueness,
      unname(1 - diag(pattern %*% known_between() %*% t(pattern))), tolerance = 1e-6)
    expect_equal(unname(s$values$loadings), unname(pattern), tolerance = 1e-5)
    expect_equal(unname(s$values$factor_correlations), known_between(), tolerance = 1e-5)
    turned <- c(1, 1, -1, 1, 1, 1, 1, 1, -1)
    shuffled <- c(9, 2, 5, 1, 8, 3, 6, 4, 7)
    r2 <- (r * (turned %o% turned))[shuffled, shuffled]
    s2 <- factor_solution(r2, 3, n = 500, seed = 2)
    expect_equal(s2$values$loadings[rownames(r), ], s$values$loadings * turned, tolerance = 1e-5)
  })

test_that("minres is at a minimum: no uniqueness nearby and no other optimiser does better", {
  r <- correlate_items(motives())$values$correlations
  fit <- softsieve:::cpp_fit_uniquenesses(r, 4L, "minres", rep(.5, 26), 0.005, 1e-9, 200L)
  expect_true(fit$converged)
  expect_lt(fit$gradient, 1e-9)
  f <- function(psi) {
    sum(eigen(r - diag(psi), symmetric = TRUE, only.values = TRUE)$values[5:26]^2) / 2
  }
  expect_equal(fit$discrepancy, f(fit$uniquenesses))
  plain <- optim(rep(.5, 26), f, method = "L-BFGS-B", lower = .005, upper = 1,
    control = list(maxit = 500, factr = 10))
  expect_lt(fit$discrepancy, plain$value + 1e-9)
  residual <- r - tcrossprod(fit$loadings)
  expect_equal(diag(residual), fit$uniquenesses, ignore_attr = TRUE, tolerance = 1e-7)
  for (start in c(.1, .9)) {
    expect_equal(
      softsieve:::cpp_fit_uniquenesses(r, 4L, "minres", rep(start, 26), 0.005, 1e-9,
        200L)$uniquenesses,
      fit$uniquenesses, tolerance = 1e-6)
  }
})

test_that("an improper solution names its item and stays at the bound", {
  # r12 r13 / r23 = .9 * .7 / .55 = 1.15: one factor would ask for a communality of item a above 1
  r <- matrix(c(1, .9, .7, .2, .9, 1, .55, .2, .7, .55, 1, .1, .2, .2, .1, 1), 4,
    dimnames = list(letters[1:4], letters[1:4]))
  s <- extract_factors(r, 1, n = 200)
  expect_identical(s$findings$item[s$findings$code == "improper_solution"], "a")
  expect_equal(s$values$items$uniqueness[1], 0.005)
  expect_true(s$values$fit$converged)
})

test_that("varimax reaches the variance that plane rotations reach", {
  s <- extract_factors(motives(), 4)
  a <- s$values$unrotated
  variance_of <- function(l) sum(apply(l^2, 2, function(x) mean(x^2) - mean(x)^2))
  plain <- a
  for (sweep in 1:50) {
    for (i in 1:3) {
      for (j in (i + 1):4) {
        best <- optimize(function(w) {
          variance_of(`[<-`(plain, , c(i, j),
            plain[, c(i, j)] %*% matrix(c(cos(w), sin(w), -sin(w), cos(w)), 2)))
        }, c(-pi / 4, pi / 4), maximum = TRUE, tol = 1e-10)$maximum
        plain[, c(i, j)] <- plain[, c(i, j)] %*%
          matrix(c(cos(best), sin(best), -sin(best), cos(best)), 2)
      }
    }
  }
  v <- rotate_factors(s, "varimax", seed = 1)
  expect_equal(variance_of(v$values$loadings), variance_of(plain), tolerance = 1e-9)
  expect_equal(crossprod(v$values$transformation), diag(4), ignore_attr = TRUE)
})

test_that("oblimin is never worse than many starts of a plain gradient projection", {
  a <- extract_factors(motives(), 4)$values$unrotated
  f <- function(t) criterion_at(rotate_plain(a, t), "oblimin", 0)
  plain <- function(t) {
    step <- 1
    for (iteration in 1:300) {
      now <- f(t)
      l <- rotate_plain(a, t)
      g <- -t(t(l) %*% now$gradient %*% solve(t))
      g <- g - t %*% diag(colSums(t * g))
      step <- step * 2
      repeat {
        trial <- t - step * g
        trial <- trial %*% diag(1 / sqrt(colSums(trial^2)))
        if (f(trial)$value < now$value - step * sum(g^2) / 2 || step < 1e-10) break
        step <- step / 2
      }
      t <- trial
      if (sqrt(sum(g^2)) < 1e-7) break
    }
    f(t)$value
  }
  set.seed(4)
  lowest <- min(replicate(15, plain(qr.Q(qr(matrix(rnorm(16), 4))))))
  s <- rotate_factors(extract_factors(motives(), 4), seed = 1)
  expect_lt(criterion_at(s$values$loadings, "oblimin", 0)$value, lowest + 1e-8)
})

test_that("rotation leaves what is reproduced as it was, and starts from the unrotated loadings", {
  s <- extract_factors(motives(), 4)
  oblique <- rotate_factors(s, seed = 3)
  again <- rotate_factors(rotate_factors(oblique, "varimax", seed = 9), "oblimin", seed = 3)
  expect_lt(max(abs(fitted(oblique) - fitted(s))), 1e-10)
  expect_lt(
    max(abs(fitted(rotate_factors(s, seed = 3, normalization = "kaiser")) - fitted(s))),
    1e-10)
  expect_identical(again$values$loadings, oblique$values$loadings)
  expect_identical(rotate_factors(oblique, "none")$values$loadings, s$values$loadings)
  v <- oblique$values
  expect_equal(v$loadings, rotate_plain(v$unrotated, v$transformation), ignore_attr = TRUE)
  expect_equal(v$factor_correlations, crossprod(v$transformation), ignore_attr = TRUE)
  expect_equal(v$structure, v$loadings %*% v$factor_correlations)
  expect_equal(sum(v$variance$sum_of_squares), sum(v$items$communality))
  expect_false(is.unsorted(rev(v$variance$sum_of_squares)))
  expect_identical(rotate_factors(s, seed = 3, threads = 1)$values,
    rotate_factors(s, seed = 3, threads = 3)$values)
})

test_that("one factor is returned unrotated with a finding", {
  s <- rotate_factors(extract_factors(motives(items = t1:t6), 1))
  expect_true("one_factor" %in% s$findings$code)
  expect_identical(colnames(s$values$loadings), "F1")
})

test_that("impossible numbers of factors are refused with what is possible", {
  r <- known_correlations()
  for (k in list(0, -1, 1.5, 6, 9, 40, "three", NA, c(1, 2))) {
    expect_error(extract_factors(r, k, n = 100), "9 items allow 1 to 5",
      class = "softsieve_error_factors")
  }
  expect_error(extract_factors(r[1:2, 1:2], 1, n = 100), "at least three items",
    class = "softsieve_error_factors")
  expect_error(extract_factors(r, parallel_analysis(motives(), seed = 1), n = 100), "other items",
    class = "softsieve_error_factors")
  expect_error(rotate_factors(r), class = "softsieve_error_class")
})

test_that("the one call and the stages by hand give the same numbers, from every kind of input", {
  q <- motives()
  one <- factor_solution(q, seed = 6)
  by_hand <- rotate_factors(extract_factors(q, seed = 6), "oblimin", seed = 6)
  expect_identical(one$values, by_hand$values)
  keyed <- as.data.frame(q$values$answers)
  # without a key nobody knows which items are reversed, and wording counts as a topic
  expect_equal(factor_solution(keyed, 4, seed = 6)$values$loadings, one$values$loadings)
  r <- correlate_items(q)
  expect_identical(factor_solution(r, seed = 6)$values$loadings, one$values$loadings)
  expect_equal(
    factor_solution(r$values$correlations, "parallel", n = r$values$n, seed = 6)$values$loadings,
    one$values$loadings)
})

test_that("the pattern sorts, hides and names weak and cross-loading items", {
  p <- pattern_table(factor_solution(motives(), seed = 1))
  t <- as_tibble(p)
  loadings <- as.matrix(t[p$values$factors])
  small <- abs(loadings) < .3
  expect_identical(p$values$hidden, sum(small))
  shown <- vapply(softsieve:::table_of(p)$columns[p$values$factors], `[[`, t$item, "text")
  expect_identical(unname(shown == ""), unname(small))
  expect_setequal(p$findings$item[p$findings$code == "no_salient_loading"], c("o1", "o2"))
  expect_identical(p$findings$item[p$findings$code == "cross_loading_item"], "p6")
  home <- match(t$factor, p$values$factors)
  expect_false(is.unsorted(home, na.rm = TRUE))
  largest <- apply(abs(loadings[!is.na(home), ]), 1, max, na.rm = TRUE)
  for (k in 1:4) expect_false(is.unsorted(-largest[home[!is.na(home)] == k]))
  expect_identical(
    as_tibble(pattern_table(factor_solution(motives(), seed = 1), sort = "questionnaire"))$item,
    motives()$values$items$item)
})

test_that("information curves are those of the graded model, by numeric slopes", {
  solution <- factor_solution(motives(items = m1:m6), 1, kind = "polychoric")
  curves <- information_curves(solution, from = -2, to = 2, step = 0.5)$values
  s <- solution$values$structure["m2", 1]
  t <- solution$values$item_correlations$values$thresholds$m2
  shares <- function(level) -diff(c(1, pnorm((s * level - t) / sqrt(1 - s^2)), 0))
  by_hand <- vapply(seq(-2, 2, 0.5), function(level) {
    slope <- (shares(level + 1e-5) - shares(level - 1e-5)) / 2e-5
    sum(slope^2 / shares(level))
  }, 0)
  row <- curves$slopes[curves$slopes$item == "m2", ]
  expect_equal(row$highest, max(by_hand), tolerance = 1e-6)
  expect_equal(row$at, seq(-2, 2, 0.5)[which.max(by_hand)])
  expect_equal(curves$thresholds$level[curves$thresholds$item == "m2"], unname(t / s))
  expect_gt(curves$curves$information[5], row$highest)
  expect_equal(curves$curves$error, 1 / sqrt(curves$curves$information))
  expect_error(information_curves(solution, salient = 1), class = "softsieve_error_salient")
})
