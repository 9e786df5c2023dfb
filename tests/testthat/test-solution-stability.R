# People resampled: against a plain loop, on any number of threads, in clusters and strata; groups
# that are equal and groups that are not.

core <- function(name) getFromNamespace(name, "softsieve")

small <- function(...) keep_items(motives(...), m1:t6)

# A column of the draws, worked out by the public stages from the people that were drawn.
plain_draw <- function(solution, times) {
  x <- solution$values$item_correlations$values$questionnaire$values$answers
  rows <- rep(seq_len(nrow(x)), times)
  s <- solution$settings
  again <- factor_solution(questionnaire(as.data.frame(x[rows, ])), s$factors, method = s$method,
    rotation = s$rotation, starts = 20, seed = 1)
  l <- coef(solution)
  found <- coef(again)
  # matched by hand: over all orders and signs the largest sum of congruences
  phi <- crossprod(l, found) / sqrt(colSums(l^2) %o% colSums(found^2))
  k <- ncol(l)
  orders <- as.matrix(expand.grid(rep(list(seq_len(k)), k)))
  orders <- orders[apply(orders, 1, function(x) !anyDuplicated(x)), , drop = FALSE]
  best <- orders[which.max(apply(orders, 1, function(o) sum(abs(phi[cbind(seq_len(k), o)])))), ]
  sign <- sign(phi[cbind(seq_len(k), best)])
  list(loadings = found[, best] * rep(sign, each = nrow(l)),
    between = again$values$factor_correlations[best, best] * (sign %o% sign),
    common = again$values$items$communality)
}

test_that("draws are those of a plain loop over the same people", {
  q <- small()
  for (way in list(list(method = "minres", rotation = "oblimin"),
    list(method = "ml", rotation = "varimax"), list(method = "components", rotation = "geomin"))) {
    s <- factor_solution(q, 2, method = way$method, rotation = way$rotation, seed = 1, starts = 5)
    found <- loading_stability(s, replicates = 20, halves = 0, seed = 3)$values$draws
    people <- seq_len(840) - 1L
    for (i in c(1, 13)) {
      times <- core("cpp_draw_people")(people, rep(0L, 840), 3, i - 1, FALSE)
      expect_identical(sum(times), 840)
      by_hand <- plain_draw(s, times)
      expect_equal(found$loadings[, , i], by_hand$loadings, tolerance = 1e-4, ignore_attr = TRUE)
      expect_equal(found$factor_correlations[, , i], by_hand$between, tolerance = 1e-4,
        ignore_attr = TRUE)
      expect_equal(unname(found$communalities[, i]), by_hand$common, tolerance = 1e-4)
    }
  }
})

test_that("ways that the core does not know go through the stages, on the same draws", {
  q <- small()
  fast <- factor_solution(q, 2, rotation = "varimax", seed = 1, starts = 5)
  slow <- factor_solution(q, 2, rotation = "varimax", normalization = "kaiser", seed = 1,
    starts = 5)
  one <- loading_stability(fast, replicates = 20, halves = 2, seed = 5)
  two <- loading_stability(slow, replicates = 20, halves = 2, seed = 5)
  # row weights turn the factors a little; communalities do not turn
  expect_equal(one$values$draws$communalities, two$values$draws$communalities, tolerance = 1e-4)
  expect_false(isTRUE(all.equal(one$values$draws$loadings, two$values$draws$loadings)))
  expect_equal(one$values$numbers, two$values$numbers)
  # the two halves are other people
  expect_lt(max(two$values$halves$congruence), .9999)
  expect_equal(two$values$halves$congruence, one$values$halves$congruence, tolerance = .01)
  for (way in list(list(kind = "polychoric"), list(kind = "spearman"), list(missing = "em"),
    list(method = "alpha"), list(method = "principal_axis_once", rotation = "promax"),
    list(kind = "covariance", missing = "complete"), list(kind = "covariance", method = "gls"))) {
    s <- do.call(factor_solution, c(list(q, 2, seed = 1, starts = 3), way))
    x <- loading_stability(s, replicates = 20, halves = 1, seed = 5)
    expect_identical(x$values$solved, 20L)
    error <- x$values$loadings$standard_error
    expect_true(all(error > 0.005 & error < 0.2), label = paste(unlist(way), collapse = " "))
    expect_gt(cor(rowMeans(matrix(x$values$draws$loadings, 24)), as.numeric(coef(s))), .99)
  }
})

