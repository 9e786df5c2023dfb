# How near the chance levels of the normal draws come to those of drawn answers, for polychoric
# correlations of 24 unrelated items with two, three and four answers, some of them skewed: the
# largest difference over the first five ranks beside the Monte Carlo error of a difference, and
# what each takes. Writes bench/chance.csv.
#
#     Rscript bench/chance.R [replicates]

suppressPackageStartupMessages(library(softsieve))
asked <- as.integer(commandArgs(TRUE))
replicates <- if (length(asked)) asked[1L] else 2000L
ITEMS <- 24L
CUTS <- rep(list(c(-1.2, 0, 1.2), 1.2, c(0.8, 1.3, 1.8), c(-0.5, 0.5)), ITEMS / 4L)

unrelated <- function(n) {
  set.seed(n)
  z <- matrix(stats::rnorm(n * ITEMS), n)
  for (j in seq_len(ITEMS)) z[, j] <- findInterval(z[, j], CUTS[[j]]) + 1
  colnames(z) <- sprintf("i%02d", seq_len(ITEMS))
  correlate_items(questionnaire(as.data.frame(z)), kind = "polychoric")
}

levels_by <- function(x, chance) {
  took <- system.time(
    found <- parallel_analysis(x, chance = chance, replicates = replicates, seed = 1, threads = 2L))
  list(levels = found$values$eigenvalues[1:5, ], seconds = took[["elapsed"]])
}

rows <- lapply(c(500L, 1000L, 2000L, 5000L), function(n) {
  x <- suppressMessages(unrelated(n))
  drawn <- levels_by(x, "ordinal")
  normal <- levels_by(x, "normal")
  away <- normal$levels$chance_upper - drawn$levels$chance_upper
  at <- which.max(abs(away))
  data.frame(people = n, first_level = drawn$levels$chance_upper[1L], largest_difference = away[at],
    its_error = sqrt(normal$levels$upper_error[at]^2 + drawn$levels$upper_error[at]^2),
    seconds_drawn = drawn$seconds, seconds_normal = normal$seconds)
})
found <- do.call(rbind, rows)
print(found, digits = 3L)
utils::write.csv(format(found, digits = 3L), "bench/chance.csv", row.names = FALSE, quote = FALSE)
