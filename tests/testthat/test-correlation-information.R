# What tests and errors rest on: how much each person moves each correlation.

core <- function(name) getFromNamespace(name, "softsieve")
gaps_in <- function(x, share) replace(x, sample(length(x), share * length(x)), NA)
normal_answers <- function(n, r) matrix(rnorm(n * ncol(r)), n) %*% chol(r)
units_of_rows <- function(x) seq_len(nrow(x)) - 1L
# rows of influences by the doors of the core
moves_of <- function(x, kind = "pearson", found = NULL, weights = numeric()) {
  all <- units_of_rows(x)
  if (kind == "pearson") {
    return(core("cpp_pearson_influences")(x, weights, all, "rows", all, 1L, NULL))
  }
  core("cpp_polychoric_influences")(x, found$correlations, found$thresholds, weights, all, "rows",
    all, 1L, NULL)
}
weighed <- function(x, kind, missing, w) {
  r <- core("core_correlate")(x, kind, missing, w, NULL, 1L)$correlations
  r[upper.tri(r)]
}

test_that("a person's influence is the derivative of the correlation by the person's weight", {
  set.seed(6)
  n <- 400
  x <- normal_answers(n, matrix(c(1, .5, .3, .5, 1, .4, .3, .4, 1), 3))
  gapped <- gaps_in(x, .2)
  coded <- matrix(findInterval(gapped, c(-1, .2, .9)) + 0, n)
  coded[is.na(gapped)] <- NA
  people <- c(1, 20, 77, 300)
  slopes <- function(x, kind, missing, h) {
    t(vapply(people, function(i) {
      up <- weighed(x, kind, missing, replace(rep(1, n), i, 1 + h))
      (up - weighed(x, kind, missing, replace(rep(1, n), i, 1 - h))) / (2 * h) * n
    }, numeric(3)))
  }
  expect_equal(moves_of(gapped)[people, ], slopes(gapped, "pearson", "pairwise", .01),
    tolerance = 1e-3)
  latent <- core("core_correlate")(coded, "polychoric", "pairwise", NULL, NULL, 1L)
  # the expected information stands in for the observed one
  expect_equal(moves_of(coded, "polychoric", latent)[people, ],
    slopes(coded, "polychoric", "pairwise", .01), tolerance = .1)
  em <- core("cpp_em")(gapped, NULL, 1e-13, 5000L)
  all <- units_of_rows(gapped)
  told <- core("cpp_likelihood_influences")(gapped, em$means, em$covariances, numeric(), all, all,
    2L, NULL)
  by_em <- function(i, h) {
    w <- replace(rep(1, n), i, 1 + h)
    r <- cov2cor(core("cpp_em")(gapped, w, 1e-13, 9000L)$covariances)
    r[upper.tri(r)]
  }
  expect_equal((told$rows %*% told$carried)[people, ],
    t(vapply(people, function(i) (by_em(i, .01) - by_em(i, -.01)) / .02 * n, numeric(3))),
    tolerance = 1e-4)
  # weights: a person who counts twice moves as much as two people do together
  w <- replace(rep(1, n), 5, 2)
  expect_equal(moves_of(gapped, weights = w / mean(w))[5, ] / n,
    2 * moves_of(rbind(gapped, gapped[5, ]))[5, ] / (n + 1))
})

test_that("clusters are added first, and bits do not depend on threads", {
  set.seed(2)
  x <- gaps_in(normal_answers(120, diag(5)), .1)
  unit <- rep(0:39, each = 3L)
  sums <- function(threads, wanted = "covariances") {
    core("cpp_pearson_influences")(x, numeric(), unit, wanted, integer(), threads, NULL)
  }
  by_hand <- rowsum(moves_of(x), unit)
  expect_equal(sums(1L), crossprod(by_hand), ignore_attr = TRUE)
  expect_identical(sums(1L), sums(3L))
  expect_equal(sums(2L, "squares"), colSums(by_hand^2), ignore_attr = TRUE)
  expect_error(
    core("cpp_pearson_influences")(x, numeric(), rev(unit), "squares", integer(), 1L, NULL),
    "units must begin at 0")
})

