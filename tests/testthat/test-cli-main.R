# The command: as processes of its own, as a shell runs it, and in this session where that does.

demo_files <- function(env = parent.frame()) {
  dir <- withr::local_tempdir(.local_envir = env)
  file.copy(list.files(system.file("extdata", package = "softsieve"), full.names = TRUE), dir)
  dir
}

QUICK <- c("--factors.replicates", "40", "--factors.starts", "3", "--scales.replicates=0")

test_that("each verb works as a process: results on stdout, progress on stderr", {
  dir <- demo_files()
  answers <- c("repair_cafe_answers.csv", "--codebook", "repair_cafe_codebook.csv")
  solution <- c("repair_cafe_study.yml", "--factors.number", "3", QUICK)
  calls <- list(new = c("new", "repair_cafe_answers.csv", "--out", "begun"),
    check = c("check", "repair_cafe_study.yml"), items = c("items", answers),
    factorability = c("factorability", answers, "--format", "csv"),
    count = c("count", answers, QUICK, "--seed", "4"),
    solve = c("solve", solution, "--format", "json"),
    compare = c("compare", solution, "--with", "repair_cafe_study.yml", "--quiet"),
    sift = c("sift", solution, "--format", "markdown"),
    reliability = c("reliability", solution, "--threads", "1"),
    score = c("score", solution, "--format", "csv"),
    report = c("report", solution, "--out", "r.md"),
    plan = c("plan", "repair_cafe_design.yml", "--seed", "1", "--format", "csv"),
    run = c("run", solution, "--out", "results"),
    demo = c("demo", "there", "--quiet"))
  # demo, run and page have tests of their own
  expect_setequal(c(names(calls), "page"), names(softsieve:::VERBS))
  alone <- c("items", "score", "new")
  here <- setdiff(names(calls), c("demo", "run", alone))
  done <- c(lapply(calls[alone], run_process, dir = dir),
    lapply(calls[here], run_command, dir = dir))
  for (verb in names(done)) expect_identical(done[[verb]]$status, 0L, info = verb)
  expect_match(done$new$out, "seem reversed: +m4 \\(-.50\\), t3 \\(-.55\\), n5 ", all = FALSE)
  expect_match(done$check$out, "840 people, 26 items", all = FALSE)
  expect_match(done$items$err, "Looking at items", all = FALSE)
  expect_no_match(done$items$out, "Looking at items|\033")
  adequacy <- readr::read_csv(I(done$factorability$out), show_col_types = FALSE)
  expect_equal(adequacy$adequacy, assess_factorability(motives())$values$items$adequacy)
  expect_match(done$factorability$err, "caution: o2 has adequacy", all = FALSE)
  expect_match(done$count$out, "against 40 draws.*", all = FALSE)
  expect_match(paste(done$count$out, collapse = " "), "seed 4")
  expect_length(done$compare$err, 0)
  expect_match(done$compare$out, "repair_cafe_study", all = FALSE)
  expect_match(done$sift$out, "^\\| pass ", all = FALSE)
  scores <- readr::read_csv(I(done$score$out), show_col_types = FALSE)
  expect_identical(nrow(scores), 840L)
  file <- file.path(dir, "solution.json")
  writeLines(done$solve$out, file)
  expect_equal(coef(read_solution(file)),
    coef(factor_solution(motives(), 3, seed = 2026, starts = 3)))
  expect_true(file.exists(file.path(dir, "r.md")))
  # the print of the solution, with the pattern as it was asked for
  said <- run_command(c("solve", solution, "--pattern.hide_below", "0.5", "--quiet"), dir)$out
  expect_match(said, "n = 795 of 840 people", all = FALSE)
  expect_match(said, "smaller than .50", all = FALSE)
})

