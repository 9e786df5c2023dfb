# The formula of scores: written out in each language, run there, and compared with the scores.

# The scores that R code, a database and a spreadsheet program make of raw answers.
by_r <- function(formula, data) {
  space <- new.env(parent = baseenv())
  space$as.data.frame <- as.data.frame
  eval(parse(text = formula_code(formula, "r")), space)
  space$score_people(data)
}
by_sql <- function(formula, data, table = "answers", ...) {
  skip_if_not_installed("RSQLite")
  base <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  on.exit(DBI::dbDisconnect(base))
  DBI::dbWriteTable(base, table, as.data.frame(data))
  found <- DBI::dbGetQuery(base, formula_code(formula, "sql", data = data, table = table, ...))
  found[setdiff(names(found), names(data))]
}
# Several formulas at once: the program takes seconds to start.
by_spreadsheet <- function(formulas, data) {
  skip_if(!nzchar(Sys.which("soffice")), "no spreadsheet program is here")
  skip_if_not_installed("writexl")
  folder <- withr::local_tempdir()
  first <- seq_len(nrow(data)) + 1L
  answers <- names(data)
  for (name in names(formulas)) {
    of <- lapply(first, function(row) {
      formula_code(formulas[[name]], "spreadsheet", data = data, row = row)
    })
    columns <- do.call(rbind, of)
    for (score in colnames(columns)) {
      data[[paste(name, score)]] <- writexl::xl_formula(columns[, score])
    }
  }
  writexl::write_xlsx(as.data.frame(data), file.path(folder, "answers.xlsx"))
  # formulas are worked out as the file is opened, and all digits are kept
  profile <- file.path(folder, "profile", "user")
  dir.create(profile, recursive = TRUE)
  writeLines(
    c("<?xml version=\"1.0\" encoding=\"UTF-8\"?>",
      "<oor:items xmlns:oor=\"http://openoffice.org/2001/registry\">",
      "<item oor:path=\"/org.openoffice.Office.Calc/Formula/Load\">",
      "<prop oor:name=\"OOXMLRecalcMode\" oor:op=\"fuse\"><value>0</value></prop></item>",
      "</oor:items>"),
    file.path(profile, "registrymodifications.xcu"))
  system2(
    "soffice",
    c(paste0("-env:UserInstallation=file://", file.path(folder, "profile")), "--headless",
      "--convert-to", shQuote("csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,false"),
      "--outdir", folder, file.path(folder, "answers.xlsx")),
    stdout = FALSE,
    stderr = FALSE,
    # R's own would hide the program's libraries from it
    env = "LD_LIBRARY_PATH=")
  found <- utils::read.csv(file.path(folder, "answers.csv"), check.names = FALSE)
  found[setdiff(names(found), answers)]
}
expect_same_scores <- function(found, wanted, label) {
  expect_identical(names(found), names(wanted), label = label)
  for (name in names(wanted)) {
    one <- suppressWarnings(as.numeric(found[[name]]))
    expect_identical(is.na(one), is.na(wanted[[name]]), label = paste(label, name))
    expect_lt(max(abs(one - wanted[[name]]), na.rm = TRUE), 1e-10, label = paste(label, name))
    expect_gt(sum(!is.na(one)), 5, label = paste(label, name))
  }
}

# Raw answers as they come: reversed items, codes for no answer, words beside numbers.
raw_people <- function() {
  d <- repair_cafe[1:60, ]
  d$m2[3] <- 9
  d$t3[4] <- 9
  labels <- names(repair_cafe_codebook$labels[[1]])
  d$m4 <- labels[d$m4]
  d$m4[5] <- paste0(" ", toupper(d$m4[7]))
  d$m4[6] <- "9"
  d
}
small_book <- function() {
  book <- repair_cafe_codebook
  book[book$item %in% c(paste0("m", 1:6), paste0("t", 1:6)), ]
}

