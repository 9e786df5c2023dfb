# Families: one entry a method, and everything derives from it.

core <- function(name) getFromNamespace(name, "softsieve")

FAMILIES <- c("KINDS", "MISSING_METHODS", "BASES", "REFERENCE_LEVELS", "CHANCE_DATA", "RULES",
  "EXTRACTIONS", "ROTATIONS", "NORMALIZATIONS", "SCORE_METHODS", "FORMULAS", "SIFTING_RULES",
  "COEFFICIENTS", "WRITERS", "READERS", "SECTIONS", "VERBS", "STAGES", "DECISIONS", "PAPERS",
  "SOURCES", "ENGINES")

test_that("every entry of a family has its name, a label, and a paper that is known in full", {
  by_class <- c(core("FIGURES"), core("all_tables")())
  all <- c(stats::setNames(lapply(FAMILIES, core), FAMILIES), unname(by_class),
    list(findings = core("finding_kinds")(), languages = core("languages")()))
  for (i in seq_along(all)) {
    family <- names(all)[i]
    expect_gt(length(all[[i]]), 0, label = family)
    expect_identical(names(all[[i]]), unname(vapply(all[[i]], `[[`, "", "name")), label = family)
    expect_identical(anyDuplicated(names(all[[i]])), 0L, label = family)
    for (one in all[[i]]) {
      where <- paste(family, one$name)
      label <- if (is.function(one$label)) one$label() else one$label
      # a stage that stands with the one before it says nothing
      expect_true(nzchar(label) || family == "STAGES", label = where)
      if (is.null(one$reference) || is.na(one$reference)) next
      expect_true(one$reference %in% names(core("paper_specs")()), label = where)
    }
  }
})

test_that("the core's measures are those that have a spec", {
  s <- crossprod(matrix(rnorm(300), 100))
  measured <- names(core("cpp_measure_covariances")(s, rep(1L, 3)))
  expect_identical(measured, names(core("COEFFICIENTS")))
})

test_that("a toy rotation is checked, run, offered to studies and cited, by its spec alone", {
  local_entry("ROTATIONS", "toymax", label = "a toy", reference = "Kaiser (1958)", oblique = FALSE,
    both = FALSE, axes = FALSE, starts_orthogonal = FALSE,
    parameters = list(tilt = core("parameter")("number", "how far", 0, 1, 0.5)),
    settle = function(asked, unrotated, call) asked,
    request = function(p, k, asked) core("core_request")("crawford-ferguson", asked$tilt),
    finish = function(turned, asked) turned)
  s <- extract_factors(motives(), 3)
  x <- rotate_factors(s, "toymax", tilt = 0.1, starts = 5, seed = 1)
  twin <- rotate_factors(s, "crawford_ferguson", kappa = 0.1, starts = 5, seed = 1)
  expect_equal(coef(x), coef(twin))
  expect_identical(x$settings$tilt, 0.1)
  expect_output(print(x), "a toy")
  expect_error(rotate_factors(s, "toymax", tilt = 2), "from 0 to 1",
    class = "softsieve_error_argument")
  expect_error(rotate_factors(s, "varimax", tilt = 0), "`tilt` is for toymax")
  expect_identical(factor_solution(motives(), 3, rotation = "toymax", seed = 1)$settings$tilt, 0.5)
  schema <- core("study_schema")()$properties$factors$properties
  expect_true("toymax" %in% schema$rotation$enum)
  expect_identical(schema$tilt$maximum, 1)
  study <- read_study(local_file(
    c("answers: {file: a.csv}", "factors: {rotation: toymax, tilt: 0.2}"), ".yml"))
  expect_identical(study$settings$factors$tilt, 0.2)
})

