# The verdict of count_factors(): probabilities, where they apply, agreement, and what follows.

test_that("the evidence stands in one result, the same on any number of threads", {
  q <- motives()
  one <- count_factors(q, replicates = 100, seed = 7, threads = 1)
  two <- count_factors(q, replicates = 100, seed = 7, threads = 2)
  expect_equal(one$values, two$values)
  expect_identical(one$values$suggested, 4L)
  # all rules but the slow one, which is asked by name
  expect_setequal(as_tibble(one)$rule, setdiff(catalogue_table("rules")$rule, "comparison"))
  expect_equal(one$values$eigenvalues, as_tibble(parallel_analysis(q, replicates = 100, seed = 7)))
  expect_identical(glance(one)$probable, one$values$probable)
  expect_equal(sum(one$values$probabilities$probability), 1)
  expect_identical(tidy(one), as_tibble(one))
})

test_that("a clear structure is certain and agreed on, noise has no factor", {
  clear <- count_factors(known_correlations(known_pattern() + (known_pattern() > 0) * .1), n = 1000,
    rules = "bic", seed = 1)
  v <- clear$values
  expect_identical(v$probable, 3L)
  expect_gt(v$probability, .8)
  expect_true(v$agree)
  expect_match(v$sentences[1],
    "^Taken: 3 factors, the most probable number [(](more than )?[89][0-9] %")
  expect_match(v$sentences[1], "; parallel analysis suggests 3.", fixed = TRUE)
  expect_equal(c(v$taken, v$suggested), c(3, 3))
  expect_identical(v$rules$rule, c("parallel", "bic"))
  none <- count_factors(unrelated_answers(400, 10), seed = 1, rules = "parallel")$values
  expect_identical(c(none$suggested, none$probable), c(0L, 0L))
  expect_gt(none$probabilities$probability[1], .8)
})

test_that("probabilities follow from hazards, and the plausible range grows from the top", {
  expect_equal(softsieve:::core_hazards_to_probabilities(c(.9, .5, .2)), c(.1, .45, .36, .09))
  range <- softsieve:::core_plausible_range
  expect_identical(range(c(.1, .45, .36, .09), .8), c(1L, 2L))
  expect_identical(range(c(.1, .45, .36, .09), .9), c(0L, 2L))
  expect_identical(range(c(0, 0, 1), .95), c(2L, 2L))
})

test_that("the networks are evaluated as their weights say, and tempered by unlikeness", {
  model <- list(centre = c(1, 2), scale = c(2, 1), most = 3)
  members <- list(list(hidden = matrix(c(.5, -1, .25), 1), output = c(2, -.5)),
    list(hidden = matrix(c(0, 1, 0), 1), output = c(1, 0)))
  core <- asNamespace("softsieve")
  # second row: (21 - 1)/2 = 10 is held at 3
  z <- core$core_held_features(rbind(c(3, 2.5), c(21, 2)), model)
  expect_equal(z, rbind(c(1, .5), c(3, 0)))
  logits <- core$core_network_logits(z, members)
  expect_equal(logits, (2 * tanh(.5 * z[, 1] - z[, 2] + .25) - .5 + tanh(z[, 2])) / 2)
  shape <- list(middle = c(0, 1), inverse = diag(c(1, 2)))
  expect_equal(core$core_feature_distance(z, shape), c((1 + 2 * .25) / 2, (9 + 2) / 2))
  # the most probable number is 2: both rows count
  expect_equal(core$core_unlikeness(c(3, 3), c(1, 5)), log(3))
  expect_equal(core$core_unlikeness(c(-3, 3), c(1, 5)), log(1))
  temper <- list(level = -.1, slope = -.5, middle = 1)
  plain <- core$core_temper(c(2, -1), 0, temper)
  expect_equal(plain, core$core_hazards_to_probabilities(plogis(c(2, -1) * exp(-.1))))
  expect_lt(max(core$core_temper(c(2, -1), 3, temper)), max(plain))
})

