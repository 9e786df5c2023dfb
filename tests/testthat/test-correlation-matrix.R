# Correlations that come from the pairwise tables, and those that do not.

# Ordered answers cut from normal variables with known correlations.
cut_answers <- function(n, between, steps, seed = 1) {
  set.seed(seed)
  z <- matrix(rnorm(n * ncol(between)), n) %*% chol(between)
  x <- apply(z, 2, findInterval, steps) + 1L
  storage.mode(x) <- "integer"
  as.data.frame(x) |> stats::setNames(paste0("q", seq_len(ncol(x))))
}
between4 <- function() {
  r <- matrix(.4, 4, 4)
  r[1, 2] <- r[2, 1] <- .75
  diag(r) <- 1
  r
}
with_missing <- function(data, share, seed = 2) {
  set.seed(seed)
  as.data.frame(lapply(data, function(x) replace(x, runif(length(x)) < share, NA)))
}

test_that(
  "tables give stats::cor()'s Pearson, covariance and Spearman, with gaps, in both storages",
  {
    data <- with_missing(cut_answers(700, between4(), c(-1, 0, .5, 1.5)), .1)
    kind <- function(kind, x = data) correlate_items(x, kind = kind)$values
    expect_equal(kind("pearson")$correlations, cor(data, use = "pairwise"))
    # every stage takes the same covariances: correlations of the pair, deviations of all who
    # answered an item
    sds <- sapply(data, sd, na.rm = TRUE)
    expect_equal(kind("covariance")$covariances, cor(data, use = "pairwise") * (sds %o% sds))
    expect_equal(kind("spearman")$correlations, cor(data, use = "pairwise", method = "spearman"))
    expect_equal(kind("pearson")$n_pair, crossprod(!is.na(data)), ignore_attr = TRUE)
    halves <- as.data.frame(lapply(data, function(x) x / 2)) # stored as double
    expect_equal(kind("pearson", halves)$correlations, kind("pearson")$correlations)
    slider <- transform(data, q1 = q1 * 37.3 + seq_len(700) / 900) # more than 16 different answers
    expect_equal(kind("pearson", slider)$correlations, cor(slider, use = "pairwise"))
    expect_equal(kind("spearman", slider)$correlations,
      cor(slider, use = "pairwise", method = "spearman"))
    expect_equal(kind("pearson", slider)$items$sd, unname(sapply(slider, sd, na.rm = TRUE)))
    whole <- na.omit(slider)
    expect_equal(correlate_items(slider, missing = "complete")$values$correlations, cor(whole))
  })

test_that("the tables' chi-square is that of the textbook", {
  data <- with_missing(cut_answers(400, between4(), c(-1, 0, 1)), .1)
  x <- correlate_items(data)$values
  plain <- suppressWarnings(chisq.test(table(data$q1, data$q3), correct = FALSE))
  expect_equal(x$chi_square["q1", "q3"], unname(plain$statistic))
  expect_equal(x$chi_df["q1", "q3"], unname(plain$parameter))
})

test_that("all ways of counting agree, for every number of people around the words' edges", {
  for (n in c(3, 63, 64, 65, 127, 255, 256, 257, 600)) {
    data <- cut_answers(n, between4(), c(-.8, .2, .9), seed = n)
    expect_equal(correlate_items(data)$values$correlations, cor(data), tolerance = 1e-12)
  }
})

