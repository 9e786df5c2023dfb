# Study files, the command and the report.

test_that("a study gives the numbers of the stages called by hand", {
  study <- demo_run()
  by_hand <- factor_solution(motives(), seed = 2026)
  expect_equal(study$values$solution$values$loadings, by_hand$values$loadings)
  expect_equal(as_tibble(study$values$scores), as_tibble(score_respondents(by_hand, motives())))
  expect_equal(study$values$count$values$eigenvalues,
    as_tibble(parallel_analysis(motives(), seed = 2026)))
  expect_true(all(c("o2", "p6") %in% as_tibble(study)$item))
})

test_that("a written study repeats the run from another folder, seed and all", {
  dir <- withr::local_tempdir()
  unseeded <- few_study(dir)
  writeLines(grep("^seed", readLines(unseeded), value = TRUE, invert = TRUE), unseeded)
  study <- run_study(unseeded)
  dir.create(file.path(dir, "deep", "er"), recursive = TRUE)
  written <- file.path(dir, "deep", "er", "again.yml")
  write_study(study, written)
  expect_match(readLines(written), "../../answers.csv", fixed = TRUE, all = FALSE)
  expect_match(readLines(written), study$source$fingerprint, fixed = TRUE, all = FALSE)
  again <- run_study(written)
  expect_identical(again$settings$seed, study$settings$seed)
  expect_identical(again$values$solution$values, study$values$solution$values)
})

test_that("entries that are unknown, of the wrong kind or out of range are named with their path", {
  study <- function(...) read_study(local_file(c("answers: {file: a.csv}", ...), ".yml"))
  expect_error(study("factros: {}"), "Did you mean \"factors\"", class = "softsieve_error_study")
  expect_error(study("factors: {number: 0}"), "`factors.number` must be at least 1",
    class = "softsieve_error_study")
  expect_error(study("factors: {number: many}"), "must be one of: probable, parallel",
    class = "softsieve_error_study")
  expect_error(study("factors: {sequential: often}"), "one yes or no",
    class = "softsieve_error_study")
  expect_error(study("factors: {rotation: [oblimin]}", "pattern: {hide_below: 2}"),
    "`pattern.hide_below` must be at most 1", class = "softsieve_error_study")
  expect_error(study("seed: soon"), "`seed` must be one whole number",
    class = "softsieve_error_study")
  expect_error(read_study(local_file("title: x", ".yml")), "must hold answers",
    class = "softsieve_error_study")
  expect_error(read_study(local_file("answers: [a", ".yml")), "valid YAML",
    class = "softsieve_error_study")
})

test_that("nothing in a study file is executed", {
  touched <- withr::local_tempfile()
  file <- local_file(sprintf("answers: {file: !expr 'file.create(\"%s\")'}", touched), ".yml")
  expect_error(run_study(file), class = "softsieve_error")
  expect_false(file.exists(touched))
})

test_that("the JSON Schema is the one that the registry makes", {
  file <- system.file("schema", "study.schema.json", package = "softsieve")
  made <- jsonlite::toJSON(softsieve:::study_schema(), auto_unbox = TRUE, digits = NA,
    null = "null")
  expect_identical(jsonlite::read_json(file), jsonlite::parse_json(made))
})

test_that("a study names its factors, and says so in its report and its file", {
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  name <- function(names) {
    lines <- sub("starts: 2}", sprintf("starts: 2, names: {%s}}", names), readLines(file))
    writeLines(lines, file)
  }
  plain <- readLines(file)
  name("F2: <b>mending")
  study <- run_study(file)
  expect_identical(colnames(coef(study$values$solution)), c("F1", "<b>mending"))
  expect_true("<b>mending" %in% names(as_tibble(study$values$scores)))
  report <- file.path(dir, "r.html")
  write_report(study, report)
  said <- page_text(report)
  expect_match(said, "named by people, after their items: F2 is &lt;b&gt;mending")
  again <- file.path(dir, "again.yml")
  write_study(study, again)
  expect_identical(read_study(again)$settings$factors$names, c(F2 = "<b>mending"))
  writeLines(plain, file)
  name("F9: thrift")
  expect_warning(run_study(file), "No factor is called F9", class = "softsieve_warning_stopped")
})

