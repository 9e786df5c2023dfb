# Improper solutions: nothing passes its bound, and the search meets the best that there is.

heywood <- function() matrix(c(1, .8, .6, .8, 1, .3, .6, .3, 1), 3)
search_for <- function(r, k, method, ...) softsieve:::extract_by(method, r, k, .005, 5L, ...)

test_that(
  "the worked case ends where brute force does: the squared residuals are least under the bound",
  {
    value <- function(l, r = heywood()) sum(((r - tcrossprod(l))^2)[upper.tri(r)])
    s <- extract_factors(heywood(), 1, n = 100)
    l <- s$values$loadings[, 1]
    expect_equal(unname(l), c(.9975, .7506, .5285), tolerance = 1e-4)
    expect_equal(value(l), .01728, tolerance = 1e-3)
    expect_equal(s$values$fit$discrepancy, 2 * value(l)) # each pair above and below the diagonal
    inside <- function(x) sqrt(.995) * tanh(x)
    brute <- optim(atanh(c(.9, .8, .5)), function(x) value(inside(x)),
      control = list(reltol = 1e-14, maxit = 5000))
    expect_equal(brute$value, value(l), tolerance = 1e-6)
    expect_equal(unname(s$values$items$communality + s$values$items$uniqueness), rep(1, 3))
    expect_match(s$findings$text[s$findings$code == "improper_solution"],
      "^item1 has its uniqueness at the bound")
    other <- extract_factors(
      heywood()[3:1, 3:1],
      1,
      n = 100) # the culprit is named, wherever it stands
    expect_match(other$findings$text[other$findings$code == "improper_solution"], "^item3 has")
  })

# Small noisy samples with as many factors as there can be, some of them improper under every
# method.
noisy_matrix <- function(seed, p = 7L, n = 20L) {
  set.seed(seed)
  cor(matrix(rnorm(n * p), n))
}

# Nothing of a solution, rotated or not, passes its bound.
expect_bounded <- function(s, where) {
  i <- s$values$items
  expect_lte(max(abs(s$values$structure)), 1 + 1e-9, label = where)
  expect_lte(max(i$communality), 1 + 1e-9, label = where)
  expect_gte(min(i$uniqueness), 0, label = where)
  if (!softsieve:::EXTRACTIONS[[s$settings$method]]$fits_variance) {
    expect_equal(i$communality + i$uniqueness, rep(1, nrow(i)), label = where)
  }
  expect_lte(max(softsieve:::gather_scoring(s, NULL, NULL)$determinacy), 1, label = where)
  turned <- rotate_factors(s, "oblimin", starts = 5, seed = 1)
  expect_lte(max(abs(turned$values$structure)), 1 + 1e-9, label = where)
}

test_that("no structure, determinacy or communality passes 1, by any method, of any matrix", {
  met_bound <- 0L
  cases <- expand.grid(method = softsieve:::factor_methods(),
    analyse = c("correlations", "covariances"), seed = 1:6, stringsAsFactors = FALSE)
  cases <- cases[!(cases$method == "wls" & cases$analyse == "covariances"), ]
  for (k in seq_len(nrow(cases))) {
    case <- cases[k, ]
    r <- noisy_matrix(case$seed)
    sds <- runif(7, .5, 4)
    # image finds factors that explain nothing
    s <- tryCatch(
      extract_factors(correlate_items(r, n = 20, sds = sds), 3, method = case$method,
        analyse = case$analyse),
      softsieve_error_factors = function(e) NULL)
    if (is.null(s)) next
    met_bound <- met_bound + any(s$findings$code == "improper_solution")
    expect_bounded(s, paste(case, collapse = " "))
  }
  expect_gt(met_bound, 20)
})

test_that("maximum likelihood tells of a fitted variance that is not the observed one", {
  told <- 0L
  for (seed in 1:8) {
    s <- extract_factors(noisy_matrix(seed), 3, n = 20, method = "ml", lowest_uniqueness = 0.3)
    moved <- s$values$items$loading_unit^2
    told <- told + sum(abs(moved - 1) > 5e-4)
    hit <- s$findings[s$findings$code == "fitted_variance", ]
    expect_identical(hit$item, s$values$items$item[abs(moved - 1) >= 5e-4])
    expect_equal(unname(diag(fitted(s))), moved)
    # the reproduced matrix is that of the search, not of the rescaled row
    expect_equal(residuals(s), s$values$correlations - fitted(s))
  }
  expect_gt(told, 0)
})

test_that("one-factor coefficients stay within their range", {
  d <- as.data.frame(with_correlations(heywood(), 100))
  for (replicates in c(0, 60)) {
    v <- assess_reliability(list(s = names(d)), d, replicates = replicates,
      seed = 1)$values$coefficients
    h <- v[v$coefficient == "coefficient_h", ]
    expect_lte(h$estimate, 1)
    if (replicates) expect_lte(h$upper, 1)
  }
})

