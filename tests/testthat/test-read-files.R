# Files as they come: no line is lost, nothing that is read opens anything else, and what is written
# is whole.

bytes_file <- function(bytes, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  writeBin(bytes, file)
  file
}

test_that(
  "an open quote is an error that names the line, and a cell over several lines a caution",
  {
    lines <- readLines(system.file("extdata", "repair_cafe_answers.csv", package = "softsieve"))
    open <- lines
    open[400] <- sub("[^,]*$", "\"3", open[400])
    expect_error(read_responses(local_file(open)),
      "841 lines, of which 398 were read as people; from line 400",
      class = "softsieve_error_ragged")
    open <- lines
    open[77] <- sub("[^,]*$", "\"3", open[77])
    expect_error(read_responses(local_file(open)), "from line 77", class = "softsieve_error_ragged")
    last <- c(lines[-841], sub("[^,]*$", "\"3", lines[841]))
    expect_s3_class(try(read_responses(local_file(last)), silent = TRUE), c("try-error", "tbl_df"))
    note <- read_responses(local_file(c("a,b", "1,\"two", "lines\"", "3,4")))
    expect_identical(note$b, c("two\nlines", "4"))
    found <- attr(note, "reading")
    expect_match(found$text[found$code == "line_ends_in_cells"], "line 2")
    expect_identical(
      nrow(read_responses(local_file(c("a,b", "1,2", "", "3,4", "")))),
      2L) # empty lines are no people
    expect_error(read_responses(local_file("\"")), class = "softsieve_error_file_empty")
    set.seed(1) # bytes of all kinds end in a table or in an error of ours
    for (i in 1:40) {
      file <- bytes_file(as.raw(sample(c(1:255, rep(c(10, 34, 44), 20)), 2000, replace = TRUE)))
      expect_error(tryCatch(read_responses(file), softsieve_error = function(e) NULL), NA)
    }
  })

test_that(
  "bytes that an encoding does not have are named, and DOS code pages are among the guesses",
  {
    file <- bytes_file(charToRaw("a,b\n1,2\n3\x81,4\n"))
    expect_identical(read_responses(file)$a[2], "3\u00fc")
    expect_match(attr(read_responses(file), "reading")$text, "CP850 \\(guessed\\)", all = FALSE)
    expect_error(read_responses(file, encoding = "windows-1252"), "line 3 cannot be decoded",
      class = "softsieve_error_encoding")
    expect_error(read_responses(file, encoding = "klingon"), class = "softsieve_error_argument")
    expect_identical(read_responses(bytes_file(charToRaw("a,b\n1,caf\xe9\n")))$b, "caf\u00e9")
    marked <- c(as.raw(c(0xef, 0xbb, 0xbf)), charToRaw("a,b\n1,2\n"))
    expect_named(read_responses(bytes_file(marked)), c("a", "b"))
    wide <- iconv("a,b\n1,\u00e9\n", "UTF-8", "UTF-16LE", toRaw = TRUE)[[1]]
    expect_identical(read_responses(bytes_file(c(as.raw(c(0xff, 0xfe)), wide)))$b, "\u00e9")
    expect_error(read_responses(bytes_file(c(charToRaw("a,b\n1,"), as.raw(0), charToRaw("2\n")))),
      "bytes of 0", class = "softsieve_error_encoding")
  })

test_that("JSON lines are parsed as text: no address, no file, no list is taken for an answer", {
  secret <- local_file("{\"a\": 1}", ".json")
  for (line in c("http://127.0.0.1:9/x", secret, "[1, 2]", "7")) {
    expect_error(read_responses(local_file(c("{\"a\": 1, \"b\": 2}", line), ".jsonl")), "line 2",
      class = "softsieve_error_reader")
  }
  expect_error(
    read_responses(local_file(c("{\"a\": 1, \"b\": [2, 3]}", "{\"a\": 4}"), ".jsonl")),
    "line 1: b holds more", class = "softsieve_error_reader")
  expect_error(read_responses(local_file(c("{\"a\": 1}", "{\"a\": {\"x\": 1}}"), ".jsonl")),
    "line 2: a holds more", class = "softsieve_error_reader")
  expect_error(read_responses(local_file("{\"a\": 1, \"a\": 2}", ".jsonl")), "stands there twice",
    class = "softsieve_error_reader")
  expect_identical(
    read_responses(local_file(c("{\"a\": 1, \"b\": 2}", "{\"a\": null}"), ".jsonl"))$b,
    c(2L, NA))
})

