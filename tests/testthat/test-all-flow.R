# The same data by two ways give the same numbers; what was noticed travels; settings hold what was
# asked.

study_file <- function(lines, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  from <- system.file("extdata", c("repair_cafe_answers.csv", "repair_cafe_codebook.csv"),
    package = "softsieve")
  file.copy(from, folder)
  file <- file.path(folder, "study.yml")
  writeLines(
    c("answers:", "  file: repair_cafe_answers.csv", "  id: person", "  group: [cafe]",
      "  items: [m1, m2, m3, m4, m5, m6, t1, t2, t3, t4, t5, t6]",
      "codebook: repair_cafe_codebook.csv", "seed: 7", lines),
    file)
  file
}

# Everything a solution says but how it was called, and what it came from was.
numbers_of <- function(s) {
  parts <- unclass(s)[c("values", "settings", "findings", "source")]
  parts$values$item_correlations <- NULL
  parts
}

test_that(
  paste("by hand, in one call, by a study and by the command: the same numbers with",
    "settings of one's own"),
  {
    cases <- list(
      list(
        study = c("correlations: {kind: polychoric}",
          paste("factors: {number: 2, method: wls, rotation: geomin, delta: 0.002, starts: 20,",
            "replicates: 40}")),
        correlate = list(kind = "polychoric"), extract = list(method = "wls"),
        rotate = list(rotation = "geomin", delta = 0.002), number = 2),
      list(
        study = c("correlations: {kind: mixed, continuous_from: 5, missing: complete}",
          paste("factors: {number: hull, method: minres, lowest_uniqueness: 0.01, rotation:",
            "promax, power: 3, normalization: kaiser, starts: 20, replicates: 40}")),
        correlate = list(kind = "mixed", continuous_from = 5L, missing = "complete"),
        extract = list(lowest_uniqueness = 0.01),
        rotate = list(rotation = "promax", power = 3, normalization = "kaiser"), number = "hull"),
      list(
        study = paste("factors: {number: 2, method: components, analyse: covariances, rotation:",
          "varimax, starts: 20, optimum: 1, replicates: 40}"),
        correlate = list(), extract = list(method = "components", analyse = "covariances"),
        rotate = list(rotation = "varimax"), number = 2))
    for (case in cases) {
      q <- motives(items = m1:t6)
      r <- do.call(correlate_items, c(list(q), case$correlate))
      components <- identical(case$extract$method, "components")
      extracted <- if (components) {
        extract_components(r, case$number, analyse = case$extract$analyse)
      } else {
        do.call(extract_factors, c(list(r, case$number, seed = 7L), case$extract))
      }
      by_hand <- do.call(rotate_factors, c(list(extracted), case$rotate, starts = 20L, seed = 7L))
      one_call <- do.call(factor_solution,
        c(list(q, case$number), case$correlate, case$extract, case$rotate, starts = 20L, seed = 7L))
      expect_equal(numbers_of(one_call), numbers_of(by_hand))
      file <- study_file(c(case$study, "scales: {replicates: 0}"))
      out <- file.path(dirname(file), "results")
      study <- run_study(file, folder = out) # the command takes these stages up
      same <- setdiff(names(by_hand$values), c("key", "item_correlations"))
      expect_equal(numbers_of(study$values$solution)$values[same], by_hand$values[same])
      expect_equal(study$values$scales$values, form_scales(by_hand)$values, ignore_attr = TRUE)
      expect_identical(
        softsieve:::cli_main(c("run", file, "--out", out)) |>
          withr::with_output_sink(new = withr::local_tempfile()),
        0L)
      written <- utils::read.csv(file.path(out, "pattern.csv"))
      names <- colnames(by_hand$values$loadings)
      expect_equal(
        as.matrix(written[match(rownames(by_hand$values$loadings), written$item), names]),
        by_hand$values$loadings, ignore_attr = TRUE)
      expect_equal(utils::read.csv(file.path(out, "scores.csv"))[[names[1]]],
        as_tibble(score_respondents(by_hand, q))[[names[1]]])
    }
  })