test_that("the shipped weights fit the features; order, signs and number of items do not show", {
  model <- softsieve:::retention_model()
  r <- correlate_items(motives())$values$correlations
  features <- softsieve:::cpp_features(r, ncol(r), 769L, FALSE, 8L, 10L, 1L)
  expect_identical(colnames(features), model$features)
  expect_identical(nrow(features), 9L)
  expect_true(all(is.finite(features)))
  order <- c(26:14, 1:13)
  turned <- r[order, order] * (rep(c(1, -1), 13) %o% rep(c(1, -1), 13))
  expect_equal(softsieve:::cpp_features(turned, ncol(r), 769L, FALSE, 8L, 10L, 1L), features,
    tolerance = 1e-4)
  # the first: eigenvalue 1 against its mean by chance, which draws agree with
  chance <- softsieve:::cpp_chance_spectrum(769L, 26L)
  expect_equal(features[[1, "above"]], log(eigen(r)$values[1] / chance[1]))
  expect_equal(chance, rowMeans(drawn_eigenvalues(769L, 26, 400)), tolerance = .01)
  expect_identical(unique(features[, "latent"]), 0)
  latent <- softsieve:::cpp_features(r, ncol(r), 769L, TRUE, 8L, 10L, 1L)[, "latent"]
  expect_identical(unique(latent), 1)
  expect_false(any(grepl("items$|_item", setdiff(colnames(features), c("weakest_items",
    "weakest_next_items", "weakest_two_items")))))
  for (m in model$members) expect_identical(ncol(m$hidden), ncol(features) + 1L)
})

test_that("polychoric correlations are weighed, and a bare matrix is seen as both kinds", {
  q <- motives()
  weigh <- function(...) count_factors(..., rules = "parallel", replicates = 50, seed = 1)$values
  latent <- correlate_items(q, kind = "polychoric")
  as_latent <- weigh(latent)
  expect_length(as_latent$outside, 0)
  r <- latent$values$correlations
  as_either <- weigh(r, n = latent$values$n)
  as_pearson <- softsieve:::numbers_by_network(
    softsieve:::cpp_features(r, ncol(r), as.integer(latent$values$n), FALSE, 11L, 13L, 1L),
    softsieve:::retention_model(), latent$values$n, 26L, .95)$probabilities
  expect_equal(as_either$probabilities$probability,
    (as_pearson + as_latent$probabilities$probability) / 2)
  # or it says of which kind it is
  said <- function(kind) weigh(r, n = latent$values$n, kind = kind)
  expect_identical(said("polychoric")$probabilities, as_latent$probabilities)
  expect_equal(said("pearson")$probabilities$probability, as_pearson)
  expect_match(said("spearman")$outside, "Spearman correlations .trained on")
})

test_that("a factor that nobody could see is said to be possible, and lies in the range", {
  # four factors of three items each, weak or strong, of 120 people
  drawn <- function(loading, seed) {
    l <- kronecker(diag(4), rep(loading, 3))
    sigma <- l %*% (diag(.7, 4) + .3) %*% t(l)
    diag(sigma) <- 1
    found <- softsieve:::cpp_sample_correlations(120L, t(chol(sigma)), seed, 0L)
    count_factors(found, n = 120, kind = "pearson", rules = "bic", replicates = 20, seed = 1)$values
  }
  weak <- lapply(1:10, function(seed) drawn(.45, seed))
  strong <- lapply(1:10, function(seed) drawn(.8, seed))
  hides <- function(found) vapply(found, `[[`, NA, "hides")
  expect_gt(mean(hides(weak)), .7)
  expect_lt(mean(hides(strong)), .3)
  for (v in weak[hides(weak)]) {
    expect_gt(v$plausible[2L], v$probable)
    expect_match(tail(v$sentences, 1L), "^[0-9], or more that 120 people cannot show: in [0-9]+ %")
  }
  # what is named holds 95 % of the probability
  for (v in c(weak, strong)) {
    inside <- v$probabilities$factors %in% v$plausible[1L]:v$plausible[2L]
    expect_gte(sum(v$probabilities$probability[inside]), .95)
  }
})

test_that("beyond its training the model is silent, says why, and parallel analysis stands alone", {
  outside <- function(...) {
    count_factors(..., rules = "empirical_kaiser", replicates = 50, seed = 1)$values
  }
  few <- outside(known_correlations(), n = 50)
  expect_match(few$outside, "50 people .trained on 60 to")
  expect_match(few$sentences[1], "do not apply here: 50 people")
  expect_null(few$probabilities)
  expect_identical(few$probable, few$suggested)
  expect_true(is.na(few$probability))
  expect_match(outside(motives(items = t1:t6), kind = "spearman")$outside,
    "Spearman correlations .trained on Pearson and polychoric")
  expect_match(outside(known_correlations()[1:4, 1:4], n = 200)$outside, "4 items")
  expect_match(paste(outside(unrelated_answers(90, 95))$outside, collapse = " "), "singular matrix")
  copies <- matrix(.9995, 6, 6)
  diag(copies) <- 1
  expect_match(outside(copies, n = 200)$outside, "unlike any it was trained on")
})

