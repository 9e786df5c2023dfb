# Profiles of items and people; groups; keeping some of both.

test_that("item moments and shares agree with a case worked by hand", {
  data <- data.frame(a = c(1, 1, 2, 4, NA), b = c(5, 5, 5, 5, 4))
  book <- data.frame(item = c("a", "b"), lowest = 1, highest = 5)
  x <- as_tibble(profile_items(questionnaire(data, codebook = book)))
  # a: mean 2, deviations -1 -1 0 2: m2 = 6/4, m3 = 6/4, m4 = 18/4
  expect_equal(x$mean[1], 2)
  expect_equal(x$sd[1], sqrt(2))
  expect_equal(x$skewness[1], 1.5 / 1.5^1.5)
  expect_equal(x$excess_kurtosis[1], 4.5 / 2.25 - 3)
  expect_equal(x$missing_share[1], .2)
  expect_equal(c(x$floor_share[1], x$ceiling_share[2], x$largest_share[2]), c(.5, .8, .8))
})

test_that("flags fire on what they name, and only there", {
  set.seed(1)
  good <- sample(5, 200, replace = TRUE)
  data <- data.frame(good = good, same = 3L, near = c(rep(4L, 190), sample(5, 10, TRUE)),
    floor = c(rep(1L, 120), sample(5, 80, TRUE)), gap = sample(c(1, 2, 4, 5), 200, TRUE),
    two = sample(1:2, 200, TRUE))
  book <- data.frame(item = names(data), lowest = 1, highest = c(5, 5, 5, 5, 5, 2))
  x <- profile_items(questionnaire(data, codebook = book))
  flags <- stats::setNames(as_tibble(x)$flags, names(data))
  expect_identical(flags[["good"]], "")
  expect_match(flags[["same"]], "no_variance")
  expect_match(flags[["near"]], "one_answer")
  expect_match(flags[["floor"]], "floor")
  expect_match(flags[["gap"]], "unused_category")
  expect_match(flags[["two"]], "not_interval")
  expect_identical(x$findings$item[x$findings$code == "no_variance"], "same")
  expect_equal(as_tibble(x)$mean, unname(colMeans(data)))
})

test_that("items with more than 16 different answers have moments and no counts", {
  set.seed(2)
  data <- data.frame(slider = round(runif(300, 0, 100)), b = sample(5, 300, TRUE),
    wild = rnorm(300))
  x <- profile_items(data)
  expect_equal(as_tibble(x)$mean, unname(colMeans(data)))
  expect_equal(as_tibble(x)$sd, unname(sapply(data, sd)))
  expect_identical(unique(x$values$counts$item), "b")
})

test_that("weighted and grouped profiles are those of the repeated and the chosen people", {
  data <- data.frame(a = c(1, 2, 3, 4), b = c(2, 2, 4, 5), w = c(1, 1, 2, 4),
    g = c("x", "x", "y", "y"))
  q <- questionnaire(data, items = c(a, b), weight = w, group = g)
  repeated <- data[rep(1:4, data$w), ]
  expect_equal(as_tibble(profile_items(q))$mean, unname(colMeans(repeated[c("a", "b")])))
  grouped <- as_tibble(profile_items(questionnaire(data, items = c(a, b), group = g), by = "g"))
  expect_equal(grouped$mean[grouped$group == "y"], c(3.5, 4.5))
  expect_error(profile_items(q, by = "w"), "Their columns: g", class = "softsieve_error_groups")
})

test_that("signs of carelessness agree with cases worked by hand", {
  raw <- rbind(c(3, 3, 3, 3, 3, 3), c(1, 5, 5, 5, 2, 2), c(1, NA, 1, 1, 2, 2))
  expect_identical(softsieve:::core_longest_run(rbind(raw, NA)), c(6L, 3L, 2L, 0L))
  expect_identical(softsieve:::core_same_answer(raw), c(TRUE, FALSE, FALSE))
  expect_equal(softsieve:::core_within_person_sd(raw), apply(raw, 1, sd, na.rm = TRUE))
  # items 1, 2 agree-worded and 3 reversed: the first person is at the upper end on all three
  ends <- softsieve:::core_contradictions(rbind(c(5, 5, 5), c(5, 5, 1), c(1, 3, 1)), rep(1, 3),
    rep(5, 3), c(FALSE, FALSE, TRUE), list(1:3))
  expect_identical(ends, c(2L, 0L, 1L))
  odd <- c(1, 2, 4)
  even <- c(2, 2, 5)
  x <- matrix(c(rbind(odd, even)), 1)
  r <- cor(odd, even)
  expect_equal(softsieve:::core_even_odd(x, list(1:2, 3:4, 5:6)), 2 * r / (1 + r))
})

test_that("distances are mahalanobis() where nothing is missing and use what there is elsewhere", {
  q <- motives(items = c(m1:m4))
  whole <- na.omit(as.data.frame(q$values$answers))
  p <- as_tibble(profile_respondents(whole))
  expect_equal(p$distance, unname(mahalanobis(whole, colMeans(whole), cov(whole))))
  expect_equal(p$p, pchisq(p$distance, 4, lower.tail = FALSE))
  expect_false(anyNA(
    as_tibble(profile_respondents(q))$distance[rowSums(!is.na(q$values$answers)) > 0]))
})

