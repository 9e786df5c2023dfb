# What components predict in rows left out, against a plain loop; groups of scores; parts of a
# score.

log_of <- function(...) questionnaire(repair_log, visitors:parts, id = day, measured = TRUE, ...)

test_that("cross-validation is that of a plain loop in which everything is learned inside", {
  q <- log_of()
  x <- components_for(q, kilograms, most = 3, folds = 4, repeats = 1, seed = 5)
  fold <- softsieve:::dealt_folds(q, 4, 1, 5)[[1]]
  expect_true(max(table(fold)) - min(table(fold)) <= 1)
  a <- as.data.frame(q$values$answers)
  y <- repair_log$kilograms
  lost <- list()
  for (f in 1:4) {
    out <- fold == f
    mean <- colMeans(a[!out, ], na.rm = TRUE)
    sd <- sapply(a[!out, ], stats::sd, na.rm = TRUE)
    z <- scale(a, mean, sd)
    z[is.na(z)] <- 0
    e <- eigen(stats::cor(a[!out, ], use = "pairwise.complete.obs"))
    s <- z %*% e$vectors
    d <- data.frame(y = y, s)
    by <- function(k) stats::lm(stats::reformulate(paste0("X", seq_len(k)), "y"), d[!out, ])
    all <- stats::lm(y ~ ., data.frame(y = y, z)[!out, ])
    lost[[f]] <- cbind((y[out] - mean(y[!out]))^2,
      sapply(1:3, function(k) (y[out] - stats::predict(by(k), d[out, ]))^2),
      (y[out] - stats::predict(all, data.frame(z)[out, ]))^2)
  }
  t <- x$values$table
  expect_equal(t$error[1:5], unname(colMeans(do.call(rbind, lost))))
  expect_equal(t$se[3], stats::sd(sapply(lost, function(l) mean(l[, 3]))) / 2)
  expect_equal(t$explained, 1 - t$error / t$error[1])
  # the fewest within one standard error of the best
  best <- which.min(t$error[1:4])
  expect_identical(x$values$best, best - 1L)
  expect_identical(x$values$chosen, which(t$error[1:4] <= t$error[best] + t$se[best])[1] - 1L)
})

test_that("an outcome can be a class, seeds replay, and arguments have their effect", {
  q <- log_of()
  base <- components_for(q, kilograms, seed = 1)$values$table
  expect_identical(components_for(q, "kilograms", seed = 1)$values$table, base)
  for (other in list(list(of = "factors"), list(of = "items"), list(most = 2), list(folds = 5),
    list(repeats = 2), list(seed = 2))) {
    asked <- utils::modifyList(list(q, repair_log$kilograms, seed = 1), other)
    expect_false(identical(do.call(components_for, asked)$values$table, base))
  }
  many <- components_for(q, repair_log$kilograms > 50, seed = 1)
  expect_identical(many$settings$classes, c("FALSE", "TRUE"))
  expect_gt(max(many$values$table$hits), 0.8)
  # the chance of the more frequent class, and the deviance of its share
  p <- mean(repair_log$kilograms > 50)
  expect_equal(many$values$table$hits[1], max(p, 1 - p))
  expect_equal(many$values$table$error[1], -2 * (p * log(p) + (1 - p) * log(1 - p)),
    tolerance = 0.01)
  # noise is predicted by nothing
  set.seed(1)
  expect_identical(components_for(q, stats::rnorm(208), seed = 1)$values$chosen, 0L)
  # stretches of rows in their order, and clusters that stay together
  ordered <- questionnaire(repair_log, visitors:parts, order = day, measured = TRUE)
  fold <- softsieve:::dealt_folds(ordered, 8, 2, 1)
  expect_true(all(lengths(lapply(1:8, function(f) which(diff(which(fold[[1]] == f)) > 1))) == 0))
  site <- rep(letters[1:13], 16)
  sites <- questionnaire(cbind(repair_log, site), visitors:parts, cluster = site, measured = TRUE)
  for (one in softsieve:::dealt_folds(sites, 5, 2, 1)) {
    expect_true(all(tapply(one, site, function(v) length(unique(v)) == 1)))
  }
  ggplot2::ggplot_build(ggplot2::autoplot(many))
})

test_that("an outcome that is none is refused, with the way out", {
  q <- log_of()
  site <- rep(c("a", "b", "c", "d"), 52)
  expect_error(components_for(q, site), "one class against the others",
    class = "softsieve_error_outcome")
  for (wrong in list(rep(1, 208), 1:5, list(1), replace(repair_log$kilograms, 3, Inf))) {
    expect_error(components_for(q, wrong), class = "softsieve_error_outcome")
  }
  expect_error(components_for(q, visitors), "among the", class = "softsieve_error_outcome")
  expect_error(components_for(q, nowhere), class = "softsieve_error_outcome")
  expect_error(components_for(keep_people(q, visitors > 62), kilograms, folds = 10),
    class = "softsieve_error_outcome")
  expect_error(components_for(q, kilograms, most = 9), class = "softsieve_error_argument")
})

