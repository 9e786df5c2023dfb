# Extraction: every method on exact and rough matrices, the fixed points, the fit measures.

METHODS_HERE <- c("minres", "ml", "gls", "principal_axis", "alpha", "minimum_rank")

test_that("every method recovers the communalities of a matrix built from known loadings", {
  r <- known_correlations()
  truth <- diag(known_pattern() %*% known_between() %*% t(known_pattern()))
  for (method in METHODS_HERE) {
    s <- extract_factors(r, 3, n = 300, method = method)
    expect_equal(s$values$items$communality, truth, ignore_attr = TRUE, tolerance = 1e-5,
      label = method)
    expect_true(s$values$fit$converged, label = method)
    expect_lt(s$values$fit$largest_residual, 1e-5, label = method)
  }
})

test_that("generalised least squares: its minimum is one and its residual eigenvalues give it", {
  set.seed(11)
  common <- matrix(rnorm(240), 120) %*%
    rbind(c(.9, .8, .7, .8, 0, .2, .1), c(0, .2, .1, 0, .9, .8, .7))
  r <- cor(common + .6 * matrix(rnorm(840), 120))
  f <- softsieve:::cpp_fit_uniquenesses(r, 2L, "gls", 1 / diag(solve(r)), .005, 1e-9, 200L)
  discrepancy <- function(loadings, psi) {
    sum(diag(
      (diag(7) - solve(r, loadings %*% t(loadings) + diag(psi))) %*%
        (diag(7) - solve(r, loadings %*% t(loadings) + diag(psi))))) /
      2
  }
  expect_true(f$converged)
  expect_equal(discrepancy(f$loadings, f$uniquenesses), f$discrepancy, tolerance = 1e-8)
  free <- function(x) discrepancy(matrix(x[1:14], 7), exp(x[15:21]))
  brute <- optim(c(f$loadings + .05, log(f$uniquenesses)), free, method = "BFGS",
    control = list(maxit = 3000, reltol = 1e-15))
  expect_gte(brute$value, f$discrepancy - 1e-9)
  expect_equal(brute$value, f$discrepancy, tolerance = 1e-5)
  for (start in c(.2, .8)) {
    expect_equal(
      softsieve:::cpp_fit_uniquenesses(r, 2L, "gls", rep(start, 7), .005, 1e-9, 200L)$discrepancy,
      f$discrepancy, tolerance = 1e-8)
  }
})

test_that("principal axes end where minimum residuals do, and one step is the first of them", {
  axis <- extract_factors(motives(), 4, method = "principal_axis")
  minres <- extract_factors(motives(), 4)
  expect_equal(axis$values$loadings, minres$values$loadings, tolerance = 1e-5)
  expect_lt(axis$values$fit$iterations, 200)
  once <- extract_factors(motives(), 4, method = "principal_axis_once")
  r <- minres$values$correlations
  reduced <- r
  diag(reduced) <- 1 - 1 / diag(solve(r))
  e <- eigen(reduced)
  expect_equal(sort(colSums(once$values$loadings^2)), sort(e$values[1:4]), ignore_attr = TRUE)
})

test_that("alpha communalities reproduce themselves, and the first factor has the greatest alpha", {
  r <- correlate_items(motives())$values$correlations
  f <- softsieve:::extract_by("alpha", r, 4L, .005)
  h <- 1 - f$uniquenesses
  common <- r
  diag(common) <- h
  scaled <- common / sqrt(h %o% h)
  e <- eigen(scaled)
  expect_equal(rowSums((sqrt(h) * e$vectors[, 1:4] %*% diag(sqrt(e$values[1:4])))^2), h,
    tolerance = 1e-6, ignore_attr = TRUE)
  # alpha of the factor's weights w on the common parts: p/(p - 1) (1 - sum w^2 h / w' C w) = p/(p -
  # 1) (1 - 1/lambda)
  w <- e$vectors[, 1] / sqrt(h)
  alpha <- function(w) 26 / 25 * (1 - sum(w^2 * h) / drop(t(w) %*% common %*% w))
  expect_equal(alpha(w), 26 / 25 * (1 - 1 / e$values[1]))
  set.seed(3)
  expect_true(all(replicate(50, alpha(w + rnorm(26, sd = .05))) < alpha(w)))
})

