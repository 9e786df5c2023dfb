# The chain as a whole: whose name an error carries, invariances, odd sizes, interruptions.

test_that("errors carry the name of the function that was called, and their class and culprits", {
  name_of <- function(code) {
    rlang::call_name(conditionCall(tryCatch(code, softsieve_error = identity)))
  }
  same <- transform(unrelated_answers(60, 3), q4 = q1)
  expect_identical(name_of(parallel_analysis("text")), "parallel_analysis")
  expect_identical(name_of(parallel_analysis(motives(), percentil = 3)), "parallel_analysis")
  expect_identical(name_of(factor_solution(same, 1)), "factor_solution")
  expect_identical(name_of(assess_factorability(same)), "assess_factorability")
  expect_identical(name_of(assess_reliability(motives(), list(a = "zz"))), "assess_reliability")
  expect_identical(name_of(profile_items("text")), "profile_items")
  expect_identical(name_of(questionnaire("text")), "questionnaire")
  caught <- tryCatch(correlate_items(transform(same, q2 = 1, q3 = 2)), error = identity)
  expect_s3_class(caught, c("softsieve_error_constant_item", "softsieve_error"), exact = FALSE)
  expect_identical(caught$items, c("q2", "q3"))
})

test_that("text with braces, markup or per cent signs comes back as it was", {
  data <- unrelated_answers(20, 2)
  names(data) <- c("{stop('no')}", "%d %s")
  texts <- data
  texts[[1]] <- "x"
  expect_error(questionnaire(texts), "{stop('no')} (\"x\")", fixed = TRUE,
    class = "softsieve_error_text_in_item")
  printed <- capture.output(print(correlate_items(data)))
  expect_match(printed, "{stop('no')}", fixed = TRUE, all = FALSE)
  expect_match(printed, "%d %s", fixed = TRUE, all = FALSE)
})

test_that("the order of people, and everybody counted twice, change no correlation and no loading",
  {
    q <- motives(items = m1:p6)
    answers <- as.data.frame(q$values$answers)
    set.seed(1)
    for (missing in c("pairwise", "complete", "em")) {
      r <- correlate_items(answers, missing = missing)$values$correlations
      expect_equal(
        correlate_items(answers[sample(nrow(answers)), ], missing = missing)$values$correlations,
        r, tolerance = 1e-8)
      expect_equal(correlate_items(rbind(answers, answers), missing = missing)$values$correlations,
        r, tolerance = 1e-6)
    }
    one <- factor_solution(answers, 4, seed = 1)$values$loadings
    expect_equal(factor_solution(rbind(answers, answers), 4, seed = 1)$values$loadings, one,
      tolerance = 1e-6)
  })

test_that("the unit of an item changes no correlation, and turning it round only its signs", {
  answers <- as.data.frame(motives(items = t1:t6)$values$answers)
  other <- transform(answers, t1 = 10 * t1 + 3, t2 = 6 - t2)
  signs <- c(1, -1, 1, 1, 1, 1) %o% c(1, -1, 1, 1, 1, 1)
  for (kind in c("pearson", "spearman", "polychoric")) {
    expect_equal(correlate_items(other, kind = kind)$values$correlations,
      correlate_items(answers, kind = kind)$values$correlations * signs, tolerance = 1e-8)
  }
  adequacy <- function(x) assess_factorability(x)$values$adequacy
  expect_equal(adequacy(other), adequacy(answers))
})

