# What a sample could not show: populations made by hand, and shares held against draws of answers.

two_factors <- function(n, seed = 1) {
  set.seed(seed)
  f <- matrix(rnorm(2 * n), n)
  x <- .7 * f[, rep(1:2, each = 6)] + sqrt(.51) * matrix(rnorm(12 * n), n)
  factor_solution(as.data.frame(x), 2, seed = 1)
}

test_that("a split factor has halves that correlate as asked, and the population they give", {
  s <- two_factors(400)
  l <- s$values$loadings
  phi <- s$values$factor_correlations
  home <- max.col(abs(l))
  f <- home[1]
  at <- which(home == f)
  halves <- softsieve:::halves_of(at, l[, f])
  expect_identical(sum(halves), 0)
  for (r in c(0, .5, .9)) {
    root <- softsieve:::population_root(l, phi, softsieve:::split_off(l, f, halves, r))
    # by hand: f1 and f2 = f sqrt((1 + r) / 2) +- h sqrt((1 - r) / 2), on three factors
    other <- 3 - f
    big <- matrix(0, 12, 3)
    first <- as.integer(names(halves)[halves > 0])
    second <- as.integer(names(halves)[halves < 0])
    big[first, 1] <- l[first, f]
    big[second, 2] <- l[second, f]
    rest <- setdiff(1:12, at)
    big[rest, 1:2] <- l[rest, f] / sqrt(2 + 2 * r)
    big[, 3] <- l[, other]
    across <- phi[f, other] * sqrt((1 + r) / 2)
    between <- matrix(c(1, r, across, r, 1, across, across, across, 1), 3)
    sigma <- big %*% between %*% t(big)
    diag(sigma) <- 1
    expect_equal(tcrossprod(root), sigma, ignore_attr = TRUE)
  }
})

test_that("what hides from few people shows to many, and brute force agrees", {
  s <- two_factors(400)
  few <- hidden_factors(s, people = 150, samples = 40, seed = 1)$values
  many <- hidden_factors(s, people = 3000, samples = 40, seed = 1)$values
  expect_true(all(few$splits$hides_from < many$splits$hides_from - .05))
  expect_true(all(diff(few$further$shown) > -.2))
  expect_lte(max(abs(few$tried$error - sqrt(few$tried$shown * (1 - few$tried$shown) / 40))), 1e-12)
  # answers drawn from the same population, counted by count_factors()
  l <- s$values$loadings
  home <- max.col(abs(l))
  halves <- softsieve:::halves_of(which(home == 1), l[, 1])
  root <- softsieve:::population_root(l, s$values$factor_correlations,
    softsieve:::split_off(l, 1, halves, .5))
  set.seed(2)
  shown <- vapply(1:40, function(i) {
    r <- cor(matrix(rnorm(12 * 300), 300) %*% t(root))
    count <- count_factors(r, n = 300, kind = "pearson", rules = "bic", replicates = 20, seed = 1)
    count$values$probable >= 3L
  }, NA)
  how <- list(noise = 300L, people = 300L, latent = FALSE, samples = 200L, seed = 5, threads = 2L)
  ours <- softsieve:::share_shown(root, 3L, how)
  expect_lt(abs(mean(shown) - ours), 3 * sqrt(.25 / 40 + .25 / 200))
  alone <- utils::modifyList(how, list(threads = 1L))
  expect_identical(softsieve:::share_shown(root, 3L, alone), ours)
})

test_that("what it cannot be asked of is said", {
  s <- two_factors(300)
  expect_error(hidden_factors(s, people = 40), class = "softsieve_error_hidden")
  expect_error(hidden_factors(extract_components(motives(), 2)), class = "softsieve_error_class")
  ranks <- factor_solution(keep_items(motives(), m1:t6), 2, kind = "spearman", seed = 1)
  expect_error(hidden_factors(ranks), "Pearson or polychoric", class = "softsieve_error_hidden")
  crowded <- factor_solution(keep_items(motives(), m1:t2), 3, seed = 1)
  expect_error(hidden_factors(crowded), "one factor more", class = "softsieve_error_hidden")
  q <- keep_items(motives(), m1:t6)
  latent <- factor_solution(q, 2, kind = "polychoric", seed = 1)
  found <- hidden_factors(latent, samples = 20, seed = 1)$values
  # polychoric correlations vary more than Pearson's
  expect_lt(found$noise, found$people)
  expect_gt(found$noise, found$people / 3)
  said <- capture.output(print(hidden_factors(latent, samples = 20, seed = 1)))
  expect_match(said[1], "What [0-9]+ people could not show")
})

test_that("a study that asks for it says it, as the call does, in results and report", {
  dir <- withr::local_tempdir()
  file <- few_study(dir)
  cat("hidden:\n  run: true\n  samples: 20\n  loadings: [.5]\n  items: 3\n", file = file,
    append = TRUE)
  study <- run_study(file)
  found <- study$values$hidden
  by_hand <- hidden_factors(study$values$solution, samples = 20, loadings = .5, items = 3, seed = 5)
  expect_equal(found$values[c("splits", "further")], by_hand$values[c("splits", "further")])
  # (factors of four items are not split)
  expect_error(plot(found), class = "softsieve_error_figure")
  expect_null(run_study(few_study(withr::local_tempdir()))$values$hidden)
  report <- file.path(dir, "r.html")
  write_report(study, report)
  html <- page_text(report)
  expect_match(html, htmltools::htmlEscape(found$values$sentences[1]), fixed = TRUE)
  # what readers of the screen are told is what stands above the table
  told <- regmatches(html, gregexpr("(?<=aria-label=\")Table \\d+", html, perl = TRUE))[[1]]
  captions <- regmatches(html, gregexpr("(?<=<b>)Table \\d+", html, perl = TRUE))[[1]]
  expect_identical(told, captions)
  # what the probabilities do not know stops nothing else
  file <- few_study(withr::local_tempdir())
  cat("hidden: {run: true}\ncorrelations: {kind: spearman}\n", file = file, append = TRUE)
  expect_warning(other <- run_study(file), "what could hide")
  expect_null(other$values$hidden)
  expect_false(is.null(other$values$scale_scores))
  # and study_of() writes it down
  said <- study_of(found, study$values$solution, answers = file.path(dir, "answers.csv"))
  expect_identical(said$settings$hidden[c("samples", "items")], list(samples = 20L, items = 3L))
})
