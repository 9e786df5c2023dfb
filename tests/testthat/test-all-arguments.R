# Every argument of every public function, varied once: what it changes is seen in what comes back,
# beside what the settings say. Only `threads` and `watch` must change nothing.

items12 <- function(...) keep_items(motives(...), m1:t6)

# The values of a result: findings tell a limit that was asked for even where nothing heeds it.
outcome <- function(x) {
  if (!inherits(x, "softsieve_result")) return(x)
  x <- unclass(x)$values
  x$questionnaire <- NULL
  x
}

# `base`: arguments of the call to compare with; `varied`: one other value for each argument. Where
# an argument needs others to matter, `with` has them, by its name.
# `refusing`: is a refusal an effect, too?
expect_effects <- function(f, base, varied, with = list(), same = character(), refusing = FALSE) {
  name <- deparse(substitute(f))
  # methods stand for their generic
  asked <- setdiff(names(formals(f)), c("...", names(base)[1]))
  expect_identical(setdiff(asked, c(names(varied), same)), character(), label = name)
  run <- function(arguments) {
    call <- function() outcome(suppressWarnings(do.call(f, arguments)))
    if (refusing) tryCatch(call(), softsieve_error = class) else call()
  }
  for (argument in names(varied)) {
    rest <- base
    rest[names(with[[argument]])] <- with[[argument]]
    other <- rest
    other[argument] <- varied[argument]
    expect_false(isTRUE(all.equal(run(rest), run(other), tolerance = 1e-12)),
      label = sprintf("%s: %s changes nothing", name, argument))
  }
}

# A file of lines in another encoding.
local_file_in <- function(encoding, lines, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  text <- paste0(paste(lines, collapse = "\n"), "\n")
  writeBin(iconv(text, "UTF-8", encoding, toRaw = TRUE)[[1]], file)
  file
}

test_that("reading: every argument has its effect", {
  file <- local_file(c("a;b", "1,5;1.000", "2,5;x", "-;3"))
  expect_effects(
    read_responses,
    list(file = file),
    list(delimiter = ",", decimal = ".", thousands = ".", encoding = "UTF-16LE", missing = "x",
      header_rows = 2),
    with = list(
      # a file of another encoding, and a header of two rows
      encoding = list(file = local_file_in("UTF-16LE", c("a,b", "1,2"))),
      thousands = list(file = local_file(c("a;b", "1.000;2", "2.000;3"))),
      decimal = list(file = local_file(c("a;b", "1,5;2", "2,5;3")))),
    same = "sheet",
    refusing = TRUE)
  sheets <- test_path("fixtures", "mending.xlsx")
  read_sheet <- function(file, sheet = "answers") read_responses(file, sheet = sheet)
  expect_effects(read_sheet, list(file = sheets), list(sheet = "codebook"))
  book <- local_file(c("item;wording", "a;x,y"))
  expect_identical(read_codebook(book)$wording, "x,y")
  expect_error(read_codebook(book, delimiter = ","), class = "softsieve_error_ragged")
  expect_identical(read_codebook(sheets, sheet = "codebook")$item[1], "w1")
  latin <- local_file_in("latin1", c("item,wording", "a,caf\u00e9"))
  expect_identical(read_codebook(latin, encoding = "latin1")$wording, "caf\u00e9")
  expect_false(identical(read_codebook(latin, encoding = "CP850")$wording, "caf\u00e9"))
})