test_that("when the two disagree the verdict names the eigenvalue and the solutions to compare", {
  e <- list(
    parallel = list(
      values = list(suggested = 2,
        eigenvalues = tibble::tibble(rank = 1:4, eigenvalue = c(3, 2, 1.21, .5), chance_mean = 1,
          chance_upper = c(1.4, 1.3, 1.25, 1.2), above_chance = c(TRUE, TRUE, FALSE, FALSE))),
      settings = list(reference = "upper")),
    p = 12)
  weighed <- list(
    probabilities = tibble::tibble(factors = 0:4, probability = c(0, .01, .3, .68, .01)),
    why = character(), mass = .95, hidden = 0)
  v <- softsieve:::reach_verdict(e, tibble::tibble(), weighed, NULL,
    list(k = 3L, by = "the most probable number", discounted = NULL, probability = .68))
  expect_false(v$agree)
  expect_identical(v$disputed, 3L)
  # two more are taken: parallel analysis stopped at the first of them
  further <- softsieve:::reach_verdict(e, tibble::tibble(), weighed, NULL,
    list(k = 4L, by = "the most probable number", discounted = NULL, probability = .68))
  expect_identical(further$disputed, 3L)
  expect_identical(v$compare, 2:3)
  expect_identical(v$plausible, 2:3)
  expect_match(v$sentences[1],
    "Taken: 3 factors, the most probable number [(]68 %; next 2, 30 %[)]")
  expect_match(v$sentences[2],
    "analysis suggests 2: eigenvalue 3, 1.21, is not above its chance level of 1.25. Chance levels")
  expect_match(v$sentences[3], "Compare the solutions with 2 and 3 factors")
  silent <- softsieve:::find_silent(tibble::tibble(label = c("A", "B", "C"),
    reason = c("x", "y", "x")))
  expect_identical(silent$text, c("No suggestion by A and C: x.", "No suggestion by B: y."))
  v$probability <- .5
  found <- softsieve:::find_in_count(v,
    tibble::tibble(suggested = integer(), label = character(), reason = character()))
  expect_setequal(found$code, c("numbers_disagree", "number_unsure"))
  expect_identical(softsieve:::format_probability(.9999), "more than 99 %")
})

test_that("later stages take the number by parallel analysis, the probable one, or a count", {
  q <- motives()
  count <- count_factors(q, rules = "parallel", replicates = 200, seed = 3)
  expect_identical(c(count$values$taken, count$values$probable), c(4L, 4L))
  worded <- count_factors(worded_answers(), rules = "parallel", replicates = 200, seed = 3)
  by_count <- extract_factors(worded_answers(), worded)
  expect_match(by_count$settings$factors_by, "^the most probable number less what is not a topic")
  expect_identical(ncol(by_count$values$loadings), 3L)
  expect_identical(c(worded$values$taken, worded$values$probable), 3:4)
  expect_identical(worded$values$discounted$items, "V5, V10 and V15")
  probable <- extract_factors(q, "probable", seed = 3)
  expect_match(probable$settings$factors_by, "; parallel analysis suggests 4")
  expect_identical(ncol(probable$values$loadings), count$values$taken)
  few <- extract_factors(known_correlations(), "probable", n = 50, seed = 1)
  expect_match(few$settings$factors_by, "^sequential parallel analysis")
  expect_error(
    extract_factors(q, count_factors(motives(items = t1:t6), rules = "parallel", seed = 1)),
    "other items", class = "softsieve_error_factors")
  expect_error(extract_factors(unrelated_answers(400, 8), "probable", seed = 1),
    "0 factors by the most probable number", class = "softsieve_error_factors")
})