test_that("normal theory: the weight is the inverse of the covariances of correlations", {
  r <- known_correlations()
  gamma <- core("core_normal_gamma")(r)
  weight <- core("core_normal_weight")(r)
  expect_equal(core("core_weigh")(weight, gamma), diag(36), tolerance = 1e-10, ignore_attr = TRUE)
  # of unrelated items every correlation varies alike and alone
  expect_equal(core("core_normal_gamma")(diag(4)), diag(6))
  # the textbook's variance of one correlation
  expect_equal(diag(gamma), (1 - r[upper.tri(r)]^2)^2, ignore_attr = TRUE)
})

test_that("traces agree with dense algebra, and with what samples do", {
  set.seed(3)
  n <- 150
  x <- normal_answers(n, known_correlations())
  moves <- moves_of(x)
  gamma <- crossprod(moves) / n
  loadings <- core("core_search_surely")(cor(x), 2L, "minres", rep(.005, 9), 2L)$loadings
  slopes <- core("core_loading_slopes")(loadings)
  for (v in list(NULL, runif(36), core("core_normal_weight")(known_correlations()))) {
    dense <- core("core_weigh")(v, diag(36))
    inner <- svd(t(slopes) %*% dense %*% slopes)
    keep <- inner$d > 1e-9 * inner$d[1]
    inverse <- inner$v[, keep] %*% (t(inner$u[, keep]) / inner$d[keep])
    u <- dense - dense %*% slopes %*% inverse %*% t(slopes) %*% dense
    parts <- core("core_robust_parts")(gamma, v, moves, n, 1L)
    found <- core("core_robust_traces")(parts, loadings)
    expect_equal(found$trace, sum(diag(u %*% gamma)), tolerance = 1e-7)
    own <- rowSums((moves %*% u) * moves)
    square <- sum((u %*% gamma) * t(u %*% gamma))
    expect_equal(found$trace_square, square - (mean(own^2) - var(own) / 2) / n, tolerance = 1e-7)
  }
})

test_that(
  "errors of correlations are those of samples: skewed, weighted, clustered, with missing answers",
  {
  r <- matrix(c(1, .5, .5, 1), 2)
  made <- list(skewed = function() list(x = exp(normal_answers(400, r))),
    weighted = function() list(x = normal_answers(400, r), w = exp(rnorm(400))),
    missing = function() list(x = gaps_in(normal_answers(400, r), .3), missing = "em"),
    clusters = function() {
      of <- rep(1:40, each = 10)
      list(x = normal_answers(400, r) + 1.5 * normal_answers(40, r)[of, ], cluster = of)
    })
  for (name in names(made)) {
    set.seed(11)
    told <- t(replicate(150, {
      m <- made[[name]]()
      d <- as.data.frame(m$x)
      d$w <- m$w
      d$c <- m$cluster
      q <- questionnaire(d, items = c("V1", "V2"), weight = if (!is.null(m$w)) "w",
        cluster = if (!is.null(m$cluster)) "c")
      v <- correlate_items(q, missing = if (is.null(m$missing)) "pairwise" else "em")$values
      c(v$correlations[1, 2], v$standard_errors[1, 2])
    }))
    expect_equal(mean(told[, 2]) / sd(told[, 1]), 1, tolerance = .2, label = name)
  }
})

test_that("n counts people as unrelated items do, and the finding says why it is less", {
  d <- unrelated_answers(200, 4, seed = 1)
  d[1:50, 1] <- NA
  x <- correlate_items(d)
  pairs <- x$values$n_pair[upper.tri(diag(4))]
  expect_identical(x$values$n, floor(6 / sum(1 / pairs)))
  expect_match(x$findings$text[x$findings$code == "n_of_tests"], "150 to 200 people answered both")
  d$c <- rep(1:40, each = 5)
  d[, 1:4] <- d[, 1:4] + 3 * matrix(rnorm(160), 40)[d$c, ]
  clustered <- correlate_items(questionnaire(d, items = names(d)[1:4], cluster = "c"))
  expect_gt(clustered$values$design_effect, 1.5)
  expect_lt(clustered$values$n, 150)
  expect_match(clustered$findings$text[clustered$findings$code == "n_of_tests"], "design effect")
})

