# Parallel analysis: what it costs beside the eigenvalues alone, and beside a plain base-R loop that
# does the same. Everything in one run on one machine; quote the ratios, not the seconds.
# Run from the package root: make bench

library(softsieve)
options(width = 160)

# The core against the eigenvalues alone, in plain C++ with the flags R compiles packages with.
build <- function() {
  config <- function(name) system2(file.path(R.home("bin"), "R"), c("CMD", "config", name), stdout = TRUE)
  include <- paste0("-I", c("src", vapply(c("RcppEigen", "sitmo"), function(p) system.file("include", package = p), "")))
  program <- tempfile("chance-cost-")
  sources <- c("bench/chance-cost.cpp", file.path("src", c("core_chance.cpp", "core_random.cpp", "core_eigenvalues.cpp")))
  command <- paste(config("CXX"), config("CXXFLAGS"), "-DNDEBUG -w -pthread", paste(include, collapse = " "), paste(sources, collapse = " "), "-o", program)
  if (system(command) != 0) stop("the benchmark could not be compiled")
  program
}

cost <- utils::read.csv(text = system2(build(), stdout = TRUE), header = FALSE,
                        col.names = c("p", "whole", "alone", "many", "two", "sink"))
cat("1,000 chance matrices, seconds are medians of 15 rounds in turn (n = 1,000 unless said)\n")
print(data.frame(
  p = cost$p, seconds = round(cost$whole, 4), "to Eigen's eigenvalues alone (at most 1.3)" = round(cost$whole / cost$alone, 2),
  "n = 19,000 to n = 1,000 (at most 1.1)" = round(cost$many / cost$whole, 2), "2 threads faster (at least 1.7)" = round(cost$whole / cost$two, 2), check.names = FALSE
), row.names = FALSE)

# Against the plain loop, per replicate: the loop is given fewer replicates where it is slow.
plain_loop <- function(n, p, replicates) {
  for (i in seq_len(replicates)) eigen(cor(matrix(rnorm(n * p), n)), symmetric = TRUE, only.values = TRUE)
}
seconds <- function(code) system.time(code)[["elapsed"]]
cat("\nparallel_analysis() against a plain base-R loop, each per replicate\n")
cases <- data.frame(n = c(840, 1000, 2000, 19000), p = c(24, 50, 100, 50), loops = c(300, 200, 60, 40))
set.seed(1)
rows <- lapply(seq_len(nrow(cases)), function(i) {
  n <- cases$n[i]
  p <- cases$p[i]
  r <- cor(matrix(rnorm(200 * p), 200))
  one <- two <- plain <- numeric()
  for (round in 1:5) { # in turn, so that a noisy spell hits all
    one[round] <- seconds(parallel_analysis(r, n = n, seed = round, threads = 1)) / 1000
    two[round] <- seconds(parallel_analysis(r, n = n, seed = round, threads = 2)) / 1000
    plain[round] <- seconds(plain_loop(n, p, cases$loops[i])) / cases$loops[i]
  }
  data.frame(n = n, p = p, "plain loop, ms" = round(1e3 * median(plain), 2), "one thread, ms" = round(1e3 * median(one), 3),
             "one thread: times faster" = round(median(plain) / median(one)), "two threads: times faster" = round(median(plain) / median(two)), check.names = FALSE)
})
print(do.call(rbind, rows), row.names = FALSE)
