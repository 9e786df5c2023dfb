# Lints the R code by .lintr, and the C++ code by .clang-format where clang-format is there. Prints
# what is wrong, file and line first; exit status 1 when anything is.
if (!requireNamespace("lintr", quietly = TRUE)) {
  cat("lint: lintr is not installed here; nothing was looked at\n")
  quit(status = 0L)
}
folders <- c("R", "tests", "bench", "tools", "data-raw")
found <- unlist(lapply(folders, function(folder) lintr::lint_dir(folder)), recursive = FALSE)
for (one in found) {
  cat(sprintf("%s:%d: %s\n", one$filename, one$line_number, one$message))
}
sources <- setdiff(
  list.files(c("src", "tools"), "[.](cpp|h)$", full.names = TRUE),
  "src/RcppExports.cpp"
)
wrong <- character()
if (nzchar(Sys.which("clang-format"))) {
  said <- suppressWarnings(system2(
    "clang-format",
    c("--dry-run", "--Werror", shQuote(sources)),
    stdout = TRUE,
    stderr = TRUE
  ))
  wrong <- grep("warning|error", said, value = TRUE)
  writeLines(wrong)
} else {
  cat("lint: clang-format is not installed here; the C++ code was not looked at\n")
}
cat(sprintf("lint: %d things to mend\n", length(found) + length(wrong)))
quit(status = if (length(found) + length(wrong)) 1L else 0L)
