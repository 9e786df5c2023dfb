# Plans: what they measure is what the exported stages give of the same answers; forecasts come true
# in fresh samples; wishes, files and impossible designs.

core <- function(name) get(name, asNamespace("softsieve"))
small <- function(...) planned_factors(factors = 2, items = 4, loadings = c(.5, .7), ...)

test_that("each measure is that of the exported stages on the same answers", {
  design <- small(missing = .05)
  how <- core("settle_plan")(design, 150, 20, 3, 1L)
  chance <- core("chance_limits")(150, how)
  samples <- core("measure_samples")(how, 150L, 1:3, chance)
  found <- lapply(samples, `[[`, "measures")
  for (i in 1:3) {
    x <- core("simulate_answers")(design, 150L, 3, i)
    q <- questionnaire(as.data.frame(`colnames<-`(x, paste0("i", 1:8))))
    count <- count_factors(q, rules = "parallel", seed = 1, replicates = 20)
    expect_identical(core("people_for_tests")(x), count$values$n)
    expect_identical(unname(found[[i]]["right_number"]), as.numeric(count$values$probable == 2))
    s <- factor_solution(q, 2, seed = 1)
    aligned <- core("core_aligned")(unname(coef(s)), unname(how$target$loadings))
    error <- aligned$loadings - how$target$loadings
    expect_equal(unname(found[[i]]["loading_error"]), mean(error^2), tolerance = 1e-5)
    # omega of scales as they stand in the target, from correlations
    items <- paste0("i", which(how$target$home == 1))
    r <- correlate_items(q)$values$correlations[items, items]
    omega <- assess_reliability(list(one = items), correlate_items(r, n = 150),
      replicates = 0)$values$scales$omega
    expect_equal(core("omegas_of")(correlate_items(q)$values$correlations, how$target$home, 2)[1],
      omega, tolerance = 1e-6)
    expect_equal(unname(found[[i]]["omega.1"]), omega, tolerance = 1e-6)
    determined <- score_respondents(s, q)$values$factors$determinacy
    off <- determined - how$target$determinacy[aligned$column]
    expect_equal(unname(found[[i]]["determinacy_error"]), mean(off^2), tolerance = 1e-3)
    bare <- correlate_items(correlate_items(q)$values$correlations, n = count$values$n)
    close_p <- vapply(1:2, function(k) factor_solution(bare, k, seed = 1)$values$fit$close_p, 0)
    expect_identical(unname(found[[i]][c("sphericity", "close_fit", "fewer_rejected")]),
      as.numeric(c(assess_factorability(bare)$values$sphericity$p < .05, close_p[2] >= .05,
        close_p[1] < .05)))
    looks <- samples[[i]]$looks
    expect_equal(looks[, "communality"], unname(s$values$items$communality), tolerance = 1e-4)
    expect_equal(looks[, "loading"], unname(apply(abs(coef(s)), 1, max)), tolerance = 1e-4)
    above <- eigen(correlate_items(q)$values$correlations)$values > chance
    expect_identical(unname(found[[i]]["right_parallel"]), as.numeric(which(!above)[1] - 1 == 2))
    # biases: means of the same differences, of loadings and factor correlations from 0
    own <- cbind(1:8, how$target$home)
    expect_equal(unname(found[[i]]["loading_bias"]), mean(error[own] * sign(aligned$loadings[own])),
      tolerance = 1e-5)
    known <- core("core_communalities")(how$target$loadings, how$target$between)
    expect_equal(unname(found[[i]]["communality_bias"]), mean(s$values$items$communality - known),
      tolerance = 1e-4)
    between <- abs(s$values$factor_correlations[1, 2]) - abs(how$target$between[1, 2])
    expect_equal(unname(found[[i]]["correlation_bias"]), between, tolerance = 1e-4)
    expect_equal(unname(found[[i]]["congruence"]), mean(aligned$congruence), tolerance = 1e-5)
  }
  # chance levels are those of answers like these
  one <- as.data.frame(core("simulate_answers")(design, 150L, 3, 0L))
  expect_identical(chance, parallel_analysis(one, replicates = 500, seed = 3)$
    values$eigenvalues$chance_upper)
  gaps <- core("chance_limits")(150, core("settle_plan")(small(missing = .4), 150, 20, 3, 1L))
  expect_gt(gaps[1], chance[1])
})