test_that("one place decides: what tests rest on, and why there is none", {
  q <- motives(items = c(m1:m4, t1:t4))
  decided <- function(...) core("information_of")(correlate_items(...))
  expect_identical(decided(q)$basis, "answers")
  expect_identical(decided(q, missing = "em")$basis, "answers")
  expect_identical(decided(q, kind = "polychoric")$basis, "answers")
  expect_identical(decided(diag(4), n = 50)$basis, "normal")
  expect_match(decided(q, kind = "spearman")$why, "Spearman correlations are not worked out")
  counts <- tabulate_items(repair_cafe[c("m1", "m2", "m3", "m5")], missing_codes = 9)
  expect_match(decided(counts)$why, "only counts of pairs")
  six <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, items = m1:m6, cluster = cafe)
  x <- correlate_items(six)
  expect_match(x$findings$text[x$findings$code == "few_clusters"], "6 clusters of cafe")
  expect_true(is.na(extract_factors(x, 1)$values$fit$p))
  expect_true(is.na(assess_factorability(x)$values$sphericity$p))
  expect_output(print(assess_factorability(x)), "No test of sphericity: 6 clusters")
  # of clusters: the squares of their people's sums, and once more as few clusters vary
  streets <- cbind(as.data.frame(matrix(rnorm(480), 160)), street = rep(1:40, 4))
  known <- core("information_of")(correlate_items(questionnaire(streets, cluster = street)))
  sums <- rowsum(moves_of(as.matrix(streets[1:3])), streets$street)
  expect_equal(known$gamma, crossprod(sums) / 160 * 40 / 39, ignore_attr = TRUE)
  # no test of more degrees of freedom than there are clusters
  streets <- cbind(as.data.frame(matrix(rnorm(1600), 160)), street = rep(1:40, 4))
  x <- correlate_items(questionnaire(streets[-(1:2)], cluster = street))
  expect_false(is.na(extract_factors(x, 1)$values$fit$p))
  x <- correlate_items(questionnaire(cbind(streets, V11 = rnorm(160)), cluster = street))
  eleven <- extract_factors(x, 1)
  expect_true(is.na(eleven$values$fit$p))
  expect_match(eleven$findings$text, "40 clusters for 44 degrees of freedom", all = FALSE)
  expect_error(
    questionnaire(transform(repair_cafe, cafe = "one"), items = m1:m6, cluster = cafe),
    "All people are in one", class = "softsieve_error_clusters")
  # what gaps leave to few people
  set.seed(9)
  gaps <- rnorm(80) + matrix(rnorm(80 * 10), 80)
  gaps[matrix(runif(800), 80) < .1] <- NA
  filled <- core("information_of")(correlate_items(as.data.frame(gaps), missing = "em"))$filled
  expect_equal(filled, mean(rowSums(is.na(gaps)) * rowSums(!is.na(gaps))) / 10 / 80)
  expect_identical(decided(as.data.frame(gaps), missing = "complete")$filled, 0)
  # the test under EM, put together by hand
  em <- correlate_items(as.data.frame(gaps), missing = "em")
  known <- core("information_of")(em)
  least <- core("core_fits_for_tests")(em$values$correlations, 1L, "minres")[[1L]]$minres
  left <- (em$values$correlations - tcrossprod(least$loadings))[upper.tri(diag(10))]
  traces <- core("core_robust_traces")(
    core("core_robust_parts")(known$gamma, NULL, known$rows, known$units, 1L), least$loadings)
  small <- (80 - 1 - 25 / 6 - 2 / 3) / 80
  squares <- 80 * sum(left^2) * (3 + small) / 4 / (1 + 4 * filled)
  a <- sqrt(35 / traces$trace_square)
  expect_equal(extract_factors(em, 1)$values$fit$p,
    pchisq(a * squares + 35 - a * traces$trace, 35, lower.tail = FALSE), tolerance = 1e-6)
  # RMSEA with weights: Bartlett's factor twice, for the people and for those that weights leave
  weighted <- as.data.frame(matrix(rnorm(1200), 120) + matrix(rnorm(240), 120)[, rep(1:2, 5)])
  weighted$w <- exp(rnorm(120))
  x <- correlate_items(questionnaire(weighted, weight = w))
  known <- core("information_of")(x)
  ml <- core("core_fits_for_tests")(x$values$correlations, 1L, "ml")[[1L]]$ml
  misfit <- core("core_adjusted")(
    120 * ml$discrepancy * prod(vapply(c(120, x$values$n), core("core_bartlett_factor"), 0, 10, 1)),
    35, core("traces_of")(known, "likelihood", x, ml$loadings, 1L))
  rmsea <- extract_factors(x, 1)$values$fit$rmsea
  expect_gt(rmsea, .05)
  expect_equal(rmsea, core("core_robust_measures")(misfit, 35, 0, 45, 120)$rmsea)
  # of some of the items: the same numbers as from these alone
  part <- core("correlations_of_some")(correlate_items(q), paste0("m", 1:4))
  own <- correlate_items(motives(items = m1:m4))
  expect_equal(core("information_of")(part)$gamma, core("information_of")(own)$gamma)
  filled <- function(x) core("information_of")(x)$filled
  expect_equal(filled(part), filled(own), tolerance = .02)
  # and of some of these
  fewer <- core("correlations_of_some")(part, paste0("m", 1:3))
  gamma <- core("information_of")(part)$gamma
  expect_identical(core("information_of")(fewer)$gamma, gamma[1:3, 1:3])
  expect_null(fewer$values$part_of$values$part_of)
  expect_equal(extract_factors(part, 1)$values$fit$rmsea, extract_factors(own, 1)$values$fit$rmsea,
    tolerance = 1e-3)
})

