# The study file as the one source: filters, decisions, editing, errors with their lines, studies of
# what was done by hand.

demo_folder <- function(env = parent.frame()) {
  dir <- withr::local_tempdir(.local_envir = env)
  file.copy(list.files(system.file("extdata", package = "softsieve"), full.names = TRUE), dir)
  dir
}

test_that("conditions in words hold as R's do, in every form", {
  q <- motives()
  data <- as_tibble(q)
  held <- function(where) nrow(keep_people(q, where = where)$values$answers)
  twin <- function(x) sum(!is.na(x) & x)
  cafes <- unique(data$cafe)
  expect_identical(held(sprintf("cafe = %s", cafes[1])), twin(data$cafe == cafes[1]))
  expect_identical(held(sprintf("cafe != '%s'", cafes[1])), twin(data$cafe != cafes[1]))
  expect_identical(held(sprintf("cafe in (%s, \"%s\")", cafes[1], cafes[2])),
    twin(data$cafe %in% cafes[1:2]))
  expect_identical(held("m1 >= 3 and m2 < 5"), twin(data$m1 >= 3 & data$m2 < 5))
  expect_identical(held("m1 > 3 or m2 <= 2"), twin(data$m1 > 3 | data$m2 <= 2))
  expect_identical(held("m1 is missing"), twin(is.na(data$m1)))
  expect_identical(held("not (m1 is missing or m2 is missing)"), twin(!is.na(data$m1 + data$m2)))
  # and binds before or; not binds before both
  expect_identical(held("m1 = 1 or m1 = 2 and m2 = 2"),
    twin(data$m1 == 1 | (data$m1 == 2 & data$m2 == 2)))
  expect_identical(held("not m1 = 1 and m2 == 4"), twin(data$m1 != 1 & data$m2 == 4))
  expect_identical(held("m1 <> 3"), twin(data$m1 != 3))
  # several conditions must all hold, and stand in the finding
  both <- keep_people(q, m1 >= 3, where = c("m2 >= 3", "m3 >= 3"))
  expect_identical(nrow(both$values$answers), twin(data$m1 >= 3 & data$m2 >= 3 & data$m3 >= 3))
  expect_match(both$findings$text, "m1 >= 3 and m2 >= 3 and m3 >= 3", all = FALSE)
  odd <- data.frame(`age in years` = c(10, 20, 30), a = 1:3, b = 3:1, check.names = FALSE)
  held_odd <- softsieve:::where_holds(softsieve:::read_where("`age in years` > 15.5"), odd)
  expect_identical(held_odd, c(FALSE, TRUE, TRUE))
})

test_that("what is no comparison is refused where it stands, and never run", {
  q <- motives()
  touched <- withr::local_tempfile()
  tries <- c(sprintf("file.create('%s')", touched), sprintf("m1 > file.create('%s')", touched),
    "system(\"touch x\") = 1", "m1 >= 3; m2", "m1 >=", "m1 in 1, 2", "m1 in (1, 2", "(m1 = 1",
    "m1 = 1 m2 = 2", "(m1) = 2", "m1 is odd", "and", "", "m1 ~ 2", "m1 = {1}", "`m1", "m1 = \"a")
  for (where in tries) {
    expect_error(keep_people(q, where = where), class = "softsieve_error_condition")
  }
  expect_false(file.exists(touched))
  expect_error(keep_people(q, where = "m11 = 2"), "Did you mean \"m1\"")
  expect_error(keep_people(q, where = "cafee = 2"), "no column \"cafee\"")
  expect_error(keep_people(q, where = "cafe > 2"), "Only numbers are less or more")
  expect_error(keep_people(q, where = "m1 > x"), "compared with \"x\"")
  expect_error(keep_people(q, where = "m1 = 77"), "Somebody must be left")
  expect_error(keep_people(q, where = "m1 = 1 (m2)"), "at \"(\"", fixed = TRUE)
})

