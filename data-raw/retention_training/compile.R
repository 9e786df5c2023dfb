# Compiles a C++ file of this folder together with the package's core. Run from the package root.
compile_with_core <- function(file) {
  home <- normalizePath("src")
  here <- normalizePath("data-raw/retention_training")
  includes <- vapply(c("RcppEigen", "sitmo"), function(p) system.file("include", package = p), "")
  core <- c("linear", "random", "eigenvalues", "spectrum", "uniqueness", "evidence", "features",
    "search", "bounded", "weighted", "coding", "tables", "popcount", "polychoric", "minrank")
  folder <- tempfile("retention-training-")
  dir.create(folder)
  lines <- c(readLines(file.path(here, file)), sprintf('#include "core_%s.cpp"', core))
  source <- file.path(folder, file)
  writeLines(lines, source)
  Sys.setenv(PKG_CPPFLAGS = paste(paste0("-I", c(home, here, includes)), collapse = " "),
    PKG_CXXFLAGS = "-O3 -march=native -w -pthread", PKG_LIBS = "-pthread")
  Rcpp::sourceCpp(source, env = globalenv())
}