test_that(
  "awkward matrices are counted or refused in words: two items, one factor, singular, few people",
  {
    two <- count_factors(unrelated_answers(100, 2), replicates = 30, seed = 1)
    expect_identical(nrow(two$values$eigenvalues), 2L)
    expect_length(two$values$compare, 0) # two items allow no factor to be looked at
    expect_match(two$findings$text,
      "No suggestion by .*sequential parallel analysis.* BIC and scree elbow: needs three items",
      all = FALSE)
    expect_match(
      capture.output(print(count_factors(motives(items = t1:t2), replicates = 30, seed = 1))),
      "a factor needs three items", all = FALSE)
    one <- count_factors(motives(items = t1:t6), replicates = 100, seed = 1)$values
    expect_identical(c(one$suggested, one$probable), c(1L, 1L))
    x <- unrelated_answers(100, 5)
    x$q6 <- x$q1
    copy <- count_factors(x, replicates = 50, seed = 1)
    silent <- copy$values$rules[is.na(copy$values$rules$suggested), ]
    expect_true(all(c("bic", "hull", "average_partial") %in% silent$rule))
    expect_match(silent$reason, "more people than items, and no item that follows from others")
    expect_true("rule_silent" %in% copy$findings$code)
    expect_null(copy$values$fits)
    near <- count_factors(unrelated_answers(14, 12, 2), replicates = 50, seed = 1)
    expect_true(all(is.finite(near$values$fits$discrepancy)))
    crowd <- count_factors(unrelated_answers(8, 12), replicates = 50, seed = 1)
    expect_match(paste(crowd$values$outside, collapse = " "), "8 people")
  })

test_that("four related factors are taken by every call, and what is not a topic is not counted", {
  loadings <- kronecker(diag(4), rep(.6, 4))
  between <- matrix(.5, 4, 4)
  diag(between) <- 1
  r <- loadings %*% between %*% t(loadings)
  diag(r) <- 1
  taken <- vapply(1:8, function(seed) {
    set.seed(seed)
    x <- as.data.frame(matrix(rnorm(300 * 16), 300) %*% chol(r))
    ncol(extract_factors(x, seed = seed)$values$loadings)
  }, 0L)
  expect_gte(sum(taken == 4L), 7)
  make <- function(loadings, reversed, n = 400, seed = 1) {
    r <- tcrossprod(loadings)
    diag(r) <- 1
    set.seed(seed)
    x <- correlate_items(as.data.frame(matrix(rnorm(n * nrow(r)), n) %*% chol(r)))
    x$values$items$reversed[reversed] <- TRUE
    x
  }
  settings <- list(seed = 1, threads = 1L, replicates = 100L)
  discount <- function(x, k) softsieve:::discount_factors(x, k, settings)
  topics <- kronecker(diag(3), rep(.6, 5))
  turned <- c(5, 10, 15)
  wording <- discount(make(cbind(topics, replace(numeric(15), turned, .5)), turned), 4L)
  expect_identical(wording$k, 3L)
  expect_identical(wording$discounted$make, "wording")
  expect_match(wording$discounted$text, "The fourth factor holds reverse-worded items of 3 topics")
  # without a key, only signs can tell: of answers as they were given, not of turned ones
  keyless <- make(cbind(topics, replace(numeric(15), turned, .5)), 0)
  expect_null(discount(keyless, 4L)$discounted)
  given <- ifelse(1:15 %in% turned, -1, 1)
  keyless$values$correlations <- keyless$values$correlations * (given %o% given)
  against <- discount(keyless, 4L)
  expect_identical(against$k, 3L)
  expect_match(against$discounted$text, "run against the others of their 3 topics")
  expect_setequal(strsplit(against$discounted$items, ", | and ")[[1L]], c("V5", "V10", "V15"))
  # a topic whose items are all reversed is a topic
  expect_identical(discount(make(topics, 1:5), 3L)$k, 3L)
  pair <- discount(make(cbind(topics, replace(numeric(15), c(2, 9), .6)), 0), 4L)
  expect_identical(pair$discounted$make, "pair")
  # two topics of six; items 5 to 8 are neighbours from both
  beside <- cbind(kronecker(diag(2), rep(.6, 6)), replace(numeric(12), 5:8, .5))
  items <- data.frame(reversed = rep(FALSE, 12))
  expect_identical(softsieve:::make_of_factor(5:8, 3L, beside, items)$make, "neighbours")
  expect_null(softsieve:::make_of_factor(c(2, 5, 8, 11), 3L, beside, items))
  # a topic of neighbours that lean on two others is a topic
  own <- kronecker(diag(3), rep(.5, 4))
  own[5:6, 1] <- .3
  own[7:8, 3] <- .3
  expect_null(softsieve:::make_of_factor(5:8, 2L, own, items))
})

