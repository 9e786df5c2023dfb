# The catalogue of findings: every code is told by something that people can do, with the severity
# and the stage that the catalogue promises.

core <- function(name) getFromNamespace(name, "softsieve")

# `n` answers from 1 to 5 to items that load on one factor as given.
loaded_answers <- function(n, loadings, seed = 1, shift = 0) {
  set.seed(seed)
  f <- rnorm(n)
  z <- sapply(loadings, function(l) l * f + sqrt(1 - l^2) * rnorm(n))
  x <- apply(z + shift, 2, function(v) findInterval(v, c(-1.5, -.5, .5, 1.5)) + 1)
  as.data.frame(x) |> stats::setNames(paste0("q", seq_along(loadings)))
}
# Two factors of four items each, correlated `r`.
two_factors <- function(r, n = 300) {
  pattern <- matrix(0, 8, 2)
  pattern[1:4, 1] <- pattern[5:8, 2] <- .7
  known_correlations(pattern, matrix(c(1, r, r, 1), 2)) |>
    `dimnames<-`(list(paste0("q", 1:8), paste0("q", 1:8))) |>
    correlate_items(n = n)
}
read_lines <- function(...) attr(read_responses(local_file(c(...))), "reading")
asked_of <- function(data, ...) suppressWarnings(questionnaire(data, ...))$findings
profiled <- function(data, ...) profile_items(questionnaire(data, ...))$findings
careless <- function(change, ...) {
  d <- loaded_answers(200, rep(.7, 12))
  keys <- data.frame(item = paste0("q", 1:12), lowest = 1, highest = 5,
    reversed = 1:12 %in% c(10, 11, 12), scale = rep(c("a", "b", "c", "d", "e", "f"), each = 2))
  d[10:12] <- 6 - d[10:12]
  profile_respondents(questionnaire(change(d), codebook = keys), ...)$findings
}
improper <- function() {
  r <- matrix(c(1, .9, .9, .9, 1, .5, .9, .5, 1), 3)
  extract_factors(correlate_items(r, n = 100), 1)
}

# What tells each code. Those of searches that do not settle are asked of the function that tells
# them: no data are known to be hard enough on every machine.
odd_measurements <- function() {
  d <- as.data.frame(repair_log[c("visitors", "cups", "minutes", "parts", "kilograms", "repairs")])
  d$total <- d$visitors + d$repairs
  d$same <- 2
  d$number <- seq_len(nrow(d))
  d$id <- (d$number * 5) %% 211
  d$date <- as.integer(format(repair_log$day, "%Y%m%d"))
  d$site <- rep(1:4, length.out = nrow(d))
  d$outcome <- d$cups * d$parts
  questionnaire(d, measured = TRUE)
}

