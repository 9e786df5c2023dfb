# What sifting costs: beside the parallel analyses in it, with many items, over many paths; and how
# far choosing on the same people flatters. Everything in one run on one machine; quote the ratios.
# Run from the package root: make bench

suppressPackageStartupMessages(library(softsieve))
options(cli.progress_show_after = Inf)
seconds <- function(code) system.time(code)[["elapsed"]]
motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = "person",
  group = "cafe")
correlations <- correlate_items(motives)

ours <- alone <- numeric()
for (round in 1:5) {
  ours[round] <- seconds(x <- sift_items(correlations, seed = 1, threads = 2))
  passes <- max(as_tibble(x)$pass)
  alone[round] <- seconds(
    for (i in seq_len(passes)) parallel_analysis(correlations, seed = 1, threads = 2))
}
cat(sprintf(
  "demo data, parallel analysis in each of %d passes: %.2f times these alone (1.5), %.2f s\n",
  passes, stats::median(ours / alone), stats::median(ours)))

set.seed(1)
p <- 100L
pattern <- matrix(0, p, 5L)
pattern[cbind(seq_len(p), rep_len(1:5, p))] <- stats::runif(p, 0.2, 0.75)
common <- matrix(stats::rnorm(5000 * 5), 5000) %*% t(pattern)
z <- common + matrix(stats::rnorm(5000 * p), 5000) %*% diag(sqrt(1 - rowSums(pattern^2)))
d <- as.data.frame(apply(z, 2, function(v) findInterval(v, c(-1.5, -0.5, 0.5, 1.5)) + 1))
many <- questionnaire(d, ends = c(1, 5))
spent <- seconds(x <- sift_items(many, factors = 5, passes = 60, seed = 1, threads = 2))
passes <- max(as_tibble(x)$pass)
cat(sprintf("100 items, 5,000 people, %d passes: %.1f s (under 5)\n", passes, spent))

sifted <- sift_items(motives, factors = 4, seed = 1)
spent <- seconds(paths <- sift_paths(sifted, replicates = 469, seed = 1, threads = 2))
cat(sprintf("%d paths on the demo data: %.0f s (under 60)\n", nrow(paths$values$paths), spent))
o <- paths$values$outside
cat(sprintf("  %s: %.3f in the people who chose, %.3f in those left out\n", o$measure, o$inside,
  o$outside), sep = "")

short <- shorten_scales(motives, size = 3, replicates = 200, seed = 1)$values$outside
cat(sprintf("short form of %s: omega %.3f inside, %.3f outside\n", short$scale, short$inside,
  short$outside), sep = "")

# The worst case of short forms: 30 items.
l <- stats::runif(30, 0.3, 0.8)
s <- stats::cov(matrix(stats::rnorm(500 * 30), 500) %*% chol(tcrossprod(l) + diag(1 - l^2)))
core <- function(name) getFromNamespace(name, "softsieve")
factor <- core("one_factor_of")(s)
for (by in c("omega", "fidelity")) {
  spent <- seconds(core("cpp_best_subsets")(s, factor$loadings, factor$uniquenesses, 15L, by,
    rep(FALSE, 30), rep(NA_integer_, 30), 0L, 5L))
  cat(sprintf("best 15 of 30 items by %s: %.2f s\n", by, spent))
}

# What a draw costs beside one of Pearson correlations with the number given: as many draws as take
# about as long are the default (R/sift-paths.R reckons 1, 3 and, polychoric, 3 and 30).
cost <- function(kind, factors) {
  r <- correlate_items(motives, kind = kind)
  x <- sift_items(r, factors = factors, seed = 1)
  alone <- seconds(sift_paths(x, replicates = 0, seed = 1, threads = 1))
  (seconds(sift_paths(x, replicates = 6, seed = 1, threads = 1)) - alone) / 6
}
one <- cost("pearson", 4)
for (kind in c("pearson", "polychoric")) {
  for (factors in list(4, "parallel")) {
    spent <- cost(kind, factors)
    cat(sprintf("a draw, %s, number %s: %.2f s, %.1f times\n", kind, factors, spent, spent / one))
  }
}