test_that("the same seed gives the same draws on any number of threads", {
  s <- factor_solution(small(), 2, seed = 1, starts = 5)
  one <- loading_stability(s, replicates = 50, halves = 5, seed = 2, threads = 1)
  two <- loading_stability(s, replicates = 50, halves = 5, seed = 2, threads = 3)
  expect_identical(one$values, two$values)
  other <- loading_stability(s, replicates = 50, halves = 5, seed = 4)
  expect_false(isTRUE(all.equal(one$values$loadings$lower, other$values$loadings$lower)))
  set.seed(11)
  a <- loading_stability(s, replicates = 20, halves = 0)
  set.seed(11)
  b <- loading_stability(s, replicates = 20, halves = 0)
  expect_identical(a$values, b$values)
})

test_that("tables say what the draws say", {
  s <- name_factors(factor_solution(small(), 2, seed = 1, starts = 5), c("mending", "thrift"))
  x <- loading_stability(s, replicates = 60, halves = 10, level = .9, seed = 2)
  v <- x$values
  d <- v$draws$loadings
  expect_identical(dimnames(d)[[2]], c("mending", "thrift"))
  l <- v$loadings[v$loadings$item == "t2" & v$loadings$factor == "thrift", ]
  expect_equal(l$standard_error, sd(d["t2", "thrift", ]))
  expect_equal(c(l$lower, l$upper), quantile(d["t2", "thrift", ], c(.05, .95), names = FALSE))
  at <- v$items[v$items$item == "t2", ]
  expect_equal(at$stays, mean(abs(d["t2", "thrift", ]) >= abs(d["t2", "mending", ])))
  expect_equal(v$factor_correlations$correlation, s$values$factor_correlations[1, 2])
  expect_equal(v$factor_correlations$standard_error, sd(v$draws$factor_correlations[1, 2, ]))
  expect_equal(sum(v$numbers$share), 1)
  # of the two halves, by hand
  drawn <- core("draw_solutions")(s, small(), list(unit_of = 0:839, stratum_of = rep(0L, 840)), 60L,
    10L, 10L, 2L, 1L)
  phi <- vapply(1:10, function(i) {
    a <- drawn$loadings[, 1, 60 + 2 * i - 1]
    b <- drawn$loadings[, 1, 60 + 2 * i]
    sum(a * b) / sqrt(sum(a^2) * sum(b^2))
  }, 0)
  expect_equal(v$halves$congruence[1], median(phi))
  expect_equal(v$halves$equal[1], mean(phi >= .95))
  # an orthogonal rotation has no factor correlations to be sure of
  turned <- rotate_factors(s, "varimax", seed = 1)
  expect_identical(nrow(loading_stability(turned, replicates = 20)$values$factor_correlations), 0L)
})

test_that("clusters are drawn whole, strata keep their size, and halves are halves", {
  draw <- core("cpp_draw_people")
  cluster <- rep(0:29, each = 4)
  times <- draw(cluster, rep(0L, 30), 1, 0, FALSE)
  expect_true(all(tapply(times, cluster, function(x) length(unique(x)) == 1)))
  expect_identical(sum(times), 120)
  stratum <- rep(0:2, c(10, 30, 80))
  times <- draw(0:119, stratum, 1, 5, FALSE)
  expect_equal(unname(tapply(times, stratum, sum)), c(10, 30, 80), ignore_attr = TRUE)
  half <- draw(0:119, stratum, 1, 5, TRUE)
  expect_setequal(half, c(0, 1))
  expect_equal(unname(tapply(half, stratum, sum)), c(5, 15, 40), ignore_attr = TRUE)
  odd <- draw(0:20, rep(0L, 21), 1, 0, TRUE)
  expect_true(sum(odd) %in% 10:11)
  # each person is drawn once on average
  all <- rowMeans(vapply(0:399, function(i) draw(0:119, stratum, 1, i, FALSE), numeric(120)))
  expect_lt(max(abs(all - 1)), 5 / sqrt(400))
})