test_that("rules and limits are counted when asked, as the stages have them of each sample", {
  # (factors whose order and direction a sample turns: the strongest is the second, from below 0)
  pattern <- cbind(a = c(.5, .5, .45, rep(0, 8)), b = c(0, 0, 0, -.8, -.8, -.75, -.7, rep(0, 4)),
    c = c(rep(0, 7), .65, .65, .6, .6))
  design <- planned_factors(pattern = pattern, correlations = .2, missing = .05)
  x <- plan_study(design, 160, replicates = 20, seed = 5, rules = c("hull", "bic"),
    resamples = 50)
  a <- as_tibble(x)
  value <- function(name) a$value[a$measure == name]
  truth <- x$values$target
  each <- vapply(1:20, function(i) {
    q <- questionnaire(as.data.frame(core("simulate_answers")(design, 160L, 5, i)))
    count <- count_factors(q, rules = c("hull", "bic"), replicates = 200, seed = 5)$values
    said <- count$rules$suggested[match(c("hull", "bic"), count$rules$rule)]
    s <- factor_solution(q, 3, seed = 5)
    v <- loading_stability(s, halves = 0, replicates = 50, seed = 5)$values
    # by hand: the order of factors with the largest sum of congruences, each in its direction
    l <- unname(coef(s))
    congruence <- crossprod(l, truth$loadings) /
      sqrt(colSums(l^2) %o% colSums(truth$loadings^2))
    orders <- rbind(1:3, c(1, 3, 2), c(2, 1, 3), c(2, 3, 1), c(3, 1, 2), 3:1)
    order <- orders[which.max(apply(orders, 1, function(o) sum(abs(congruence[cbind(1:3, o)])))), ]
    sign <- sign(congruence[cbind(1:3, order)])
    own <- t(t(truth$loadings[, order]) * sign)
    inside <- function(table, y) mean(y >= table$lower & y <= table$upper)
    common <- diag(truth$loadings %*% truth$between %*% t(truth$loadings))
    between <- truth$between[order, order] * (sign %o% sign)
    c(count$taken == 3, (said == 3) %in% TRUE, inside(v$loadings, as.vector(own)),
      inside(v$items, common), inside(v$factor_correlations, between[upper.tri(between)]),
      order[1] == 2 && sign[1] < 0)
  }, numeric(7))
  expect_gt(sum(each[7, ]), 15)
  expect_equal(c(value("right_taken"), value("right.hull"), value("right.bic"),
    value("loadings_covered"), value("communalities_covered"), value("correlations_covered")),
  rowMeans(each)[1:6])
  expect_equal(a$error[a$measure == "loadings_covered"], sd(each[4, ]) / sqrt(20))
  printed <- capture.output(print(x))
  expect_match(printed, "^ +hull +[0-9]+ %", all = FALSE)
  expect_match(printed, "of factor correlations", all = FALSE)
  all <- as_tibble(plan_study(planned_factors(1, items = 5), 60, replicates = 20, seed = 1,
    rules = "all"))
  expect_setequal(sub("right.", "", grep("^right[.]", all$measure, value = TRUE), fixed = TRUE),
    setdiff(names(core("RULES")), "parallel"))
  expect_false(any(grepl("^right[.]|covered", as_tibble(plan_study(small(), 100, replicates = 20,
    seed = 1))$measure)))
  expect_error(plan_study(small(), 100, rules = "luck"), "`rules`",
    class = "softsieve_error_argument")
  expect_error(plan_study(small(), 100, resamples = 10), "50 or more",
    class = "softsieve_error_argument")
  expect_error(plot(plan_study(small(), 100, replicates = 20, seed = 1), "rules"),
    class = "softsieve_error_figure")
  expect_s3_class(core("draw_plan_rules")(x), "ggplot")
})

test_that("polychoric correlations show what is behind the answers, as far as they can", {
  design <- small(answers = 3)
  target <- function(kind) {
    plan_study(design, 150, replicates = 20, seed = 1, kind = kind)$values$target$loadings
  }
  off <- mean(target("pearson") - design$loadings)
  expect_lt(off, -.03)
  expect_lt(abs(mean(target("polychoric") - design$loadings)), -off / 5)
  x <- plan_study(design, 150, replicates = 20, seed = 1, kind = "polychoric", hidden = TRUE)
  a <- as_tibble(x)
  expect_true(all(is.na(a$value[a$measure %in% c("sphericity", "close_fit", "fewer_rejected")])))
  q <- questionnaire(as.data.frame(core("simulate_answers")(design, 150L, 1, 1L)))
  count <- count_factors(q, kind = "polychoric", rules = "parallel", seed = 1, replicates = 20)
  how <- core("settle_plan")(design, 150, 20, 1, 1L, "polychoric")
  found <- core("measure_samples")(how, 150L, 1L, core("chance_limits")(150, how))[[1]]$measures
  expect_identical(unname(found["right_number"]), as.numeric(count$values$probable == 2))
  s <- factor_solution(q, 2, kind = "polychoric", seed = 1)
  off <- core("core_aligned")(unname(coef(s)), unname(how$target$loadings))$loadings -
    unname(how$target$loadings)
  expect_equal(unname(found["loading_error"]), mean(off^2), tolerance = 1e-4)
  expect_match(plan_text(x), "polychoric correlations")
  needed <- function(kind) {
    people_needed(design, loading_error = .12, replicates = 20, seed = 1,
      kind = kind)$values$needed$people
  }
  expect_false(needed("polychoric") == needed("pearson"))
  expect_error(plan_study(small(answers = 0), 100, kind = "polychoric"), "in categories",
    class = "softsieve_error_plan")
  expect_error(plan_study(small(), 100, kind = "mixed"), class = "softsieve_error_argument")
})

