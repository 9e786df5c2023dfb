# Are standard errors from 500 random parts of many people those of single people? 3,000 people,
# both ways with 2,000 draws each, over 20 made-up sets of answers: the ratio of the two standard
# errors of every loading. Run from the package root.

suppressPackageStartupMessages(library(softsieve))
core <- function(name) getFromNamespace(name, "softsieve")

one_set <- function(seed) {
  set.seed(seed)
  f <- matrix(stats::rnorm(6000), 3000)
  loadings <- c(0.8, 0.7, 0.6, 0.5, 0.4)
  x <- cbind(f[, 1] %o% loadings, f[, 2] %o% loadings)
  x <- x + matrix(stats::rnorm(30000), 3000) %*% diag(sqrt(1 - rep(loadings, 2)^2))
  x <- apply(x, 2, function(v) findInterval(v, c(-1.5, -0.5, 0.5, 1.5)) + 1)
  s <- factor_solution(as.data.frame(x), 2, seed = 1)
  plan <- core("core_plan_of")(s, 3L, "components")
  spread <- function(most_single, parts) {
    drawn <- core("cpp_resample_solution")(x, numeric(), 0:2999, rep(0L, 3000L), plan, NULL, 2000L,
      0L, 0L, 2000L, most_single, parts, seed, 2L, NULL)
    apply(drawn[1:20, ], 1L, stats::sd)
  }
  spread(2500L, 500L) / spread(1e6L, 500L)
}
ratio <- vapply(1:20, one_set, numeric(20L))
cat(sprintf("Parts over single people: mean %.3f, from %.3f to %.3f, standard deviation %.3f\n",
  mean(ratio), min(ratio), max(ratio), stats::sd(ratio)))
