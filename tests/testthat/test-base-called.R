# Rows that are not people and columns that are not items: their words, what is odd among them, and
# that numbers stay what they are.

gauges <- function(...) {
  words <- c(row = "day", column = "gauge")
  questionnaire(repair_log, id = day, measured = TRUE, called = words, ...)
}
said_by <- function(x) paste(capture.output(print(x)), collapse = "\n")
PEOPLE <- "\\b(people|person|items?|answer(s|ed)?|respondents?|nobody)\\b"

test_that("what people read of measurements has their words, and no others", {
  q <- gauges()
  r <- correlate_items(q)
  solution <- factor_solution(r, 3, seed = 1, starts = 3)
  count <- count_factors(r, rules = c("parallel", "bic"), seed = 1, replicates = 50)
  scales <- form_scales(solution)
  results <- list(q, r, profile_items(q), profile_respondents(q), assess_factorability(r), count,
    solution, pattern_table(solution), scales, score_respondents(solution, q),
    assess_reliability(scales, q, replicates = 0), solution_ladder(solution, seed = 1),
    factor_solution(r, 2, method = "components", rotation = "none"))
  for (x in results) {
    said <- said_by(x)
    # (names of functions and arguments stay)
    words <- gsub("[a-z]+_[a-z_]+|`[^`]*`|->[^\n]*", "", said)
    expect_no_match(words, PEOPLE, label = class(x)[1L])
    expect_match(words, "gauge|day", label = class(x)[1L])
    expect_no_match(paste(x$findings$text, collapse = " "), PEOPLE)
  }
  expect_match(said_by(q), "^Table of 9 gauges, 208 days\\.")
  figure <- ggplot2::autoplot(count)
  expect_no_match(paste(unlist(figure$labels), collapse = " "), PEOPLE)
  # one: singular, and the article of its word
  one <- questionnaire(repair_log, c(visitors, cups), measured = TRUE,
    called = c(row = "evening", column = "area/areas"))
  expect_match(said_by(one), "2 areas, 208 evenings")
  expect_match(softsieve:::in_called("An item of a person", one$source), "An area of an evening")
})

test_that("words of a table's own columns stay, and people stay people", {
  d <- stats::setNames(repair_log[c("visitors", "cups", "repairs")], c("people", "cups", "answers"))
  q <- questionnaire(d, measured = TRUE)
  said <- said_by(correlate_items(q))
  expect_match(said, "3 columns over 208 rows")
  expect_match(said, "people +cups")
  # and what is to be typed
  typed <- softsieve:::in_called("`softsieve items x.csv` looks at items", q$source)
  expect_identical(typed, "`softsieve items x.csv` looks at columns")
  only <- questionnaire(repair_cafe, codebook = repair_cafe_codebook,
    called = c(column = "question"))
  expect_match(said_by(only), "Questionnaire of 26 questions, answered by 840 people")
})

test_that("numbers do not depend on words", {
  plain <- questionnaire(repair_log, visitors:kilograms)
  words <- questionnaire(repair_log, visitors:kilograms, measured = TRUE)
  one <- function(q) factor_solution(q, 2, seed = 1, starts = 3)$values$loadings
  expect_identical(one(plain), one(words))
  expect_identical(plain$source$fingerprint, words$source$fingerprint)
})

test_that("wrong words are refused", {
  for (wrong in list("day", c(row = "a1"), c(rows = "day"), c(row = "day", row = "week"), 3,
    c(row = "{x}"))) {
    expect_error(questionnaire(repair_log, visitors:cups, called = wrong),
      class = "softsieve_error_argument")
  }
  expect_error(questionnaire(repair_log, visitors:cups, measured = nowhere),
    class = "softsieve_error_items")
})

test_that("what is odd among measurements is reported once, with a line that takes it out", {
  set.seed(3)
  n <- 60L
  x <- as.data.frame(matrix(stats::rnorm(4 * n), n, dimnames = list(NULL, letters[1:4])))
  x$number <- seq(10, by = 5, length.out = n)
  x$code <- sample(1001:1070, n)
  x$when <- as.integer(format(as.Date("2025-01-01") + sample(300, n), "%Y%m%d"))
  x$site <- sample(1:4, n, TRUE)
  x$same <- 7
  x$fahrenheit <- x$a * 1.8 + 32
  x$total <- x$b + x$c + x$d
  x$target <- stats::rnorm(n)
  q <- questionnaire(x, measured = TRUE)
  of <- function(code) q$findings$item[q$findings$code == code]
  expect_identical(of("running_number"), "number")
  expect_identical(of("id_like"), "code")
  expect_identical(of("date_like"), "when")
  expect_identical(of("group_like"), "site")
  expect_identical(of("constant_column"), "same")
  expect_identical(of("outcome_like"), "target")
  expect_identical(of("follows_from_others"), c("fahrenheit", "total"))
  expect_match(q$findings$text[q$findings$item %in% "total"], "b, c and d")
  expect_false(any(c("many_answers", "fractions", "no_codebook", "unlike_the_others") %in%
    q$findings$code))
  expect_match(said_by(q), "keep_items(data, -number)", fixed = TRUE)
  expect_identical(gauges()$findings$code, "rows_alike")
  # what never changes is left out, where anything is left
  expect_false("same" %in% q$values$items$item)
  still <- data.frame(a = rep(1, 9), b = rep(2, 9))
  expect_error(questionnaire(still, measured = TRUE), class = "softsieve_error_constant_item")
  # dates are kept apart where nobody asked for them
  apart <- questionnaire(repair_log, measured = TRUE)$findings
  expect_identical(apart$item[apart$code == "date_like"], "day")
})