test_that("twenty-four thousand people by forty-eight items go through the chain", {
  set.seed(5)
  pattern <- kronecker(diag(6), matrix(seq(.8, .5, length.out = 8)))
  z <- matrix(rnorm(24000 * 6), 24000) %*% t(pattern) +
    matrix(rnorm(24000 * 48), 24000) %*% diag(sqrt(1 - rowSums(pattern^2)))
  data <- as.data.frame(apply(z, 2, findInterval, c(-1.2, -.4, .4, 1.2)))
  q <- questionnaire(data)
  expect_true(is.integer(q$values$answers))
  s <- factor_solution(q, kind = "polychoric", seed = 1)
  expect_identical(dim(s$values$loadings), c(48L, 6L))
  home <- max.col(abs(s$values$loadings))
  expect_true(all(tapply(home, rep(1:6, each = 8), function(x) length(unique(x))) == 1L))
  recovered <- s$values$loadings[cbind(1:48, home)]
  expect_lt(max(abs(recovered - rep(seq(.8, .5, length.out = 8), 6))), .03)
  expect_false(anyNA(as_tibble(score_respondents(s, q))$F1))
})

test_that("two items and one factor are served as far as they can be", {
  two <- motives(items = c(t1, t2))
  expect_equal(
    as_tibble(assess_factorability(two))$adequacy,
    c(.5, .5)) # two items share all they share
  expect_identical(nrow(as_tibble(parallel_analysis(two, seed = 1))), 2L)
  expect_error(factor_solution(two, seed = 1), "at least three items",
    class = "softsieve_error_factors")
  one <- factor_solution(motives(items = t1:t6), seed = 1)
  printed <- capture.output(print(summary(one)))
  expect_match(printed[1], "1 factor explains")
  expect_no_match(printed, "Correlations of the factors")
  expect_match(capture.output(print(parallel_analysis(motives(items = t1:t6), seed = 1)))[1],
    "one eigenvalue stands")
  expect_match(capture.output(print(parallel_analysis(unrelated_answers(300, 6), seed = 1)))[1],
    "suggests 0 factors")
})

test_that("one row summaries and long tables hold the numbers of the results", {
  q <- motives()
  s <- factor_solution(q, seed = 1)
  long <- tidy(s)
  expect_identical(nrow(long), 104L)
  expect_equal(long$loading[long$item == "p6" & long$factor == "F2"], s$values$loadings["p6", "F2"])
  row <- glance(s)
  expect_identical(c(row$factors, row$items), c(4L, 26L))
  expect_equal(row$rmsr, sqrt(mean(residuals(s)[upper.tri(diag(26))]^2)))
  expect_equal(row$share, sum(s$values$items$communality) / 26)
  expect_equal(glance(assess_factorability(q))$adequacy, assess_factorability(q)$values$adequacy)
  expect_identical(glance(parallel_analysis(q, seed = 1))$above_one, 6L)
  pairs <- as_tibble(correlate_items(q))
  expect_identical(nrow(pairs), 325L)
  expect_identical(pairs$standard_error[1], correlate_items(q)$values$standard_errors[1, 2])
  table <- catalogue_table("cutoffs")
  expect_false(anyDuplicated(table$name) > 0)
  expect_true(all(nzchar(table$source)))
})

test_that("an interrupt ends the command with 130 and leaves nothing behind", {
  skip_on_os("windows")
  dir <- withr::local_tempdir()
  file.copy(list.files(system.file("extdata", package = "softsieve"), full.names = TRUE), dir)
  file <- file.path(dir, "repair_cafe_study.yml")
  writeLines(
    sub("number: parallel.*", "number: parallel\n  replicates: 1000000", readLines(file)),
    file)
  before <- list.files(dir, all.files = TRUE)
  command <- sprintf(
    paste("cd %s && { %s --no-save %s run repair_cafe_study.yml --out results >out.txt",
      "2>err.txt & pid=$!; for i in $(seq 600); do grep -q Weighing err.txt && break; sleep 0.1;",
      "done;", "kill -INT $pid; wait $pid; echo $?; }"),
    shQuote(dir), shQuote(file.path(R.home("bin"), "Rscript")),
    shQuote(system.file("exec", "softsieve", package = "softsieve")))
  status <- system2("bash", c("-ic", shQuote(command)), stdout = TRUE, stderr = FALSE)
  expect_identical(tail(status, 1), "130")
  expect_match(readLines(file.path(dir, "err.txt"), warn = FALSE),
    "interrupted; nothing is half-written", all = FALSE)
  # the stages that were done are there to be taken up, nothing else
  expect_setequal(list.files(dir, all.files = TRUE), c(before, "out.txt", "err.txt", "results"))
  expect_identical(list.files(file.path(dir, "results")), "stages")
})

