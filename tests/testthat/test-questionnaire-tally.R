# Counts that add up: the same numbers as of the answers in memory, however the blocks fall.

counted <- function(data = repair_cafe, ...) {
  tabulate_items(data, codebook = repair_cafe_codebook, ...)
}

# Everything that correlations hold but what they came from.
# errors of answers know more than those of counts
numbers_in <- function(r) {
  r$values[setdiff(names(r$values), c("questionnaire", "tables", "standard_errors"))]
}

# Few categories, gaps, a weight, a group, and one item of many whole values.
wide_answers <- function(people = 700) {
  set.seed(3)
  common <- rnorm(people)
  data <- as.data.frame(lapply(1:4, function(i) {
    as.integer(cut(common + rnorm(people), c(-Inf, -1, 0, .5, Inf)))
  }))
  names(data) <- paste0("q", 1:4)
  data$age <- round(40 + 8 * common + 9 * rnorm(people))
  for (name in names(data)) data[[name]][sample(people, 30)] <- NA
  data$w <- runif(people, .2, 3)
  data$cafe <- rep(c("Mill", "Harbour"), length.out = people)
  data
}

wide_book <- data.frame(item = c(paste0("q", 1:4), "age"), lowest = c(1, 1, 1, 1, 0),
  highest = c(4, 4, 4, 4, 120), reversed = c(FALSE, TRUE, FALSE, FALSE, FALSE))

test_that("of whole numbers all correlations are those of the answers, to the last bit", {
  answers <- motives()
  tables <- counted(rows = 97)
  for (kind in c("pearson", "covariance", "spearman", "polychoric", "mixed")) {
    expect_equal(
      numbers_in(correlate_items(tables, kind = kind)),
      numbers_in(correlate_items(answers, kind = kind)),
      # (of mixed kinds the moments of people's answers are summed one by one)
      tolerance = if (kind == "mixed") 1e-13 else 0,
      label = kind)
  }
  whole <- counted(rows = 97, missing = "complete")
  expect_equal(numbers_in(correlate_items(whole)),
    numbers_in(correlate_items(answers, missing = "complete")), tolerance = 0)
})

test_that("the size of blocks and merging make no difference", {
  one <- counted(rows = 1e5, random_groups = 20)
  expect_identical(counted(rows = 50, random_groups = 20)$values, one$values)
  merged <- merge_tables(counted(repair_cafe[1:300, ]), list(counted(repair_cafe[301:840, ])))
  expect_identical(rowSums(merged$values$cells), rowSums(one$values$cells))
  expect_identical(merged$source$people, 840)
  expect_error(merge_tables(one, counted(random_groups = 21)),
    class = "softsieve_error_other_items")
  expect_error(merge_tables(one, "x"), class = "softsieve_error_class")
})

test_that("items of many values are summed exactly, weights within rounding, groups apart", {
  data <- wide_answers()
  q <- questionnaire(data, codebook = wide_book, weight = w, group = cafe)
  plain <- questionnaire(data, codebook = wide_book)
  tables <- tabulate_items(data, codebook = wide_book, rows = 64)
  expect_null(tables$values$categories$age)
  expect_equal(
    numbers_in(correlate_items(tables))[c("correlations", "covariances", "n_pair", "n")],
    numbers_in(correlate_items(plain))[c("correlations", "covariances", "n_pair", "n")],
    tolerance = 0)
  # brute force, from the definition
  x <- plain$values$answers
  both <- complete.cases(x[, c("q2", "age")])
  expect_equal(correlate_items(tables)$values$correlations["q2", "age"],
    cor(x[both, "q2"], x[both, "age"]), tolerance = 1e-13)
  weighted <- tabulate_items(data, codebook = wide_book, weight = w, group = cafe, rows = 64)
  a <- correlate_items(weighted)$values
  b <- correlate_items(q)$values
  expect_equal(a$correlations, b$correlations, tolerance = 1e-12)
  expect_equal(a$effective_share, b$effective_share, tolerance = 1e-12)
  expect_identical(a$n, b$n)
  expect_identical(sort(names(weighted$values$groups)), c("Harbour", "Mill"))
  expect_equal(correlate_items(weighted$values$groups$Mill)$values$correlations,
    correlate_items(keep_people(q, cafe == "Mill"))$values$correlations, tolerance = 1e-12)
  half <- function(rows) tabulate_items(data[rows, ], codebook = wide_book, weight = w)
  merged <- merge_tables(half(1:350), half(351:700))
  expect_equal(correlate_items(merged)$values$correlations, a$correlations, tolerance = 1e-12)
  expect_error(correlate_items(tables, kind = "polychoric"),
    class = "softsieve_error_many_categories")
})

