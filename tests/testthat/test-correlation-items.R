# Correlations and factorability.

test_that("pairwise and complete correlations rest on the people they say", {
  data <- data.frame(a = c(1, 2, 3, 4, 5, NA), b = c(2, 1, 4, 3, NA, 5), c = c(1, 3, 2, 5, 4, 4))
  pair <- correlate_items(data)
  expect_equal(pair$values$n_pair["a", "b"], 4)
  expect_equal(pair$values$n_pair["a", "c"], 5)
  expect_equal(pair$values$correlations["a", "b"], cor(1:4, c(2, 1, 4, 3)))
  expect_equal(pair$values$n, 4)
  whole <- correlate_items(data, missing = "complete")
  expect_equal(whole$values$correlations, cor(data[1:4, ]))
  expect_true(all(whole$values$n_pair == 4))
})

test_that("a matrix is taken with its n, and refused when it is none", {
  r <- known_correlations()
  expect_identical(correlate_items(r, n = 200)$values$n, 200)
  expect_error(correlate_items(r), "`n` is missing", class = "softsieve_error_matrix")
  expect_error(correlate_items(r[1:8, ], n = 200), "8 rows and 9 columns",
    class = "softsieve_error_matrix")
  expect_error(correlate_items(replace(r, 2, .9), n = 200), "not symmetric",
    class = "softsieve_error_matrix")
  expect_error(correlate_items(r * 1.5, n = 200), "outside", class = "softsieve_error_matrix")
  expect_error(correlate_items("text"), class = "softsieve_error_class")
})

test_that("constant items, too few people and pairs that nobody answered are errors with names", {
  data <- unrelated_answers(30, 4)
  expect_error(correlate_items(transform(data, q2 = 3)), "Constant: q2",
    class = "softsieve_error_constant_item")
  expect_error(correlate_items(transform(data, q3 = 1, q1 = 2)), "Constant: q1 and q3",
    class = "softsieve_error_constant_item")
  expect_error(correlate_items(data[1:2, ]), class = "softsieve_error_too_few_people")
  apart <- data
  apart$q1[1:15] <- NA
  apart$q2[16:30] <- NA
  expect_error(correlate_items(apart), "q1 with q2", class = "softsieve_error_no_pairs")
})

test_that(
  paste("identical items and fewer people than items are findings, then errors where the",
    "inverse is needed"),
  {
    data <- unrelated_answers(60, 4)
    same <- transform(data, q5 = q2)
    found <- correlate_items(same)
    expect_identical(found$findings$item[found$findings$code == "identical_items"], "q2")
    expect_error(assess_factorability(same), "q2 and q5", class = "softsieve_error_identical_items")
    expect_error(extract_factors(transform(data, q6 = 6 - q3), 1), "q3 and q6",
      class = "softsieve_error_identical_items")
    expect_error(assess_factorability(transform(data, q5 = q1 + q2 - q3)),
      class = "softsieve_error_singular")
    few <- unrelated_answers(8, 12)
    expect_true("fewer_people_than_items" %in% correlate_items(few)$findings$code)
    expect_error(assess_factorability(few), "8 people answered 12 items",
      class = "softsieve_error_too_few_people")
  })

test_that("sphericity and adequacy agree with a case worked by hand", {
  # All correlations .5, p = 3: determinant 1 - 3/4 + 2/8 = 1/2. Partial correlations are
  # (.5 - .25) / (1 - .25) = 1/3, so adequacy = .25 / (.25 + 1/9) = 9/13 for all and each.
  r <- matrix(.5, 3, 3)
  diag(r) <- 1
  x <- assess_factorability(r, n = 101)
  expect_equal(x$values$determinant, 0.5)
  expect_equal(x$values$sphericity$statistic, (100 - 11 / 6) * log(2))
  expect_equal(x$values$sphericity$df, 3)
  expect_equal(x$values$sphericity$p, pchisq((100 - 11 / 6) * log(2), 3, lower.tail = FALSE))
  expect_equal(x$values$adequacy, 9 / 13)
  expect_equal(x$values$items$adequacy, rep(9 / 13, 3))
  expect_equal(
    x$values$items$squared_multiple,
    rep(1 - 0.5 / 0.75, 3)) # 1 - |R| / |R without the item|
})

