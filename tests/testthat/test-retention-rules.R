# Each rule of count_factors() on a small matrix worked by hand, with every intermediate value.

# Four items in two pairs: r = .6 within a pair and .2 across. Its eigenvalues are 1 + .6 + 2 x .2 =
# 2, 1 + .6 - 2 x .2 = 1.2, and twice 1 - .6 = .4.
pairs_matrix <- function() {
  r <- matrix(0.2, 4, 4, dimnames = list(NULL, letters[1:4]))
  r[1:2, 1:2] <- r[3:4, 3:4] <- 0.6
  diag(r) <- 1
  r
}

counted <- function(r, n, ...) count_factors(r, n = n, ..., replicates = 100, seed = 1)
said <- function(count, rule) count$values$rules$suggested[count$values$rules$rule == rule]
evidence <- function(count, rule) count$values$evidence[[rule]]

test_that("eigenvalues, shares and their bend", {
  x <- counted(pairs_matrix(), 100)
  expect_equal(x$values$eigenvalues$eigenvalue, c(2, 1.2, .4, .4))
  expect_identical(said(x, "eigenvalue_one"), 2L)
  # second differences: 2 - 2.4 + .4 = 0 at rank 2, 1.2 - .8 + .4 = .8 at rank 3
  expect_equal(evidence(x, "elbow")$bend, c(NA, 0, .8, NA))
  expect_identical(said(x, "elbow"), 2L)
  expect_equal(evidence(x, "cumulative_share")$cumulative_share, c(.5, .8, .9, 1))
  expect_identical(said(x, "cumulative_share"), 2L)
  expect_identical(said(counted(pairs_matrix(), 100, share = 0.81), "cumulative_share"), 3L)
})

test_that("the empirical Kaiser reference", {
  # n = 100: the edge is (1 + sqrt(4/100))^2 = 1.44; then (4 - 2)/3 x 1.44 = .96, below 1, and so on
  x <- counted(pairs_matrix(), 100)
  expect_equal(evidence(x, "empirical_kaiser")$reference, c(1.44, 1, 1, 1))
  expect_identical(said(x, "empirical_kaiser"), 2L)
  strong <- softsieve:::core_empirical_kaiser(c(1.5, 1.45, .55, .5), 16)
  expect_equal(strong, c(1.5^2, (4 - 1.5) / 3 * 2.25, 1.05 / 2 * 2.25, 1.125))
})

test_that("average partial correlations to the square and to the fourth", {
  # none out: 2 pairs of .6 and 4 of .2. One out (2 x 1/4 J): .1 and -.3 over .5, so .2 and -.6. Two
  # out (1.2 x 1/4 vv'): -.2 and 0 over .2, so -1 and 0.
  x <- counted(pairs_matrix(), 100)
  expect_equal(evidence(x, "average_partial")$average[1:3],
    c((2 * .36 + 4 * .04) / 6, (2 * .04 + 4 * .36) / 6, 2 / 6))
  expect_equal(evidence(x, "average_partial_fourth")$average[1:3],
    c((2 * .6^4 + 4 * .2^4) / 6, (2 * .2^4 + 4 * .6^4) / 6, 2 / 6))
  expect_identical(said(x, "average_partial"), 0L)
})

test_that("the hull keeps the upper bound of fit and bends where a factor pays most", {
  # from (df 10, 0) to (6, .8): .2 per df; to (3, .9): .1/3; the point (1, .91) adds .005 per df
  found <- softsieve:::core_hull(c(0, .8, .9, .91), c(10, 6, 3, 1))
  expect_equal(found$st, c(NA, .2 / (.1 / 3), (.1 / 3) / .005, NA))
  # .65 at df 6 lies below the line from (10, 0) to (3, .9), and .5 at df 4 below what came before
  dropped <- softsieve:::core_hull(c(0, .3, .29, .9, .91), c(10, 6, 4, 3, 1))
  expect_identical(dropped$on_hull, c(TRUE, FALSE, FALSE, TRUE, TRUE))
  expect_equal(dropped$st[4], (.9 / 7) / .005)
})

