# New answers are keyed as those that a solution came from, and a wrong key is said first.

raw <- function() as.data.frame(repair_cafe)

test_that("raw answers are scored as the questionnaire of the same answers is", {
  q <- motives()
  s <- factor_solution(q, 4, seed = 1)
  by_hand <- as_tibble(score_respondents(s, q))
  from_raw <- score_respondents(s, raw())
  expect_equal(as_tibble(from_raw)[paste0("F", 1:4)], by_hand[paste0("F", 1:4)])
  expect_false(any(from_raw$findings$code == "against_key"))
  # a code for no answer is no answer
  coded <- raw()
  coded$m1[1:5] <- 9
  expect_lt(max(abs(as_tibble(score_respondents(s, coded))$F1), na.rm = TRUE), 6)
})

test_that("answers that are reverse-scored already, or keyed otherwise, are told or refused", {
  q <- motives()
  s <- factor_solution(q, 4, seed = 1)
  reversed <- q$values$items$item[q$values$items$reversed]
  keyed <- raw()
  keyed[reversed] <- lapply(keyed[reversed], function(x) {
    ifelse(x == 9, 9, 6 - x)
  }) # as a program that keys would export them
  told <- score_respondents(s, keyed)$findings
  expect_setequal(told$item[told$code == "against_key"], reversed)
  unkeyed <- questionnaire(raw(), items = tidyselect::all_of(q$values$items$item))
  expect_error(score_respondents(s, unkeyed), reversed[1], class = "softsieve_error_other_key")
  expect_error(assess_reliability(form_scales(s), unkeyed, replicates = 0),
    class = "softsieve_error_other_key")
})

test_that("answers outside the codebook's range are refused, and outside the earlier ones told", {
  s <- factor_solution(motives(), 4, seed = 1)
  wrong <- raw()
  wrong$m2[3] <- 7
  expect_error(score_respondents(s, wrong), "m2 = 7 \\(row 3\\)",
    class = "softsieve_error_out_of_range")
  bare <- factor_solution(questionnaire(unrelated_answers(300, 8)), 2, seed = 1)
  more <- unrelated_answers(100, 8, seed = 2)
  more$q5[1:3] <- 8
  told <- score_respondents(bare, more)$findings
  expect_match(told$text[told$code == "beyond_earlier_answers"], "^q5 has 3 answers outside 1 to 5")
})

test_that("an item that new data lack counts as a gap for everybody, and is named", {
  q <- motives()
  s <- factor_solution(q, 4, seed = 1)
  without <- raw()
  without$m3 <- NULL
  given <- q
  given$values$answers[, "m3"] <- NA
  scored <- score_respondents(s, without)
  expect_equal(as_tibble(scored)$F2, as_tibble(score_respondents(s, given))$F2)
  expect_match(scored$findings$text[scored$findings$code == "items_absent"], "no item m3")
})

test_that("scales key raw answers, and a second wave, as their solution does", {
  q <- motives()
  scales <- form_scales(factor_solution(q, 4, seed = 1))
  a <- assess_reliability(scales, q, replicates = 0, seed = 1)$values$scales
  b <- assess_reliability(scales, raw(), replicates = 0, seed = 1)$values$scales
  expect_equal(a, b)
  twice <- assess_reliability(scales, q, again = raw(), replicates = 0, seed = 1)$values$stability
  expect_equal(twice$estimate[twice$coefficient == "test_retest"], rep(1, 4))
})

test_that("the one item with the wrong key is named, not those that it pulls down", {
  set.seed(4)
  g <- rnorm(300)
  d <- data.frame(bee = g + rnorm(300), slug = g + rnorm(300), moth = -g + rnorm(300))
  r <- assess_reliability(list(garden = names(d)), d, replicates = 0)
  against <- r$findings[r$findings$code == "against_scale", ]
  expect_identical(against$item, "moth")
  expect_match(against$text, "reverse-scored, all items would go together")
  expect_false("negative_alpha" %in% r$findings$code)
  expect_identical(r$values$scales$wrong_key, "moth")
  shown <- capture.output(print(r))
  expect_match(shown[1],
    "^garden, 3 items: moth runs against the others; no coefficient means anything")
  expect_false(any(grepl("omega total \\.", shown)))
  d$moth <- -d$moth
  d$slug <- -d$slug
  expect_identical(
    assess_reliability(list(garden = names(d)), d, replicates = 0)$values$scales$wrong_key,
    "slug")
  # four items, two against two: nobody can say which
  two <- data.frame(a = g + rnorm(300), b = g + rnorm(300), c = -g + rnorm(300),
    d = -g + rnorm(300))
  expect_identical(
    assess_reliability(list(x = names(two)), two, replicates = 0)$values$scales$wrong_key,
    NA_character_)
})

test_that("what makes two scales hard to tell apart is the cause that fired", {
  near <- function(ratio, extracted, squared) {
    softsieve:::find_in_pairs(tibble::tibble(scale = "bee", with = "slug", heterotrait = ratio,
      variance_extracted = extracted, squared = squared))$text
  }
  expect_match(near(.47, .30, .45),
    "^bee and slug are hard to tell apart: without error they share \\.45")
  expect_no_match_ratio <- function(text) expect_false(grepl("ratio", text))
  expect_no_match_ratio(near(.47, .30, .45))
  expect_match(near(.91, .60, .45), "ratio is \\.91, above \\.85\\.$")
  expect_match(near(.91, .30, .45), "ratio is \\.91.*; without error")
  expect_null(near(.47, .60, .45))
})

test_that("a greatest split half may be negative", {
  set.seed(2)
  d <- data.frame(a = rnorm(100), b = rnorm(100))
  d$c <- -d$a - d$b + rnorm(100)
  v <- assess_reliability(list(s = names(d)), d, replicates = 0)$values$coefficients
  expect_equal(v$estimate[v$coefficient == "lambda4"], -3.596, tolerance = 1e-3)
  splits <- list(c(1, 1, -1), c(1, -1, 1), c(-1, 1, 1))
  s <- cov(d)
  brute <- max(vapply(splits, function(x) (sum(s) - c(x %*% s %*% x)) / sum(s), 0))
  expect_equal(v$estimate[v$coefficient == "lambda4"], brute)
})
