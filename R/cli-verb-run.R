# `softsieve run`: a study from its file to its results.

VERB_RUN <- spec(
  name = "run",
  label = "run a study; results go into DIR (results)",
  order = 2,
  target = "STUDY.yml",
  needed = TRUE,
  options = list(
    out = verb_option("character", "DIR", "the folder for the results of `run`"),
    threads = THREADS_OPTION
  ),
  run = function(target, options) {
    out <- if (is.null(options$out)) "results" else options$out
    run_and_write(target, out, options$threads)
  }
)

run_and_write <- function(file, out, threads) {
  study <- run_study(file, threads = threads, watch = function(line) cat(line, "...\n", sep = ""))
  files <- write_results(study, out)
  cat("\n")
  show_study(study, character())
  cat("\nWritten:\n", paste0("  ", sort(files), "\n"), sep = "")
  cat(sprintf("\nThe report: %s\n", normalizePath(file.path(out, "report.html"))))
}