test_that("the search meets the best of two hundred random starts where one search does not", {
  set.seed(3)
  p <- sample(5:9, 1)
  k <- sample(1:2, 1)
  n <- sample(c(15, 30, 60), 1)
  z <- matrix(rnorm(n * p), n) + outer(rnorm(n), runif(p, 0, 1.5))
  expect_equal(search_for(cor(z), 2L, "gls")$discrepancy, .2775, tolerance = 1e-3)
  worse <- 0L
  for (seed in 1:8) {
    r <- noisy_matrix(seed, 9L, 25L)
    for (method in c("minres", "ml", "gls")) {
      set.seed(seed)
      ends <- replicate(200,
        softsieve:::cpp_fit_uniquenesses(r, 4L, method, runif(9, .02, .98), .005, 1e-7,
          200L)$discrepancy)
      factor <- if (method == "minres") 2 else 1
      expect_lte(search_for(r, 4L, method)$discrepancy / factor, min(ends) + 1e-6,
        label = paste(method, seed))
      one <- softsieve:::extract_by(method, r, 4L, .005, 0L)
      expect_identical(one$starts, 1L)
      worse <- worse + (one$discrepancy / factor > min(ends) + 1e-6)
    }
  }
  expect_gt(worse, 3)
})

test_that("a clear solution costs a handful of searches", {
  s <- extract_factors(motives(), 4, starts = 3)
  expect_identical(
    s$values$fit$starts,
    6L) # the usual one, another method's end, one factor less, three random
  expect_identical(s$values$fit$apart, 0L)
})

test_that("principal axes end where minimum residuals do, also at the bound", {
  for (r in list(heywood(), known_correlations())) {
    k <- if (ncol(r) == 3) 1L else 3L
    a <- softsieve:::extract_by("principal_axis", r, k, .005)
    b <- softsieve:::extract_by("minres", r, k, .005, 5L)
    expect_equal(tcrossprod(a$loadings), tcrossprod(b$loadings), tolerance = 1e-6)
  }
})

test_that("the core refuses what has no meaning, and never takes another method for it", {
  r <- known_correlations()
  core <- asNamespace("softsieve")
  refused <- function(code, what) expect_error(code, what)
  refused(core$cpp_fit_uniquenesses(r, 9L, "minres", rep(.5, 9), .005, 1e-9, 10L),
    "below that of items")
  refused(core$cpp_fit_uniquenesses(r, -1L, "minres", rep(.5, 9), .005, 1e-9, 10L),
    "below that of items")
  refused(core$cpp_fit_uniquenesses(r, 2L, "mlx", rep(.5, 9), .005, 1e-9, 10L), "knows no 'mlx'")
  refused(core$cpp_fit_uniquenesses(r[, 1:4], 2L, "ml", rep(.5, 9), .005, 1e-9, 10L), "square")
  refused(core$cpp_fit_uniquenesses(r, 2L, "ml", rep(.5, 3), .005, 1e-9, 10L),
    "one start for each item")
  refused(core$cpp_fit_uniquenesses(matrix(0, 0, 0), 0L, "ml", numeric(), .005, 1e-9, 10L),
    "not empty")
  refused(core$cpp_spectrum(r, "principal"), "knows no 'principal'")
  refused(
    core$cpp_rotate_each(list(known_pattern()), "sideways", list(core$core_request("geomin", .01)),
      1L, 1, 1L, 1e-6, 10L, NULL),
    "knows no 'sideways'")
  refused(
    core$cpp_criterion(known_pattern(), core$core_request("target", 0, matrix(0, 2, 2))),
    "same shape")
  refused(core$cpp_table_correlations(matrix("a"), "pearson", NULL, TRUE, 1L, NULL),
    "matrix of numbers")
  refused(core$cpp_table_correlations(matrix(1:4, 2), "kendall", NULL, TRUE, 1L, NULL),
    "knows no 'kendall'")
  refused(
    core$cpp_table_correlations(matrix(1:4, 2), "pearson", c(1, 2, 3), TRUE, 1L, NULL),
    "needs a weight")
  refused(core$cpp_search_ladder(r, 9L, "ml", 4L, .005, 2L, 1e-9, 9L, 1L), "below that of items")
  refused(core$cpp_sample_eigenvalues(50L, 5L, diag(3), "components", 0L, 5L, 1, 1L, NULL),
    "root must fit")
  refused(core$cpp_measure_covariances(r, c(1L, -1L)), "sign for each item")
  refused(core$cpp_greatest_split(matrix(1), 1), "cannot be split")
  refused(core$cpp_minimum_rank(r, 1), "one cost for each item")
  refused(core$extract_by("centroid", r, 2L, .005), "no extraction is called")
})

test_that("the discrepancy is what the help page says it is, in the units analysed", {
  r <- noisy_matrix(2, 8L, 60L)
  sds <- seq(1, 4, length.out = 8)
  given <- correlate_items(r, n = 60, sds = sds)
  off <- function(m) sum(m[upper.tri(m)]^2)
  least <- extract_factors(given, 2)
  expect_equal(least$values$fit$discrepancy, 2 * off(residuals(least)))
  units <- extract_factors(given, 2, analyse = "covariances")
  expect_equal(units$values$fit$discrepancy, 2 * off(residuals(units)))
  weighted <- extract_factors(given, 2, method = "wls")
  se <- given$values$standard_errors
  expect_equal(weighted$values$fit$discrepancy, sum((residuals(weighted)^2 / se^2)[upper.tri(r)]))
  gls <- extract_factors(given, 2, method = "gls")
  expect_equal(gls$values$fit$discrepancy,
    sum(diag((diag(8) - solve(r, fitted(gls))) %*% (diag(8) - solve(r, fitted(gls))))) / 2)
  layers <- extract_components(given, 2, analyse = "covariances")
  taken <- component_layers(layers)
  expect_equal(sign(colSums(taken$values$vectors[, 1:2] * layers$values$unrotated)), c(1, 1),
    ignore_attr = TRUE)
})
