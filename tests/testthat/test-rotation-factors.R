# Rotation: every criterion against its definition, its gradient against differences, and what it
# finds.

four <- function() extract_factors(motives(), 4)
CRITERIA <- list(list("oblimin", 0), list("oblimin", 0.5), list("oblimin", -2),
  list("crawford-ferguson", 1 / 7), list("crawford-ferguson", 0.6), list("geomin", 0.01),
  list("infomax", 0), list("entropy", 0), list("simplimax", 9), list("pattern-simplicity", 0),
  list("oblimax", 0), list("bifactor-quartimin", 0), list("bifactor-geomin", 0.05))

test_that("gradients of all criteria agree with differences", {
  set.seed(2)
  loadings <- matrix(rnorm(21), 7)
  goal <- matrix(rnorm(21), 7)
  free <- replace(matrix(1, 7, 3), c(2, 9, 15), 0)
  rules <- c(CRITERIA, list(list("target", 0, goal, free)))
  for (rule in rules) {
    f <- function(l) do.call(criterion_at, c(list(l), rule))
    slope <- vapply(seq_along(loadings), function(i) {
      step <- replace(0 * loadings, i, 1e-5)
      (f(loadings + step)$value - f(loadings - step)$value) / 2e-5
    }, 0)
    expect_equal(as.numeric(f(loadings)$gradient), slope, tolerance = 1e-6, label = rule[[1]])
  }
})

test_that("criteria agree with their definitions written out", {
  l <- known_pattern() + 0.1
  s <- l^2
  pairs <- combn(3, 2)
  value <- function(...) criterion_at(l, ...)$value
  expect_equal(value("oblimin", 0),
    sum(apply(pairs, 2, function(p) sum(s[, p[1]] * s[, p[2]]))) / 2)
  covarimin <- sum(apply(pairs, 2, function(p) {
    sum(s[, p[1]] * s[, p[2]]) - sum(s[, p[1]]) * sum(s[, p[2]]) / 9
  })) /
    2
  expect_equal(value("oblimin", 1), covarimin)
  expect_equal(value("geomin", .02), sum(apply(s + .02, 1, prod)^(1 / 3)))
  q <- function(x) -sum(x * log(x))
  e <- s / sum(s)
  expect_equal(value("infomax"), log(3) + q(e) - q(rowSums(e)) - q(colSums(e)))
  expect_equal(value("entropy"), -sum(s * log(s)) / 2)
  expect_equal(value("simplimax", 18), sum(sort(s)[1:18]))
  expect_equal(value("oblimax"), 2 * log(sum(s)) - log(sum(s^2)))
  m <- crossprod(s)
  expect_equal(value("pattern-simplicity"), (sum(log(diag(m))) - log(det(m))) / 4)
  expect_equal(value("bifactor-quartimin"), sum(s[, 2] * s[, 3]) / 2)
  # zeros are no trouble where logarithms are taken
  exact <- criterion_at(known_pattern(), "infomax")
  expect_true(is.finite(exact$value) && all(is.finite(exact$gradient)))
  expect_equal(criterion_at(known_pattern(), "pattern-simplicity")$value, 0)
})

test_that("every rotation leaves what is reproduced as it was and stands at a minimum", {
  s <- four()
  goal <- matrix(NA, 26, 4)
  goal[1, ] <- c(0, 0, 0, .7)
  known <- round(rotate_factors(s, "quartimax", starts = 1, seed = 1)$values$loadings, 1)
  for (name in setdiff(names(softsieve:::ROTATIONS), "none")) {
    asked <- list(kappa = .2, target = if (name == "procrustes") known else goal)
    own <- asked[intersect(names(asked), names(softsieve:::ROTATIONS[[name]]$parameters))]
    x <- do.call(rotate_factors, c(list(s, name, starts = 5, seed = 1), own))
    v <- x$values
    expect_lt(max(abs(fitted(x) - fitted(s))), 1e-10, label = name)
    expect_equal(diag(v$factor_correlations), rep(1, 4), ignore_attr = TRUE)
    expect_equal(v$loadings, rotate_plain(v$unrotated, v$transformation), ignore_attr = TRUE,
      tolerance = 1e-8)
    if (!x$settings$oblique) {
      expect_equal(v$factor_correlations, diag(4), ignore_attr = TRUE, tolerance = 1e-8)
    }
    expect_false("rotation_not_converged" %in% x$findings$code, label = name)
  }
  either <- rotate_factors(s, "varimax", oblique = TRUE, starts = 5, seed = 1)
  expect_gt(max(abs(either$values$factor_correlations - diag(4))), .1)
})

