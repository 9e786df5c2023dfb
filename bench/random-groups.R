# Standard errors from counts, whose 200 random groups are drawn or left out, against those from
# people resampled: 24,000 people, 48 items in five categories on six factors.
# Run from the package root, with the package installed: Rscript bench/random-groups.R

suppressPackageStartupMessages(library(softsieve))
options(cli.progress_show_after = 1e9)
set.seed(4)
people <- 24000L
between <- 0.3 + 0.7 * diag(6)
f <- matrix(stats::rnorm(people * 6), people) %*% chol(between)
load <- rep(seq(0.4, 0.8, length.out = 8), 6)
x <- sapply(1:48, function(i) {
  y <- load[i] * f[, (i - 1) %/% 8 + 1] + sqrt(1 - load[i]^2) * stats::rnorm(people)
  findInterval(y, c(-1.3, -0.4, 0.5, 1.4)) + 1L
})
x[sample(length(x), length(x) %/% 20)] <- NA
x <- as.data.frame(x)
names(x) <- sprintf("q%02d", 1:48)
all <- questionnaire(x, ends = c(1, 5))
tables <- tabulate_items(x, ends = c(1, 5))

told <- function(what, counts, drawn) {
  ratio <- counts / drawn
  cat(sprintf("%s: %d errors from counts over those from people: mean %.3f, from %.3f to %.3f\n",
    what, length(ratio), mean(ratio), min(ratio), max(ratio)))
}

solution <- factor_solution(all, 6, seed = 1)
by_counts <- factor_solution(tables, 6, seed = 1)
stopifnot(all.equal(coef(solution), coef(by_counts)))
spread <- function(s, seed) {
  d <- loading_stability(s, replicates = 1000, halves = 0, seed = seed)$values$draws$loadings
  apply(d, 1:2, stats::sd)
}
people_one <- spread(solution, 1)
told("loadings", spread(by_counts, 1), people_one)
# how far two runs of people resampled are from each other
told("loadings, people against people of another seed", spread(solution, 2), people_one)

width <- function(data) {
  v <- assess_reliability(form_scales(solution), data, replicates = 1000, seed = 1)$values$scales
  v$upper - v$lower
}
told("limits of reliability, widths", width(tables), width(all))

roots <- function(r) eigen(r$values$correlations)$values[1:7]
jackknife <- draw_tables(tables, roots)
drawn <- replicate(400, {
  r <- stats::cor(x[sample(people, replace = TRUE), ], use = "pairwise.complete.obs")
  eigen(r)$values[1:7]
})
told("eigenvalues, jackknife", jackknife$standard_error, apply(drawn, 1, stats::sd))
by_draws <- draw_tables(tables, roots, how = "draw", replicates = 400, seed = 1)
told("eigenvalues, random groups drawn", by_draws$standard_error, apply(drawn, 1, stats::sd))