FIRES <- list(
  indicators_dependent = function() {
    d <- data.frame(repair_log[c("visitors", "cups")], site = rep(c("a", "b", "c", "d"), 52))
    questionnaire(d, categories = site, measured = TRUE)
  },
  narrower_spread = function() {
    q <- questionnaire(repair_log, visitors:minutes, measured = TRUE)
    correlations_by(q, by = abs(repair_log$visitors - 40) < 8)
  },
  rows_alike = function() questionnaire(repair_log, visitors:cups, measured = TRUE),
  rows_depend = function() questionnaire(repair_log, order = day, measured = TRUE),
  series_season = function() questionnaire(repair_log, order = day, measured = TRUE),
  shifted_not_used = function() {
    parallel_analysis(questionnaire(repair_log, order = day, measured = TRUE), replicates = 20,
      seed = 1)
  },
  few_blocks = function() {
    correlate_items(questionnaire(repair_log[1:60, ], order = day, measured = TRUE))
  },
  series_trend = function() {
    d <- repair_log
    d$visitors <- d$visitors + seq_len(nrow(d))
    questionnaire(d, order = day, measured = TRUE)
  },
  order_ties = function() questionnaire(repair_log[c(1, 1, 2:60), ], order = day, measured = TRUE),
  order_gaps = function() questionnaire(repair_log[-(5:9), ], order = day, measured = TRUE),
  constant_column = function() odd_measurements(),
  running_number = function() odd_measurements(),
  id_like = function() odd_measurements(),
  date_like = function() odd_measurements(),
  group_like = function() odd_measurements(),
  outcome_like = function() odd_measurements(),
  follows_from_others = function() odd_measurements(),
  counts_negatively = function() {
    q <- questionnaire(repair_log, temperature:kilograms, measured = TRUE)
    form_scales(factor_solution(q, 2, seed = 1, starts = 3))
  },
  adequacy_left_out = function() {
    d <- loaded_answers(60, rep(.7, 4))
    d$sum <- d$q1 + d$q2
    dir <- withr::local_tempdir()
    utils::write.csv(d, file.path(dir, "a.csv"), row.names = FALSE)
    file <- file.path(dir, "s.yml")
    writeLines(c("answers: {file: a.csv}", "factors: {method: components, number: 2}",
      "scales: {replicates: 0}", "seed: 1"), file)
    run_study(file)
  },
  component_without_variance = function() {
    d <- loaded_answers(60, rep(.7, 3))
    d$sum <- d$q1 + d$q2
    score_respondents(extract_components(d, 4), d)
  },
  study_stopped = function() {
    file <- few_study(withr::local_tempdir())
    write("decisions: [{name: F9, as: x}]", file, append = TRUE)
    suppressWarnings(run_study(file))
  },
  edited_by_hand = function() {
    x <- correlate_items(loaded_answers(50, rep(.7, 3)))
    x$values$n <- 5000
    x
  },
  workers_differ = function() {
    hand <- core("hand_of_worker")()
    hand$numbers <- "else"
    list(findings = core("find_in_hands")(list(hand)))
  },
  fewer_random_groups = function() {
    tabulate_items(unrelated_answers(10, 300), ends = c(1, 5))
  },
  counted_in_blocks = function() tabulate_items(loaded_answers(50, rep(.7, 3)), ends = c(1, 5)),
  unfit_answers = function() tabulate_items(loaded_answers(50, rep(.7, 3)), ends = c(2, 5)),
  ends_of_first_block = function() tabulate_items(loaded_answers(50, rep(.7, 3))),
  how_read = function() read_lines("a,b", "1,2", "2,1"),
  wording_row = function() {
    read_lines("a,b,c", "I like it,I mend it,I keep it", "1,2,3", "2,1,3", "4,5,1")
  },
  header_rows = function() {
    read_lines("a,b,c", "I like it,I mend it,I keep it", "Q1,Q2,Q3", "1,2,3", "2,1,3", "4,5,1")
  },
  nearly_numeric = function() read_lines("a,b", paste(1:40, "x", sep = ",")[-1], "3,2", "n/a,1"),
  header_repeated = function() read_lines("a,b", "1,2", "a,b", "2,1"),
  line_ends_in_cells = function() read_lines("a,b", "\"one", "more\",2", "x,1"),
  levels_numbered = function() {
    asked_of(data.frame(a = factor(c("lo", "hi"), c("lo", "hi"), ordered = TRUE), b = 1:2))
  },
  words_as_missing = function() {
    asked_of(data.frame(a = c("1", "2", "none"), b = 1:3),
      codebook = data.frame(item = c("a", "b")), missing_codes = "none")
  },
  out_of_range = function() {
    book <- data.frame(item = c("a", "b"), lowest = 1, highest = 5)
    asked_of(data.frame(a = c(1, 9, 3), b = 1:3), codebook = book, out_of_range = "missing")
  },
  categories_split = function() {
    asked_of(data.frame(a = 1:3, b = 3:1, c = c("x", "y", "x")), categories = "c")
  },
  columns_left_out = function() {
    asked_of(data.frame(a = 1:3, b = 3:1, x = 1:3), codebook = data.frame(item = c("a", "b")))
  },
  turned_by_answers = function() asked_of(loaded_answers(50, rep(.7, 3)), reversed = "q1"),
  no_codebook = function() asked_of(loaded_answers(50, rep(.7, 3))),
  repeated_id = function() {
    asked_of(cbind(id = c(1, 1, 3:50), loaded_answers(50, rep(.7, 3))), id = id)
  },
  many_answers = function() asked_of(data.frame(a = 1:120, b = 120:1, c = 1:4)),
  fractions = function() {
    book <- data.frame(item = c("a", "b"), lowest = 1, highest = 5)
    asked_of(data.frame(a = c(1, 2.5, 3), b = 1:3), codebook = book)
  },
  people_kept = function() keep_people(motives(), cafe == "Harbour")$findings,
  items_left_out = function() keep_items(motives(), t1:t6)$findings,
  likely_missing_code = function() {
    d <- loaded_answers(100, rep(.7, 4))
    d$q1[1:9] <- 99
    asked_of(d)
  },
  unlike_the_others = function() asked_of(cbind(loaded_answers(100, rep(.7, 5)), age = 20:69)),
  small_group = function() {
    d <- cbind(g = c("a", rep("b", 99)), loaded_answers(100, rep(.7, 4)))
    assess_factorability(questionnaire(d, group = g), by = "g")$findings
  },
  no_group = function() {
    d <- cbind(g = c(NA, rep(c("a", "b"), c(49, 50))), loaded_answers(100, rep(.7, 4)))
    assess_factorability(questionnaire(d, group = g), by = "g")$findings
  },
  group_not_judged = function() {
    d <- cbind(g = rep(c("a", "b"), 50), loaded_answers(100, rep(.7, 4)))
    d$q1[d$g == "a"] <- 3
    assess_factorability(questionnaire(d, group = g), by = "g")$findings
  },
  items_absent = function() score_respondents(solution4(), repair_cafe[names(repair_cafe) != "t1"]),
  beyond_earlier_answers = function() {
    s <- factor_solution(loaded_answers(200, rep(.7, 4)), 1, seed = 1)
    score_respondents(s, transform(loaded_answers(50, rep(.7, 4), 2), q1 = q1 + 4))
  },
  against_key = function() {
    s <- factor_solution(loaded_answers(200, rep(.7, 5)), 1, seed = 1)
    score_respondents(s, transform(loaded_answers(200, rep(.7, 5), 2), q1 = 6 - q1))
  },
  no_variance = function() profiled(transform(loaded_answers(50, rep(.7, 3)), q1 = 3)),
  one_answer = function() {
    profiled(transform(loaded_answers(50, rep(.7, 3)), q1 = c(1, rep(3, 49))))
  },
  unused_category = function() {
    profiled(transform(loaded_answers(50, rep(.7, 3)), q1 = rep(c(1, 2, 4, 5), length.out = 50)))
  },
  sparse_category = function() {
    profiled(transform(loaded_answers(60, rep(.7, 3)), q1 = c(1, rep(2:4, length.out = 59))))
  },
  floor = function() {
    profiled(transform(loaded_answers(50, rep(.7, 3)), q1 = rep(c(1, 1, 1, 2, 3), 10)))
  },
  ceiling = function() {
    profiled(transform(loaded_answers(50, rep(.7, 3)), q1 = rep(c(5, 5, 5, 2, 3), 10)),
      ends = c(1, 5))
  },
  not_interval = function() profiled(transform(loaded_answers(50, rep(.7, 3)), q1 = rep(1:2, 25))),
  mean_far_off = function() {
    profiled(
      transform(loaded_answers(50, rep(.7, 3)), q1 = rep(c(1, 1, 1, 2), length.out = 50)),
      ends = c(1, 5))
  },
  no_distance = function() {
    profile_respondents(questionnaire(transform(loaded_answers(50, rep(.7, 3)), q1 = 3)))$findings
  },
  same_answer = function() {
    careless(function(d) {
      d[1, ] <- 4
      d
    })
  },
  long_runs = function() {
    careless(function(d) {
      d[1, ] <- c(rep(4, 9), 1, 2, 5)
      d
    })
  },
  far_from_all = function() {
    careless(function(d) {
      d[1, ] <- rep(c(1, 5), 6)
      d
    })
  },
  inconsistent = function() {
    careless(function(d) {
      d[1, ] <- c(1, 5, 5, 1, 1, 5, 5, 1, 1, 1, 1, 5)
      d
    })
  },
  contradicting = function() {
    change <- function(d) {
      d[1, ] <- 5
      d
    }
    careless(change, contradictions = 1)
  },
  hardly_answered = function() {
    careless(function(d) {
      d[1, 1:8] <- NA
      d
    })
  },
  identical_items = function() {
    d <- loaded_answers(50, rep(.7, 3))
    correlate_items(cbind(d, copy = d$q1))$findings
  },
  fewer_people_than_items = function() correlate_items(loaded_answers(5, rep(.7, 6), 3))$findings,
  not_positive_definite = function() {
    d <- loaded_answers(50, rep(.7, 3))
    correlate_items(cbind(d, sum = d$q1 + d$q2))$findings
  },
  n_of_tests = function() correlate_items(motives())$findings,
  few_clusters = function() {
    d <- cbind(loaded_answers(60, rep(.7, 4)), c = rep(1:10, 6))
    correlate_items(questionnaire(d, cluster = c))$findings
  },
  few_pairs = function() {
    d <- loaded_answers(100, rep(.7, 3))
    d$q1[1:40] <- NA
    d$q2[61:100] <- NA
    correlate_items(d)$findings
  },
  correlation_at_bound = function() {
    d <- data.frame(q1 = rep(1:3, 20), q2 = rep(1:3, 20), q3 = rep(1:2, 30))
    correlate_items(d, kind = "polychoric")$findings
  },
  half_added = function() {
    d <- data.frame(q1 = rep(1:2, c(30, 30)), q2 = c(rep(1, 20), rep(2, 40)), q3 = rep(1:3, 20))
    correlate_items(d, kind = "polychoric")$findings
  },
  empty_cells = function() {
    correlate_items(loaded_answers(60, rep(.8, 4)), kind = "polychoric")$findings
  },
  categories_as_numbers = function() {
    correlate_items(transform(loaded_answers(60, rep(.7, 3)), q1 = rep(1:2, 30)))$findings
  },
  skewed_as_numbers = function() {
    d <- as.data.frame(lapply(loaded_answers(200, rep(.7, 3)), function(v) v^5))
    correlate_items(d)$findings
  },
  em_not_converged = function() {
    found <- list(em = list(converged = FALSE, iterations = 5000L))
    items <- correlate_items(motives())$values$items
    core("find_in_method")(found, items, list(kind = "pearson", weighted = FALSE), 1)
  },
  weighted = function() {
    d <- cbind(w = rep(1:2, 30), loaded_answers(60, rep(.7, 3)))
    correlate_items(questionnaire(d, weight = w))$findings
  },
  repaired = function() {
    r <- matrix(c(1, .9, -.9, .9, 1, .9, -.9, .9, 1), 3)
    correlate_items(r, n = 100)$findings
  },
  triangle_mirrored = function() {
    r <- known_correlations()
    r[upper.tri(r)] <- 0
    correlate_items(r, n = 100)$findings
  },
  unrelated_items = function() assess_factorability(unrelated_answers(100, 5))$findings,
  adequacy_undefined = function() {
    r <- diag(4)
    r[1:3, 1:3] <- .5
    diag(r) <- 1
    assess_factorability(correlate_items(r, n = 100))$findings
  },
  low_adequacy = function() assess_factorability(unrelated_answers(200, 6, 3))$findings,
  low_item_adequacy = function() assess_factorability(motives())$findings,
  collinear_pair = function() {
    r <- known_correlations()
    r[1, 2] <- r[2, 1] <- .92
    assess_factorability(correlate_items(r, n = 100))$findings
  },
  few_people = function() assess_factorability(loaded_answers(20, rep(.6, 6)))$findings,
  no_sphericity = function() {
    counts <- tabulate_items(cbind(loaded_answers(60, rep(.7, 4)), w = rep(1:2, 30)), weight = w)
    assess_factorability(correlate_items(counts))$findings
  },
  no_factor = function() parallel_analysis(unrelated_answers(200, 6), seed = 1)$findings,
  eigenvalue_one_differs = function() parallel_analysis(motives(), seed = 1)$findings,
  uncertain = function() uncertain_of(TRUE),
  close_call = function() uncertain_of(FALSE),
  few_people_in_group = function() {
    d <- cbind(g = rep(c("a", "b"), c(8, 92)), loaded_answers(100, rep(.5, 9), 4))
    parallel_analysis(questionnaire(d, group = g), by = "g", replicates = 20, seed = 1)$findings
  },
  group_uncertain = function() {
    groups <- tibble::tibble(group = "a", n = 50, suggested = 1L, uncertain = TRUE,
      why = NA_character_)
    core("add_unsure_groups")(list(groups = groups, findings = NULL), 5)$findings
  },
  outside_training = function() count_factors(unrelated_answers(50, 4), replicates = 20, seed = 1),
  numbers_disagree = function() verdict_of(agree = FALSE, probability = .9),
  number_unsure = function() verdict_of(agree = TRUE, probability = .4),
  rule_silent = function() {
    count_factors(correlate_items(diag(2), n = 50), replicates = 20, seed = 1)
  },
  no_test = function() extract_factors(motives(items = m1:m6), 1, kind = "spearman"),
  normal_theory = function() {
    extract_factors(correlate_items(known_correlations(), n = 200), 3, method = "wls")
  },
  not_converged = function() extraction_found(converged = FALSE),
  starts_apart = function() extraction_found(apart = 2L),
  improper_solution = improper,
  fitted_variance = function() {
    extract_factors(correlate_items(matrix(c(1, .9, .9, .9, 1, .5, .9, .5, 1), 3), n = 100), 1,
      method = "ml", lowest_uniqueness = 0.3)
  },
  different_units = function() {
    d <- transform(loaded_answers(100, rep(.7, 4)), q1 = q1 * 10)
    extract_factors(correlate_items(d, kind = "covariance"), 1)
  },
  one_factor = function() {
    rotate_factors(extract_factors(loaded_answers(100, rep(.7, 4)), 1), "varimax")
  },
  rotation_not_converged = function() {
    shown <- list(converged = FALSE, gradient = 1, value = 1)
    core("find_in_rotation")(shown, list(value = 1, share = 1), diag(2), 1L)
  },
  second_optimum = function() several(optimum = 2),
  several_optima = function() several(optimum = 1),
  high_factor_correlation = function() {
    rotate_factors(extract_factors(two_factors(.85), 2), "quartimin", seed = 1)
  },
  no_salient_loading = function() pattern_table(solution4()),
  cross_loading_item = function() pattern_table(solution4()),
  low_communality = function() pattern_table(solution4()),
  two_factors = function() {
    hierarchical_form(rotate_factors(extract_factors(two_factors(.5), 2), seed = 1))
  },
  wholly_general = function() {
    higher <- list(uniquenesses = c(.005, .5, .5))
    core("find_in_hierarchy")(list(general_share = .6), higher, c("F1", "F2", "F3"))
  },
  weak_general = function() hierarchical_form(solution4()),
  names_kept = function() {
    named <- name_factors(solution4(), c(F1 = "thrift"))
    rotate_factors(named, "geomin", starts = 3, seed = 1)
  },
  names_lost = function() {
    named <- name_factors(solution4(), c("a", "b", "c", "d"))
    name_factors(factor_solution(motives(), 2, seed = 1, starts = 3), named)
  },
  no_wordings = function() name_factors(factor_solution(two_factors(.5), 2, seed = 1)),
  against_wording = function() {
    d <- transform(loaded_answers(200, rep(.7, 5)), q1 = 6 - q1)
    pattern_table(factor_solution(d, 1, seed = 1))
  },
  compared_on_shared = function() {
    fewer <- factor_solution(keep_items(motives(), -o1), 4, seed = 1, starts = 3)
    compare_solutions(fewer, solution4())
  },
  tiny_factor = function() compare_solutions(solution4(), solution_of(5)),
  group_left_out = function() grouped(c(5, 95)),
  small_group_draws = function() grouped(c(20, 80)),
  groups_differ = function() {
    d <- loaded_answers(300, c(.8, .8, .7, .7, .6, .6))
    d[1:150, 4:6] <- 6 - d[1:150, 4:6]
    q <- questionnaire(cbind(g = rep(c("a", "b"), each = 150), d), group = "g")
    factor_solution(q, 1, by = "g", replicates = 50, seed = 1)
  },
  item_moves = function() {
    d <- cbind(loaded_answers(150, rep(.7, 4)), loaded_answers(150, rep(.7, 4), seed = 2))
    names(d) <- paste0("q", 1:8)
    set.seed(4)
    d$between <- 1.3 * rowSums(d[1:4]) + rowSums(d[5:8]) + rnorm(150, sd = 4)
    stable(d, 2)
  },
  factor_not_replicated = function() stable(loaded_answers(60, c(.7, .7, .7, .5, .3, .2, .1)), 2),
  number_differs = function() stable(loaded_answers(300, rep(.7, 6)), 2),
  draws_unsolved = function() {
    d <- loaded_answers(60, rep(.7, 4))
    d$rare <- c(1, rep(0, 59))
    stable(d, 1)
  },
  improper_draws = function() stable(loaded_answers(40, c(.95, .9, .6, .3)), 1),
  few_units = function() {
    loading_stability(solution4(), clusters = "cafe", replicates = 20, halves = 0, seed = 1)
  },
  stratum_of_one = function() {
    d <- cbind(g = c("x", rep("a", 99)), loaded_answers(100, rep(.7, 4)))
    q <- questionnaire(d, group = "g")
    s <- factor_solution(q, 1, seed = 1)
    loading_stability(s, strata = "g", replicates = 20, halves = 0, seed = 1)
  },
  parts_drawn = function() stable(loaded_answers(2600, rep(.7, 4)), 1),
  weak_items_left_out = function() form_scales(solution4()),
  cross_loading_items_left_out = function() form_scales(solution4()),
  loads_negatively = function() {
    d <- transform(loaded_answers(200, rep(.7, 5)), q1 = 6 - q1)
    form_scales(factor_solution(d, 1, seed = 1))
  },
  no_bootstrap = function() {
    assess_reliability(list(a = paste0("q", 1:4)), two_factors(.5), seed = 1)
  },
  against_scale = function() trusted(transform(loaded_answers(200, rep(.7, 5)), q1 = 6 - q1)),
  negative_alpha = function() {
    d <- loaded_answers(200, rep(.7, 4))
    trusted(transform(d, q1 = 6 - q1, q2 = 6 - q2))
  },
  alpha_rises_without = function() trusted(loaded_answers(300, c(.8, .8, .8, .05))),
  nearly_redundant = function() {
    d <- loaded_answers(300, rep(.7, 4))
    trusted(transform(d, q2 = ifelse(seq_along(q1) %% 50 == 0, q2, q1)))
  },
  few_items = function() trusted(loaded_answers(100, rep(.7, 2))),
  few_people_for_scale = function() trusted(loaded_answers(5, rep(.8, 6), 2)),
  spreads_differ = function() {
    d <- loaded_answers(200, rep(.7, 5))
    d$q2 <- d$q2 * 100
    assess_reliability(list(a = names(d)), d, replicates = 0, seed = 1)
  },
  different_ranges = function() {
    d <- transform(loaded_answers(100, rep(.7, 3)), q1 = 2 * q1)
    book <- data.frame(item = names(d), lowest = 1, highest = c(10, 5, 5), scale = "a")
    assess_reliability(questionnaire(d, codebook = book), replicates = 0, seed = 1)
  },
  several_factors = function() {
    assess_reliability(list(a = paste0("q", 1:8)), two_factors(.1, 1000), seed = 1)
  },
  one_factor_improper = function() {
    r <- correlate_items(matrix(c(1, .9, .9, .9, 1, .5, .9, .5, 1), 3), n = 100)
    assess_reliability(list(a = paste0("item", 1:3)), r, seed = 1)
  },
  split_sampled = function() trusted(loaded_answers(100, rep(.6, 25))),
  scales_overlap = function() {
    assess_reliability(list(a = paste0("q", 1:4), b = paste0("q", 5:8)), two_factors(.97), seed = 1)
  },
  no_total = function() {
    assess_reliability(list(a = paste0("q", 1:4), b = paste0("q", 5:8)), two_factors(.1, 1000),
      seed = 1)
  },
  alphas_differ = function() {
    d <- rbind(loaded_answers(200, rep(.85, 4)), loaded_answers(200, rep(.3, 4), 2))
    d$g <- rep(c("a", "b"), each = 200)
    book <- data.frame(item = paste0("q", 1:4), scale = "a")
    assess_reliability(questionnaire(d, codebook = book, group = g), by = "g", replicates = 0)
  },
  not_scored = function() {
    s <- factor_solution(loaded_answers(200, rep(.7, 4)), 1, seed = 1)
    d <- loaded_answers(50, rep(.7, 4), 2)
    d[1, 1:3] <- NA
    score_respondents(s, d)
  },
  factor_without_topic = function() {
    count_factors(worded_answers(), rules = "parallel", replicates = 50, seed = 1)
  },
  wording_not_settled = function() {
    core("find_in_wording")(list(loadings = matrix(.5, 4, 2)), list(converged = FALSE, change = .1))
  },
  wording_slight = function() {
    wording_factor(motives(items = m1:t6), 2, items = c("m1", "t1", "t2"), seed = 1)
  },
  wording_in_residuals = function() {
    factor_solution(motives(), 4, kind = "polychoric", starts = 5, seed = 1)
  },
  bifactor_collapses = function() {
    core("find_collapse")(list(best = FALSE, starts = .1, samples = .4))
  },
  determinacy_for_groups = function() score_respondents(solution4(), motives()),
  own_precision = function() {
    score_respondents(form_scales(list(m = c("m1", "m2", "m3"))), motives(), errors = TRUE)
  },
  earlier_precision = function() {
    score_respondents(form_scales(motives()), repair_cafe[1:30, ], errors = TRUE)
  },
  no_errors = function() {
    score_respondents(form_scales(list(m = c("m1", "m2", "m3"))), repair_cafe[3, ], errors = TRUE)
  },
  weights_as_known = function() {
    s <- solution4()
    people <- data.frame(y = seq_len(840), as_tibble(score_respondents(s, motives())))
    carry_back(lm(y ~ F1, people), s, replicates = 0)
  },
  pair_apart = function() {
    pass <- list(offenders = tibble::tibble(rule = "small_factor", item = c("a", "b")),
      removed = "a", members = list(F1 = c("c", "d", "e"), F2 = c("a", "b")))
    core("find_pairs_apart")(list(pass))
  },
  low_determinacy = function() {
    d <- loaded_answers(400, rep(.3, 4))
    score_respondents(factor_solution(d, 1, seed = 1), d)
  },
  determinacy_by_model = function() {
    # as many factors as there can be, of few people
    set.seed(2)
    d <- stats::setNames(as.data.frame(matrix(rnorm(20 * 7), 20)), paste0("q", 1:7))
    score_respondents(extract_factors(questionnaire(d), 3), d)
  },
  scored_with_missing = function() score_respondents(solution4(), repair_cafe),
  improper_scores = function() {
    r <- matrix(c(1, .8, .6, .8, 1, .3, .6, .3, 1), 3)
    people <- data.frame(item1 = 1:5, item2 = c(2, 1, 3, 5, 4), item3 = c(1, 3, 2, 5, 4))
    score_respondents(extract_factors(r, 1, n = 100), people, units = "own")
  },
  scores_uncorrelated = function() score_respondents(solution4(), motives(), "anderson_rubin"),
  scores_of_given_answers = function() {
    q <- keep_items(motives(), m1:t6)
    score_respondents(factor_solution(q, 2, kind = "spearman", seed = 1, starts = 3), q)
  },
  ranges_mixed = function() {
    d <- loaded_answers(50, rep(.7, 3))
    book <- data.frame(item = names(d), lowest = 1, highest = c(5, 5, 7))
    score_respondents(form_scales(list(a = names(d))), questionnaire(d, codebook = book))
  },
  small_norms = function() {
    d <- loaded_answers(50, rep(.7, 3))
    score_respondents(form_scales(list(a = names(d))), questionnaire(d), also = "t_score")
  },
  no_norms = function() {
    d <- cbind(g = c(NA, rep("a", 49)), loaded_answers(50, rep(.7, 3)))
    q <- questionnaire(d, group = g)
    score_respondents(form_scales(list(a = names(d)[-1])), q, also = "t_score", by = "g")
  },
  not_checked = function() carry_back(c(F1 = 1), score_respondents(solution4(), motives())),
  predictions_differ = function() {
    scored <- score_respondents(solution4(), motives())
    values <- scored$values
    values$weights <- values$weights + 1
    scored$values <- values
    carry_back(c(F1 = 1), scored, motives())
  },
  other_scores_in_fit = function() {
    people <- data.frame(y = seq_len(840), F1 = sqrt(seq_len(840)))
    carry_back(lm(y ~ F1, people), solution4())
  },
  pinned_offends = function() sift_items(motives(), factors = 4, keep = "o2", seed = 1),
  fewer_carried = function() {
    rules <- sift_rules(communality = .9, least_per_factor = 0, most_omega_loss = 1,
      by_limits = FALSE)
    sift_items(keep_items(motives(), m1:m6), rules, factors = 3, seed = 1)
  },
  sift_ended_early = function() sift_items(motives(), factors = 4, passes = 0, seed = 1),
  end_flatters = function() sift_items(motives(), factors = 4, passes = 1, seed = 1),
  fewer_draws = function() {
    few <- repair_cafe[1:150, repair_cafe_codebook$item[1:6]]
    rules <- sift_rules(communality = FALSE, loading = FALSE, cross_loading = FALSE,
      small_factor = FALSE, reliability = FALSE)
    x <- sift_items(few, rules, factors = "parallel", kind = "polychoric", replicates = 20,
      seed = 1)
    sift_paths(x, seed = 1, threads = 2)
  },
  paths_unsolved = function() {
    set.seed(5)
    few <- loaded_answers(11, rep(.7, 8), seed = 5)
    sift_paths(sift_items(few, factors = 1, seed = 1), replicates = 6, seed = 1, threads = 1)
  },
  uncertain_items = function() {
    x <- sift_items(motives(), factors = 4, seed = 1)
    sift_paths(x, replicates = 0, uncertain = c(0, 1), seed = 1)
  },
  key_unknown = function() score_formula(form_scales(list(a = c("m1", "m4")))),
  own_norms = function() {
    s <- factor_solution(correlate_items(loaded_answers(99, rep(.7, 4)))$values$correlations, 1,
      n = 99)
    score_respondents(s, loaded_answers(50, rep(.7, 4), 2), units = "own")
  })

