# Where blocks come from: each kind of source gives what the data frame gives.

book <- function() repair_cafe_codebook

cells_of <- function(source, ...) {
  rowSums(tabulate_items(source, codebook = repair_cafe_codebook, ...)$values$cells)
}

# A file of the demo's answers, written by `write`.
demo_file <- function(ext = ".csv", write = readr::write_csv, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ext, .local_envir = env)
  write(repair_cafe, file)
  file
}

expected <- function() cells_of(repair_cafe)

test_that("a column that holds a matrix or a list is refused, in the first block and in others", {
  data <- as.data.frame(repair_cafe[3:10])
  for (z in list(as.matrix(repair_cafe[11:12]), as.list(repair_cafe$m1))) {
    data$z <- z
    for (rows in c(100, 1e5)) {
      expect_error(tabulate_items(data, ends = c(1, 5), rows = rows), "Not so: z",
        class = "softsieve_error_items")
    }
  }
})

test_that("text files: delimiters, marks, encodings, line ends, packing, several at once", {
  expect_identical(cells_of(demo_file(), rows = 50), expected())
  expect_identical(cells_of(demo_file(write = readr::write_csv2)), expected())
  expect_identical(cells_of(demo_file(".tsv", readr::write_tsv), delimiter = "\t"), expected())
  expect_identical(cells_of(demo_file(".csv.gz")), expected())
  returns <- demo_file()
  text <- readLines(returns)
  writeBin(charToRaw(paste0(text, collapse = "\r\n")), returns)
  expect_identical(cells_of(returns, rows = 50), expected())
  writeBin(charToRaw(paste0(text, collapse = "\r")), returns)
  expect_identical(cells_of(returns, rows = 50), expected())
  folder <- withr::local_tempdir()
  readr::write_csv(repair_cafe[1:300, ], file.path(folder, "a.csv"))
  readr::write_csv(repair_cafe[301:840, ], file.path(folder, "b.csv"))
  expect_identical(cells_of(file.path(folder, "*.csv"), rows = 50), expected())
  readr::write_csv(repair_cafe[301:840, 5:1], file.path(folder, "b.csv"))
  expect_error(cells_of(file.path(folder, "*.csv")), class = "softsieve_error_items")
  expect_error(cells_of(file.path(folder, "*.tsv")), class = "softsieve_error_file_missing")
  latin <- demo_file()
  data <- repair_cafe
  data$cafe <- "Caf\u00e9"
  readr::write_csv(data, latin)
  text <- paste(readLines(latin, encoding = "UTF-8"), collapse = "\n")
  bytes <- iconv(text, "UTF-8", "latin1", toRaw = TRUE)
  writeBin(bytes[[1]], latin)
  expect_identical(unique(sample_people(latin, 9, seed = 1)$cafe), "Caf\u00e9")
  expect_identical(cells_of(latin, encoding = "latin1"), expected())
})

test_that("quoted cells over lines, blank lines and repeated headers are taken for what they are", {
  data <- repair_cafe
  data$cafe[c(3, 120, 121)] <- c("Mill\nLane", "say \"hi\"", "a,b")
  file <- withr::local_tempfile(fileext = ".csv")
  readr::write_csv(data, file)
  expect_identical(cells_of(file, rows = 40), expected())
  expect_identical(sample_people(file, 840, seed = 1, rows = 40)$cafe, data$cafe)
  lines <- readLines(demo_file())
  writeLines(c(lines[1:100], "", lines[101:400], lines[1], lines[401:841], ""), file)
  expect_identical(cells_of(file, rows = 40), expected())
})

test_that("a packed file that was cut off is told, wherever it was cut", {
  file <- withr::local_tempfile(fileext = ".csv.gz")
  whole <- demo_file()
  text <- readLines(whole)
  expect_identical(cells_of(demo_file(".csv.gz"), rows = 50), expected())
  packed <- gzfile(file, "wb")
  writeLines(text[1:500], packed)
  close(packed)
  bytes <- readBin(file, "raw", 1e6)
  writeBin(head(bytes, -12), file)
  expect_error(cells_of(file, rows = 50), class = "softsieve_error")
  bytes[length(bytes) - 6] <- xor(bytes[length(bytes) - 6], as.raw(1)) # its sum
  writeBin(bytes, file)
  expect_error(cells_of(file, rows = 50), class = "softsieve_error_reader")
})

