# How often each rule of count_factors(), and its probabilities, find the true number of factors: on
# new sets of the training make and on the test make, which the model has never seen. All in one
# run. Takes about half a second a set and processor. Run from the package root:
#   Rscript bench/retention-accuracy.R [sets of each make, 1500] [replicates of rules that simulate,
#   100] [file] The tables go to the screen, and shares by make, condition and rule into `file`
#   (CSV): the vignette shows inst/retention/accuracy.csv.

suppressPackageStartupMessages(library(softsieve))
options(width = 160)
arguments <- commandArgs(trailingOnly = TRUE)
given <- function(at, otherwise) if (is.na(arguments[at])) otherwise else arguments[at]
sets <- as.integer(given(1L, 1500))
replicates <- as.integer(given(2L, 100))
file <- given(3L, NA)
SEED <- c(training = 4242, test = 78) # neither was used in training

source("data-raw/retention_training/compile.R")
compile_with_core("generator.cpp")

judge <- function(make, set) {
  made <- simulated_set(make == "training", SEED[[make]], set)
  answers <- as.data.frame(made$answers)
  count <- suppressWarnings(count_factors(answers, replicates = replicates, seed = 1, threads = 1))
  v <- count$values
  suggested <- stats::setNames(v$rules$suggested, v$rules$rule)
  data.frame(
    make = make,
    made[
      c(
        "factors", "people", "items", "categories", "loading", "correlation", "nuisance",
        "smallest", "tails", "crossing"
      )
    ],
    as.list(suggested),
    probable = v$probable,
    probability = v$probability,
    plausible = v$plausible[1L] <= made$factors && made$factors <= v$plausible[2L]
  )
}
run <- function(make) {
  # a set that cannot be judged (nothing of the sort was seen) stops the run: no silent gaps
  parts <- parallel::mclapply(
    seq_len(sets) - 1,
    function(set) judge(make, set),
    mc.cores = parallel::detectCores()
  )
  failed <- vapply(parts, inherits, NA, "try-error")
  if (any(failed)) stop("sets that failed: ", sum(failed), "; first: ", parts[[which(failed)[1L]]])
  do.call(rbind, parts)
}
all <- rbind(run("training"), run("test"))

rules <- retention_rule_table()
columns <- c(stats::setNames(rules$rule, rules$label), "most probable number" = "probable")
share_right <- function(data, column) mean(!is.na(data[[column]]) & data[[column]] == data$factors)
table_of <- function(split) {
  right <- lapply(columns, function(column) vapply(split, share_right, 0, column))
  matrix(
    unlist(right),
    length(columns),
    length(split),
    byrow = TRUE,
    dimnames = list(names(columns), names(split))
  )
}
percent <- function(m) round(100 * m, 1)
cat(sprintf("%d sets of each make; right in %% (silent counts as wrong)\n", sets))
makes <- split(all, factor(all$make, c("training", "test")))
print(percent(table_of(makes)))
outside <- vapply(makes, function(d) mean(is.na(d$probability)), 0)
calibration <- function(d) {
  d <- d[!is.na(d$probability), ]
  bin <- cut(d$probability, seq(0, 1, 0.1))
  said <- tapply(d$probability, bin, mean)
  right <- tapply(d$probable == d$factors, bin, mean)
  list(
    table = round(cbind(sets = as.vector(table(bin)), said, right), 3),
    gap = sum(abs(said - right) * table(bin), na.rm = TRUE) / nrow(d)
  )
}
for (make in names(makes)) {
  c <- calibration(makes[[make]])
  cat(sprintf(
    paste(
      "\n%s make: %.1f %% beyond the model's limits; mean gap of stated probability and",
      "hit rate %.3f; true number in the plausible range %.1f %%\n"
    ),
    make,
    100 * outside[[make]],
    c$gap,
    100 * mean(makes[[make]]$plausible)
  ))
  print(c$table)
}
conditions <- function(d) {
  list(
    factors = d$factors,
    people = cut(d$people, c(0, 150, 300, 600, 1200, Inf)),
    "items per factor" = cut(d$items / pmax(d$factors, 1), c(0, 3.5, 5, 8, Inf)),
    loading = cut(d$loading, c(-0.01, 0.01, 0.45, 0.6, 0.75, 1)),
    "factor correlation" = cut(d$correlation, c(-0.3, 0.05, 0.3, 0.5, 1)),
    categories = cut(d$categories, c(-1, 0, 2, 4, 11), c("continuous", "2", "3-4", "5-11")),
    nuisance = cut(d$nuisance, c(-1, 0.001, 0.04, 1), c("none", "to .04", "more")),
    tails = c("normal", "not normal")[d$tails + 1L],
    crossing = c("simple", "crossing")[d$crossing + 1L]
  )
}
summary_of <- function(make) {
  d <- makes[[make]]
  levels <- c(list(all = rep("all", nrow(d))), conditions(d))
  do.call(
    rbind,
    lapply(names(levels), function(name) {
      split <- split(d, levels[[name]], drop = TRUE)
      cat("\n", make, " make by ", name, "\n", sep = "")
      print(percent(rbind(table_of(split), sets = vapply(split, nrow, 0L) / 100)))
      right <- table_of(split)
      data.frame(
        make = make,
        condition = name,
        level = rep(names(split), each = nrow(right)),
        sets = rep(vapply(split, nrow, 0L), each = nrow(right)),
        rule = rownames(right),
        right = round(as.vector(right), 4)
      )
    })
  )
}
calibrated <- function(make) {
  d <- makes[[make]]
  found <- calibration(d)
  data.frame(
    make = make,
    condition = c("calibration", "outside", "plausible"),
    level = c("mean gap", "share", "holds the truth"),
    sets = nrow(d),
    rule = "most probable number",
    right = round(c(found$gap, outside[[make]], mean(d$plausible)), 4)
  )
}
out <- do.call(rbind, c(lapply(names(makes), summary_of), lapply(names(makes), calibrated)))
if (!is.na(file)) utils::write.csv(out, file, row.names = FALSE)