test_that("a data frame is counted as the questionnaire of its answers is", {
  q <- motives(items = t1:t6)
  of <- function(x) count_factors(x, rules = "comparison", replicates = 50, seed = 1)$values
  answers <- as.data.frame(q$values$answers)
  expect_equal(of(answers)[c("suggested", "evidence", "probabilities")],
    of(q)[c("suggested", "evidence", "probabilities")])
  # correlations know their answers; a bare matrix is compared with normal items
  expect_equal(of(correlate_items(q))$evidence, of(q)$evidence)
  bare <- count_factors(correlate_items(q)$values$correlations, n = correlate_items(q)$values$n,
    rules = "comparison", replicates = 50, seed = 1)
  expect_gt(
    max(abs(of(answers)$evidence$comparison$misfit - bare$values$evidence$comparison$misfit)),
    1e-4)
})

test_that("an improper solution still has a population to draw from", {
  r <- matrix(c(1, .9, .7, .2, .9, 1, .55, .2, .7, .55, 1, .1, .2, .2, .1, 1), 4)
  expect_lte(max(rowSums(softsieve:::kept_loadings(r, 1L)^2)), .995 + 1e-12)
  found <- parallel_analysis(r, n = 200, sequential = TRUE, replicates = 50, seed = 1)
  expect_true(all(is.finite(as_tibble(found)$chance_upper)))
})

test_that("mistakes in the arguments are named", {
  r <- known_correlations()
  expect_error(count_factors(r, n = 100, rules = "paralel"), "Did you mean \"parallel\"",
    class = "softsieve_error_argument")
  expect_error(count_factors(r, n = 100, rules = character()), "names of rules",
    class = "softsieve_error_argument")
  expect_error(count_factors(r, n = 100, share = 2), "`share`", class = "softsieve_error_argument")
  expect_error(count_factors(r), "`n` is missing", class = "softsieve_error_matrix")
  error <- expect_error(count_factors(r, n = 100, replicates = 1),
    class = "softsieve_error_argument")
  expect_identical(rlang::call_name(error$call), "count_factors")
})

test_that("a result is written as JSON with its numbers, and read back", {
  x <- count_factors(known_correlations(), n = 300, rules = "bic", replicates = 50, seed = 1)
  file <- withr::local_tempfile(fileext = ".json")
  write_table(x, file)
  back <- jsonlite::fromJSON(file)
  expect_equal(back$values$eigenvalues$chance_upper, x$values$eigenvalues$chance_upper,
    tolerance = 1e-14)
  expect_identical(back$values$rules$rule, c("parallel", "bic"))
  expect_identical(back$settings$seed, 1L)
  expect_equal(back$values$evidence$bic$df, x$values$evidence$bic$df)
})

test_that("the figure marks each suggestion below the eigenvalues, and the fit of each number", {
  x <- count_factors(motives(), replicates = 50, seed = 1)
  drawn <- ggplot2::autoplot(x)
  below <- ggplot2::ggplot_build(drawn[[2]])
  points <- below$data[[
    which(vapply(below$plot$layers, function(l) inherits(l$geom, "GeomPoint"), NA))
  ]]
  expect_setequal(points$x, stats::na.omit(x$values$rules$suggested))
  expect_identical(nrow(points), sum(!is.na(x$values$rules$suggested)))
  told <- below$data[[
    which(vapply(below$plot$layers, function(l) inherits(l$geom, "GeomLabel"), NA))
  ]]
  expect_identical(told$x[told$fontface == "bold"], as.numeric(x$values$probable))
  fit <- ggplot2::ggplot_build(ggplot2::autoplot(x, "fit"))
  dots <- fit$data[[which(vapply(fit$plot$layers, function(l) inherits(l$geom, "GeomPoint"), NA))]]
  expect_equal(dots$y[dots$PANEL == 2], x$values$fits$rmsr)
  expect_error(ggplot2::autoplot(x, "fits"), "Did you mean \"fit\"",
    class = "softsieve_error_argument")
  singular <- count_factors(unrelated_answers(8, 12), replicates = 50, seed = 1)
  expect_error(ggplot2::autoplot(singular, "fit"), "singular", class = "softsieve_error_class")
  expect_s3_class(ggplot2::autoplot(singular), "ggplot")
})