test_that("no line is lost: open quotes and ragged lines are errors", {
  lines <- readLines(demo_file())
  file <- withr::local_tempfile(fileext = ".csv")
  open <- lines
  open[400] <- sub("[0-9]$", "\"3", open[400])
  writeLines(open, file)
  expect_error(cells_of(file, rows = 50), class = "softsieve_error_ragged")
  ragged <- lines
  ragged[777] <- paste0(ragged[777], ",1")
  writeLines(ragged, file)
  expect_error(cells_of(file, rows = 50), "777|776", class = "softsieve_error_ragged")
  ragged[777] <- "1,2"
  writeLines(ragged, file)
  expect_error(cells_of(file, rows = 50), class = "softsieve_error_ragged")
  writeLines(c(sub(",", "_", lines[1]), lines[-1]), file) # a header of one cell less
  expect_error(sample_people(file, 5, seed = 1), class = "softsieve_error_ragged")
  writeLines(lines[1], file)
  expect_error(cells_of(file), class = "softsieve_error_no_answers")
  writeBin(as.raw(c(0x61, 0x2c, 0x62, 0x0a, 0x31, 0x2c, 0, 0x0a)), file)
  expect_error(cells_of(file), class = "softsieve_error_encoding")
})

test_that("no text is a command or an address to the reader", {
  file <- withr::local_tempfile(fileext = ".csv")
  made <- withr::local_tempfile()
  # one line, which some readers would run, or fetch
  touch <- sprintf("touch %s", made)
  for (line in c(touch, "http://127.0.0.1:9/x y", paste("|", touch))) {
    writeLines(c("a", rep("1", 40), line), file)
    for (rows in c(10, 40)) try(tabulate_items(file, items = "a", rows = rows), silent = TRUE)
    writeLines(line, file)
    try(tabulate_items(file), silent = TRUE)
  }
  expect_false(file.exists(made))
})

test_that("functions, queries, tables, Parquet and Arrow streams give the same", {
  blocks <- split(repair_cafe, rep(1:9, each = 100, length.out = 840))
  at <- 0
  give <- function() {
    at <<- at + 1
    if (at > 9) NULL else blocks[[at]]
  }
  expect_identical(cells_of(give), expected())
  expect_error(tabulate_items(function() 3), class = "softsieve_error_source")
  expect_error(tabulate_items(function() NULL), class = "softsieve_error")
  skip_if_not_installed("nanoparquet")
  parquet <- withr::local_tempfile(fileext = ".parquet")
  nanoparquet::write_parquet(repair_cafe, parquet)
  expect_identical(cells_of(parquet, rows = 111), expected())
  parts <- file.path(withr::local_tempdir(), sprintf("part%d.parquet", 1:3))
  for (i in 1:3) nanoparquet::write_parquet(repair_cafe[280 * (i - 1) + 1:280, ], parts[i])
  expect_identical(cells_of(parts, rows = 111), expected())
  # a file may come twice, and one may hold nobody
  expect_identical(cells_of(parts[c(1, 1, 3)]), cells_of(repair_cafe[c(1:280, 1:280, 561:840), ]))
  empty <- file.path(dirname(parts[1]), "part0.parquet")
  nanoparquet::write_parquet(repair_cafe[0, ], empty)
  expect_identical(cells_of(c(empty, parts[1:2], empty, parts[3]), rows = 70), expected())
  expect_error(cells_of(empty), class = "softsieve_error_no_answers")
  # what breaks a block says where it is; other columns, or a damaged file, are named
  odd <- file.path(dirname(parts[1]), "odd.parquet")
  nanoparquet::write_parquet(transform(repair_cafe[1:280, ], m1 = "a lot"), odd)
  said <- expect_error(cells_of(c(parts[1], odd)), "m1", class = "softsieve_error_text_in_item")
  expect_match(conditionMessage(said), "Between person 281 and person 560 of the source.",
    fixed = TRUE)
  expect_identical(said$call[[1]], quote(tabulate_items))
  nanoparquet::write_parquet(repair_cafe[1:280, c("person", "cafe")], odd)
  expect_error(cells_of(c(parts[1], odd)), "m1 is missing", class = "softsieve_error_reader")
  whole <- readBin(parts[2], "raw", 1e6)
  writeBin(utils::head(whole, -20), parts[2])
  expect_error(cells_of(parts), "part2.parquet", class = "softsieve_error_reader")
  writeBin(charToRaw("PAR1 and no more PAR1"), parquet)
  expect_error(cells_of(parquet), class = "softsieve_error")
  skip_if_not_installed("nanoarrow")
  stream <- nanoarrow::as_nanoarrow_array_stream(as.data.frame(repair_cafe))
  expect_identical(cells_of(stream), expected())
})