test_that("each language gives the scores, of every method, on raw answers with codes and words", {
  book <- small_book()
  q <- questionnaire(repair_cafe[c("person", book$item)], codebook = book, id = person)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  scales <- form_scales(list(mending = paste0("m", 1:6), thrift = paste0("t", 1:6)))
  components <- rotate_factors(extract_components(q, 2), "promax", seed = 1)
  raw <- raw_people()
  asked <- list(regression = list(s, "regression", "none"), bartlett = list(s, "bartlett", "none"),
    correlation_preserving = list(s, "correlation_preserving", "none"),
    anderson_rubin = list(s, "anderson_rubin", "none"),
    component = list(components, "component", "none"),
    unit_length = list(extract_components(q, 2), "unit_length", "none"),
    mean = list(scales, "mean", "own_mean"), sum = list(scales, "sum", "none"),
    prorated = list(scales, "sum", "own_mean"))
  expect_setequal(setdiff(names(asked), "prorated"), names(softsieve:::SCORE_METHODS))
  keyed <- questionnaire(raw[c("person", book$item)], codebook = book, id = person)
  formulas <- wanted <- list()
  for (name in names(asked)) {
    one <- asked[[name]]
    scored <- score_respondents(one[[1]], keyed, one[[2]], missing = one[[3]])
    wanted[[name]] <- as_tibble(scored)[scored$values$factors$factor]
    formulas[[name]] <- score_formula(scored)
    # the same from what the scores came from, where the key is known
    if (!name %in% c("mean", "sum", "prorated")) {
      from <- score_formula(one[[1]], one[[2]])
      expect_equal(from$values$weights, formulas[[name]]$values$weights, label = name)
      expect_equal(from$values$constant, formulas[[name]]$values$constant, label = name)
    }
    expect_same_scores(by_r(formulas[[name]], raw), wanted[[name]], paste("R", name))
    expect_same_scores(by_sql(formulas[[name]], raw), wanted[[name]], paste("SQL", name))
  }
  cells <- by_spreadsheet(formulas, raw)
  for (name in names(asked)) {
    own <- cells[paste(name, names(wanted[[name]]))]
    names(own) <- names(wanted[[name]])
    expect_same_scores(own, wanted[[name]], paste("spreadsheet", name))
  }
})

test_that("the table holds weights and constant of answers as they were given", {
  q <- keep_items(motives(), m1:t6)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  f <- score_formula(s)
  table <- as_tibble(f)
  expect_identical(table$item, c("(constant)", rownames(coef(s))))
  full <- which(stats::complete.cases(q$values$answers))[1:20]
  x <- as.matrix(repair_cafe[full, rownames(coef(s))])
  by_table <- cbind(1, x) %*% as.matrix(table[c("F1", "F2")])
  expect_equal(by_table, as.matrix(predict(s, repair_cafe[full, ])), ignore_attr = TRUE)
  expect_equal(coef(f), as.matrix(table[c("F1", "F2")]), ignore_attr = TRUE)
  # a reversed item's weight has the sign of the answer as it was given
  expect_true(table$F1[table$item == "m4"] * table$F1[table$item == "m1"] < 0 ||
    table$F2[table$item == "m4"] * table$F2[table$item == "m1"] < 0)
  long <- tidy(f)
  expect_equal(long$weight[long$score == "F2"], table$F2[-1])
  expect_equal(long$standardised[long$score == "F1"] / s$values$items$sd,
    table$F1[-1] * ifelse(s$values$items$reversed, -1, 1))
  # a mean of four items, two of them reversed: quarters, and the ends of those turned
  scales <- form_scales(list(a = c("m1", "m2", "m4", "t3")))
  two <- score_formula(score_respondents(scales, q))
  expect_equal(two$values$weights[, 1], c(m1 = .25, m2 = .25, m4 = -.25, t3 = -.25))
  expect_equal(unname(two$values$constant), 3)
  expect_identical(unname(two$values$least), 2)
  expect_null(score_formula(scales, "sum")$values$least)
  expect_identical(unname(score_formula(scales, answered_share = 1)$values$least), 4)
  expect_identical(unname(score_formula(scales, answered_least = 3)$values$least), 3)
})

test_that("names and labels are quoted, and never run", {
  d <- unrelated_answers(40, 4)
  evil <- c("a\"b", "drop'; --", "=1+1", "x\\y")
  names(d) <- evil
  book <- tibble::tibble(item = evil, lowest = 1, highest = 5,
    labels = rep(list(c("it's" = 1, "\"q\"" = 2, "c" = 3, "d" = 4, "e" = 5)), 4))
  words <- d
  words[[1]] <- names(book$labels[[1]])[d[[1]]]
  q <- questionnaire(words, codebook = book)
  scales <- form_scales(stats::setNames(list(evil), "s\"core; --"))
  scored <- score_respondents(scales, q)
  wanted <- as_tibble(scored)["s\"core; --"]
  f <- score_formula(scored)
  expect_same_scores(by_r(f, words), wanted, "R")
  expect_same_scores(by_sql(f, words, table = "t\"; drop"), wanted, "SQL")
  cells <- by_spreadsheet(list(x = f), words)
  expect_equal(cells[[1]], wanted[[1]])
})

