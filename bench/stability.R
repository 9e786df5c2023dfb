# What loading_stability() costs beside stats::cor(), and how it grows: the draws alone, and all of
# it. Everything in one run on one machine; quote the ratios. Run from the package root: make bench

suppressPackageStartupMessages(library(softsieve))
core <- function(name) getFromNamespace(name, "softsieve")
seconds <- function(code) system.time(code)[["elapsed"]]

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = "person",
  group = "cafe")
solution <- factor_solution(motives, 4, seed = 1)
whole <- motives$values$answers + 0
for (j in seq_len(ncol(whole))) {
  whole[is.na(whole[, j]), j] <- stats::median(whole[, j], na.rm = TRUE)
}
filled <- factor_solution(as.data.frame(whole), 4, seed = 1)

cat("1,000 draws of 840 people and 26 items, 4 factors, minres and oblimin, on two threads, over\n")
cat("1,000 calls of stats::cor() on these answers without missing answers (at most 4)\n")
ours <- full <- gaps <- plain <- numeric()
for (round in 1:5) {
  plain[round] <- seconds(for (i in 1:1000) stats::cor(whole))
  ours[round] <- seconds(
    loading_stability(filled, halves = 0, replicates = 1000, seed = 1, threads = 2))
  full[round] <- seconds(loading_stability(filled, replicates = 1000, seed = 1, threads = 2))
  gaps[round] <- seconds(loading_stability(solution, replicates = 1000, seed = 1, threads = 2))
}
cat(sprintf("  whole %.2f; with 100 split halves %.2f; with missing values and split halves %.2f\n",
  stats::median(ours / plain), stats::median(full / plain), stats::median(gaps / plain)))

set.seed(1)
p <- 48L
pattern <- matrix(0, p, 6L)
pattern[cbind(seq_len(p), rep_len(1:6, p))] <- stats::runif(p, 0.4, 0.8)
common <- matrix(stats::rnorm(24000 * 6), 24000) %*% t(pattern)
x <- common + matrix(stats::rnorm(24000 * p), 24000) %*% diag(sqrt(1 - rowSums(pattern^2)))
x <- apply(x, 2, function(v) findInterval(v, c(-1.5, -0.5, 0.5, 1.5)) + 1)
x[cbind(sample(24000, 5000, TRUE), sample(p, 5000, TRUE))] <- NA
large <- factor_solution(questionnaire(as.data.frame(x)), 6, seed = 1)
spent <- seconds(loading_stability(large, replicates = 1000, seed = 1, threads = 2))
cat(sprintf("24,000 people and 48 items with missing answers, 6 factors, all of it: %.1f s\n",
  spent))

# How often a draw that goes on from the solution ends higher than a whole search would.
answers <- motives$values$answers
missed <- 0L
for (i in 1:200) {
  times <- core("cpp_draw_people")(0:839, rep(0L, 840L), 1, i - 1, FALSE)
  r <- stats::cor(answers[rep(seq_len(840L), times), ], use = "pairwise.complete.obs")
  start <- solution$values$items$uniqueness
  near <- core("cpp_fit_uniquenesses")(r, 4L, "minres", start, 0.005, 1e-6, 200L)
  best <- core("cpp_search_uniquenesses")(r, 4L, "minres", 0.005, 5L, TRUE, 0L, 1e-9, 200L)
  missed <- missed + (near$discrepancy > best$discrepancy * (1 + 1e-4))
}
cat(sprintf("Of 200 draws of the demo, %d end higher than a whole search does\n", missed))