test_that(
  "toy scores are offered, checked, with and without missing answers, and written as formulas", {
  local_entry("SCORE_METHODS", "salient_sum", label = "sums of salient items", of = "factors",
    missing = "best_weights", needs = character(),
    weights = function(model) (abs(model$loadings) >= .4) + 0, rebuilds = FALSE)
  q <- motives(items = m1:t6)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  scored <- score_respondents(s, q, "salient_sum", errors = TRUE)
  z <- scale(q$values$answers)
  z[is.na(z)] <- 0
  expect_equal(as_tibble(scored)$F1, unname(rowSums(z[, abs(coef(s)[, "F1"]) >= .4])),
    tolerance = 1e-6)
  expect_output(print(scored), "sums of salient items")
  expect_equal(score_formula(s, "salient_sum")$values$standardised, (abs(coef(s)) >= .4) + 0)
  expect_error(score_respondents(s, q, "salient_sum", missing = "none"),
    class = "softsieve_error_argument")
})

test_that("a toy rule of sifting is looked at, offered to studies and told", {
  local_entry("SIFTING_RULES", "first_letter", label = "place of its first letter",
    stage = "correlations", limit = 5, lowest = 0, highest = 30, breaks = "below",
    measure = function(state, asked) match(substr(state$items, 1, 1), letters), parameters = list(),
    digits = 0L)
  q <- motives(items = m1:t6)
  expect_true("first_letter" %in% as_tibble(sift_rules())$rule)
  x <- sift_items(q, sift_rules(first_letter = 14, order = "first_letter"), factors = 2, passes = 2,
    seed = 1)
  t <- as_tibble(x)
  expect_identical(t$rule[1:2], c("first_letter", "first_letter"))
  expect_match(t$item[1], "^m")
  expect_true("first_letter" %in% names(core("study_schema")()$properties$sift$properties))
})

test_that("a toy way of writing formulas is offered and takes its parameters", {
  local_entry("FORMULAS", "prose", label = "prose",
    parameters = list(mark = core("parameter")("text", "what stands between", default = ",")),
    write = function(formula, data, asked) {
      paste(rownames(formula$values$weights), collapse = asked$mark)
    })
  f <- score_formula(factor_solution(motives(items = m1:m4), 1, seed = 1))
  expect_identical(formula_code(f, "prose"), "m1,m2,m3,m4")
  expect_identical(formula_code(f, "prose", mark = "-"), "m1-m2-m3-m4")
  expect_error(formula_code(f, "sql", mark = "-"), "`mark` is for prose")
})

test_that("a toy method of extraction is checked, run and offered to studies", {
  local_entry("EXTRACTIONS", "toy_axes", label = "toy axes", model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core("core_one_step")(s, core("core_axis_step")(s, k, start))
    },
    power = 0, scale_free = FALSE, fits_variance = FALSE, weights = FALSE, tested = FALSE)
  x <- extract_factors(motives(), 3, method = "toy_axes")
  expect_equal(coef(x), coef(extract_factors(motives(), 3, method = "principal_axis_once")))
  expect_output(print(x), "toy axes")
  expect_true("toy_axes" %in% core("study_schema")()$properties$factors$properties$method$enum)
})

test_that("a toy coefficient is measured, printed and drawn", {
  local_entry("COEFFICIENTS", "toy_ratio", label = "toy ratio", reference = NA_character_,
    assumes = "nothing at all", drawn = TRUE,
    measure = function(covariances) sum(diag(covariances)) / sum(covariances))
  x <- assess_reliability(list(thrift = paste0("t", 1:6)), motives(), replicates = 30, seed = 1)
  c <- x$values$coefficients
  s <- correlate_items(keep_items(motives(), t1:t6))$values
  s <- s$correlations * (s$items$sd %o% s$items$sd)
  expect_equal(c$estimate[c$coefficient == "toy_ratio"], sum(diag(s)) / sum(s))
  expect_false(is.na(c$lower[c$coefficient == "omega"]))
  expect_output(print(summary(x)), "toy ratio: nothing at all")
  drawn <- ggplot2::ggplot_build(ggplot2::autoplot(x))
  expect_true("toy ratio" %in% levels(drawn$plot$data$label))
})