test_that("weights may be 0 in a whole block, and people in no group are told", {
  data <- wide_answers(200)
  data$w[1:100] <- 0
  data$cafe[c(3, 150)] <- NA
  count <- function(data, ...) {
    tabulate_items(data, codebook = wide_book, weight = w, group = cafe, rows = 50, ...)
  }
  tables <- count(data)
  expect_equal(correlate_items(tables)$values$correlations,
    correlate_items(questionnaire(data, codebook = wide_book, weight = w))$values$correlations,
    tolerance = 1e-12)
  expect_identical(tables$findings$value[tables$findings$code == "no_group"], 2)
  data$w[120] <- -1
  expect_error(count(data), "person 101 and person 150", class = "softsieve_error_weights")
  data$w <- 0
  expect_error(count(data), class = "softsieve_error_weights")
})

test_that("origins that differ are moved when sums are put together", {
  data <- wide_answers()
  half <- function(rows) tabulate_items(data[rows, 1:5], rows = 1e4)
  low <- order(data$age)
  a <- half(low[1:350])
  b <- half(low[351:700])
  b$values$items <- a$values$items
  expect_false(a$values$origins[5] == b$values$origins[5])
  merged <- softsieve:::add_tables(a, b)
  expect_equal(correlate_items(merged)$values$correlations,
    correlate_items(questionnaire(data[1:5]))$values$correlations, tolerance = 1e-13)
  expect_equal(correlate_items(merged)$values$items$skewness,
    correlate_items(questionnaire(data[1:5]))$values$items$skewness, tolerance = 1e-10)
})

test_that("what does not fit is counted and told, not guessed", {
  data <- repair_cafe
  data$m1[c(5, 600)] <- c(7, 2.5)
  tables <- counted(data, rows = 100)
  expect_identical(tables$values$unfit[["m1"]], 2)
  expect_true("unfit_answers" %in% tables$findings$code)
  expect_identical(sum(tables$values$unfit), 2)
  gap <- repair_cafe
  gap$m1[c(5, 600)] <- NA
  expect_identical(rowSums(tables$values$cells), rowSums(counted(gap)$values$cells))
  # also in the first block: the codebook says what is counted
  data$m1[c(5, 600)] <- c(2.5, 7)
  expect_identical(counted(data, rows = 100)$values$unfit[["m1"]], 2)
  # text somewhere in the middle says where
  data$m1 <- as.character(data$m1)
  data$m1[700] <- "often"
  expect_error(counted(data, rows = 100), "person 601 and person 700", class = "softsieve_error")
  # without a codebook the first block settles what there is
  set.seed(1)
  open <- data.frame(a = c(sample(4, 50, TRUE), 5), b = sample(4, 51, TRUE))
  first <- tabulate_items(open, rows = 50)
  expect_identical(first$values$unfit[["a"]], 1)
  expect_true("ends_of_first_block" %in% first$findings$code)
})

test_that("every stage takes counts", {
  tables <- counted()
  answers <- motives()
  expect_identical(profile_items(tables)$values, profile_items(answers)$values)
  by <- tabulate_items(repair_cafe, codebook = repair_cafe_codebook, group = cafe)
  a <- profile_items(by, by = cafe)$values$items
  b <- profile_items(answers, by = cafe)$values$items
  expect_equal(a[order(a$group, a$item), ], b[order(b$group, b$item), ], tolerance = 1e-12)
  expect_error(profile_items(tables, by = cafe), class = "softsieve_error_groups")
  expect_identical(
    count_factors(tables, rules = "parallel", replicates = 50, seed = 1)$values$eigenvalues,
    count_factors(answers, rules = "parallel", replicates = 50, seed = 1)$values$eigenvalues)
  expect_identical(
    parallel_analysis(tables, kind = "polychoric", replicates = 20, seed = 1)$values$eigenvalues,
    parallel_analysis(answers, kind = "polychoric", replicates = 20, seed = 1)$values$eigenvalues)
  expect_error(parallel_analysis(tables, chance = "resampled"), class = "softsieve_error_chance")
  a <- factor_solution(tables, 4, seed = 1, starts = 5)
  b <- solution4()
  expect_identical(a$values$loadings, b$values$loadings)
  expect_identical(score_respondents(a, repair_cafe)$values$scores$F1,
    score_respondents(b, repair_cafe)$values$scores$F1)
  trust <- assess_reliability(form_scales(b), tables, replicates = 0)$values$coefficients
  other <- assess_reliability(form_scales(b), answers, replicates = 0)$values$coefficients
  expect_equal(trust$estimate, other$estimate, tolerance = 1e-12)
  rules <- sift_rules(by_limits = FALSE)
  left <- sift_items(tables, rules, factors = 4, seed = 1)$values$solution
  other <- sift_items(answers, rules, factors = 4, seed = 1)$values$solution
  expect_identical(left$values$loadings, other$values$loadings)
  expect_identical(left$values$item_correlations$values$tables$values$items$item,
    rownames(left$values$loadings))
})

