# Scores: every method against its formula in plain matrix algebra, gaps, errors, scales, norms.

# Normal answers of 9 items on three correlated factors, drawn anew with a seed.
drawn_answers <- function(n = 400, seed = 1) {
  set.seed(seed)
  p <- known_pattern()
  factors <- matrix(rnorm(n * 3), n) %*% chol(known_between())
  own <- sqrt(1 - diag(p %*% known_between() %*% t(p)))
  x <- factors %*% t(p) + matrix(rnorm(n * 9), n) %*% diag(own)
  as.data.frame(round(3 + 1.2 * x, 3)) |> stats::setNames(rownames(p))
}
raised <- function(m, power) {
  e <- eigen(m, symmetric = TRUE)
  e$vectors %*% diag(e$values^power) %*% t(e$vectors)
}
# Weights by the papers' formulas, written down once more.
weights_by_paper <- function(method, r, l, p, u) {
  s <- l %*% p
  half <- raised(p, .5)
  switch(method, regression = solve(r) %*% s,
    bartlett = solve(diag(u)) %*% l %*% solve(t(l) %*% solve(diag(u)) %*% l),
    correlation_preserving = {
      n <- raised(r, -.5) %*% l %*% half
      raised(r, -.5) %*% n %*% raised(t(n) %*% n, -.5) %*% half
    },
    anderson_rubin = {
      m <- solve(diag(u)) %*% l
      m %*% raised(t(m) %*% r %*% m, -.5)
    })
}
# Blocks of so many cells while the test runs.
local_cells <- function(cells, env = parent.frame()) {
  space <- asNamespace("softsieve")
  before <- get("BLOCK_CELLS", space)
  put <- function(value) {
    unlockBinding("BLOCK_CELLS", space)
    assign("BLOCK_CELLS", value, envir = space)
  }
  put(cells)
  withr::defer(put(before), envir = env)
}
METHODS <- c("regression", "bartlett", "correlation_preserving", "anderson_rubin")
factors_of <- function(scored) as.matrix(as_tibble(scored)[scored$values$factors$factor])

test_that("every method gives the weights of its paper, with and without missing answers", {
  d <- drawn_answers()
  s <- factor_solution(d, 3, seed = 1)
  v <- s$values
  z <- scale(as.matrix(d))
  gaps <- d
  gaps[1, 1:2] <- NA
  gaps[2, c(3, 7)] <- NA
  z_gaps <- sweep(sweep(as.matrix(gaps), 2, v$items$mean), 2, v$items$sd, "/")
  for (method in METHODS) {
    by_paper <- function(has) {
      weights_by_paper(method, v$correlations[has, has], v$loadings[has, ], v$factor_correlations,
        v$items$uniqueness[has])
    }
    scored <- score_respondents(s, d, method = method)
    expect_equal(scored$values$weights, by_paper(1:9), ignore_attr = TRUE, label = method)
    expect_equal(factors_of(scored), z %*% by_paper(1:9), ignore_attr = TRUE, label = method)
    # two ways of the same: the compiled one, and one pattern of gaps after the other
    partial <- factors_of(score_respondents(s, gaps, method = method))
    expect_equal(partial, factors_of(score_respondents(s, gaps, method = method, errors = TRUE)),
      label = method)
    expect_equal(partial[1, ], drop(z_gaps[1, 3:9] %*% by_paper(3:9)), ignore_attr = TRUE)
    has <- setdiff(1:9, c(3, 7))
    expect_equal(partial[2, ], drop(z_gaps[2, has] %*% by_paper(has)), ignore_attr = TRUE)
    expect_equal(partial[-(1:2), ], factors_of(scored)[-(1:2), ], label = method)
  }
})

