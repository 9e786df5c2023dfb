# Factors of factors, and the Schmid-Leiman form.

hierarchy <- function(higher, pattern = known_pattern()) {
  between <- tcrossprod(higher)
  diag(between) <- 1
  factor_solution(known_correlations(pattern, between), ncol(pattern), n = 500,
    rotation = "quartimin", seed = 1)
}

test_that("three factors by hand: the higher loadings and both kinds of loadings of the items", {
  higher <- c(.9, .7, .5)
  form <- hierarchical_form(hierarchy(higher))
  order <- apply(abs(form$values$loadings[c(1, 4, 7), -1]), 1, which.max)
  expect_equal(form$values$higher_loadings[order, 1], higher, ignore_attr = TRUE, tolerance = 1e-4)
  general <- drop(known_pattern() %*% higher)
  expect_equal(form$values$loadings[, "G"], general, tolerance = 1e-4)
  group <- known_pattern() %*% diag(sqrt(1 - higher^2))
  expect_equal(form$values$loadings[, -1][, order], group, ignore_attr = TRUE, tolerance = 1e-4)
  expect_equal(form$values$general_share, sum(general^2) / (sum(general^2) + sum(group^2)),
    tolerance = 1e-4)
  # three correlations and three loadings: exact, so that the communalities stay
  expect_equal(rowSums(form$values$loadings^2), rowSums(known_pattern()^2), tolerance = 1e-4)
  expect_output(print(form), "The general factor accounts for")
})

test_that("two factors tell only the root of their correlation", {
  pattern <- known_pattern()[1:6, 1:2]
  between <- matrix(c(1, .36, .36, 1), 2)
  s <- factor_solution(known_correlations(pattern, between), 2, n = 500, rotation = "quartimin",
    seed = 1)
  form <- hierarchical_form(s)
  expect_equal(as.numeric(form$values$higher_loadings), c(.6, .6), tolerance = 1e-4)
  expect_true("two_factors" %in% form$findings$code)
})

test_that("several general factors are uncorrelated and leave less of the factor correlations", {
  set.seed(2)
  pattern <- kronecker(diag(6), matrix(c(.8, .7, .75), 3))
  rownames(pattern) <- paste0("i", 1:18)
  higher <- cbind(c(.8, .7, .75, 0, 0, .2), c(0, .2, 0, .8, .7, .6))
  between <- tcrossprod(higher)
  diag(between) <- 1
  s <- factor_solution(known_correlations(pattern, between), 6, n = 500, rotation = "quartimin",
    seed = 1)
  two <- hierarchical_form(s, factors = 2)
  expect_lt(two$values$residual, 1e-5)
  expect_lt(two$values$residual, hierarchical_form(s)$values$residual)
  expect_equal(rowSums(two$values$loadings^2), rowSums(pattern^2), tolerance = 1e-4)
  expect_identical(colnames(two$values$loadings)[1:2], c("G1", "G2"))
})

test_that("what has no general factor is refused", {
  expect_error(hierarchical_form(factor_solution(motives(), 4, rotation = "varimax", seed = 1)),
    "do not correlate", class = "softsieve_error_factors")
  expect_error(hierarchical_form(extract_factors(motives(), 1)), "one factor",
    class = "softsieve_error_factors")
  expect_error(hierarchical_form(factor_solution(motives(), 4, seed = 1), factors = 2),
    "allow 1\\.", class = "softsieve_error_factors")
  weak <- hierarchical_form(factor_solution(motives(), 4, seed = 1))
  expect_true("weak_general" %in% weak$findings$code)
  expect_identical(nrow(tidy(weak)), 26L * 5L)
})
