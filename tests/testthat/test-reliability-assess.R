# Reliability of sums: hand-worked matrices, closed forms, brute force, and what is told.

core <- function(name) get(name, asNamespace("softsieve"))
measures <- function(s, split = integer()) core("cpp_measure_covariances")(s, split)
of_loadings <- function(l, u = 1 - l^2) tcrossprod(l) + diag(u)
quick <- function(scales, data = NULL, ...) {
  assess_reliability(scales, data, ..., replicates = 0L, seed = 1)
}

test_that("parallel items by hand: all coefficients meet", {
  # three items with variance 2 and covariance 1: V = 12, alpha = 3/2 (1 - 6/12) = .75
  m <- measures(matrix(1, 3, 3) + diag(3))
  for (name in c("alpha", "standardised_alpha", "lambda2", "greatest_lower_bound", "omega",
    "composite")) {
    expect_equal(m[[name]], .75, tolerance = 1e-5, label = name)
  }
  expect_equal(m[["lambda1"]], .5)
  # one item against two: 4 * 2 / 12
  expect_equal(m[["lambda4"]], 2 / 3)
  # lambda 5 = 1/2 + 2 sqrt(2) / 12; lambda 6: 1/s^ii = 2 - 2/3 = 4/3, so 1 - 4/12
  expect_equal(m[["lambda5"]], .5 + 2 * sqrt(2) / 12)
  expect_equal(m[["lambda6"]], 1 - 4 / 12)
  expect_equal(m[["variance_extracted"]], .5, tolerance = 1e-6)
  expect_equal(m[["coefficient_h"]], .75, tolerance = 1e-6)
  expect_equal(core("core_item_rest")(matrix(1, 3, 3) + diag(3)), rep(2 / sqrt(12), 3))
})

test_that("tau-equivalent items keep alpha at omega, congeneric ones do not, by a known amount", {
  tau <- of_loadings(rep(.7, 5), c(.2, .4, .5, .6, .9))
  m <- measures(tau)
  expect_equal(m[["alpha"]], m[["omega"]], tolerance = .02)
  expect_equal(m[["alpha"]], 25 * .49 / sum(tau), tolerance = 1e-10)
  l <- c(.9, .7, .5, .3)
  m <- measures(of_loadings(l))
  expect_equal(m[["omega"]], sum(l)^2 / (sum(l)^2 + sum(1 - l^2)), tolerance = 1e-6)
  expect_equal(m[["alpha"]], 4 / 3 * (1 - 4 / sum(of_loadings(l))))
  expect_gt(m[["omega"]] - m[["alpha"]], .02)
  expect_equal(m[["coefficient_h"]], 1 / (1 + 1 / sum(l^2 / (1 - l^2))), tolerance = 1e-6)
})

test_that("lower bounds keep their order", {
  for (seed in 1:25) {
    set.seed(seed)
    k <- sample(3:9, 1)
    s <- cov(matrix(rnorm(60 * k), 60) + rnorm(60) * .8)
    m <- measures(s)
    expect_lte(m[["lambda1"]], m[["alpha"]] + 1e-10)
    expect_lte(m[["alpha"]], m[["lambda2"]] + 1e-10)
    for (lower in c("lambda2", "lambda4", "lambda5", "lambda6")) {
      expect_lte(m[[lower]], m[["greatest_lower_bound"]] + 1e-5, label = paste(lower, seed))
    }
  }
})

test_that("the greatest lower bound is that of a brute search", {
  set.seed(4)
  for (k in c(3, 3, 4)) {
    s <- cov(matrix(rnorm(40 * k), 40) + rnorm(40))
    # error variances as large as can be, the smallest eigenvalue kept at 0 by a penalty
    f <- function(x) {
      psi <- x^2
      short <- min(eigen(s - diag(psi), TRUE, TRUE)$values)
      -sum(psi) + 1e5 * pmin(short, 0)^2
    }
    ends <- replicate(15,
      stats::optim(sqrt(diag(s) * runif(k, .05, .7)), f,
        control = list(maxit = 4000, reltol = 1e-14))$value)
    expect_equal(measures(s)[["greatest_lower_bound"]], 1 + min(ends) / sum(s), tolerance = 2e-3)
  }
})