# An eigenvalue .01 from its chance level: a close call, or uncertain where the level is not known
# so well.
uncertain_of <- function(uncertain) {
  table <- tibble::tibble(eigenvalue = c(2, 1.205, 0.5), chance_mean = c(1.2, 1.1, 0.9),
    chance_upper = c(1.3, 1.2, 1))
  values <- list(suggested = 2L, eigenvalues = table, uncertain = uncertain, replicates = 100)
  core("find_in_parallel")(values, list(reference = "upper", basis = "components"))
}
verdict_of <- function(agree, probability) {
  rules <- tibble::tibble(suggested = 1L, label = "a", reason = "b")
  values <- list(outside = character(), agree = agree,
    sentences = c("One.", "Parallel analysis suggests 1: eigenvalue 2."), taken = 2L, probable = 2L,
    suggested = 1L, probability = probability)
  core("find_in_count")(values, rules)
}
extraction_found <- function(...) {
  found <- list(converged = TRUE, apart = 0L, starts = 5L, gradient = 1, iterations = 9L,
    loadings = matrix(.7, 3, 1), uniquenesses = rep(.51, 3))
  changed <- list(...)
  found[names(changed)] <- changed
  items <- tibble::tibble(item = c("a", "b", "c"), sd = 1)
  core("find_in_extraction")(found, items, "correlations", .005, "minres")
}
several <- function(optimum) {
  rotate_factors(extract_factors(motives(), 6, seed = 1), "simplimax", starts = 30,
    optimum = optimum, seed = 1)
}
solution_of <- function(k) factor_solution(motives(), k, seed = 1, starts = 3)
stable <- function(d, k) {
  s <- factor_solution(questionnaire(d), k, seed = 1, starts = 3)
  loading_stability(s, replicates = 100, halves = 40, seed = 1)
}
# Groups of such sizes, and one of 300.
grouped <- function(sizes) {
  d <- loaded_answers(sum(sizes) + 300, rep(.7, 8))
  q <- questionnaire(cbind(g = rep(c("a", "b", "c"), c(sizes, 300)), d), group = "g")
  factor_solution(q, 1, by = "g", replicates = 0, seed = 1)
}
trusted <- function(d) assess_reliability(list(a = names(d)), d, replicates = 0, seed = 1)