test_that("a study keeps people by columns of the file, items as they are analysed", {
  dir <- demo_folder()
  answers <- read_responses(file.path(dir, "repair_cafe_answers.csv"))
  answers$age <- rep(c(17, 44), 420)
  write_table(answers, file.path(dir, "aged.csv"))
  file <- demo_study(withr::local_tempdir(), c(
    sprintf("answers: {file: '%s', id: person, filters: [age >= 18, m4 >= 4]}",
      file.path(dir, "aged.csv"))), drop = "^answers|^  (file|id|group)")
  study <- softsieve:::run_stages(read_study(file), "items", 1L, function(line) NULL)
  by_hand <- keep_people(motives(), rep(c(FALSE, TRUE), 420), m4 >= 4)
  expect_equal(study$values$questionnaire$values$answers, by_hand$values$answers)
  expect_match(study$findings$text, "age >= 18 and m4 >= 4", all = FALSE)
  bad <- demo_study(withr::local_tempdir(), c(
    "answers: {file: repair_cafe_answers.csv, filters: 'unlink(\"x\")'}"
  ), drop = "^answers|^  (file|id|group)")
  expect_error(run_study(bad), class = "softsieve_error_condition")
})

test_that("errors name file, line, key, what was expected and the nearest word", {
  said <- function(...) {
    file <- local_file(c(...), ".yml")
    tryCatch(read_study(file), softsieve_error = function(e) e)
  }
  one <- said("title: x", "", "answers:", "  file: a.csv", "factors:", "  rotation: oblimn")
  expect_match(conditionMessage(one), "line 6: `factors.rotation` must be one of", fixed = TRUE)
  expect_match(conditionMessage(one), "Did you mean \"oblimin\"")
  two <- said("answers: {file: a.csv}", "# rotation: x", "factors: {starts: 5,", "  rotation: vx}")
  expect_identical(two$line, 4L)
  three <- said("answers: {file: a.csv}", "factors:", "  number: 2", "  metod: ml")
  expect_match(conditionMessage(three), "line 4: `factors` may hold", fixed = TRUE)
  expect_match(conditionMessage(three), "Did you mean \"method\"")
  four <- said("answers: {file: a.csv}", "decisions:", "- drop: o1", "- keep: o2", "  wy: x")
  expect_match(conditionMessage(four), "line 5: `decisions[2]` may hold", fixed = TRUE)
  five <- said("answers: {file: a.csv}", "decisions:", "  - name: F1", "    why: x")
  expect_match(conditionMessage(five), "line 3: `decisions[1]` must say `as`", fixed = TRUE)
  six <- said("answers: {file: a.csv}", "decisions: [{drop: a, keep: b}]")
  expect_match(conditionMessage(six), "must hold one of: drop, keep", fixed = TRUE)
  seven <- said("answers: {file: a.csv}", "decisions: {drop: a}")
  expect_match(conditionMessage(seven), "line 2: `decisions` must be a list", fixed = TRUE)
})