test_that("a plan has its report, which repeats it", {
  dir <- withr::local_tempdir()
  at <- function(name) file.path(dir, name)
  x <- plan_study(planned_factors(1, items = 5, loadings = c(.2, .7), answers = 4,
    clusters = c(size = 5, intraclass = .1)), 100, replicates = 20, seed = 3,
    resamples = 50, rules = "bic")
  expect_identical(unique(x$values$items$item), paste0("item", 1:5))
  for (file in c("plan.html", "plan.md", "plan.docx")) write_report(x, at(file))
  text <- readLines(at("plan.md"))
  for (said in c("5 items on 1 factor", "## Limits", "50 resamples", "BIC", "clusters of 5")) {
    expect_match(text, said, fixed = TRUE, all = FALSE)
  }
  html <- page_text(at("plan.html"))
  expect_match(html, plan_text(x, "de"), fixed = TRUE)
  error <- as_tibble(x)$value[as_tibble(x)$measure == "loading_error"]
  expect_match(html, sub("^0", "", sprintf("%.2f", error[1])), fixed = TRUE)
  # the supplement, run
  lines <- sub("^    ", "", text[grep("^    [a-z -]", text)])
  writeLines(lines, at("design.yml"))
  done <- run_command(c("plan", "design.yml", "--format", "json", "--quiet", "--report",
    "again.md"), dir)
  expect_identical(done$status, 0L)
  again <- jsonlite::fromJSON(paste(done$out, collapse = "\n"))$values$measures
  expect_equal(again$value, as_tibble(x)$value, tolerance = 1e-6)
  expect_identical(grep("^    ", readLines(at("again.md")), value = TRUE),
    grep("^    ", text, value = TRUE))
  # of wishes, too, and side by side
  y <- people_needed(small(), loading_error = .15, replicates = 20, most = 500, seed = 2)
  write_report(list(One = x, Two = y), at("both.html"))
  both <- page_text(at("both.html"))
  expect_match(both, "people are needed", fixed = TRUE)
  write_report(y, at("wishes.md"))
  expect_match(readLines(at("wishes.md")), "wishes: {\"loading_error\":0.15}", fixed = TRUE,
    all = FALSE)
  expect_error(write_report(list(x, demo_run()), at("mixed.html")),
    class = "softsieve_error_class")
  # a report is none of the files that are read, and its place is looked at before the work
  before <- readLines(at("design.yml"))
  expect_identical(run_command(c("plan", "design.yml", "--report", "design.yml"), dir)$status, 1L)
  expect_identical(readLines(at("design.yml")), before)
  dir.create(at("folder.html"))
  for (place in list("nowhere/plan.html", "folder.html", c("both.html", "--out", "./both.html"))) {
    late <- run_command(c("plan", "design.yml", "--report", place), dir)
    expect_identical(late$status, 1L)
    expect_length(late$out, 0)
    expect_no_match(late$err, "Samples")
  }
})

test_that("forecasts come true in fresh samples, and more people err less", {
  x <- plan_study(small(), c(100, 400), replicates = 150, seed = 1)
  other <- plan_study(small(), c(100, 400), replicates = 150, seed = 2)
  a <- as_tibble(x)
  b <- as_tibble(other)
  apart <- (a$value - b$value) / sqrt(a$error^2 + b$error^2)
  # (targets differ as well, by what 50,000 people err)
  expect_lt(max(abs(apart[is.finite(apart)])), 4)
  # what all samples agree on has an error, too
  expect_true(all(a$error[a$value %in% c(0, 1)] > 0))
  at <- function(name, n) a$value[a$measure == name & a$people == n]
  expect_equal(at("loading_error", 100) / at("loading_error", 400), 2, tolerance = .25)
  expect_gt(at("factors_found", 400), at("factors_found", 100))
  expect_lt(max(abs(x$values$target$loadings[1:4, 1] - seq(.7, .5, length.out = 4))), .08)
  # the same seed gives the same bits on any threads, and leaves R's own stream alone
  set.seed(1)
  before <- .Random.seed
  again <- plan_study(small(), c(100, 400), replicates = 150, seed = 1, threads = 2)
  expect_identical(again$values, x$values)
  expect_identical(.Random.seed, before)
})

test_that("what is planned has its effect on what is found", {
  error <- function(...) {
    a <- as_tibble(plan_study(planned_factors(...), 200, replicates = 30, seed = 1))
    a$value[a$measure == "loading_error"]
  }
  plain <- error(factors = 2, items = 4)
  expect_gt(error(factors = 2, items = 4, careless = .3), plain)
  expect_gt(error(factors = 2, items = 4, missing = .3), plain)
  expect_gt(error(factors = 2, items = 4, answers = 2), plain)
  expect_lt(error(factors = 2, items = 4, answers = 0), plain)
  expect_gt(error(factors = 2, items = 4, answers = 2, lean = 1.2),
    error(factors = 2, items = 4, answers = 2))
  expect_gt(error(factors = 2, items = 4, correlations = .7), plain)
  expect_lt(error(factors = 2, items = 8), plain)
  expect_lt(error(factors = 2, items = 4, loadings = .8), plain)
  # a pattern, a solution and a study say the same
  s <- factor_solution(motives(), 4, seed = 1, starts = 3)
  known <- planned_factors(pattern = s)
  expect_equal(known$loadings, coef(s))
  by_hand <- planned_factors(pattern = coef(s), correlations = unname(s$values$factor_correlations))
  expect_equal(by_hand$factor_correlations, known$factor_correlations)
  expect_identical(planned_factors(pattern = demo_run())$loadings,
    demo_run()$values$solution$values$loadings)
})

