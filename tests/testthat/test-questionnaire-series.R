# Rows that follow each other, against brute force and made-up series.

remembered <- function(n, p, memory) {
  x <- matrix(stats::rnorm(n * p), n, p)
  for (i in 2:n) x[i, ] <- memory * x[i - 1, ] + sqrt(1 - memory^2) * x[i, ]
  x
}
table_of_series <- function(n = 90, p = 5, memory = 0.7, seed = 1) {
  set.seed(seed)
  x <- as.data.frame(remembered(n, p, memory))
  names(x) <- paste0("g", seq_len(p))
  x$day <- as.Date("2025-01-01") + seq_len(n)
  x
}
series <- function(x, ...) questionnaire(x, order = day, measured = TRUE, ...)

test_that("dependence is that of the formulas", {
  x <- as.matrix(table_of_series()[1:5])
  r <- softsieve:::core_autocorrelations(x, rep(1L, 90), 8)
  by_hand <- stats::acf(x[, 2], 8, plot = FALSE)$acf[-1]
  expect_equal(r[, 2], by_hand)
  p <- softsieve:::core_dependence(r, 90)
  expect_equal(p[2], stats::Box.test(x[, 2], 8, "Ljung-Box")$p.value)
  # exact autocorrelations of a first-order series: (1 + a^2) / (1 - a^2) in the long run
  exact <- matrix(0.6^(1:60), 60, 2)
  effect <- softsieve:::core_series_effect(exact, 1e7)
  expect_equal(effect, (1 + 0.36) / (1 - 0.36), tolerance = 1e-6)
  # neighbours of other sites do not count
  two <- rep(1:2, each = 45)
  z <- x[, 1] - mean(x[, 1])
  at <- setdiff(1:89, 45)
  expect_equal(softsieve:::core_autocorrelations(x, two, 1)[1], sum(z[at] * z[at + 1]) / sum(z^2))
  gappy <- replace(x, cbind(c(3, 9), 1), NA)
  expect_true(all(is.finite(softsieve:::core_autocorrelations(gappy, rep(1L, 90), 3))))
})

test_that("shifted columns correlate as columns that are shifted by hand, gaps and all", {
  set.seed(2)
  z <- scale(remembered(24, 3, 0.5))
  turn <- function(v, by) v[(seq_along(v) - 1 - by) %% length(v) + 1]
  for (gaps in c(FALSE, TRUE)) {
    if (gaps) z[cbind(c(2, 7, 7), c(1, 2, 3))] <- NA
    held <- list(softsieve:::core_shifted_products(z, 24L))
    by <- c(0, 5, 17)
    found <- softsieve:::core_shifted_correlations(held, matrix(by, 1))
    # an offset moves a column up: row t has what stood at t + offset
    moved <- sapply(1:3, function(j) turn(z[, j], -by[j]))
    both <- function(i, j) {
      there <- !is.na(moved[, i]) & !is.na(moved[, j])
      a <- moved[there, i]
      b <- moved[there, j]
      sum(a * b) / sqrt(sum(a^2) * sum(b^2))
    }
    expect_equal(found[1, 2], both(1, 2))
    expect_equal(found[2, 3], both(2, 3))
  }
  # two series: each is turned by itself
  z <- scale(remembered(20, 2, 0.5))
  parts <- list(z[1:12, ], z[13:20, ])
  held <- Map(softsieve:::core_shifted_products, parts, c(12L, 8L))
  found <- softsieve:::core_shifted_correlations(held, rbind(c(0, 3), c(2, 0)))
  moved <- rbind(cbind(parts[[1]][, 1], turn(parts[[1]][, 2], -3)),
    cbind(turn(parts[[2]][, 1], -2), parts[[2]][, 2]))
  expect_equal(found[1, 2], sum(moved[, 1] * moved[, 2]) / sqrt(prod(colSums(moved^2))))
})