test_that("no plain search from many starts does better, orthogonal or oblique", {
  a <- extract_factors(motives(), 3)$values$unrotated
  plain <- function(t, f, oblique) {
    turned <- function(t) if (oblique) a %*% t(solve(t)) else a %*% t
    onto <- function(t) {
      if (oblique) t %*% diag(1 / sqrt(colSums(t^2))) else with(svd(t), u %*% t(v))
    }
    step <- 1
    for (iteration in 1:200) {
      now <- f(turned(t))
      g <- if (oblique) -t(t(turned(t)) %*% now$gradient %*% solve(t)) else t(a) %*% now$gradient
      g <- if (oblique) {
        g - t %*% diag(colSums(t * g))
      } else {
        g - t %*% (crossprod(t, g) + crossprod(g, t)) / 2
      }
      step <- step * 2
      while (f(turned(onto(t - step * g)))$value > now$value - step * sum(g^2) / 2 && step > 1e-9) {
        step <- step / 2
      }
      t <- onto(t - step * g)
      if (sum(g^2) < 1e-13) break
    }
    f(turned(t))$value
  }
  set.seed(5)
  for (case in list(list("geomin", .01, TRUE), list("infomax", 0, FALSE), list("entropy", 0, FALSE),
    list("simplimax", 52, TRUE))) {
    f <- function(l) criterion_at(l, case[[1]], case[[2]])
    lowest <- min(replicate(12, plain(qr.Q(qr(matrix(rnorm(9), 3))), f, case[[3]])))
    x <- rotate_factors(extract_factors(motives(), 3), case[[1]], starts = 60, seed = 1)
    expect_lt(f(x$values$loadings)$value, lowest + 1e-7, label = case[[1]])
  }
})

test_that(
  "a perfect pattern is found by every oblique rotation, a general factor by the bifactor ones",
  {
    s <- extract_factors(known_correlations(), 3, n = 500)
    for (name in c("quartimin", "simplimax", "pattern_simplicity")) {
      x <- rotate_factors(s, name, seed = 1)
      found <- x$values$loadings[, order(apply(abs(x$values$loadings), 2, which.max))]
      # pattern simplicity is of the fourth power near a perfect pattern: flat, where the others are
      # curved
      expect_equal(found, known_pattern(), ignore_attr = TRUE,
        tolerance = if (name == "pattern_simplicity") 5e-3 else 1e-4, label = name)
    }
    general <- cbind(rep(c(.7, .6, .5, .4), 3),
      rbind(cbind(rep(.5, 4), 0, 0), cbind(0, rep(.4, 4), 0), cbind(0, 0, rep(.6, 4))))
    r <- general %*% t(general)
    diag(r) <- 1
    x <- rotate_factors(extract_factors(r, 4, n = 500), "bifactor_quartimin", seed = 1)
    sizes <- sort(colMeans(abs(x$values$loadings)))
    expect_equal(unname(sizes), sort(colMeans(general)), tolerance = 1e-4)
  })

test_that("a target is reached as near as least squares can, and only where it is specified", {
  s <- four()
  a <- s$values$unrotated
  set.seed(6)
  turn <- qr.Q(qr(matrix(rnorm(16), 4)))
  x <- rotate_factors(s, "target", target = a %*% turn, seed = 1)
  reached <- x$values$loadings %*% crossprod(x$values$loadings, a %*% turn)
  expect_equal(fitted(x), fitted(s))
  expect_lt(min(x$values$search$value), 1e-12)
  # orthogonal Procrustes (Schonemann 1966): the singular vectors of A'B
  goal <- matrix(rnorm(104), 26)
  procrustes <- with(svd(crossprod(a, goal)), a %*% u %*% t(v))
  y <- rotate_factors(s, "target", target = goal, seed = 1)
  expect_equal(min(y$values$search$value), sum((procrustes - goal)^2), tolerance = 1e-8)
  named <- goal[26:1, ]
  rownames(named) <- rev(rownames(a))
  expect_equal(rotate_factors(s, "target", target = named, seed = 1)$values$loadings,
    y$values$loadings)
  one <- matrix(NA, 26, 4)
  one[3, ] <- c(sqrt(sum(a[3, ]^2)), 0, 0, 0)
  z <- rotate_factors(s, "target", target = one, seed = 1)
  expect_equal(max(abs(z$values$loadings[3, ])), one[3, 1], tolerance = 1e-5)
})

