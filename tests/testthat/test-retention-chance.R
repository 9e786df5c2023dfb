# Where chance eigenvalues come from: bases, shuffled and redrawn answers, factors kept so far.

spectrum <- function(r, basis) softsieve:::cpp_spectrum(r, basis)
values_of <- function(r) eigen(r, symmetric = TRUE, only.values = TRUE)$values

# Shuffled chance levels, the plain way: each item's answers among those who gave one.
brute_shuffle <- function(answers, replicates, correlate) {
  replicate(replicates, {
    shuffled <- apply(answers, 2, function(x) {
      seen <- which(!is.na(x))
      x[seen] <- x[seen[sample.int(length(seen))]]
      x
    })
    values_of(correlate(shuffled))
  })
}

# The largest distance of the mean levels of two sets of draws, in Monte Carlo standard errors.
distance <- function(a, b) {
  max(
    abs(rowMeans(a) - rowMeans(b)) / sqrt(apply(a, 1, var) / ncol(a) + apply(b, 1, var) / ncol(b)))
}

shuffled_draws <- function(x, ..., replicates = 400, basis = "components") {
  plan <- softsieve:::plan_chance(x, "resampled", basis, 5, 2L, ...)
  plan$draw(0L, replicates, NULL)
}

test_that("each basis has the eigenvalues of its own matrix", {
  r <- known_correlations()
  reduced <- r - diag(1 / diag(solve(r)))
  expect_equal(spectrum(r, "components"), values_of(r))
  expect_equal(spectrum(r, "factors"), values_of(reduced))
  least <- r - diag(softsieve:::cpp_minimum_rank(r, rep(1, ncol(r))))
  expect_equal(spectrum(r, "minimum_rank"), values_of(least) / sum(diag(least)), tolerance = 1e-4)
  # no inverse: each item's largest correlation stands in
  single <- r[c(1, 1:9), c(1, 1:9)]
  stand_in <- single
  diag(stand_in) <- apply(abs(single - diag(10)), 1, max)
  expect_equal(spectrum(single, "factors"), values_of(stand_in))
})

test_that("minimum-rank chance levels are told as a share of the observed common variance", {
  x <- parallel_analysis(known_correlations(), n = 200, basis = "minimum_rank", replicates = 50,
    seed = 1)
  t <- as_tibble(x)
  expect_equal(sum(t$eigenvalue),
    sum(1 - softsieve:::cpp_minimum_rank(known_correlations(), rep(1, 9))), tolerance = 1e-4)
  expect_equal(sum(t$chance_mean), sum(t$eigenvalue))
  expect_equal(sum(t$share), 1, tolerance = 1e-6)
})

test_that("reduced chance levels agree with drawing people", {
  set.seed(12)
  reduced <- function(r) values_of(r - diag(1 / diag(solve(r))))
  plain <- replicate(1500, reduced(cor(matrix(rnorm(50 * 6), 50))))
  expect_lt(distance(drawn_eigenvalues(50, 6, 1500, basis = "factors"), plain), 4)
})

test_that("samples from a population with factors agree with drawing its people", {
  set.seed(13)
  r <- known_correlations()
  root <- t(chol(r))
  plain <- replicate(1500, values_of(cor(matrix(rnorm(40 * 9), 40) %*% t(root))))
  drawn <- drawn_eigenvalues(40, 9, 1500, root)
  expect_lt(distance(drawn, plain), 4)
  expect_equal(apply(drawn, 1, sd), apply(plain, 1, sd), tolerance = 0.12)
  few <- drawn_eigenvalues(6, 9, 50, root)
  expect_true(all(abs(few[6:9, ]) < 1e-10))
})

test_that("draws go on where others ended", {
  whole <- drawn_eigenvalues(100, 5, 60)
  expect_identical(whole[, 41:60], drawn_eigenvalues(100, 5, 20, first = 40L))
})