test_that("toy chance data, a toy rule and a toy kind of finding are taken by their names", {
  local_entry("CHANCE_DATA", "toy", label = "toys",
    refuses = function(correlations, x) NULL,
    draw = function(correlations, basis, seed, threads) {
      function(first, count, progress, root) matrix(c(2, 1.5, 1), 3, count)
    })
  x <- parallel_analysis(known_correlations()[1:3, 1:3], n = 100, chance = "toy", replicates = 20)
  expect_identical(x$values$eigenvalues$chance_upper, c(2, 1.5, 1))
  expect_true("toy" %in% core("study_schema")()$properties$factors$properties$chance$enum)
  local_entry("RULES", "toy_rule", label = "always two", pearson = FALSE, misleads = "Always.",
    judge = function(e) list(suggested = 2L, reason = "it is a toy", table = NULL))
  count <- count_factors(motives(), rules = "toy_rule", replicates = 20, seed = 1)
  expect_identical(as_tibble(count)$suggested[2], 2L)
  expect_identical(ncol(coef(extract_factors(motives(), "toy_rule", seed = 1))), 2L)
  found <- core("FOUND")
  before <- core("finding_kinds")()
  withr::defer(found$findings <- before)
  found$findings$toy_found <- list(name = "toy_found", text = "A toy was found in %s.",
    stage = "toys", severity = "note", meaning = "Put it back.")
  expect_identical(core("new_finding")("toy_found", "F1")$text, "A toy was found in F1.")
  expect_true("toy_found" %in% catalogue_table("findings")$code)
})

test_that("a toy kind of correlation, toy row weights, a toy basis and reference are taken", {
  toy <- core("KINDS")$spearman
  toy[c("name", "label")] <- list("toy_ranks", "toy ranks")
  do.call(local_entry, c(list("KINDS"), toy))
  q <- keep_items(motives(), m1:t6)
  x <- correlate_items(q, kind = "toy_ranks")
  expect_equal(x$values$correlations, correlate_items(q, kind = "spearman")$values$correlations)
  expect_output(print(x), "Toy ranks")
  properties <- core("study_schema")()$properties
  expect_true("toy_ranks" %in% properties$correlations$properties$kind$enum)
  local_entry("NORMALIZATIONS", "first", label = "the first item twice",
    weights = function(loadings) c(2, rep(1, nrow(loadings) - 1)))
  s <- extract_factors(q, 2)
  turn <- function(rows) coef(rotate_factors(s, normalization = rows, starts = 5, seed = 1))
  expect_gt(max(abs(turn("first") - turn("none"))), 1e-4)
  expect_true("first" %in% core("study_schema")()$properties$factors$properties$normalization$enum)
  local_entry("REFERENCE_LEVELS", "toy_level", label = "the mean, by another name", level = "mean",
    error = "mean_error", column = "chance_mean")
  by <- function(level) {
    parallel_analysis(q, reference = level, replicates = 20, seed = 1)$values$eigenvalues
  }
  expect_identical(by("toy_level"), by("mean"))
})

test_that("a toy figure, table, writer and reader serve whoever asks for them", {
  q <- motives()
  f <- assess_factorability(q)
  local_entry("FIGURES", "toy", class = "factorability", label = "a toy",
    draw = function(object) ggplot2::ggplot() + ggplot2::labs(title = "toy"), file = "toy.png")
  expect_identical(ggplot2::autoplot(f, "toy")$labels$title, "toy")
  expect_error(plot(f, "toi"), "Did you mean \"toy\"")
  expect_match(core("describe_figures")(), "a toy")
  local_entry("PROFILE_TABLES", "toy", class = "factorability", label = "Toys", file = "toys",
    data = function(x) data.frame(toy = 1:2),
    columns = function(x) {
      list(toy = core("units")(c(0.5, 0.25)), more = core("roomy")(core("words")(c("a", "b"))))
    })
  expect_identical(core("table_text")(f, "toy", titled = TRUE),
    c("", "  Toys", "  toy  more", "  .50  a", "  .25  b"))
  block <- core("show_table")(f, "toy")[[1]]
  context <- core("html_context")(list(values = list(questionnaire = motives())), "a",
    core("new_counts")())
  expect_match(as.character(core("html_table")(block, context)[[1]]), "<b>Table 1.</b>\\s+Toys")
  # what is roomy has no place on a terminal
  made <- data.frame(toy = c(".50", ".25"), more = c("a", "b"))
  expect_identical(core("tables_for_word")(f)$Toys$frame, made)
  file <- withr::local_tempfile(fileext = ".csv")
  write_table(f, file, what = "toy")
  expect_identical(readLines(file), c("toy", "1", "2"))
  local_entry("WRITERS", "toy", label = "toy files", write = function(x, what, path, call) {
    writeLines("toy", path)
  })
  file <- withr::local_tempfile(fileext = ".toy")
  write_table(f, file)
  expect_identical(readLines(file), "toy")
  local_entry("READERS", "toy", label = "toys", endings = "toy", read = function(file, asked,
      call) {
    list(data = tibble::tibble(a = c("1", "2"), b = c("2", "1")), how = "toys", findings = NULL)
  })
  expect_equal(read_responses(file)$b, c(2, 1))
  expect_match(core("study_form")()$properties$answers$properties$file$description, "toys")
})

