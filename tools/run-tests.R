# Runs the tests against the installed package, the files shared out over the processors, and prints
# what failed and a closing line. Exit status 1 when anything failed, raised an error or warned.
# Writes the line to .build/counts. Rscript tools/run-tests.R [NAME ...] runs these files alone.
# SOFTSIEVE_TURN=N (1 to 4) leaves out the files of other turns than the Nth.
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
# What takes longest takes turns where there is no time for all: a commit's checks run a quarter of
# it (.ci/run).
TURNS <- list(
  c("plan-study", "study-read", "base-findings", "base-ranges", "sift-paths"),
  c("page-open", "all-arguments", "all-worlds", "solution-hidden"),
  c("report-write", "study-run", "read-files", "read-inputs", "all-doors"),
  c("read-database", "all-flow", "correlation-information", "all-faces", "all-examples",
    "all-wrong-calls", "read-source", "plot-loadings", "base-families"))
turn <- as.integer(Sys.getenv("SOFTSIEVE_TURN", "0"))
if (turn > 0L && !length(asked)) {
  later <- sprintf("test-%s.R", unlist(TURNS[-turn]))
  stopifnot(later %in% files) # (no file is renamed and forgotten)
  files <- setdiff(files, later)
  cat("Turn ", turn, ": ", length(later), " files are left to other commits, or to make test.\n",
    sep = "")
}

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
slow <- c("plan-study", "report-write", "page-open", "cli-main", "study-run", "read-database",
  "all-arguments", "all-flow")
slow <- sprintf("test-%s.R", slow)
files <- files[order(match(files, slow), -file.size(file.path(folder, files)))]
cores <- if (.Platform$OS.type == "windows") {
  1L
} else {
  max(1L, min(2L, parallel::detectCores(), na.rm = TRUE))
}
# what many of them look at, each has from here
shared <- new.env()
sys.source(file.path(folder, "helper-data.R"), envir = shared)
if (length(files) > 1L) invisible(shared$demo_run())
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