test_that("Parquet hands over whole numbers of any size and other columns as they are", {
  skip_if_not_installed("nanoparquet")
  set.seed(3)
  n <- 9000
  f <- rnorm(n)
  answers <- function(lowest) {
    x <- lowest + findInterval(f + rnorm(n), c(-1, 0, 1))
    replace(x, sample(n, 500), NA)
  }
  data <- tibble::tibble(a = as.integer(answers(1)), b = as.integer(answers(-2)),
    c = as.integer(answers(2147483644)), d = answers(0),
    e = as.integer(round(1e5 * answers(0) + f)),
    group = sample(c("x", "y", NA), n, TRUE), extra = sample(n))
  files <- file.path(withr::local_tempdir(), sprintf("part%d.parquet", 1:2))
  half <- seq_len(n / 2)
  nanoparquet::write_parquet(data[half, ], files[1])
  nanoparquet::write_parquet(data[-half, ], files[2])
  count <- function(source, ...) {
    suppressWarnings(tabulate_items(source, rows = n / 2, ...))$values
  }
  expect_identical(count(files, items = a:e, group = "group"),
    count(data, items = a:e, group = "group"))
  expect_identical(count(files, items = c("c", "e")), count(data, items = c("c", "e")))
  # (all columns are read another way than some)
  expect_identical(count(files, items = a:e, group = "group", weight = "extra"),
    count(data, items = a:e, group = "group", weight = "extra"))
  # one group holds more people than are counted at a time, and the tables are those of table()
  whole <- count(data, items = c("a", "b"), random_groups = 1)
  expect_equal(whole$cells[1:16], as.vector(t(table(data$a, data$b))))
  expect_equal(whole$cells[17:20], as.vector(table(data$a)))
})

