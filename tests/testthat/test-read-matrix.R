# Correlation matrices as people keep them, read and run through studies and the command.

three <- matrix(c(1, .5, .4, .5, 1, .3, .4, .3, 1), 3, dimnames = rep(list(c("m1", "m2", "m3")), 2))

test_that("a matrix is read however it was written", {
  read <- function(...) read_matrix(local_file(c(...)))
  expect_identical(read("item,m1,m2,m3", "m1,1,.5,.4", "m2,.5,1,.3", "m3,.4,.3,1"), three)
  expect_identical(read(",m1,m2,m3", "m1,1,.5,.4", "m2,.5,1,.3", "m3,.4,.3,1"), three)
  expect_identical(read("m1,m2,m3", "1,.5,.4", ".5,1,.3", ".4,.3,1"), three)
  expect_identical(read("m1;m2;m3", "1;0,5;0,4", "0,5;1;0,3", "0,4;0,3;1"), three)
  expect_identical(read("m1 m2 m3", "m1 1 .5 .4", "m2 .5 1 .3", "m3 .4 .3 1"), three)
  expect_identical(read("m1\tm2\tm3", "1\t.5\t.4", ".5\t1\t.3", ".4\t.3\t1"), three)
  lower <- read("item,m1,m2,m3", "m1,1", "m2,.5,1", "m3,.4,.3,1")
  expect_identical(lower[lower.tri(three)], three[lower.tri(three)])
  upper <- read("m1,1,.5,.4", "m2,1,.3", "m3,1")
  expect_identical(upper[upper.tri(three)], three[upper.tri(three)])
  for (part in list(lower, upper)) {
    expect_equal(correlate_items(part, n = 100)$values$correlations, three)
  }
  unnamed <- read("1 .5 .4", ".5 1 .3", ".4 .3 1")
  expect_null(rownames(unnamed))
  two <- local_file(c("m1,m2", "1,.5", ".5,1", "", "m1,m2", "1,.2", ".2,1"))
  expect_identical(read_matrix(two, 2)[1, 2], .2)
  expect_error(read_matrix(two), "2 matrices", class = "softsieve_error_matrix")
  expect_error(read_matrix(two, 3), class = "softsieve_error_matrix")
  expect_error(read("a,b", "1,x", "x,1"), class = "softsieve_error_matrix")
  expect_error(read("a,b,c", "1,.5,.4", ".5,1,.3"), class = "softsieve_error_matrix")
})

test_that("a study and the command run on a matrix, to the numbers of the calls by hand", {
  dir <- withr::local_tempdir()
  r <- round(correlate_items(keep_items(motives(), m1:t6))$values$correlations, 3)
  file <- file.path(dir, "r.csv")
  utils::write.csv(r, file)
  study <- file.path(dir, "s.yml")
  writeLines(c("answers: {matrix: r.csv, n: 840}", "factors: {number: 2, rules: [parallel]}",
    "scales: {replicates: 0}", "seed: 1"), study)
  done <- run_study(study)
  own <- factor_solution(correlate_items(r, n = 840), 2, seed = 1)
  expect_equal(coef(done$values$solution), coef(own))
  expect_false(any(c("questionnaire", "items", "scores") %in% names(done$values)))
  expect_equal(done$values$reliability$values$scales$omega,
    assess_reliability(form_scales(own), correlate_items(r, n = 840), replicates = 0,
      seed = 1)$values$scales$omega)
  expect_output(print(done), "840 people")
  for (ending in c("md", "html")) {
    report <- file.path(dir, paste0("r.", ending))
    write_report(done, report)
    said <- "Correlations of 12 items, of 840 people, were given"
    expect_true(any(grepl(said, page_text(report))))
  }
  expect_identical(glance(done)$people, 840L)
  # another matrix under the same name is not taken for the one before
  out <- file.path(dir, "results")
  run_study(study, folder = out)
  r[1, 2] <- r[2, 1] <- .1
  utils::write.csv(r, file)
  again <- run_study(study, folder = out)
  expect_identical(again$values$correlations$values$correlations[1, 2], .1)
  # the command, in the place of DATA
  withr::local_dir(dir)
  shown <- run_command(c("factorability", "--matrix", "r.csv", "--n", "840", "--quiet"), dir)
  expect_identical(shown$status, 0L)
  expect_match(paste(shown$out, collapse = " "), "sampling adequacy is")
  expect_match(paste(run_command(c("check", study), dir)$out, collapse = " "),
    "840 people, 12 items")
  refused <- run_command(c("score", "--matrix", "r.csv", "--n", "840"), dir)
  expect_identical(refused$status, 1L)
  expect_match(paste(refused$err, collapse = " "), "needs the answers of people")
  writeLines("answers: {matrix: r.csv}", study)
  expect_error(read_study(study), "`matrix` and `n`", class = "softsieve_error_study")
})