test_that("the fewest people that meet all wishes are found, and which wish binds", {
  found <- people_needed(small(), loading_error = .07, right_number = .6, replicates = 60, seed = 1)
  needed <- found$values$needed
  expect_identical(needed$measure[needed$binds], "loading_error")
  tried <- as_tibble(found)
  error <- tried[tried$measure == "loading_error", ]
  expect_lte(error$value[error$people == needed$people[1]], .07)
  below <- error$people < needed$people[1]
  expect_gt(error$value[below][which.max(error$people[below])], .07)
  expect_lt(needed$lower[1], needed$people[1])
  expect_match(capture.output(print(found))[1], "people are needed")
  # known from theory: errors fall with the root of the people
  half <- people_needed(small(), loading_error = .035, replicates = 60, seed = 1)
  expect_equal(half$values$needed$people[1] / needed$people[1], 4, tolerance = .3)
  expect_error(people_needed(small(), omega_error = .01, most = 200, replicates = 20, seed = 1),
    "is asked for, 200 people give", class = "softsieve_error_plan")
  one <- planned_factors(1, items = 4)
  expect_error(people_needed(one, right_number = .9, seed = 1), "not 4",
    class = "softsieve_error_plan")
  expect_error(people_needed(one, correlation_error = .1, seed = 1), "one factor",
    class = "softsieve_error_plan")
  expect_error(people_needed(planned_factors(3, items = 2), omega_error = .1, seed = 1),
    "three items", class = "softsieve_error_plan")
  enough <- people_needed(one, loading_error = .4, replicates = 20, seed = 1)
  expect_match(enough$values$sentences[1], "at most; fewer were not tried")
  expect_error(people_needed(small()), "a wish", class = "softsieve_error_argument")
})

test_that("samples are enough where the answer is known, and limits of omega as wide as said", {
  plan <- plan_study(small(), c(60, 600), replicates = "enough", seed = 1)
  expect_identical(plan$settings$replicates, "enough")
  x <- as_tibble(plan)
  expect_true(all(x$samples < 5000))
  expect_gt(x$samples[x$people == 60][1], x$samples[x$people == 600][1])
  of_share <- x$measure %in% c("right_number", "factors_found", "improper", "astray")
  expect_true(all(x$error[of_share & !is.na(x$value)] <= .01))
  # by hand: omegas of fresh samples
  omega <- vapply(1:200, function(i) {
    set.seed(i)
    f <- matrix(rnorm(1200), 600) %*% chol(matrix(c(1, .3, .3, 1), 2))
    y <- f[, rep(1:2, each = 4)] %*% diag(rep(seq(.7, .5, length.out = 4), 2)) +
      matrix(rnorm(4800), 600) %*% diag(sqrt(1 - rep(seq(.7, .5, length.out = 4), 2)^2))
    y <- apply(y, 2, findInterval, seq(-1.5, 1.5, length.out = 4))
    core("omegas_of")(cor(y), rep(1:2, each = 4), 2)[1]
  }, 0)
  width <- x[x$measure == "omega_width" & x$people == 600, ]
  expect_lt(abs(width$value - 3.92 * sd(omega)),
    3 * sqrt(width$error^2 + (3.92 * sd(omega) / sqrt(400))^2))
})

test_that("other designs are searched for the same wishes, each as if by itself", {
  found <- people_needed(small(answers = 3), omega_width = .2, loading_error = .1, replicates = 40,
    seed = 1, alternatives = TRUE)
  others <- found$values$alternatives
  expect_identical(others$items, c(8L, 10L, 8L, 8L, 8L))
  expect_identical(others$asked, c(8L, 10L, 8L, 8L, 6L))
  expect_lt(others$saved[grepl("blocks", others$design)], 0)
  expect_identical(others$saved, others$people[1] - others$people)
  expect_gt(others$saved[others$design == "five answers"], 0)
  expect_gt(sum(others$saved[!grepl("blocks", others$design)]), 0)
  alone <- people_needed(small(), omega_width = .2, loading_error = .1, replicates = 40, seed = 1)
  expect_identical(others$people[others$design == "five answers"],
    alone$values$needed$people[1])
  expect_match(found$values$sentences, "With one more item on each factor: ", all = FALSE)
  # of a factor on which no item loads most, none is added
  m <- cbind(a = rep(.7, 6), b = rep(c(.3, -.3), 3))
  weak <- people_needed(planned_factors(pattern = m, correlations = 0), loading_error = .3,
    replicates = 20, seed = 1, alternatives = TRUE)
  expect_identical(weak$values$alternatives$items[2], 7L)
  # a communality of 1 or more is no design
  near <- people_needed(planned_factors(2, items = 3, loadings = .95, answers = 0),
    loading_error = .2, replicates = 20, seed = 1, alternatives = TRUE)$values$alternatives
  expect_true(is.na(near$people[near$design == "loadings .05 larger"]))
})