test_that("weights count people as often as they say", {
  data <- with_missing(cut_answers(300, between4(), c(-1, 0, 1)), .05)
  times <- rep(c(1, 2, 3), 100)
  data$weight <- times
  repeated <- data[rep(seq_len(300), times), 1:4]
  w <- questionnaire(data, weight = weight)
  for (kind in c("pearson", "polychoric")) {
    expect_equal(correlate_items(w, kind = kind)$values$correlations,
      correlate_items(repeated, kind = kind)$values$correlations, tolerance = 1e-9)
  }
  expect_equal(correlate_items(w, missing = "em")$values$correlations,
    correlate_items(repeated, missing = "em")$values$correlations, tolerance = 1e-6)
  expect_equal(correlate_items(w)$values$items$mean, unname(colMeans(repeated, na.rm = TRUE)))
  slider <- questionnaire(transform(data, q1 = q1 + seq_len(300) / 999), weight = weight)
  long <- transform(data, q1 = q1 + seq_len(300) / 999)[rep(seq_len(300), times), 1:4]
  expect_equal(correlate_items(slider)$values$correlations, cor(long, use = "pairwise"))
  share <- sum(times)^2 / (300 * sum(times^2))
  pairs <- crossprod(!is.na(data[1:4]))
  harmonic <- 6 / sum(1 / pairs[upper.tri(pairs)])
  expect_equal(correlate_items(w)$values$n, floor(harmonic * share))
})

test_that("the bivariate normal integral agrees with adaptive integration", {
  brute <- function(h, k, r) {
    integrate(function(x) dnorm(x) * pnorm((k - r * x) / sqrt(1 - r^2)), -Inf, h, rel.tol = 1e-12,
      abs.tol = 0, subdivisions = 1000)$value
  }
  for (r in c(-.999, -.95, -.9, -.5, 0, .1, .74, .76, .92, .93, .99)) {
    for (h in c(-1.5, 0, .7)) {
      for (k in c(-.8, .3, 2)) {
        expect_lt(abs(softsieve:::cpp_bivariate_below(h, k, r) - brute(h, k, r)), 1e-10)
      }
    }
  }
  expect_equal(softsieve:::cpp_bivariate_below(.3, .9, 1), pnorm(.3))
  expect_equal(softsieve:::cpp_bivariate_below(.3, .9, -1), pnorm(.9) - pnorm(-.3))
  expect_identical(softsieve:::cpp_bivariate_below(-Inf, 1, .5), 0)
  expect_equal(softsieve:::cpp_bivariate_below(Inf, 1, .5), pnorm(1))
})

test_that("polychoric correlations are at the maximum that brute force finds, to 1e-8", {
  likelihood <- function(table) {
    n <- sum(table)
    first <- c(-Inf, qnorm(cumsum(rowSums(table))[-nrow(table)] / n), Inf)
    second <- c(-Inf, qnorm(cumsum(colSums(table))[-ncol(table)] / n), Inf)
    cell <- function(a, b, r) {
      integrate(function(x) {
        dnorm(x) *
          (
            pnorm((second[b + 1] - r * x) / sqrt(1 - r^2)) -
              pnorm((second[b] - r * x) / sqrt(1 - r^2)))
      }, first[a], first[a + 1], rel.tol = 1e-12, abs.tol = 0, subdivisions = 1000)$value
    }
    function(r) {
      sum(sapply(seq_len(nrow(table)), function(a) {
        sapply(seq_len(ncol(table)), function(b) {
          if (table[a, b]) table[a, b] * log(cell(a, b, r)) else 0
        })
      }))
    }
  }
  for (r in c(-.6, .1, .93)) {
    data <- cut_answers(500, matrix(c(1, r, r, 1), 2), c(-.7, .4), seed = 7)
    x <- correlate_items(data, kind = "polychoric")$values
    f <- likelihood(table(data$q1, data$q2))
    at <- x$correlations[1, 2]
    slope <- function(r) (f(r + 1e-5) - f(r - 1e-5)) / 2e-5
    expect_lt(abs(uniroot(slope, at + c(-.03, .03), tol = 1e-11)$root - at), 1e-8)
    curve <- (f(at + 1e-3) - 2 * f(at) + f(at - 1e-3)) / 1e-6
    # thresholds are estimated, too: the error is larger, but not by much
    expect_gte(x$standard_errors[1, 2] * 1.001, 1 / sqrt(-curve))
    expect_lt(x$standard_errors[1, 2], 1.15 / sqrt(-curve))
  }
})