test_that("the greatest split half is that of all splits, and halves average to alpha", {
  set.seed(5)
  for (k in c(4, 7, 10)) {
    s <- cov(matrix(rnorm(50 * k), 50) + rnorm(50) * .7)
    signs <- as.matrix(expand.grid(rep(list(c(-1, 1)), k)))
    all <- apply(signs, 1, function(x) 4 * sum(s[x > 0, x < 0]) / sum(s))
    found <- core("cpp_greatest_split")(s, 1)
    expect_equal(found$value, max(all))
    expect_true(found$exact)
    expect_equal(4 * sum(s[found$signs > 0, found$signs < 0]) / sum(s), max(all))
    halves <- core("cpp_split_halves")(s, 1e5L, 1)
    expect_true(halves$all)
    equal <- abs(rowSums(signs)) <= k %% 2
    expect_equal(sort(halves$values), sort(all[equal])[seq(1, sum(equal), 2)])
    if (k %% 2 == 0) expect_equal(mean(halves$values), measures(s)[["alpha"]])
    # a resampled matrix is climbed from the split of all people
    expect_gte(measures(s, found$signs)[["lambda4"]], max(all) - 1e-12)
  }
  big <- cov(matrix(rnorm(100 * 30), 100) + rnorm(100))
  expect_false(core("cpp_greatest_split")(big, 1)$exact)
  drawn <- core("cpp_split_halves")(big, 2000L, 1)
  expect_false(drawn$all)
  expect_equal(mean(drawn$values), measures(big)[["alpha"]], tolerance = .01)
  expect_gte(core("cpp_greatest_split")(big, 1)$value, max(drawn$values))
})

test_that("a bifactor population gives back its omega hierarchical", {
  general <- rep(c(.6, .5, .7, .4), 3)
  group <- kronecker(diag(3), c(.4, .5, .3, .5))
  u <- 1 - general^2 - rowSums(group^2)
  r <- tcrossprod(general) + tcrossprod(group) + diag(u)
  dimnames(r) <- list(paste0("i", 1:12), paste0("i", 1:12))
  x <- quick(split(rownames(r), rep(c("a", "b", "c"), each = 4)), r, n = 500)
  h <- x$values$hierarchy
  at <- function(scale, part, form = "bifactor") {
    h$estimate[h$scale == scale & h$part == part & h$form == form]
  }
  expect_equal(at("all items", "general"), sum(general)^2 / sum(r), tolerance = 2e-3)
  expect_equal(at("all items", "total"), 1 - sum(u) / sum(r), tolerance = 1e-4)
  expect_equal(at("b", "general"), sum(general[5:8])^2 / sum(r[5:8, 5:8]), tolerance = 2e-3)
  expect_equal(at("b", "groups"), sum(c(.4, .5, .3, .5))^2 / sum(r[5:8, 5:8]), tolerance = 5e-3)
  # a higher-order population: the Schmid-Leiman form is exact
  higher <- known_correlations(between = local({
    b <- tcrossprod(c(.9, .7, .6))
    diag(b) <- 1
    b
  }))
  x <- quick(split(rownames(higher), rep(c("a", "b", "c"), each = 3)), higher, n = 500)
  h <- x$values$hierarchy
  expect_equal(at("all items", "general", "schmid_leiman"),
    sum(known_pattern() %*% c(.9, .7, .6))^2 / sum(higher), tolerance = 1e-3)
})

test_that(
  paste("categorical omega is what numeric integration gives, ordinal alpha that of the",
    "latent correlations"),
  {
    l <- c(.8, .6, .7)
    thresholds <- list(c(-.5, .6), c(0), c(-1, 0, 1))
    r <- of_loadings(l)
    found <- unname(core("cpp_measure_ordinal")(r, thresholds, list(c(1, 1), 2, c(1, 1, 1))))
    # expected score given the factor, and its variance; that of the sum from independent errors
    z <- seq(-8, 8, length.out = 4001)
    w <- dnorm(z) / sum(dnorm(z))
    steps <- list(c(1, 1), 2, c(1, 1, 1))
    above <- function(i) {
      vapply(thresholds[[i]], function(t) pnorm((l[i] * z - t) / sqrt(1 - l[i]^2)), z)
    }
    expected <- vapply(1:3, function(i) drop(above(i) %*% steps[[i]]), z)
    within <- vapply(1:3, function(i) {
      p <- cbind(1, above(i), 0)
      score <- c(0, cumsum(steps[[i]]))
      share <- p[, -ncol(p)] - p[, -1]
      drop(share %*% score^2) - drop(share %*% score)^2
    }, z)
    true <- sum(w * rowSums(expected)^2) - sum(w * rowSums(expected))^2
    expect_equal(found[1], true / (true + sum(w * within)), tolerance = 1e-5)
    expect_equal(found[2], measures(r)[["standardised_alpha"]])
  })