test_that("every result holds all that was asked for in its settings", {
  q <- motives()
  r <- correlate_items(q)
  s <- extract_factors(r, 4)
  turned <- rotate_factors(s, seed = 1)
  results <- list(correlate_items.questionnaire = r, assess_factorability = assess_factorability(r),
    parallel_analysis = parallel_analysis(r, replicates = 20, seed = 1),
    count_factors = count_factors(r, replicates = 20, seed = 1), extract_factors = s,
    rotate_factors = turned, extract_components = extract_components(r, 3),
    pattern_table = pattern_table(turned), form_scales = form_scales(turned),
    assess_reliability = assess_reliability(turned, q, replicates = 0, seed = 1),
    score_respondents = score_respondents(turned, q), questionnaire = q)
  # what is settled under another name, and what cannot change a number
  under <- c(starts = "extraction_starts", factors = "factors", components = "factors",
    analyse = "analysed", seed = "seed", answered_share = "answered_share")
  renamed <- list(extract_factors = c(starts = "extraction_starts", analyse = "analysed"),
    extract_components = c(components = "factors", analyse = "analysed"),
    rotate_factors = c(seed = "rotation_seed"))
  apart <- c("x", "...", "data", "solution", "scales", "threads", "codebook", "items", "n",
    "target")
  # a seed that a given number of factors does not need; parameters of other rotations; what only
  # scores that go into a file need
  unused <- list(extract_factors = "seed", extract_components = "seed",
    rotate_factors = c("gamma", "kappa", "delta", "power", "zeros"),
    score_respondents = c("into", "keep", "rows"))
  for (name in names(results)) {
    asked <- setdiff(names(formals(getFromNamespace(name, "softsieve"))), c(apart, unused[[name]]))
    hit <- asked %in% names(renamed[[name]])
    asked[hit] <- renamed[[name]][asked[hit]]
    optional <- vapply(asked, function(a) is.null(results[[name]]$settings[[a]]), NA)
    defaults <- formals(getFromNamespace(name, "softsieve"))
    really <- asked[optional & !vapply(asked, function(a) is.null(defaults[[a]]), NA)]
    expect_identical(really, character(), label = name)
  }
  expect_identical(rotate_factors(s, "geomin", delta = .5, seed = 1)$settings$delta, .5)
})

test_that("a number found in other people, or with other weights, is not taken", {
  q <- motives()
  harbour <- parallel_analysis(keep_people(q, cafe == unique(repair_cafe$cafe)[1]), replicates = 50,
    seed = 1)
  expect_error(extract_factors(q, harbour), "other people", class = "softsieve_error_factors")
  expect_error(
    extract_factors(motives(items = m1:t6), parallel_analysis(q, replicates = 50, seed = 1)),
    "other items", class = "softsieve_error_factors")
  expect_s3_class(
    extract_factors(correlate_items(q), parallel_analysis(q, replicates = 50, seed = 1)),
    "factor_solution")
  weighted <- transform(repair_cafe, w = rep(c(1, 2), 420))
  light <- questionnaire(weighted, codebook = repair_cafe_codebook, id = person, weight = w)
  plain <- questionnaire(weighted, codebook = repair_cafe_codebook, id = person)
  expect_false(identical(light$source$fingerprint, plain$source$fingerprint))
  expect_identical(plain$source$fingerprint, q$source$fingerprint)
})

test_that("conditions, cautions and the n of tests travel to every later result, once", {
  q <- keep_people(motives(), m1 >= 2)
  expect_identical(q$settings$kept, "m1 >= 2")
  r <- correlate_items(q)
  s <- rotate_factors(extract_factors(r, 4), seed = 1)
  later <- list(r, assess_factorability(r), parallel_analysis(r, replicates = 20, seed = 1),
    count_factors(q, replicates = 20, seed = 1), s, extract_components(q, 2),
    score_respondents(s, q), assess_reliability(s, q, replicates = 0))
  for (result in later) {
    kept <- result$findings[result$findings$code == "people_kept", ]
    expect_identical(nrow(kept), 1L, label = class(result)[1])
    expect_match(kept$text, "kept: m1 >= 2")
  }
  n <- s$findings[s$findings$code == "n_of_tests", ]
  expect_identical(nrow(n), 1L)
  expect_equal(n$value, s$values$n)
  pair <- r$values$n_pair[upper.tri(r$values$n_pair)]
  expect_match(n$text,
    sprintf("Chance levels use n = %d instead of %d: ", r$values$n, r$values$people))
  expect_output(print(s), sprintf("n = %d of %d people", r$values$n, r$values$people))
  # a part of the people is valid in all its parts
  part <- softsieve:::subset_people(motives(), 1:50)
  expect_identical(part$source, softsieve:::fingerprint_of(part$values$answers))
  expect_identical(nrow(part$values$people), 50L)
})