test_that("promax is the least squares turn of varimax to its power", {
  s <- four()
  v <- rotate_factors(s, "varimax", seed = 1)$values$loadings
  u <- lm.fit(v, sign(v) * abs(v)^3)$coefficients
  u <- u %*% diag(sqrt(diag(solve(crossprod(u)))))
  x <- rotate_factors(s, "promax", power = 3, seed = 1)
  expect_equal(sort(colSums((v %*% u)^2)), sort(colSums(x$values$loadings^2)), ignore_attr = TRUE,
    tolerance = 1e-7)
  expect_equal(sort(abs(solve(crossprod(u))[upper.tri(u)])),
    sort(abs(x$values$factor_correlations[upper.tri(u)])), tolerance = 1e-7)
})

test_that("row weights follow their formulas", {
  weights <- softsieve:::core_row_weights
  l <- rbind(c(.5, .5), c(.6, 0), c(0, .4), c(.3, .4))
  expect_equal(weights(l, "kaiser") * sqrt(rowSums(l^2)), rep(1, 4))
  # k = 2: the middle is 45 degrees; row 1 lies there, row 2 at 0, row 3 at 90, row 4 at arccos .6 =
  # 53.13
  expect_equal(weights(l, "cureton_mulaik") * sqrt(rowSums(l^2)),
    c(1, 0, 0, cos((acos(.6) - pi / 4) / (pi / 4) * pi / 2)^2) + .001)
  expect_true(all(is.finite(weights(rbind(0, l), "cureton_mulaik"))))
})

test_that("several optima are counted, and the second best can be looked at", {
  s <- extract_factors(motives(), 4)
  x <- rotate_factors(s, "simplimax", starts = 60, seed = 1)
  expect_gt(length(x$values$search$value), 1)
  expect_equal(sum(x$values$search$share), 1)
  expect_false(is.unsorted(x$values$search$value))
  second <- rotate_factors(s, "simplimax", starts = 60, seed = 1, optimum = 2)
  expect_equal(criterion_at(second$values$loadings, "simplimax", 78)$value,
    x$values$search$value[2], tolerance = 1e-4)
  expect_true("second_optimum" %in% second$findings$code)
  expect_error(
    rotate_factors(extract_factors(known_correlations(), 2, n = 100), "varimax", starts = 2,
      optimum = 2, seed = 1),
    "All starts ended in one place", class = "softsieve_error_rotation")
})

test_that("what does not go together is named", {
  s <- extract_factors(known_correlations(), 3, n = 100)
  expect_error(rotate_factors(s, "quartimin", oblique = FALSE), "must be oblique",
    class = "softsieve_error_rotation")
  expect_error(rotate_factors(s, "entropy", oblique = TRUE), "must be orthogonal",
    class = "softsieve_error_rotation")
  expect_error(rotate_factors(s, "crawford_ferguson"), "`kappa`",
    class = "softsieve_error_argument")
  expect_error(rotate_factors(s, "target"), "9 rows .items. and 3 columns",
    class = "softsieve_error_target")
  expect_error(rotate_factors(s, "target", target = matrix(0, 3, 3)), "3 rows and 3 columns",
    class = "softsieve_error_target")
  expect_error(rotate_factors(s, "target", target = matrix(NA_real_, 9, 3)), "Every element is NA",
    class = "softsieve_error_target")
  odd <- matrix(0, 9, 3, dimnames = list(c("zz", paste0("i", 2:9)), NULL))
  expect_error(rotate_factors(s, "target", target = odd), "no items: zz",
    class = "softsieve_error_target")
  expect_error(rotate_factors(s, "simplimax", zeros = 27), "`zeros`",
    class = "softsieve_error_argument")
  expect_error(rotate_factors(four(), "oblimin", gamma = 1, starts = 2, seed = 1), "fall together",
    class = "softsieve_error_rotation")
  expect_error(rotate_factors(s, "geomim"), "Did you mean \"geomin\"",
    class = "softsieve_error_argument")
  expect_error(rotate_factors(s, "varimax", gamma = 0), "`gamma` is for oblimin",
    class = "softsieve_error_argument")
})