test_that("intervals of alpha follow their formulas, and the one by Feldt covers", {
  s <- of_loadings(c(.7, .6, .8, .5))
  alpha <- measures(s)[["alpha"]]
  limits <- core("core_alpha_intervals")(alpha, s, 200, .9)
  # (1 - alpha) over 1 - its estimate is F
  expect_equal(pf((1 - limits["feldt", ]) / (1 - alpha), 199, 199 * 3), c(.95, .05),
    ignore_attr = TRUE)
  expect_equal(limits["bonett", ],
    1 - exp(log(1 - alpha) + c(1, -1) * qnorm(.95) * sqrt(8 / (3 * 198))))
  set.seed(7)
  truth <- measures(of_loadings(rep(.6, 5)))[["alpha"]]
  draws <- replicate(300, {
    x <- rnorm(60) %o% rep(.6, 5) + matrix(rnorm(300), 60) * .8
    v <- cov(x)
    a <- measures(v)[["alpha"]]
    c(a, apply(core("core_alpha_intervals")(a, v, 60, .95), 1, function(q) {
      q[1] < truth && truth < q[2]
    }))
  })
  expect_true(all(rowMeans(draws[2:4, ]) > .91))
  expect_true(all(rowMeans(draws[2:4, ]) < .985))
  # the delta method's error is the one that is seen
  v <- of_loadings(rep(.6, 5))
  width <- diff(core("core_alpha_intervals")(truth, v, 60, .95)["delta", ])
  expect_equal(width / (2 * qnorm(.975)), sd(draws[1, ]), tolerance = .15, ignore_attr = TRUE)
})

test_that(
  paste("drawn people: coefficients as they are, errors as theory has them, the same on",
    "any number of threads"),
  {
    q <- keep_items(motives(), n1:n6)
    one <- assess_reliability(list(n = paste0("n", 1:6)), q, replicates = 300, seed = 3,
      threads = 1)
    two <- assess_reliability(list(n = paste0("n", 1:6)), q, replicates = 300, seed = 3,
      threads = 2)
    expect_identical(one$values$coefficients, two$values$coefficients)
    c <- one$values$coefficients
    i <- one$values$intervals
    expect_setequal(i$interval[i$coefficient == "alpha"],
      c("feldt", "bonett", "delta", "percentile", "bca"))
    expect_equal(c$standard_error[1],
      diff(unlist(i[i$interval == "delta", c("lower", "upper")])) / (2 * qnorm(.975)),
      tolerance = .2, ignore_attr = TRUE)
    # the best of many bounds has no limits
    bare <- c$coefficient %in% c("lambda4", "greatest_lower_bound")
    expect_true(all(is.na(c$lower[bare]) & is.na(c$standard_error[bare])))
    expect_true(all((c$lower < c$estimate & c$estimate < c$upper)[!bare]))
    # the compiled core, given the people once each, finds what the plain part finds
    plan <- list(
      answers = {
        x <- q$values$answers + 0
        x[is.na(x)] <- NaN
        x
      },
      weights = numeric(), scale_of = rep(0L, 6), scales = 1L, splits = list(integer()),
      ordinal = TRUE, pattern = matrix(0, 0, 0), bifactor = matrix(0, 0, 0),
      unrotated = matrix(0, 0, 0), uniquenesses = numeric(), bifactor_uniquenesses = numeric())
    expect_equal(unname(core("cpp_measure_people")(plan)[1:15]), c$estimate, tolerance = 1e-6)
    doubled <- plan
    doubled$weights <- rep(2, nrow(plan$answers))
    expect_equal(core("cpp_measure_people")(doubled)[["omega.1"]], c$estimate[9], tolerance = 1e-3)
  })

