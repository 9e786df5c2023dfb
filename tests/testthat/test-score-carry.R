# The way back: from components to answers, and from a regression on scores to the items.

whole_answers <- function() {
  x <- keep_items(motives(), m1:t6)
  keep_people(x, stats::complete.cases(x$values$answers))
}
items_of <- function(x, of = "rebuilt") as.matrix(x$values[[of]][x$values$items$item])

test_that("kept components rebuild answers as eigenvectors do, down to the answers themselves", {
  q <- whole_answers()
  raw <- q$values$answers + 0
  turned <- q$values$items$reversed
  raw[, turned] <- 6 - raw[, turned]
  z <- scale(q$values$answers)
  e <- eigen(cor(z))
  for (kind in c("pearson", "covariance")) {
    s <- extract_components(correlate_items(q, kind = kind), 3)
    y <- if (kind == "pearson") z else scale(q$values$answers, scale = FALSE)
    v <- eigen(crossprod(y) / (nrow(y) - 1))$vectors
    for (m in c(1, 3, 12)) {
      back <- reconstruct_responses(s, factors = m)
      left <- y - y %*% tcrossprod(v[, seq_len(m)])
      rebuilt <- y - left
      if (kind == "pearson") rebuilt <- sweep(rebuilt, 2, attr(z, "scaled:scale"), "*")
      rebuilt <- sweep(rebuilt, 2, colMeans(q$values$answers), "+")
      rebuilt[, turned] <- 6 - rebuilt[, turned]
      where <- paste(kind, m)
      expect_equal(items_of(back), rebuilt, ignore_attr = TRUE, label = where)
      expect_equal(back$values$items$share, unname(1 - colSums(left^2) / colSums(y^2)))
      expect_equal(back$values$people$share, unname(1 - rowSums(left^2) / rowSums(y^2)))
      expect_equal(back$values$share, 1 - sum(left^2) / sum(y^2))
    }
    expect_lt(max(abs(items_of(back) - raw)), 1e-10)
    expect_equal(items_of(back, "answers"), raw, ignore_attr = TRUE)
    values <- eigen(crossprod(y))$values
    expect_equal(back$values$curve$share, cumsum(values) / sum(values))
    expect_equal(back$values$curve$added, values / sum(values))
    expect_identical(back$values$enough, which(cumsum(values) / sum(values) >= .9)[1])
  }
})

test_that("rotation changes nothing of all that is kept; names keep a part", {
  q <- whole_answers()
  s <- extract_components(q, 3)
  turned <- rotate_factors(s, "oblimin", seed = 1)
  expect_equal(items_of(reconstruct_responses(turned)), items_of(reconstruct_responses(s)))
  all <- reconstruct_responses(turned, factors = c("C2", "C1", "C3"))
  expect_equal(items_of(all), items_of(reconstruct_responses(s)))
  # the best linear prediction of the answers from one rotated score
  z <- scale(q$values$answers)
  score <- predict(turned, q)$C2
  one <- reconstruct_responses(turned, factors = "C2")
  kept <- fitted(lm(z ~ score))
  expect_equal(one$values$share, 1 - sum((z - kept)^2) / sum(z^2))
  # of common factors: from their regression scores
  f <- factor_solution(q, 2, seed = 1)
  back <- reconstruct_responses(f)
  kept <- fitted(lm(z ~ as.matrix(predict(f, q))))
  expect_equal(back$values$share, 1 - sum((z - kept)^2) / sum(z^2))
  expect_identical(nrow(back$values$curve), 2L)
  expect_identical(back$values$enough, NA_integer_)
  expect_equal(glance(reconstruct_responses(f, target = .1))$enough, 1L)
})