test_that("people in clusters and in blocks answer as designed", {
  design <- small(answers = 0, clusters = c(size = 10, intraclass = .2))
  x <- core("simulate_answers")(design, 20000L, 1, 1L)
  # (a variance component by the means of clusters)
  means <- rowsum(x, rep(1:2000, each = 10)) / 10
  expect_equal(mean(apply(means, 2, var)), .2 + .8 / 10, tolerance = .05)
  expect_equal(cor(x)[1, 2], cor(core("simulate_answers")(small(answers = 0), 20000L, 1, 1L))[1, 2],
    tolerance = .1)
  wide <- small(blocks = c(of = 4, asked = 3))
  y <- core("simulate_answers")(wide, 400L, 1, 1L)
  expect_equal(rowSums(!is.na(y)), rep(6, 400))
  together <- crossprod(!is.na(y)) / 400
  layout <- plan_study(wide, 300, replicates = 20, seed = 1)$values$layout
  expect_identical(as.vector(table(layout$block)), rep(2L, 4))
  expect_equal(unname(together[1, layout$block == layout$block[1]]), c(.75, .75))
  expect_equal(unique(together[1, layout$block != layout$block[1]]), .5)
  # each factor stands in every block
  expect_identical(length(unique(layout$block[1:4])), 4L)
  # ... also where the items of two factors stand in turn
  turns <- cbind(a = rep(c(.6, 0), 4), b = rep(c(0, .6), 4))
  mixed <- planned_factors(pattern = turns, blocks = c(of = 4, asked = 2))
  dealt <- plan_study(mixed, 300, replicates = 20, seed = 1)$values$layout$block
  expect_setequal(dealt[c(1, 3, 5, 7)], 1:4)
  # a matrix that cannot be is repaired, as correlate_items() does it, and analysed
  gaps <- small(blocks = c(of = 4, asked = 2))
  how <- core("settle_plan")(gaps, 60, 20, 1, 1L)
  x <- core("simulate_answers")(gaps, 60L, 1, 2L)
  r <- correlate_items(as.data.frame(x))
  expect_true("repaired" %in% r$findings$code)
  found <- core("measure_samples")(how, 60L, 2L, core("chance_limits")(60, how))[[1]]
  aligned <- core("core_aligned")(unname(coef(factor_solution(r, 2, seed = 1))),
    unname(how$target$loadings))
  expect_equal(unname(found$measures["loading_error"]),
    mean((aligned$loadings - how$target$loadings)^2), tolerance = 1e-4)
  expect_equal(unname(found$measures["right_parallel"]),
    as.numeric(parallel_analysis(r, replicates = 500, seed = 1)$values$suggested == 2))
  expect_true(all(is.na(found$measures[c("right_number", "sphericity")])))
  # so few together are fewer than the probabilities know: nothing is said of them
  few <- as_tibble(plan_study(small(blocks = c(of = 4, asked = 2)), 80, replicates = 40, seed = 1))
  expect_true(is.na(few$value[few$measure == "right_number"]))
  error <- function(...) {
    a <- as_tibble(plan_study(small(...), 200, replicates = 40, seed = 1))
    a$value[a$measure == "loading_error"]
  }
  plain <- error()
  expect_gt(error(blocks = c(of = 4, asked = 2)), 1.2 * plain)
  expect_gt(error(clusters = c(size = 50, intraclass = .3)), 1.2 * plain)
  expect_match(capture.output(print(wide)), "Block 4: item4 and item8", all = FALSE)
  expect_no_match(capture.output(print(small())), "Block")
  for (language in c("en", "de")) {
    expect_match(plan_text(plan_study(small(clusters = c(size = 25, intraclass = .1),
      blocks = c(of = 5, asked = 3)), 100, replicates = 20, seed = 1), language), "25.*3 \\w+ 5")
  }
  for (bad in list(c(size = 1, intraclass = .1), c(size = 5), c(size = 5, intraclass = .9), "a")) {
    expect_error(small(clusters = bad), "clusters", class = "softsieve_error_argument")
  }
  for (bad in list(c(of = 4, asked = 4), c(of = 20, asked = 3), c(of = 3, asked = 1), 3, "a")) {
    expect_error(small(blocks = bad), "blocks", class = "softsieve_error_argument")
  }
})

test_that("cross-loadings are told from 0, and items sifted, as often as is said", {
  x <- plan_study(small(answers = 0), 300, replicates = 300, seed = 1)
  size <- x$values$measures$value[x$values$measures$measure == "cross_loading"]
  # by hand: the factors' median items with such a cross-loading, among fresh samples
  shares <- vapply(c(3, 7), function(item) {
    crossed <- small(answers = 0)
    factor <- 3 - (item + 1) / 4
    crossed$loadings[item, factor] <- size
    drawn <- core("solve_samples")(lapply(1:200, function(i) {
      cor(core("simulate_answers")(crossed, 300L, 99, i))
    }), list(loadings = crossed$loadings), list(seed = 1, threads = 1L))
    found <- vapply(drawn, function(one) one$loadings[item, factor], 0)
    mean(found / sd(found) > qnorm(.975))
  }, 0)
  expect_lt(max(abs(shares - .8)), .1)
  # good items and weak ones; what is said of all is the mean of what is said of each
  some <- matrix(c(.7, .7, .7, .15, 0, 0, 0, .5, 0, 0, 0, 0, .7, .7, .7, .45), 8)
  y <- plan_study(planned_factors(pattern = some, answers = 0), c(100, 2000), replicates = 40,
    seed = 1)$values
  at <- function(n) y$items[y$items$people == n, ]
  expect_identical(at(2000)$weak, c(FALSE, FALSE, FALSE, TRUE, FALSE, FALSE, FALSE, TRUE))
  expect_gt(min(at(2000)$out[c(4, 8)]), .9)
  expect_lt(at(100)$out[4], at(2000)$out[4])
  value <- function(name, n) y$measures$value[y$measures$measure == name & y$measures$people == n]
  expect_equal(value("weak_kept", 100), mean(1 - at(100)$out[c(4, 8)]))
  expect_equal(value("sifted_wrongly", 100), mean(at(100)$out[-c(4, 8)]))
  # two factors are plain to see, and one alone does not fit
  expect_gt(value("fewer_rejected", 2000), .9)
  expect_gt(value("close_fit", 2000), .9)
  expect_equal(value("sphericity", 100), 1)
  found <- people_needed(small(), cross_loading = .25, replicates = 60, seed = 1)$values$needed
  expect_equal(found$value, .25, tolerance = .1)
  expect_error(people_needed(planned_factors(1, items = 5), cross_loading = .2, seed = 1),
    "there are none", class = "softsieve_error_plan")
})

