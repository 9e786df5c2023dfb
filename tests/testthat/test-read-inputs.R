# No output is an input, one process writes a file at a time, and a session's options, locale and
# folder change nothing.

refused <- function(code, what = "unwritable") {
  conditionMessage(expect_error(code, class = paste0("softsieve_error_", what)))
}

few_solution <- function() {
  q <- questionnaire(few_answers(), codebook = few_book(), id = person, group = cafe)
  factor_solution(q, 2, seed = 1, starts = 2)
}

test_that("what is read is not written over, by any name", {
  folder <- withr::local_tempdir()
  withr::local_dir(folder)
  answers <- as.data.frame(few_answers())
  write_table(answers, "people.csv")
  before <- tools::md5sum("people.csv")
  s <- few_solution()
  file.symlink("people.csv", "link.csv")
  for (into in c("people.csv", "./people.csv", file.path(folder, "people.csv"), "link.csv")) {
    expect_match(refused(score_into(s, "people.csv", into)), "what is read.*people|link")
    expect_match(refused(score_into(s, "peop*.csv", into)), "what is read")
  }
  study <- change_study(read_study(few_study(folder)), answers.file = "people.csv")
  done <- run_study(study)
  # what a run may write is known before it runs
  write_results(done, "results")
  made <- list.files("results", "[.](csv|json|html|yml)$")
  expect_identical(setdiff(made, softsieve:::files_of_runs()), character())
  # a folder of results that holds the answers by a name of its own
  expect_match(refused(write_results(done, ".")), "people.csv")
  file.copy("people.csv", "report.html")
  write_study(change_study(study, answers.file = "report.html"), "other.yml")
  expect_match(refused(write_report(run_study(read_study("other.yml")), "report.html")),
    "report.html")
  expect_identical(tools::md5sum("people.csv"), before)
  # an id called as a score is
  twice <- score_into(s, answers, "scores.csv", columns = person)
  expect_identical(twice$values$people, 150)
  names(answers)[1] <- "F1"
  expect_match(refused(score_into(s, answers, "more.csv", columns = F1), "columns"), "Twice: F1")
  expect_false(file.exists("more.csv"))
})

test_that("two processes do not write one file, and a mark of one that is no more is none", {
  folder <- withr::local_tempdir()
  file <- file.path(folder, "scores.csv")
  unlock <- softsieve:::lock_file(file)
  mark <- file.path(folder, ".softsieve-lock-scores.csv", "holder")
  # (one's own is taken over: it is of a call that broke off)
  unlock <- softsieve:::lock_file(file)
  asleep <- callr::r_bg(function() Sys.sleep(100))
  withr::defer(asleep$kill())
  other <- sub("-[0-9]+$", paste0("-", asleep$get_pid()), readLines(mark))
  writeLines(other, mark)
  expect_match(refused(score_into(solution4(), repair_cafe, file)), "written by process")
  writeLines(sub("-[0-9]+$", "-999999", other), mark)
  score_into(solution4(), repair_cafe, file)
  expect_identical(length(readLines(file)), 841L)
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "scores.csv")
  # one of another machine is believed; a name that leaves no room for a mark is told
  dir.create(dirname(mark))
  writeLines(".softsieve-000000-7", mark)
  expect_match(refused(score_into(solution4(), repair_cafe, file)), "process 7")
  long <- file.path(folder, paste0(strrep("a", 240), ".csv"))
  expect_match(refused(score_into(solution4(), repair_cafe, long)), "cannot be made in it")
})

test_that("a session's options, a folder that is gone and paths that are too long change nothing", {
  folder <- withr::local_tempdir()
  file <- file.path(folder, "answers.csv")
  write_table(repair_cafe, file)
  s <- solution4()
  everything <- function() {
    made <- file.path(folder, "made")
    dir.create(made, showWarnings = FALSE)
    unlink(list.files(made, full.names = TRUE))
    into <- file.path(made, "scores.csv")
    score_into(s, file, into, columns = person)
    study <- read_study(begin_study(file, made)$files[1])
    write_study(change_study(study, pattern.hide_below = .25), file.path(made, "s.yml"))
    bytes <- function(file) rawToChar(readBin(file, "raw", file.size(file)))
    list(bytes(into), bytes(file.path(made, "s.yml")), score_formula(s)$values,
      read_responses(into))
  }
  before <- everything()
  for (set in list(list(OutDec = ","), list(encoding = "UTF-16"), list(encoding = "latin1"),
    list(scipen = -10), list(digits = 3))) {
    withr::with_options(set, expect_identical(everything(), before, label = names(set)))
  }
  gone <- callr::r(function(file) {
    unlink(tempdir(), recursive = TRUE)
    read <- nrow(softsieve::read_responses(file))
    away <- file.path(dirname(file), "away")
    dir.create(away)
    setwd(away)
    unlink(away, recursive = TRUE)
    said <- tryCatch(softsieve::write_table(softsieve::repair_cafe, "x.csv"), error = class)
    list(read, nrow(softsieve::read_responses(file)), said[1])
  }, list(file))
  expect_identical(gone, list(840L, 840L, "softsieve_error_unwritable"))
  long <- strrep("a/", 3000)
  expect_match(refused(read_responses(long), "file_missing"), "6000 came")
  expect_match(refused(write_table(s, paste0(long, "x.csv")), "file_missing"), "6005 came")
})