test_that(
  paste("polychoric correlations recover the population, also of two categories, and do",
    "not care for coding"),
  {
    data <- cut_answers(20000, between4(), c(-1, .5, 1.2))
    x <- correlate_items(data, kind = "polychoric")$values
    expect_lt(max(abs(x$correlations - between4())), .03)
    expect_lt(max(abs(x$thresholds$q1 - c(-1, .5, 1.2))), .03)
    expect_equal(
      correlate_items(as.data.frame(lapply(data, function(v) c(2, 3, 50, 51)[v])),
        kind = "polychoric")$values$correlations,
      x$correlations)
    turned <- correlate_items(transform(data, q1 = 5L - q1),
      kind = "polychoric")$values$correlations
    expect_equal(turned[1, 2], -x$correlations[1, 2], tolerance = 1e-9)
    two <- cut_answers(20000, between4(), .3)
    expect_lt(
      max(abs(correlate_items(two, kind = "polychoric")$values$correlations - between4())),
      .04)
  })

test_that("a tetrachoric correlation of a table cut at the medians is sin(pi / 2 (4 p - 1))", {
  counts <- c(40, 10, 10, 40) # p = .4: r = sin(.3 pi)
  data <- data.frame(q1 = rep(c(1, 1, 2, 2), counts), q2 = rep(c(1, 2, 1, 2), counts))
  expect_equal(correlate_items(data, kind = "polychoric")$values$correlations[1, 2], sin(.3 * pi),
    tolerance = 1e-9)
})

test_that("empty cells, bounds and halves are reported", {
  hollow <- data.frame(q1 = rep(1:2, c(30, 30)), q2 = c(rep(1, 20), rep(2, 10), rep(2, 30)),
    q3 = rep(1:3, 20))
  x <- correlate_items(hollow, kind = "polychoric")
  expect_identical(x$findings$code[x$findings$code == "half_added"], "half_added")
  expect_match(x$findings$text[x$findings$code == "half_added"], "q1 with q2")
  expect_lt(x$values$correlations[1, 2], .99)
  same <- data.frame(q1 = rep(1:3, 20), q2 = rep(1:3, 20), q3 = rep(c(1, 2), 30))
  y <- correlate_items(same, kind = "polychoric")
  expect_equal(y$values$correlations[1, 2], .9999, tolerance = 1e-6)
  expect_match(y$findings$text[y$findings$code == "correlation_at_bound"], "q1 with q2")
  expect_error(
    correlate_items(data.frame(q1 = 1:40 / 3, q2 = rep(1:2, 20)), kind = "polychoric"),
    "More than 16: q1", class = "softsieve_error_many_categories")
})

test_that("mixed correlations recover the population whatever the items' levels", {
  set.seed(3)
  z <- matrix(rnorm(20000 * 4), 20000) %*% chol(between4())
  data <- data.frame(q1 = z[, 1] * 10 + 50, q2 = z[, 2], q3 = findInterval(z[, 3], c(-1, 0, 1)),
    q4 = findInterval(z[, 4], c(-.5, .8)))
  x <- correlate_items(data, kind = "mixed")
  expect_lt(max(abs(x$values$correlations - between4())), .03)
  expect_identical(x$values$items$ordered, c(FALSE, FALSE, TRUE, TRUE))
  expect_equal(x$values$correlations[1, 2], cor(z[, 1], z[, 2]))
  # the polyserial correlation is at the maximum of its likelihood
  small <- data[1:300, ]
  zs <- as.numeric(scale(small$q1))
  cuts <- c(-Inf, qnorm(cumsum(table(small$q3))[1:3] / 300), Inf)
  f <- function(r) {
    sum(log(
      pnorm((cuts[small$q3 + 2] - r * zs) / sqrt(1 - r^2)) -
        pnorm((cuts[small$q3 + 1] - r * zs) / sqrt(1 - r^2))))
  }
  expect_equal(correlate_items(small, kind = "mixed")$values$correlations[1, 3],
    optimize(f, c(-.95, .95), maximum = TRUE, tol = 1e-9)$maximum, tolerance = 1e-6)
})

