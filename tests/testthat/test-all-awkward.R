# Awkward files, each taken to a factorability verdict without an edit by hand.

fixture <- function(name) test_path("fixtures", name) # made by fixtures/make.R
demo <- function() as_tibble(motives(items = m1:t6)) # keyed, so no codebook is needed to turn items

test_that("1: a semicolon file in Latin-1 with decimal commas, thousands and the code 99", {
  data <- as.data.frame(demo())
  data$cafe <- sub("Mill Lane", "M\u00fchlengasse", data$cafe)
  data[3:14] <- lapply(data[3:14], function(x) {
    ifelse(is.na(x), "99", sub(".", ",", format(x + 0.5), fixed = TRUE))
  })
  data$income <- "1.234,50"
  file <- withr::local_tempfile(fileext = ".csv")
  lines <- c(paste(names(data), collapse = ";"), do.call(paste, c(data, sep = ";")))
  writeBin(
    iconv(paste0(paste(lines, collapse = "\r\n"), "\r\n"), "UTF-8", "latin1", toRaw = TRUE)[[1]],
    file)
  read <- read_responses(file)
  expect_match(attr(read, "reading")$text[1],
    "semicolon, windows-1252 \\(guessed\\), decimal comma, \".\" between thousands; 840 people")
  expect_identical(unique(read$income), 1234.5)
  expect_true("M\u00fchlengasse" %in% read$cafe)
  book <- data.frame(item = names(data)[3:14], lowest = 1, highest = 6, missing_codes = 99)
  q <- questionnaire(read, codebook = book, id = person, group = cafe)
  expect_equal(q$values$answers, motives(items = m1:t6)$values$answers + 0.5)
  expect_identical(assess_factorability(q)$values$verdict, "meritorious")
})

test_that("2 and 3: sheets of Excel and OpenDocument with answers in words, mapped by the codebook",
  {
    skip_if_not_installed("readxl")
    skip_if_not_installed("xml2")
    read <- lapply(c("mending.xlsx", "mending.ods"), function(name) {
      read_responses(fixture(name), sheet = "answers")
    })
    expect_equal(read[[1]], read[[2]], ignore_attr = TRUE)
    expect_identical(read[[1]]$code[1:2], c("001", "002"))
    expect_identical(read[[1]]$hours[1:3], c(1.5, 2.25, 10))
    book <- read_codebook(fixture("mending.ods"), sheet = "codebook")
    expect_identical(book$labels[[1]], c(never = 1, seldom = 2, often = 3, always = 4))
    q <- questionnaire(read[[1]], codebook = book, id = code, group = cafe)
    expect_identical(q$values$answers[1:3, "w1"], match(read[[1]]$w1[1:3], names(book$labels[[1]])))
    expect_identical(sum(is.na(q$values$answers)), 2L)
    expect_identical(assess_factorability(q)$values$verdict, "meritorious")
    expect_error(questionnaire(read[[1]], codebook = book[1:5], id = code), "6 items hold text",
      class = "softsieve_error_text_in_item")
    expect_error(read_responses(fixture("mending.ods"), sheet = "nosuch"),
      "read me, answers and codebook", class = "softsieve_error_reader")
    expect_error(read_responses(fixture("mending.xlsx"), sheet = 9),
      class = "softsieve_error_reader")
  })

test_that("4: two tab files put together, with a byte order mark and the header twice", {
  data <- as.data.frame(demo())
  lines <- c(paste(names(data), collapse = "\t"),
    do.call(paste, c(lapply(data, function(x) ifelse(is.na(x), "", x)), sep = "\t")))
  file <- withr::local_tempfile(fileext = ".tsv")
  writeBin(
    c(as.raw(c(0xef, 0xbb, 0xbf)),
      charToRaw(paste0(paste(c(lines[1:300], lines[1], lines[301:841]), collapse = "\n"), "\n"))),
    file)
  read <- read_responses(file)
  expect_identical(attr(read, "reading")$code, c("header_repeated", "how_read"))
  expect_match(attr(read, "reading")$text[1], "line 301")
  expect_equal(read, demo(), ignore_attr = TRUE)
  expect_identical(
    assess_factorability(questionnaire(read, id = person, group = cafe))$values$verdict,
    "meritorious")
})