test_that("the ladder of fits: one factor off, everything in the open", {
  # no factor: F = -ln |R| = -ln (2 x 1.2 x .4 x .4); df = 6
  x <- counted(pairs_matrix(), 100)
  f <- x$values$fits[1, ]
  discrepancy <- -log(2 * 1.2 * .4 * .4)
  expect_equal(f$discrepancy, discrepancy)
  expect_equal(f$chi_square, (99 - 13 / 6) * discrepancy)
  expect_equal(f$df, 6)
  expect_equal(f$rmsea, sqrt((f$chi_square - 6) / (6 * 99)))
  expect_equal(pchisq(f$chi_square, 6, f$rmsea_lower^2 * 6 * 99), .95, tolerance = 1e-5)
  expect_equal(pchisq(f$chi_square, 6, f$rmsea_upper^2 * 6 * 99), .05, tolerance = 1e-5)
  expect_equal(f$bic, 99 * discrepancy - 6 * log(100))
  expect_equal(f$rmsr, sqrt((2 * .36 + 4 * .04) / 6))
  expect_identical(f$cfi, 0)
})

test_that("rules on the ladder find an exact structure, and noise nothing", {
  x <- counted(known_correlations(), 500)
  f <- x$values$fits
  expect_lt(f$chi_square[4], 1e-6)
  expect_equal(f$cfi[4], 1)
  expect_identical(f$rmsea_lower[4], 0)
  for (rule in c("likelihood_ratio", "bic", "parallel", "next_eigenvalue", "sequential")) {
    expect_identical(said(x, rule), 3L)
  }
  expect_equal(evidence(x, "likelihood_ratio")$p[4], 1)
  none <- counted(diag(6), 200, rules = "all")
  for (rule in c("parallel", "likelihood_ratio", "bic", "rmsea_lower", "average_partial",
    "comparison")) {
    expect_identical(said(none, rule), 0L)
  }
  expect_identical(none$values$probable, 0L)
  tried <- evidence(none, "comparison")
  expect_identical(as.integer(tried$factors), 0:1)
  expect_identical(is.na(tried$nearer_p), c(TRUE, FALSE))
})

test_that("the ladder and a solution of each number say the same, on any threads", {
  # (of these an item is used up by five factors)
  q <- motives(items = c(m1:m4, t1:t4, o1, o2))
  f <- count_factors(q, rules = "bic", replicates = 20, seed = 1, threads = 2)$values$fits
  alone <- count_factors(q, rules = "bic", replicates = 20, seed = 1, threads = 1)$values$fits
  expect_identical(f, alone)
  for (k in 1:5) {
    ml <- factor_solution(q, k, method = "ml", seed = 1)$values
    expect_equal(f$discrepancy[k + 1], ml$fit$discrepancy, tolerance = 1e-6)
    measures <- c("chi_square", "p", "rmsea", "rmsea_lower")
    expect_equal(unlist(f[k + 1, measures]), unlist(ml$fit[measures]), tolerance = 1e-6)
    expect_identical(f$proper[k + 1], min(1 - ml$items$communality) > .00501)
  }
})

test_that("the confidence limits of the noncentrality hold for a misfit of any size", {
  limit <- softsieve:::core_noncentrality
  for (case in list(c(5, 10), c(60, 20), c(3000, 300), c(90000, 50))) {
    low <- limit(case[1], case[2], .95)
    high <- limit(case[1], case[2], .05)
    expect_lte(low, max(0, case[1] - case[2]))
    expect_gte(high, max(0, case[1] - case[2]))
    if (low > 0) {
      expect_equal(suppressWarnings(pchisq(case[1], case[2], low)), .95, tolerance = 1e-4)
    }
  }
  expect_identical(limit(5, 10, .95), 0)
  # the normal approximation takes over where it is as good
  expect_equal(limit(100001, 300, .95), limit(99999, 300, .95), tolerance = 1e-3)
})