test_that("the careless people of the demo data are found, and nobody is removed", {
  x <- profile_respondents(motives())
  flags <- as_tibble(x)$flags
  expect_identical(nrow(as_tibble(x)), 840L)
  expect_identical(sum(grepl("same_answer", flags)), 12L) # as data-raw/repair_cafe.R made them
  expect_gte(sum(grepl("far_from_all|contradicting", flags)), 10)
  expect_lt(sum(nzchar(flags)), 40)
  same <- profile_respondents(transform(unrelated_answers(30, 4), q5 = q1))
  expect_identical(same$findings$code[1], "no_distance")
})

test_that("keeping people and items gives what building from them gives", {
  q <- motives()
  north <- keep_people(q, cafe == "Harbour", m1 >= 3)
  expect_true(all(north$values$people$cafe == "Harbour"))
  expect_true(all(north$values$answers[, "m1"] >= 3))
  expect_no_match(capture.output(print(north)), "code 9") # the count was of all people
  expect_match(north$findings$text[north$findings$code == "people_kept"], "of 840 people")
  weighted <- questionnaire(data.frame(a = 1:4, b = c(1, 3, 2, 5), w = 1:4), items = c(a, b),
    weight = w)
  expect_identical(keep_people(weighted, a > 2)$values$weights, 3:4)
  expect_match(capture.output(print(weighted)), "Kept apart: w", all = FALSE)
  # answered by people of weight 0 alone: shares of nothing are not known
  faint <- suppressWarnings(profile_items(questionnaire(data.frame(a = c(1, NA, NA),
    b = c(NA, 3, 4), w = c(0, 1, 1)), items = c(a, b), weight = w)))$values$items
  expect_identical(faint$floor_share[1], NA_real_)
  expect_identical(faint$floor_share[2], 0.5)
  few <- keep_items(q, -c(o1, o2), -starts_with("m"))
  expect_equal(few$values$answers, motives(items = t1:p6)$values$answers)
  expect_identical(few$settings$reversed, c("t3", "n5", "p4"))
  expect_equal(factor_solution(few, 3, seed = 1)$values$loadings,
    factor_solution(motives(items = t1:p6), 3, seed = 1)$values$loadings)
  expect_error(keep_people(q, cafe == "Nowhere"), "holds? for nobody",
    class = "softsieve_error_condition")
  expect_error(keep_people(q, nosuch > 1), "Columns: person", class = "softsieve_error_condition")
  expect_error(keep_people(q, "Harbour"), class = "softsieve_error_condition")
  expect_error(keep_items(q, m1), "1 item would be left", class = "softsieve_error_items")
})

test_that("weights that cannot be are refused by row", {
  data <- data.frame(a = 1:4, b = c(2, 1, 4, 3), w = 1)
  bad <- function(heavy) {
    data$w <- heavy
    questionnaire(data, items = c(a, b), weight = w)
  }
  expect_error(bad(c(1, -1, 2, -3)), "row 2 and 4", class = "softsieve_error_weights")
  expect_error(bad(0), "All are 0", class = "softsieve_error_weights")
  expect_error(bad(c(1, NA, 1, Inf)), "row 2 and 4", class = "softsieve_error_weights")
  expect_error(bad("heavy"), "holds text", class = "softsieve_error_weights")
})

test_that("factorability by group judges who can be judged and says why others cannot", {
  q <- motives(items = t1:t6)
  x <- assess_factorability(q, by = "cafe", anti_image = TRUE)
  g <- x$values$groups
  harbour <- assess_factorability(keep_people(q, cafe == "Harbour"))$values
  expect_equal(g$adequacy[g$group == "Harbour"], harbour$adequacy)
  expect_equal(unname(diag(x$values$anti_image)),
    x$values$items$adequacy[match(paste0("t", 1:6), x$values$items$item)])
  data <- data.frame(unrelated_answers(60, 3), g = rep(c("a", "b", "c"), c(40, 19, 1)))
  data$q2[data$g == "b"] <- 3
  y <- assess_factorability(questionnaire(data, items = q1:q3, group = g), by = "g")
  expect_match(y$findings$text[y$findings$code == "small_group"], "c")
  expect_match(y$findings$text[y$findings$code == "group_not_judged"], "b .*Constant: q2")
  expect_identical(y$values$groups$group, c("a", "b"))
})

test_that("near copies are named", {
  data <- transform(unrelated_answers(200, 4), q5 = q1 + rep(c(0, 0, 0, .4), 50))
  x <- assess_factorability(data)
  expect_identical(x$findings$item[x$findings$code == "collinear_pair"], "q1")
  expect_equal(x$values$condition_number, kappa(cor(data), exact = TRUE), tolerance = 1e-6)
})

test_that("of measurements nobody is told of answers that nobody gave", {
  set.seed(4)
  decimals <- function() round(rnorm(60), 2)
  x <- data.frame(a = decimals(), b = decimals(), c = sample(c(1, 2, 4), 60, TRUE))
  told <- suppressWarnings(profile_items(x))$findings
  expect_identical(told$item[told$code == "unused_category"], "c")
})
