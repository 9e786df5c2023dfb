# Every argument of every exported function with every wrong kind of value: an answer or one of our
# own errors; nothing of it is run, and nothing is said in R's own words.

local_matrix <- function(dir) {
  file <- file.path(dir, "matrix.csv")
  writeLines(c("m1,m2,m3", "1,.5,.4", ".5,1,.3", ".4,.3,1"), file)
  file
}

# Functions by name: a call that works, as a list of arguments.
valid_calls <- function(dir) {
  q <- questionnaire(few_answers(), codebook = few_book(), id = person, group = cafe)
  r <- correlate_items(q)
  solution <- factor_solution(q, 2, seed = 1, starts = 2)
  scales <- form_scales(solution)
  scores <- score_respondents(solution, q)
  people <- as.data.frame(scores)
  people$met <- seq_len(nrow(people))
  layers <- extract_components(r, 2)
  sifted <- sift_items(q, factors = 2, starts = 2, passes = 1, seed = 1)
  file <- few_study(dir)
  study <- read_study(file)
  answers <- file.path(dir, "answers.csv")
  codebook <- file.path(dir, "codebook.csv")
  saved <- write_solution(solution, file.path(dir, "saved.json"))
  ran <- run_study(file)
  to <- function(name) file.path(dir, name)
  quick <- list(starts = 2, seed = 1)
  tables <- tabulate_items(few_answers(), codebook = few_book(), random_groups = 20)
  connection <- NULL
  if (requireNamespace("RSQLite", quietly = TRUE)) {
    connection <- DBI::dbConnect(RSQLite::SQLite(), file.path(dir, "answers.sqlite"))
    DBI::dbWriteTable(connection, "answers", as.data.frame(few_answers()))
  }
  list(as_tibble = list(x = solution), assess_factorability = list(x = q),
    assess_reliability = list(scales = scales, data = q, replicates = 0),
    augment = list(x = solution, data = q),
    begin_study = list(file = answers, folder = dir),
    carry_back = list(fit = stats::lm(met ~ F1 + F2, people), x = scores),
    change_study = list(study = study),
    compare_solutions = list(solution, solution),
    components_for = list(x = q, outcome = seq_len(nrow(few_answers())), most = 2, repeats = 1),
    correlations_by = list(x = q, by = rep(1:2, length.out = nrow(few_answers()))),
    explain_score = list(scores = scores, data = q, row = 1),
    score_groups = list(scores = scores, by = "cafe", replicates = 99, seed = 1),
    read_loadings = list(file = data.frame(item = c("m1", "m2"), F1 = c(.5, .6))),
    read_matrix = list(file = local_matrix(dir)),
    write_worked = list(x = solution, data = q, file = to("worked.xlsx")),
    component_layers = list(solution = layers), correlate_items = list(x = q),
    count_factors = list(x = q, replicates = 20, seed = 1, rules = "parallel"),
    catalogue_table = list(),
    database_table = list(connection = connection, table = "answers"),
    decide = list(study = study, drop = "m1"),
    draw_tables = list(tables = tables, statistic = function(r) r$values$correlations[1, 2],
      how = "draw", replicates = 20),
    extract_components = list(x = r, components = 2),
    extract_factors = c(list(x = r, factors = 2), quick),
    factor_solution = c(list(x = q, factors = 2, replicates = 0), quick),
    form_scales = list(x = solution),
    formula_code = list(formula = score_formula(solution)),
    glance = list(x = solution),
    hierarchical_form = list(solution = solution),
    wording_factor = list(x = q, factors = 2, items = c("m4", "t3", "t4")),
    information_curves = list(solution = solution),
    is_questionnaire = list(x = q), keep_items = list(x = q), keep_people = list(x = q),
    planned_factors = list(factors = 2),
    plan_study = list(design = planned_factors(2), people = 100, replicates = 20, seed = 1),
    people_needed = list(
      design = planned_factors(2), loading_error = .1, replicates = 20, seed = 1),
    plan_text = list(
      plan = plan_study(planned_factors(2, items = 4), 100, replicates = 20, seed = 1)),
    hidden_factors = list(solution = solution, samples = 20, seed = 1),
    loading_stability = list(solution = solution, replicates = 20, seed = 1, halves = 2),
    merge_tables = list(tables, tables), name_factors = list(solution = solution),
    # (one that is right would open a page, and wait)
    open_page = list(study = to("no_study.yml"), browser = FALSE),
    parallel_analysis = list(x = q, replicates = 20, seed = 1),
    pattern_table = list(solution = solution), profile_items = list(x = q),
    profile_respondents = list(x = q),
    questionnaire = list(data = few_answers(), codebook = few_book()),
    read_codebook = list(file = codebook), read_responses = list(file = answers),
    read_solution = list(file = saved), read_study = list(file = file),
    reconstruct_responses = list(x = layers, data = q),
    replay = list(trail = sifted, data = q), score_into = list(x = solution, source = repair_cafe,
      into = tempfile(fileext = ".csv")),
    rotate_factors = c(list(solution = extract_factors(r, 2, seed = 1)), quick),
    run_study = list(study = study),
    sample_people = list(source = answers, n = 5),
    score_formula = list(x = solution),
    score_respondents = list(x = solution, data = q),
    shorten_scales = list(scales = scales, data = q, size = 3, replicates = 2, seed = 1),
    sift_items = c(list(x = q, factors = 2, passes = 1), quick),
    sift_paths = list(x = sifted, replicates = 2, steps = .9, seed = 1),
    sift_remove = list(x = sifted, items = "m1", why = "tried"),
    sift_restore = list(x = sifted, items = "m1", why = "tried"),
    sift_rule = list(name = "mine", label = "mine", measure = function(x) 0, limit = 1),
    sift_rules = list(),
    solution_ladder = c(list(x = q, from = 1, to = 2), quick),
    tabulate_items = list(source = answers, codebook = few_book(), random_groups = 20),
    study_of = list(solution, answers = answers, codebook = codebook),
    tidy = list(x = solution),
    write_report = list(study = ran, file = to("r.md")),
    write_results = list(study = ran, folder = to("results")),
    write_solution = list(x = solution, file = to("s.json")),
    write_study = list(study = study, file = to("other.yml")),
    write_table = list(x = solution, file = to("t.csv")))
}