test_that("weights worked by hand: one factor, three items alike", {
  # loadings .8, correlations .64: R^-1 S = .8 / (1 + 2 * .64) each
  r <- matrix(.64, 3, 3, dimnames = list(c("a", "b", "c"), NULL))
  diag(r) <- 1
  s <- extract_factors(correlate_items(r, n = 100), 1)
  units <- data.frame(item = c("a", "b", "c"), mean = 3, sd = 2)
  one <- data.frame(a = 5, b = 3, c = 1)
  weights <- function(method) score_respondents(s, one, method, units = units)$values$weights[, 1]
  expect_equal(unname(weights("regression")), rep(.8 / 2.28, 3), tolerance = 1e-6)
  # U^-1 L / (L' U^-1 L) = (.8 / .36) / (3 * .64 / .36)
  expect_equal(unname(weights("bartlett")), rep(.8 / 1.92, 3), tolerance = 1e-6)
  # equal weights whose score has variance 1: 1 / sqrt(3 + 6 * .64)
  expect_equal(unname(weights("correlation_preserving")), rep(1 / sqrt(6.84), 3), tolerance = 1e-6)
  expect_equal(weights("anderson_rubin"), weights("correlation_preserving"), tolerance = 1e-6)
  # z = 1, 0, -1: the score is 0; with the middle answer alone it is .8 z
  scored <- score_respondents(s, rbind(one, c(NA, 5, NA)), units = units, answered_share = 0)
  expect_equal(as_tibble(scored)$F1, c(0, .8), tolerance = 1e-6)
})

test_that("scores correlate as their formulas say, and with the factors", {
  d <- drawn_answers(600, 2)
  s <- factor_solution(d, 3, seed = 1)
  v <- s$values
  for (method in METHODS) {
    scored <- score_respondents(s, d, method = method)
    told <- scored$values$correlations
    # the correlations are those of these people, so that formula and scores are one
    expect_equal(told$scores, told$observed, label = method)
    expect_equal(told$observed, cor(factors_of(scored))[lower.tri(diag(3))], label = method)
    w <- scored$values$weights
    spread <- sqrt(diag(t(w) %*% v$correlations %*% w))
    valid <- t(w) %*% v$structure / spread
    expect_equal(scored$values$factors$validity, unname(diag(valid)), label = method)
    expect_equal(told$leaks[1], valid[1, 2], label = method)
    expect_equal(told$leaks_back[1], valid[2, 1], label = method)
    expect_equal(told$factors, v$factor_correlations[lower.tri(diag(3))], label = method)
  }
  expect_equal(cov(factors_of(score_respondents(s, d, "correlation_preserving"))),
    v$factor_correlations, ignore_attr = TRUE)
  expect_equal(cov(factors_of(score_respondents(s, d, "anderson_rubin"))), diag(3),
    ignore_attr = TRUE)
  f <- score_respondents(s, d)$values$factors
  expect_equal(f$determinacy, f$validity)
  expect_equal(f$smallest, 2 * f$determinacy^2 - 1)
  expect_equal(f$determinacy, unname(sqrt(diag(t(v$structure) %*% solve(v$correlations) %*%
    v$structure))))
})

test_that("the two sets of scores that are least alike correlate as Guttman says", {
  # any F = regression score + what is left, reverse-scored in the other: both are factors
  d <- drawn_answers(5000, 3)
  s <- factor_solution(d, 1, seed = 1)
  scored <- score_respondents(s, d)
  x <- drop(scale(as_tibble(scored)$F1)) * scored$values$factors$determinacy
  left <- residuals(lm(rnorm(5000) ~ as.matrix(d)))
  left <- left / sd(left) * sqrt(1 - scored$values$factors$determinacy^2)
  expect_equal(cor(x + left, x - left), scored$values$factors$smallest, tolerance = 1e-8)
  expect_equal(cor(x + left, d[[1]]), cor(x - left, d[[1]]))
})

test_that("component scores do not correlate, are the components, and have no error", {
  d <- drawn_answers()
  plain <- extract_components(d, 3)
  scored <- score_respondents(plain, d, errors = TRUE)
  expect_equal(cov(factors_of(scored)), diag(3), ignore_attr = TRUE)
  e <- eigen(cor(d))
  expect_equal(abs(factors_of(scored)), abs(scale(d) %*% e$vectors[, 1:3] %*%
    diag(1 / sqrt(e$values[1:3]))), ignore_attr = TRUE)
  expect_identical(max(as_tibble(scored)$C1_error), 0)
  turned <- rotate_factors(plain, "oblimin", seed = 1)
  expect_equal(cor(factors_of(score_respondents(turned, d))), turned$values$factor_correlations,
    ignore_attr = TRUE)
  # an item that follows from others is no obstacle
  d$sum <- d[[1]] + d[[2]]
  singular <- suppressWarnings(extract_components(d, 3))
  expect_equal(cov(factors_of(score_respondents(singular, d))), diag(3), ignore_attr = TRUE)
  # of covariances: the eigenvectors of these
  moving <- extract_components(correlate_items(drawn_answers(), kind = "covariance"), 2)
  e <- eigen(cov(drawn_answers()))
  by_hand <- scale(drawn_answers(), scale = FALSE) %*% e$vectors[, 1:2] %*%
    diag(1 / sqrt(e$values[1:2]))
  expect_equal(abs(factors_of(score_respondents(moving, drawn_answers()))), abs(by_hand),
    ignore_attr = TRUE)
})