test_that("new people are scored by a saved solution in another process, as here", {
  dir <- demo_files()
  solution <- factor_solution(motives(), 4, seed = 1, starts = 5)
  write_solution(solution, file.path(dir, "s.json"))
  write_table(head(repair_cafe, 7), file.path(dir, "new.csv"))
  done <- run_process(c("score", "new.csv", "--solution", "s.json", "--answers.id", "person",
    "--answers.group", "cafe", "--format", "csv", "--quiet"), dir)
  expect_identical(done$status, 0L)
  table <- readr::read_csv(I(done$out), show_col_types = FALSE)
  expect_identical(names(table)[1:2], c("person", "cafe"))
  expect_identical(table$person, head(repair_cafe$person, 7))
  expect_equal(as.data.frame(table[colnames(coef(solution))]),
    as.data.frame(as_tibble(score_respondents(solution, head(repair_cafe, 7)))[
      colnames(coef(solution))]))
  wrong <- run_command(c("score", "new.csv", "--solution", "s.json", "--answers.id", "persn"), dir)
  expect_identical(wrong$status, 1L)
  expect_match(wrong$err, "Did you mean \"person\"", all = FALSE)
})

test_that("every exit status has its reason", {
  dir <- demo_files()
  status <- function(...) run_command(c(...), dir)$status
  expect_identical(status("check", "repair_cafe_study.yml"), 0L)
  expect_identical(status("check", "nowhere.yml"), 1L)
  expect_identical(status("chek", "repair_cafe_study.yml"), 2L)
  # unrelated items: a serious finding
  write_table(unrelated_answers(60, 6), file.path(dir, "noise.csv"))
  done <- run_command(c("factorability", "noise.csv", "--strict", "--quiet"), dir)
  serious <- any(assess_factorability(unrelated_answers(60, 6))$findings$severity == "serious")
  expect_true(serious)
  expect_identical(done$status, 3L)
  expect_match(done$err, "--strict: 1 serious finding|--strict: [0-9]+ serious", all = FALSE)
  expect_identical(status("factorability", "noise.csv", "--quiet"), 0L)
  # a stage that cannot go on: 1, and what is done is kept
  stopped <- run_command(c("run", "repair_cafe_study.yml", "--out", "out", "--factors.names",
    "F9=thrift", QUICK), dir)
  expect_identical(stopped$status, 1L)
  expect_match(stopped$err, "No factor is called F9", all = FALSE)
  expect_true(file.exists(file.path(dir, "out", "report.html")))
  expect_identical(status("solve", "repair_cafe_study.yml", "--factors.names", "F9=thrift", QUICK),
    1L)
})

test_that("entries are options: each form, wrong names and values", {
  dir <- demo_files()
  csv <- function(...) {
    done <- run_command(c(...), dir)
    expect_identical(done$status, 0L)
    readr::read_csv(I(done$out), show_col_types = FALSE)
  }
  some <- csv("items", "repair_cafe_answers.csv", "--codebook=repair_cafe_codebook.csv",
    "--answers.items", "m1,m2,t1", "--format", "csv")
  expect_identical(some$item, c("m1", "m2", "t1"))
  kept <- csv("items", "repair_cafe_study.yml", "--format=csv",
    "--answers.filters=cafe = Harbour; m1 >= 3")
  by_hand <- profile_items(keep_people(motives(), cafe == "Harbour", m1 >= 3))
  expect_equal(kept$mean, as_tibble(by_hand)$mean)
  named <- csv("score", "repair_cafe_study.yml", "--factors.number", "2", "--factors.names",
    "F1=warm, F2=cool", QUICK, "--format", "csv")
  expect_true(all(c("warm", "cool") %in% names(named)))
  bad <- function(...) run_command(c("items", "repair_cafe_study.yml", ...), dir)
  expect_match(bad("--factors.nmber", "2")$err, "Did you mean \"factors.number\"", all = FALSE)
  expect_identical(bad("--factors.nmber", "2")$status, 2L)
  expect_match(bad("--factors.number", "zero")$err, "must be one of", all = FALSE)
  expect_identical(bad("--factors.number", "zero")$status, 1L)
  expect_match(bad("--factors.number")$err, "needs a value", all = FALSE)
  expect_match(bad("--format", "xml")$err, "must be one of: \"table\"", all = FALSE)
  checked <- run_command(c("check", "repair_cafe_study.yml", "--format", "csv"), dir)
  expect_match(checked$out[1], "stage,code,severity")
  expect_identical(run_command(c("check", "repair_cafe_study.yml", "--out", "x"), dir)$status, 2L)
  proposed <- run_command(c("new", "repair_cafe_answers.csv", "--format", "json"), dir)
  expect_identical(jsonlite::fromJSON(proposed$out)$role[1:3], c("id", "group", "item"))
  # the ending of --out says the form
  for (name in c("a.csv", "a.json", "a.md", "a.txt")) {
    expect_identical(bad("--out", name)$status, 0L)
  }
  expect_true(jsonlite::validate(paste(readLines(file.path(dir, "a.json")), collapse = "\n")))
  expect_match(readLines(file.path(dir, "a.md"))[3], "| item |", fixed = TRUE)
})