test_that("decisions are in force, with their reasons, and are kept in the file", {
  dir <- demo_folder()
  file <- file.path(dir, "repair_cafe_study.yml")
  study <- change_study(read_study(file), scales.replicates = 0, factors.replicates = 60)
  study <- decide(study, drop = c("o1", "o2"), why = "no motives", who = "the board",
    when = "today")
  study <- decide(study, number = 3, why = "as planned")
  study <- decide(study, name = "F2", as = "thrift: and \"care\"", why = "its items")
  write_study(study)
  lines <- readLines(file)
  # the comments of the file are all still there
  old <- readLines(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
  expect_true(all(old[grepl("#", old)] %in% lines))
  again <- read_study(file)
  expect_identical(again$settings$decisions, study$settings$decisions)
  ran <- run_study(again)
  expect_false(any(c("o1", "o2") %in% rownames(coef(ran$values$solution))))
  expect_identical(colnames(coef(ran$values$solution)), c("F1", "thrift: and \"care\"", "F3"))
  trail <- ran$values$trail
  expect_identical(trail$by[trail$decision == "drop"], "person")
  expect_identical(trail$who[trail$decision == "drop"], "the board")
  expect_identical(trail$when[trail$decision == "drop"], "today")
  expect_identical(trail$by[trail$decision == "factors.method"], "default")
  expect_identical(trail$by[trail$decision == "factors.rotation"], "person")
  # numbers of the last run stand beside what is decided then
  more <- decide(ran, reverse = "p4")
  expect_match(more$settings$decisions[[4]]$numbers, "p4: communality .*largest loading")
  number <- decide(ran, number = 4)
  expect_match(number$settings$decisions[[4]]$numbers, "parallel analysis suggests")
  expect_error(decide(study, dorp = "x"), "Did you mean \"drop\"", class = "softsieve_error_study")
  expect_error(decide(study, name = "F1"), "must say `as`", class = "softsieve_error_study")
  expect_error(change_study(study, factors.rotaton = "varimax"), "Did you mean")
  expect_error(change_study(study, factors.rotation = "vx"), class = "softsieve_error_study")
})

test_that("what is dropped, kept and put back goes through the sifting", {
  dir <- demo_folder()
  file <- file.path(dir, "repair_cafe_study.yml")
  study <- change_study(read_study(file), sift.run = TRUE, factors.number = 4,
    scales.replicates = 0, factors.replicates = 60)
  plain <- run_study(study)
  gone <- setdiff(colnames(motives()$values$answers), plain$values$sift$values$left)
  expect_gt(length(gone), 0)
  study <- decide(study, drop = "m1", why = "too long")
  study <- decide(study, restore = gone[1], why = "we need it")
  study <- decide(study, keep = gone[2])
  ran <- run_study(study)
  left <- ran$values$sift$values$left
  expect_true(all(gone[1:2] %in% left))
  expect_false("m1" %in% left)
  trail <- ran$values$trail
  expect_true(any(trail$by == "rule" & startsWith(trail$decision, "removed")))
  expect_match(trail$why[startsWith(trail$decision, "restored")], "we need it")
  # an item that is decided to be reversed is reverse-scored
  turned <- decide(read_study(file), reverse = "m1")
  turned <- softsieve:::run_stages(turned, "questionnaire", 1L, function(line) NULL)
  expect_equal(turned$values$questionnaire$values$answers[, "m1"],
    6 - motives()$values$answers[, "m1"])
  # dropped and restored again: as if nothing had been decided
  back <- decide(decide(read_study(file), drop = "m1"), restore = "m1")
  expect_length(softsieve:::settings_in_force(back$settings)$by_hand$drop, 0)
})

test_that("a file is edited where it stands, in blocks, braces and lists", {
  edit <- function(lines, name, value) softsieve:::edit_entry(lines, name, value)
  lines <- c("# top", "a: 1 # one", "factors:   # the factors", "  number: 4 # four", "", "  # how",
    "  rotation: oblimin", "", "# the end", "scales: {replicates: 60} # few", "seed: 1")
  expect_identical(edit(lines, "factors.number", 5L)[4], "  number: 5 # four")
  expect_identical(edit(lines, "factors.method", "ml")[7:8],
    c("  rotation: oblimin", "  method: ml"))
  expect_identical(edit(lines, "factors.rotation", NULL), lines[-7])
  expect_identical(edit(lines, "scales.level", 0.9)[10:12],
    c("scales: # few", "  replicates: 60", "  level: 0.9"))
  expect_identical(edit(lines, "seed", 2L)[11], "seed: 2")
  listed <- c("answers:", "  items:", "  - m1 # first", "  - m2", "  id: person")
  expect_identical(edit(listed, "answers.items", list("t1", "t2"))[c(1, 5)],
    c("answers:", "  id: person"))
  # random changes, one after the other, always read back as what was meant
  dir <- demo_folder()
  file <- file.path(dir, "repair_cafe_study.yml")
  withr::local_seed(7)
  study <- read_study(file)
  choices <- list(factors.rotation = c("varimax", "oblimin", "geomin"), factors.number = 1:5,
    seed = 1:9, pattern.sort = c("size", "factor"),
    answers.items = list(c("m1", "m2", "t1", "t2"), "m1"),
    factors.names = list(c(F1 = "a: b"), c(F2 = "# c", F1 = "yes")), title = c("no", "a 'b' \"c\""))
  for (i in 1:40) {
    name <- sample(names(choices), 1)
    value <- sample(choices[[name]], 1)[[1]]
    if (runif(1) < .2 && name != "answers.items") value <- NULL
    study <- do.call(change_study, c(list(study), stats::setNames(list(value), name)))
    write_study(study)
    again <- read_study(file)
    way <- strsplit(name, ".", fixed = TRUE)[[1]]
    expect_equal(again$settings[[way]], study$settings[[way]], info = paste(i, name))
    expect_match(readLines(file)[1], "# A softsieve study: run it with", fixed = TRUE)
    study <- again
  }
})

test_that("what was done by hand becomes a study that repeats it", {
  dir <- demo_folder()
  at <- function(name) file.path(dir, name)
  data <- read_responses(at("repair_cafe_answers.csv"))
  book <- read_codebook(at("repair_cafe_codebook.csv"))
  q <- questionnaire(data, codebook = book, id = person, group = cafe)
  q <- keep_items(keep_people(q, cafe != "Harbour" & !is.na(m1)), -c(o1, o2))
  r <- correlate_items(q, kind = "spearman")
  extracted <- extract_factors(r, 4, method = "ml")
  solution <- rotate_factors(extracted, "geomin", delta = .02, starts = 7, seed = 3)
  solution <- name_factors(solution, c(F1 = "one"))
  scales <- form_scales(solution, salient = .35)
  reliability <- assess_reliability(scales, q, replicates = 30, seed = 5)
  scores <- score_respondents(solution, q, method = "bartlett")
  study <- study_of(solution, reliability, scores, scales, answers = at("repair_cafe_answers.csv"),
    codebook = at("repair_cafe_codebook.csv"))
  write_study(study, at("by_hand.yml"))
  ran <- run_study(change_study(read_study(at("by_hand.yml")), factors.replicates = 60))
  expect_equal(ran$values$solution$values$loadings, solution$values$loadings)
  expect_equal(as_tibble(ran$values$scores), as_tibble(scores))
  expect_equal(ran$values$reliability$values$intervals, reliability$values$intervals)
  # a sifting too, with what people did
  sifted <- sift_items(q, sift_rules(communality = .3, cross_loading = FALSE), factors = 4,
    keep = "p6", drop_first = c(m6 = "long"), seed = 4)
  study <- study_of(sifted, answers = at("repair_cafe_answers.csv"),
    codebook = at("repair_cafe_codebook.csv"))
  study <- change_study(study, factors.replicates = 60, scales.replicates = 0)
  expect_equal(run_study(study)$values$sift$values$trail, sifted$values$trail)
  # in whatever order results are given, and no further than a person let it go
  stopped <- sift_items(q, sift_rules(communality = .5), factors = 4, seed = 4, ask = local({
    asked <- 0
    function(question) {
      asked <<- asked + 1
      if (asked > 1) "stop" else "yes"
    }
  }))
  study <- study_of(form_scales(stopped$values$solution), stopped$values$solution, stopped,
    answers = at("repair_cafe_answers.csv"), codebook = at("repair_cafe_codebook.csv"))
  expect_length(study$settings$answers$items, ncol(q$values$answers))
  expect_identical(study$settings$sift$passes, 1L)
  # what no file can say is refused
  expect_error(study_of(answers = at("repair_cafe_answers.csv")), class = "softsieve_error_class")
  odd <- keep_people(q, nchar(cafe) > 4)
  expect_error(study_of(odd, answers = at("repair_cafe_answers.csv")), "can only say comparisons",
    class = "softsieve_error_study")
  expect_error(
    study_of(solution, rotate_factors(extract_factors(r, 4), "varimax", seed = 3),
      answers = at("repair_cafe_answers.csv")),
    "must agree", class = "softsieve_error_study")
})

# What a study of these results says, by entry.
said_by_study <- function(..., answers, codebook) {
  s <- study_of(..., answers = answers, codebook = codebook)$settings
  setNames(lapply(strsplit(s$written, ".", fixed = TRUE), function(way) s[[way]]), s$written)
}

# Every argument of every stage, each with a value that is not its default: what a study of it says.
test_that("every argument of every stage is said by a study of it, or refused", {
  dir <- demo_folder()
  file <- file.path(dir, "repair_cafe_answers.csv")
  book <- file.path(dir, "repair_cafe_codebook.csv")
  base <- list(read_responses(file), codebook = read_codebook(book), id = "person", group = "cafe")
  q <- do.call(questionnaire, base)
  few <- keep_items(q, m1:t6)
  solution <- factor_solution(few, 2, seed = 1, starts = 2)
  scales <- form_scales(solution)
  said <- function(result) said_by_study(q, result, answers = file, codebook = book)
  # (errors show the call, so that it is made of names)
  called <- function(verb, asked) {
    space <- list2env(setNames(asked, paste0("value", seq_along(asked))), envir = new.env())
    assign("verb", get(verb, asNamespace("softsieve")), envir = space)
    for (i in which(lengths(asked) > 1)) asked[[i]] <- as.name(paste0("value", i))
    eval(as.call(c(list(as.name("verb")), asked)), space)
  }
  # argument = list(value, entry that says it; none: it must be refused)
  tried <- function(verb, first, fixed, ...) {
    checked <- list(...)
    for (name in names(checked)) {
      value <- checked[[name]][[1L]]
      entry <- checked[[name]][-1L]
      asked <- c(first, fixed, setNames(list(value), name))
      result <- called(verb, asked)
      what <- sprintf("%s(%s =)", verb, name)
      if (!length(entry)) {
        expect_error(said(result), class = "softsieve_error_study", label = what)
      } else {
        expect_equal(unlist(said(result)[[entry[[1L]]]]), unlist(value), info = what)
      }
    }
    # nothing is forgotten here
    silent <- c("x", "data", "scales", "solution", "...", "threads", "ask", "into", "keep", "rows",
      "factors", "rules", "reliability", "units", "target", "optimum", "drop_first")
    silent <- c(silent, names(fixed), if (verb == "extract_factors") "seed")
    takes <- names(formals(get(verb, asNamespace("softsieve"))))
    expect_identical(setdiff(takes, c(silent, names(checked), names(first))), character())
  }
  tried("correlate_items.questionnaire", list(q), list(),
    kind = list("spearman", "correlations.kind"),
    missing = list("complete", "correlations.missing"), repair = list(FALSE, "correlations.repair"),
    continuous_from = list(7L, "correlations.continuous_from"))
  tried("count_factors", list(few), list(replicates = 20L),
    basis = list("factors", "factors.basis"), chance = list("resampled", "factors.chance"),
    reference = list("mean", "factors.reference"), percentile = list(90, "factors.percentile"),
    sequential = list(TRUE, "factors.sequential"), most = list(6L, "factors.most"),
    share = list(.5, "factors.share"), plausible = list(.9, "factors.plausible"),
    seed = list(7L, "seed"))
  tried("extract_factors", list(few, 2), list(), method = list("ml", "factors.method"),
    analyse = list("covariances", "factors.analyse"),
    lowest_uniqueness = list(.01, "factors.lowest_uniqueness"),
    starts = list(3L, "factors.extraction_starts"))
  tried("rotate_factors", list(extract_factors(few, 2)), list(),
    rotation = list("geomin", "factors.rotation"), oblique = list(FALSE, "factors.oblique"),
    normalization = list("kaiser", "factors.normalization"), starts = list(4L, "factors.starts"),
    seed = list(8L, "seed"))
  tried("sift_items", list(few), list(factors = 2), keep = list("m1", "sift.keep"),
    passes = list(1L, "sift.passes"), method = list("ml", "factors.method"),
    rotation = list("geomin", "factors.rotation"), starts = list(3L, "sift.starts"),
    if_too_few_items = list("stop", "sift.if_too_few_items"),
    replicates = list(30L, "sift.replicates"), seed = list(9L, "seed"))
  tried("pattern_table", list(solution), list(), hide_below = list(.2, "pattern.hide_below"),
    sort = list("questionnaire", "pattern.sort"), structure = list(TRUE, "pattern.structure"),
    weak_below = list(.4, "pattern.weak_below"),
    cross_loading_from = list(.2, "pattern.cross_loading_from"),
    cross_loading_within = list(.1, "pattern.cross_loading_within"),
    communality_below = list(.3, "pattern.communality_below"))
  tried("form_scales", list(solution), list(), salient = list(.4, "scales.salient"),
    standardise = list(TRUE, "scales.standardise"),
    cross_loading = list("highest", "scales.cross_loading"), weak = list("highest", "scales.weak"),
    moved = list(c(t1 = "F1"), "scales.moved"))
  tried("assess_reliability", list(scales, few), list(replicates = 0L),
    target = list(.9, "scales.target"), level = list(.9, "scales.level"), seed = list(6L, "seed"),
    by = list("cafe"), again = list(few))
  for (of in c("scores", "scale_scores")) {
    at <- function(key) paste0(of, ".", key)
    scored <- if (of == "scores") list(solution, few) else list(scales, few)
    own <- list(method = list(if (of == "scores") "bartlett" else "sum", at("method")),
      missing = list("none", at("missing")), answered_share = list(.7, at("answered_share")),
      answered_least = list(2L, at("answered_least")), errors = list(TRUE, at("errors")),
      level = list(.9, at("level")))
    beside <- list(also = list("t_score", at("also")), by = list("cafe", at("by")),
      norms = list(score_respondents(scored[[1]], few, also = "t_score")))
    do.call(tried, c(list("score_respondents", scored, list()), own, beside))
  }
  expect_setequal(unlist(said(count_factors(few, rules = "hull", replicates = 20))$factors.rules),
    c("parallel", "hull"))
})

test_that("what no study file can say is refused, and what it says of answers is what they were", {
  dir <- demo_folder()
  file <- file.path(dir, "repair_cafe_answers.csv")
  book <- file.path(dir, "repair_cafe_codebook.csv")
  base <- list(read_responses(file), codebook = read_codebook(book), id = "person", group = "cafe")
  q <- do.call(questionnaire, base)
  solution <- factor_solution(keep_items(q, m1:t6), 2, seed = 1, starts = 2)
  said <- function(...) said_by_study(q, ..., answers = file, codebook = book)
  # what stages of studies do not do
  for (other in list(
    profile_items(q, by = "cafe"), profile_respondents(q, distance_p = .01),
    assess_factorability(q, least = .6), loading_stability(solution, replicates = 20, seed = 1)
  )) expect_error(said(other), "able to say", class = "softsieve_error_study")
  expect_type(said(profile_items(q), profile_respondents(q), assess_factorability(q)), "list")
  # and categories, weights and conditions on columns kept apart, run again
  data <- few_answers()
  data$age <- 18:167
  data$w <- rep(c(.5, 1, 2), 50)
  path <- file.path(dir, "few.csv")
  utils::write.csv(data, path, row.names = FALSE, na = "")
  read <- read_responses(path)
  made <- list(questionnaire(read, m1:t4, categories = cafe),
    questionnaire(read, m1:t4, weight = w, reversed = m4, ends = c(1, 5), missing_codes = 9),
    keep_people(questionnaire(read, m1:t4, group = cafe), age >= 30, cafe != "Harbour"))
  for (one in made) {
    again <- softsieve:::questionnaire_of_study(study_of(one, answers = path)$settings)
    expect_identical(again$source$fingerprint, one$source$fingerprint)
    expect_identical(again$values$items$item, one$values$items$item)
  }
  # people who were left out before the questionnaire are not in the file
  some <- base
  some[[1L]] <- some[[1L]][some[[1L]]$cafe != "Harbour", ]
  expect_error(study_of(do.call(questionnaire, some), answers = file, codebook = book),
    "of 727 people.*gives 840 people", class = "softsieve_error_study")
})

test_that("a study stops at the stage that cannot go on, keeps what is done, and goes on", {
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  write("decisions: [{name: F9, as: x}]", file, append = TRUE)
  stages <- character()
  out <- file.path(dir, "results")
  expect_warning(
    study <- run_study(file, watch = function(line) stages <<- c(stages, line), folder = out),
    "stopped at extracting and rotating factors.*No factor is called F9",
    class = "softsieve_warning_stopped")
  expect_true(all(c("items", "count") %in% names(study$values)))
  expect_null(study$values$solution)
  expect_identical(study$findings$severity[study$findings$code == "study_stopped"], "serious")
  write_results(study, out)
  expect_true(file.exists(file.path(out, "report.html")))
  expect_false(file.exists(file.path(out, "scores.csv")))
  writeLines(sub("F9", "F1", readLines(file)), file)
  counted <- file.mtime(file.path(out, "stages", "count.json"))
  good <- run_study(file, folder = out)
  expect_identical(file.mtime(file.path(out, "stages", "count.json")), counted)
  fresh <- run_study(file)
  plain <- function(x) {
    x <- unclass(x)[c("values", "settings", "findings")]
    x$values$item_correlations <- NULL
    x
  }
  for (name in setdiff(names(fresh$values), "trail")) {
    expect_identical(plain(good$values[[name]]), plain(fresh$values[[name]]), info = name)
  }
})

test_that("stored stages hold no answers, and are not taken when anything before them changed", {
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  write("sift: {run: true, communality: 0.4}", file, append = TRUE)
  out <- file.path(dir, "results")
  first <- run_study(file, folder = out)
  stored <- list.files(file.path(out, "stages"), full.names = TRUE)
  for (one in stored) {
    expect_no_match(readLines(one), "\"answers\":\\{\"(numbers|whole)")
  }
  marks <- function() tools::md5sum(stored)
  before <- marks()
  # nothing changed: nothing is written, and a sifting goes on as it would have
  again <- run_study(file, folder = out)$values$sift
  expect_identical(marks(), before)
  goes_on <- function(sift) sift_remove(sift, "m2", "asked twice")$values[c("trail", "left")]
  expect_identical(goes_on(again), goes_on(first$values$sift))
  # another number changes the solution and what follows, not what came before
  run_study(change_study(read_study(file), factors.number = 1), folder = out)
  changed <- sub("[.]json$", "", basename(stored[marks() != before]))
  expect_true(all(c("scores", "scales") %in% changed))
  expect_false(any(c("items", "correlations", "count") %in% changed))
  # one answer changes everything
  answers <- readLines(file.path(dir, "answers.csv"))
  answers[2] <- answers[3]
  writeLines(answers, file.path(dir, "answers.csv"))
  now <- run_study(file, folder = out)
  expect_identical(now$values$count$values, run_study(file)$values$count$values)
  # what is stored and was spoiled is worked out anew, never run
  touched <- withr::local_tempfile()
  for (one in stored) writeLines(sprintf("{\"key\": !expr file.create('%s')", touched), one)
  expect_identical(run_study(file, folder = out)$values$count$values, now$values$count$values)
  expect_false(file.exists(touched))
})

test_that("named factors take up what was computed, and are told by their names alone", {
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  writeLines(sub("scales: {replicates: 0}", "scales: {replicates: 40}", readLines(file),
    fixed = TRUE), file)
  out <- file.path(dir, "results")
  run_study(file, folder = out)
  trust <- file.path(out, "stages", "reliability.json")
  computed <- file.mtime(trust)
  # a name may be any word
  named <- change_study(read_study(file),
    factors.names = list(F1 = "items", F2 = "Learning (skills)"))
  taken <- run_study(named, folder = out)
  expect_identical(file.mtime(trust), computed)
  fresh <- run_study(named)
  same <- c("values", "settings", "findings", "source")
  for (name in c("reliability", "scales", "scores", "scale_scores")) {
    expect_identical(taken$values[[name]][same], fresh$values[[name]][same], info = name)
  }
  told <- taken$values$scores$findings$text
  expect_match(told, "Scores on Learning (skills)", fixed = TRUE, all = FALSE)
  # an item that is called as a factor was: nothing is put in its place
  for (one in c("answers", "codebook")) {
    path <- file.path(dir, sprintf("%s.csv", one))
    writeLines(gsub("\\bm1\\b", "F1", readLines(path)), path)
  }
  run_study(file, folder = out)
  again <- run_study(named, folder = out)$values$reliability
  expect_identical(again$values$items, run_study(named)$values$reliability$values$items)
  expect_true("F1" %in% again$values$items$item)
})