test_that("errors are the spread of score minus factor, as drawn factors show", {
  # answers that follow the model exactly, with factors that are known
  set.seed(5)
  n <- 20000
  p <- known_pattern()
  factors <- scale(matrix(rnorm(n * 3), n)) %*% chol(known_between())
  own <- sqrt(1 - diag(p %*% known_between() %*% t(p)))
  d <- as.data.frame(factors %*% t(p) + matrix(rnorm(n * 9), n) %*% diag(own))
  names(d) <- rownames(p)
  s <- rotate_factors(extract_factors(d, 3), "oblimin", seed = 1)
  at <- apply(abs(cor(factors, as.matrix(predict(s, d)))), 1, which.max)
  d[1:10000, 1:2] <- NA
  for (method in METHODS[1:3]) {
    scored <- as_tibble(score_respondents(s, d, method, errors = TRUE, level = .8))
    for (j in 1:3) {
      name <- paste0("F", at[j])
      sign <- sign(cor(factors[, j], scored[[name]]))
      upper <- scored[[paste0(name, "_upper")]]
      centre <- (upper + scored[[paste0(name, "_lower")]]) / 2
      apart <- centre - sign * factors[, j]
      for (rows in list(1:10000, 10001:20000)) {
        expect_equal(sd(apart[rows]), scored[[paste0(name, "_error")]][rows[1]], tolerance = .04,
          label = paste(method, name))
      }
      inside <- abs(apart) <= upper - centre
      expect_equal(mean(inside), .8, tolerance = .02)
    }
  }
})

test_that("a gap takes the person's mean, best weights, or no score, and all are counted", {
  s <- factor_solution(motives(items = m1:t6), 2, seed = 1, starts = 3)
  d <- repair_cafe[1:3, paste0(rep(c("m", "t"), each = 6), 1:6)]
  d[] <- 3
  d[1, ] <- as.list(c(5, 4, 5, 2, 4, 5, 3, 2, 3, 4, 2, 3))
  d[2, c("m1", "m2", "t3")] <- NA
  d[3, ] <- NA
  scored <- function(...) score_respondents(s, d, ..., answered_share = 0)
  v <- s$values
  keyed <- as.matrix(d)
  keyed[, c("m4", "t3")] <- 6 - keyed[, c("m4", "t3")]
  z <- sweep(sweep(keyed, 2, v$items$mean), 2, v$items$sd, "/")
  home <- apply(abs(v$loadings), 1, which.max)
  for (i in which(is.na(z[2, ]))) {
    others <- setdiff(which(home == home[i] & !is.na(z[2, ])), i)
    z[2, i] <- mean(z[2, others])
  }
  by_hand <- drop(z[2, ] %*% solve(v$correlations, v$structure))
  expect_equal(factors_of(scored(missing = "own_mean"))[2, ], by_hand, ignore_attr = TRUE)
  expect_identical(which(is.na(as_tibble(scored(missing = "none"))$F1)), 2:3)
  expect_identical(which(is.na(as_tibble(scored())$F1)), 3L)
  told <- function(...) {
    f <- scored(...)$findings
    f$text[f$code %in% c("not_scored", "scored_with_missing")]
  }
  expect_match(told(missing = "none"), "Not scored: 2 people \\(an answer is missing\\)",
    all = FALSE)
  expect_match(told(missing = "own_mean"),
    "Scored with missing answers: 1 person \\(with the person's mean", all = FALSE)
  # half of twelve items will do, and less will not
  half <- d[c(1, 1), ]
  half[1, 7:12] <- NA
  half[2, 6:12] <- NA
  expect_identical(is.na(predict(s, half)$F1), c(FALSE, TRUE))
  least <- score_respondents(s, d, answered_share = 0, answered_least = 10)
  expect_identical(which(is.na(as_tibble(least)$F1)), 2:3)
  # Bartlett scores of two factors cannot be had from one answer
  d[2, ] <- NA
  d[2, "m1"] <- 4
  few <- score_respondents(s, d, "bartlett", answered_share = 0)
  expect_true(is.na(as_tibble(few)$F1[2]))
  expect_match(few$findings$text, "1 person on F1 \\(the method needs more", all = FALSE)
  expect_match(few$findings$text, "1 person on F2 \\(none of the items", all = FALSE)
  expect_identical(is.na(as_tibble(few)$F2[1:2]), c(FALSE, TRUE))
})