test_that("image loadings are those of what the other items predict", {
  r <- known_correlations()
  s2 <- diag(1 / diag(solve(r)))
  image <- r + s2 %*% solve(r) %*% s2 - 2 * s2
  f <- softsieve:::extract_by("image", r, 9L - 1L, .005)
  # rescaled by the unique parts its roots are (lambda - 1)^2 / lambda
  lambda <- eigen(solve(sqrt(s2)) %*% r %*% solve(sqrt(s2)), symmetric = TRUE)$values
  scaled <- diag(1 / sqrt(diag(s2)))
  expect_equal(eigen(scaled %*% image %*% scaled, symmetric = TRUE)$values,
    sort((lambda - 1)^2 / lambda, decreasing = TRUE), tolerance = 1e-8)
  above <- lambda > 1
  expect_equal(colSums((scaled %*% f$loadings)^2)[above[1:8]], ((lambda - 1)^2 / lambda)[above],
    tolerance = 1e-8)
})

test_that(
  "minimum rank leaves no negative eigenvalue, and less common variance than other communalities",
  {
    r <- correlate_items(motives())$values$correlations
    f <- softsieve:::extract_by("minimum_rank", r, 3L, .005)
    expect_true(f$converged)
    least <- f$discrepancy
    total <- softsieve:::cpp_minimum_rank(r, rep(1, 26))
    e <- eigen(r - diag(total))$values
    # the communalities of least common variance are not those that three factors leave least of
    expect_lt(least, sum(e[-(1:3)]) - 1e-3)
    expect_gte(least, 0)
  })

test_that("measures of fit of a matrix follow their formulas", {
  r <- correlate_items(motives(items = m1:t6))$values$correlations
  n <- 800
  s <- extract_factors(r, 2, n = n, method = "ml")
  fit <- s$values$fit
  sigma <- fitted(s)
  f <- c(determinant(sigma)$modulus) - c(determinant(r)$modulus) + sum(diag(solve(sigma, r))) - 12
  expect_equal(fit$chi_square, (n - 1 - 29 / 6 - 4 / 3) * f, tolerance = 1e-6)
  expect_equal(fit$p, pchisq(fit$chi_square, fit$df, lower.tail = FALSE))
  plain <- (n - 1) * f
  none <- (n - 1) * -c(determinant(r)$modulus)
  expect_equal(fit$tli, (none / 66 - plain / fit$df) / (none / 66 - 1), tolerance = 1e-6)
  expect_equal(fit$cfi, 1 - max(0, plain - fit$df) / (none - 66), tolerance = 1e-6)
  expect_equal(fit$aic, plain - 2 * fit$df, tolerance = 1e-6)
  expect_equal(fit$bic, plain - fit$df * log(n), tolerance = 1e-6)
  expect_equal(fit$close_p,
    pchisq(fit$chi_square, fit$df, .0025 * fit$df * (n - 1), lower.tail = FALSE))
  expect_equal(fit$rmsea, sqrt(max(0, fit$chi_square - fit$df) / (fit$df * (n - 1))))
  expect_identical(glance(s)$chi_square, fit$chi_square)
  expect_match(capture.output(print(s)), "Fit of so many factors: chi-square = ", all = FALSE)
})

test_that("one test of k factors and one RMSEA, whatever the method and the stage", {
  q <- motives(items = m1:t6)
  x <- correlate_items(q)
  own <- c("chi_square", "p", "rmsea", "rmsea_lower", "cfi", "tli")
  known <- extract_factors(x, 2, method = "ml")$values$fit[own]
  for (method in c("minres", "gls", "wls", "principal_axis")) {
    expect_equal(extract_factors(x, 2, method = method)$values$fit[own], known, label = method)
  }
  counted <- count_factors(x, rules = "bic", replicates = 20, seed = 1)$values$fits[3, ]
  expect_equal(counted[c("chi_square", "p", "rmsea", "cfi")], known[c(1, 2, 3, 5)])
  one <- correlate_items(motives(items = m1:m6))
  reliable <- assess_reliability(list(m = paste0("m", 1:6)), motives(), replicates = 0, seed = 1)
  expect_equal(reliable$values$assumptions$rmsea,
    extract_factors(one, 1, method = "ml")$values$fit$rmsea)
  expect_false("chi_square" %in% names(extract_factors(x, 2, method = "image")$values$fit))
})