test_that("groups lie apart as an analysis of variance says, and as rarely by chance", {
  q <- log_of(group = NULL)
  busy <- score_respondents(factor_solution(q, 2, method = "components", rotation = "none"), q)
  third <- cut(seq_len(208), 3, labels = c("early", "middle", "late"))
  x <- score_groups(busy, third, replicates = 199, seed = 1)
  y <- busy$values$scores$C1
  fit <- stats::anova(stats::lm(y ~ third))
  s <- x$values$scores
  expect_equal(s$eta_squared[1], fit[1, 2] / sum(fit[, 2]))
  # the limits are where the noncentral F has the tails
  f <- fit[1, 4]
  for (end in c("lower", "upper")) {
    ncp <- s[[end]][1] / (1 - s[[end]][1]) * 208
    if (ncp > 0) {
      tail <- c(lower = .975, upper = .025)[[end]]
      expect_equal(stats::pf(f, 2, 205, ncp), tail, tolerance = 1e-5)
    }
  }
  d <- tapply(y, third, mean)
  within <- sqrt(fit[2, 3])
  p <- x$values$pairs[1, ]
  expect_equal(p$difference, unname(d[1] - d[2]) / within)
  expect_equal(p$overlap, 2 * stats::pnorm(-abs(p$difference) / 2))
  # groups made of a score are found again; random ones are not
  made <- ifelse(y > 0, "up", "down")
  up <- score_groups(busy, made, replicates = 199, seed = 1)
  expect_equal(up$values$scores$p[1], 1 / 200)
  expect_gt(up$values$together$hits, 0.95)
  set.seed(2)
  none <- score_groups(busy, sample(made), replicates = 199, seed = 1)
  expect_gt(none$values$together$p, 0.05)
  expect_output(print(none), "no further apart than groups dealt at random")
  wider <- score_groups(busy, third, replicates = 199, level = .5, seed = 1)$values$scores
  expect_lt(wider$upper[1], s$upper[1])
  m <- score_respondents(solution4(), motives())
  expect_identical(score_groups(m, cafe, seed = 1)$values$scores,
    score_groups(m, "cafe", seed = 1)$values$scores)
  expect_error(score_groups(busy, rep("a", 208)), class = "softsieve_error_groups")
  expect_error(score_groups(busy, c("b", rep("a", 207))), class = "softsieve_error_groups")
  expect_error(score_groups(busy, nowhere), class = "softsieve_error_groups")
  ggplot2::ggplot_build(ggplot2::autoplot(up))
})

test_that("parts add up to the score, whatever was scored", {
  q <- log_of()
  plain <- factor_solution(q, 3, method = "components", rotation = "varimax")
  scales <- form_scales(plain, cross_loading = "highest", weak = "highest")
  raw <- form_scales(plain, cross_loading = "highest", weak = "highest", standardise = FALSE)
  for (of in list(plain, scales, raw)) {
    scored <- score_respondents(of, q)
    x <- explain_score(scored, q, "2022-01-15")
    sums <- tapply(x$values$parts$part, x$values$parts$score, sum)
    own <- unlist(scored$values$scores[2, names(sums)])
    expect_equal(as.vector(sums), unname(own))
    expect_identical(explain_score(scored, q, 2)$values, x$values)
  }
  near <- explain_score(score_respondents(plain, q), q, 7, nearest = 5)$values$nearest
  y <- as.matrix(score_respondents(plain, q)$values$scores[c("C1", "C2", "C3")])
  away <- as.matrix(stats::dist(scale(y, FALSE, apply(y, 2, stats::sd))))[7, ]
  expect_identical(near$row, order(away)[2:6])
  scored <- score_respondents(plain, q)
  for (wrong in list("2021-01-01", 0, 209, NA, c(1, 2))) {
    expect_error(explain_score(scored, q, wrong), class = "softsieve_error_row")
  }
  expect_error(explain_score(scored, q, 31), "lacks cups", class = "softsieve_error_row")
  expect_error(explain_score(scored, keep_people(q, visitors > 30), 1),
    class = "softsieve_error_row")
})

test_that("the command explains one row, by id or number", {
  dir <- withr::local_tempdir()
  utils::write.csv(repair_log[2:9], file.path(dir, "log.csv"), row.names = FALSE)
  words <- c("score", file.path(dir, "log.csv"), "--explain", "2", "--quiet", "--factors.number",
    "2", "--answers.measured", "all", "--seed", "1")
  shown <- run_command(words, dir)
  expect_identical(shown$status, 0L)
  expect_match(paste(shown$out, collapse = " "), "Row 2: F1")
})