test_that("a plan that was interrupted goes on, and workers give the same bits", {
  x <- plan_study(small(), c(100, 150), replicates = 220, seed = 4)
  expect_length(ls(core("SAMPLED")), 0)
  how <- core("settle_plan")(small(), 100, 220, 4, 1L)
  stopped <- function(done) if (done > 100) stop("that is enough for now")
  expect_error(core("measure_size")(how, 100L, stopped), "for now")
  kept <- ls(core("SAMPLED"))
  expect_length(get(kept, core("SAMPLED")), 96)
  # it is used: what was kept is marked
  env <- core("SAMPLED")
  marked <- get(kept, env)
  marked[[1]]$measures["improper"] <- 1
  assign(kept, marked, envir = env)
  again <- plan_study(small(), c(100, 150), replicates = 220, seed = 4)
  improper <- function(x) x$values$measures$value[x$values$measures$measure == "improper"]
  expect_equal(improper(again) - improper(x), c(1, 0) / 220)
  # what was kept of another call does not change how many samples are enough
  core("measure_size")(how, 100L, function(done) NULL)
  how$enough <- TRUE
  kept <- core("measure_size")(how, 100L, function(done) NULL, c(loading_error = .4))
  expect_identical(kept$measures$samples[1], 96L)
  core("forget_samples")()
  expect_identical(core("measure_size")(how, 100L, function(done) NULL, c(loading_error = .4)),
    kept)
  skip_if_not_installed("future")
  old <- future::plan("multisession", workers = 2)
  withr::defer(future::plan(old))
  withr::local_options(softsieve.range_seconds = .01, softsieve.verbose = TRUE)
  expect_message(sent <- plan_study(small(), c(100, 150), replicates = 220, seed = 4),
    "Samples of 100 people: .* workers")
  expect_identical(sent$values, x$values)
  future::plan("sequential")
  few <- plan_study(small(), 300, replicates = "enough", seed = 4)
  future::plan("multisession", workers = 2)
  expect_message(sent <- plan_study(small(), 300, replicates = "enough", seed = 4), "workers")
  expect_identical(sent$values, few$values)
})

test_that("an interrupted command goes on, and believes no note that is not its own", {
  dir <- withr::local_tempdir()
  design <- file.path(dir, "my design.yml")
  writeLines(c("factors: 2", "items: 4", "people: [100, 150]", "replicates: 120", "seed: 4"),
    design)
  place <- core("kept_plan")(design)
  plain <- run_command(c("plan", "my design.yml", "--format", "json", "--quiet"), dir)
  expect_false(file.exists(place))
  # as far as an interrupted call came
  env <- core("SAMPLED")
  how <- core("settle_plan")(core("planned_of_entries")(core("read_design")(design), design), 100,
    120, 4, NULL)
  stopped <- function(done) if (done > 96) stop("that is enough for now")
  expect_error(core("measure_size")(how, 100L, stopped), "for now")
  kept <- as.list(env)
  expect_identical(core("keep_samples")(place), 96L)
  core("forget_samples")()
  core("take_up_samples")(place)
  expect_equal(as.list(env), kept, tolerance = 0)
  # an edited note is passed over; one as it was is used, and is gone when the plan is done
  text <- readLines(place)
  core("forget_samples")()
  writeLines(sub("0.5", "0.6", text, fixed = TRUE), place)
  core("take_up_samples")(place)
  writeLines(substr(text, 1, 500), place)
  core("take_up_samples")(place)
  expect_length(ls(env), 0)
  writeLines(text, place)
  again <- run_command(c("plan", "my design.yml", "--format", "json", "--quiet"), dir)
  expect_identical(again$out, plain$out)
  expect_false(file.exists(place))
  expect_length(ls(env), 0)
  skip_on_os("windows")
  # by a signal, as a user does it
  writeLines(sub("120", "3000", sub("^seed: .*", "", readLines(design))), design)
  log <- file.path(dir, "log")
  script <- system.file("exec", "softsieve", package = "softsieve")
  started <- sprintf("cd %s && exec %s --no-save %s plan %s --quiet > out 2> log", shQuote(dir),
    shQuote(file.path(R.home("bin"), "Rscript")), shQuote(script), shQuote("my design.yml"))
  pid <- system(sprintf("(%s) & echo $!", started), intern = TRUE)
  Sys.sleep(12)
  tools::pskill(as.integer(pid), tools::SIGINT)
  for (i in 1:40) if (!file.exists(place)) Sys.sleep(.5)
  expect_true(file.exists(place))
  Sys.sleep(1)
  expect_match(readLines(log), "kept: the same call with --seed [0-9]+ goes on there", all = FALSE)
})