test_that("missing answers are filled for the way back, and do not count", {
  q <- keep_items(motives(), m1:t6)
  s <- extract_components(q, 3)
  back <- reconstruct_responses(s, factors = 12)
  given <- items_of(back, "answers")
  expect_gt(sum(is.na(given)), 50)
  expect_false(anyNA(items_of(back)))
  expect_lt(max(abs(items_of(back) - given), na.rm = TRUE), 1e-10)
  three <- reconstruct_responses(s)
  expect_equal(three$values$curve$share[3], three$values$share)
  # what stands in a gap is the regression on the others
  i <- which(is.na(given[, "m1"]) & rowSums(is.na(given)) == 1)[1]
  v <- s$values
  z <- (q$values$answers[i, -1] - v$items$mean[-1]) / v$items$sd[-1]
  filled <- sum(z * solve(v$correlations[-1, -1], v$correlations[-1, 1]))
  expect_equal(items_of(back)[i, "m1"], v$items$mean[1] + v$items$sd[1] * filled,
    ignore_attr = TRUE)
  expect_equal(back$values$people$answered, unname(rowSums(!is.na(given))))
  nobody <- repair_cafe[1:3, ]
  nobody[2, paste0(rep(c("m", "t"), each = 6), 1:6)] <- NA
  part <- reconstruct_responses(s, nobody)
  expect_true(is.na(part$values$people$share[2]))
  expect_true(all(is.na(items_of(part)[2, ])))
  # nobody's answers depend on the others'
  expect_equal(items_of(part)[1, ], items_of(reconstruct_responses(s, nobody[1, ]))[1, ])
  bare <- extract_components(correlate_items(v$correlations, n = 800), 3)
  expect_error(reconstruct_responses(bare), "must be a questionnaire",
    class = "softsieve_error_class")
  expect_error(reconstruct_responses(bare, q), class = "softsieve_error_units")
  own <- reconstruct_responses(bare, q, units = "own")
  expect_true("own_norms" %in% own$findings$code)
  expect_equal(own$values$share, reconstruct_responses(s)$values$share, tolerance = 1e-6)
  for (wrong in list(0, 13, "C9", 1.5, NA)) {
    expect_error(reconstruct_responses(s, factors = wrong), class = "softsieve_error_factors")
  }
  expect_error(reconstruct_responses(q), class = "softsieve_error_class")
})

