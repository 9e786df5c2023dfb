# Chance eigenvalues and parallel analysis.

chance <- function(people, items, replicates, seed = 1, threads = 1L) {
  drawn_eigenvalues(people, items, replicates, seed = seed, threads = threads)
}

# The plain way: draw people, correlate, take eigenvalues.
brute_chance <- function(people, items, replicates) {
  replicate(replicates,
    eigen(cor(matrix(rnorm(people * items), people)), symmetric = TRUE, only.values = TRUE)$values)
}

test_that("chance means and spreads agree with drawing people, for n above, near and below p", {
  set.seed(11)
  for (case in list(c(60, 8), c(9, 8), c(8, 8), c(5, 8), c(2, 3))) {
    fast <- chance(case[1], case[2], 3000)
    plain <- brute_chance(case[1], case[2], 3000)
    spread <- sqrt(apply(fast, 1, var) / 3000 + apply(plain, 1, var) / 3000)
    expect_lt(max(abs(rowMeans(fast) - rowMeans(plain)) / pmax(spread, 1e-9)), 4)
    expect_equal(apply(fast, 1, sd), apply(plain, 1, sd), tolerance = 0.12)
    expect_equal(colSums(fast), rep(case[2], 3000)) # a correlation matrix has trace p
  }
})

test_that("with few people as many eigenvalues are zero as there should be", {
  fast <- chance(5, 8, 50)
  expect_true(all(abs(fast[5:8, ]) < 1e-12))
  expect_true(all(fast[4, ] > 1e-6))
})

test_that("the largest chance eigenvalue nears the Marchenko-Pastur edge", {
  expect_equal(mean(chance(4000, 200, 20)[1, ]), (1 + sqrt(200 / 4000))^2, tolerance = 0.02)
})

test_that("the same seed gives the same bits on any number of threads, another seed others", {
  one <- chance(300, 20, 500)
  expect_identical(one, chance(300, 20, 500, threads = 2L))
  expect_identical(one, chance(300, 20, 500, threads = 8L))
  expect_identical(
    one[, 1:100],
    chance(300, 20, 100, threads = 3L)) # replicate i depends on (seed, i) alone
  expect_false(any(one == chance(300, 20, 500, seed = 2)))
})

test_that("levels, leading ranks and shares follow from the chance eigenvalues", {
  q <- correlate_items(motives(), missing = "complete")
  x <- parallel_analysis(q, seed = 7, replicates = 200, percentile = 90)
  r <- q$values
  draws <- chance(r$n, 26, 200, seed = 7)
  e <- eigen(r$correlations)$values
  expect_equal(x$values$eigenvalues$chance_mean, rowMeans(draws))
  expect_equal(x$values$eigenvalues$chance_upper, apply(draws, 1, quantile, .9, names = FALSE))
  expect_equal(x$values$eigenvalues$cumulative_share, cumsum(e) / 26)
  expect_identical(x$values$suggested, 4)
  expect_identical(x$settings$seed, 7L)
})

test_that("a later eigenvalue above chance does not count when an earlier one is not", {
  expect_identical(softsieve:::core_leading_above(c(3, 1.2, 1.4, .5), c(1.5, 1.3, 1.1, 1)), 1)
  expect_identical(softsieve:::core_leading_above(c(1, 1), c(2, .5)), 0)
})

test_that("noise suggests no factor and extraction says so", {
  x <- parallel_analysis(unrelated_answers(400, 8), seed = 3)
  expect_identical(x$values$suggested, 0)
  expect_true("no_factor" %in% x$findings$code)
  expect_error(extract_factors(unrelated_answers(400, 8), x), "0 factors by parallel analysis",
    class = "softsieve_error_factors")
})

test_that("a known structure is found from a matrix and from fewer people than items", {
  expect_identical(parallel_analysis(known_correlations(), n = 500, seed = 1)$values$suggested, 3)
  x <- parallel_analysis(unrelated_answers(8, 12), seed = 1)
  expect_identical(nrow(as_tibble(x)), 12L)
  expect_true(all(as_tibble(x)$chance_mean[8:12] < 1e-12))
})

test_that("set.seed settles the seed, and a bad argument is named", {
  set.seed(5)
  a <- parallel_analysis(known_correlations(), n = 100, replicates = 20)
  set.seed(5)
  b <- parallel_analysis(known_correlations(), n = 100, replicates = 20)
  expect_identical(as_tibble(a), as_tibble(b))
  expect_error(parallel_analysis(known_correlations(), n = 100, replicates = 1),
    "at least 20|from 20", class = "softsieve_error_argument")
  expect_error(parallel_analysis(known_correlations(), n = 100, percentile = 101), "from 50 to 100",
    class = "softsieve_error_argument")
  expect_error(parallel_analysis(motives(), refrence = "mean"), "`refrence`",
    class = "softsieve_error_argument")
  expect_error(parallel_analysis(motives(), reference = "maen"), "Did you mean \"mean\"",
    class = "softsieve_error_argument")
})

test_that(
  "an interrupt or an error from the watching side ends all threads and leaves the session able",
  {
    calls <- 0
    stopping <- function(done) {
      calls <<- calls + 1
      stop("enough")
    }
    expect_error(drawn_eigenvalues(500, 150, 3000, threads = 2L, progress = stopping), "enough")
    expect_identical(calls, 1)
    expect_identical(chance(50, 5, 10), chance(50, 5, 10, threads = 2L))
  })