test_that("counts of blocks: every argument has its effect", {
  data <- cbind(cafe = rep(c("a", "b"), 20), w = rep(1:2, 20), unrelated_answers(40, 4))
  data$q1[1] <- 9
  data$q2[2] <- NA
  file <- local_file(c("q1;q2", rep(c("1,5;2", "2,5;3", "1;4"), 5)))
  book <- data.frame(item = paste0("q", 1:4), lowest = 1, highest = 9)
  vary <- function(source, items = c("q1", "q2"), codebook = NULL, weight = NULL, group = NULL,
      missing = "pairwise", reversed = NULL, missing_codes = NULL, ends = NULL, random_groups = 20L,
      rows = 1e5, threads = 1, workers = 1, delimiter = NULL, decimal = NULL, encoding = NULL) {
    rlang::inject(tabulate_items(source, items = !!items, weight = !!weight, group = !!group,
      reversed = !!reversed, codebook = codebook, missing = missing, missing_codes = missing_codes,
      ends = ends, random_groups = random_groups, rows = rows, threads = threads, workers = workers,
      delimiter = delimiter, decimal = decimal, encoding = encoding))
  }
  expect_identical(names(formals(vary)), setdiff(names(formals(tabulate_items)), "..."))
  expect_effects(
    vary,
    list(source = data),
    list(items = c("q1", "q3"), codebook = book, weight = "w", group = "cafe", missing = "complete",
      reversed = "q1", missing_codes = 9, ends = c(0, 12), random_groups = 21L, rows = 10,
      delimiter = ",", decimal = ".", encoding = "UTF-16LE"),
    with = list(
      # what is first seen in a later block does not fit
      rows = list(source = data[c(2:40, 1), ]),
      delimiter = list(source = file),
      decimal = list(source = file),
      encoding = list(source = file)),
    # (that workers change nothing: test-read-database.R)
    same = c("threads", "workers"),
    refusing = TRUE)
  draw <- function(source, n = 5, columns = NULL, seed = 1, rows = 1e5, delimiter = NULL,
      decimal = NULL, encoding = NULL) {
    as.list(rlang::inject(sample_people(source, n, !!columns, seed, rows, delimiter, decimal,
      encoding)))
  }
  expect_effects(draw, list(source = data),
    list(n = 6, columns = "q1", seed = 2, delimiter = ",", decimal = ".", encoding = "UTF-16LE"),
    with = list(delimiter = list(source = file), decimal = list(source = file),
      encoding = list(source = file)),
    same = "rows", refusing = TRUE)
  tables <- vary(data, random_groups = 20L)
  expect_effects(draw_tables,
    list(tables = tables, statistic = function(r) r$values$correlations[1, 2], how = "draw",
      replicates = 20, seed = 1),
    list(statistic = function(r) r$values$correlations[1, 2]^2, how = "leave_out",
      kind = "spearman", level = .5, replicates = 30, seed = 2),
    same = c("repair", "threads"))
})

test_that("questionnaires: every argument has its effect", {
  data <- cbind(who = 1:40, cafe = rep(c("a", "b"), 20), w = rep(1:2, 20), unrelated_answers(40, 4))
  data$kind <- rep(c("x", "y"), 20)
  data$q1[1] <- 9
  book <- data.frame(item = paste0("q", 1:4), lowest = 1, highest = 9, wording = "words")
  # (columns are named by words here)
  ask <- function(data, items = paste0("q", 1:4), codebook = NULL, id = NULL, group = NULL,
      weight = NULL, out_of_range = "stop", reversed = NULL, missing_codes = NULL, ends = NULL,
      categories = NULL, indicators = "all", measured = NULL, called = NULL) {
    given <- as.list(environment())
    rlang::inject(questionnaire(!!!given))
  }
  narrow <- transform(book, highest = 5)
  expect_error(ask(data, codebook = narrow), class = "softsieve_error_out_of_range")
  expect_effects(ask, list(data = data),
    list(items = c("q1", "q2"), codebook = book, id = "who", group = "cafe", weight = "w",
      reversed = "q2", missing_codes = 9, ends = c(0, 9)),
    # (test-base-called.R and test-questionnaire-series.R have the last ones)
    same = c("out_of_range", "categories", "indicators", "measured", "called", "order", "remove",
      "period"))
  split <- ask(data, items = c("q1", "q2"), categories = "kind")
  # (of two categories one column is enough)
  expect_identical(split$values$items$item, c("q1", "q2", "kind_y"))
  only <- data.frame(soil = rep(c("clay", "loam", "sand"), 9), wet = rep(c("n", "y", "y"), 9)[1:27],
    crop = rep(c("oat", "rye", "pea"), each = 9), place = 1:27)
  every <- ask(only, items = NULL, id = "place", categories = "all")
  expect_identical(every$values$items$item, c("soil_clay", "soil_loam", "soil_sand", "wet_y",
    "crop_oat", "crop_pea", "crop_rye"))
  less <- ask(only, items = NULL, id = "place", categories = "all", indicators = "less_one")
  expect_identical(less$values$items$item, every$values$items$item[-c(1, 5)])
  told <- ask(data, codebook = narrow, out_of_range = "missing")
  expect_true(is.na(told$values$answers[1, "q1"]))
})

