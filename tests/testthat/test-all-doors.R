# Doors: what comes in is told by its bytes and has limits; what goes out stands whole in its place;
# nothing that comes in steers a terminal or runs.

FIXTURES <- normalizePath(test_path("fixtures"))

bytes_in <- function(bytes, ending, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ending, .local_envir = env)
  writeBin(if (is.character(bytes)) charToRaw(bytes) else bytes, file)
  file
}

# A sheet with other text in one of its parts.
packed_again <- function(name, part, edit, env = parent.frame()) {
  dir <- withr::local_tempdir(.local_envir = env)
  utils::unzip(file.path(FIXTURES, name), exdir = dir)
  text <- paste(readLines(file.path(dir, part), warn = FALSE), collapse = "")
  writeLines(edit(text), file.path(dir, part))
  out <- file.path(dir, paste0("again-", name))
  withr::with_dir(dir, utils::zip(out, setdiff(list.files(recursive = TRUE), out), flags = "-q9"))
  out
}

test_that("files are told by what they hold, not by what they are called", {
  skip_if_not_installed("callr")
  table <- "a,b\n1,2\n3,4\n"
  for (ending in c(".csv", ".xlsx", ".parquet", ".dat", "")) {
    expect_identical(read_responses(bytes_in(table, ending))$b, c(2, 4))
  }
  for (pack in list(gzfile, xzfile)) {
    file <- withr::local_tempfile(fileext = ".csv.gz")
    to <- pack(file, "wb")
    writeBin(charToRaw(table), to)
    close(to)
    expect_identical(read_responses(file)$a, c(1, 3))
    for (cut in 1:12) {
      half <- bytes_in(utils::head(readBin(file, "raw", 1e4), -cut), ".csv.gz")
      expect_error(read_responses(half), class = "softsieve_error_reader")
    }
  }
  sheet <- withr::local_tempfile(fileext = ".csv")
  file.copy(test_path("fixtures", "mending.ods"), sheet)
  plain <- function(file) lapply(read_responses(file, sheet = 2), identity)
  expect_identical(plain(sheet), plain(test_path("fixtures", "mending.ods")))
  expect_error(read_responses(bytes_in("%PDF-1.4 x", ".csv")), "is a PDF",
    class = "softsieve_error_reader")
  zip <- withr::local_tempfile(fileext = ".xlsx")
  withr::with_dir(dirname(sheet), utils::zip(zip, basename(sheet), flags = "-q"))
  expect_error(read_responses(zip), "must be a sheet", class = "softsieve_error_reader")
  for (text in c("\n\n", " \n", "\xef\xbb\xbf")) {
    expect_error(read_responses(bytes_in(text, ".csv")), class = "softsieve_error_file_empty")
  }
})

test_that("what is damaged is refused, whatever its reader would make of it", {
  skip_if_not_installed("callr")
  whole <- readBin(test_path("fixtures", "mending.xlsx"), "raw", 1e6)
  set.seed(4)
  for (at in sample(seq(40, length(whole) - 1200), 12)) {
    bytes <- whole
    bytes[at] <- xor(bytes[at], as.raw(0x10))
    read <- function(file) lapply(read_responses(file, sheet = 2), identity)
    got <- tryCatch(read(bytes_in(bytes, ".xlsx")), error = function(e) e)
    if (!inherits(got, "softsieve_error")) {
      expect_identical(got, read(test_path("fixtures", "mending.xlsx")))
    }
  }
  old <- c(as.raw(c(0xd0, 0xcf, 0x11, 0xe0)), as.raw(sample(0:255, 2000, TRUE)))
  expect_error(read_responses(bytes_in(old, ".xls")), class = "softsieve_error_reader")
  expect_error(read_responses(bytes_in(c(charToRaw("PAR1"), raw(50)), ".csv")),
    class = "softsieve_error_reader")
})

