# Scales, reliability and scores.

test_that("alpha and item statistics agree with a case worked by hand", {
  # Three items with variance 2 and covariance 1: alpha = 3/2 (1 - 6/12) = .75, without one
  # 2 (1 - 4/6) = 2/3, each with the rest 2 / sqrt(2 * 6).
  s <- matrix(1, 3, 3) + diag(3)
  expect_equal(softsieve:::core_alpha(s), 0.75)
  expect_equal(softsieve:::core_alpha_without(s), rep(2 / 3, 3))
  expect_equal(softsieve:::core_item_rest(s), rep(2 / sqrt(12), 3))
})

test_that("omega equals alpha for equal loadings and exceeds it by the known amount otherwise", {
  reliability_of <- function(loadings) {
    r <- tcrossprod(loadings)
    diag(r) <- 1
    dimnames(r) <- list(letters[seq_along(loadings)], letters[seq_along(loadings)])
    as_tibble(assess_reliability(r, list(one = rownames(r)), n = 300))
  }
  equal <- reliability_of(rep(.7, 4))
  expect_equal(equal$omega, equal$alpha, tolerance = 1e-7)
  expect_equal(equal$alpha, 4 * .49 / (1 + 3 * .49))
  uneven <- c(.9, .7, .5, .3)
  mixed <- reliability_of(uneven)
  expect_equal(mixed$omega, sum(uneven)^2 / (sum(uneven)^2 + sum(1 - uneven^2)), tolerance = 1e-6)
  expect_gt(mixed$omega - mixed$alpha, .02)
})

test_that("alpha from answers is the one from the covariances of the sum", {
  q <- motives(items = n1:n6)
  z <- q$values$answers[complete.cases(q$values$answers), ]
  x <- assess_reliability(q, list(neighbours = colnames(z)), missing = "complete")
  expect_equal(as_tibble(x)$alpha, 6 / 5 * (1 - sum(apply(z, 2, var)) / var(rowSums(z))))
  expect_equal(tidy(x)$item_rest, unname(sapply(1:6, function(i) cor(z[, i], rowSums(z[, -i])))))
  expect_equal(tidy(x)$mean, unname(colMeans(z)))
})

test_that("an item that was not keyed is named and not turned", {
  unkeyed <- repair_cafe_codebook
  unkeyed$reversed[unkeyed$item == "n5"] <- FALSE
  q <- questionnaire(repair_cafe, codebook = unkeyed, id = person, group = cafe)
  x <- assess_reliability(q)
  expect_identical(x$findings$item[x$findings$code == "against_scale"], "n5")
  expect_lt(tidy(x)$item_rest[tidy(x)$item == "n5"], 0)
  expect_gt(as_tibble(assess_reliability(motives()))$alpha[3], as_tibble(x)$alpha[3])
})

test_that("scales come from the codebook, the solution or a list, and say what is left out", {
  q <- motives()
  s <- factor_solution(q, seed = 1)
  expect_identical(unique(as_tibble(form_scales(q))$scale), c("mending", "thrift", "neighbours", "planet"))
  found <- form_scales(s)
  expect_setequal(setdiff(q$values$items$item, as_tibble(found)$item), c("o1", "o2", "p6"))
  expect_setequal(found$findings$code, c("weak_items_left_out", "crossing_items_left_out"))
  expect_true("p6" %in% as_tibble(form_scales(s, crossing = "highest"))$item)
  expect_error(form_scales(list(a = c("m1", "m2"), b = c("m2", "m3"))), "two or more: m2",
               class = "softsieve_error_scales")
  expect_error(form_scales(list(c("m1", "m2"))), class = "softsieve_error_scales")
  expect_error(assess_reliability(q, list(a = c("m1", "m9"))), "Not there: m9", class = "softsieve_error_scales")
  two <- assess_reliability(q, list(pair = c("m1", "m2"), one = "t1"))
  expect_true(all(is.na(as_tibble(two)$omega)))
  expect_identical(is.na(as_tibble(two)$alpha), c(FALSE, TRUE))
})

test_that("regression scores are what least squares gives on the factors, also for people with gaps", {
  # With a population of exact correlations, the score is the projection of the factor on the items.
  set.seed(8)
  factor <- matrix(rnorm(4000 * 3), 4000) %*% chol(known_between())
  p <- known_pattern()
  data <- as.data.frame(factor %*% t(p) +
                        matrix(rnorm(4000 * 9), 4000) %*% diag(sqrt(1 - diag(p %*% known_between() %*% t(p)))))
  names(data) <- rownames(p)
  s <- factor_solution(data, 3, seed = 1)
  full <- score_respondents(s, data)
  scores <- as.matrix(as_tibble(full)[paste0("F", 1:3)])
  expect_equal(scores, scale(as.matrix(data)) %*% solve(cor(data), s$values$structure), ignore_attr = TRUE)
  expect_equal(full$values$factors$sd, full$values$factors$determinacy, tolerance = 1e-6)
  gaps <- data[1:5, ]
  gaps[1, 1:2] <- NA
  gaps[2, 1:6] <- NA
  partial <- as_tibble(score_respondents(s, gaps))
  has <- 3:9
  z1 <- (unlist(gaps[1, has]) - s$values$items$mean[has]) / s$values$items$sd[has]
  expect_equal(unlist(partial[1, c("F1", "F2", "F3")]),
               drop(z1 %*% solve(s$values$correlations[has, has], s$values$structure[has, ])), ignore_attr = TRUE)
  expect_true(all(is.na(partial[2, c("F1", "F2", "F3")])))
  expect_equal(unlist(partial[5, c("F1", "F2", "F3")]), scores[5, ], ignore_attr = TRUE)
})

test_that("scores stand beside ids and groups, and other items are refused by name", {
  q <- motives()
  s <- factor_solution(q, seed = 1)
  expect_named(as_tibble(score_respondents(s, q)), c("person", "cafe", "answered", "F1", "F2", "F3", "F4"))
  expect_error(score_respondents(s, motives(items = m1:p5)), "Not in the data: p6, o1 and o2",
               class = "softsieve_error_other_items")
  small <- factor_solution(motives(items = m1:p5), 4, seed = 1)
  expect_error(score_respondents(small, q), "Not in the solution: p6, o1 and o2", class = "softsieve_error_other_items")
  bare <- factor_solution(correlate_items(q)$values$correlations, 4, n = 800, seed = 1)
  expect_true("own_norms" %in% score_respondents(bare, q)$findings$code)
})