test_that("limits by draws: percentile and accelerated by hand", {
  set.seed(1)
  draws <- rexp(2000)
  found <- core("core_bootstrap_limits")(c(omega = .7), rbind(omega = draws),
    rbind(omega = c(.69, .70, .72)), .9)$omega
  expect_equal(found$percentile, quantile(draws, c(.05, .95), names = FALSE))
  z0 <- qnorm(mean(draws < .7))
  d <- mean(c(.69, .70, .72)) - c(.69, .70, .72)
  a <- sum(d^3) / (6 * sum(d^2)^1.5)
  z <- qnorm(c(.05, .95))
  expect_equal(found$bca, quantile(draws, pnorm(z0 + (z0 + z) / (1 - a * (z0 + z))), names = FALSE))
})

test_that("items: with the rest, without, discrimination, and what flags them", {
  q <- motives(items = n1:n6)
  z <- q$values$answers[complete.cases(q$values$answers), ]
  x <- quick(list(neighbours = colnames(z)), q, missing = "complete")
  alpha <- function(m) ncol(m) / (ncol(m) - 1) * (1 - sum(apply(m, 2, var)) / var(rowSums(m)))
  t <- tidy(x)
  expect_equal(as_tibble(x)$alpha, alpha(z))
  expect_equal(t$item_rest, unname(sapply(1:6, function(i) cor(z[, i], rowSums(z[, -i])))))
  expect_equal(t$squared_multiple,
    unname(sapply(1:6, function(i) summary(lm(z[, i] ~ z[, -i]))$r.squared)))
  expect_equal(t$alpha_without, unname(sapply(1:6, function(i) alpha(z[, -i]))))
  expect_equal(t$mean, unname(colMeans(z)))
  others <- rowMeans(z[, -2])
  ends <- sort(others)[c(.27, .73) * (nrow(z) - 1) + 1.5]
  expect_equal(t$discrimination[2],
    (mean(z[others >= ends[2], 2]) - mean(z[others <= ends[1], 2])) / 4, tolerance = 1e-8)
  copy <- data.frame(z, n7 = z[, 1])
  copy$n7[1:6] <- 6 - copy$n7[1:6]
  flagged <- quick(list(n = names(copy)), copy)
  expect_setequal(tidy(flagged)$item[which(tidy(flagged)$flag == "nearly redundant")],
    c("n1", "n7"))
  expect_match(flagged$findings$text[flagged$findings$code == "nearly_redundant"], "n1 with n7")
})

test_that("an item that was not keyed is named and not turned", {
  unkeyed <- repair_cafe_codebook
  unkeyed$reversed[unkeyed$item == "n5"] <- FALSE
  q <- questionnaire(repair_cafe, codebook = unkeyed, id = person, group = cafe)
  x <- quick(q)
  expect_identical(x$findings$item[x$findings$code == "against_scale"], "n5")
  expect_identical(tidy(x)$flag[tidy(x)$item == "n5"], "against its key")
  expect_lt(tidy(x)$item_rest[tidy(x)$item == "n5"], 0)
  expect_gt(as_tibble(quick(motives()))$alpha[3], as_tibble(x)$alpha[3])
  expect_match(capture.output(print(x, lines = 999)), "without n5 alpha would be", all = FALSE)
})