test_that("what is interrupted while it writes leaves no folder and no file", {
  study <- demo_run()
  local_entry("FIGURES", "endless", class = "softsieve_scale_set",
    label = "a figure that is interrupted", draw = function(object) rlang::interrupt(),
    file = "endless.png")
  dir <- withr::local_tempdir()
  write <- function() write_results(study, file.path(dir, "results"))
  expect_identical(tryCatch(write(), interrupt = function(e) "interrupted"), "interrupted")
  expect_length(list.files(dir, all.files = TRUE, no.. = TRUE), 0L)
})

test_that("results go into a folder that is there, beside what is in it, and replace their own", {
  dir <- withr::local_tempdir()
  study <- demo_run()
  folder <- file.path(dir, "results")
  dir.create(folder)
  writeLines("mine", file.path(folder, "notes.txt"))
  writeLines("old", file.path(folder, "scores.csv"))
  files <- write_results(study, folder)
  expect_true(all(file.exists(files)))
  expect_identical(readLines(file.path(folder, "notes.txt")), "mine")
  expect_gt(length(readLines(file.path(folder, "scores.csv"))), 840)
  expect_identical(list.files(dir, all.files = TRUE, no.. = TRUE), "results")
  expect_error(write_results(study, file.path(dir, "no", "such")), "no folder",
    class = "softsieve_error_unwritable")
})

test_that("the nearest correlation matrix is nearer than others that are positive semidefinite", {
  set.seed(3)
  for (case in 1:3) {
    r <- matrix(runif(25, -1, 1), 5)
    r[lower.tri(r)] <- t(r)[lower.tri(r)]
    diag(r) <- 1
    near <- softsieve:::core_nearest_correlation(r, floor = 0)
    expect_gt(min(eigen(near$correlations)$values), -1e-8)
    expect_equal(diag(near$correlations), rep(1, 5))
    expect_equal(near$distance, sqrt(sum((near$correlations - r)^2)))
    for (other in 1:200) { # correlation matrices around the one that was found
      root <- t(chol(near$correlations + 1e-8 * diag(5))) + matrix(rnorm(25, 0, .05), 5)
      root <- root / sqrt(rowSums(root^2))
      expect_gte(sqrt(sum((tcrossprod(root) - r)^2)), near$distance - 1e-5)
    }
  }
})

test_that("a matrix that is fine is not touched by repair", {
  r <- known_correlations()
  expect_identical(correlate_items(r, n = 100)$values$correlations, r)
  expect_equal(softsieve:::core_nearest_correlation(r)$correlations, r)
})

test_that("seeds and threads are settled as the help page says", {
  expect_identical(withr::with_seed(1, softsieve:::settle_seed(NULL)),
    withr::with_seed(1, softsieve:::settle_seed(NULL)))
  expect_identical(softsieve:::settle_seed(7), 7L)
  expect_error(parallel_analysis(known_correlations(), n = 100, seed = -1), "`seed`",
    class = "softsieve_error_argument")
  expect_error(parallel_analysis(known_correlations(), n = 100, seed = 1.5),
    class = "softsieve_error_argument")
  expect_error(parallel_analysis(known_correlations(), n = 100, threads = 0), "`threads`",
    class = "softsieve_error_argument")
  withr::with_envvar(c(OMP_THREAD_LIMIT = "1"),
    expect_identical(softsieve:::settle_threads(NULL), 1L))
  expect_lte(softsieve:::settle_threads(NULL), 8L)
})
