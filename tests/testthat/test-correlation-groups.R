# Correlations by group and by window, against plain R.

test_that("each group's correlations, and their differences with limits, are as by hand", {
  q <- questionnaire(repair_log, visitors:parts, id = day, measured = TRUE)
  half <- rep(c("first", "second"), each = 104)
  x <- correlations_by(q, by = half)
  a <- as.data.frame(repair_log)
  r <- function(rows, i, j) stats::cor(a[rows, i], a[rows, j], use = "complete.obs")
  d <- x$values$differences
  one <- d[d$item == "visitors" & d$with == "cups", ]
  expect_equal(one$correlation, r(1:104, "visitors", "cups"))
  expect_equal(one$correlation_against, r(105:208, "visitors", "cups"))
  expect_equal(one$difference, one$correlation - one$correlation_against)
  expect_false(is.unsorted(-abs(d$difference)))
  # limits for all ten differences together
  n <- sum(!is.na(a$cups[1:104]))
  z <- function(r, n, side) tanh(atanh(r) + side * stats::qnorm(1 - .05 / 10 / 2) / sqrt(n - 3))
  lower <- one$difference - sqrt((one$correlation - z(one$correlation, n, -1))^2 +
    (z(one$correlation_against, 104, 1) - one$correlation_against)^2)
  expect_equal(one$lower, lower)
  expect_identical(x$values$groups$rows, c(104L, 104L), ignore_attr = TRUE)
  by_window <- correlations_by(q, window = 104)
  expect_equal(by_window$values$differences$difference, d$difference)
  expect_identical(as_tibble(x), d)
  narrow <- correlations_by(q, by = half, level = .5)$values$differences
  expect_equal(narrow$difference, d$difference)
  expect_lt(narrow$upper[1], d$upper[1])
  ranks <- correlations_by(q, by = half, kind = "spearman")
  expect_false(isTRUE(all.equal(ranks$values$differences$difference, d$difference)))
  expect_output(print(x), "10 differences differ beyond chance|of 10 differences")
  ggplot2::ggplot_build(ggplot2::autoplot(x))
})

test_that("a difference that is there is found, and narrowing is told", {
  set.seed(1)
  n <- 400
  g <- rep(c("a", "b"), each = n / 2)
  f <- stats::rnorm(n)
  x <- data.frame(u = f + stats::rnorm(n), v = ifelse(g == "a", f, -f) + stats::rnorm(n),
    w = stats::rnorm(n), g = g)
  q <- questionnaire(x, u:w, group = g, measured = TRUE)
  d <- correlations_by(q, by = g)$values$differences
  expect_identical(d$differs, d$item == "u" & d$with == "v")
  # the middle of a normal pair: its correlation falls to what narrowing alone does
  set.seed(2)
  u <- stats::rnorm(20000)
  y <- data.frame(u = u, v = 0.6 * u + 0.8 * stats::rnorm(20000))
  part <- ifelse(abs(u) < 0.5, "middle", "outside")
  z <- correlations_by(questionnaire(y, measured = TRUE), by = part)
  one <- z$values$differences
  expect_identical(one$group, "middle")
  expect_equal(one$by_narrowing, one$correlation, tolerance = 0.1)
  expect_lt(one$correlation, 0.3)
  expect_true("narrower_spread" %in% z$findings$code)
  for (wrong in list(rep("a", n), 1:3, seq_len(n))) {
    expect_error(correlations_by(q, by = wrong), class = "softsieve_error_groups")
  }
  expect_error(correlations_by(q), class = "softsieve_error_argument")
  expect_error(correlations_by(q, by = g, window = 20), class = "softsieve_error_argument")
  expect_error(correlations_by(q, window = 3), class = "softsieve_error_argument")
  expect_error(correlations_by(q, by = nowhere), class = "softsieve_error_groups")
})