test_that("what may be assumed is tested, and says which coefficient to report", {
  set.seed(2)
  f <- rnorm(600)
  even <- as.data.frame(f %o% rep(.7, 6) + matrix(rnorm(3600), 600) * .7)
  uneven <- as.data.frame(f %o% c(.9, .8, .7, .4, .3, .2) + matrix(rnorm(3600), 600) * .6)
  names(uneven) <- paste0("u", 1:6)
  x <- quick(list(even = names(even), uneven = names(uneven)), cbind(even, uneven))
  a <- x$values$assumptions
  expect_gt(a$equal_p[1], .05)
  expect_lt(a$equal_p[2], .001)
  expect_match(a$why, "alpha would do as well|loadings are not equal")
  expect_equal(a$df, c(9, 9))
  # three items: one factor fits whatever they are, equal loadings need not
  three <- quick(list(u = names(uneven)[c(1, 4, 6)]), uneven)$values$assumptions
  expect_true(is.na(three$rmsea) && three$equal_p < .001 && three$difference_df == 2)
  # two factors in one scale
  g <- rnorm(600)
  mixed <- as.data.frame(cbind(f %o% rep(.8, 3), g %o% rep(.8, 3)) + matrix(rnorm(3600), 600) * .6)
  y <- quick(list(both = names(mixed)), mixed)
  expect_true("several_factors" %in% y$findings$code)
  expect_match(y$values$assumptions$why, "split the scale")
  coarse <- as.data.frame(lapply(even, function(v) findInterval(v, c(-.2, 1))))
  expect_identical(quick(list(c = names(coarse)), coarse)$values$assumptions$report,
    "categorical_omega")
  # the constrained fit is one: a search that knows nothing of it ends there
  s <- cov(even)
  found <- core("core_equal_loadings")(s, 600)
  f1 <- function(x) {
    sigma <- exp(x[1]) + diag(exp(x[-1]))
    c(determinant(sigma)$modulus) - c(determinant(s)$modulus) + sum(diag(solve(sigma, s))) - 6
  }
  brute <- optim(log(c(.4, rep(.5, 6))), f1, method = "BFGS",
    control = list(reltol = 1e-14, maxit = 500))
  expect_equal(found$chi_square, 599 * brute$value, tolerance = 1e-5)
  expect_equal(found$difference, found$chi_square - found$free_chi_square)
})

test_that("two scales: difference, without error, heterotrait ratio; a total; lengthening", {
  r <- known_correlations()
  x <- quick(list(a = paste0("i", 1:3), b = paste0("i", 4:6)), r, n = 300)
  p <- x$values$pairs
  rel <- x$values$scales$reliability
  expect_equal(p$without_error, p$correlation / sqrt(prod(rel)))
  # the factors correlate .3
  expect_equal(p$without_error, .3, tolerance = .02)
  within <- c(mean(r[1:3, 1:3][upper.tri(diag(3))]), mean(r[4:6, 4:6][upper.tri(diag(3))]))
  expect_equal(p$heterotrait, mean(r[1:3, 4:6]) / sqrt(prod(within)))
  s <- c(sum(r[1:3, 1:3]), sum(r[4:6, 4:6])) / 9
  between <- sum(r[1:3, 4:6]) / 9
  expect_equal(p$difference, (sum(s * rel) - 2 * between) / (sum(s) - 2 * between))
  a <- x$values$scales$alpha
  expect_equal(x$values$total$stratified_alpha, 1 - 9 * sum(s * (1 - a)) / sum(r[1:6, 1:6]))
  # Spearman-Brown: that many items reach the target reliability
  n <- core("core_lengthening")(rel[1], .8)
  expect_equal(n * rel[1] / (1 + (n - 1) * rel[1]), .8)
  expect_equal(x$values$scales$items_needed, ceiling(3 * core("core_lengthening")(rel, .8)))
})

test_that("groups are compared: two by Feldt, more by cube roots; a difference is found", {
  expect_equal(core("core_equal_alphas")(c(.8, .8), c(100, 100), 5)$p, 1)
  two <- core("core_equal_alphas")(c(.8, .6), c(120, 90), 5)
  expect_equal(two$statistic, .4 / .2)
  # the ratio of two independent F, drawn: 1 - alpha of the first over that of the second
  set.seed(1)
  ratio <- rf(4e5, two$df, two$df * 4) / rf(4e5, two$df2, two$df2 * 4)
  below <- mean(ratio <= two$statistic)
  expect_equal(two$p, 2 * min(below, 1 - below), tolerance = .1)
  three <- core("core_equal_alphas")(c(.8, .8, .6), c(120, 90, 90), 5)
  expect_lt(three$p, .01)
  set.seed(3)
  draw <- function(n) {
    measures(cov(rnorm(n) %o% rep(.7, 5) + matrix(rnorm(5 * n), n) * .7))[["alpha"]]
  }
  level <- replicate(400,
    core("core_equal_alphas")(c(draw(60), draw(100), draw(80)), c(60, 100, 80), 5)$p)
  expect_lt(abs(mean(level < .05) - .05), .035)
  x <- quick(motives(), by = "cafe")
  expect_identical(nrow(x$values$groups), 24L)
  expect_identical(x$values$equal_alphas$scale, c("mending", "thrift", "neighbours", "planet"))
  part <- motives()$values$people$cafe == "Harbour"
  alone <- quick(keep_people(motives(), cafe == "Harbour"))
  expect_equal(x$values$groups$alpha[x$values$groups$group == "Harbour"], alone$values$scales$alpha)
  expect_error(quick(motives(), by = "cafee"), class = "softsieve_error_groups")
})

