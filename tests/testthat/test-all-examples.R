# The examples of inst/examples run as they stand, quietly and without a warning.

test_that("every example runs", {
  folder <- system.file("examples", package = "softsieve")
  scripts <- list.files(folder, "[.]R$", full.names = TRUE)
  expect_gte(length(scripts), 9)
  told <- readLines(file.path(folder, "README.md"))
  for (script in scripts) {
    expect_match(told, basename(script), fixed = TRUE, all = FALSE)
    expect_warning(said <- capture.output(source(script, local = new.env(parent = globalenv()))),
      NA)
    expect_gt(length(said), 5, label = basename(script))
  }
})
