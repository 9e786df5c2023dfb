
test_that("correlations by EM are sifted, and the last solution is tested by what all items tell", {
  r <- correlate_items(motives(), missing = "em")
  sifted <- sift_items(r, factors = 4, passes = 1, starts = 2, seed = 1)
  expect_identical(setdiff(r$values$items$item, sifted$values$left), "o2")
  part <- softsieve:::correlations_of_some(r, sifted$values$left)
  direct <- extract_factors(part, 4)
  expect_equal(sifted$values$solution$values$fit$chi_square, direct$values$fit$chi_square)
  expect_true(is.finite(direct$values$fit$chi_square))
})
