# Reading answers and codebooks, and the bad files people really have.

test_that("the delimiter and the decimal mark settle the same table", {
  comma <- read_responses(local_file(c("id,a,b", "007,1.5,2", "008,3,NA")))
  semicolon <- read_responses(local_file(c("id;a;b", "007;1,5;2", "008;3;")))
  tab <- read_responses(local_file(c("id\ta\tb", "007\t1.5\t2", "008\t3\t")))
  expect_equal(comma, semicolon, ignore_attr = TRUE)
  expect_equal(comma, tab, ignore_attr = TRUE)
  expect_match(attr(semicolon, "reading")$text,
    "split at semicolon, UTF-8, decimal comma; 2 people in 3 columns")
  expect_identical(comma$id, c("007", "008")) # leading zeros are part of an id
  expect_identical(comma$a, c(1.5, 3))
  expect_identical(comma$b, c(2, NA))
})

test_that("a decimal comma inside a comma file that is quoted does not split cells", {
  data <- read_responses(local_file(c("a,b", "\"1,5\",2", "\"2,5\",3")), decimal = ",")
  expect_identical(data$a, c(1.5, 2.5))
})

test_that("Latin-1 text and a byte order mark are read", {
  file <- withr::local_tempfile(fileext = ".csv")
  writeBin(
    c(charToRaw("caf"), as.raw(0xe9), charToRaw(",a\nS"), as.raw(0xfc), charToRaw("d,1\n")),
    file)
  data <- read_responses(file, encoding = "latin1")
  expect_identical(names(data)[1], "caf\u00e9")
  expect_identical(data[[1]], "S\u00fcd")
  marked <- withr::local_tempfile(fileext = ".csv")
  writeBin(c(as.raw(c(0xef, 0xbb, 0xbf)), charToRaw("a,b\n1,2\n")), marked)
  expect_named(read_responses(marked), c("a", "b"))
})

test_that("files that are not there, empty, or a header alone are told apart", {
  expect_error(read_responses("no-such-file.csv"), "no-such-file.csv",
    class = "softsieve_error_file_missing")
  expect_error(read_responses(withr::local_tempdir()), "is a folder",
    class = "softsieve_error_file_missing")
  empty <- withr::local_tempfile()
  file.create(empty)
  expect_error(read_responses(empty), "0 bytes", class = "softsieve_error_file_empty")
  expect_error(read_responses(local_file("a,b,c")), "header of 3 columns",
    class = "softsieve_error_file_empty")
})

test_that("ragged lines and doubled or absent names are named", {
  expect_error(read_responses(local_file(c("a,b", "1,2", "1", "1,2,3"))),
    class = "softsieve_error_ragged")
  expect_error(read_responses(local_file(c("a,b,a,c,b", "1,2,3,4,5"))), "a and b more than once",
    class = "softsieve_error_duplicate_names")
  expect_error(read_responses(local_file(c("a,,c", "1,2,3"))), "column 2",
    class = "softsieve_error_duplicate_names")
})

test_that("a codebook takes its words in the forms people write", {
  book <- read_codebook(local_file(c("item,wording,lowest,highest,reversed,missing_codes",
    "a,First,1,5,Yes,9", "b,Second,1,5,,\"8;9\"", "c,Third,0,10,no,-1 99")))
  expect_identical(book$reversed, c(TRUE, FALSE, FALSE))
  expect_identical(book$missing_codes, list(9, c(8, 9), c(-1, 99)))
  expect_identical(book$scale, rep(NA_character_, 3))
})

test_that("a codebook that cannot be right is refused with the culprit", {
  expect_error(read_codebook(local_file(c("name,wording", "a,First"))), "column `item`",
    class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item,wordings", "a,First"))), "wording",
    class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item,lowest,highest", "a,1,5", "b,5,1"))),
    "Not so for: b", class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item,reversed", "a,yes"))), "Missing for: a",
    class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item,reversed", "a,maybe"))), "maybe",
    class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item,missing_codes", "a,none"))), "none",
    class = "softsieve_error_codebook")
  expect_error(read_codebook(local_file(c("item", "a", "b", "a"))), "More than once: a",
    class = "softsieve_error_duplicate_names")
})