test_that("profiles, correlations and factorability: every argument has its effect", {
  q <- items12()
  pairs <- transform(repair_cafe_codebook[1:12, ], scale = rep(letters[1:6], each = 2))
  expect_effects(profile_items, list(x = q), list(by = "cafe"))
  expect_effects(
    profile_respondents,
    list(x = q),
    list(run_share = .2, distance_p = .2, even_odd = .9, contradictions = 1),
    # halves are compared over six scales at least
    with = list(even_odd = list(x = questionnaire(repair_cafe, codebook = pairs, id = person))))
  correlate <- softsieve:::correlate_items.questionnaire
  expect_effects(correlate, list(x = q),
    list(kind = "spearman", missing = "complete", continuous_from = 4),
    with = list(continuous_from = list(kind = "mixed")), same = c("repair", "threads"))
  bad <- matrix(c(1, .9, -.9, .9, 1, .9, -.9, .9, 1), 3)
  expect_error(correlate_items(bad, n = 50, repair = FALSE), "negative eigenvalue")
  given <- softsieve:::correlate_items.matrix
  expect_effects(given, list(x = known_correlations(), n = 100),
    list(n = 200, kind = "covariance", means = 1:9, sds = 1:9), same = "repair")
  expect_effects(assess_factorability, list(x = q),
    list(by = "cafe", anti_image = TRUE, least = .9))
})

test_that("the number of factors: every argument has its effect", {
  q <- items12()
  expect_effects(parallel_analysis, list(x = q, replicates = 40, seed = 1),
    list(basis = "factors", chance = "resampled", reference = "mean", percentile = 60,
      sequential = TRUE, by = "cafe", replicates = 60, seed = 2),
    with = list(reference = list(x = unrelated_answers(100, 8), percentile = 99)),
    same = "threads")
  expect_effects(count_factors,
    list(x = q, rules = c("cumulative_share", "hull", "comparison"), replicates = 40, seed = 1),
    list(basis = "factors", chance = "resampled", reference = "mean", percentile = 60,
      sequential = TRUE, rules = "bic", most = 2, share = .95, plausible = .5, replicates = 60,
      seed = 2),
    with = list(reference = list(x = unrelated_answers(100, 8), percentile = 99),
      plausible = list(x = motives())),
    same = "threads")
})