test_that("SQLite: tables and queries, names that need quotes, what is not there, what breaks", {
  skip_if_not_installed("RSQLite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  name <- "answers\"; DROP TABLE x; --"
  DBI::dbWriteTable(connection, name, as.data.frame(repair_cafe))
  table <- database_table(connection, name)
  expect_identical(cells_of(table, rows = 100), expected())
  expect_output(print(table), "DROP TABLE")
  expect_identical(nrow(sample_people(table, 10, seed = 1)), 10L)
  sql <- paste("SELECT * FROM", DBI::dbQuoteIdentifier(connection, name))
  result <- DBI::dbSendQuery(connection, sql)
  expect_identical(cells_of(result, rows = 100), expected())
  DBI::dbClearResult(result)
  expect_error(database_table(connection, "nothing"), class = "softsieve_error_source")
  expect_error(database_table("x", "nothing"), class = "softsieve_error_source")
  DBI::dbWriteTable(connection, "other", data.frame(a = 1, b = 2))
  expect_error(cells_of(database_table(connection, "other")), class = "softsieve_error_items")
  DBI::dbDisconnect(connection)
  expect_error(cells_of(table), class = "softsieve_error_source")
})

test_that("a toy source serves whoever asks for blocks, by its spec alone", {
  closed <- 0
  local_entry("SOURCES", "toy", label = "toys", after = 0,
    takes = function(x) identical(x, "a toy"), package = NULL,
    open = function(x, asked, call) {
      left <- 3
      list(columns = names(repair_cafe), take = function() {
        left <<- left - 1
        if (left >= 0) repair_cafe[seq(1, 280) + 280 * (2 - left), asked$columns]
      }, close = function() closed <<- closed + 1)
    })
  expect_identical(cells_of("a toy"), expected())
  expect_identical(nrow(sample_people("a toy", 50, seed = 1)), 50L)
  expect_identical(closed, 2)
  expect_error(tabulate_items(3), "toys", class = "softsieve_error_source")
})

test_that("a source that breaks in the middle says how far it came", {
  at <- 0
  give <- function() {
    at <<- at + 1
    if (at == 3) stop("the line went dead")
    repair_cafe[1:100, ]
  }
  expect_error(tabulate_items(give, codebook = book()), "After 200 people",
    class = "softsieve_error_source")
  expect_error(tabulate_items(3), class = "softsieve_error_source")
})

test_that("scores of everybody go into a file, a table, or nowhere", {
  solution <- solution4()
  whole <- as.data.frame(as_tibble(score_respondents(solution, motives())))
  folder <- withr::local_tempdir()
  file <- file.path(folder, "scores.csv")
  told <- score_into(solution, repair_cafe, into = file, columns = person, rows = 100)
  expect_identical(told$values$people, 840)
  expect_identical(told$values$scored, sum(!is.na(whole$F4)) + 0)
  written <- as.data.frame(readr::read_csv(file, show_col_types = FALSE))
  expect_identical(written$person, whole$person)
  expect_equal(written[paste0("F", 1:4)], whole[paste0("F", 1:4)], tolerance = 1e-14)
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "scores.csv")
  # broken off, and resumed
  at <- 0
  broken <- TRUE
  give <- function() {
    at <<- at + 1
    if (at == 6 && broken) stop("the line went dead")
    if (at > 9) NULL else repair_cafe[seq(100 * at - 99, min(840, 100 * at)), ]
  }
  again <- file.path(folder, "again.csv")
  expect_error(score_into(solution, give, into = again, columns = person),
    class = "softsieve_error_source")
  expect_false(file.exists(again))
  at <- 0
  broken <- FALSE
  told <- score_into(solution, give, into = again, columns = person)
  expect_identical(told$values$resumed, 500)
  expect_identical(told$values$scored, sum(!is.na(whole$F4)) + 0)
  expect_identical(readLines(again), readLines(file))
  expect_output(print(told), "The first 500")
  # not of fewer people than were written
  at <- 0
  broken <- TRUE
  expect_error(score_into(solution, give, into = again), class = "softsieve_error_source")
  expect_error(score_into(solution, repair_cafe[1:200, ], into = again, rows = 100),
    class = "softsieve_error_source")
  expect_identical(readLines(again), readLines(file))
  # not of other scores: these begin anew
  at <- 0
  broken <- TRUE
  second <- file.path(folder, "second.csv")
  expect_error(score_into(solution, give, into = second), class = "softsieve_error_source")
  at <- 0
  broken <- FALSE
  told <- score_into(solution, give, into = second, method = "bartlett")
  expect_identical(told$values$resumed, 0)
  expect_identical(nrow(readr::read_csv(second, show_col_types = FALSE)), 840L)
  # not of other answers
  at <- 0
  broken <- TRUE
  third <- file.path(folder, "third.csv")
  expect_error(score_into(solution, give, into = third), class = "softsieve_error_source")
  other <- transform(repair_cafe, m1 = rev(m1))
  expect_error(score_into(solution, other, into = third, rows = 100),
    class = "softsieve_error_source")
  expect_identical(list.files(folder, "third", all.files = TRUE), character())
  skip_if_not_installed("RSQLite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(connection))
  score_into(solution, repair_cafe, into = database_table(connection, "scores", new = TRUE),
    rows = 100)
  expect_equal(DBI::dbReadTable(connection, "scores")$F1, whole$F1, tolerance = 1e-14)
  at <- 0
  expect_error(
    score_into(solution, give, into = database_table(connection, "half", new = TRUE)),
    class = "softsieve_error_source")
  expect_false(DBI::dbExistsTable(connection, "half"))
  expect_error(database_table(connection, "scores", new = TRUE), class = "softsieve_error_source")
  expect_error(score_into(solution, repair_cafe, into = database_table(connection, "scores")),
    class = "softsieve_error_source")
})

test_that("scores that need everybody are refused where people come in blocks", {
  solution <- solution4()
  file <- withr::local_tempfile(fileext = ".csv")
  into <- function(...) score_into(solution, repair_cafe, into = file, ...)
  expect_error(into(also = "percentile"), class = "softsieve_error_argument")
  expect_error(into(by = cafe), class = "softsieve_error_argument")
  expect_error(into(units = "own"), class = "softsieve_error_argument")
  expect_error(score_into(form_scales(solution), repair_cafe, into = file, errors = TRUE),
    class = "softsieve_error_argument")
  expect_error(score_into(solution, repair_cafe[1:3], into = file),
    class = "softsieve_error_other_items")
  expect_error(score_into(solution, repair_cafe, into = "scores.docx"),
    class = "softsieve_error_ending")
  expect_false(file.exists(file))
  # what blocks notice is told once: an item that was reverse-scored before, and one that is absent
  odd <- transform(repair_cafe[names(repair_cafe) != "t1"], m1 = ifelse(m1 > 5, NA, 6 - m1))
  odd <- score_into(solution, odd, into = file, rows = 300)
  expect_identical(odd$findings$item[odd$findings$code == "against_key"], "m1")
  expect_identical(odd$findings$item[odd$findings$code == "items_absent"], "t1")
  norms <- score_respondents(solution, motives(), also = "percentile")
  told <- into(also = "percentile", norms = norms, columns = cafe, rows = 200)
  expect_identical(told$values$people, 840)
  expect_true("F1_percentile" %in% names(readr::read_csv(file, show_col_types = FALSE)))
})
