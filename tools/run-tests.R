# Runs the tests against the installed package, the files shared out over the processors, and prints
# what failed and a closing line. Exit status 1 when anything failed, raised an error or warned.
# Writes the line to .build/counts. Rscript tools/run-tests.R [NAME ...] runs these files alone.
Sys.setenv(NOT_CRAN = "true", TESTTHAT_PARALLEL = "false")
Sys.setenv(SOFTSIEVE_NODE_MODULES = file.path(getwd(), ".build", "node", "node_modules"))
suppressPackageStartupMessages({
  library(testthat)
  library(softsieve)
})
options(cli.progress_show_after = 1e6) # bars would only blur the log
folder <- "tests/testthat"
files <- list.files(folder, pattern = "^test-.*[.]R$")
asked <- commandArgs(trailingOnly = TRUE)
if (length(asked)) files <- intersect(sprintf("test-%s.R", asked), files)

run_file <- function(file) {
  name <- sub("^test-(.*)[.]R$", "\\1", file)
  started <- proc.time()[["elapsed"]]
  results <- tryCatch(
    test_dir(folder, filter = sprintf("^%s$", name), reporter = "silent", package = "softsieve",
      load_package = "installed", stop_on_failure = FALSE, stop_on_warning = FALSE),
    error = function(e) list(list(file = file, test = "the file itself", results = list(e))))
  tests <- unlist(lapply(results, function(test) {
    lapply(test$results, function(result) {
      list(file = file, test = test$test, passed = inherits(result, "expectation_success"),
        skipped = inherits(result, "expectation_skip"), text = conditionMessage(result))
    })
  }), recursive = FALSE)
  cat(sprintf("%s: %d in %.0f s\n", file, length(tests), proc.time()[["elapsed"]] - started))
  tests
}

# those that wait for other programs first, then the largest, one after the other to whoever is free
slow <- c("report-write", "page-open", "cli-main", "study-run", "all-examples")
slow <- sprintf("test-%s.R", slow)
files <- files[order(!files %in% slow, -file.size(file.path(folder, files)))]
cores <- if (.Platform$OS.type == "windows") {
  1L
} else {
  max(1L, min(2L, parallel::detectCores(), na.rm = TRUE))
}
found <- parallel::mclapply(files, run_file, mc.cores = cores, mc.preschedule = FALSE)
died <- !vapply(found, is.list, NA)
all <- unlist(found[!died], recursive = FALSE)
passed <- vapply(all, `[[`, NA, "passed")
skipped <- vapply(all, `[[`, NA, "skipped")
bad <- all[!passed & !skipped]
for (one in bad) cat("\nNot passed: ", one$file, ", ", one$test, "\n", one$text, "\n", sep = "")
for (file in files[died]) cat("\nNot passed: ", file, " ended before its tests did\n", sep = "")
line <- sprintf("%d passed, %d failed, %d skipped", sum(passed), length(bad) + sum(died),
  sum(skipped))
if (dir.exists(".build") && !length(asked)) writeLines(line, ".build/counts")
cat("\n", line, "\n", sep = "")
quit(status = if (length(bad) + sum(died) > 0 || !any(passed)) 1L else 0L)