test_that("a regression on scores says the same in items: lm, glm, vectors, every kind of score", {
  q <- motives()
  set.seed(1)
  hours <- 6 + rowMeans(repair_cafe[c("m1", "m4", "t3")], na.rm = TRUE) + rnorm(840)
  often <- hours + rnorm(840) > 9
  full <- which(stats::complete.cases(q$values$answers))
  raw <- as.matrix(repair_cafe[full, q$values$items$item])
  s <- solution4()
  scales <- form_scales(s)
  asked <- list(regression = score_respondents(s, q),
    bartlett = score_respondents(s, q, "bartlett"),
    component = score_respondents(extract_components(q, 4), q), mean = score_respondents(scales, q),
    sum = score_respondents(scales, q, "sum"))
  for (name in names(asked)) {
    scored <- asked[[name]]
    scores <- scored$values$factors$factor
    people <- data.frame(hours, often, age = seq_len(840) / 10, as_tibble(scored))
    with <- function(...) reformulate(c(scores, ...), "hours")
    fits <- list(lm(with(), people), lm(update(with(), . ~ . - 1), people), lm(with("age"), people),
      glm(reformulate(scores, "often"), binomial, people))
    for (fit in fits) {
      back <- carry_back(fit, scored, q)
      expect_lt(back$values$check$largest, 1e-8, label = name)
      expect_gt(back$values$check$people, 400, label = name)
      expect_lt(back$values$check$scores_differ, 1e-8, label = name)
      b <- coef(back)
      age <- if ("age" %in% names(b)) b[["age"]] * people$age[full] else 0
      own <- raw[, intersect(names(b), colnames(raw))]
      linear <- drop(b[[1]] + own %*% b[colnames(own)]) + age
      expect_equal(linear, unname(predict(fit, people[full, ])), label = name)
      # errors by the same matrix: of the prediction, item-wise and score-wise
      a <- cbind(1, own, if ("age" %in% names(b)) people$age[full])
      by_items <- sqrt(rowSums((a %*% vcov(back)) * a))
      se <- predict(fit, people[full, ], se.fit = TRUE)$se.fit
      expect_equal(unname(by_items), unname(se), tolerance = 1e-6, label = name)
      expect_equal(back$values$table$raw_error, unname(sqrt(pmax(diag(vcov(back)), 0))))
    }
  }
  # standardised: of keyed answers in standard deviations
  fit <- lm(hours ~ F1 + F2 + F3 + F4, data.frame(hours, as_tibble(asked$regression)))
  back <- carry_back(fit, s, replicates = 0)
  table <- as_tibble(back)
  items <- s$values$items
  own <- table[match(items$item, table$term), ]
  expect_equal(own$standardised, own$raw * items$sd * ifelse(items$reversed, -1, 1))
  expect_equal(own$standardised_error, own$raw_error * items$sd)
  expect_equal(table$standardised[1], coef(fit)[[1]])
  means <- carry_back(lm(hours ~ F1, data.frame(hours, as_tibble(asked$mean))), asked$mean, q)
  z <- scale(q$values$answers)[full, ]
  m <- as_tibble(means)
  expect_equal(drop(m$standardised[1] + z[, m$term[-1]] %*% m$standardised[-1]),
    drop(m$raw[1] + raw[, m$term[-1]] %*% m$raw[-1]))
  # coefficients alone, by a solution or a formula
  by_hand <- carry_back(coef(fit), s)
  expect_equal(coef(by_hand), coef(back))
  expect_true(all(is.na(by_hand$values$table$raw_error)))
  expect_equal(coef(carry_back(coef(fit), score_formula(s), q)), coef(back))
  expect_null(vcov(by_hand))
})

test_that("fits that cannot be carried back are refused, and other scores are noticed", {
  q <- motives()
  s <- solution4()
  scored <- score_respondents(s, q)
  people <- data.frame(y = seq_len(840) %% 7, as_tibble(scored))
  refused <- list(lm(y ~ F1 * F2, people), lm(y ~ F1 + I(F2^2), people),
    lm(y ~ poly(F1, 2), people), lm(y ~ F1 + again, transform(people, again = F1)),
    lm(y ~ answered, people), c(age = 2))
  says <- c("F1:F2", "I\\(F2\\^2\\)", "poly", "again", "No score", "No score")
  for (i in seq_along(refused)) {
    expect_error(carry_back(refused[[i]], scored), says[i], class = "softsieve_error_fit")
  }
  for (wrong in list("y", lm(cbind(y, F2) ~ F1, people), list(1), c(1, 2))) {
    expect_error(carry_back(wrong, scored), class = "softsieve_error_class")
  }
  fit <- lm(y ~ F1 + F2, people)
  expect_true("not_checked" %in% carry_back(fit, scored)$findings$code)
  expect_error(carry_back(fit, scored, repair_cafe[1:9, ]), class = "softsieve_error_other_people")
  bartlett <- score_respondents(s, q, "bartlett")
  told <- carry_back(fit, bartlett, q)$findings
  expect_identical(told$severity[told$code == "other_scores_in_fit"], "serious")
  # the same scores of some of the people, in another order, are these
  some <- lm(y ~ F1 + F2, people[sample(840, 300), ])
  expect_lt(carry_back(some, scored, q)$values$check$scores_differ, 1e-8)
  # names that are no syntax
  named <- name_factors(s, c(F1 = "being thrifty"))
  other <- score_respondents(named, q)
  fit <- lm(y ~ `being thrifty` + F2, data.frame(y = people$y, as_tibble(other),
    check.names = FALSE))
  expect_equal(unname(coef(carry_back(fit, other, q))),
    unname(coef(carry_back(lm(y ~ F1 + F2, people), scored, q))))
})