test_that("the fit does not change with rotation, and all methods go through the chain", {
  s <- extract_factors(motives(), 4, method = "ml")
  expect_equal(rotate_factors(s, "varimax", seed = 1)$values$fit, s$values$fit)
  for (method in setdiff(names(softsieve:::EXTRACTIONS), "minres")) {
    x <- factor_solution(motives(), 4, method = method, starts = 3, seed = 1)
    expect_identical(x$settings$method, method)
    expect_match(capture.output(print(x))[2], softsieve:::EXTRACTIONS[[method]]$label, fixed = TRUE)
  }
  expect_error(extract_factors(diag(6), 2, n = 100, method = "image"),
    "finds 2 factors of the 2 empty", class = "softsieve_error_factors")
})

test_that("published solutions are found: physical measures of girls, school examinations", {
  # Harman (1976), Modern factor analysis, 3rd ed., eight physical variables of 305 girls (its table
  # 2.3, here as R's datasets::Harman23.cor), minres solution of two factors
  s <- extract_factors(datasets::Harman23.cor$cov, 2, n = 305)
  published <- cbind(c(.856, .848, .808, .831, .750, .631, .569, .607),
    c(-.324, -.412, -.409, -.342, .571, .492, .510, .351))
  expect_equal(unname(s$values$loadings), published, tolerance = 2e-3)
  # Lawley & Maxwell (1971), Factor analysis as a statistical method, 2nd ed.: examination marks of
  # 220 boys, maximum likelihood
  r <- diag(6)
  r[lower.tri(r)] <- c(.439, .410, .288, .329, .248, .351, .354, .320, .329, .164, .190, .181, .595,
    .470, .464)
  r <- r + t(r) - diag(6)
  s <- extract_factors(r, 2, n = 220, method = "ml")
  expect_equal(unname(s$values$loadings),
    cbind(c(.553, .568, .392, .740, .724, .595), c(.429, .288, .450, -.273, -.211, -.132)),
    tolerance = 2e-3)
  expect_equal(s$values$items$communality, c(.490, .406, .356, .623, .569, .372), tolerance = 2e-3)
  expect_equal(s$values$fit$df, 4)
})

test_that("R's own ability and Harman matrices are fitted: the same minimum from every start", {
  r <- stats::cov2cor(datasets::ability.cov$cov)
  s <- extract_factors(r, 2, n = datasets::ability.cov$n.obs, method = "ml")
  expect_equal(s$values$fit$df, 4)
  expect_lt(s$values$fit$gradient, 1e-8)
  expect_identical(s$values$fit$apart, 0L)
  h <- datasets::Harman74.cor$cov
  ends <- vapply(c(.1, .3, .5, .7, .9), function(start) {
    softsieve:::cpp_fit_uniquenesses(h, 4L, "ml", rep(start, 24), .005, 1e-9, 200L)$discrepancy
  }, 0)
  expect_lt(diff(range(ends)), 1e-9)
})

test_that("where Newton steps give out, a bounded search ends in the same place", {
  r <- datasets::Harman74.cor$cov
  v <- diag(r)
  for (method in c("minres", "ml", "gls")) {
    short <- softsieve:::cpp_fit_uniquenesses(r, 5L, method, rep(.9, 24), .005, 1e-9, 1L)
    expect_false(short$converged)
    rescued <- softsieve:::core_fit_surely(r, 5L, method, rep(.9, 24), rep(.005, 24),
      newton_steps = 1L)
    whole <- softsieve:::core_fit_surely(r, 5L, method, rep(.9, 24), rep(.005, 24))
    expect_true(rescued$converged, label = method)
    expect_equal(rescued$discrepancy, whole$discrepancy, tolerance = 1e-9, label = method)
    expect_gt(rescued$iterations, whole$iterations)
  }
})

