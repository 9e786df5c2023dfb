# How often the 90 % limits of RMSEA hold the population's, how far it is off on average, and how
# often a true model is said to be off: three factors of six items each (two correlate .6) taken as
# three and as two, in normal answers, skewed answers of five categories taken as Pearson, and four
# answers as polychoric. Writes bench/rmsea.csv. Nothing was tuned on these seeds.
#
#     Rscript bench/rmsea.R [sets] [processors]

suppressPackageStartupMessages(library(softsieve))
asked <- as.integer(commandArgs(TRUE))
sets <- c(asked, 200L)[1L]
processors <- c(asked[-1L], 2L)[1L]

loadings <- matrix(0, 18L, 3L)
loadings[cbind(1:18, rep(1:3, each = 6L))] <- seq(0.4, 0.8, length.out = 18L)
between <- matrix(c(1, 0.6, 0.3, 0.6, 1, 0.3, 0.3, 0.3, 1), 3L)
r <- loadings %*% between %*% t(loadings)
diag(r) <- 1
dimnames(r) <- rep(list(sprintf("i%02d", 1:18)), 2L)

SKEWED <- list(c(-0.8, 0.2, 0.9, 1.6), c(-0.3, 0.4, 1, 1.6), c(-1.6, -0.9, -0.2, 0.7))
FOUR <- list(c(-0.8, 0, 0.8), c(0, 0.8, 1.4), c(-1, 0.2, 1))
cut_up <- function(x, cuts) {
  for (j in seq_len(ncol(x))) x[, j] <- findInterval(x[, j], cuts[[1L + j %% length(cuts)]]) + 1
  x
}
draw <- function(n) {
  x <- matrix(stats::rnorm(n * 18L), n) %*% chol(r)
  colnames(x) <- colnames(r)
  x
}
makes <- list(normal = list(answers = draw, kind = "pearson"),
  skewed = list(answers = function(n) cut_up(draw(n), SKEWED), kind = "pearson"),
  polychoric = list(answers = function(n) cut_up(draw(n), FOUR), kind = "polychoric"))
# what many people have, who are not tested by this
population_of <- function(make) {
  if (make != "skewed") return(r)
  set.seed(1)
  stats::cor(makes$skewed$answers(1e6))
}
rmsea_there <- function(r, k) {
  fit <- extract_factors(r, k, n = 1e7, seed = 1, threads = 1L)$values$fit
  max(fit$rmsea, 0)
}
one_set <- function(i, n, make) {
  set.seed(30000L * n + i)
  x <- correlate_items(as.data.frame(makes[[make]]$answers(n)), kind = makes[[make]]$kind,
    threads = 1L)
  lapply(2:3, function(k) extract_factors(x, k, seed = 1, threads = 1L)$values$fit)
}

cells <- expand.grid(n = c(100, 200, 500, 1000), make = names(makes), stringsAsFactors = FALSE)
rows <- lapply(seq_len(nrow(cells)), function(at) {
  n <- cells$n[at]
  make <- cells$make[at]
  true <- vapply(2:3, function(k) rmsea_there(population_of(make), k), 0)
  if (make != "skewed") true[2L] <- 0
  all <- parallel::mclapply(seq_len(sets), one_set, n = n, make = make, mc.cores = processors)
  measured <- lapply(1:2, function(at) {
    fits <- lapply(all, `[[`, at)
    of <- function(what) vapply(fits, `[[`, 0, what)
    holds <- of("rmsea_lower") <= true[at] + 1e-9 & of("rmsea_upper") >= true[at]
    data.frame(answers = make, people = n, factors = at + 1L, true = round(true[at], 4L),
      holds = round(mean(holds, na.rm = TRUE), 3L),
      off = round(mean(of("rmsea"), na.rm = TRUE) - true[at], 4L),
      above_05 = round(mean(of("rmsea") > 0.05, na.rm = TRUE), 3L), sets = sum(!is.na(holds)))
  })
  print(measured <- do.call(rbind, measured), row.names = FALSE)
  measured
})
utils::write.csv(do.call(rbind, rows), "bench/rmsea.csv", row.names = FALSE,
  quote = FALSE)