test_that("clusters widen what people alone would give; strata and weights are heeded", {
  set.seed(5)
  school <- rep(1:40, each = 10)
  shared <- matrix(rnorm(40 * 6), 40)[school, ]
  f <- rnorm(400)
  x <- as.data.frame(0.6 * f + shared + matrix(rnorm(2400), 400))
  names(x) <- paste0("q", 1:6)
  data <- cbind(school = school, part = rep(c("a", "b"), 200), w = runif(400, .2, 3), x)
  q <- questionnaire(data, group = c(school, part))
  s <- factor_solution(q, 1, seed = 1)
  people <- loading_stability(s, replicates = 200, halves = 0, seed = 1)
  schools <- loading_stability(s, clusters = "school", replicates = 200, halves = 0, seed = 1)
  spread <- function(x) mean(x$values$loadings$standard_error)
  expect_gt(spread(schools), 1.3 * spread(people))
  expect_identical(schools$values$units, 40L)
  parts <- loading_stability(s, strata = "part", replicates = 20, halves = 0, seed = 1)
  expect_false(isTRUE(all.equal(parts$values$loadings$lower,
    loading_stability(s, replicates = 20, halves = 0, seed = 1)$values$loadings$lower)))
  weighted <- questionnaire(data, group = c(school, part), weight = w)
  heavy <- loading_stability(factor_solution(weighted, 1, seed = 1), replicates = 100, seed = 1)
  # the draws are about the weighted loadings, not the plain ones
  centre <- rowMeans(heavy$values$draws$loadings[, 1, ])
  expect_lt(max(abs(centre - coef(factor_solution(weighted, 1))[, 1])), .03)
  few <- loading_stability(factor_solution(small(), 2, seed = 1, starts = 3), clusters = "cafe",
    replicates = 20, halves = 0)
  expect_true("few_units" %in% few$findings$code)
  for (wrong in list("caff", 3, c("school", "part"))) {
    expect_error(loading_stability(s, clusters = wrong), class = "softsieve_error_argument")
  }
  expect_error(loading_stability(s, clusters = "school", strata = "part"),
    "A cluster must lie within one stratum", class = "softsieve_error_argument")
})

test_that("many people are drawn in parts, and sums over parts are those of the people", {
  set.seed(8)
  f <- rnorm(3000)
  x <- as.data.frame(sapply(c(.8, .7, .6, .5, .4), function(l) l * f + sqrt(1 - l^2) * rnorm(3000)))
  x[1:200, 1] <- NA
  q <- questionnaire(x)
  s <- factor_solution(q, 1, seed = 1)
  many <- loading_stability(s, replicates = 300, halves = 3, seed = 1)
  expect_true("parts_drawn" %in% many$findings$code)
  # the same people, drawn one by one
  plan <- core("core_plan_of")(s, 5L, "components")
  answers <- q$values$answers
  answers[is.na(answers)] <- NaN
  single <- core("cpp_resample_solution")(answers, numeric(), 0:2999, rep(0L, 3000), plan, NULL,
    300L, 0L, 0L, 300L, 5000L, 500L, 1, 2L, NULL)
  one <- apply(single[1:5, ], 1, sd)
  expect_lt(max(abs(many$values$loadings$standard_error / one - 1)), .2)
  # halves of all people, by hand: every part is in one half
  expect_gt(min(many$values$halves$congruence), .99)
})

test_that("one factor, two items a factor, an item alone: draws have what solutions have", {
  q <- small()
  one <- factor_solution(keep_items(q, m1:m4), 1, seed = 1)
  x <- loading_stability(one, replicates = 30, seed = 1)
  expect_identical(nrow(x$values$loadings), 4L)
  expect_identical(unique(x$values$items$stays), 1)
  two <- factor_solution(keep_items(q, c(m1, m2, m3, t1, t2)), 2, seed = 1)
  expect_identical(nrow(loading_stability(two, replicates = 30, seed = 1)$values$halves), 2L)
  set.seed(3)
  alone <- questionnaire(cbind(as.data.frame(q$values$answers), alone = sample(5, 840, TRUE)))
  y <- loading_stability(factor_solution(alone, 2, seed = 1, starts = 3), replicates = 40, seed = 1)
  own <- y$values$loadings[y$values$loadings$item == "alone", ]
  expect_true(all(own$lower < .1 & own$upper > -.1))
  expect_false("alone" %in% y$findings$item[y$findings$code == "item_moves"])
  matrix <- factor_solution(correlate_items(known_correlations(), n = 200), 3, seed = 1, starts = 3)
  expect_error(loading_stability(matrix), class = "softsieve_error_no_answers")
  expect_error(loading_stability(one, replicates = 5), class = "softsieve_error_argument")
  expect_error(loading_stability(q), class = "softsieve_error_class")
})