test_that("cells, rows and tables are those asked for, and what is missing is told", {
  s <- factor_solution(keep_items(motives(), m1:t6), 2, seed = 1, starts = 3)
  f <- score_formula(s)
  cells <- formula_code(f, "spreadsheet", data = repair_cafe, row = 7)
  expect_named(cells, c("F1", "F2"))
  # person and cafe stand before: m1 is column C
  expect_match(cells[["F1"]], "$C7", fixed = TRUE)
  expect_match(formula_code(f, "spreadsheet", data = repair_cafe)[["F1"]], "$C2", fixed = TRUE)
  wide <- cbind(stats::setNames(repair_cafe[rep(1, 25)], paste0("w", 1:25)), repair_cafe)
  expect_match(formula_code(f, "spreadsheet", data = wide)[["F1"]], "$AB2", fixed = TRUE)
  file <- withr::local_tempfile(fileext = ".csv")
  write_table(repair_cafe, file)
  expect_identical(formula_code(f, "spreadsheet", data = file),
    formula_code(f, "spreadsheet", data = repair_cafe))
  expect_match(formula_code(f, "sql", table = "wave 2"), "FROM \"wave 2\"", fixed = TRUE)
  expect_error(formula_code(f, "spreadsheet"), "must be given", class = "softsieve_error_argument")
  expect_error(formula_code(f, "spreadsheet", data = repair_cafe[1:5]), "Not in the data: m4",
    class = "softsieve_error_other_items")
  expect_error(formula_code(f, "sql", row = 3), "`row` is for spreadsheet",
    class = "softsieve_error_argument")
  expect_error(formula_code(f, "basic"), class = "softsieve_error_argument")
  expect_error(formula_code(s), class = "softsieve_error_class")
  expect_error(formula_code(f, "sql", data = 1), class = "softsieve_error_class")
  # words for 50 items do not fit into a cell
  d <- unrelated_answers(60, 50)
  labels <- stats::setNames(1:5, strrep(letters[1:5], 40))
  book <- tibble::tibble(item = names(d), lowest = 1, highest = 5, labels = rep(list(labels), 50))
  words <- as.data.frame(lapply(d, function(x) names(labels)[x]))
  long <- score_formula(extract_components(questionnaire(words, codebook = book), 2))
  expect_error(formula_code(long, "spreadsheet", data = words), "8,192",
    class = "softsieve_error_argument")
  expect_match(formula_code(long, "spreadsheet", data = d)[["C1"]], "^=IFERROR")
  bare <- factor_solution(correlate_items(d)$values$correlations, 2, n = 60, seed = 1)
  expect_error(score_formula(bare), class = "softsieve_error_units")
  expect_error(score_formula(bare, units = "own"), "no people", class = "softsieve_error_units")
  units <- data.frame(item = names(d), mean = 3, sd = 2)
  given <- score_formula(bare, units = units)
  expect_equal(given$values$weights, given$values$standardised / 2)
  scored <- score_respondents(s, repair_cafe)
  expect_error(score_formula(scored, method = "bartlett"), "must be a solution",
    class = "softsieve_error_argument")
  expect_error(score_formula(3), class = "softsieve_error_class")
})

test_that("words beyond ASCII, names that mean something to R, and data that nobody has seen", {
  set.seed(4)
  said <- c("Übel", "Öde", "Mäßig  gut", "Gut", "ÄUSSERST gut")
  x <- as.data.frame(matrix(sample(5, 240, TRUE), 60) + sample(0:1, 60, TRUE) * 3)
  x[] <- lapply(x, function(v) pmin(v, 5))
  names(x) <- c("deparse.level", "recursive", "a b", "use.names")
  words <- x
  words[] <- lapply(x, function(v) said[v])
  words[[1L]][1L] <- "3" # numbers may stand among words
  book <- data.frame(item = names(x), scale = "all", lowest = 1, highest = 5,
    reversed = c(FALSE, TRUE, FALSE, FALSE),
    labels = paste(1:5, "=", c(said[1:4], "recursive"), collapse = " | "))
  words[] <- lapply(words, function(v) sub("ÄUSSERST gut", "Recursive", v))
  q <- questionnaire(words, codebook = book)
  scales <- form_scales(q)
  formula <- score_formula(scales)
  expected <- suppressMessages(predict(scales, words))[["all"]]
  expect_equal(by_r(formula, words)[["all"]], expected, tolerance = 1e-9)
  expect_equal(by_sql(formula, words)[["all"]], expected, tolerance = 1e-9)
  cells <- by_spreadsheet(list(scores = formula), words[2:20, ])
  expect_equal(cells[["scores all"]], expected[2:20], tolerance = 1e-9)
  skip_if_not_installed("RSQLite")
  base <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  on.exit(DBI::dbDisconnect(base))
  DBI::dbWriteTable(base, "words", words)
  numbers <- as.data.frame(q$values$answers)
  numbers$recursive <- 6 - numbers$recursive # as they were given
  DBI::dbWriteTable(base, "numbers", numbers)
  for (table in c("words", "numbers")) {
    found <- DBI::dbGetQuery(base, formula_code(formula, "sql", table = table))
    expect_equal(found[["all"]], expected, tolerance = 1e-9)
  }
})