test_that("a toy mark is found, limited, explained and told", {
  local_entry("MARKS", "toy", label = "begins with m", reference = "Horn (1965)",
    limits = "weak_below",
    find = function(solution, limits) {
      first <- core("largest_loadings")(solution)$first
      first[grepl("^m", names(first))]
    },
    limit = function(solution, limits, items) 9, rule = function(limits) "a toy rule",
    told = "no_salient_loading",
    words = function(solution, items, values, limits) list(items, "9"))
  p <- pattern_table(factor_solution(keep_items(motives(), m1:t6), 2, seed = 1, starts = 2))
  expect_match(p$values$table$marks[p$values$table$item == "m1"], "toy")
  own <- p$values$marks[p$values$marks$mark == "toy", ]
  expect_identical(own$source, rep("Horn (1965)", 6))
  expect_identical(own$limit, rep(9, 6))
  expect_match(capture.output(print(p)), "toy: a toy rule", all = FALSE)
  expect_identical(sum(p$findings$code == "no_salient_loading"), 6L)
  expect_match(core("describe_marks")(), "`toy`: begins with m")
})

test_that("a toy section and verb are written and run", {
  local_entry("SECTIONS", "toy", label = "Toys", make = function(study) core("say")("a toy"))
  local_entry("VERBS", "toy", label = "play", target = "[TOY]", options = "size",
    own = list(size = core("cli_option")("size", "integer", "N", "how large")),
    example = "softsieve toy car --size 3",
    run = function(target, options) cat("played with", target, options$size, "\n"))
  dir <- withr::local_tempdir()
  study <- run_study(few_study(dir))
  report <- file.path(dir, "r.html")
  write_report(study, report)
  expect_match(page_text(report), "<h2>Toys</h2>")
  expect_output(core("cli_main")("--help"), "toy \\[TOY\\] +play")
  expect_output(core("cli_main")(c("toy", "--help")), "--size N +how large")
  expect_output(core("cli_main")(c("toy", "car", "--size", "3")), "played with car 3")
})

test_that("a toy stage, decision, paper and language are run, written and said", {
  local_entry("STAGES", "toy", label = "Playing", after = "factorability", needs = "correlations",
    run = function(s, v, threads) {
      core("new_result")("toy", list(size = nrow(v$correlations$values$items)), list(),
        core("no_findings")(), v$correlations$source, NULL)
    })
  local_entry("DECISIONS", "play", label = "what is played", type = "string",
    stage = "toys",
    apply = function(s, decision) {
      s$factors$number <- 1L
      s
    },
    numbers = function(values, decision) NULL)
  local_entry("PAPERS", "toy", label = "a toy", write = function(studies, path, file, call) {
    core("write_text")(names(core("sections_of")(studies[[1]])), path)
  })
  tongue <- core("languages")()$en
  tongue$sentences[["answers"]] <- "{people} cats, {items} mice."
  found <- core("FOUND")
  before <- found$languages
  withr::defer({
    found$languages <- before
    found$entries <- NULL
  })
  found$languages$cat <- utils::modifyList(tongue, list(name = "cat"))
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  write(c("language: cat", "decisions: [{play: ball, why: fun}]"), file, append = TRUE)
  told <- character()
  study <- run_study(file, watch = function(line) told <<- c(told, line))
  expect_identical(study$values$toy$values$size, 8L)
  expect_match(told, "Playing", all = FALSE)
  expect_identical(ncol(coef(study$values$solution)), 1L)
  trail <- study$values$trail
  expect_identical(trail$choice[trail$decision == "play"], "ball")
  write_report(study, file.path(dir, "r.toy"))
  expect_true("glossary" %in% readLines(file.path(dir, "r.toy")))
  expect_match(core("prose_of")(study)$methods, "150 cats, 8 mice", fixed = TRUE)
  expect_identical(decide(study, play = "chess")$settings$decisions[[2]]$play, "chess")
})