test_that("adequacy follows its definition through partial correlations from regressions", {
  q <- motives(items = c(m1:m4, o2))
  r <- correlate_items(q, missing = "complete")$values$correlations
  z <- q$values$answers[complete.cases(q$values$answers), ]
  partial <- function(i, j) {
    cor(resid(lm(z[, i] ~ z[, -c(i, j)])), resid(lm(z[, j] ~ z[, -c(i, j)])))
  }
  q_ij <- outer(1:5, 1:5, Vectorize(function(i, j) if (i == j) 0 else partial(i, j)))
  r_ij <- r - diag(5)
  x <- assess_factorability(q, missing = "complete")
  expected <- rowSums(r_ij^2) / (rowSums(r_ij^2) + rowSums(q_ij^2))
  expect_equal(x$values$items$adequacy, unname(sort(expected)))
  expect_equal(x$values$adequacy, sum(r_ij^2) / (sum(r_ij^2) + sum(q_ij^2)))
})

test_that("the verdict follows the cut-offs, and the weakest item is named", {
  x <- assess_factorability(motives())
  expect_identical(x$values$verdict, "meritorious")
  expect_identical(x$values$items$item[1], "o2")
  expect_identical(x$findings$item[x$findings$code == "low_item_adequacy"], "o2")
  expect_identical(assess_factorability(motives(), least = .95)$values$verdict, "unacceptable")
  expect_identical(vapply(c(.5, .6, .7, .8, .9), softsieve:::adequacy_word, ""),
    c("miserable", "mediocre", "middling", "meritorious", "marvelous"))
  noise <- assess_factorability(unrelated_answers(300, 6, seed = 3))
  expect_identical(noise$values$verdict, "unrelated")
  expect_true("unrelated_items" %in% noise$findings$code)
})

test_that("standard errors of Pearson and Spearman correlations are those of their formulas", {
  x <- as.data.frame(exp(with_correlations(matrix(c(1, .6, .6, 1), 2), 80)))
  pearson <- correlate_items(x, kind = "pearson")$values$correlations[1, 2]
  expect_equal(softsieve:::core_pearson_error(pearson, 80, "pearson"), (1 - pearson^2) / sqrt(79))
  ranks <- correlate_items(x, kind = "spearman")$values
  r <- cor(rank(x[, 1]), rank(x[, 2]))
  expect_equal(ranks$standard_errors[1, 2], (1 - r^2) / sqrt(79) * sqrt(1 + r^2 / 2))
  # and of samples: larger than Pearson's of normal answers, by about that
  set.seed(12)
  drawn <- replicate(2000, {
    z <- matrix(rnorm(100), 50) %*% chol(matrix(c(1, .7, .7, 1), 2))
    cor(z, method = "spearman")[1, 2]
  })
  expect_equal(sd(drawn), softsieve:::core_pearson_error(mean(drawn), 50, "spearman"),
    tolerance = .06)
})

test_that("one value far from all others spoils no pair that it is outside of", {
  set.seed(1)
  x <- as.data.frame(matrix(rnorm(300), 50))
  x[1, 1] <- 1e15
  x[1, 2] <- NA
  v <- correlate_items(x)$values
  expect_equal(v$correlations, cor(x, use = "pairwise"), tolerance = 1e-7)
  expect_equal(v$covariances, cov(x, use = "pairwise"), tolerance = 1e-7)
  weight <- rep(c(.5, 1.5), 25)
  weighted <- correlate_items(questionnaire(cbind(x, weight), items = V1:V6, weight = weight))
  by_hand <- cov.wt(x[-1, 1:2], weight[-1] / sum(weight[-1]), cor = TRUE)$cor[1, 2]
  expect_equal(weighted$values$correlations[1, 2], by_hand, tolerance = 1e-7)
  # two items that are one another: nobody moves their correlation, and no n is made of that
  same <- correlate_items(data.frame(a = x$V3, b = x$V3))$values
  expect_identical(same$n, 50)
})