test_that("every code of the catalogue is told, as severe and by the stage that it says", {
  catalogue <- core("finding_kinds")()
  expect_setequal(names(FIRES), names(catalogue))
  for (code in intersect(names(FIRES), names(catalogue))) {
    told <- suppressMessages(FIRES[[code]]())
    if (!is.data.frame(told)) told <- told$findings
    own <- told[told$code == code, ]
    expect_gt(nrow(own), 0, label = code)
    if (!nrow(own)) next
    expect_true(all(own$severity %in% catalogue[[code]]$severity), label = code)
    # a group is not judged by whichever stage was asked
    if (code != "group_not_judged") expect_identical(own$stage[1], catalogue[[code]]$stage)
    expect_match(own$text[1], "[.)?:]$", label = code)
    expect_no_match(own$text[1], "%s|NA|NULL", label = code)
  }
})

# What is advised is run in the worlds; here every line that can be told is looked at.
test_that("lines that findings advise are calls and entries that exist", {
  advised <- Filter(function(one) !is.null(one[["r"]]), core("finding_kinds")())
  beyond <- function(x, known) expect_length(setdiff(x, known), 0)
  solved <- list(values = list(loadings = matrix(0, 6, 3)), source = list(people = 9))
  class(solved) <- "softsieve_result"
  for (code in names(advised)) {
    told <- function(place) core("advice_line")(code, c("q 1", "no"), 99, place, solved)
    call <- str2lang(told("r"))
    beyond(as.character(call[[1]]), getNamespaceExports("softsieve"))
    takes <- names(formals(as.character(call[[1]])))
    if (!"..." %in% takes) beyond(names(call)[nzchar(names(call))], takes)
    said <- told("study")
    expect_identical(is.null(said), is.null(advised[[code]]$study), info = code)
    if (is.null(said) || grepl("decisions", said)) next
    option <- told("option")
    expect_match(option, "^--[a-z]+[.][a-z_]+ [a-z0-9_]+$", info = code)
    expect_length(core("take_entries")(strsplit(option, " ")[[1]])$entries, 1)
  }
  # names that R and YAML would take for something else
  expect_identical(core("advice_line")("no_variance", c("a b", "no"), NA, "r"),
    "keep_items(data, -`a b`, -no)")
  expect_match(core("advice_line")("no_variance", c("a b", "no"), NA, "study"),
    'drop: ["a b", "no"]', fixed = TRUE)
  # nobody is told to leave out what a matrix has not
  expect_null(core("advice_line")("low_item_adequacy", "q1", .5, "r",
    assess_factorability(two_factors(.3))))
})