test_that("sphericity takes the form that holds, each by hand", {
  q <- motives(items = m1:m4)
  squares <- assess_factorability(q)$values$sphericity
  v <- correlate_items(q)$values
  up <- upper.tri(diag(4))
  expect_equal(squares$statistic, sum((v$n_pair[up] - 1) * v$correlations[up]^2))
  expect_identical(squares$form, "squares")
  whole <- assess_factorability(q, missing = "complete")$values$sphericity
  expect_identical(whole$form, "bartlett")
  latent <- correlate_items(q, kind = "polychoric", missing = "complete")
  x <- q$values$answers[complete.cases(q$values$answers), ]
  scores <- vapply(1:4, function(i) {
    cuts <- c(-Inf, latent$values$thresholds[[i]], Inf)
    means <- -diff(dnorm(cuts)) / diff(pnorm(cuts))
    means[x[, i]]
  }, numeric(nrow(x)))
  expect_equal(assess_factorability(latent)$values$sphericity$statistic,
    (nrow(x) - 1) * sum(cor(scores)[up]^2))
})

test_that("true models and unrelated items are rejected about as often as they should be", {
  # few sets, wide limits: bench/tests.R makes a table
  r <- known_correlations()
  rejected <- function(how, make) {
    mean(vapply(1:60, function(seed) {
      set.seed(seed)
      x <- do.call(correlate_items, c(list(as.data.frame(make())), how))
      extract_factors(x, 3, starts = 0)$values$fit$p < .05
    }, NA))
  }
  cut_at <- function(at) apply(normal_answers(250, r), 2, function(v) findInterval(v, at))
  polychoric <- function() cut_at(c(-.8, 0, .8))
  expect_lt(rejected(list(kind = "polychoric"), polychoric), .16)
  expect_lt(rejected(list(missing = "em"), function() gaps_in(normal_answers(250, r), .2)), .16)
  skewed <- function() cut_at(c(.5, 1, 1.5))
  expect_lt(rejected(list(), skewed), .16)
  # and a factor too few is seen
  set.seed(1)
  x <- correlate_items(as.data.frame(normal_answers(400, r)))
  expect_lt(extract_factors(x, 2)$values$fit$p, .001)
  alone <- vapply(1:60, function(seed) {
    set.seed(seed)
    x <- correlate_items(as.data.frame(gaps_in(matrix(rnorm(3000), 300), .3)), missing = "em")
    parallel_analysis(x, replicates = 200, seed = seed)$values$suggested > 0
  }, NA)
  expect_lt(mean(alone), .16)
})