test_that("extraction and rotation: every argument has its effect", {
  r <- correlate_items(items12())
  expect_effects(extract_factors, list(x = r, factors = 2, seed = 1),
    list(factors = 3, method = "ml", analyse = "covariances", lowest_uniqueness = .5),
    same = c("starts", "threads", "seed"))
  expect_effects(extract_components, list(x = r, components = 2),
    list(components = .9, analyse = "covariances"), same = c("seed", "threads"))
  s <- extract_factors(r, 3)
  expect_effects(rotate_factors, list(solution = s, starts = 3, seed = 1),
    list(rotation = "varimax", oblique = FALSE, normalization = "kaiser", starts = 4, optimum = 2,
      seed = 2),
    with = list(
      optimum = list(solution = extract_factors(motives(), 6), rotation = "simplimax", starts = 20),
      starts = list(solution = extract_factors(motives(), 6), rotation = "simplimax"),
      seed = list(solution = extract_factors(motives(), 6), rotation = "simplimax", starts = 20)),
    same = "threads")
  others <- list(gamma = -1, delta = .1, power = 2, zeros = 20, kappa = .5)
  of <- c(gamma = "oblimin", delta = "geomin", power = "promax", zeros = "simplimax",
    kappa = "crawford_ferguson")
  for (name in names(of)) {
    first <- if (name == "kappa") list(kappa = 0) else list()
    one <- do.call(rotate_factors, c(list(s, of[[name]], starts = 3, seed = 1), first))
    two <- do.call(rotate_factors, c(list(s, of[[name]], starts = 3, seed = 1), others[name]))
    expect_gt(max(abs(coef(one) - coef(two))), 1e-4, label = name)
  }
  expect_effects(factor_solution,
    list(x = r, factors = 3, starts = 3, seed = 1),
    list(factors = 2, method = "ml", rotation = "varimax", by = "cafe", replicates = 30),
    with = list(by = list(x = motives(), replicates = 0),
      replicates = list(x = motives(), by = "cafe", replicates = 0)),
    same = c("starts", "seed", "threads"))
  expect_effects(pattern_table,
    list(solution = factor_solution(motives(), 4, seed = 1, starts = 3)),
    list(hide_below = .6, sort = "size", structure = TRUE, weak_below = .6,
      cross_loading_from = .45, cross_loading_within = .5, communality_below = .5),
    with = list(cross_loading_from = list(cross_loading_within = 0)))
  expect_effects(name_factors, list(solution = s), list(names = c(F1 = "x"), strongest = 2))
  # what is hidden is what is smaller, and no more
  for (limit in c(.2, .5)) {
    p <- pattern_table(s, hide_below = limit)
    expect_identical(p$values$hidden, sum(abs(coef(s)) < limit))
    blank <- vapply(softsieve:::table_of(p)$columns[c("F1", "F2", "F3")], function(one) {
      sum(!nzchar(one$text))
    }, 0L)
    expect_identical(sum(blank), p$values$hidden)
    expect_equal(as.matrix(as_tibble(p)[c("F1", "F2", "F3")]), coef(s)[as_tibble(p)$item, ],
      ignore_attr = TRUE)
  }
  expect_effects(hierarchical_form,
    list(solution = rotate_factors(extract_factors(motives(), 6), seed = 1)), list(factors = 2))
  expect_effects(wording_factor,
    list(x = motives(items = m1:t6), factors = 2, items = c("m4", "t3", "t4"), seed = 1),
    list(factors = 1, items = c("m4", "t3", "t5"), rotation = "varimax"),
    same = c("seed", "starts", "threads"))
  expect_effects(information_curves,
    list(solution = factor_solution(motives(items = m1:m6), 1, kind = "polychoric")),
    list(from = -2, to = 2, step = .5, salient = .6))
  expect_effects(solution_ladder,
    list(x = items12(), to = 2, starts = 2, seed = 1),
    list(from = 2, to = 3, method = "ml", rotation = "varimax", starts = 1, seed = 2),
    with = list(from = list(to = 3),
      starts = list(x = items12(), to = 5, rotation = "simplimax", starts = 30),
      seed = list(x = items12(), to = 5, rotation = "simplimax", starts = 2)),
    same = "threads")
  expect_effects(hidden_factors,
    list(solution = factor_solution(motives(items = c(m1:m4, t1:t4)), 2, seed = 1), samples = 20,
      seed = 1),
    list(people = 150, share = .6, items = 3, loadings = .5, samples = 30, seed = 2),
    with = list(share = list(solution = factor_solution(items12(), 2, seed = 1))),
    same = "threads")
  plan <- planned_factors(2, items = 4)
  expect_effects(plan_study, list(design = plan, people = 100, replicates = 20, seed = 1),
    list(design = planned_factors(2, items = 5), people = 150, replicates = 25, seed = 2,
      hidden = TRUE, kind = "polychoric", rules = "hull", resamples = 50),
    same = "threads")
  expect_effects(people_needed,
    list(design = plan, loading_error = .12, replicates = 20, seed = 1),
    list(right_number = .9, factors_found = .9, correlation_error = .08, omega_error = .02,
      omega_width = .1, cross_loading = .2, loading_error = .05, replicates = 30, seed = 2,
      alternatives = TRUE, kind = "polychoric"),
    same = c("threads", "most"))
  expect_effects(plan_text, list(plan = plan_study(plan, 100, replicates = 20, seed = 1)),
    list(language = "de"))
  expect_effects(planned_factors, list(factors = 2),
    list(factors = 3, items = 4, loadings = .8, correlations = .5, answers = 3, lean = 1,
      missing = .1, careless = .1, clusters = c(size = 5, intraclass = .1),
      blocks = c(of = 3, asked = 2)),
    same = "pattern")
  expect_effects(compare_solutions,
    list(list(s, rotate_factors(s, "varimax", seed = 1), extract_factors(r, 2))),
    list(against = "before", salient = .6))
})

