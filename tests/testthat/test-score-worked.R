# Workbooks of live formulas, worked out by a spreadsheet program; the way back; printed loadings.

# All sheets, as that program shows them.
worked_out <- function(file) {
  folder <- withr::local_tempdir()
  profile <- file.path(folder, "profile", "user")
  dir.create(profile, recursive = TRUE)
  recalculate <- paste0("<item oor:path=\"/org.openoffice.Office.Calc/Formula/Load\">",
    "<prop oor:name=\"OOXMLRecalcMode\" oor:op=\"fuse\"><value>0</value></prop></item>")
  writeLines(
    c("<?xml version=\"1.0\" encoding=\"UTF-8\"?>",
      "<oor:items xmlns:oor=\"http://openoffice.org/2001/registry\">", recalculate, "</oor:items>"),
    file.path(profile, "registrymodifications.xcu"))
  system2("soffice",
    c(paste0("-env:UserInstallation=file://", file.path(folder, "profile")), "--headless",
      "--convert-to",
      shQuote("csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,false,false,false,false,-1"),
      "--outdir", folder, file), stdout = FALSE, stderr = FALSE, env = "LD_LIBRARY_PATH=")
  found <- list.files(folder, "-[a-z]+[.]csv$", full.names = TRUE)
  names(found) <- sub(".*-([a-z]+)[.]csv$", "\\1", found)
  lapply(found, utils::read.csv, check.names = FALSE)
}

test_that("a workbook works out the scores that predict() gives, and the values again", {
  skip_if(!nzchar(Sys.which("soffice")), "no spreadsheet program is here")
  skip_if_not_installed("writexl")
  log <- questionnaire(repair_log[1:40, ], id = day, measured = TRUE)
  file <- withr::local_tempfile(fileext = ".xlsx")
  all <- extract_components(log, 9)
  expect_identical(write_worked(all, log, file), file)
  sheets <- worked_out(file)
  whole <- which(stats::complete.cases(log$values$answers))
  same <- function(sheet, wanted) {
    own <- as.matrix(sheet[whole, -1])
    storage.mode(own) <- "double"
    expect_lt(max(abs(own - as.matrix(wanted)[whole, ])), 1e-9)
  }
  same(sheets$scores, predict(all, log))
  same(sheets$back, log$values$answers)
  expect_identical(sheets$scores$row[1], "2022-01-08")
  expect_equal(sheets$columns$mean_here, sheets$columns$mean, tolerance = 1e-12)
  expect_equal(sheets$columns$sd_here, sheets$columns$sd, tolerance = 1e-12)
  gone <- setdiff(1:40, whole)
  expect_true(length(gone) > 0 && all(is.na(suppressWarnings(as.numeric(sheets$scores$C1[gone])))))
  # factors, reversed items, another method
  q <- questionnaire(repair_cafe[1:60, ], codebook = repair_cafe_codebook, id = person)
  q <- keep_items(q, m1:t6)
  two <- factor_solution(q, 2, seed = 1, starts = 3)
  write_worked(two, q, file, method = "bartlett")
  sheets <- worked_out(file)
  whole <- which(stats::complete.cases(q$values$answers))
  same(sheets$scores, predict(two, q, method = "bartlett"))
  expect_null(sheets$back)
})

test_that("a workbook that cannot be is refused", {
  log <- questionnaire(repair_log, id = day, measured = TRUE)
  two <- extract_components(log, 2)
  expect_error(write_worked(two, log, "by-hand.csv"), class = "softsieve_error_ending")
  expect_error(write_worked(two, repair_log[rep(1:208, 25), ], "a.xlsx"), "5,000 rows",
    class = "softsieve_error_argument")
  expect_error(write_worked(log, log, "a.xlsx"), class = "softsieve_error_class")
  expect_false(file.exists("a.xlsx"))
})

test_that("the way back gives the values again, in code too, by both scales of scores", {
  log <- questionnaire(repair_log, id = day, measured = TRUE)
  x <- log$values$answers
  whole <- stats::complete.cases(x)
  all <- extract_components(log, 9)
  for (method in c("component", "unit_length")) {
    back <- score_formula(all, method = method, inverse = TRUE)
    run <- new.env()
    eval(parse(text = formula_code(back)), run)
    found <- as.matrix(run$score_people(as.data.frame(predict(all, log, method = method))))
    expect_lt(max(abs(found - x)[whole, ] / rep(apply(x, 2, stats::sd, na.rm = TRUE),
      each = sum(whole))), 1e-12)
  }
  # reversed items come back as they were given
  q <- keep_items(motives(), m1:m6)
  pieces <- extract_components(q, 6)
  back <- score_formula(pieces, inverse = TRUE)
  found <- as.matrix(predict(pieces, q)) %*% back$values$weights
  found <- sweep(found, 2, back$values$constant, "+")
  raw <- repair_cafe$m4
  there <- stats::complete.cases(q$values$answers)
  expect_equal(found[there, "m4"], as.numeric(raw[there]), ignore_attr = TRUE)
  expect_output(print(back), "way back from 6 components to 6 items")
  expect_error(score_formula(factor_solution(q, 1, seed = 1), inverse = TRUE),
    class = "softsieve_error_class")
})

test_that("printed loadings are matched in order and sign, and cells that differ are named", {
  s <- solution4()
  own <- coef(s)
  table <- data.frame(item = rownames(own), round(own, 2))[c(1, 4, 3, 2, 5)]
  table$F2 <- -table$F2
  table$F1[abs(table$F1) < .3] <- NA
  file <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(table, file, row.names = FALSE, na = "")
  printed <- read_loadings(file)
  expect_identical(printed$values$decimals, 2L)
  expect_equal(printed$values$loadings, read_loadings(table)$values$loadings)
  x <- compare_solutions(s, printed)
  expect_identical(nrow(x$values$cells), 0L)
  expect_identical(x$values$compared, sum(!is.na(table[-1])))
  expect_output(print(x), "Reproduced to .005")
  expect_identical(x$values$factors$sign[2], -1)
  table$F4[3] <- table$F4[3] + .02
  table$F3[5] <- table$F3[5] - .3
  off <- compare_solutions(read_loadings(table), s)$values$cells
  expect_identical(off$item, rownames(own)[c(5, 3)])
  expect_equal(abs(off$difference), abs(c(table$F3[5] - own[5, "F3"], table$F4[3] - own[3, "F4"])),
    tolerance = 1e-8)
  for (wrong in list(table[-1], transform(table, F1 = "a"), transform(table, F1 = 3),
    transform(table, item = "x"))) {
    expect_error(read_loadings(wrong), class = "softsieve_error_loadings")
  }
  expect_error(compare_solutions(printed, printed), class = "softsieve_error_solutions")
  expect_error(compare_solutions(s, read_loadings(transform(table, item = paste0("z", item)))),
    class = "softsieve_error_other_items")
})

test_that("the grid rebuilds from as many components as are asked", {
  log <- questionnaire(repair_log, id = day, measured = TRUE)
  rebuilt <- reconstruct_responses(extract_components(log, 3), log)
  figure <- ggplot2::autoplot(rebuilt, "grid", kept = c(1, 9))
  cells <- figure$data
  expect_identical(levels(droplevels(cells$kept)), levels(cells$kept))
  expect_length(levels(cells$kept), 2L)
  whole <- cells[cells$what == "difference" & grepl("from 9", cells$kept), ]
  expect_lt(max(abs(whole$value)), 1e-10)
  for (wrong in list(0, 10, 1:5, "a")) {
    expect_error(ggplot2::autoplot(rebuilt, "grid", kept = wrong),
      class = "softsieve_error_argument")
  }
})