# Answers of two groups to 12 items; in the second, items 3 and 5 may belong elsewhere.
two_groups <- function(n, differ, seed = 3) {
  l <- matrix(0, 12, 2)
  l[1:6, 1] <- l[7:12, 2] <- c(.8, .7, .6, .6, .5, .5)
  other <- l
  if (differ) other[c(3, 5), ] <- cbind(c(0, .1), c(.6, .4))
  set.seed(seed)
  one <- function(loadings) {
    matrix(rnorm(n * 12), n) %*% chol(loadings %*% t(loadings) + diag(1 - rowSums(loadings^2)))
  }
  data.frame(g = rep(c("a", "b"), each = n), rbind(one(l), one(other)))
}

test_that("groups that are equal are called so, and the items of those that are not are named", {
  same <- factor_solution(questionnaire(two_groups(300, FALSE), group = g), 2, by = g,
    rotation = "varimax", seed = 1)
  v <- same$values
  expect_gt(v$chance$p, .05)
  expect_match(v$verdict[1], "No difference between the groups' factors stands out from chance")
  # that nothing stands out in small groups is not called equality
  few <- factor_solution(questionnaire(two_groups(40, FALSE), group = g), 2, by = g,
    rotation = "varimax", replicates = 100, seed = 1)
  expect_lt(min(few$values$congruences$congruence), .95)
  expect_gt(few$values$chance$p, .05)
  expect_match(few$values$verdict[1], "a difference may go unseen")
  expect_false(any(grepl("mean the same", few$values$verdict)))
  expect_lt(v$apart, 12)
  differ <- factor_solution(questionnaire(two_groups(300, TRUE), group = g), 2, by = "g",
    rotation = "varimax", seed = 1)
  expect_lt(differ$values$chance$p, .01)
  apart <- differ$values$differences
  expect_setequal(apart$item[1:8], c("X3", "X5"))
  expect_true(all(apart$apart[1:8]))
  # turned to everybody's: the closed form of the orthogonal rotation
  pooled <- coef(differ$values$pooled)
  a <- differ$values$solutions$a$values
  parts <- svd(crossprod(a$unrotated, pooled))
  expect_equal(coef(differ$values$solutions$a), a$unrotated %*% parts$u %*% t(parts$v),
    tolerance = 1e-5, ignore_attr = TRUE)
  both <- differ$values$congruences
  expect_equal(
    both$congruence[both$group == "b" & both$with == "a" & both$factor == "F1"],
    core("core_congruences")(coef(differ$values$solutions$a), coef(differ$values$solutions$b))[1, 1]
  )
  mean <- (coef(differ$values$solutions$a) + coef(differ$values$solutions$b)) / 2
  row <- apart[1, ]
  expect_equal(row$difference, row$loading - mean[row$item, row$factor])
})

test_that("small groups are told, and names and bare columns are taken", {
  d <- two_groups(150, FALSE)
  d$g[1:8] <- "tiny"
  d$g[9:50] <- "small"
  q <- questionnaire(d, group = g)
  x <- factor_solution(q, 2, by = g, replicates = 0, seed = 1)
  v <- x$values$congruences
  expect_true("everybody" %in% v$with)
  expect_identical(glance(x)$lowest_congruence, min(v$congruence[v$with != "everybody"]))
  expect_match(x$findings$text[x$findings$code == "group_left_out"], "tiny.*8 people for 12 items")
  expect_identical(x$findings$severity[x$findings$code == "group_left_out"], "serious")
  expect_match(x$findings$text[x$findings$code == "small_group_draws"], "in small")
  expect_null(x$values$chance)
  expect_true(all(is.na(x$values$differences$lower)))
  expect_error(factor_solution(q, 2, by = gg), "Their columns: g", class = "softsieve_error_groups")
  expect_error(factor_solution(q, 2, by = "gg"), class = "softsieve_error_groups")
  expect_error(factor_solution(q, 2, by = g, replicates = 5), class = "softsieve_error_argument")
  alone <- questionnaire(d[d$g != "b", ][1:60, ], group = g)
  expect_error(factor_solution(alone, 2, by = g), class = "softsieve_error")
  r <- known_correlations()
  expect_error(factor_solution(r, 2, n = 100, by = g), class = "softsieve_error_class")
})
