# Parallel analysis: what it costs beside the eigenvalues alone, and beside a plain base-R loop that
# does the same. Everything in one run on one machine; quote the ratios, not the seconds.
# Run from the package root: make bench

library(softsieve)
options(width = 160)

# The core against the eigenvalues alone, in plain C++ with the flags R compiles packages with.
build <- function() {
  config <- function(name) {
    system2(file.path(R.home("bin"), "R"), c("CMD", "config", name), stdout = TRUE)
  }
  include <- paste0("-I",
    c("src", vapply(c("RcppEigen", "sitmo"), function(p) system.file("include", package = p), "")))
  program <- tempfile("chance-cost-")
  sources <- c("bench/chance-cost.cpp",
    file.path("src",
      c("core_chance.cpp", "core_random.cpp", "core_eigenvalues.cpp", "core_spectrum.cpp",
        "core_minrank.cpp")))
  command <- paste(config("CXX"), config("CXXFLAGS"), "-DNDEBUG -w -pthread",
    paste(include, collapse = " "), paste(sources, collapse = " "), "-o", program)
  if (system(command) != 0) stop("the benchmark could not be compiled")
  program
}

cost <- utils::read.csv(text = system2(build(), stdout = TRUE), header = FALSE,
  col.names = c("p", "whole", "alone", "many", "two", "sink"))
cat("1,000 chance matrices, seconds are medians of 15 rounds in turn (n = 1,000 unless said)\n")
print(
  data.frame(p = cost$p, seconds = round(cost$whole, 4),
    "to Eigen's eigenvalues alone (at most 1.3)" = round(cost$whole / cost$alone, 2),
    "n = 24,000 to n = 1,000 (at most 1.1)" = round(cost$many / cost$whole, 2),
    "2 threads faster (at least 1.7)" = round(cost$whole / cost$two, 2), check.names = FALSE),
  row.names = FALSE)

# Against plain base-R loops that do the same, per replicate; loops get fewer replicates where they
# are slow. Each case in turn with its loop, five rounds, so that a noisy spell hits both.
seconds <- function(code) system.time(code)[["elapsed"]]
values_of <- function(r) eigen(r, symmetric = TRUE, only.values = TRUE)$values
reduced_of <- function(r) values_of(r - diag(1 / diag(solve(r))))
draw_normal <- function(n, p) matrix(rnorm(n * p), n)
shuffle_each <- function(x) {
  apply(x, 2, function(v) {
    seen <- which(!is.na(v))
    v[seen] <- sample(v[seen])
    v
  })
}
plain_shares <- function(n, p) matrix(sample(5, n * p, TRUE, c(1, 2, 4, 3, 2)), n)

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
gaps <- motives$values$answers + 0
whole <- gaps
for (i in seq_len(ncol(whole))) {
  whole[is.na(whole[, i]), i] <- sample(stats::na.omit(whole[, i]), sum(is.na(whole[, i])), TRUE)
}
filled <- as.data.frame(whole)
some <- function(n, p) cor(draw_normal(max(2 * p, 100), p))
cases <- list(
  list("components, 1,000 x 48 (at least 55)",
    function(s, t) parallel_analysis(some(1000, 48), n = 1000, seed = s, threads = t),
    1000, function() values_of(cor(draw_normal(1000, 48))), 200),
  list("components, 24,000 x 48 (at least 900)",
    function(s, t) parallel_analysis(some(1000, 48), n = 24000, seed = s, threads = t),
    1000, function() values_of(cor(draw_normal(24000, 48))), 20),
  list("factors, 1,000 x 48 (at least 20)", function(s, t) {
    parallel_analysis(some(1000, 48), n = 1000, basis = "factors", seed = s, threads = t)
  }, 1000, function() reduced_of(cor(draw_normal(1000, 48))), 200),
  list("factors, 840 x 26", function(s, t) {
    parallel_analysis(some(840, 26), n = 840, basis = "factors", seed = s, threads = t)
  }, 1000, function() reduced_of(cor(draw_normal(840, 26))), 300),
  list("resampled, 840 x 26 complete (at least 8)",
    function(s, t) parallel_analysis(filled, chance = "resampled", seed = s, threads = t),
    1000, function() values_of(cor(shuffle_each(whole))), 300),
  list("resampled, 840 x 26 with missing answers (at least 8)",
    function(s, t) parallel_analysis(motives, chance = "resampled", seed = s, threads = t),
    1000, function() values_of(cor(shuffle_each(gaps), use = "pairwise.complete.obs")), 100))
cat("\nparallel_analysis(), 1,000 replicates, against a plain base-R loop\n")
set.seed(1)
rows <- lapply(cases, function(case) {
  one <- two <- plain <- numeric()
  for (round in 1:5) {
    one[round] <- seconds(case[[2]](round, 1)) / case[[3]]
    two[round] <- seconds(case[[2]](round, 2)) / case[[3]]
    plain[round] <- seconds(for (i in seq_len(case[[5]])) case[[4]]()) / case[[5]]
  }
  data.frame(case = case[[1]], "loop, ms" = round(1e3 * median(plain), 2),
    "1 thread, ms" = round(1e3 * median(one), 3),
    "1 thread: times faster" = round(median(plain) / median(one), 1),
    "2 threads: times faster" = round(median(plain) / median(two), 1), check.names = FALSE)
})
print(do.call(rbind, rows), row.names = FALSE)

# What stats::cor() and eigen() take on the demo data is the measure for the rest.
five <- plain_shares(840, 26)
ratio <- function(label, run, base, times, limit) {
  ours <- theirs <- numeric()
  for (round in 1:3) {
    ours[round] <- seconds(run(round))
    theirs[round] <- seconds(for (i in seq_len(times / 10)) base()) * 10
  }
  cat(sprintf("%s: %.2f s, %.2f times %s (at most %s)\n", label, median(ours),
    median(ours) / median(theirs), "as long", limit))
}
cat("\n")
ratio("1,000 polychoric chance matrices, 840 x 26 in five categories, over 1,000 stats::cor()",
  function(s) parallel_analysis(as.data.frame(five), kind = "polychoric", seed = s, threads = 2),
  function() cor(five), 1000, "25")
ratio(
  paste("all rules on the demo data, 1,000 replicates, over 4,000 pairs of stats::cor()",
    "(complete) and eigen()"),
  function(s) count_factors(motives, replicates = 1000, seed = s, threads = 2),
  function() eigen(cor(whole)), 4000, "1")
ratio("the same over pairs of stats::cor() (pairwise) and eigen()",
  function(s) count_factors(motives, replicates = 1000, seed = s, threads = 2),
  function() eigen(cor(gaps, use = "pairwise.complete.obs")), 4000, "1")