test_that("a YAML codebook has one value for each item", {
  write <- function(...) local_file(c("items:", ...), ".yml", env = parent.frame(2))
  expect_error(read_codebook(write("- {item: a, wording: []}", "- {item: b}")),
    "`wording` must be one value.*\n.*a", class = "softsieve_error_codebook")
  expect_error(
    read_codebook(write("- {item: a}", "- {item: b, reversed: [yes, no], lowest: 1, highest: 5}")),
    "b", class = "softsieve_error_codebook")
  good <- read_codebook(write("- {item: a, lowest: 1, highest: 5}",
    "- {item: b, reversed: yes, lowest: 1, highest: 5}", "- {item: c}"))
  expect_identical(good$reversed, c(FALSE, TRUE, FALSE))
})

test_that(
  "sheets: repeated rows count, empty edges go, and wording below the names is found or said",
  {
    skip_if_not_installed("writexl")
    sheet <- withr::local_tempfile(fileext = ".xlsx")
    d <- data.frame(a = c("I mend", "1", "2", "3", NA), b = c("I save", "4", "5", NA, NA))
    writexl::write_xlsx(d, sheet)
    read <- read_responses(sheet)
    expect_identical(nrow(read), 3L)
    expect_identical(attr(read$b, "label"), "I save")
    expect_identical(as.numeric(read$a), c(1, 2, 3))
    expect_true("wording_row" %in% attr(read, "reading")$code)
    expect_identical(nrow(read_responses(sheet, header_rows = 1)), 4L)
    expect_identical(questionnaire(read)$values$items$wording, c("I mend", "I save"))
    plain <- local_file(c("a,b", "I mend,I save", "1,2", "3,4"))
    expect_identical(nrow(read_responses(plain)), 2L)
    expect_identical(attr(read_responses(plain, header_rows = 2)$a, "label"), "I mend")
    words <- local_file(c("a,b", "yes,no", "no,yes"))
    expect_identical(nrow(read_responses(words)), 2L) # words everywhere are no header
  })

test_that("ODS rows that are written once with a count are that many people", {
  skip_if_not_installed("xml2")
  folder <- withr::local_tempdir()
  cell <- function(x) {
    sprintf(
      paste("<table:table-cell office:value-type=\"float\"",
        "office:value=\"%s\"><text:p>%s</text:p></table:table-cell>"),
      x, x)
  }
  head <- "<table:table-cell office:value-type=\"string\"><text:p>%s</text:p></table:table-cell>"
  rows <- c(
    sprintf("<table:table-row>%s%s</table:table-row>", sprintf(head, "a"), sprintf(head, "b")),
    sprintf("<table:table-row table:number-rows-repeated=\"3\">%s%s</table:table-row>", cell(1),
      cell(2)),
    sprintf("<table:table-row>%s%s</table:table-row>", cell(4), cell(5)),
    "<table:table-row table:number-rows-repeated=\"1048000\"><table:table-cell/></table:table-row>")
  writeLines(
    c(
      paste("<?xml version=\"1.0\"?><office:document-content",
        "xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\""),
      " xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\"",
      " xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\">",
      paste("<office:body><office:spreadsheet><table:table", "table:name=\"S\">"), rows,
      "</table:table></office:spreadsheet></office:body></office:document-content>"),
    file.path(folder, "content.xml"))
  ods <- file.path(folder, "four.ods")
  withr::with_dir(folder, utils::zip(ods, "content.xml", flags = "-q"))
  expect_identical(as.numeric(read_responses(ods)$a), c(1, 1, 1, 4))
})