test_that("counts of some items are those of these items, in any order", {
  some <- c("n2", "m3", "t1", "m4")
  kept <- softsieve:::keep_counted(counted(group = cafe), some)
  expect_equal(numbers_in(correlate_items(kept, kind = "polychoric")),
    numbers_in(correlate_items(keep_items(motives(), tidyselect::all_of(some)),
      kind = "polychoric")),
    tolerance = 0)
  expect_identical(kept$values$groups$Harbour$values$items$item, some)
  wide <- softsieve:::keep_counted(tabulate_items(wide_answers(), codebook = wide_book),
    c("age", "q2"))
  expect_equal(correlate_items(wide)$values$correlations[1, 2],
    correlate_items(
      questionnaire(wide_answers(), codebook = wide_book))$values$correlations["age", "q2"],
    tolerance = 0)
  # beyond the ends of an item of many values
  data <- wide_answers()
  data$age[1:3] <- c(130, -5, 120)
  expect_identical(tabulate_items(data, codebook = wide_book)$values$unfit[["age"]], 2)
  # sphericity of counts: what thresholds leave of the normal scores' correlations
  skewed <- matrix(rnorm(3000), 300) + rnorm(300) * .1
  skewed <- as.data.frame(apply(skewed, 2, findInterval, c(-1.5, .3)))
  statistic <- function(x) assess_factorability(x, kind = "polychoric")$values$sphericity$statistic
  expect_equal(statistic(tabulate_items(skewed)), statistic(skewed), tolerance = .02)
})

test_that("random groups stand for people: drawn, and left out", {
  set.seed(8)
  load <- known_pattern()
  z <- matrix(rnorm(6000 * 3), 6000) %*% chol(known_between()) %*% t(load)
  unique <- 1 - rowSums((load %*% known_between()) * load)
  z <- z + matrix(rnorm(6000 * 9), 6000) %*% diag(sqrt(unique))
  data <- as.data.frame(apply(z, 2, function(x) findInterval(x, c(-1.2, -.3, .3, 1.2)) + 1L))
  names(data) <- rownames(load)
  tables <- tabulate_items(data, ends = c(1, 5))
  answers <- questionnaire(data, ends = c(1, 5))
  one <- loading_stability(factor_solution(tables, 3, seed = 1), replicates = 300, halves = 5,
    seed = 1)
  other <- loading_stability(factor_solution(answers, 3, seed = 1), replicates = 300, halves = 5,
    seed = 1)
  ratio <- one$values$loadings$standard_error / other$values$loadings$standard_error
  expect_lt(abs(median(ratio) - 1), .1)
  expect_lt(diff(range(ratio)), .6)
  expect_identical(one$values$units, 200L)
  expect_output(print(one), "in the 200 random groups of the counts")
  expect_output(print(other), "in parts")
  # a correlation's standard error is (1 - r^2) / sqrt(n), within the noise of 200 random groups
  r <- function(r) c(first = r$values$correlations["i1", "i2"])
  left <- draw_tables(tables, r)
  expect_identical(left$name, "first")
  expect_lt(abs(left$standard_error / ((1 - left$estimate^2) / sqrt(6000)) - 1), .25)
  drawn <- draw_tables(tables, r, how = "draw", replicates = 200, seed = 1)
  expect_lt(abs(drawn$standard_error / left$standard_error - 1), .25)
  scale <- list(all = paste0("i", 1:3))
  a <- assess_reliability(scale, tables, replicates = 300, seed = 1)$values$coefficients
  b <- assess_reliability(scale, answers, replicates = 300, seed = 1)$values$coefficients
  at <- a$coefficient == "alpha"
  expect_lt(abs(a$standard_error[at] / b$standard_error[at] - 1), .2)
  few <- tabulate_items(data, ends = c(1, 5), random_groups = 5)
  expect_error(draw_tables(few, r), class = "softsieve_error_argument")
  expect_error(loading_stability(factor_solution(few, 3, seed = 1)),
    class = "softsieve_error_argument")
  expect_true("no_bootstrap" %in% assess_reliability(scale, few)$findings$code)
  expect_error(loading_stability(factor_solution(tables, 3, seed = 1), clusters = "cafe"),
    class = "softsieve_error_argument")
  expect_error(draw_tables(tables, function(r) "x"), class = "softsieve_error_statistic")
})

test_that("people are drawn by their number, whatever the blocks", {
  one <- sample_people(repair_cafe, 100, seed = 1)
  expect_identical(sample_people(repair_cafe, 100, seed = 1, rows = 37), one)
  expect_identical(attr(one, "people"), 840)
  expect_true(all(one$person %in% repair_cafe$person))
  expect_false(is.unsorted(match(one$person, repair_cafe$person)))
  expect_false(identical(sample_people(repair_cafe, 100, seed = 2)$person, one$person))
  some <- sample_people(repair_cafe, 5, columns = c(cafe, m1), seed = 1)
  expect_identical(names(some), c("cafe", "m1"))
  expect_identical(nrow(sample_people(repair_cafe, 5000, seed = 1)), 840L)
  # each person as likely as another: 400 samples of 84 of 840
  times <- table(unlist(lapply(1:400, function(seed) {
    sample_people(data.frame(i = 1:840), 84, seed = seed)$i
  })))
  expect_gt(chisq.test(c(times, integer(840 - length(times))))$p.value, .001)
})
