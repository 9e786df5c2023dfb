# Putting answers and codebook together.

book <- function(...) {
  data.frame(item = c("a", "b", "c"), wording = c("First", "Second", "Third"), lowest = 1,
    highest = 5, reversed = c(FALSE, TRUE, FALSE), missing_codes = 9, ...)
}
data3 <- data.frame(person = c("x", "y", "z"), a = c(1, 5, 9), b = c(1, 2, 5), c = c(3, NA, 4))

test_that("codes become missing and are counted, and reversed items are reverse-scored once", {
  q <- questionnaire(data3, codebook = book(), id = person)
  expect_identical(unname(q$values$answers), cbind(c(1L, 5L, NA), c(5L, 4L, 1L), c(3L, NA, 4L)))
  expect_identical(q$values$missing_codes$item, "a")
  expect_identical(q$values$missing_codes$people, 1L)
  expect_identical(q$values$people$person, c("x", "y", "z"))
  expect_identical(as_tibble(q)$b, c(5L, 4L, 1L))
})

test_that("text in items is an error that shows the text and knows a decimal comma", {
  texts <- data3
  texts$a <- c("1,5", "2,0", "3,5")
  texts$c <- c("agree", "agree", "3")
  expect_error(questionnaire(texts, codebook = book()), "decimal comma is the likely cause in a:",
    class = "softsieve_error_text_in_item")
  expect_error(questionnaire(texts, codebook = book()),
    "2 items hold text: a \\(\"1,5\", \"2,0\", \"3,5\"\\) and c \\(\"agree\"\\)",
    class = "softsieve_error_text_in_item")
})

test_that("items that codebook and data do not share are named both ways, with a hint", {
  expect_error(questionnaire(data3[-4], codebook = book()), "no column c",
    class = "softsieve_error_items")
  expect_error(questionnaire(data3[-3], codebook = book()), "no column b",
    class = "softsieve_error_items")
  expect_error(questionnaire(data3, items = c(a, b, c), codebook = book()[-3, ]), "no item c",
    class = "softsieve_error_items")
  expect_error(
    questionnaire(data.frame(thrift1 = 1:3, b = 1:3, c = 1:3),
      codebook = transform(book(), item = c("thrift_1", "b", "c"))),
    "Did you mean \"thrift1\"", class = "softsieve_error_items")
  expect_error(questionnaire(data3, items = starts_with("zz")), class = "softsieve_error_items")
  expect_error(questionnaire(data3, items = c(a, b), id = a), "Both: a",
    class = "softsieve_error_items")
})

test_that("answers out of range are named up to ten and counted, or made missing on request", {
  wild <- data.frame(a = c(0, 6, rep(7, 12)), b = rep(3, 14), c = rep(3, 14))
  expect_error(questionnaire(wild, codebook = book()),
    "a = 0 \\(row 1\\), a = 6 \\(row 2\\).*and 4 more", class = "softsieve_error_out_of_range")
  q <- questionnaire(transform(wild, a = c(0, 1, 2, 6, rep(3, 10))), codebook = book(),
    out_of_range = "missing")
  expect_identical(which(is.na(q$values$answers[, "a"])), c(1L, 4L))
  expect_identical(q$findings$value[q$findings$code == "out_of_range"], 2)
})

test_that("silent, infinite and doubled columns are refused", {
  expect_error(questionnaire(transform(data3, a = NA), codebook = book()), "No answers at all: a",
    class = "softsieve_error_no_answers")
  expect_error(questionnaire(transform(data3, c = 9), codebook = book()), "No answers at all: c",
    class = "softsieve_error_no_answers")
  expect_error(questionnaire(transform(data3[-1], a = c(1, Inf, 2))), "Infinite values in a",
    class = "softsieve_error_infinite")
  doubled <- data3
  names(doubled)[3] <- "a"
  expect_error(questionnaire(doubled), "a more than once",
    class = "softsieve_error_duplicate_names")
  # signs that nobody sees are no name
  for (name in c("\u200b", "\u00a0", " ", "\u200d\u00ad")) {
    expect_error(questionnaire(stats::setNames(repair_cafe[3:5], c("m1", name, "m3"))),
      "no name above column 2", class = "softsieve_error_duplicate_names")
  }
})

test_that("without a codebook wording comes from labels, and that is said", {
  labelled <- data3[-1]
  labelled$a <- structure(c(1, 2, 3), label = "How often?")
  q <- questionnaire(labelled)
  expect_identical(q$values$items$wording, c("How often?", NA, NA))
  expect_identical(q$findings$code, "no_codebook")
  expect_equal(c(q$values$items$lowest, q$values$items$highest), c(1, 1, 3, 3, 5, 4))
})

test_that("repeated ids and unused columns are findings", {
  q <- questionnaire(transform(data3, person = c("x", "x", "z"), age = 30), codebook = book(),
    id = person)
  expect_setequal(q$findings$code, c("repeated_id", "columns_left_out"))
  expect_match(q$findings$text[q$findings$code == "columns_left_out"], "age")
})

test_that("weights count people as those of a mean of 1", {
  q <- questionnaire(cbind(data3, w = c(2, 4, 6)), items = c("a", "b", "c"), weight = w)
  expect_equal(softsieve:::scaled_weights(q), c(.5, 1, 1.5))
})

test_that("what is no number is missing", {
  x <- data.frame(a = c(1.5, NaN, 3, 2), b = c(2, 3, NA, 1), c = c(NaN, 1, 2, 4))
  answers <- questionnaire(x)$values$answers
  expect_false(any(is.nan(answers)))
  expect_identical(sum(is.na(answers)), 3L)
})