test_that("check finds what is wrong without computing", {
  dir <- demo_files()
  study <- readLines(file.path(dir, "repair_cafe_study.yml"))
  check <- function(...) {
    writeLines(c(study, ...), file.path(dir, "s.yml"))
    run_command(c("check", "s.yml"), dir)
  }
  expect_match(check("decisions: [{drop: x1}]")$err, "Not there: x1", all = FALSE)
  expect_match(check("sift: {run: true, keep: [q9]}")$err, "`sift.keep` must name", all = FALSE)
  expect_match(check("sift: {run: true, drop_first: {q8: x}}")$err, "q8", all = FALSE)
  expect_match(check("scales: {wishd: 1}")$err, "line [0-9]+", all = FALSE)
  good <- check("decisions: [{drop: o1, why: coffee}]")
  expect_identical(good$status, 0L)
  expect_match(good$out, "Decided: drop o1: coffee", all = FALSE)
})

test_that("a reader that stops reading is no error; no terminal, hostile names and full disks", {
  skip_on_os("windows")
  dir <- demo_files()
  command <- shQuote(c(file.path(R.home("bin"), "Rscript"), "--no-save",
    system.file("exec", "softsieve", package = "softsieve")))
  shell <- function(line) {
    withr::local_dir(dir)
    script <- withr::local_tempfile(lines = line)
    suppressWarnings(system2("bash", script, stdout = TRUE, stderr = TRUE, stdin = ""))
  }
  said <- shell(paste(paste(command, collapse = " "),
    "items repair_cafe_study.yml --format csv --quiet | head -1; echo ${PIPESTATUS[0]}"))
  expect_length(said, 2)
  expect_identical(said[2], "0")
  said <- shell(paste(paste(command, collapse = " "),
    "items repair_cafe_study.yml --format json --quiet | true; echo ${PIPESTATUS[0]}"))
  expect_identical(said, "0")
  # a disk that is full where the result goes; another reader's is no error (above)
  if (file.exists("/dev/full")) {
    said <- shell(paste(paste(command, collapse = " "),
      "items repair_cafe_study.yml --quiet > /dev/full; echo $?"))
    expect_match(said, "No space left", all = FALSE)
    expect_identical(utils::tail(said, 1L), "1")
  }
  # a limit on the size of files is an error of ours, and leaves nothing
  said <- shell(paste("ulimit -f 2;", paste(command, collapse = " "),
    "items repair_cafe_study.yml --out limited.json --quiet 2>&1; echo $?"))
  expect_match(said, "room for files of its own|must be written whole", all = FALSE)
  expect_identical(utils::tail(said, 1L), "1")
  expect_false(file.exists(file.path(dir, "limited.json")))
  expect_match(run_command(c("run", "repair_cafe_study.yml", "--out"), dir)$err,
    "--out needs a value", all = FALSE)
  for (out in c("repair_cafe_answers.csv", "repair_cafe_codebook.csv")) {
    done <- run_command(c("items", "repair_cafe_study.yml", "--out", out), dir)
    expect_match(done$err, "must not take the place of what is read", all = FALSE)
  }
  cat("# mine\n", file = file.path(dir, "repair_cafe_study.yml"), append = TRUE)
  expect_match(run_command(c("demo", "."), dir)$err, "Changed, or of another version", all = FALSE)
  # without a terminal nothing is coloured, and nothing waits for an answer
  said <- shell(paste("setsid", paste(command, collapse = " "),
    "items repair_cafe_study.yml <&- 2>&1"))
  expect_no_match(said, "\033")
  # names of files that a shell or YAML would take for something else
  odd <- c("a b.csv", "$(touch x).csv", "'q' \"w\".csv", "-n.csv", "#1: [y].csv",
    "\u00e4\u00df.csv")
  for (name in odd) {
    file.copy(file.path(dir, "repair_cafe_answers.csv"), file.path(dir, name))
    done <- run_command(c("new", file.path(".", name), "--out", "made"), dir)
    expect_identical(done$status, 0L, info = name)
    begun <- file.path("made", paste0(sub(".csv$", "", name), "_study.yml"))
    expect_identical(run_command(c("check", begun), dir)$status, 0L, info = name)
  }
  expect_false(file.exists(file.path(dir, "x")))
  again <- run_command(c("new", "a b.csv", "--out", "made"), dir)
  expect_match(again$err, "never replaced", all = FALSE)
  # a disk that is full: nothing half-written, an error that says so
  disk <- file.path(dir, "disk")
  dir.create(disk)
  full <- suppressWarnings(system2("mount", c("-t", "tmpfs", "-o", "size=16k", "none", disk),
    stdout = FALSE, stderr = FALSE)) == 0
  if (full) {
    withr::defer(system2("umount", disk))
    done <- run_command(c("score", "repair_cafe_study.yml", "--factors.number", "2", QUICK, "--out",
      "disk/scores.csv"), dir)
    expect_identical(done$status, 1L)
    expect_match(done$err, "disk full", all = FALSE)
    expect_length(list.files(disk, all.files = TRUE, no.. = TRUE), 0)
    system2("mount", c("-o", "remount,ro", disk))
    done <- run_command(c("items", "repair_cafe_study.yml", "--out", "disk/a.csv"), dir)
    expect_identical(done$status, 1L)
    expect_match(done$err, "may not be written|must be writable|written whole", all = FALSE)
  }
})