test_that("scales: means and sums of keyed answers, prorated only when asked", {
  q <- motives()
  scales <- form_scales(list(mending = paste0("m", 1:6), thrift = paste0("t", 1:3)))
  keyed <- as_tibble(q)
  m <- as.matrix(keyed[paste0("m", 1:6)])
  t3 <- as.matrix(keyed[paste0("t", 1:3)])
  scored <- as_tibble(score_respondents(scales, q))
  enough <- rowSums(!is.na(m)) >= 3
  expect_equal(scored$mending, ifelse(enough, rowMeans(m, na.rm = TRUE), NA))
  sums <- as_tibble(score_respondents(scales, q, "sum"))
  expect_equal(sums$thrift, unname(rowSums(t3)))
  prorated <- as_tibble(score_respondents(scales, q, "sum", missing = "own_mean"))
  expect_equal(prorated$mending, 6 * scored$mending)
  expect_equal(
    as_tibble(score_respondents(scales, q, answered_share = 0, answered_least = 3))$thrift,
    unname(rowMeans(t3)))
  # raw answers, keyed by the scales' key; a codebook's scales; the way of one item
  from_book <- form_scales(motives())
  expect_equal(as_tibble(score_respondents(from_book, repair_cafe))$mending,
    as_tibble(score_respondents(from_book, q))$mending)
  expect_equal(predict(from_book, repair_cafe[5, ])$thrift,
    as_tibble(score_respondents(from_book, q))$thrift[5])
  expect_error(score_respondents(scales, q, missing = "best_weights"), "\"own_mean\", \"none\"",
    class = "softsieve_error_argument")
  expect_error(score_respondents(scales, q, "regression"), "is for factors",
    class = "softsieve_error_argument")
  none <- suppressMessages(predict(from_book, repair_cafe[1:4, paste0("t", 1:6)]))
  expect_true(all(is.na(none$mending)))
  expect_false(anyNA(none$thrift))
})

test_that("errors of scale scores follow reliability, and grow with missing answers", {
  q <- motives()
  scales <- form_scales(list(mending = paste0("m", 1:6), thrift = paste0("t", 1:3)))
  trust <- assess_reliability(scales, q, replicates = 0, seed = 1)
  known <- trust$values$scales
  scored <- score_respondents(scales, q, errors = TRUE, reliability = trust)
  s <- as_tibble(scored)
  full <- which(stats::complete.cases(q$values$answers))[1]
  expect_equal(s$mending_error[full], known$sem[1])
  four <- which(rowSums(!is.na(q$values$answers[, paste0("m", 1:6)])) == 4)[1]
  expect_equal(s$mending_error[four], known$sem[1] * sqrt(6 / 4))
  expect_equal(s$mending_upper - s$mending, qnorm(.975) * s$mending_error)
  expect_equal(scored$values$factors$reliability, known$reliability)
  expect_equal(as_tibble(score_respondents(scales, q, errors = TRUE)), s)
  sums <- as_tibble(score_respondents(scales, q, "sum", errors = TRUE, reliability = trust))
  expect_equal(sums$mending_error[full], 6 * known$sem[1])
  given <- score_respondents(scales, q, errors = TRUE, reliability = c(thrift = .5, mending = .75))
  g <- as_tibble(given)
  expect_equal(g$thrift_error[full], sd(g$thrift, na.rm = TRUE) * sqrt(.5))
  expect_error(score_respondents(scales, q, errors = TRUE, reliability = c(thrift = .5)),
    "Not there: mending", class = "softsieve_error_scales")
  expect_error(score_respondents(scales, q, errors = TRUE, reliability = "high"),
    class = "softsieve_error_argument")
  s <- solution4()
  expect_error(score_respondents(s, q, reliability = trust), "left out for factor scores",
    class = "softsieve_error_argument")
})