test_that("small files that would grow are refused before the work begins", {
  started <- proc.time()[["elapsed"]]
  far <- packed_again("mending.xlsx", "xl/worksheets/sheet1.xml", function(text) {
    cell <- "<c r=\"XFD1048576\" t=\"inlineStr\"><is><t>x</t></is></c>"
    sub("</sheetData>", sprintf("<row r=\"1048576\">%s</row></sheetData>", cell), text)
  })
  expect_error(read_responses(far), "10,000 columns", class = "softsieve_error_too_large")
  for (times in c("200000000", "2e15", "-5")) {
    wide <- packed_again("mending.ods", "content.xml", function(text) {
      cell <- "<table:table-cell table:number-columns-repeated=\"%s\" office:value=\"1\"/>"
      sub("<table:table-cell ", paste0(sprintf(cell, times), "<table:table-cell "), text)
    })
    expect_error(read_responses(wide), "repeats cells", class = "softsieve_error_reader")
  }
  packed <- withr::local_tempfile(fileext = ".csv.gz")
  to <- gzfile(packed, "wb")
  for (i in 1:8) writeBin(raw(1e7), to)
  close(to)
  expect_error(read_responses(packed), "unpacked", class = "softsieve_error_too_large")
  names <- letters[2:9]
  again <- vapply(letters[1:8], function(x) paste(rep(paste0("*", x), 9), collapse = ","), "")
  yaml <- list(c("a: &a [x, x]", sprintf("%s: &%s [%s]", names, names, again)),
    paste0("a: ", strrep("[", 5e4)), strrep("- ", 5e4), paste0(strrep(" ", 0:900), "a:"))
  for (lines in yaml) {
    for (read in list(read_study, read_codebook)) {
      expect_error(read(local_file(lines, ".yml")), "repeats|deeply", class = "softsieve_error")
    }
  }
  expect_error(read_responses(local_file(strrep("[", 1e5), ".json")), "too deeply",
    class = "softsieve_error_reader")
  wide <- paste(seq_len(2e4), collapse = ",")
  expect_error(read_responses(local_file(c(wide, wide))), class = "softsieve_error_too_large")
  expect_lt(proc.time()[["elapsed"]] - started, 60)
})

test_that("digits, codes and words come as they were written", {
  ids <- c("12345678901234567890", "12345678901234567891")
  expect_identical(read_responses(local_file(c("id,a", paste0(ids, ",1"))))$id, ids)
  lines <- sprintf("{\"id\": %s, \"a\": 1}", ids)
  expect_identical(read_responses(local_file(lines, ".jsonl"))$id, ids)
  book <- c("- {item: a, wording: 007, missing_codes: [8, 9]}",
    paste0("- {item: b, wording: ", ids[1], ", missing_codes: 9}"),
    "- {item: c, wording: 12:30, labels: {1: no, 2: yes}}", "- {item: d, wording: ., scale: no}")
  read <- read_codebook(local_file(book, ".yml"))
  expect_identical(read$wording, c("007", ids[1], "12:30", "."))
  expect_identical(read$missing_codes, list(c(8, 9), 9, numeric(), numeric()))
  expect_identical(read$scale[4], "no")
  expect_error(read_codebook(local_file("- {item: a, missing_codes: [9, none]}", ".yml")),
    "Not so for: a", class = "softsieve_error_codebook")
  for (text in c("", "3", "- x", "items: 3")) {
    file <- local_file(c("# book", text), ".yml")
    expect_error(read_codebook(file), class = "softsieve_error_codebook")
    expect_error(read_study(file), class = "softsieve_error_study")
  }
})