wrong_values <- function() {
  list(null = NULL, na = NA, na_text = NA_character_, na_number = NA_real_, nan = NaN, inf = Inf,
    minus = -1, zero = 0, half = 1.5, huge = 1e300, big = 2^31, least = -.Machine$integer.max,
    none = character(), no_number = numeric(), empty = "", word = "zz", bytes = "a\xff",
    dots = "..1", two = c("a", "b"), numbers = c(1, NA, 3), yes = TRUE, nothing = list(),
    list = list(1, "a"), stops = function(...) stop("boom"), call = quote(file.create("made")),
    name = quote(nowhere), formula = ~ m1, frame = data.frame(), table = data.frame(m1 = "x"),
    matrix = matrix(NA, 2, 2), square = diag(2), factor = factor("m1"),
    date = as.Date("2026-01-01"), complex = 1i, raw = as.raw(1), space = new.env(),
    expression = expression(stop("boom")), object = structure(list(), class = "factor_solution"),
    asked = structure(list(values = 1), class = c("questionnaire", "softsieve_result")))
}

# "" for an answer or an error of ours, what it was otherwise.
how_it_ended <- function(f, arguments) {
  told <- ""
  tryCatch(
    withCallingHandlers(utils::capture.output(do.call(f, arguments, quote = TRUE)),
      warning = function(w) {
        if (!inherits(w, "softsieve_warning")) told <<- paste("warning:", conditionMessage(w))
        invokeRestart("muffleWarning")
      },
      message = function(m) invokeRestart("muffleMessage")),
    softsieve_error = function(e) NULL,
    error = function(e) {
      # (a function of the user's own may stop)
      if (conditionMessage(e) != "boom") told <<- paste("error:", conditionMessage(e))
    })
  told
}

test_that("no wrong value ends in R's own words, and none is run", {
  dir <- withr::local_tempdir()
  calls <- valid_calls(dir)
  withr::defer(DBI::dbDisconnect(calls$database_table$connection))
  exported <- setdiff(getNamespaceExports("softsieve"), c("repair_cafe", "repair_cafe_codebook"))
  exported <- Filter(function(f) is.function(getExportedValue("softsieve", f)), exported)
  expect_setequal(names(calls), grep("^[.]__", exported, value = TRUE, invert = TRUE))
  withr::local_dir(dir)
  before <- list.files(all.files = TRUE)
  wrong <- wrong_values()
  # all of it in `make fuzz`; here a part of the values for each argument, in turn
  share <- as.integer(Sys.getenv("SOFTSIEVE_WRONG_SHARE", "53"))
  at <- 0L
  for (name in names(calls)) {
    f <- getExportedValue("softsieve", name)
    expect_identical(how_it_ended(f, calls[[name]]), "", label = paste("the valid call of", name))
    # what is not ours these four leave to other packages
    others <- if (name %in% c("as_tibble", "augment", "glance", "tidy")) "x"
    for (argument in setdiff(names(formals(f)), c("...", others))) {
      for (value in names(wrong)) {
        at <- at + 1L
        if (at %% share != 0L) next
        arguments <- calls[[name]]
        arguments[argument] <- wrong[value]
        ended <- how_it_ended(f, arguments)
        expect_identical(ended, "", label = sprintf("%s(%s = <%s>)", name, argument, value))
      }
    }
  }
  expect_false(file.exists("made"))
})