test_that("the demo files and the data sets are the same", {
  folder <- system.file("extdata", package = "softsieve")
  expect_equal(read_responses(file.path(folder, "repair_cafe_answers.csv")), repair_cafe,
    ignore_attr = TRUE)
  expect_equal(read_codebook(file.path(folder, "repair_cafe_codebook.csv")), repair_cafe_codebook,
    ignore_attr = TRUE)
})

test_that("tables are written whole, neutral for spreadsheets, or not at all", {
  file <- withr::local_tempfile(fileext = ".csv")
  write_table(data.frame(text = c("=1+1", "@x", "plain", NA), number = c(-1, 2, NA, 4)), file)
  expect_identical(readLines(file), c("text,number", "'=1+1,-1", "'@x,2", "plain,", ",4"))
  expect_error(write_table(data.frame(a = 1), file.path(tempdir(), "no-such-folder", "a.csv")),
    "no-such-folder", class = "softsieve_error_unwritable")
  expect_length(list.files(dirname(file), "^[.]softsieve-", all.files = TRUE), 0)
})

test_that("marks of numbers are found from the columns, and given ones win", {
  marks <- function(...) {
    data <- list(...)
    m <- softsieve:::settle_marks(data, NULL, NULL)
    c(m$decimal, m$thousands)
  }
  expect_identical(marks(a = c("1,5", "2,25", "3")), c(",", ""))
  expect_identical(marks(a = c("1.5", "2.25", "3"), b = c("1,5", "2,5", "x")), c(".", ""))
  expect_identical(marks(a = c("1.234,5", "2")), c(",", "."))
  expect_identical(marks(a = c("1,234.5", "2")), c(".", ","))
  expect_identical(
    marks(a = c("1", "2", "3", "4", "5", "4,5")),
    c(".", "")) # one stray cell is no decimal comma
  expect_identical(marks(a = c(NA, NA)), c(".", ""))
  file <- local_file(c("a;b", "1,5;1.000", "2,5;2.000"))
  expect_identical(
    read_responses(file)$b,
    c(1, 2)) # a point there, too, but commas are not a fifth of it
  given <- read_responses(file, decimal = ",", thousands = ".")
  expect_identical(given$a, c(1.5, 2.5))
  expect_identical(given$b, c(1000, 2000))
  spaced <- read_responses(local_file(c("a;b", "1 234,5;1", "2 000,0;2")), decimal = ",",
    thousands = " ")
  expect_identical(spaced$a, c(1234.5, 2000))
})

test_that("delimiters, empty lines and quoted line breaks are taken as they are meant", {
  expect_identical(softsieve:::find_delimiter(c("a|b|c", "1|2|3")), "|")
  expect_identical(softsieve:::find_delimiter(c("a;b", "1,5;2", "2,5;3")), ";")
  expect_identical(softsieve:::find_delimiter("single"), ",")
  quoted <- read_responses(local_file(c("id,text,a", "1,\"two", "lines, one cell\",3",
    "2,plain,4")))
  expect_identical(quoted$text[1], "two\nlines, one cell")
  expect_identical(quoted$a, c(3, 4))
  expect_identical(read_responses(local_file(c("a", "1", "2")))$a, c(1, 2))
})