test_that("a run that was killed leaves no half file, and the next one ends with the same bytes", {
  skip_on_os("windows")
  dir <- withr::local_tempdir()
  file.rename(few_study(dir), file.path(dir, "s.yml"))
  withr::local_dir(dir)
  run_command(c("run", "s.yml", "--out", "whole", "--quiet"))
  whole <- tools::md5sum(list.files("whole", recursive = TRUE, full.names = TRUE))
  # a process is killed as soon as it has stored its third stage
  command <- system.file("exec", "softsieve", package = "softsieve")
  system2(file.path(R.home("bin"), "Rscript"),
    c("--no-save", shQuote(command), "run", "s.yml", "--out", "broken", "--quiet"), wait = FALSE,
    stdout = FALSE, stderr = FALSE)
  for (i in 1:600) {
    if (length(list.files(file.path("broken", "stages"))) >= 3) break
    Sys.sleep(0.05)
  }
  system2("pkill", c("-9", "-f", shQuote("out broken")))
  stored <- list.files(file.path("broken", "stages"), full.names = TRUE)
  expect_gte(length(stored), 3)
  for (one in stored) {
    expect_true(jsonlite::validate(paste(readLines(one), collapse = "\n")))
  }
  expect_length(setdiff(list.files("broken"), "stages"), 0)
  again <- run_command(c("run", "s.yml", "--out", "broken", "--quiet"))
  expect_identical(again$status, 0L, info = paste(again$err, collapse = "\n"))
  files <- list.files("broken", recursive = TRUE)
  expect_setequal(files, list.files("whole", recursive = TRUE))
  expect_identical(unname(tools::md5sum(file.path("broken", files))),
    unname(tools::md5sum(file.path("whole", files))))
})