test_that("two waves by hand, and against the analysis of variance", {
  set.seed(9)
  true <- rnorm(40)
  y <- cbind(true + rnorm(40, sd = .5), true + .4 + rnorm(40, sd = .5))
  found <- core("core_stability")(y, .95)
  long <- data.frame(y = c(y), person = factor(rep(1:40, 2)), wave = factor(rep(1:2, each = 40)))
  ms <- summary(aov(y ~ person + wave, long))[[1]][["Mean Sq"]]
  single <- (ms[1] - ms[3]) / (ms[1] + ms[3] + 2 / 40 * (ms[2] - ms[3]))
  expect_equal(found$estimate,
    c(cor(y)[1, 2], single, (ms[1] - ms[3]) / (ms[1] + (ms[2] - ms[3]) / 40),
      (ms[1] - ms[3]) / (ms[1] + ms[3]), (ms[1] - ms[3]) / ms[1]))
  expect_true(all(found$lower < found$estimate & found$estimate < found$upper))
  expect_equal(found$sem, sqrt(ms[3] + (ms[2] - ms[3]) / 40))
  expect_equal(found$smallest_change, qnorm(.975) * sqrt(2) * found$sem)
  # the same people in another order, matched by id; and strangers
  first <- motives(items = n1:n6)
  again <- first
  again$values$answers <- pmin(first$values$answers + (seq_len(840) %% 3 == 0), 5)
  turned <- again
  turned$values$answers <- again$values$answers[840:1, ]
  turned$values$people <- again$values$people[840:1, ]
  a <- quick(first, again = again)$values$stability
  expect_equal(quick(first, again = turned)$values$stability, a)
  expect_gt(a$shift[1], .2)
  turned$values$people$person <- paste0("x", 1:840)
  expect_error(quick(first, again = turned), "No value of \"person\"",
    class = "softsieve_error_waves")
  expect_error(
    quick(list(n = c("n1", "n2", "n3")), repair_cafe[paste0("n", 1:6)],
      again = repair_cafe[1:9, paste0("n", 1:6)]),
    "9 people", class = "softsieve_error_waves")
})

test_that("scales of one, two and odd items say what can be said", {
  x <- quick(list(pair = c("m1", "m2"), one = "t1", three = c("n1", "n2", "n3")), motives())
  s <- as_tibble(x)
  expect_identical(s$report, c("standardised_alpha", NA, "omega"))
  expect_identical(is.na(s$omega), c(TRUE, TRUE, FALSE))
  r <- correlate_items(motives(), missing = "pairwise")$values$correlations["m1", "m2"]
  expect_equal(s$reliability[1], 2 * r / (1 + r))
  expect_match(x$findings$text[x$findings$code == "few_items"], "has 2 items|has 1 item")
  expect_output(print(x), "one, 1 item: not known")
  expect_output(print(summary(x)), "What each takes for granted")
  expect_error(quick(list(a = c("m1", "m9")), motives()), "Not there: m9",
    class = "softsieve_error_scales")
  expect_error(quick(list(a = c("m1", "m2"), b = c("m2", "m3")), motives()), "two or more: m2",
    class = "softsieve_error_scales")
  constant <- data.frame(a = 1, b = 1:50, c = rnorm(50))
  expect_error(quick(list(s = c("a", "b", "c")), constant), "Constant: a",
    class = "softsieve_error_constant_item")
  few <- repair_cafe[1:5, paste0("m", 1:6)]
  expect_true("fewer_people_than_items" %in% quick(list(m = names(few)), few)$findings$code)
  expect_error(quick(motives(), kind = "spearman"), "Pearson correlations",
    class = "softsieve_error_argument")
  book <- repair_cafe_codebook
  book$highest[book$item == "m1"] <- 7
  wide <- quick(questionnaire(repair_cafe, codebook = book, id = person, group = cafe))
  expect_match(wide$findings$text[wide$findings$code == "different_ranges"],
    "mending adds items with different ranges \\(1 to 7 and 1 to 5\\)")
  # without a codebook nobody knows the ranges: what was answered is none
  expect_false(
    "different_ranges" %in%
      quick(list(a = c("V1", "V2", "V3")),
        as.data.frame(matrix(rnorm(150), 50) + rnorm(50)))$findings$code)
  against <- repair_cafe[c("m1", "m2")]
  against$m2 <- 6 - against$m2
  expect_match(quick(list(m = names(against)), against)$findings$text, "negative alpha",
    all = FALSE)
})