test_that(
  "shuffled answers: category shares and gaps stay, and the levels are those of a plain shuffle",
  {
    answers <- as.matrix(repair_cafe[1:150, paste0("t", 1:6)])
    answers[answers == 9] <- NA
    answers[sample.int(150, 40), 2] <- NA
    q <- questionnaire(as.data.frame(answers))
    set.seed(14)
    pairwise <- function(x) cor(x, use = "pairwise.complete.obs")
    expect_lt(distance(shuffled_draws(q), brute_shuffle(answers, 400, pairwise)), 4)
    expect_identical(shuffled_draws(q, replicates = 30), shuffled_draws(q)[, 1:30])
    complete <- answers[stats::complete.cases(answers), ]
    expect_lt(
      distance(shuffled_draws(q, missing = "complete"), brute_shuffle(complete, 400, cor)),
      4)
    ranks <- function(x) cor(x, use = "pairwise.complete.obs", method = "spearman")
    expect_lt(distance(shuffled_draws(q, kind = "spearman"), brute_shuffle(answers, 400, ranks)), 4)
  })

test_that("shuffled weighted answers are correlated with the weights", {
  answers <- unrelated_answers(120, 4, 8)
  w <- rep(c(0.2, 1.8), 60)
  q <- questionnaire(cbind(answers, w = w), weight = w)
  set.seed(15)
  weighted <- function(x) stats::cov.wt(x, w, cor = TRUE)$cor
  drawn <- shuffled_draws(q)
  expect_lt(distance(drawn, brute_shuffle(as.matrix(answers), 400, weighted)), 4)
  expect_gt(
    mean(drawn[1, ]),
    mean(shuffled_draws(questionnaire(answers))[1, ])) # fewer effective people, larger levels
})

test_that(
  "shuffled continuous answers have the normal chance levels, with missing answers as without",
  {
  set.seed(16)
  x <- as.data.frame(matrix(rnorm(200 * 6), 200))
  drawn <- shuffled_draws(x, replicates = 1000)
  expect_lt(distance(drawn, drawn_eigenvalues(200, 6, 1000)), 4)
  x[1:30, 1] <- NA
  pairwise <- function(x) cor(x, use = "pairwise.complete.obs")
  expect_lt(distance(shuffled_draws(x), brute_shuffle(as.matrix(x), 400, pairwise)), 4)
})

test_that("polychoric chance data are ordinal and correlated the same way, shuffled or redrawn", {
  answers <- as.data.frame(lapply(unrelated_answers(150, 4, 3), function(x) pmin(x, 3)))
  polychoric <- function(x) {
    correlate_items(as.data.frame(x), kind = "polychoric")$values$correlations
  }
  set.seed(17)
  plain <- brute_shuffle(as.matrix(answers), 100, polychoric)
  expect_lt(distance(shuffled_draws(answers, kind = "polychoric"), plain), 4)
  redrawn <- softsieve:::plan_chance(answers, NULL, "components", 5, 1L, kind = "polychoric")
  expect_identical(redrawn$kind, "ordinal")
  levels <- redrawn$draw(0L, 400L, NULL)
  expect_lt(distance(levels, plain), 4)
  expect_gt(
    mean(levels[1, ]),
    mean(drawn_eigenvalues(150, 4, 400)[1, ]) + 0.02) # normal levels would be too low
})

test_that("normal chance levels of polychoric correlations are those of drawn answers", {
  set.seed(3)
  cuts <- list(c(-1, 0, 1), 1.1, c(0.7, 1.4), 0)
  answers <- matrix(rnorm(800 * 12), 800)
  for (j in 1:12) answers[, j] <- findInterval(answers[, j], cuts[[(j - 1) %% 4 + 1]])
  x <- correlate_items(as.data.frame(answers), kind = "polychoric")
  upper_of <- function(chance, x) {
    of <- parallel_analysis(x, chance = chance, replicates = 800, seed = 3)$values$eigenvalues
    of$chance_upper[1:4]
  }
  drawn <- upper_of("ordinal", x)
  normal <- upper_of("normal", x)
  expect_lt(max(abs(normal - drawn)), 0.03)
  # whole normal variables would be told apart from chance too easily
  expect_gt(min((drawn - upper_of("normal", correlate_items(as.data.frame(answers))))[1:2]), 0.1)
  # which one is taken when nobody says so, by the number of people
  taken <- function(n) {
    y <- x
    y$values$n <- n
    softsieve:::settle_chance(NULL, y, NULL)
  }
  expect_identical(c(taken(2000), taken(2001)), c("ordinal", "normal"))
})

