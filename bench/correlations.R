# Correlations against stats::cor() and stats::cov() on the same data in one run; quote the ratios.
# Run from the package root: make bench. Needs about 3 GB of memory.

library(softsieve)
options(width = 160)
seconds <- function(code) system.time(code)[["elapsed"]]

# Peak memory of this process in MB, from Linux; reset by writing 5 to clear_refs.
peak <- function() {
  line <- grep("^VmHWM", readLines("/proc/self/status"), value = TRUE)
  as.numeric(gsub("[^0-9]", "", line)) / 1024
}
reset_peak <- function() try(writeLines("5", "/proc/self/clear_refs"), silent = TRUE)

cat("A million people by 100 five-category items, 3 % missing, pairwise Pearson, two threads\n")
set.seed(1)
n <- 1e6
p <- 100
answers <- matrix(sample.int(5L, n * p, replace = TRUE), n,
  dimnames = list(NULL, paste0("q", seq_len(p))))
answers[sample.int(n * p, 0.03 * n * p)] <- NA
big <- questionnaire(as.data.frame(answers))
rm(answers)
invisible(gc())
reset_peak()
before <- peak()
ours <- two <- plain <- numeric()
for (round in 1:3) {
  ours[round] <- seconds(x <- correlate_items(big, threads = 2))
  if (round == 1) extra <- peak() - before
  two[round] <- seconds(correlate_items(big, threads = 1))
  # stats::cor() on 20 of the items; its time grows with the number of pairs and variances
  plain[round] <- seconds(r <- cor(big$values$answers[, 1:20], use = "pairwise.complete.obs"))
}
stopifnot(max(abs(r - x$values$correlations[1:20, 1:20])) < 1e-12)
scale <- (p * (p + 1)) / (20 * 21)
cat(sprintf("  stats::cor() %.1f s (20 items %.2f s, times %.1f for 100); ours %.2f s\n",
  median(plain) * scale, median(plain), scale, median(ours)))
cat(sprintf("  times faster, two threads (at least 35): %.0f; one thread: %.0f\n",
  median(plain) * scale / median(ours), median(plain) * scale / median(two)))
cat(sprintf("  memory beyond the answers (%.0f MB; at most their own size): %.0f MB\n\n",
  n * p * 4 / 2^20, extra))
rm(big, x)
invisible(gc())

cat("Polychoric, 24,000 people by 48 five-category items\n")
set.seed(2)
z <- matrix(rnorm(24000 * 6), 24000) %*% t(matrix(rnorm(288, 0, 0.5), 48)) +
  matrix(rnorm(24000 * 48), 24000)
ordered <- apply(z, 2, function(v) findInterval(scale(v), c(-1.2, -0.4, 0.5, 1.3)) + 1)
colnames(ordered) <- paste0("q", 1:48)
q <- questionnaire(as.data.frame(ordered))
ours <- plain <- numeric()
for (round in 1:7) {
  ours[round] <- seconds(correlate_items(q, kind = "polychoric", threads = 2))
  plain[round] <- seconds(cor(ordered))
}
cat(sprintf("  stats::cor() %.3f s; ours %.3f s; ratio (at most 3): %.2f\n\n", median(plain),
  median(ours), median(ours) / median(plain)))

cat("EM, the demo data (840 by 26, 3 % missing)\n")
demo <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person,
  group = cafe)$values$answers +
  0
filled <- demo
filled[is.na(filled)] <- 3
ours <- plain <- numeric()
for (round in 1:7) {
  ours[round] <- seconds(for (i in 1:5) fit <- softsieve:::cpp_em(demo, NULL, 1e-8, 1000L)) / 5
  plain[round] <- seconds(for (i in 1:200) cov(filled)) / 200
}
cat(sprintf(
  "  %d iterations to a rise below 1e-8; one iteration costs %.1f stats::cov() (under 40)\n",
  fit$iterations, median(ours) / fit$iterations / median(plain)))