test_that("the rank sum test is the one of the textbook", {
  set.seed(21)
  for (i in 1:3) {
    a <- round(rnorm(30), 1)
    b <- round(rnorm(40, .3), 1)
    expect_equal(softsieve:::core_tends_smaller(a, b),
      wilcox.test(a, b, "less", exact = FALSE)$p.value)
  }
  expect_identical(softsieve:::core_tends_smaller(rep(1, 5), rep(1, 5)), 1)
})

test_that("cut normal variables correlate as their latent ones have it", {
  half <- list(thresholds = 0, values = c(0, 1))
  cut_r <- function(rho, a = half, b = half) {
    found <- softsieve:::cpp_latent_correlations(list(a$thresholds, b$thresholds),
      list(a$values, b$values), matrix(c(1, rho, rho, 1), 2), 1L)
    found[1, 2]
  }
  # two halves: r = 2/pi asin(rho), so rho = sin(pi r / 2)
  for (r in c(-.6, .1, .5)) expect_equal(cut_r(r), sin(pi * r / 2), tolerance = 1e-7)
  expect_equal(cut_r(.999), .99)
  skewed <- list(thresholds = c(.5, 1.5), values = 1:3)
  rho <- cut_r(.4, half, skewed)
  set.seed(22)
  z <- rnorm(4e5)
  y <- rho * z + sqrt(1 - rho^2) * rnorm(4e5)
  expect_equal(cor(z > 0, findInterval(y, skewed$thresholds)), .4, tolerance = 0.01)
})

test_that("an item is cut into its categories, and one with many answers into classes", {
  cut <- softsieve:::cutting_of(c(1, 1, 2, 5, NA))
  expect_equal(cut$thresholds, qnorm(c(.5, .75)), ignore_attr = TRUE)
  expect_identical(cut$values, c(1, 2, 5))
  many <- softsieve:::cutting_of(1:160)
  expect_length(many$values, 16)
  expect_equal(many$values[1], 5.5)
})

test_that("comparison data with answers reproduce the misfit of drawing cut people", {
  q <- motives(items = t1:t6)
  e <- list(answers = q, correlations = correlate_items(q),
    r = correlate_items(q)$values$correlations, p = 6L, n = 300,
    eigenvalues = eigen(correlate_items(q)$values$correlations)$values,
    settings = list(replicates = 300, seed = 1, threads = 2L))
  none <- softsieve:::comparison_source(e)(0L)
  set.seed(23)
  draw <- function(i) {
    a <- q$values$answers[, i]
    sample(a[!is.na(a)], 300, replace = TRUE)
  }
  plain <- replicate(300, sqrt(mean((eigen(cor(sapply(1:6, draw)))$values - e$eigenvalues)^2)))
  expect_lt(abs(mean(none) - mean(plain)) / sqrt(var(none) / 300 + var(plain) / 300), 4)
  expect_lt(mean(softsieve:::comparison_source(e)(1L)), mean(none) / 3)
})

test_that("every rule has all it takes to be shown, and its paper in full", {
  rules <- softsieve:::RULES
  expect_gte(length(rules), 15)
  for (rule in rules) {
    expect_setequal(setdiff(names(rule), "slow"),
      c("name", "label", "reference", "misleads", "pearson", "judge"))
    expect_match(softsieve:::reference_text(rule$reference), "[(][0-9]{4}[)]", label = rule$name)
    expect_match(rule$misleads, "[.]$")
  }
  table <- catalogue_table("rules")
  expect_identical(table$rule, names(rules))
})

test_that("rules that stop nowhere say so, and name no number", {
  rules <- count_factors(nearly_singular(), n = 60, replicates = 50, seed = 1,
    rules = c("sequential", "next_eigenvalue"))$values$rules
  step <- rules[rules$rule %in% c("sequential", "next_eigenvalue"), ]
  expect_identical(step$suggested, c(NA_integer_, NA_integer_))
  expect_identical(step$reason, rep("above chance up to 10 factors", 2))
})