test_that("chance levels of weighted people and of clusters are those of such people drawn", {
  set.seed(12)
  n <- 150
  weight <- exp(rnorm(n, 0, .8))
  street <- rep(1:50, each = 3)
  answers <- function(weighted) {
    x <- matrix(rnorm(n * 30), n)
    if (!weighted) x <- x + .8 * matrix(rnorm(1500), 50)[street, ]
    as.data.frame(x)
  }
  plain <- function(weighted) {
    of <- function(x) stats::cov.wt(x, if (weighted) weight else rep(1, n), cor = TRUE)$cor
    replicate(400, values_of(of(answers(weighted) * 1)))
  }
  levels_of <- function(q) {
    plan <- softsieve:::plan_chance(q, "normal", "components", 5, 2L)
    plan$draw(0L, 800L, NULL)
  }
  weighted <- questionnaire(cbind(answers(TRUE), w = weight), weight = w)
  clustered <- questionnaire(cbind(answers(FALSE), street = street), cluster = street)
  for (pair in list(list(levels_of(weighted), plain(TRUE)),
    list(levels_of(clustered), plain(FALSE)))) {
    expect_lt(abs(quantile(pair[[1]][1, ], .95) / quantile(pair[[2]][1, ], .95) - 1), 0.05)
    expect_lt(max(abs(rowMeans(pair[[1]]) - rowMeans(pair[[2]]))), 0.06)
  }
  # people who count alike would have lower ones
  known <- correlate_items(weighted)$values$n
  expect_gt(mean(levels_of(weighted)[1, ]) - mean(drawn_eigenvalues(known, 30, 400)[1, ]), 0.1)
  # of some of the items, as in a sifting's passes: as from these alone
  items <- paste0("V", 1:6)
  some <- function(q) {
    parts <- softsieve:::parts_of_people(
      softsieve:::correlations_of_some(correlate_items(q), items))
    expect_equal(parts, softsieve:::parts_of_people(correlate_items(keep_items(q, V1:V6))))
    expect_identical(nrow(parts$scales), 6L)
  }
  some(weighted)
  some(clustered)
  # all squares that there are stay: as many as people, however unlike the clusters' sizes
  unlike <- cbind(answers(FALSE), street = rep(1:50, rep(1:5, 10)))
  parts <- softsieve:::parts_of_people(correlate_items(questionnaire(unlike, cluster = street)))
  expect_gt(diff(range(parts$scales[1, -1])), .5)
  expect_equal(drop(parts$scales %*% parts$people), rep(n, 30))
  # what is shared within clusters, by the analysis of variance of base R
  x <- answers(FALSE)[[1]]
  of <- summary(stats::aov(x ~ factor(street)))[[1]][["Mean Sq"]]
  expect_equal(softsieve:::core_shared_within(x, street), (of[1] - of[2]) / (of[1] + 2 * of[2]))
})

test_that("mixed items: continuous ones are shuffled beside ordered ones", {
  set.seed(18)
  x <- cbind(unrelated_answers(150, 3, 4), s = round(rnorm(150), 2), u = round(rnorm(150), 2))
  levels <- shuffled_draws(x, kind = "mixed", replicates = 200)
  expect_equal(colSums(levels), rep(5, 200))
  pearson <- drawn_eigenvalues(150, 5, 400)
  expect_gt(mean(levels[1, ]), mean(pearson[1, ]))
  expect_lt(mean(levels[1, ]), mean(pearson[1, ]) + 0.15)
})

test_that("an item that does not vary in a draw correlates by 0", {
  # of ten people nine are alike, and two items were hardly met by the same people
  x <- data.frame(a = c(rep(1, 9), 2), b = c(NA, NA, NA, NA, NA, 1, 2, 1, 2, 1), c = rep(1:2, 5))
  levels <- shuffled_draws(x, replicates = 200)
  expect_true(all(is.finite(levels)))
  expect_equal(colSums(levels), rep(3, 200))
})

