# Do plans come true? What plan_study() forecasts from 500 samples is compared with 10,000 fresh
# samples of the same design, at three sizes: the difference over its Monte Carlo standard error
# (both parts). That each measure is what the exported stages give of the same answers is held by
# tests/testthat/test-plan-study.R. And the errors of each item's largest loading that the plan has
# are compared with those that loading_stability() gives in single fresh samples. Writes
# bench/plan.csv and bench/plan-stability.csv. Rscript bench/plan.R [fresh samples] [design]
# (with a design its rows alone are made anew)

suppressPackageStartupMessages(library(softsieve))
core <- asNamespace("softsieve")
fresh <- as.integer(c(commandArgs(trailingOnly = TRUE), "10000")[1L])
designs <- list(ordinary = planned_factors(4, items = 5, loadings = c(0.5, 0.7)),
  hard = planned_factors(3, items = c(3, 6, 4), loadings = c(0.4, 0.6), correlations = 0.5,
    answers = 4, lean = 0.7, missing = 0.05, careless = 0.05),
  cafes = planned_factors(2, items = 6, loadings = c(0.3, 0.7),
    clusters = c(size = 20, intraclass = 0.05), blocks = c(of = 4, asked = 3)))
wanted <- intersect(c(commandArgs(trailingOnly = TRUE)[-1L], names(designs)), names(designs))
if (length(commandArgs(trailingOnly = TRUE)) > 1L) wanted <- wanted[1L]
others <- function(file) {
  if (length(wanted) == length(designs)) return(NULL)
  kept <- utils::read.csv(file)
  kept[kept$design != wanted, ]
}

rows <- list()
stable <- list()

# What 40 single samples say of the errors of loadings, beside the plan.
singles <- function(design, n) {
  each <- vapply(1:40, function(i) {
    q <- questionnaire(as.data.frame(core$simulate_answers(design, n, 3, i)))
    s <- factor_solution(q, ncol(design$loadings), seed = 1)
    v <- loading_stability(s, halves = 0, replicates = 300, seed = 1)$values$loadings
    v$standard_error[v$home][order(v$item[v$home])]
  }, numeric(nrow(design$loadings)))
  rowMeans(each)
}

for (name in wanted) {
  for (n in c(100L, 250L, 600L)) {
    x <- plan_study(designs[[name]], n, replicates = 500, seed = 1)
    plan <- as_tibble(x)
    how <- core$settle_plan(designs[[name]], n, 500L, 1, NULL)
    # the same target, other samples
    other <- how
    other$seed <- 2
    other$replicates <- fresh
    truth <- core$measure_size(other, n, function(done) NULL)$measures
    z <- (plan$value - truth$value) / sqrt(plan$error^2 + truth$error^2)
    rows <- c(rows, list(data.frame(design = name, people = n, measure = plan$measure,
      forecast = signif(plan$value, 4), fresh = signif(truth$value, 4), z = round(z, 2))))
    print(rows[[length(rows)]])
    if (name == "cafes") next # (its people are no independent draws)
    planned <- x$values$items$loading_error[order(paste0("V", seq_len(nrow(x$values$items))))]
    said <- singles(designs[[name]], n)
    stable <- c(stable, list(data.frame(design = name, people = n, items = length(said),
      planned = signif(mean(planned), 3), singly = signif(mean(said), 3),
      ratio = round(mean(said) / mean(planned), 3),
      ratio_lowest = round(min(said / planned), 2), ratio_highest = round(max(said / planned), 2))))
    print(stable[[length(stable)]])
  }
}
all <- rbind(others("bench/plan.csv"), do.call(rbind, rows))
utils::write.csv(all, "bench/plan.csv", row.names = FALSE)
stable <- rbind(others("bench/plan-stability.csv"), do.call(rbind, stable))
utils::write.csv(stable, "bench/plan-stability.csv", row.names = FALSE)
z <- all$z[is.finite(all$z)]
cat(sprintf("%d forecasts, %.1f %% within two errors, the furthest %.2f\n", length(z),
  100 * mean(abs(z) <= 2), max(abs(z))))