test_that("covariances are the same wherever they are used", {
  q <- motives(items = t1:t6)
  r <- correlate_items(q, kind = "covariance")
  v <- r$values
  expect_equal(v$covariances, v$correlations * (v$items$sd %o% v$items$sd), ignore_attr = TRUE)
  s <- extract_components(r, 6)
  expect_equal(fitted(s), v$covariances, ignore_attr = TRUE)
  alpha <- assess_reliability(list(thrift = paste0("t", 1:6)), q,
    replicates = 0)$values$scales$alpha
  expect_equal(alpha, 6 / 5 * (1 - sum(diag(v$covariances)) / sum(v$covariances)))
})

test_that(
  paste("ordinal correlations: rules that take Pearson for granted are marked, and",
    "Pearson is counted beside"),
  {
    q <- motives()
    count <- count_factors(q, kind = "polychoric", chance = "normal", replicates = 50, seed = 1)
    rules <- count$values$rules
    expect_setequal(rules$rule[!rules$holds],
      c("sequential", "next_eigenvalue", "empirical_kaiser", "bic"))
    expect_true(all(count_factors(q, replicates = 50, seed = 1)$values$rules$holds))
    by_bic <- extract_factors(correlate_items(q, kind = "polychoric"), "bic", seed = 1)
    expect_match(by_bic$settings$factors_by,
      "BIC \\(which takes Pearson correlations for granted\\)")
    shown <- capture.output(print(count))
    expect_match(grep("^  BIC", shown, value = TRUE), "\\d \\?")
    plain <- count_factors(q, rules = "parallel", replicates = 50, seed = 1)$values
    expect_null(count$values$pearson) # polychoric correlations are weighed themselves
    count <- count_factors(q, kind = "spearman", rules = "parallel", replicates = 50, seed = 1)
    expect_equal(count$values$pearson$probability, plain$probability)
    expect_match(paste(count$values$sentences, collapse = " "),
      sprintf("Pearson correlations of the same answers: parallel analysis suggests %d",
        plain$suggested))
    # what is said to compare lies within what is said to be suggested
    expect_true(all(
      c(count$values$plausible, count$values$pearson$probable) %in%
        c(count$values$compare, count$values$suggested)))
  })

test_that("the hull finds the number of factors in clean populations of 1 to 8", {
  for (k in 1:8) {
    pattern <- kronecker(diag(k), matrix(c(.8, .7, .6, .7, .8), 5))
    r <- pattern %*% (diag(.8, k) + .2) %*% t(pattern)
    diag(r) <- 1
    said <- count_factors(r, n = 5000, rules = "hull", replicates = 20, seed = 1)$values$rules
    expect_identical(said$suggested[said$rule == "hull"], k, label = paste(k, "factors"))
  }
})

test_that("adequacy that is not defined is said so, for all items or for one", {
  none <- assess_factorability(diag(4), n = 100)
  expect_true(is.na(none$values$adequacy))
  expect_identical(none$values$verdict, "unrelated")
  expect_match(none$findings$text[none$findings$code == "adequacy_undefined"],
    "No item correlates with any other")
  r <- known_correlations()
  r[4, -4] <- r[-4, 4] <- 0
  one <- assess_factorability(`dimnames<-`(r, list(letters[1:9], letters[1:9])), n = 100)
  expect_identical(one$findings$item[one$findings$code == "adequacy_undefined"], "d")
  expect_match(paste(capture.output(print(none)), collapse = " "),
    "sampling adequacy is not defined")
  expect_identical(softsieve:::format_beside(.69999, c(.5, .6, .7)), ".69999")
  expect_identical(softsieve:::format_beside(.7, c(.5, .6, .7)), ".70")
})