test_that("with an order levels are of shifted columns, tests of fewer rows, limits of blocks", {
  x <- table_of_series()
  plain <- questionnaire(x, g1:g5, measured = TRUE)
  expect_identical(plain$findings$code[plain$findings$code == "rows_alike"], "rows_alike")
  q <- series(x)
  expect_true("rows_depend" %in% q$findings$code)
  r <- correlate_items(q)
  expect_lt(r$values$n, 60)
  expect_identical(correlate_items(plain)$values$n, 90)
  expect_true(all(r$values$standard_errors[upper.tri(diag(5))] > 0))
  a <- parallel_analysis(r, seed = 1)
  expect_identical(a$settings$chance, "shifted")
  expect_equal(a$values$suggested, 0)
  expect_equal(a$values, parallel_analysis(r, seed = 1, threads = 1)$values)
  expect_gt(a$values$eigenvalues$chance_upper[1],
    parallel_analysis(plain, seed = 1)$values$eigenvalues$chance_upper[1])
  # the order is the column's, not the file's
  mixed <- series(x[sample(90), ])
  expect_equal(parallel_analysis(mixed, seed = 1)$values$eigenvalues, a$values$eigenvalues)
  # draws are of blocks
  set.seed(5)
  common <- remembered(400, 1, 0.9)[, 1]
  y <- data.frame(sapply(1:6, function(i) common + remembered(400, 1, 0.9)[, 1]))
  y$day <- seq_len(400)
  s <- factor_solution(series(y), 1, seed = 1)
  drawn <- loading_stability(s, replicates = 50, seed = 1)
  alone <- loading_stability(factor_solution(questionnaire(y, X1:X6, measured = TRUE), 1, seed = 1),
    replicates = 50, seed = 1)
  expect_lt(drawn$values$units, 120)
  width <- function(z) mean(z$values$loadings$upper - z$values$loadings$lower)
  expect_gt(width(drawn), width(alone))
  # independent rows stay what they are
  still <- series(table_of_series(memory = 0))
  expect_null(softsieve:::row_blocks_of(still))
  expect_identical(correlate_items(still)$values$n, 90)
})

test_that("trends and seasons are seen, stop shifting, and are taken out", {
  x <- table_of_series(n = 160, memory = 0.3)
  t <- seq_len(160)
  x$g1 <- x$g1 + t / 25
  x$g2 <- x$g2 + 2 * sin(2 * pi * t / 12)
  x$day <- t
  q <- series(x, period = 12)
  of <- function(q, code) q$findings$text[q$findings$code == code]
  expect_match(of(q, "series_trend"), "g1\\.")
  expect_match(of(q, "series_season"), "g2\\.")
  a <- parallel_analysis(q, seed = 1)
  expect_identical(a$settings$chance, "normal")
  expect_match(of(a, "shifted_not_used"), "trend in g1 and a season in g2")
  cleared <- series(x, remove = c("trend", "season"), period = 12)
  expect_length(of(cleared, "series_trend"), 0)
  expect_length(of(cleared, "series_season"), 0)
  expect_identical(parallel_analysis(cleared, seed = 1)$settings$chance, "shifted")
  v <- cleared$values$answers[, "g1"]
  pattern <- cbind(1, t, sin(2 * pi * t / 12), cos(2 * pi * t / 12), sin(4 * pi * t / 12),
    cos(4 * pi * t / 12))
  expect_equal(v, unname(stats::lm.fit(pattern, x$g1)$residuals + mean(x$g1)), ignore_attr = TRUE)
  # a year of days needs no length
  expect_match(of(questionnaire(repair_log, order = day, measured = TRUE), "series_season"),
    "temperature and humidity")
  # within each site
  x$site <- rep(c("a", "b"), each = 80)
  two <- questionnaire(x, order = c(site, day), remove = "trend", measured = TRUE)
  own <- stats::lm.fit(cbind(1, 1:80), x$g1[1:80])$residuals + mean(x$g1[1:80])
  expect_equal(two$values$answers[1:80, "g1"], own, ignore_attr = TRUE)
  blocks <- softsieve:::row_blocks_of(two)
  if (!is.null(blocks)) expect_false(any(blocks[1:80] %in% blocks[81:160]))
})

test_that("an order that is none is refused or told", {
  x <- table_of_series(40)
  expect_error(series(transform(x, day = replace(day, 3, NA))), class = "softsieve_error_order")
  expect_error(series(transform(x, day = rep(c("x", "y"), 20))), class = "softsieve_error_order")
  expect_error(questionnaire(x, g1:g5, order = day, remove = "trend"),
    class = "softsieve_error_order")
  expect_error(questionnaire(x, g1:g5, measured = TRUE, remove = "trend"),
    class = "softsieve_error_order")
  expect_error(series(transform(x, day = 1:40), remove = "season"), class = "softsieve_error_order")
  expect_error(series(transform(x, day = 1)), class = "softsieve_error_order")
  expect_error(series(x, remove = "noise"), class = "softsieve_error_argument")
  expect_error(parallel_analysis(questionnaire(x, g1:g5, measured = TRUE), chance = "shifted"),
    class = "softsieve_error_chance")
  codes <- series(transform(x, day = replace(day, c(4, 9), day[c(3, 8)])))$findings$code
  expect_true(all(c("order_ties", "order_gaps") %in% codes))
  months <- transform(x, day = rep(sprintf("2025-%02d", 1:12), length.out = 40))
  expect_true("order_ties" %in% series(months)$findings$code)
})