test_that("norms by hand: T scores, percentile ranks, groups, and other people's norms", {
  d <- data.frame(who = 1:8, side = rep(c("east", "west"), each = 4), a = c(1, 2, 2, 5, 1, 1, 3, 3),
    b = c(1, 2, 2, 3, 1, 1, 3, 5))
  q <- questionnaire(d, items = c(a, b), id = who, group = side, ends = c(1, 5))
  scales <- form_scales(list(both = c("a", "b")))
  scored <- score_respondents(scales, q, also = c("percentile", "t_score", "standardised"))
  s <- as_tibble(scored)
  both <- c(1, 2, 2, 4, 1, 1, 3, 4)
  expect_equal(s$both, both)
  # below and half of the equal: 1 has 3 equal of 8, 2 has 3 below and 2 equal
  expect_equal(s$both_percentile[1:4], 100 * c(1.5, 4, 4, 7) / 8)
  expect_equal(s$both_t_score, 50 + 10 * (both - mean(both)) / sd(both))
  expect_equal(s$both_standardised, drop(scale(both)), ignore_attr = TRUE)
  grouped <- score_respondents(scales, q, also = "percentile", by = "side")
  expect_equal(as_tibble(grouped)$both_percentile, c(12.5, 50, 50, 87.5, 25, 25, 62.5, 87.5))
  expect_identical(grouped$values$norms$people, c(4L, 4L))
  expect_equal(grouped$values$norms$mean, c(2.25, 2.25))
  expect_equal(grouped$values$norms$p50, c(2, 2))
  table <- grouped$values$norm_table
  expect_equal(table$score, c(1, 2, 4, 1, 3, 4))
  expect_identical(table$people, c(1L, 2L, 1L, 2L, 1L, 1L))
  expect_equal(table$percentile, c(12.5, 50, 87.5, 25, 62.5, 87.5))
  # new people against these, one in a group that the norms do not have
  new <- data.frame(side = c("west", "north"), a = c(2, 2), b = c(2, 2))
  later <- score_respondents(scales, new, also = "percentile", norms = grouped)
  expect_equal(as_tibble(later)$both_percentile, c(50, NA))
  expect_true("no_norms" %in% later$findings$code)
  expect_identical(later$values$norms, grouped$values$norms)
  nobody <- score_respondents(scales, d[0, ], errors = TRUE, reliability = c(both = .8))
  expect_identical(dim(as_tibble(nobody)), c(0L, 5L))
  expect_error(score_respondents(scales, d[0, ], also = "t_score"), "people to compare",
    class = "softsieve_error_norms")
  expect_error(score_respondents(scales, q, also = "percntile"), "Did you mean \"percentile\"",
    class = "softsieve_error_argument")
  expect_error(score_respondents(scales, q, by = "sid"), "who and side",
    class = "softsieve_error_groups")
  plain <- score_respondents(scales, q)
  expect_error(score_respondents(scales, q, norms = plain), "No norms are in it",
    class = "softsieve_error_norms")
  sums <- score_respondents(scales, q, "sum", also = "t_score")
  expect_error(score_respondents(scales, q, norms = sums), "sums of the items of both",
    class = "softsieve_error_norms")
  expect_error(score_respondents(scales, q, by = "who", norms = grouped),
    class = "softsieve_error_norms")
})

test_that("the same scores by every interface, whatever the blocks and threads", {
  q <- motives()
  s <- solution4()
  scored <- as_tibble(score_respondents(s, q))
  beside <- augment(s, repair_cafe)
  expect_equal(beside[c("F1", "F4")], scored[c("F1", "F4")])
  expect_equal(predict(s, repair_cafe)$F2, scored$F2)
  expect_equal(predict(s, q, method = "bartlett")$F2,
    as_tibble(score_respondents(s, q, "bartlett"))$F2)
  long <- tidy(score_respondents(s, q, errors = TRUE, also = "t_score"))
  expect_named(long, c("person", "cafe", "answered", "factor", "score", "error", "lower", "upper",
    "t_score"))
  expect_equal(long$score[long$factor == "F3"], scored$F3)
  for (cells in c(26, 26 * 100)) {
    local_cells(cells)
    expect_identical(as_tibble(score_respondents(s, q, threads = 2))$F1, scored$F1)
    expect_equal(as_tibble(score_respondents(s, q, "bartlett"))$F1,
      predict(s, q, method = "bartlett")$F1)
  }
})

