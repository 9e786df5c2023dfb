# What people read, held as text (_snaps/all-said.md): a change of words is seen in review.
# To accept one, read the difference and run testthat::snapshot_accept("all-said").

local_edition(3)

said <- function(x) {
  withr::local_options(cli.width = 90, width = 90, cli.num_colors = 1, cli.unicode = FALSE)
  print(x)
}

test_that("prints of the demo's main results", {
  q <- motives()
  expect_snapshot(said(assess_factorability(q)))
  expect_snapshot(said(count_factors(q, replicates = 100, seed = 1)))
  solution <- factor_solution(q, 4, seed = 1, starts = 10)
  expect_snapshot(said(pattern_table(solution)))
  expect_snapshot(said(assess_reliability(form_scales(solution), q, replicates = 0, seed = 1)))
  expect_snapshot(said(sift_items(q, factors = 4, seed = 1)))
  expect_snapshot(said(score_respondents(solution, q)))
})

test_that("errors say what must hold, what came and what to do", {
  withr::local_options(cli.unicode = FALSE, cli.num_colors = 1)
  q <- motives()
  solution <- factor_solution(q, 4, seed = 1, starts = 2)
  refused <- function(code) cat(conditionMessage(tryCatch(code, error = identity)))
  expect_snapshot({
    refused(questionnaire(data.frame(a = c("yes", "no", "perhaps"), b = 1:3)))
    refused(correlate_items(q, kind = "spearmen"))
    refused(extract_factors(q, factors = 40))
    refused(rotate_factors(solution, "varimax", gamma = 1))
    refused(rotate_factors(solution, row_weights = "kaiser"))
    refused(assess_reliability(list(thrift = c("t1", "t77")), q))
    refused(score_respondents(solution, data.frame(t1 = 1:3, nobody = 1:3)))
    refused(sift_items(q, keep = p99))
  })
})

test_that("text to paste, in both languages", {
  study <- demo_run()
  for (language in c("en", "de")) {
    study$settings$language <- language
    prose <- softsieve:::prose_of(study)
    text <- gsub("[0-9]+[.][0-9]+[.][0-9]+", "x.y.z", c(prose$methods, "", prose$results))
    expect_snapshot(cat(strwrap(text, 90), sep = "\n"))
  }
})