test_that("the command runs the demo and says where the report is", {
  dir <- withr::local_tempdir()
  done <- run_process(c("demo", "here"), dir)
  expect_identical(done$status, 0L)
  said <- regmatches(done$out, regexec("^[0-9]+ files in (.*)[.] Open first:$", done$out))
  folder <- Filter(length, said)[[1]][2]
  first <- sub("^ *([a-z.]+) .*", "\\1", tail(done$out, 3))
  expect_identical(first, c("report.html", "pattern.csv", "scores.csv"))
  expect_true(all(file.exists(file.path(folder, first))))
  files <- c("report.html", "items.csv", "people.csv", "adequacy.csv", "eigenvalues.csv",
    "pattern.csv", "factor_correlations.csv", "scales.csv", "scale_items.csv", "scores.csv",
    "findings.csv", "decisions.csv", "people_left.csv", "solution.json", "rules.csv", "marks.csv",
    "number.json", "reliability.json", "eigenvalues.png", "fit.png", "loadings.png",
    "reliability.png", "scale_items.png", "study.yml", "score_correlations.csv", "scale_scores.csv",
    "scale_score_correlations.csv", "scores.png", "scale_scores.png", "files.md5", "stages")
  expect_setequal(list.files(file.path(dir, "here", "results"), all.files = TRUE, no.. = TRUE),
    files)
  scores <- read_responses(file.path(dir, "here", "results", "scores.csv"))
  expect_equal(nrow(scores), 840)
  expect_equal(scores$F1,
    as_tibble(score_respondents(factor_solution(motives(), seed = 2026), motives()))$F1)
  # the study that was written says everything; fewer draws of people do for its pattern
  written <- file.path(dir, "here", "results", "study.yml")
  said <- readLines(written)
  from <- grep("^scales:", said)
  at <- from + grep("replicates:", said[-seq_len(from)])[1]
  said[at] <- "  replicates: 0"
  writeLines(said, written)
  again <- run_command(c("run", written, "--out", "second", "--threads", "1"), dir)
  expect_identical(again$status, 0L)
  expect_identical(readLines(file.path(dir, "second", "pattern.csv")),
    readLines(file.path(dir, "here", "results", "pattern.csv")))
})

test_that("bad input ends with 1, a message on stderr and nothing written", {
  dir <- withr::local_tempdir()
  file <- demo_study(dir)
  answers <- readLines(file.path(dir, "repair_cafe_answers.csv"))
  answers[2] <- sub("^(p0001,[^,]*),[^,]*", "\\1,\"4,5\"", answers[2])
  writeLines(answers, file.path(dir, "repair_cafe_answers.csv"))
  before <- list.files(dir, all.files = TRUE)
  failed <- run_command(c("run", basename(file), "--out", "results"), dir)
  expect_identical(failed$status, 1L)
  expect_match(failed$err, "m1 (\"4,5\")", fixed = TRUE, all = FALSE)
  expect_match(failed$err, "decimal comma", all = FALSE)
  expect_identical(list.files(dir, all.files = TRUE), before)
  expect_identical(run_command(c("run", "nowhere.yml"), dir)$status, 1L)
  good <- demo_study(withr::local_tempdir())
  blocked <- run_command(
    c("run", good, "--out", file.path(basename(file), "results")),
    dir) # a file is no folder
  expect_identical(blocked$status, 1L)
  expect_match(blocked$err, "folder", all = FALSE)
  expect_identical(list.files(dir, all.files = TRUE), before)
})

test_that("wrong usage ends with 2 and help and version with 0", {
  for (args in list("rnu", character(), "run", c("run", "a", "b"), c("run", "a.yml", "--uot", "x"),
    c("run", "a.yml", "--threads", "many"))) {
    done <- run_command(args)
    expect_identical(done$status, 2L)
    expect_match(done$err, "softsieve (run )?--help", all = FALSE)
    expect_length(done$out, 0)
  }
  expect_match(run_command("rnu")$err, "Did you mean \"run\"", all = FALSE)
  expect_match(run_command("--help")$out, "^  run STUDY.yml", all = FALSE)
  # a process ends with what the command returns
  expect_identical(run_process("rnu")$status, 2L)
  version <- run_command("--version")
  expect_identical(c(version$status, version$out),
    c("0", paste("softsieve", packageVersion("softsieve"))))
})

test_that("a study without a codebook, and one of some items, run as well", {
  dir <- withr::local_tempdir()
  answers <- as_tibble(motives(items = c(m1:m6, t1:t6)))
  write_table(answers, file.path(dir, "answers.csv"))
  writeLines(c("answers: {file: answers.csv, id: person, group: [cafe]}", "seed: 1"),
    file.path(dir, "plain.yml"))
  plain <- run_study(file.path(dir, "plain.yml"))
  expect_identical(dim(plain$values$solution$values$loadings), c(12L, 2L))
  expect_true("no_codebook" %in% plain$findings$code)
  some <- run_study(demo_study(dir, drop = "^answers|^  (file|id|group)",
    lines = "answers: {file: repair_cafe_answers.csv, items: [m1, m2, m3, t1, t2, t3]}"))
  expect_identical(rownames(some$values$solution$values$loadings),
    c("m1", "m2", "m3", "t1", "t2", "t3"))
})