test_that(
  "codes for no answer, ages and categories are told or turned into items where no codebook is",
  {
    d <- unrelated_answers(200, 6)
    d$q2[1:4] <- -99
    d$q5[1:7] <- 9
    q <- questionnaire(d)
    told <- q$findings[q$findings$code == "likely_missing_code", ]
    expect_match(told$text[told$limit == -99], "^-99 is far .* q2 \\(4 times\\)")
    expect_match(told$text[told$limit == 9], "q5 \\(7 times\\)")
    expect_identical(sum(is.na(questionnaire(d, missing_codes = c(-99, 9))$values$answers)), 11L)
    expect_false(
      "likely_missing_code" %in% questionnaire(d, missing_codes = c(-99, 9))$findings$code)
    expect_false(
      "likely_missing_code" %in%
        questionnaire(transform(unrelated_answers(200, 4),
          q1 = sample(0:10, 200, TRUE)))$findings$code)
    d$age <- sample(18:80, 200, replace = TRUE)
    strange <- questionnaire(d)$findings
    expect_identical(strange$item[strange$code == "unlike_the_others"], "age")
    words <- transform(unrelated_answers(60, 3),
      q3 = ifelse(q3 == 5, "do not know", as.character(q3)))
    expect_error(questionnaire(words), "missing_codes", class = "softsieve_error_text_in_item")
    said <- questionnaire(words, missing_codes = "do not know")
    expect_match(said$findings$text[said$findings$code == "words_as_missing"], "\"do not know\"")
    kinds <- transform(unrelated_answers(60, 3), tool = rep(c("saw", "file", NA), 20))
    split <- questionnaire(kinds, categories = tool)
    expect_identical(colnames(split$values$answers), c("q1", "q2", "q3", "tool_saw"))
    expect_identical(split$values$answers[1:3, "tool_saw"], c(1L, 0L, NA))
    expect_match(split$findings$text[split$findings$code == "categories_split"],
      "of 0 and 1: tool_saw")
  })

test_that("keys can be given without a codebook", {
  d <- unrelated_answers(80, 4)
  q <- questionnaire(d, reversed = c(q2, q4), ends = c(1, 5))
  expect_equal(q$values$answers[, "q2"], 6 - d$q2)
  expect_identical(q$settings$ends_by, "codebook")
  narrow <- questionnaire(transform(d, q2 = pmin(q2, 4)), reversed = q2)
  expect_match(narrow$findings$text[narrow$findings$code == "turned_by_answers"],
    "q2 was reverse-scored between 1 and 4")
  expect_error(questionnaire(d, ends = c(1, 3)), "Outside", class = "softsieve_error_out_of_range")
  expect_error(questionnaire(d, ends = 5), class = "softsieve_error_argument")
  expect_error(questionnaire(d, items = q1:q3, reversed = q4), "No items: q4",
    class = "softsieve_error_items")
})

test_that("words that match no label show the labels there are", {
  d <- data.frame(a = c("never", "often", "offten"), b = 1:3)
  codebook <- tibble::tibble(item = c("a", "b"), labels = c("1 = never | 2 = often", NA))
  expect_error(questionnaire(d, codebook = codebook), "labels of a are: \"never\" and \"often\"",
    class = "softsieve_error_text_in_item")
})

test_that("matrices as people have them are understood, or answered with the right hint", {
  r <- known_correlations()
  dimnames(r) <- list(paste0("i", 1:9), paste0("i", 1:9))
  same <- function(x, ...) expect_equal(correlate_items(x, n = 200, ...)$values$correlations, r)
  lower <- upper <- r
  lower[upper.tri(r)] <- NA
  upper[lower.tri(r)] <- 0
  same(lower)
  same(upper)
  same(as.data.frame(r))
  same(cbind(item = rownames(r), as.data.frame(lower)))
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(r, file, row.names = FALSE)
  same(read_responses(file))
  expect_true("triangle_mirrored" %in% correlate_items(lower, n = 200)$findings$code)
  expect_error(correlate_items(as.data.frame(r)), "number of people",
    class = "softsieve_error_matrix")
  expect_error(correlate_items(r * 4, n = 200), "kind = \"covariance\"",
    class = "softsieve_error_matrix")
  sds <- seq(.5, 2.5, length.out = 9)
  given <- correlate_items(r, n = 200, sds = sds, means = 1:9)
  whole <- correlate_items(r * (sds %o% sds), n = 200, kind = "covariance")
  expect_equal(given$values$covariances, whole$values$covariances)
  expect_equal(given$values$items$mean, 1:9)
  expect_equal(extract_factors(given, 2, analyse = "covariances")$values$raw_loadings,
    extract_factors(whole, 2)$values$raw_loadings)
  expect_error(correlate_items(r, n = 200, sds = 1:3), "one number for each item",
    class = "softsieve_error_argument")
  for (bad in list(r * Inf, r * NA, r[, 1:3], r[1, 1, drop = FALSE], matrix("a", 3, 3))) {
    expect_error(correlate_items(bad, n = 200), class = "softsieve_error_matrix")
    expect_error(correlate_items(bad, n = 200, kind = "covariance"), class = "softsieve_error")
  }
})