test_that("what is advised does away with what was found", {
  set.seed(3)
  d <- loaded_answers(200, c(.7, .7, .7, .6, .6, .05))
  d$all_alike <- 3
  d$`a year` <- 1950 + sample(40, 200, TRUE)
  d[c("q1", "q2", "q3")][d[c("q1", "q2", "q3")] == 5 & runif(600) < .3] <- 99
  data <- suppressWarnings(questionnaire(d))
  answers <- d
  for (code in c("likely_missing_code", "unlike_the_others")) {
    line <- core("grouped_findings")(data$findings, data)
    line <- line$line[line$code == code]
    expect_length(line, 1)
    expect_false(code %in% suppressWarnings(eval(str2lang(line)))$findings$code)
  }
  data <- suppressWarnings(questionnaire(d, missing_codes = 99))
  profile <- profile_items(data)
  line <- core("grouped_findings")(profile$findings, profile)
  left <- eval(str2lang(line$line[line$code == "no_variance"]))
  expect_false("no_variance" %in% profile_items(left)$findings$code)
  expect_output(print(profile), "-> keep_items(data, -all_alike)", fixed = TRUE)
})

test_that("a finding is as severe as its case", {
  severity <- function(r) {
    told <- correlate_items(r, n = 100)$findings
    told$severity[told$code == "repaired"]
  }
  far <- matrix(c(1, .9, -.9, .9, 1, .9, -.9, .9, 1), 3)
  near <- matrix(c(1, .9, .6, .9, 1, .9, .6, .9, 1), 3)
  near[1, 3] <- near[3, 1] <- .615
  expect_identical(severity(far), "serious")
  expect_identical(severity(near), "caution")
  expect_error(core("new_finding")("weighted", "x", severity = "serious"))
})

test_that("the most severe comes first within a stage, and what travelled twice stands once", {
  of <- function(severity, stage = "items") {
    told <- core("new_finding")("weighted", "x")
    told[c("severity", "stage")] <- list(severity, stage)
    told
  }
  all <- core("bind_findings")(of("note"), of("serious"), of("caution", "count"), of("note"),
    of("serious", "count"))
  expect_identical(all$severity, c("serious", "note", "serious", "caution"))
  expect_identical(all$stage, c("items", "items", "count", "count"))
  # of nothing nothing is said
  expect_identical(nrow(core("new_finding")("no_variance", character(), item = character())), 0L)
  # what is good to know stays behind, what is to be looked at goes on
  expect_identical(core("findings_that_travel")(all)$severity[1], "serious")
})

test_that("a word is taken for another only where few letters differ", {
  near <- function(typed) core("hint_nearest")(typed, c("oblimin", "varimax", "promax"))
  expect_match(near("oblmin"), "oblimin")
  expect_match(near("VARIMXA"), "varimax")
  expect_length(near("quartic"), 0)
  expect_length(near("pr"), 0)
})