test_that("long work shows its progress without coming to harm", {
  withr::local_options(cli.progress_show_after = 0, cli.dynamic = TRUE)
  quietly <- function(code) suppressMessages(capture.output(code, type = "message"))
  d <- unrelated_answers(300, 40)
  quietly({
    r <- correlate_items(d)
    expect_s3_class(r, "item_correlations")
    parallel_analysis(r, replicates = 200, chance = "resampled", seed = 1)
    count_factors(r, replicates = 50, seed = 1)
    rotate_factors(extract_factors(r, 2), starts = 50, seed = 1)
    assess_reliability(list(a = paste0("q", 1:9)), d, replicates = 60, seed = 1)
    invisible(correlate_items(d, kind = "polychoric"))
  })
  expect_no_error(quietly(softsieve:::with_progress("More than there is", 3, function(progress) {
    for (i in 1:9) progress(i)
  })))
})

test_that("arguments that nothing knows are errors with a hint", {
  s <- factor_solution(motives(), 4, seed = 1)
  for (code in list(quote(plot(s, colour = "x")),
    quote(ggplot2::autoplot(correlate_items(motives()), type = "y")), quote(tidy(s, all = TRUE)),
    quote(glance(motives(), by = 1)), quote(residuals(s, layer = 1)))) {
    expect_error(eval(code), "Not known here", class = "softsieve_error_argument")
  }
  expect_error(factor_solution(motives(), gama = 1), "gamma", class = "softsieve_error_argument")
  layers <- component_layers(extract_components(motives(), 3))
  expect_error(fitted(layers), "which layer", class = "softsieve_error_argument")
  expect_true(all(colSums(layers$values$vectors) >= 0))
  expect_identical(dimnames(layers$values$vectors),
    list(motives()$values$items$item, paste0("C", 1:26)))
  expect_identical(glance(motives())$people, 840L)
})

test_that("what was edited by hand no longer claims to be what it was", {
  q <- motives()
  edited <- q
  edited$values$answers[1:9, 1] <- NA
  expect_false(identical(edited$source$fingerprint, q$source$fingerprint))
  same <- questionnaire(as.data.frame(edited$values$answers))
  expect_identical(edited$source$fingerprint, same$source$fingerprint)
  count <- parallel_analysis(q, replicates = 20, seed = 1)
  expect_error(extract_factors(edited, count), "other people", class = "softsieve_error_factors")
  r <- correlate_items(q)
  r[["values"]]$correlations[1, 2] <- 0
  expect_s3_class(r, "item_correlations")
  expect_error(extract_factors(r, count), class = "softsieve_error_factors")
  expect_true("edited_by_hand" %in% extract_factors(r, 3)$findings$code)
  # other parts may be changed
  r$call <- NULL
  expect_named(unclass(r), c("values", "settings", "findings", "source", "call"))
})

test_that("what shows a result that was edited says what is missing", {
  q <- keep_items(motives(items = m1:t6), m1:t6)
  said <- function(code) {
    grDevices::pdf(NULL)
    on.exit(grDevices::dev.off())
    conditionMessage(expect_error(capture.output(code), class = "softsieve_error_edited"))
  }
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  gone <- s
  gone$values$loadings <- NULL
  for (show in list(print, plot, tidy, as_tibble, summary)) {
    expect_match(said(show(gone)), "`values\\$loadings` is gone")
  }
  other <- s
  other$findings <- 3
  expect_match(said(print(other)), "`findings` is of class numeric, not tbl_df")
  # by whatever way it was edited, and of a column of a table; R only warns of some
  profile <- unclass(profile_items(q))
  profile$values$items$mean <- NULL
  profile <- structure(profile, class = class(profile_items(q)))
  expect_match(said(print(profile)), "`values\\$items\\$mean` is gone")
  # every class has the guard, of every such method
  methods <- ls(asNamespace("softsieve"), pattern = "^(print|tidy|glance|plot|as_tibble)[.]")
  guarded <- vapply(methods, function(name) {
    any(grepl("told_if_not_whole", deparse(body(getFromNamespace(name, "softsieve")))))
  }, NA)
  expect_identical(methods[!guarded], character())
})

test_that("a figure and a summary of an edited result say what is gone when they are asked for", {
  s <- factor_solution(motives(items = m1:t6), 2, seed = 1, starts = 2)
  gone <- s
  gone$values$variance_unrotated$share <- NULL
  expect_error(capture.output(print(summary(gone))), "variance_unrotated.share. is gone",
    class = "softsieve_error_edited")
  limits <- loading_stability(s, replicates = 20, seed = 1)
  limits$values$loadings$upper <- NULL
  expect_error(ggplot2::autoplot(limits), "loadings.upper. is gone",
    class = "softsieve_error_edited")
})