test_that("nothing gives way that is no file, and results move in together or not at all", {
  dir <- withr::local_tempdir()
  at <- function(...) file.path(dir, ...)
  refused <- function(code) expect_error(code, "in the way", class = "softsieve_error_unwritable")
  dir.create(at("t.csv"))
  refused(write_table(repair_cafe, at("t.csv")))
  if (.Platform$OS.type != "windows") {
    file.symlink(at("nowhere"), at("link.csv"))
    refused(write_table(repair_cafe, at("link.csv")))
    system2("mkfifo", at("pipe.csv"))
    refused(write_table(repair_cafe, at("pipe.csv")))
    writeLines("old", at("real.csv"))
    file.symlink(at("real.csv"), at("good.csv"))
    write_table(repair_cafe, at("good.csv"))
    expect_true(nzchar(Sys.readlink(at("good.csv"))))
    expect_gt(file.size(at("real.csv")), 1000)
  }
  study <- run_study(few_study(withr::local_tempdir()))
  dir.create(at("out", "scores.csv"), recursive = TRUE)
  writeLines("old", at("out", "items.csv"))
  refused(write_results(study, at("out")))
  expect_identical(readLines(at("out", "items.csv")), "old")
  there <- list.files(at("out"), all.files = TRUE, no.. = TRUE)
  expect_setequal(there, c("items.csv", "scores.csv"))
  # one that cannot be moved in puts all back
  writeLines("old", at("a"))
  writeLines("new", at("a-new"))
  expect_error(softsieve:::put_in_place(c(at("a-new"), at("not-there")), c(at("a"), at("b"))),
    "all is as it was", class = "softsieve_error_unwritable")
  writeLines("older", at("c"))
  expect_error(
    softsieve:::put_in_place(at("a-new"), at("a"), away = c(at("c"), at("not-there"))),
    class = "softsieve_error_unwritable")
  expect_identical(readLines(at("a")), "old")
  expect_identical(readLines(at("c")), "older")
  expect_false(file.exists(at("b")))
  # what only the earlier run wrote goes, unless it was changed or is somebody's own
  unlink(at("out"), recursive = TRUE)
  write_results(study, at("out"))
  first <- list.files(at("out"))
  writeLines(c("factor", "my own"), at("out", "factor_correlations.csv"))
  writeLines("mine", at("out", "notes.csv"))
  own <- paste0(tools::md5sum(at("a")), "  ../a")
  strange <- c(own, paste0(strrep("a", 32), "  notes.csv"), "\xff")
  write(strange, at("out", "files.md5"), append = TRUE)
  write_results(run_study(change_study(study, factors.number = 1)), at("out"))
  left <- list.files(at("out"))
  gone <- c("score_correlations.csv", "scale_score_correlations.csv")
  expect_setequal(setdiff(first, left), gone)
  expect_setequal(setdiff(left, first), "notes.csv")
  expect_true(file.exists(at("a")))
  sums <- readLines(at("out", "files.md5"))
  expect_identical(sums,
    sprintf("%s  %s", tools::md5sum(at("out", substring(sums, 35))), substring(sums, 35)))
})

test_that("what a killed run left goes with the next one, and only that", {
  skip_on_os("windows")
  dir <- withr::local_tempdir()
  mark <- softsieve:::writer_mark()
  gone <- file.path(dir, sprintf("%s%d-x.csv", mark, 2^22 - 3L)) # no such process
  mine <- file.path(dir, sprintf("%s%d-x.csv", mark, Sys.getpid()))
  others <- file.path(dir, ".softsieve-other0-77-x.csv")
  for (file in c(gone, mine, others)) writeLines("half", file)
  write_table(repair_cafe, file.path(dir, "t[*].csv"))
  expect_identical(file.exists(c(gone, mine, others)), c(FALSE, TRUE, TRUE))
  expect_true(file.exists(file.path(dir, "t[*].csv")))
})