test_that("a locale changes neither names nor numbers", {
  skip_on_os("windows")
  skip_if_not(l10n_info()[["UTF-8"]], "this session names no such files itself")
  folder <- withr::local_tempdir()
  answers <- as.data.frame(repair_cafe[3:14])
  names(answers) <- paste0("\u0130i_\u0131I_", 1:12)
  file <- file.path(folder, "\u0131\u015f.csv")
  write_table(answers, file)
  run <- function(locale) {
    done <- callr::r(function(file) {
      b <- softsieve::begin_study(file, dirname(file))
      study <- softsieve::read_study(b$files[1])
      unlink(b$files)
      s <- softsieve::factor_solution(softsieve::read_responses(file), factors = 2, seed = 1)
      list(enc2utf8(names(study$settings)), enc2utf8(rownames(s$values$loadings)),
        unname(s$values$loadings), softsieve::score_formula(s)$values)
    }, list(file), env = c(callr::rcmd_safe_env(), LC_ALL = locale, LANGUAGE = "en"))
    done
  }
  there <- suppressWarnings(system2("locale", "-a", stdout = TRUE))
  plain <- run("C.UTF-8")
  for (locale in intersect(c("tr_TR.utf8", "de_DE.utf8"), there)) {
    expect_equal(run(locale), plain, label = locale)
  }
  # a session without these letters says so, wherever a path comes in
  said <- callr::r(function(file) {
    why <- function(code) tryCatch(code, error = function(e) class(e)[1L])
    plain <- file.path(tempdir(), "plain.csv")
    softsieve::write_table(softsieve::repair_cafe, plain)
    study <- softsieve::begin_study(plain, tempdir())$files[1]
    c(why(softsieve::read_responses(file)), why(softsieve::write_table(data.frame(a = 1), file)),
      why(softsieve::write_study(softsieve::read_study(study), sub("csv", "yml", file))),
      why(softsieve::write_results(softsieve::read_study(study), file)))
  }, list(file), env = c(callr::rcmd_safe_env(), LC_ALL = "C"))
  expect_identical(said[1:3], rep("softsieve_error_file_missing", 3))
  expect_match(said[4], "^softsieve_error_")
  bytes <- "a\xff.csv"
  Encoding(bytes) <- "bytes"
  expect_error(read_responses(bytes), class = "softsieve_error_file_missing")
  # the command knows names in UTF-8 also where no language is set
  withr::local_dir(folder)
  begin_study(file)
  out <- callr::rscript(system.file("exec", "softsieve", package = "softsieve"),
    c("check", "\u0131\u015f_study.yml"), env = c(callr::rcmd_safe_env(), LC_ALL = "C"),
    fail_on_status = FALSE, show = FALSE)
  expect_identical(out$status, 0L)
})

test_that("a text that a NUL would cut is not taken, nor a solution whose numbers none has", {
  folder <- withr::local_tempdir()
  file <- file.path(folder, "s.yml")
  writeLines(c("answers: {file: a.csv}", "title: \"one\\0two\""), file)
  expect_match(refused(read_study(file), "study"), "Line 2 holds")
  writeLines(c("answers: {file: a.csv}", "title: \"one\\\\0two\""), file)
  expect_identical(read_study(file)$settings$title, "one\\0two")
  solution <- file.path(folder, "solution.json")
  # units of any size, and reading a file tells nothing of what it says
  units <- sweep(as.matrix(repair_cafe[3:8]), 2L, 10^c(-6, 9, 0, 4, 6, 2), "*")
  far <- factor_solution(correlate_items(as.data.frame(units), missing = "complete"), 1,
    analyse = "covariances", seed = 1)
  write_solution(far, solution)
  told <- ls(softsieve:::TOLD)
  back <- read_solution(solution)
  expect_identical(back$values$raw_loadings, far$values$raw_loadings)
  expect_identical(ls(softsieve:::TOLD), told)
  write_solution(few_solution(), solution)
  held <- jsonlite::fromJSON(solution, simplifyVector = FALSE)
  changed <- function(change) {
    held$solution$list$values$list <- change(held$solution$list$values$list)
    writeLines(jsonlite::toJSON(held, auto_unbox = TRUE, digits = NA, null = "null"), solution)
    refused(read_solution(solution), "solution")
  }
  sds <- function(v, x) {
    v$items$list$sd$numbers[[1]] <- x
    v
  }
  expect_match(changed(function(v) sds(v, 0)), "`values.items.sd` must be above 0")
  expect_match(changed(function(v) sds(v, "often")), "items.sd|go together|read|whole")
  cell <- function(name, x) {
    function(v) {
      v[[name]]$numbers[[2]] <- x
      v
    }
  }
  expect_match(changed(cell("correlations", .9)), "`values.correlations` is not symmetric")
  expect_match(changed(cell("loadings", 1e300)), "`values.loadings` has numbers beyond")
  expect_match(changed(cell("factor_correlations", 2)), "`values.factor_correlations`")
  expect_match(changed(cell("structure", "NaN")), "`values.structure` has gaps")
  expect_match(changed(function(v) {
    v$items$with$row.names <- list(whole = list(NA, -2147483647))
    v
  }), "columns of other lengths")
  expect_match(changed(function(v) {
    v$key <- list(words = list("a"))
    v
  }), "`values.key` is no table")
})