test_that("the same levels on any number of threads, for every kind of chance data", {
  q <- motives(items = t1:t6)
  for (chance in c("normal", "resampled")) {
    one <- parallel_analysis(q, chance = chance, replicates = 100, seed = 3, threads = 1)
    expect_identical(as_tibble(one),
      as_tibble(parallel_analysis(q, chance = chance, replicates = 100, seed = 3, threads = 3)))
  }
})

test_that("a percentile's standard error is what repetition shows", {
  repeated <- replicate(60, {
    levels <- softsieve:::core_chance_levels(matrix(rexp(400), 1), 90)
    c(levels$upper, levels$upper_error, levels$mean, levels$mean_error)
  })
  expect_equal(sd(repeated[1, ]), mean(repeated[2, ]), tolerance = 0.35)
  expect_equal(sd(repeated[3, ]), mean(repeated[4, ]), tolerance = 0.35)
  all <- softsieve:::core_chance_levels(rbind(c(3, 1, 2), c(6, 5, 4)), 100)
  expect_identical(all$upper, c(3, 6))
  expect_true(all(is.na(all$upper_error)))
  expect_equal(softsieve:::core_chance_levels(matrix(1:21, 1), 95)$upper, 20)
  # by hand: of 1, ..., 400 the 90 % place is 360.1, its binomial deviation 6
  levels <- softsieve:::core_chance_levels(matrix(sample(400), 1), 90)
  expect_equal(c(levels$upper, levels$upper_error), c(360.1, 6))
  expect_equal(levels$mean_error, sd(1:400) / 20)
})

test_that("every order of the answers is as likely in a shuffle", {
  # one of four people is unlike the others in both items: they meet in a quarter of all shuffles
  x <- questionnaire(data.frame(a = c(1, 1, 1, 2), b = c(1, 1, 2, 1)))
  met <- shuffled_draws(x, replicates = 8000)[1, ] > 1.9
  expect_equal(mean(met), 1 / 4, tolerance = .05)
  # without a table for its few categories the answers are shuffled, too
  y <- questionnaire(data.frame(a = c(1, 1, 1, 2.5), b = c(1, 1, 2.5, 1)))
  met <- shuffled_draws(y, replicates = 8000)[1, ] > 1.9
  expect_equal(mean(met), 1 / 4, tolerance = .05)
})

test_that("the sequential analysis holds each rank against the factors before it", {
  r <- known_correlations()
  x <- parallel_analysis(r, n = 200, sequential = TRUE, replicates = 100, seed = 2)
  plain <- parallel_analysis(r, n = 200, replicates = 100, seed = 2)
  expect_identical(x$values$suggested, 3)
  expect_equal(as_tibble(x)$chance_upper[1], as_tibble(plain)$chance_upper[1])
  first <- softsieve:::cpp_fit_uniquenesses(r, 1L, "minres", 1 / diag(solve(r)), .005, 1e-6,
    200L)$loadings
  population <- first %*% t(first)
  diag(population) <- 1
  by_hand <- drawn_eigenvalues(200, 9, 100, t(chol(population)), seed = 2)
  expect_equal(as_tibble(x)$chance_mean[2], rowMeans(by_hand)[2], tolerance = 1e-6)
  expect_lt(as_tibble(x)$chance_upper[2], as_tibble(plain)$chance_upper[2])
})

test_that("drawing goes on until the decision is clear, or says that it is uncertain", {
  clear <- parallel_analysis(known_correlations(), n = 500, replicates = "enough", seed = 1)$values
  expect_identical(clear$replicates, 500L)
  expect_false(clear$uncertain)
  level <- softsieve:::core_chance_levels(drawn_eigenvalues(100, 3, 20000, seed = 4), 95)$upper[1]
  even <- matrix((level - 1) / 2, 3, 3)
  diag(even) <- 1
  tossed <- parallel_analysis(even, n = 100, replicates = "enough", seed = 4)
  expect_identical(tossed$values$replicates, 20000L)
  expect_true(tossed$values$uncertain)
  expect_match(tossed$findings$text[tossed$findings$code == "uncertain"], "uncertain")
})