test_that("without answers, and under EM, it is said why nothing is drawn", {
  r <- known_correlations()
  bare <- assess_reliability(list(a = paste0("i", 1:3)), r, n = 100, seed = 1)
  expect_match(bare$findings$text[bare$findings$code == "no_bootstrap"], "only correlations")
  expect_identical(bare$values$coefficients$interval[1:2], c("feldt", NA))
  em <- assess_reliability(list(n = paste0("n", 1:6)), motives(), missing = "em", seed = 1)
  expect_match(em$findings$text[em$findings$code == "no_bootstrap"], "EM")
  weighted <- questionnaire(data.frame(repair_cafe, w = rep(c(1, 2), 420)),
    codebook = repair_cafe_codebook, id = person, group = cafe, weight = w)
  x <- assess_reliability(list(n = paste0("n", 1:6)), weighted, replicates = 60, seed = 1)
  twice <- repair_cafe[rep(seq_len(840), rep(c(1, 2), 420)), ]
  plain <- quick(list(n = paste0("n", 1:6)),
    questionnaire(twice, codebook = repair_cafe_codebook, items = n1:n6))
  expect_equal(x$values$scales$omega, plain$values$scales$omega, tolerance = 1e-3)
  # weights stay with their people when those with missing answers are left out
  ordinal <- function(x) x$values$coefficients$estimate[14:15]
  expect_equal(ordinal(quick(list(n = paste0("n", 1:6)), weighted, missing = "complete")),
    ordinal(quick(list(n = paste0("n", 1:6)),
      questionnaire(twice, codebook = repair_cafe_codebook, items = n1:n6), missing = "complete")),
    tolerance = 1e-3)
})

test_that("figures hold the numbers, JSON and Word the tables", {
  x <- assess_reliability(motives(), by = "cafe", replicates = 60, seed = 1)
  # limits stand beside the numbers they belong to, n is that of the scarcest pair
  h <- x$values$hierarchy
  expect_true(all(h$lower <= h$estimate & h$estimate <= h$upper))
  n <- crossprod(!is.na(motives()$values$answers[, paste0("t", 1:6)]))
  expect_equal(x$values$scales$n[2], min(n[upper.tri(n)]))
  for (type in c("coefficients", "items", "halves", "scores", "groups")) {
    built <- ggplot2::ggplot_build(ggplot2::autoplot(x, type))
    expect_gt(nrow(built$data[[1]]), 3)
  }
  drawn <- ggplot2::ggplot_build(ggplot2::autoplot(x, "scores"))$data[[1]]
  expect_equal(sum(drawn$y), sum(x$values$totals$people[!is.na(x$values$totals$score)]))
  expect_error(ggplot2::autoplot(quick(motives()), "groups"), "by = ",
    class = "softsieve_error_figure")
  json <- withr::local_tempfile(fileext = ".json")
  write_table(x, json)
  expect_equal(jsonlite::fromJSON(json)$values$scales$omega, x$values$scales$omega)
  skip_if_not_installed("flextable")
  word <- withr::local_tempfile(fileext = ".docx")
  write_table(x, word)
  text <- xml2::xml_text(xml2::read_xml(unz(word, "word/document.xml")))
  expect_match(text, "thrift")
  expect_match(text, softsieve:::table_of(x, "scales")$columns$omega$text[1], fixed = TRUE)
  expect_s3_class(glance(x), "tbl_df")
})