test_that("people resampled: every argument has its effect", {
  q <- items12()
  s <- factor_solution(q, 2, rotation = "simplimax", seed = 1, starts = 20)
  # whose people each stand in a stratum of several
  expect_effects(loading_stability,
    list(solution = s, replicates = 20, halves = 2, seed = 1),
    list(clusters = "cafe", strata = "cafe", level = .5, halves = 3, starts = 1, replicates = 30,
      seed = 2),
    with = list(starts = list(
      solution = factor_solution(q, 5, rotation = "simplimax", seed = 1, starts = 50), starts = 30,
      replicates = 40)),
    same = "threads")
})

test_that("scales, reliability and scores: every argument has its effect", {
  q <- items12(items = m1:t6)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  crossed <- factor_solution(motives(), 4, seed = 1, starts = 3)
  expect_effects(form_scales, list(x = crossed),
    list(salient = .6, cross_loading = "highest", weak = "highest", standardise = TRUE,
      moved = c(t1 = "F2")))
  scales <- list(m = paste0("m", 1:6), t = paste0("t", 1:6))
  other <- keep_people(q, cafe != "Harbour")
  expect_effects(assess_reliability, list(scales = scales, data = q, replicates = 30, seed = 1),
    list(data = other, by = "cafe", again = q, target = .95, replicates = 40, level = .6, seed = 2),
    same = "threads")
  # omega of a group is that of the group's people alone
  grouped <- assess_reliability(scales, q, by = "cafe", replicates = 0, seed = 1)$values$groups
  alone <- assess_reliability(scales, keep_people(q, cafe == "Harbour"), replicates = 0, seed = 1)
  expect_equal(grouped$omega[grouped$group == "Harbour"], alone$values$scales$omega)
  gaps <- repair_cafe
  gaps[1:50, paste0("m", 1:6)] <- NA
  gaps[1:50, paste0("t", 1:3)] <- NA
  few <- form_scales(scales)
  expect_effects(score_respondents, list(x = s, data = gaps),
    list(data = repair_cafe, method = "bartlett", missing = "own_mean", answered_share = .1,
      answered_least = 12, errors = TRUE, level = .5, reliability = c(m = .5, t = .9),
      also = "t_score", by = "cafe",
      norms = score_respondents(few, keep_people(q, cafe == "Harbour"), also = "percentile"),
      units = data.frame(item = s$values$items$item, mean = 2, sd = 2)),
    with = list(level = list(errors = TRUE), reliability = list(x = few, errors = TRUE),
      by = list(also = "percentile"), norms = list(x = few, also = "percentile")),
    same = "threads")
})