test_that("a column that is there is never overwritten or doubled in silence", {
  s <- solution4()
  d <- cbind(repair_cafe, F2 = "mine")
  expect_error(augment(s, d), "They have: F2", class = "softsieve_error_columns")
  expect_identical(names(augment(s, d, replace = TRUE)), c(names(d), "F1", "F3", "F4"))
  expect_equal(augment(s, d, replace = TRUE)$F2, predict(s, d)$F2)
  expect_error(augment(s, d, replace = "yes"), class = "softsieve_error_argument")
  named <- name_factors(s, c(F1 = "a", F2 = "b"))
  other <- questionnaire(stats::setNames(repair_cafe, sub("cafe", "a", names(repair_cafe))),
    codebook = repair_cafe_codebook, group = "a")
  expect_error(score_respondents(named, other), "Twice: a", class = "softsieve_error_columns")
  twins <- name_factors(s, c(F1 = "a", F2 = "a_error"))
  expect_error(score_respondents(twins, motives(), errors = TRUE), "Twice: a_error",
    class = "softsieve_error_columns")
  scales <- form_scales(list(F2 = c("m1", "m2")))
  expect_error(augment(scales, d), class = "softsieve_error_columns")
  expect_message(predict(s, repair_cafe[names(repair_cafe) != "t1"]), "no item t1")
})

test_that("what cannot be had says what can", {
  q <- motives()
  r <- correlate_items(q)$values$correlations
  bare <- factor_solution(r, 4, n = 800, seed = 1)
  expect_error(score_respondents(bare, q), "units = \"own\"", class = "softsieve_error_units")
  expect_error(predict(bare, repair_cafe[1, ], units = "own"), "Not so: m1",
    class = "softsieve_error_units")
  spread <- factor_solution(correlate_items(r, n = 800, sds = rep(1, 26)), 4, seed = 1)
  expect_error(score_respondents(spread, q), class = "softsieve_error_units")
  own <- score_respondents(bare, q, units = "own")
  units <- solution4()$values$items[c("item", "mean", "sd")]
  given <- score_respondents(bare, q, units = units[26:1, ])
  expect_equal(as_tibble(given)$F1, as_tibble(own)$F1)
  expect_false("own_norms" %in% given$findings$code)
  expect_error(score_respondents(bare, q, units = units[-1, ]), "Not there: m1",
    class = "softsieve_error_units")
  units$sd[2] <- 0
  expect_error(score_respondents(bare, q, units = units), "Not so: m2",
    class = "softsieve_error_units")
  expect_error(score_respondents(bare, q, units = 3), class = "softsieve_error_units")
  # a singular matrix: what follows from what is named, and another method goes
  d <- drawn_answers()
  d$sum <- d[[1]] + d[[2]]
  expect_error(extract_factors(d, 3), "follow from each other: i1, i2 and sum",
    class = "softsieve_error_singular")
  expect_error(score_respondents(extract_components(d, 3), d, "bartlett"), "is for factors",
    class = "softsieve_error_argument")
  heywood <- matrix(c(1, .8, .6, .8, 1, .3, .6, .3, 1), 3)
  none <- extract_factors(heywood, 1, n = 100, lowest_uniqueness = 0)
  expect_error(
    score_respondents(none, data.frame(item1 = 1:5, item2 = 5:1, item3 = c(1, 3, 2, 5, 4)),
      "bartlett", units = "own"),
    "Nothing is an item's own of: item1", class = "softsieve_error_method")
  expect_error(score_respondents(1, q), class = "softsieve_error_class")
  expect_error(score_respondents(bare, 1), class = "softsieve_error_class")
  expect_error(score_respondents(solution4(), q, method = "bartlet"), "Did you mean \"bartlett\"",
    class = "softsieve_error_argument")
})