test_that("what so many people could not show is what hidden_factors() says of the same", {
  design <- planned_factors(2, items = 6, loadings = c(.5, .7))
  x <- plan_study(design, c(60, 300), replicates = 20, seed = 1, hidden = TRUE)
  own <- x$values$hidden
  people <- core("simulate_answers")(design, 50000L, 1, 0L)
  colnames(people) <- rownames(design$loadings)
  solution <- factor_solution(correlate_items(cor(people), n = 300), 2, seed = 1)
  other <- hidden_factors(solution, people = 300, seed = 1)$values
  expect_equal(sort(own$hides_from[own$people == 300]), sort(other$splits$hides_from),
    tolerance = .05)
  expect_identical(own$further[own$people == 300][1],
    min(other$further$loading[other$further$shown >= .8]))
  expect_lt(max(own$hides_from[own$people == 60]), min(own$hides_from[own$people == 300]))
  expect_match(capture.output(print(x)), "From 300 people, two factors", all = FALSE)
  # clusters hide more: correlations vary as from so many fewer people
  alike <- planned_factors(2, items = 6, loadings = c(.5, .7),
    clusters = c(size = 20, intraclass = .3))
  spread <- function(design) {
    var(vapply(1:300, function(i) cor(core("simulate_answers")(design, 300L, 2, i))[1, 7], 0))
  }
  expect_equal(spread(alike) / spread(design), 1 + 19 * .3^2, tolerance = .3)
  less <- plan_study(alike, 300, replicates = 20, seed = 1, hidden = TRUE)$values$hidden
  expect_lt(max(less$hides_from), min(own$hides_from[own$people == 300]))
  # beyond what the probabilities know
  few <- plan_study(planned_factors(1, items = 4), 100, replicates = 20, seed = 1, hidden = TRUE)
  expect_identical(few$values$hidden$known, FALSE)
  expect_match(few$values$sentences, "is not known", all = FALSE)
})

test_that("designs that cannot be are refused, with what came", {
  expect_error(planned_factors(2, loadings = 1.2), class = "softsieve_error_argument")
  expect_error(planned_factors(2, items = 1), class = "softsieve_error_argument")
  expect_error(planned_factors(3, correlations = -.6), "smallest eigenvalue",
    class = "softsieve_error_plan")
  expect_error(planned_factors(pattern = matrix(.8, 4, 2)), "communality",
    class = "softsieve_error_plan")
  expect_error(planned_factors(2, items = 2), "4 items for 2 factors",
    class = "softsieve_error_plan")
  expect_error(planned_factors(2, answers = 1), class = "softsieve_error_argument")
  one <- matrix(.6, 6, 1)
  expect_error(planned_factors(2, pattern = one), "Both came", class = "softsieve_error_argument")
  expect_error(planned_factors(pattern = one, items = 4), "`items`",
    class = "softsieve_error_argument")
  s <- factor_solution(motives(items = m1:t6), 2, seed = 1, starts = 2)
  expect_error(planned_factors(pattern = s, correlations = .1), "`correlations`",
    class = "softsieve_error_argument")
  expect_error(planned_factors(pattern = "x"), class = "softsieve_error_argument")
  expect_error(plan_study(list(), 100), class = "softsieve_error_class")
  expect_error(plan_study(small(), 10), class = "softsieve_error_argument")
  expect_error(plan_study(planned_factors(10, items = 6), 60), "more people than items",
    class = "softsieve_error_plan")
})

test_that("the command plans from a file, and says what is wrong in one", {
  dir <- withr::local_tempdir()
  plan <- function(...) {
    writeLines(c(...), file.path(dir, "design.yml"))
    run_command(c("plan", "design.yml", "--seed", "1", "--quiet"), dir)
  }
  done <- plan("factors: 2", "items: 4", "people: [100, 200]", "replicates: 20")
  expect_identical(done$status, 0L)
  expect_match(done$out, "^ +200 ", all = FALSE)
  needed <- plan("factors: 2", "items: 4", "replicates: 20", "alternatives: true",
    "wishes: {loading_error: 0.1, omega_width: 0.3}")
  expect_match(needed$out, "seven answers", all = FALSE)
  enough <- plan("factors: 1", "items: 4", "people: 400", "replicates: enough")
  expect_match(enough$out, "[0-9]{3} simulated samples", all = FALSE)
  expect_match(needed$out, "people are needed", all = FALSE)
  writeLines(c("item,A,B", "a,.7,0", "b,.6,.1", "c,.5,0", "d,0,.7", "e,.1,.6", "f,0,.5"),
    file.path(dir, "loadings.csv"))
  typed <- plan("pattern: loadings.csv", "people: 100", "replicates: 20")
  expect_match(typed$out, "6 items on 2 factors", all = FALSE)
  # what is written is read by none, and tells what was asked for
  out <- run_command(c("plan", "design.yml", "--out", "loadings.csv"), dir)
  expect_match(out$err, "loadings.csv", all = FALSE)
  expect_identical(out$status, 1L)
  plan("factors: 2", "correlations: [[1, 0.2], [0.2, 1]]", "replicates: 20",
    "wishes: {loading_error: 0.15}")
  out <- run_command(c("plan", "design.yml", "--out", "plan.csv", "--format", "csv", "--quiet"),
    dir)
  expect_identical(out$status, 0L)
  told <- readr::read_csv(file.path(dir, "plan.csv"), show_col_types = FALSE)
  expect_identical(unique(told$wish[told$measure == "loading_error"]), .15)
  expect_identical(length(unique(told$people[told$enough])), 1L)
  for (bad in list(c("factors: 2", "people: 100", "wishes: {loading_error: 0.1}"),
    c("factors: 2", "kind: [polychoric, pearson]"), c("factors: 2", "rules: [hull, luck]"),
    c("factors: 2", "resamples: 100", "wishes: {loading_error: 0.1}"),
    c("factors: 2", "most: 100"),
    c("factors: 2", "hidden: true", "wishes: {loading_error: 0.1}"),
    c("factors: 2", "alternatives: true"),
    c("factors: 2", "replicates: plenty"), c("pattern: loadings.csv", "items: 3"), "factorz: 2",
    "people: 100", c("factors: 2", "wishes: {luck: 1}"), "- 1", c("factors: 2", "people: many"),
    "pattern: nowhere.csv")) {
    failed <- plan(bad)
    expect_identical(failed$status, 1L, label = bad[1])
    expect_false(any(grepl("Error in [a-z]+[(][^)]", failed$err)))
  }
})