test_that("EM finds the maximum of the likelihood, and the plain answer when nothing is missing", {
  data <- cut_answers(200, between4(), c(-1, -.3, .4, 1.1))
  expect_equal(correlate_items(data, missing = "em")$values$correlations, cor(data),
    tolerance = 1e-7)
  expect_equal(correlate_items(data, missing = "em")$values$covariances, cov(data),
    tolerance = 1e-7)
  gaps <- with_missing(data, .2)
  expect_equal(correlate_items(gaps, missing = "em")$values$people, sum(rowSums(!is.na(gaps)) > 0))
  x <- as.matrix(gaps) + 0
  fit <- softsieve:::cpp_em(x, NULL, 1e-10, 5000L)
  likelihood <- function(means, covariances) {
    sum(apply(x, 1, function(row) {
      o <- !is.na(row)
      if (!any(o)) return(0)
      s <- covariances[o, o, drop = FALSE]
      -.5 *
        (
          sum(o) * log(2 * pi) + log(det(s)) +
            drop(t(row[o] - means[o]) %*% solve(s, row[o] - means[o])))
    }))
  }
  expect_equal(fit$log_likelihood, likelihood(fit$means, fit$covariances), tolerance = 1e-9)
  set.seed(5)
  for (step in 1:20) {
    move <- matrix(rnorm(16, 0, .01), 4)
    expect_lt(
      likelihood(fit$means + rnorm(4, 0, .01),
        fit$covariances + crossprod(move) - diag(diag(crossprod(move))) / 2),
      fit$log_likelihood + 1e-8)
  }
  expect_true(fit$converged)
  expect_error(correlate_items(gaps, kind = "spearman", missing = "em"), "goes with kind",
    class = "softsieve_error_argument")
})

test_that("a matrix that is not positive definite is repaired by how much is said, or refused", {
  r <- matrix(c(1, .9, -.9, .9, 1, .9, -.9, .9, 1), 3, dimnames = list(letters[1:3], letters[1:3]))
  x <- correlate_items(r, n = 100)
  near <- x$values$correlations
  # by symmetry the nearest is (1, .5, -.5; .5, 1, .5; -.5, .5, 1): eigenvalues 1.5, 1.5, 0
  expect_equal(near[upper.tri(near)], c(.5, -.5, .5), tolerance = 1e-4)
  expect_gt(x$values$smallest_eigenvalue, 0)
  expect_identical(x$findings$severity[x$findings$code == "repaired"], "serious")
  expect_equal(x$findings$value[x$findings$code == "repaired"], .4, tolerance = 1e-3)
  expect_error(correlate_items(r, n = 100, repair = FALSE), "smallest eigenvalue is -0.8",
    class = "softsieve_error_not_positive_definite")
})

test_that("few or skewed categories under Pearson are advised against", {
  two <- cut_answers(300, between4(), .3)
  x <- correlate_items(two)
  expect_identical(x$findings$severity[x$findings$code == "categories_as_numbers"], "caution")
  expect_false("categories_as_numbers" %in% correlate_items(two, kind = "polychoric")$findings$code)
  expect_false("categories_as_numbers" %in% correlate_items(motives())$findings$code)
})

test_that("the number of threads changes nothing", {
  for (kind in c("pearson", "polychoric", "spearman")) {
    expect_identical(correlate_items(motives(), kind = kind, threads = 1)$values,
      correlate_items(motives(), kind = kind, threads = 3)$values)
  }
})

test_that("a matrix that says what it is has no test that asks for answers", {
  r <- known_correlations()
  for (kind in c("spearman", "polychoric", "mixed")) {
    x <- correlate_items(r, n = 300, kind = kind)
    expect_identical(x$values$correlations, correlate_items(r, n = 300)$values$correlations)
    expect_true(is.na(assess_factorability(x)$values$sphericity$p), label = kind)
    fit <- extract_factors(x, 3)$values$fit
    expect_true(is.na(fit$p), label = kind)
    label <- if (kind == "spearman") "Spearman" else "polychoric"
    expect_output(print(x), paste0("Given as .*", label))
  }
  plain <- assess_factorability(correlate_items(r, n = 300, kind = "pearson"))$values$sphericity
  expect_identical(plain$p, assess_factorability(r, n = 300)$values$sphericity$p)
})