test_that("sifting: every argument has its effect", {
  q <- keep_items(motives(), c(m1:t6, o1, o2))
  other <- keep_people(q, cafe != "Harbour")
  expect_effects(sift_items, list(x = q, factors = 2, seed = 1),
    list(rules = sift_rules(communality = .4), factors = "parallel", keep = "o1",
      drop_first = c(m1 = "asked twice"), passes = 1, method = "ml", rotation = "varimax",
      if_too_few_items = "stop", ask = function(question) "stop", replicates = 50, seed = 2),
    with = list(if_too_few_items = list(x = keep_items(motives(), m1:m5), factors = 4),
      replicates = list(factors = "parallel"), seed = list(factors = "parallel", replicates = 20)),
    same = c("threads", "starts"))
  q <- keep_items(q, c(m1:m4, t1:t4, o1))
  other <- keep_items(other, c(m1:m4, t1:t4, o1))
  x <- sift_items(q, factors = 2, seed = 1)
  expect_effects(sift_paths, list(x = x, replicates = 2, seed = 1),
    list(replicates = 3, steps = c(.5, 2), uncertain = c(0, 1), seed = 2), same = "threads")
  expect_effects(shorten_scales,
    list(scales = q, size = 3, replicates = 3, seed = 1),
    list(data = other, size = 4, keep = "t4", criterion = "fidelity", best = 2, replicates = 4,
      seed = 2, least_per_facet = 2),
    with = list(least_per_facet = {
      book <- repair_cafe_codebook
      book$facet <- ifelse(grepl("[456]$", book$item), "late", NA)
      list(scales = questionnaire(repair_cafe[book$item], codebook = book))
    }),
    same = "threads")
  expect_effects(replay, list(trail = x, data = q), list(data = other), same = "threads")
  one <- sift_items(q, factors = 2, passes = 1, seed = 1)
  expect_effects(sift_remove, list(x = one, items = "m1", why = "a"), list(items = "m2", why = "b"))
  expect_effects(sift_restore,
    list(x = one, items = setdiff(q$values$items$item, one$values$left), why = "a"),
    list(why = "b", keep = FALSE, items = setdiff(q$values$items$item, one$values$left)[0]))
})

test_that("formulas and the way back: every argument has its effect", {
  q <- keep_items(motives(), m1:t6)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  scales <- form_scales(list(m = paste0("m", 1:6), t = paste0("t", 1:6)))
  units <- data.frame(item = s$values$items$item, mean = 2, sd = 2)
  expect_effects(score_formula, list(x = s),
    list(method = "bartlett", units = units, missing = "none", answered_share = 1,
      answered_least = 5, inverse = TRUE),
    with = list(inverse = list(x = extract_components(q, 2)), missing = list(x = scales),
      answered_share = list(x = scales), answered_least = list(x = scales)))
  f <- score_formula(s)
  words <- repair_cafe[1:20, ]
  words$m1 <- names(repair_cafe_codebook$labels[[1]])[words$m1]
  expect_effects(formula_code, list(formula = f, language = "sql"),
    list(language = "r", data = words))
  scored <- score_respondents(s, q)
  fit <- lm(y ~ F1 + F2, data.frame(y = seq_len(840), as_tibble(scored)))
  other <- score_respondents(s, q, "bartlett")
  expect_effects(carry_back, list(fit = fit, x = scored), list(x = other, data = q),
    same = c("replicates", "seed", "threads"))
  drawn <- function(...) carry_back(fit, s, ...)$values$table$raw_error
  expect_false(identical(drawn(replicates = 20, seed = 1), drawn(replicates = 0)))
  expect_false(identical(drawn(replicates = 20, seed = 1), drawn(replicates = 20, seed = 2)))
  expect_identical(drawn(replicates = 20, seed = 1, threads = 1),
    drawn(replicates = 20, seed = 1, threads = 2))
  part <- extract_components(q, 3)
  expect_effects(reconstruct_responses, list(x = part),
    list(data = repair_cafe[1:50, ], factors = 2, target = .5, units = units), same = "threads")
})