test_that("UTF-16 as spreadsheets write it is read", {
  file <- withr::local_tempfile(fileext = ".csv")
  bytes <- iconv("caf\u00e9\ta\nM\u00fchle\t3\n", "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]]
  writeBin(c(as.raw(c(0xff, 0xfe)), bytes), file)
  data <- read_responses(file)
  expect_named(data, c("caf\u00e9", "a"))
  expect_identical(data[[1]], "M\u00fchle")
  expect_identical(data$a, 3)
  expect_match(attr(data, "reading")$text, "tab, UTF-16LE")
})

test_that("large plain text is read as all other text is, by a shorter way", {
  skip_if_not_installed("data.table")
  set.seed(3)
  people <- 6000
  draw <- function(x) sample(x, people, replace = TRUE)
  data <- data.frame(id = sprintf("%05d", seq_len(people)),
    large = sprintf("%.0f", 1e11 + seq_len(people)), ids = sprintf("1%0150d", seq_len(people)),
    q1 = draw(c(1:5, NA)), q2 = draw(c(-2:2, NA)), q3 = draw(c("1.5", "2", NA)),
    q4 = draw(c("a", "b c", "")), q5 = draw(c("1", "2", "+3")), q6 = "NA",
    q7 = draw(c("1", "2", "-")), q8 = draw(c("0", "-0", "7")), q9 = 1:4, stringsAsFactors = FALSE)
  lines <- do.call(paste, c(lapply(data, as.character), sep = ";"))
  header <- paste(names(data), collapse = ";")
  # a quote in the header, and it goes the longer way
  quoted <- sub("^id", "\"id\"", header)
  both <- function(lines, ending = "\n", ...) {
    file <- withr::local_tempfile(fileext = ".csv")
    read <- function(header) {
      writeBin(charToRaw(paste0(c(header, lines), ending, collapse = "")), file)
      tryCatch(read_responses(file, ...), softsieve_error = function(e) {
        sub("line [0-9,]+", "line", conditionMessage(e))
      })
    }
    list(read(header), read(quoted))
  }
  plain <- getFromNamespace("read_plain_text", "softsieve")
  same <- function(..., what = NULL) {
    got <- both(...)
    expect_identical(got[[1]], got[[2]], label = what)
    got[[1]]
  }
  file <- local_file(c(header, lines))
  expect_gt(file.size(file), 1e6)
  expect_identical(plain(file, NULL, NULL, "NA")$whole, 4L)
  read <- same(lines)
  expect_identical(read$q1, as.numeric(data$q1))
  expect_identical(read$large[7], 1e11 + 7)
  expect_identical(read$id[3], "00003")
  same(lines, "\r\n")
  expect_type(same(lines, missing = c("NA", "-"))$q7, "double")
  expect_type(same(lines)$q7, "character")
  same(lines, decimal = ",")
  # what is not plain goes the longer way, and ends as it did
  same(c(lines, "", ""), what = "empty lines")
  same(sub("b c", "\"b\"", lines), what = "quotes")
  same(c(lines[1:9], header, lines[-(1:9)]), what = "the header again")
  same(sub("^00007;", "00007 ;", lines), what = "a space")
  expect_match(same(c(lines, "1;2"), what = "a short line"), "line")
  expect_match(same(c(lines, paste0(lines[1], ";9")), what = "a long line"), "line")
  same(sub("^00009", "\u00e9", lines), what = "a letter")
  # wording below the header
  word <- paste(paste("How", names(data)), collapse = ";")
  expect_identical(attr(same(c(word, lines))$q9, "label"), "How q9")
  # wording in a few columns alone is none; numbers for names may come again among numbers
  few <- c("id;b;c;d;e;f", rep("1;2;3;4;5;6", 1e5))
  other <- local_file(c(few[1], "How;Why;3;4;5;6", few[-1]))
  expect_identical(nrow(read_responses(other)), 100001L)
  numbers <- local_file(c("1;2;3", rep("4;5;6", 2e5), "1;2;3", "4;5;6"))
  expect_identical(nrow(read_responses(numbers)), 200001L)
})

test_that("a file that is called as R calls something else is that file", {
  withr::local_dir(withr::local_tempdir())
  answers <- rep("1;2;3", 2e5)
  for (name in c("stdin", "clipboard", "http:")) {
    writeBin(charToRaw("a,b\n1,2\n3,4\n"), file.path(".", name))
    expect_identical(read_responses(name)$b, c(2, 4), label = name)
    writeBin(charToRaw(paste(c("a;b;c", answers, ""), collapse = "\n")), file.path(".", name))
    expect_identical(dim(read_responses(name)), c(200000L, 3L), label = name)
  }
})
