# Pairs of very many items counted: 20 people, 200 to 2,800 items of five categories, against the
# same tables by base R (a product of indicators, without random groups); from about 2,800 items on
# the tables of one group are too many, which is said. Run from the package root, with the package
# installed: Rscript bench/wide.R

suppressPackageStartupMessages(library(softsieve))
options(cli.progress_show_after = 1e9)
set.seed(1)
seconds <- function(code) system.time(code)[["elapsed"]]
by_hand <- function(x) {
  indicators <- do.call(cbind, lapply(x, outer, 1:5, `==`)) + 0
  crossprod(indicators)
}
for (items in c(200L, 400L, 800L, 1500L, 2800L)) {
  x <- as.data.frame(matrix(sample(5L, 20L * items, replace = TRUE), 20L))
  base <- seconds(hand <- by_hand(x))
  own <- seconds(tables <- tabulate_items(x, ends = c(1, 5)))
  groups <- glance(tables)$random_groups
  stopifnot(sum(tables$values$people["people", ]) == 20)
  said <- "%d items: %.1f s in %d random groups, %.1f s by base R in one: %.2f a group\n"
  cat(sprintf(said, items, own, groups, base, own / groups / base))
}
refused <- tryCatch(tabulate_items(as.data.frame(matrix(1:5, 20L, 10000L))),
  softsieve_error_too_large = conditionMessage)
cat("10,000 items:", refused, "\n")
