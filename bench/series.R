# Rows that follow each other: how often unrelated series give a factor, and how often factors that
# are there are found, by chance levels of independent rows, of fewer rows, and of shifted columns.
#
#     Rscript bench/series.R [RUNS] > bench/series.csv      (about 10 minutes for 200)
#
# Unrelated: 8 first-order series. Factors: 9 columns of 1 or 3 factors, loadings .7, factors and
# what is the columns' own with the same memory. Trend and season: in half of the columns, not
# taken out, taken out.

suppressPackageStartupMessages(library(softsieve))
runs <- as.integer(c(commandArgs(TRUE), "200")[1L])

remembered <- function(n, p, memory) {
  x <- matrix(stats::rnorm(n * p), n, p)
  for (i in seq_len(n)[-1L]) x[i, ] <- memory * x[i - 1L, ] + sqrt(1 - memory^2) * x[i, ]
  x
}
made <- function(n, factors, memory, pattern) {
  p <- if (factors) 9L else 8L
  x <- remembered(n, p, memory)
  if (factors) {
    common <- remembered(n, factors, memory)
    x <- 0.7 * common[, rep(seq_len(factors), length.out = p)] + sqrt(1 - 0.49) * x
  }
  t <- seq_len(n)
  some <- seq(1L, p, by = 2L)
  if (pattern == "trend") x[, some] <- x[, some] + 2 * (t / n - 0.5)
  if (pattern == "season") x[, some] <- x[, some] + sin(2 * pi * t / 12)
  data.frame(x, t = t)
}
found <- function(data, way, pattern, seed) {
  q <- switch(way, rows = questionnaire(data[names(data) != "t"], measured = TRUE),
    questionnaire(data, order = t, measured = TRUE, period = 12))
  if (way == "removed") {
    q <- questionnaire(data, order = t, measured = TRUE, period = 12, remove = pattern)
  }
  chance <- if (way == "fewer") "normal"
  p <- parallel_analysis(q, chance = chance, replicates = 500, seed = seed, threads = 1)
  c(p$values$suggested, p$settings$chance == "shifted")
}

cells <- rbind(
  expand.grid(factors = c(0L, 1L, 3L), n = c(60L, 96L, 240L), memory = c(0, 0.5, 0.8, 0.9),
    pattern = "none", way = c("rows", "fewer", "default"), stringsAsFactors = FALSE),
  expand.grid(factors = c(0L, 1L), n = c(96L, 240L), memory = 0.5, pattern = c("trend", "season"),
    way = c("rows", "default", "removed"), stringsAsFactors = FALSE))
cat("factors,n,memory,pattern,way,runs,right,too_many,too_few,shifted\n")
for (i in seq_len(nrow(cells))) {
  cell <- cells[i, ]
  each <- parallel::mclapply(seq_len(runs), function(run) {
    set.seed(run * 1000L + cell$n + 7L * cell$factors)
    data <- made(cell$n, cell$factors, cell$memory, cell$pattern)
    suppressMessages(found(data, cell$way, cell$pattern, run))
  }, mc.cores = 2L)
  k <- vapply(each, `[`, 0, 1L)
  cat(sprintf("%d,%d,%.1f,%s,%s,%d,%.3f,%.3f,%.3f,%.2f\n", cell$factors, cell$n, cell$memory,
    cell$pattern, cell$way, runs, mean(k == cell$factors), mean(k > cell$factors),
    mean(k < cell$factors), mean(vapply(each, `[`, 0, 2L))))
}
