# Do limits from 500 shuffled parts of many people cover as well as those from single people? Draws
# many samples of 3,000 people from a known population, and counts how often the 95 % percentile
# limits of each coefficient hold its value in the population (that of 2,000,000 people). Writes
# bench/reliability-parts.csv. About ten minutes on two processors.

suppressPackageStartupMessages(library(softsieve))
core <- function(name) getFromNamespace(name, "softsieve")
samples <- 1000L
people <- 3000L
draws <- 400L

make <- function(n, seed, skewed) {
  set.seed(seed)
  loadings <- seq(0.4, 0.8, length.out = 8)
  latent <- outer(rnorm(n), loadings) + sapply(sqrt(1 - loadings^2), function(s) rnorm(n, sd = s))
  cuts <- if (skewed) c(0.5, 1, 1.5, 2) else c(-1.5, -0.5, 0.5, 1.5)
  x <- matrix(findInterval(latent, cuts) + 1, n)
  # people come in groups that differ, as they stand in files
  x[order(rep(seq_len(10L), length.out = n) + 0.1 * rowMeans(x)), ]
}

plan_of <- function(x) {
  list(answers = x, weights = numeric(), scale_of = rep(0L, ncol(x)), scales = 1L,
    splits = list(rep(c(1L, -1L), ncol(x) / 2)), ordinal = TRUE, pattern = matrix(0, 0, 0),
    bifactor = matrix(0, 0, 0), unrotated = matrix(0, 0, 0), uniquenesses = numeric(),
    bifactor_uniquenesses = numeric())
}
names <- names(core("COEFFICIENTS"))
shown <- c("alpha", "lambda2", "omega", "coefficient_h", "categorical_omega", "ordinal_alpha")

cover <- function(skewed) {
  truth <- core("cpp_measure_people")(plan_of(make(2e6L, 999L, skewed)))[seq_along(names)]
  one <- function(i) {
    plan <- plan_of(make(people, i, skewed))
    ways <- list(single = people, parts = 1000L)
    sapply(ways, function(most_single) {
      drawn <- core("cpp_resample_people")(plan, draws, 0L, 0L, draws, most_single, i, 1L, NULL)
      limits <- apply(drawn[seq_along(names), ], 1L, quantile, c(0.025, 0.975), na.rm = TRUE)
      c(truth >= limits[1L, ] & truth <= limits[2L, ], limits[2L, ] - limits[1L, ])
    })
  }
  all <- simplify2array(parallel::mclapply(seq_len(samples), one, mc.cores = 2L))
  at <- match(shown, names)
  data.frame(answers = if (skewed) "skewed" else "even", coefficient = shown,
    covered_single = rowMeans(all[at, 1L, ]), covered_parts = rowMeans(all[at, 2L, ]),
    width_parts_over_single = rowMeans(all[length(names) + at, 2L, ]) /
      rowMeans(all[length(names) + at, 1L, ]))
}

result <- rbind(cover(FALSE), cover(TRUE))
print(result, row.names = FALSE, digits = 3)
write.csv(result, "bench/reliability-parts.csv", row.names = FALSE)