test_that("components that are rounding have no scores, and all others are those without them", {
  set.seed(5)
  d <- as.data.frame(matrix(rnorm(240), 60))
  d$sum <- d$V1 + d$V2
  d$twice <- 2 * d$V3
  all <- extract_components(d, 6)
  s <- score_respondents(all, d)
  expect_identical(s$values$factors$factor, paste0("C", 1:4))
  told <- s$findings$text[s$findings$code == "component_without_variance"]
  expect_match(told, "C5 and C6 have no variance", fixed = TRUE)
  z <- scale(d)
  by_hand <- z %*% eigen(cor(d))$vectors[, 1:4] %*% diag(1 / sqrt(eigen(cor(d))$values[1:4]))
  expect_equal(abs(as.matrix(as.data.frame(predict(all, d)))), abs(by_hand), ignore_attr = TRUE)
  expect_identical(colnames(score_formula(all)$values$weights), paste0("C", 1:4))
  expect_true("component_without_variance" %in% score_formula(all)$findings$code)
  # five of six: one is rounding
  one <- score_respondents(extract_components(d, 5), d)$findings
  expect_match(one$text, "C5 has no variance", all = FALSE)
  expect_output(print(summary(all)), "C5: no variance")
  fit <- lm(y ~ C1 + C2, data.frame(y = d$V1, as_tibble(s)))
  expect_true(all(is.finite(carry_back(fit, all, data = d, replicates = 20,
    seed = 1)$values$table$raw_error)))
  expect_error(ggplot2::autoplot(all, "people", data = d, factors = c("C1", "C6")),
    class = "softsieve_error")
  expect_s3_class(ggplot2::autoplot(all, "people", data = d), "ggplot")
  # nothing is lost with them
  expect_equal(reconstruct_responses(all, d)$values$share, 1)
  expect_false("component_without_variance" %in%
    score_respondents(extract_components(d[1:4], 4), d[1:4])$findings$code)
})

test_that("weights of length one give scores whose variance is the eigenvalue", {
  set.seed(6)
  d <- as.data.frame(matrix(rnorm(400), 80) %*% chol(known_correlations()[1:5, 1:5]))
  names(d) <- paste0("V", 1:5)
  d$V5 <- d$V5 * 30 + 200
  for (analysed in c("correlations", "covariances")) {
    x <- extract_components(d, 3, analyse = analysed)
    e <- eigen(if (analysed == "correlations") cor(d) else cov(d))
    s <- score_respondents(x, d, method = "unit_length")
    f <- score_formula(x, method = "unit_length")
    z <- scale(d, scale = analysed == "correlations")
    expect_equal(apply(as.matrix(as_tibble(s)[c("C1", "C2", "C3")]), 2, var), e$values[1:3],
      ignore_attr = TRUE)
    own <- f$values$weights * (if (analysed == "correlations") sapply(d, sd) else 1)
    expect_equal(unname(colSums(own^2)), rep(1, 3))
    scores <- function(...) as.matrix(predict(x, d, ...))
    expect_equal(abs(scores(method = "unit_length")), abs(z %*% e$vectors[, 1:3]),
      ignore_attr = TRUE)
    # the other scale: the same over the roots
    expect_equal(sweep(scores(), 2, sqrt(e$values[1:3]), "*"), scores(method = "unit_length"),
      ignore_attr = TRUE)
    # a model on them, in the columns: the same predictions
    y <- d$V1 - d$V4 + rnorm(80)
    fit <- lm(y ~ C1 + C2 + C3, data.frame(y, as_tibble(s)))
    back <- carry_back(fit, s, data = d)
    expect_lt(back$values$check$largest, 1e-10)
    expect_output(print(s), "variance is the eigenvalue")
  }
  # with missing answers limits are about the score, in its units
  d[1:9, 2] <- NA
  both <- lapply(c("component", "unit_length"), function(method) {
    as_tibble(score_respondents(x, d, method = method, errors = TRUE))
  })
  for (part in c("C1", "C1_error", "C1_lower", "C1_upper")) {
    expect_equal(both[[2]][[part]], both[[1]][[part]] * sqrt(e$values[1]), info = part)
  }
  told <- both[[2]]
  expect_true(all(told$C1_lower <= told$C1 + 1e-9 & told$C1 <= told$C1_upper + 1e-9))
  figure <- ggplot2::autoplot(score_respondents(x, d, method = "unit_length"), "spread")
  expect_match(figure$labels$x, "variance is the eigenvalue")
  expect_error(
    score_respondents(rotate_factors(x, "varimax", seed = 1), d, method = "unit_length"),
    "These were rotated (varimax)", fixed = TRUE, class = "softsieve_error_method")
})