test_that("searches that end apart are told of, and the lowest end is shown", {
  set.seed(3)
  r <- cor(matrix(rnorm(140), 20)) # noise, and as many factors as there can be
  s <- extract_factors(r, 3, n = 20, method = "ml")
  expect_match(s$findings$text[s$findings$code == "starts_apart"],
    "\\d+ of \\d+ searches ended elsewhere")
  expect_lt(s$values$fit$gradient, 1e-8)
  more <- vapply(1:30, function(i) {
    softsieve:::core_fit_surely(r, 3L, "ml", softsieve:::cpp_uniform_draws(9, i, 7),
      rep(.005, 7))$discrepancy
  }, 0)
  expect_lte(s$values$fit$discrepancy, min(more) + 1e-7)
  expect_identical(extract_factors(r, 3, n = 20, method = "ml", starts = 0)$values$fit$starts, 1L)
})

test_that("noise without end converges: every matrix, every method", {
  for (seed in 101:130) {
    set.seed(seed)
    r <- cor(matrix(rnorm(20 * 7), 20))
    for (method in c("minres", "ml", "gls")) {
      found <- softsieve:::extract_by(method, r, 3L, .005)
      expect_lt(found$gradient, 1e-8, label = paste(method, seed))
      expect_gte(min(found$uniquenesses), .005 - 1e-12)
    }
  }
})

test_that("residuals: named, sorted, and in both root mean squares", {
  s <- extract_factors(motives(), 3)
  left <- residuals(s)
  pairs <- s$values$residual_pairs
  expect_equal(left[cbind(pairs$item, pairs$with)], pairs$residual)
  expect_equal(pairs$observed - pairs$reproduced, pairs$residual)
  expect_equal(abs(pairs$residual[1]), max(abs(left[upper.tri(left)])))
  expect_false(is.unsorted(-abs(pairs$residual)))
  expect_equal(s$values$fit$srmr, sqrt(sum(left[upper.tri(left, diag = TRUE)]^2) / 351))
  expect_equal(s$values$fit$rmsr, sqrt(mean(left[upper.tri(left)]^2)))
})

test_that("the number may come from any rule, and what cannot be is refused with what can", {
  bic <- extract_factors(motives(), "bic", seed = 1)
  count <- count_factors(motives(), rules = "bic", seed = 1)
  expect_identical(bic$settings$factors,
    count$values$rules$suggested[count$values$rules$rule == "bic"])
  expect_match(bic$settings$factors_by, "BIC", ignore.case = TRUE)
  expect_error(extract_factors(motives(), "hul"), "Did you mean \"hull\"",
    class = "softsieve_error_factors")
  expect_error(extract_factors(unrelated_answers(100, 8), "parallel", seed = 1),
    "0 factors by parallel analysis", class = "softsieve_error_factors")
  for (wrong in list(0, -2, 1.5, 20, 26, Inf)) {
    expect_error(extract_factors(motives(), wrong), "26 items allow 1 to 19 factors",
      class = "softsieve_error_factors")
  }
})

test_that("items that follow from others are named, others not", {
  q <- stats::na.omit(repair_cafe[c(paste0("m", 1:4), paste0("n", 1:3))])
  q$both <- q$m1 + q$m2
  error <- expect_error(extract_factors(q, 2, method = "ml"), "m1, m2 and both",
    class = "softsieve_error_singular")
  expect_setequal(error$items, c("m1", "m2", "both"))
  q$both <- q$n1 - q$n3
  expect_error(extract_factors(q, 2), "n1, n3 and both", class = "softsieve_error_singular")
})

test_that("an improper solution offers remedies", {
  r <- known_correlations()
  r[1, 2] <- r[2, 1] <- .97
  s <- extract_factors(correlate_items(r, n = 200), 3)
  text <- s$findings$text[s$findings$code == "improper_solution"]
  expect_match(text[1], "one factor fewer.*near copy.*more people.*another method")
})