test_that("a run that was broken off goes on from what it had, and a finished one leaves nothing", {
  asked <- integer()
  plan <- list(key = "test", draw = function(first, count, progress) {
    asked <<- c(asked, first)
    if (broken && first >= 100) stop("interrupted")
    drawn_eigenvalues(50, 4, count, first = first)
  })
  never <- function(chance) FALSE
  broken <- TRUE
  expect_error(softsieve:::draw_chance(plan, 400L, never), "interrupted")
  broken <- FALSE
  asked <- integer()
  expect_identical(softsieve:::draw_chance(plan, 400L, never), drawn_eigenvalues(50, 4, 400))
  expect_gte(min(asked), 100)
  asked <- integer()
  softsieve:::draw_chance(plan, 100L, never)
  expect_identical(asked[1], 0L)
})

test_that("groups are judged apart, and one too small says why", {
  q <- motives(items = t1:t6)
  x <- parallel_analysis(q, by = "cafe", replicates = 50, seed = 1)
  g <- x$values$groups
  expect_identical(nrow(g), 6L)
  one <- parallel_analysis(keep_people(q, cafe == "Harbour"), replicates = 50, seed = 1)
  expect_identical(g$suggested[g$group == "Harbour"], one$values$suggested)
  weighed <- motives(items = t1:t6)
  weighed$values$weights <- rep(c(0.2, 1, 1.8), 280)
  whole <- parallel_analysis(weighed, by = "cafe", replicates = 50, seed = 1)$values$groups
  expect_equal(whole$n[whole$group == "Harbour"],
    parallel_analysis(keep_people(weighed, cafe == "Harbour"), replicates = 50, seed = 1)$values$n)
  tiny <- cbind(unrelated_answers(60, 4), who = c(rep("a", 57), rep("b", 3)))
  tiny[58:60, 1] <- 2
  odd <- parallel_analysis(questionnaire(tiny, group = who), by = "who", replicates = 50, seed = 1)
  expect_match(odd$values$groups$why[2], "Constant: q1")
  expect_true("group_not_judged" %in% odd$findings$code)
})

test_that("chance data that do not go with the correlations are refused with what to do", {
  q <- motives(items = t1:t6)
  refused <- function(...) expect_error(parallel_analysis(...), class = "softsieve_error_chance")
  expect_match(conditionMessage(refused(q, chance = "ordinal")), "kind = \"polychoric\"")
  expect_match(
    conditionMessage(refused(correlate_items(q)$values$correlations, n = 800,
      chance = "resampled")),
    "Give the questionnaire itself")
  expect_match(conditionMessage(refused(q, chance = "resampled", missing = "em")),
    "missing = \"pairwise\"")
  expect_match(conditionMessage(refused(q, chance = "resampled", sequential = TRUE)),
    "chance = \"normal\"")
  expect_error(parallel_analysis(q, replicates = "plenty"), "\"enough\"",
    class = "softsieve_error_argument")
  expect_error(parallel_analysis(q, replicates = 1), "there is none to be had",
    class = "softsieve_error_argument")
  expect_error(parallel_analysis(unrelated_answers(8, 12), basis = "factors"),
    class = "softsieve_error_too_few_people")
})

test_that("chance data are taken up by those of the same items alone", {
  x <- unrelated_answers(90, 8, 4)
  x[1:40, 1:2] <- NA
  of <- function(items) {
    r <- correlate_items(x[items])
    softsieve:::parallel_analysis(r, replicates = 60, seed = 3)$values$eigenvalues
  }
  last <- softsieve:::LAST_CHANCE
  fresh <- function(items) {
    rm(list = ls(last), envir = last)
    of(items)
  }
  alone <- list(fresh(1:4), fresh(5:8))
  expect_identical(of(5:8), alone[[2]])
  expect_identical(of(1:4), alone[[1]])
  expect_false(identical(alone[[1]]$chance_mean, alone[[2]]$chance_mean))
  # a part of some correlations is known by its items, too
  all <- correlate_items(x)
  plan <- function(items) {
    part <- softsieve:::correlations_of_some(all, items)
    softsieve:::plan_chance(part, "normal", "components", 3, 1L)$key
  }
  expect_false(identical(rlang::hash(plan(paste0("q", 3:5))), rlang::hash(plan(paste0("q", 6:8)))))
  # and is taken up, not drawn again
  before <- last$key
  of(1:4)
  expect_identical(last$key, before)
})