test_that("a writer writes what the ending says, or refuses", {
  q <- motives()
  for (ending in c("csv", "tsv", "json", "xlsx", "parquet", "docx")) {
    needs <- c(xlsx = "writexl", parquet = "nanoparquet", docx = "flextable")[ending]
    if (!is.na(needs) && !requireNamespace(needs, quietly = TRUE)) next
    file <- withr::local_tempfile(fileext = paste0(".", ending))
    write_table(form_scales(q), file)
    start <- readBin(file, "raw", 4L)
    if (ending %in% c("xlsx", "docx")) expect_identical(start, as.raw(c(0x50, 0x4b, 3, 4)))
    if (ending == "parquet") expect_identical(start, charToRaw("PAR1"))
    if (ending == "tsv") expect_true(grepl("\t", readLines(file, 1)))
  }
  expect_error(write_table(q, "scores.ods"), "\\.xlsx", class = "softsieve_error_ending")
  expect_error(write_table(q, withr::local_tempfile(fileext = ".docx")), "up to 300 rows",
    class = "softsieve_error_too_large")
  study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
  expect_error(write_study(study, "study.json"), "\\.yml or \\.yaml",
    class = "softsieve_error_ending")
})

test_that("what does not reach the disk whole is an error and leaves nothing", {
  folder <- withr::local_tempdir()
  target <- file.path(folder, "a.csv")
  broken <- function(write) {
    expect_error(softsieve:::write_whole(target, write), "written whole",
      class = "softsieve_error_unwritable")
  }
  broken(function(path) stop("No space left on device"))
  broken(function(path) file.create(path)) # nothing arrived
  expect_error(softsieve:::write_whole(file.path(folder, "a.png"), function(path) {
    writeBin(as.raw(1:100), path)
  }), class = "softsieve_error_unwritable")
  expect_error(softsieve:::write_whole(file.path(folder, "a.xlsx"), function(path) {
    writeBin(as.raw(1:100), path)
  }), class = "softsieve_error_unwritable")
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), character())
  skip_if_not(file.exists("/dev/full"))
  expect_error(suppressWarnings(softsieve:::write_text(rep("x", 1e6), "/dev/full")))
})

test_that("two runs of one study write the same bytes, with a date only where one is asked for", {
  skip_on_cran()
  file <- file.path(withr::local_tempdir(), "study.yml")
  file.copy(
    system.file("extdata", c("repair_cafe_answers.csv", "repair_cafe_codebook.csv"),
      package = "softsieve"),
    dirname(file))
  writeLines(
    c(
      paste("answers: {file: repair_cafe_answers.csv, id: person, header_rows: 1,",
        "missing_codes: [none, 77]}"),
      "codebook: repair_cafe_codebook.csv", "date: 3 May", "factors: {replicates: 50, starts: 10}",
      "scales: {replicates: 60}", "seed: 3"),
    file)
  out <- file.path(dirname(file), c("one", "two"))
  study <- run_study(file)
  write_results(study, out[1])
  Sys.sleep(1.1)
  write_results(run_study(file), out[2])
  expect_identical(list.files(out[1]), list.files(out[2]))
  expect_identical(unname(tools::md5sum(list.files(out[1], full.names = TRUE))),
    unname(tools::md5sum(list.files(out[2], full.names = TRUE))))
  page <- page_text(file.path(out[1], "report.html"))
  expect_true(grepl("3 May", page))
  expect_false(grepl(format(Sys.Date()), page, fixed = TRUE))
  pattern <- utils::read.csv(file.path(out[1], "pattern.csv"))
  expect_false(anyNA(pattern[c("F1", "F2", "F3", "F4")]))
  between <- utils::read.csv(file.path(out[1], "factor_correlations.csv"))
  expect_equal(as.matrix(between[-1]), study$values$solution$values$factor_correlations,
    ignore_attr = TRUE)
})

test_that("no address of a registry stands in the project's files", {
  root <- testthat::test_path("..", "..")
  skip_if_not(file.exists(file.path(root, "tools", "setup.R")))
  expect_false(any(grepl("https?://", readLines(file.path(root, "tools", "setup.R")))))
})
