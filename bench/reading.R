# read_responses() on plain text of a million people and a hundred items, against
# data.table::fread() in the same run: seconds, and most memory against that of the answers as
# numbers.
# Run from the package root, with the package installed: Rscript bench/reading.R [file]

file <- commandArgs(trailingOnly = TRUE)[1L]
if (is.na(file)) file <- tempfile(fileext = ".csv")
if (!file.exists(file)) {
  set.seed(1)
  for (block in 1:10) {
    x <- as.data.frame(matrix(sample(c(1:5, NA), 1e7, replace = TRUE), 1e5))
    data.table::fwrite(x, file, append = block > 1)
  }
}

# Seconds (processor, elapsed) of the second of two runs, in a process of its own, and most memory
# that it added (MB).
measured <- function(code) {
  script <- tempfile(fileext = ".R")
  writeLines(c("suppressPackageStartupMessages(library(softsieve))", "peak <- function() {",
    "  line <- grep('VmHWM', readLines('/proc/self/status'), value = TRUE)",
    "  as.numeric(gsub('[^0-9]', '', line)) / 1024", "}",
    "x <- read_responses(system.file('extdata', 'repair_cafe_answers.csv', package = 'softsieve'))",
    "invisible(data.table::as.data.table(x))", "before <- peak()", sprintf("file <- '%s'", file),
    sprintf("time <- system.time(x <- %s)", code),
    "cat(sum(time[1:2]), time[['elapsed']], peak() - before, '\\n')"), script)
  out <- system2(file.path(R.home("bin"), "Rscript"), script, stdout = TRUE)
  as.numeric(strsplit(utils::tail(out, 1L), " ")[[1L]])
}

answers <- 8 * 1e8 / 2^20
for (i in 1:3) {
  alone <- measured("data.table::fread(file, nThread = 2)")
  ours <- measured("read_responses(file)")
  cat(sprintf(
    "fread %.1f s (processor %.1f); read_responses %.1f s (%.1f): %.2f times (%.2f); memory %.2f\n",
    alone[2L], alone[1L], ours[2L], ours[1L], ours[2L] / alone[2L], ours[1L] / alone[1L],
    ours[3L] / answers))
}