test_that("a design begun by the command is a plan, and nothing is written over", {
  dir <- withr::local_tempdir()
  begun <- run_command(c("new", "--plan", "--out", "my plan"), dir)
  expect_identical(begun$status, 0L)
  expect_match(begun$out, "softsieve plan 'my plan/design.yml'", fixed = TRUE, all = FALSE)
  file <- file.path(dir, "my plan", "design.yml")
  text <- readLines(file)
  text <- sub("^replicates: 50", "replicates: 20", sub("^people: .*", "people: 100", text))
  writeLines(text, file)
  expect_identical(run_command(c("plan", "my plan/design.yml", "--quiet"), dir)$status, 0L)
  # its comments are entries, too
  other <- sub("^# (wishes:|  [a-z])", "\\1", sub("^people: .*", "", readLines(file)))
  other <- sub("width: 0.1 ", "width: 0.3 ", sub("_error: 0.08", "_error: 0.3", other))
  writeLines(other, file)
  done <- run_command(c("plan", "my plan/design.yml", "--quiet"), dir)
  expect_match(done$out, "people are needed", all = FALSE)
  before <- readLines(file)
  expect_match(run_command(c("new", "--plan", "--out", "my plan"), dir)$err, "there already",
    all = FALSE)
  expect_identical(readLines(file), before)
  expect_match(run_command(c("new", "answers.csv", "--plan"), dir)$err, "takes no ANSWERS",
    all = FALSE)
  expect_match(run_command("new", dir)$err, "needs ANSWERS", all = FALSE)
  expect_match(run_command(c("new", "--plan", "--full"), dir)$err, "new --plan` takes no --full",
    all = FALSE)
})

test_that("a plan in words has its numbers and every assumption, in each language", {
  design <- small(lean = .5, missing = .03, careless = .02, correlations = .4)
  x <- plan_study(design, 200, replicates = 20, seed = 7)
  a <- as_tibble(x)
  error <- sprintf("%.2f", a$value[a$measure == "loading_error"])
  for (language in names(core("languages")())) {
    text <- plan_text(x, language)
    expect_no_match(text, "[{}]")
    for (said in c("50", "70", "40", "5", "3", "2", "20", "200", "7", sub("0.", "", error))) {
      expect_match(text, said, fixed = TRUE)
    }
  }
  expect_match(plan_text(x, "de"), "Faktorkorrelationen von 0,40", fixed = TRUE)
  needed <- people_needed(design, loading_error = .1, replicates = 20, seed = 1)
  expect_match(plan_text(needed), "Error of loadings: 0.100 asked for")
  expect_setequal(names(core("languages")()$de$plan), names(core("languages")()$en$plan))
})

test_that("a study file holds its design: one place for the plan and the data", {
  dir <- withr::local_tempdir()
  file.copy(list.files(system.file("extdata", package = "softsieve"), full.names = TRUE), dir)
  file <- file.path(dir, "repair_cafe_study.yml")
  cat("design:\n  factors: 2\n  items: 4\n  people: [100]   # for a start\n  replicates: 20\n",
    "  clusters: {size: 20, intraclass: 0.05}\n", sep = "", file = file, append = TRUE)
  study <- read_study(file)
  expect_identical(study$settings$design$clusters$size, 20L)
  write_study(study, file.path(dir, "other.yml"), defaults = TRUE)
  expect_identical(read_study(file.path(dir, "other.yml"))$settings$design, study$settings$design)
  expect_match(readLines(file.path(dir, "other.yml")), "# for a start", all = FALSE)
  planned <- run_command(c("plan", "other.yml", "--seed", "1", "--quiet"), dir)
  expect_match(planned$out, "clusters of 20", all = FALSE)
  expect_match(run_command(c("check", "other.yml"), dir)$out, "is whole", all = FALSE)
  impossible <- sub("items: 4", "items: many", readLines(file))
  writeLines(impossible, file.path(dir, "impossible.yml"))
  expect_error(read_study(file.path(dir, "impossible.yml")), "`items`",
    class = "softsieve_error_study")
  cat("  luck: 1\n", file = file, append = TRUE)
  said <- expect_error(read_study(file), "luck", class = "softsieve_error_study")
  expect_match(conditionMessage(said), "repair_cafe_study.yml, line", fixed = TRUE)
})