test_that("measured scales are of standardised columns, each in its direction", {
  q <- gauges()
  solution <- factor_solution(q, 3, seed = 1, starts = 3)
  scales <- form_scales(solution, cross_loading = "highest")
  z <- scale(as.data.frame(q$values$answers))
  s <- scales$values$scales
  units <- scales$values$standardised
  expect_equal(units$mean, unname(attr(z, "scaled:center")[s$item]))
  expect_identical(units$sign[units$item == "temperature"], -1)
  scored <- score_respondents(scales, q)
  for (name in unique(s$scale)) {
    at <- s$scale == name
    own <- sweep(z[, s$item[at]], 2, units$sign[at], "*")
    full <- stats::complete.cases(own)
    expect_equal(scored$values$scores[[name]][full], unname(rowMeans(own)[full]))
  }
  # other units, the same scores and coefficients; raw ones by asking
  other <- as.data.frame(repair_log)
  other$minutes <- other$minutes / 60
  other$temperature <- other$temperature * 1.8 + 32
  p <- questionnaire(other, id = day, measured = TRUE)
  again <- form_scales(factor_solution(p, 3, seed = 1, starts = 3), cross_loading = "highest")
  expect_equal(score_respondents(again, p)$values$scores, scored$values$scores, tolerance = 1e-8)
  trust <- function(x, data) {
    assess_reliability(x, data, replicates = 0, seed = 1)$values$scales[c("alpha", "omega")]
  }
  expect_equal(trust(again, p), trust(scales, q), tolerance = 1e-8)
  raw <- form_scales(solution, cross_loading = "highest", standardise = FALSE)
  expect_null(raw$values$standardised)
  expect_false(isTRUE(all.equal(trust(raw, q), trust(scales, q))))
  # the formula gives the same of the values as they were measured
  formula <- score_formula(scales, missing = "none")
  by_hand <- drop(as.matrix(repair_log[rownames(formula$values$weights)]) %*%
    formula$values$weights[, 1] + formula$values$constant[1])
  full <- !is.na(by_hand)
  expect_equal(by_hand[full], scored$values$scores[[unique(s$scale)[1]]][full], tolerance = 1e-10)
  # a second wave is in the units of the first
  again <- assess_reliability(scales, q, again = q, replicates = 0, seed = 1)$values$stability
  expect_equal(again$estimate, rep(1, nrow(again)), tolerance = 1e-8)
  # a list takes the units of the answers that come with it; scales of answers stay as they are
  busy <- list(busy = c("visitors", "cups", "repairs"))
  alpha <- assess_reliability(busy, q, replicates = 0)$values$scales$alpha
  r <- stats::cor(as.data.frame(q$values$answers)[busy$busy], use = "pairwise")
  expect_equal(alpha, 3 / 2 * (1 - 3 / sum(r)), tolerance = 1e-3)
  expect_null(form_scales(solution4())$values$standardised)
})

test_that("a study of measurements begins by itself, runs, and is said again", {
  dir <- withr::local_tempdir()
  file.copy(system.file("extdata", "repair_log.csv", package = "softsieve"), dir)
  begun <- begin_study(file.path(dir, "repair_log.csv"), dir)
  expect_null(begun$codebook)
  expect_match(readLines(begun$files), "order:", all = FALSE)
  lines <- sub("rows: row ", "rows: day ", readLines(begun$files))
  lines <- c(sub("columns: column ", "columns: gauge ", lines), "scales: {replicates: 0}")
  writeLines(lines, begun$files)
  study <- run_study(begun$files)
  expect_identical(study$values$questionnaire$source$called$columns, "gauges")
  text <- softsieve:::prose_of(study)
  expect_match(paste(text$methods, collapse = " "), "208 days in 9 gauges")
  expect_no_match(paste(unlist(text), collapse = " "), PEOPLE)
  write_report(study, file.path(dir, "r.md"))
  shown <- readLines(file.path(dir, "r.md"))
  top <- shown[seq_len(grep("^## What was decided", shown))]
  expect_no_match(
    paste(grep("findings|summary", top, value = TRUE, invert = TRUE), collapse = " "),
    "\\b(people|items|respondents)\\b")
  said <- study_of(study$values$questionnaire, study$values$solution,
    answers = file.path(dir, "repair_log.csv"))
  expect_identical(said$settings$answers$rows, "day/days")
  expect_identical(length(said$settings$answers$measured), 9L)
  # (the study is checked against the file, so that order and season must be said, too)
  still <- questionnaire(read_responses(file.path(dir, "repair_log.csv")), order = day,
    remove = "season", measured = TRUE)
  said <- study_of(still, answers = file.path(dir, "repair_log.csv"))
  expect_identical(unlist(said$settings$answers[c("order", "remove")], use.names = FALSE),
    c("day", "season"))
})
