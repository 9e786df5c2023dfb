# Runs the tests against the installed package and prints what failed and a closing line.
# Exit status 1 when anything failed, raised an error or warned. Writes the line to .build/counts.
Sys.setenv(NOT_CRAN = "true", TESTTHAT_PARALLEL = "false")
library(testthat)
library(softsieve)
results <- as.data.frame(test_dir("tests/testthat", reporter = c("summary"), package = "softsieve", load_package = "installed",
                                  stop_on_failure = FALSE, stop_on_warning = FALSE))
bad <- results$failed + results$error + results$warning
counts <- c(passed = sum(results$passed), failed = sum(bad), skipped = sum(results$skipped))
if (any(bad > 0)) {
  cat("\nNot passed:\n")
  print(results[bad > 0, c("file", "test", "failed", "error", "warning")], row.names = FALSE)
}
line <- sprintf("%d passed, %d failed, %d skipped", counts[["passed"]], counts[["failed"]], counts[["skipped"]])
if (dir.exists(".build")) writeLines(line, ".build/counts")
cat("\n", line, "\n", sep = "")
quit(status = if (counts[["failed"]] > 0 || counts[["passed"]] == 0) 1L else 0L)