test_that("covarimin: a plain search over reference axes from many starts does not do better", {
  s <- extract_factors(motives(), 3)
  a <- s$values$unrotated
  x <- rotate_factors(s, "covarimin", starts = 40, seed = 1)
  f <- function(v) {
    squares <- v^2
    sum(apply(combn(3, 2), 2, function(j) {
      sum(squares[, j[1]] * squares[, j[2]]) - sum(squares[, j[1]]) * sum(squares[, j[2]]) / 26
    })) /
      2
  }
  at <- function(axes) f(a %*% (matrix(axes, 3) %*% diag(1 / sqrt(colSums(matrix(axes, 3)^2)))))
  set.seed(9)
  ends <- replicate(15,
    optim(rnorm(9), at, method = "BFGS", control = list(maxit = 500, reltol = 1e-14))$value)
  # the reference axes of the factors found: inv(T)' with columns of length 1
  axes <- t(solve(x$values$transformation))
  expect_lte(at(axes), min(ends) + 1e-8)
  expect_equal(min(x$values$search$value), at(axes), tolerance = 1e-8)
  expect_equal(crossprod(x$values$transformation), x$values$factor_correlations, ignore_attr = TRUE,
    tolerance = 1e-8)
})

test_that(
  "Procrustes: orthogonal by singular vectors, oblique by least squares; whole targets only",
  {
    s <- four()
    a <- s$values$unrotated
    goal <- rotate_factors(s, "geomin", starts = 10, seed = 1)
    back <- rotate_factors(s, "procrustes", target = goal$values$loadings, oblique = TRUE)
    expect_equal(back$values$loadings, goal$values$loadings, tolerance = 1e-8)
    expect_equal(back$values$factor_correlations, goal$values$factor_correlations, tolerance = 1e-8)
    straight <- rotate_factors(s, "procrustes", target = goal$values$loadings)
    with_svd <- with(svd(crossprod(a, goal$values$loadings)), a %*% u %*% t(v))
    expect_equal(sort(colSums(with_svd^2)), sort(colSums(straight$values$loadings^2)),
      ignore_attr = TRUE)
    expect_null(straight$values$search)
    expect_error(rotate_factors(s, "procrustes", target = replace(goal$values$loadings, 3, NA)),
      "1 element is NA", class = "softsieve_error_target")
    flat <- goal$values$loadings[, c(1, 1, 2, 3)]
    expect_error(rotate_factors(s, "procrustes", target = flat), "follow from others",
      class = "softsieve_error_target")
  })

test_that("never worse than the best of a thousand plain starts", {
  set.seed(12)
  r <- cor(matrix(rnorm(400), 50) %*% matrix(runif(64), 8) + matrix(rnorm(400), 50))
  dimnames(r) <- list(paste0("i", 1:8), paste0("i", 1:8))
  s <- extract_factors(r, 2, n = 50)
  a <- s$values$unrotated
  # two factors have two angles: a search that needs no gradients
  geomin <- function(angle) {
    turn <- rbind(cos(angle), sin(angle))
    if (abs(det(turn)) < 1e-6) return(1e6)
    l <- a %*% t(solve(turn))
    sum(sqrt((l[, 1]^2 + .01) * (l[, 2]^2 + .01)))
  }
  ends <- replicate(1000,
    stats::optim(stats::runif(2, 0, pi), geomin, control = list(reltol = 1e-13, maxit = 400))$value)
  x <- rotate_factors(s, "geomin", seed = 1)
  found <- sum(sqrt(apply(x$values$loadings^2 + .01, 1, prod)))
  expect_lte(found, min(ends) + 1e-8)
  expect_equal(found, min(x$values$search$value))
})

test_that("a criterion without a value where it starts ends there and did not converge", {
  # one factor spread over two columns: their squares are proportional however they are turned
  loadings <- c(.7, .6, .5, .5) %o% c(1, 0)
  core <- asNamespace("softsieve")
  request <- core$core_request("pattern-simplicity")
  found <- core$core_rotate_weighted(loadings, "oblique", request, rep(1, 4), 1L, 1, 1L)$best
  expect_identical(found$value, Inf)
  expect_false(found$converged)
  expect_true(all(is.finite(found$loadings)))
})