test_that("parts of many people give what single people do, within what draws differ by", {
  set.seed(9)
  g <- rnorm(3200)
  d <- as.data.frame(sapply(1:6, function(i) findInterval(g + rnorm(3200), c(-2, -1, 0, 1, 2))))
  d[2:9, 3] <- NA
  core <- asNamespace("softsieve")
  x <- as.matrix(d) + 0
  x[is.na(x)] <- NaN
  plan <- list(answers = x, weights = numeric(), scale_of = rep(0:1, each = 3), scales = 2L,
    splits = list(c(1L, -1L, 1L), c(1L, -1L, 1L)), ordinal = TRUE, pattern = matrix(0, 0, 0),
    bifactor = matrix(0, 0, 0), unrotated = matrix(0, 0, 0), uniquenesses = numeric(),
    bifactor_uniquenesses = numeric())
  drawn <- function(most, threads = 1L) {
    core$cpp_resample_people(plan, 300L, 10L, 0L, 310L, most, 5, threads, NULL)
  }
  single <- drawn(5000L)
  parts <- drawn(2500L)
  expect_identical(parts, drawn(2500L, 3L))
  kept <- c(1:15, 16:30)
  error <- function(m) apply(m[kept, 1:300], 1, sd)
  expect_equal(unname(error(parts) / error(single)), rep(1, 30), tolerance = .15)
  whole <- core$cpp_measure_people(plan)[kept]
  # the greatest lower bound and its like are too large in draws; both ways agree on by how much
  expect_lt(
    max(abs(rowMeans(parts[kept, 1:300]) - rowMeans(single[kept, 1:300])) / error(single)),
    .4)
  expect_lt(max(abs(rowMeans(parts[kept, 1:300]) - whole) / error(single)), 1)
  weighted <- plan
  weighted$weights <- rep(c(1, 3), 1600)
  expect_gt(
    max(abs(
      core$cpp_resample_people(weighted, 20L, 0L, 0L, 20L, 2500L, 5, 1L, NULL)[1, ] - parts[1, 1:20]
    )),
    1e-4)
})

test_that("no unit changes a standardised number, and none is taken for a bad item", {
  set.seed(1)
  f <- rnorm(300)
  d <- as.data.frame(sapply(1:6, function(i) .7 * f + rnorm(300, 0, .7)))
  in_unit <- function(by, which) {
    d[[which]] <- d[[which]] * by
    assess_reliability(list(a = names(d)), d, replicates = 40, seed = 1)
  }
  free <- c("standardised_alpha", "composite", "coefficient_h", "variance_extracted",
    "mean_correlation")
  numbers <- function(x) {
    c <- x$values$coefficients
    as.matrix(c[c$coefficient %in% free, c("estimate", "lower", "upper")])
  }
  plain <- in_unit(1, "V2")
  expect_false("spreads_differ" %in% plain$findings$code)
  for (by in c(100, 1e4, 1e9, 1e-9)) {
    for (which in c("V1", "V2")) {
      x <- in_unit(by, which)
      expect_equal(numbers(x), numbers(plain), tolerance = 1e-8)
      expect_equal(x$values$items$loading, plain$values$items$loading, tolerance = 1e-7)
      expect_true(is.finite(x$values$assumptions$equal_p))
      expect_false("alpha_rises_without" %in% x$findings$code)
      expect_false(any(x$values$items$flag %in% "drags alpha down"))
      expect_match(x$findings$text[x$findings$code == "spreads_differ"], which)
      expect_no_match(capture.output(print(x))[1], "without")
    }
  }
  drawn <- ggplot2::autoplot(in_unit(100, "V2"), "items")
  expect_false(any(drawn$data$costs))
  expect_match(drawn$labels$subtitle, "alpha tells of their units")
  # the test of equal loadings does not depend on which of them the others are compared with
  moves <- matrix(rnorm(600), 100)
  loadings <- runif(6)
  of <- core("core_equal_by_moves")(loadings, moves, 100)
  turned <- core("core_equal_by_moves")(loadings[6:1], moves[, 6:1], 100)
  contrast <- cbind(-1, diag(5))
  apart <- drop(contrast %*% loadings)
  expect_equal(of$difference,
    100 * sum(apart * solve(contrast %*% cov(moves) %*% t(contrast), apart)))
  expect_equal(of, turned)
})