test_that("a study with weights and polychoric correlations runs through", {
  dir <- withr::local_tempdir()
  file <- demo_study(dir, drop = "^answers|^  (file|id|group)",
    lines = c("answers: {file: weighted.csv, id: person, weight: w}",
      "correlations: {kind: polychoric}"))
  write_table(data.frame(repair_cafe, w = rep(c(0.8, 1.2), 420)), file.path(dir, "weighted.csv"))
  study <- run_study(file)
  q <- questionnaire(data.frame(repair_cafe, w = rep(c(0.8, 1.2), 420)),
    codebook = repair_cafe_codebook, id = person, weight = w)
  expect_equal(study$values$correlations$values$correlations,
    correlate_items(q, kind = "polychoric")$values$correlations)
  expect_true(all(c("weighted", "how_read") %in% study$findings$code))
  expect_identical(ncol(study$values$solution$values$loadings), 4L)
})

test_that("a study sifts, keeps the decisions, and repeats them", {
  dir <- withr::local_tempdir()
  file <- demo_study(dir, lines = c("scales: {replicates: 0}", "sift:", "  run: true",
    "  keep: [p6]", "  drop_first: {o2: about travel}", "  communality: 0.25",
    "  without: [reliability]"))
  study <- run_study(file)
  rules <- sift_rules(communality = .25, reliability = FALSE)
  by_hand <- sift_items(motives(), rules, keep = "p6", drop_first = c(o2 = "about travel"),
    seed = study$settings$seed)
  expect_equal(as_tibble(study$values$sift), as_tibble(by_hand))
  expect_equal(coef(study$values$solution), coef(by_hand$values$solution))
  expect_false("o2" %in% study$values$scales$values$scales$item)
  out <- file.path(dir, "results")
  write_results(study, out)
  expect_true(all(c("trail.csv", "sift.png") %in% list.files(out)))
  # what is drawn for a file is taken up by the report, which shows results made visible
  drawn <- softsieve:::DRAWN
  withr::defer(drawn$figures <- NULL)
  sifted <- study$values$sift
  spec <- softsieve:::FIGURES$item_sift$tiles
  drawn$figures <- list(list(spec = spec, x = sifted, path = "here.png"))
  seen <- softsieve:::path_of_drawn(spec, softsieve:::all_visible(sifted))
  expect_identical(seen, "here.png")
  expect_null(softsieve:::path_of_drawn(spec, study$values$solution))
  page <- page_text(file.path(out, "report.html"))
  expect_match(page, "Items taken out")
  again <- read_study(file.path(out, "study.yml"))
  expect_identical(again$settings$sift, study$settings$sift)
  expect_null(run_study(few_study(withr::local_tempdir()))$values$sift)
})

test_that("components of singular tables run to their report; factors stop, and say why", {
  dir <- withr::local_tempdir()
  withr::local_dir(dir)
  set.seed(8)
  d <- as.data.frame(round(matrix(rnorm(300), 60), 2))
  d$sum <- d$V1 + d$V2
  d$twice <- 2 * d$V3
  utils::write.csv(d, "depends.csv", row.names = FALSE)
  utils::write.csv(as.data.frame(round(matrix(rnorm(96), 8), 2)), "wide.csv", row.names = FALSE)
  for (name in c("depends", "wide")) {
    study <- function(method) {
      writeLines(c(sprintf("answers: {file: %s.csv}", name),
        sprintf("factors: {method: %s, number: 2, replicates: 40}", method),
        "scales: {replicates: 0}", "seed: 1"), "s.yml")
      "s.yml"
    }
    ran <- run_study(study("components"))
    expect_true("adequacy_left_out" %in% ran$findings$code)
    expect_null(ran$values$factorability)
    singular <- ran$findings[ran$findings$code == "not_positive_definite", ]
    expect_identical(anyDuplicated(singular$text), 0L)
    expect_output(print(ran), "number was given; without it would be taken: ")
    expect_identical(ncol(coef(ran$values$solution)), 2L)
    prose <- unlist(softsieve:::prose_of(ran))
    expect_no_match(prose, "adequacy|sphericity|\\bNA\\b|NULL|%s")
    expect_false("Kaiser & Rice (1974)" %in% softsieve:::references_of(ran))
    written <- file.path(dir, paste0(name, "_results"))
    write_results(ran, written)
    expect_true(file.exists(file.path(written, "report.html")))
    expect_false(file.exists(file.path(written, "adequacy.csv")))
    # asked for by itself, it says why it cannot be had
    asked <- run_command(c("factorability", "s.yml", "--quiet"))
    expect_identical(asked$status, 1L)
    expect_match(asked$err, "positive definite", all = FALSE)
    expect_warning(run_study(study("minres")), "positive definite")
  }
})
