# Scales and scores.

test_that("scales come from the codebook, the solution or a list, and say what is left out", {
  q <- motives()
  s <- factor_solution(q, seed = 1)
  expect_identical(unique(as_tibble(form_scales(q))$scale),
    c("mending", "thrift", "neighbours", "planet"))
  found <- form_scales(s)
  expect_setequal(setdiff(q$values$items$item, as_tibble(found)$item), c("o1", "o2", "p6"))
  expect_setequal(found$findings$code, c("weak_items_left_out", "cross_loading_items_left_out"))
  expect_true("p6" %in% as_tibble(form_scales(s, cross_loading = "highest"))$item)
  expect_error(form_scales(list(a = c("m1", "m2"), b = c("m2", "m3"))), "two or more: m2",
    class = "softsieve_error_scales")
  expect_error(form_scales(list(c("m1", "m2"))), class = "softsieve_error_scales")
  expect_true(all(c("o1", "o2") %in% as_tibble(form_scales(s, weak = "highest"))$item))
  expect_identical(as_tibble(found)$reversed[as_tibble(found)$item == "n5"], TRUE)
  against <- s
  against$values$loadings["t4", ] <- -against$values$loadings["t4", ]
  expect_match(form_scales(against)$findings$text[1], "t4 loads negatively")
})

test_that(
  "regression scores are what least squares gives on the factors, also with missing answers",
  {
    # With a population of exact correlations, the score is the projection of the factor on the
    # items.
    set.seed(8)
    factor <- matrix(rnorm(4000 * 3), 4000) %*% chol(known_between())
    p <- known_pattern()
    data <- as.data.frame(
      factor %*% t(p) +
        matrix(rnorm(4000 * 9), 4000) %*% diag(sqrt(1 - diag(p %*% known_between() %*% t(p)))))
    names(data) <- rownames(p)
    s <- factor_solution(data, 3, seed = 1)
    full <- score_respondents(s, data)
    scores <- as.matrix(as_tibble(full)[paste0("F", 1:3)])
    expect_equal(scores, scale(as.matrix(data)) %*% solve(cor(data), s$values$structure),
      ignore_attr = TRUE)
    expect_equal(full$values$factors$sd, full$values$factors$determinacy, tolerance = 1e-6)
    gaps <- data[1:5, ]
    gaps[1, 1:2] <- NA
    gaps[2, 1:6] <- NA
    partial <- as_tibble(score_respondents(s, gaps))
    has <- 3:9
    z1 <- (unlist(gaps[1, has]) - s$values$items$mean[has]) / s$values$items$sd[has]
    expect_equal(unlist(partial[1, c("F1", "F2", "F3")]),
      drop(z1 %*% solve(s$values$correlations[has, has], s$values$structure[has, ])),
      ignore_attr = TRUE)
    expect_true(all(is.na(partial[2, c("F1", "F2", "F3")])))
    expect_equal(unlist(partial[5, c("F1", "F2", "F3")]), scores[5, ], ignore_attr = TRUE)
  })

test_that("scores stand beside ids and groups, and other items are refused by name", {
  q <- motives()
  s <- factor_solution(q, seed = 1)
  expect_named(as_tibble(score_respondents(s, q)),
    c("person", "cafe", "answered", "F1", "F2", "F3", "F4"))
  expect_error(score_respondents(s, unrelated_answers(50, 4)), "Not in the data: m1, m2",
    class = "softsieve_error_other_items")
  small <- factor_solution(motives(items = m1:p5), 4, seed = 1)
  expect_error(score_respondents(small, q), "Not in the solution: p6, o1 and o2",
    class = "softsieve_error_other_items")
  bare <- factor_solution(correlate_items(q)$values$correlations, 4, n = 800, seed = 1)
  expect_true("own_norms" %in% score_respondents(bare, q, units = "own")$findings$code)
})

test_that("moved items stand in the scale that is named; strange ones are refused", {
  s <- name_factors(solution4(), c(F1 = "one"))
  plain <- form_scales(s)$values$scales
  crossing <- setdiff(rownames(coef(s)), plain$item)
  home <- plain$scale[plain$item == "t1"]
  other <- setdiff(colnames(coef(s)), home)[1]
  to <- stats::setNames(c(other, "F1"), c("t1", crossing[1]))
  moved <- form_scales(s, moved = to)$values$scales
  expect_identical(moved$scale[moved$item == "t1"], other)
  expect_identical(moved$scale[moved$item == crossing[1]], "one")
  rest <- setdiff(plain$item, "t1")
  expect_identical(moved$scale[match(rest, moved$item)], plain$scale[match(rest, plain$item)])
  # the reliability is that of the items named
  trust <- assess_reliability(form_scales(s, moved = c(t1 = other)), motives(), replicates = 0)
  own <- c(plain$item[plain$scale == other], "t1")
  by_list <- assess_reliability(list(x = own), motives(), replicates = 0)
  expect_equal(trust$values$scales$alpha[trust$values$scales$scale == other],
    by_list$values$scales$alpha)
  book <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
  named <- form_scales(book)$values$scales
  to <- setdiff(named$scale, named$scale[1])[1]
  again <- form_scales(book, moved = stats::setNames(to, named$item[1]))$values$scales
  expect_identical(again$scale[again$item == named$item[1]], to)
  for (wrong in list(c(zz = "F1"), c(t1 = "zz"))) {
    expect_error(form_scales(s, moved = wrong), class = "softsieve_error_scales")
  }
  expect_error(form_scales(list(a = c("t1", "t2")), moved = c(t1 = "a")),
    class = "softsieve_error_argument")
  expect_error(form_scales(s, moved = "F1"), class = "softsieve_error_argument")
})