test_that("signs that steer are marks in every face, and data stay as they are", {
  evil <- "q\u001b[31m\u202eq"
  shown <- "q<U+001B>[31m<U+202E>q"
  d <- repair_cafe[1:200, c("m1", "m2", "m3", "t1", "t2", "t3")]
  names(d)[1] <- evil
  book <- repair_cafe_codebook[match(c("m1", "m2", "m3", "t1", "t2", "t3"),
    repair_cafe_codebook$item), ]
  book$item[1] <- evil
  book$wording[2] <- "line\nend \u0007 bell \u2066"
  q <- questionnaire(d, codebook = book)
  solution <- factor_solution(q, 2, seed = 1, starts = 2)
  expect_identical(rownames(coef(solution))[1], evil)
  steering <- "[\u0001-\u0008\u000b\u000c\u000e-\u001f\u007f\u202e\u2066]"
  results <- list(q, profile_items(q), correlate_items(q), solution, pattern_table(solution),
    form_scales(solution), score_respondents(solution, q))
  for (x in results) expect_no_match(capture.output(print(x)), steering)
  expect_match(capture.output(print(pattern_table(solution))), shown, fixed = TRUE, all = FALSE)
  wrong <- tryCatch(keep_items(q, "m9\u001b"), error = conditionMessage)
  expect_no_match(wrong, steering)
  dir <- withr::local_tempdir()
  at <- function(name) file.path(dir, name)
  write_table(solution, at("t.csv"))
  expect_match(readLines(at("t.csv")), shown, fixed = TRUE, all = FALSE)
  expect_no_match(readLines(at("t.csv")), steering)
  expect_identical(jsonlite::fromJSON(write_solution(solution, at("s.json")))$format,
    "softsieve solution")
  expect_identical(rownames(coef(read_solution(at("s.json")))), rownames(coef(solution)))
  drawn <- ggplot2::autoplot(solution)$data
  expect_no_match(unlist(lapply(drawn, as.character)), steering)
  if (requireNamespace("flextable", quietly = TRUE)) {
    write_table(pattern_table(solution), at("t.docx"))
    utils::unzip(at("t.docx"), "word/document.xml", exdir = dir)
    text <- xml2::xml_text(xml2::read_xml(at("word/document.xml")))
    expect_match(text, shown, fixed = TRUE)
  }
})

test_that("no argument is run as code, and no reader opens another file", {
  dir <- withr::local_tempdir()
  withr::local_dir(dir)
  run <- quote(file.create("made"))
  q <- motives()
  for (call in list(function() count_factors(q, basis = run), function() factor_solution(q, run),
    function() factor_solution(q, 2, rotation = run), function() sift_items(q, method = run),
    function() assess_reliability(q, missing = run), function() solution_ladder(q, kind = run),
    function() keep_people(q, where = "file.create('made')"),
    function() read_study(local_file("title: !expr file.create('made')", ".yml")))) {
    expect_error(call(), class = "softsieve_error")
  }
  expect_false(file.exists("made"))
  secret <- local_file("{\"a\": 1}", ".json")
  xml <- sprintf("<!DOCTYPE x [<!ENTITY e SYSTEM \"file://%s\">]>", secret)
  ods <- packed_again("mending.ods", "content.xml", function(text) {
    text <- sub("(<[?]xml[^>]*[?]>)", paste0("\\1", xml), text)
    sub("<text:p>", "<text:p>&e;", text)
  })
  got <- tryCatch(unlist(read_responses(ods)), error = conditionMessage)
  expect_no_match(got, "\"a\": 1", fixed = TRUE)
})

test_that("long work shows its bar from the first moment on, and ends well", {
  withr::local_options(cli.progress_show_after = 0, cli.dynamic = TRUE, cli.progress_clear = TRUE)
  q <- motives()
  quiet <- function(code) utils::capture.output(code, type = "message")
  expect_error(quiet({
    wide <- correlate_items(unrelated_answers(300, 60))
    solution <- factor_solution(q, 3, seed = 1, starts = 5)
    count_factors(q, seed = 1, replicates = 40, rules = c("parallel", "comparison"))
    assess_reliability(form_scales(solution), q, replicates = 40, seed = 1)
    loading_stability(solution, replicates = 40, halves = 4, seed = 1)
    score_respondents(solution, q)
    solution_ladder(q, 1, 3, starts = 2, seed = 1)
    sifted <- sift_items(q, factors = 3, starts = 2, seed = 1)
    sift_paths(sifted, replicates = 4, steps = .9, seed = 1)
    short <- shorten_scales(form_scales(solution), q, size = 3, replicates = 4, seed = 1)
  }), NA)
})

test_that("files that broke a reader once are read or refused in our own words", {
  files <- list.files(file.path(FIXTURES, "fuzz"), full.names = TRUE)
  expect_gt(length(files), 3)
  for (file in files) {
    for (read in list(read_responses, read_codebook, read_study)) {
      expect_error(
        withCallingHandlers(tryCatch(read(file), softsieve_error = function(e) NULL),
          warning = function(w) stop("a warning: ", conditionMessage(w))),
        NA, label = basename(file))
    }
  }
})
