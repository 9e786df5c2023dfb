# Replicates made by workers of a plan: the same bits as in one process, whatever becomes of
# workers.

core <- function(name) getFromNamespace(name, "softsieve")

# A plan for the rest of the test; workers find the package that is tested here.
local_plan <- function(..., env = parent.frame()) {
  libs <- .libPaths()
  future::plan(..., rscript_libs = c(dirname(system.file(package = "softsieve")), libs))
  withr::defer(future::plan("sequential"), envir = env)
}

# So little work is sent only when ranges may be short.
local_short_ranges <- function(env = parent.frame()) {
  withr::local_options(softsieve.range_seconds = 1e-4, .local_envir = env)
}

# 30 draws of a solution of 12 items.
few_draws <- function(solution, replicates = 120) {
  loading_stability(solution, replicates = replicates, halves = 5, seed = 1, threads = 1)
}

test_that("sequential, multisession and a cluster of two give the same bits", {
  skip_on_cran()
  skip_if_not_installed("future")
  local_short_ranges()
  solution <- factor_solution(keep_items(motives(), m1:t6), 2, seed = 1)
  alone <- few_draws(solution)
  local_plan("multisession", workers = 2)
  withr::local_options(softsieve.verbose = TRUE)
  expect_message(two <- few_draws(solution), "2 workers")
  expect_identical(two$values, alone$values)
  trust <- function() {
    scale <- list(m = paste0("m", 1:6))
    assess_reliability(scale, motives(), replicates = 200, seed = 1, threads = 1)
  }
  expect_message(sent <- trust(), "workers")
  future::plan("sequential")
  expect_identical(sent$values, trust()$values)
  polychoric <- factor_solution(keep_items(motives(), m1:m6), 1, kind = "polychoric", seed = 1)
  stages <- function() few_draws(polychoric, 20)
  shuffled <- function() {
    parallel_analysis(keep_items(motives(), m1:m6), chance = "resampled", replicates = 60, seed = 1)
  }
  sifted <- sift_items(keep_items(motives(), m1:t6), factors = 2, seed = 1)
  paths <- function() sift_paths(sifted, replicates = 4, seed = 1, threads = 1)
  short <- function() {
    scales <- list(m = paste0("m", 1:6))
    shorten_scales(scales, motives(), size = 3, replicates = 8, seed = 1)
  }
  compared <- function() {
    count_factors(keep_items(motives(), m1:t6), rules = "comparison", replicates = 60, seed = 1)
  }
  all <- function() lapply(list(stages, shuffled, paths, short, compared), function(f) f()$values)
  here <- all()
  local_plan("cluster", workers = c("localhost", "localhost"))
  withr::local_options(softsieve.verbose = TRUE)
  expect_message(there <- all(), "Comparison data: .* workers")
  expect_identical(there, here)
})

test_that("a range whose worker is killed goes out again", {
  skip_on_cran()
  skip_on_os("windows")
  skip_if_not_installed("future")
  local_short_ranges()
  solution <- factor_solution(keep_items(motives(), m1:t6), 2, seed = 1)
  alone <- few_draws(solution, 2000)
  local_plan("multisession", workers = 2)
  worker <- future::value(future::future(Sys.getpid(), seed = NULL))
  system(sprintf("(sleep 0.3; kill -9 %d) &", worker))
  expect_identical(few_draws(solution, 2000)$values, alone$values)
  expect_false(tools::pskill(worker, 0L))
})

test_that("what came back before a run was broken off is not made again", {
  skip_if_not_installed("future")
  local_short_ranges()
  folder <- withr::local_tempdir()
  withr::local_options(softsieve.keep_ranges = folder)
  payload <- list(plan = 1)
  piece <- matrix(rnorm(6), 2)
  key <- rlang::hash(list("some_worker", 0L, 100L, 1L, payload))
  core("keep_range")(key, list("5" = piece), "5")
  core("forget_unfinished")()
  expect_identical(core("kept_ranges")(key), list("5" = piece))
  missing <- core("missing_ranges")(list("0" = piece, "5" = piece), 12L, 2L)
  expect_identical(missing$start, c(3L, 8L, 10L))
  expect_identical(missing$count, c(2L, 2L, 2L))
  file <- list.files(folder, full.names = TRUE)
  bytes <- readBin(file, "raw", 1e4)
  bytes[40] <- xor(bytes[40], as.raw(1))
  writeBin(bytes, file)
  expect_identical(core("kept_ranges")(key), list())
  writeBin(bytes[1:30], file)
  expect_identical(core("kept_ranges")(key), list())
  core("forget_ranges")(key)
  expect_identical(list.files(folder), character())
})

test_that("workers of another version, of another processor, and without the package", {
  skip_on_cran()
  skip_if_not_installed("future")
  own <- core("hand_of_worker")()
  expect_null(core("find_in_hands")(list(own, own)))
  other <- own
  other$numbers <- "else"
  told <- core("find_in_hands")(list(own, other))
  expect_identical(told$code, "workers_differ")
  other$version <- "0.0.1"
  expect_error(core("find_in_hands")(list(own, other)), "0.0.1", class = "softsieve_error_workers")
  lacks <- simpleError("there is no package called \u2018softsieve\u2019")
  expect_error(core("stop_range")(lacks), "must have softsieve", class = "softsieve_error_workers")
})

test_that("work that is not worth it stays here, and says so", {
  skip_on_cran()
  skip_if_not_installed("future")
  solution <- factor_solution(keep_items(motives(), m1:t6), 2, seed = 1)
  local_plan("multisession", workers = 2)
  withr::local_options(softsieve.verbose = TRUE)
  expect_message(few_draws(solution, 200), "too little time")
})
