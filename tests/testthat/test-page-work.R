# What a page has worked out, without a browser, in worlds unlike the demo.

ask_task <- function(name, study, ...) {
  found <- softsieve:::page_task(name, study$settings, ...)
  expect_null(found$problem, label = name)
  found$value
}

small_world <- function(dir, ...) {
  file <- few_study(dir)
  rest <- grep("^(factors|scales)", readLines(file), value = TRUE, invert = TRUE)
  writeLines(c(rest, "scales: {replicates: 30}", ...), file)
  file
}

test_that("one factor, components, gaps, a sifted study and a matrix have what a page shows", {
  dir <- withr::local_tempdir()
  r <- cor(repair_cafe[FEW_ITEMS], use = "pairwise")
  utils::write.csv(r, file.path(dir, "r.csv"))
  worlds <- list(one = "factors: {number: 1, replicates: 20}",
    components = "factors: {number: 2, method: components, replicates: 20}",
    em = c("correlations: {missing: em}", "factors: {number: 2, replicates: 20}"),
    sifted = c("sift: {run: true}", "factors: {number: 2, replicates: 20}"),
    matrix = "factors: {number: 2, replicates: 20}")
  for (name in names(worlds)) {
    file <- small_world(dir, worlds[[name]])
    if (name == "matrix") {
      writeLines(c("answers: {matrix: r.csv, n: 700}", "seed: 5", worlds$matrix), file)
    }
    study <- read_study(file)
    k <- ask_task("count", study)$k
    state <- ask_task("state", study, k)
    # the numbers are those of a run
    ran <- suppressWarnings(run_study(study))$values
    expect_equal(state$slim$solution$values$loadings, ran$solution$values$loadings, info = name)
    expect_equal(state$shown$head$adequacy, ran$factorability$values$adequacy, info = name)
    omega <- vapply(state$shown$scales, `[[`, 0, "omega")
    expect_equal(omega, ran$reliability$values$scales$omega, info = name)
    trust <- ask_task("trust", study, k)
    expect_equal(vapply(trust$scales, `[[`, 0, "lower"), ran$reliability$values$scales$lower)
    expect_length(ask_task("names", study, k), k)
    if (name != "sifted") expect_true("item" %in% names(ask_task("proposal", study, k)))
    expect_identical(state$shown$head$components, name == "components")
  }
})

test_that("another number is looked at whatever is named, and names of lost factors go with them", {
  study <- read_study(small_world(withr::local_tempdir(), "factors: {number: 3, replicates: 20}"))
  study <- decide(decide(study, name = "F1", as = "one"), name = "F3", as = "three")
  other <- ask_task("number", study, 3L, other = 2L)
  expect_identical(c(other$now, other$then), 3:2)
  fewer <- decide(study, number = 2L)
  expect_identical(colnames(coef(run_study(fewer)$values$solution)), c("one", "F2"))
  named_after <- decide(fewer, name = "F2", as = "two")
  expect_identical(colnames(coef(run_study(named_after)$values$solution)), c("one", "two"))
})

test_that("what items go with beyond the factors is what is left of correlations", {
  solution <- factor_solution(motives(), 4, seed = 1, starts = 3)
  v <- solution$values
  left <- v$correlations - v$loadings %*% v$factor_correlations %*% t(v$loadings)
  found <- softsieve:::item_partners(solution)
  for (item in c("o2", "n5", "m1")) {
    own <- left[item, setdiff(colnames(left), item)]
    own <- own[order(-abs(own))][1:2]
    own <- own[abs(own) >= .05]
    expect_equal(vapply(found[[item]], `[[`, "", "item"), names(own), ignore_attr = TRUE)
    expect_equal(vapply(found[[item]], `[[`, 0, "residual"), unname(own))
  }
})