test_that("5: Parquet with weights, and JSON lines that leave missing answers out", {
  skip_if_not_installed("nanoparquet")
  data <- as.data.frame(demo())
  data$weight <- rep(c(0.5, 1.5), 420)
  parquet <- withr::local_tempfile(fileext = ".parquet")
  nanoparquet::write_parquet(data, parquet)
  lines <- withr::local_tempfile(fileext = ".jsonl")
  writeLines(
    vapply(seq_len(840), function(i) {
      as.character(jsonlite::toJSON(Filter(Negate(is.na), as.list(data[i, ])), auto_unbox = TRUE))
    }, ""),
    lines)
  first <- questionnaire(read_responses(parquet), id = person, group = cafe, weight = weight)
  second <- questionnaire(read_responses(lines), items = tidyselect::all_of(names(data)[3:14]),
    id = person, group = cafe, weight = weight)
  expect_equal(first$values$answers, second$values$answers[, colnames(first$values$answers)])
  expect_identical(assess_factorability(first)$values$verdict, "meritorious")
  expect_equal(correlate_items(first)$values$effective_share, 840^2 / (840 * sum(data$weight^2)))
})

test_that("6: ordered factors from R, numbered by their levels, and it is said", {
  data <- demo()[3:14]
  data[] <- lapply(data, function(x) {
    factor(c("none", "little", "some", "much", "all")[x],
      c("none", "little", "some", "much", "all"), ordered = TRUE)
  })
  q <- questionnaire(data)
  expect_equal(q$values$answers, motives(items = m1:t6)$values$answers)
  expect_true("levels_numbered" %in% q$findings$code)
  expect_identical(assess_factorability(q, kind = "polychoric")$values$verdict, "meritorious")
})

test_that("a YAML codebook says what a CSV one says", {
  yaml <- local_file(
    c("defaults: {lowest: 1, highest: 5, missing_codes: 9, labels: {1: no, 5: 'yes'}}", "items:",
      "  - {item: a, wording: First}",
      "  - {item: b, wording: Second, reversed: yes, missing_codes: [8, 9]}"),
    ".yml")
  csv <- local_file(c("item,wording,lowest,highest,reversed,missing_codes,labels",
    "a,First,1,5,,9,1 = no | 5 = yes", "b,Second,1,5,yes,8 9,1 = no | 5 = yes"))
  expect_equal(read_codebook(yaml), read_codebook(csv))
  expect_error(read_codebook(local_file("items: [a, b]", ".yml")),
    class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item,labels", "a,never or always"))), "1 = never",
    class = "softsieve_error_codebook")
})

test_that("files that are not what they are called, and columns that are no items, are named", {
  no_sheet <- local_file("PK\003\004 no sheet", ".xlsx")
  expect_error(read_responses(no_sheet), class = "softsieve_error_reader")
  expect_error(read_responses(local_file("{\"a\": 1", ".jsonl")), class = "softsieve_error_reader")
  expect_error(read_responses(local_file("{\"a\": [1, 2]}", ".jsonl")),
    class = "softsieve_error_reader")
  stray <- read_responses(local_file(c("a,b", "1,2", "\"4,5\",3", "2,1", "3,3", "5,4", "4,4")))
  expect_match(attr(stray, "reading")$text[1], "Column a stays text because of \"4,5\"")
  expect_error(questionnaire(stray), "decimal comma", class = "softsieve_error_text_in_item")
  set.seed(1)
  wide <- data.frame(a = seq_len(10001) / 2, b = sample(5, 10001, TRUE))
  q <- questionnaire(wide)
  expect_match(q$findings$text[q$findings$code == "many_answers"], "a has 10,001 different answers")
  parts <- questionnaire(data.frame(a = c(1, 2.5, 3), b = c(2, 1, 4)),
    codebook = data.frame(item = c("a", "b"), lowest = 1, highest = 5))
  expect_identical(parts$findings$item[parts$findings$code == "fractions"], "a")
})