test_that("studies and files: every argument has its effect", {
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  told <- character()
  study <- run_study(file, threads = 1, watch = function(line) told <<- c(told, line))
  expect_match(told, "Correlating", all = FALSE)
  expect_equal(coef(run_study(file)$values$solution), coef(study$values$solution))
  stored <- file.path(dir, "stored")
  run_study(file, folder = stored)
  expect_true("solution.json" %in% list.files(file.path(stored, "stages")))
  begun <- read_study(file)
  decided <- decide(begun, drop = "t4", why = "w", who = "p", when = "d", numbers = "n")
  expect_identical(decided$settings$decisions,
    list(list(drop = "t4", why = "w", who = "p", when = "d", numbers = "n")))
  lines <- function(...) {
    at <- file.path(dir, "written.yml")
    write_study(begun, at, ...)
    readLines(at)
  }
  expect_identical(lines(), readLines(file))
  expect_gt(length(lines(defaults = TRUE)), length(lines(defaults = FALSE)))
  dir.create(file.path(dir, "begun"))
  proposed <- begin_study(file.path(dir, "answers.csv"), folder = file.path(dir, "begun"))
  expect_identical(dirname(proposed$files), rep(file.path(dir, "begun"), 2))
  dir.create(file.path(dir, "said"))
  said <- begin_study(file.path(dir, "answers.csv"), folder = file.path(dir, "said"),
    roles = c(m1 = "left out", t1 = "reversed"))
  expect_identical(setdiff(proposed$codebook$item, said$codebook$item), "m1")
  expect_true(said$codebook$reversed[said$codebook$item == "t1"])
  made <- study_of(study$values$solution, answers = file.path(dir, "answers.csv"),
    codebook = file.path(dir, "codebook.csv"), title = "t", author = "a",
    file = file.path(dirname(dir), "s.yml"))
  expect_identical(made$settings[c("title", "author")], list(title = "t", author = "a"))
  expect_match(made$settings$answers$file, "/", fixed = TRUE)
  expect_false(is.null(made$settings$codebook))
  out <- file.path(dir, c("fits.csv", "rules.csv"))
  write_table(study$values$count, out[1], what = "fits")
  write_table(study$values$count, out[2])
  expect_identical(names(read.csv(out[1]))[1], "factors")
  expect_identical(names(read.csv(out[2]))[1], "rule")
})

test_that("one example of every class: tables, one row, long form, and what they mean", {
  q <- items12(items = m1:t6)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  examples <- one_of_each(q, s, withr::local_tempdir())
  classes <- vapply(examples, function(x) class(x)[1], "")
  methods <- ls(asNamespace("softsieve"), pattern = "^as_tibble[.]")
  expect_setequal(classes, sub("^as_tibble[.]", "", methods))
  for (x in examples) {
    where <- class(x)[1]
    # a stage leaves a result as whole as what shows it takes it for
    expect_identical(softsieve:::wrong_in_parts(x), character(), label = where)
    expect_s3_class(as_tibble(x), "tbl_df")
    expect_s3_class(tidy(x), "tbl_df")
    one <- glance(x)
    expect_identical(nrow(one), 1L, label = where)
    expect_true(all(lengths(one) == 1L), label = where)
    expect_error(glance(x, nothing = 1), class = "softsieve_error_argument")
    expect_error(tidy(x, nothing = 1), class = "softsieve_error_argument")
  }
  expect_identical(nrow(tidy(s)), 24L)
  expect_identical(nrow(tidy(score_respondents(s, q))), 2L * 840L)
  expect_identical(coef(s), s$values$loadings)
  expect_identical(coef(pattern_table(s)), coef(s))
  expect_identical(dim(coef(hierarchical_form(s))), c(12L, 3L))
  beside <- augment(s, repair_cafe)
  expect_identical(names(beside), c(names(repair_cafe), "F1", "F2"))
  expect_equal(beside$F1, as_tibble(score_respondents(s, q))$F1)
  expect_equal(predict(s, repair_cafe[1:3, ])$F2, beside$F2[1:3])
  expect_error(augment(s, beside), "F1 and F2", class = "softsieve_error_columns")
  expect_identical(nrow(augment(s, q)), 840L)
  for (call in list(quote(augment(s)), quote(predict(s)), quote(coef(q)))) {
    expect_error(eval(call), class = "softsieve_error_class")
  }
  file <- withr::local_tempfile(fileext = ".csv")
  expect_error(write_table(s, file, what = "varianc"), "Did you mean \"variance\"")
  expect_error(write_table(repair_cafe, file, what = "x"), class = "softsieve_error_argument")
})