test_that("the schema is a JSON Schema that a validator understands, and says what we say", {
  node <- Sys.which("node")
  modules <- Sys.getenv("SOFTSIEVE_NODE_MODULES")
  skip_if(!nzchar(node) || !dir.exists(file.path(modules, "ajv")), "node and ajv are not here")
  studies <- list(list(answers = list(file = "a.csv")),
    list(answers = list(file = "a.csv", sheet = 2, group = list("cafe"))),
    list(answers = list(file = "a.csv"), factors = list(number = 3, gamma = -1)),
    list(answers = list(file = "a.csv"),
      factors = list(number = "probable", replicates = "enough")),
    list(answers = list(file = "a.csv"), seed = 5),
    list(answers = list(file = "a.csv"), decisions = list(list(drop = list("o1"), why = "x"))),
    list(answers = list(file = "a.csv"), decisions = list(list(drop = list("a"), number = 2))),
    list(answers = list(file = "a.csv"), decisions = list(list(why = "x"))),
    list(answers = list(file = "a.csv"), factors = list(names = list(F1 = "thrift"))),
    list(answers = list(file = "a.csv"), factors = list(names = list(F1 = 3))),
    list(answers = list(file = "a.csv"), factors = list(names = "thrift")),
    list(answers = list(file = "a.csv"), factors = list(number = 0)),
    list(answers = list(file = "a.csv"), factors = list(number = "many")),
    list(answers = list(file = "a.csv"), factors = list(gamma = 2)),
    list(answers = list(file = "a.csv"), colours = "red"),
    list(answers = list(file = "a.csv", group = "cafe", ends = list("a"))),
    list(answers = list(id = "person")),
    list(answers = list(file = "a.csv"), scales = list(level = 0.2)),
    list(answers = list(file = "a.csv"), correlations = list(repair = "perhaps")),
    list(title = "none"))
  ours <- vapply(studies, function(study) {
    file <- local_file(yaml::as.yaml(study), ".yml")
    !inherits(try(read_study(file), silent = TRUE), "try-error")
  }, NA)
  expect_identical(sum(ours), 7L)
  dir <- withr::local_tempdir()
  jsonlite::write_json(studies, file.path(dir, "studies.json"), auto_unbox = TRUE, digits = NA)
  writeLines(
    c("const Ajv = require('ajv/dist/2020');", "const fs = require('fs');",
      "const read = f => JSON.parse(fs.readFileSync(f));",
      "const ajv = new Ajv({strict: true, allowUnionTypes: true});",
      "const valid = ajv.compile(read(process.argv[2]));",
      "console.log(JSON.stringify(read(process.argv[3]).map(s => valid(s))));"),
    file.path(dir, "validate.js"))
  schema <- system.file("schema", "study.schema.json", package = "softsieve")
  said <- withr::with_envvar(c(NODE_PATH = modules),
    system2(node,
      shQuote(c(file.path(dir, "validate.js"), schema, file.path(dir, "studies.json"))),
      stdout = TRUE))
  expect_identical(jsonlite::fromJSON(said), ours)
})

test_that("an old name is answered with the new one, where that is what it was", {
  s <- extract_factors(correlate_items(known_correlations(), n = 200), 2)
  expect_error(rotate_factors(s, row_weights = "kaiser"), "It is called \"normalization\" now",
    class = "softsieve_error_argument")
  # the target of reliability is not that of a rotation
  said <- tryCatch(rotate_factors(s, wished = .8), softsieve_error = conditionMessage)
  expect_no_match(said, "target")
  expect_error(assess_reliability(list(a = c("m1", "m2", "m3")), motives(), wished = .8),
    "It is called \"target\" now")
})