test_that("broken off at any stage, a study goes on to the same bytes", {
  file <- few_study(withr::local_tempdir())
  out <- withr::local_tempdir()
  run_study(file, folder = file.path(out, "whole"))
  stages <- file.path(out, "whole", "stages")
  whole <- tools::md5sum(list.files(stages, full.names = TRUE))
  labels <- vapply(softsieve:::STAGES, `[[`, "", "label")
  for (label in labels[nzchar(labels)][c(2, 4, 6)]) {
    folder <- file.path(out, make.names(label))
    stop_there <- function(line) if (startsWith(line, label)) stop("killed")
    expect_error(run_study(file, folder = folder, watch = stop_there), "killed")
    run_study(file, folder = folder)
    again <- tools::md5sum(list.files(file.path(folder, "stages"), full.names = TRUE))
    expect_identical(unname(again), unname(whole), info = label)
  }
})

test_that("help, completion and the man page are those of the specs, and work", {
  for (verb in names(softsieve:::VERBS)) {
    done <- run_command(c(verb, "--help"))
    expect_identical(done$status, 0L)
    expect_match(done$out, "^Example:", all = FALSE)
    expect_match(done$out, paste0("^  softsieve ", if (verb == "score") "s" else verb), all = FALSE)
  }
  verbs <- names(softsieve:::VERBS)
  for (verb in verbs) expect_match(softsieve:::completion_zsh(), verb, fixed = TRUE, all = FALSE)
  bash <- withr::local_tempfile(lines = softsieve:::completion_bash())
  page <- withr::local_tempfile(lines = softsieve:::man_page(), fileext = ".1")
  skip_if(!nzchar(Sys.which("bash")))
  complete <- function(...) {
    words <- c("softsieve", ...)
    script <- withr::local_tempfile(lines = c(sprintf("source '%s'", bash),
      sprintf("COMP_WORDS=(%s); COMP_CWORD=%d", paste(shQuote(words), collapse = " "),
        length(words) - 1L),
      "_softsieve; printf '%s\\n' \"${COMPREPLY[@]}\""))
    system2("bash", script, stdout = TRUE)
  }
  expect_identical(complete("fac"), "factorability")
  expect_true("--factors.rotation" %in% complete("solve", "--factors.ro"))
  expect_identical(complete("items", "--format", "mark"), "markdown")
  skip_if(!nzchar(Sys.which("man")))
  warned <- system2("man", c("--warnings", "-l", page), stdout = TRUE, stderr = TRUE)
  expect_no_match(warned, "warning")
})

test_that("the examples of help run as they stand", {
  dir <- demo_files()
  for (verb in softsieve:::VERBS) {
    # these run elsewhere, with as much
    if (verb$name %in% c("demo", "run", "report", "count", "items", "reliability")) next
    for (line in verb$example) {
      words <- scan(text = line, what = "", quiet = TRUE)[-1]
      if ("--scales.replicates" %in% words) words <- sub("^200$", "20", words)
      expect_identical(run_command(words, dir)$status, 0L, info = line)
    }
  }
})

test_that("every verb takes each of its options by the name that its help shows", {
  known <- softsieve:::known_options()
  for (verb in softsieve:::VERBS) {
    for (option in verb$options) {
      words <- c(verb$name, "some.file", paste0("--", option),
        if (known[[option]]$type != "flag") "1")
      if (identical(verb[["unless"]]$option, option)) words <- words[-2]
      if (is.null(verb[["target"]])) words <- words[-2]
      asked <- softsieve:::parse_command(words)
      expect_true(option %in% names(asked$options), label = paste(words, collapse = " "))
      expect_true(as.character(asked$options[[option]]) %in% c("1", "TRUE"))
    }
  }
})
