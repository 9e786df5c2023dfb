# How often true models and unrelated items are rejected, and how often limits of correlations hold
# the truth: at n people and p items, three factors that correlate .3 with loadings of .5 to .7,
# over makes of answers. Run: Rscript bench/tests.R [sets] [seed]. Writes bench/tests.csv;
# takes two hours on two processors. Nothing was tuned on the seeds from 500 on.
suppressPackageStartupMessages(library(softsieve))
arguments <- as.integer(commandArgs(trailingOnly = TRUE))
sets <- c(arguments, 100L)[1L]
first_seed <- c(arguments[-1L], 500L)[1L]

population <- function(p, k = 3L) {
  loadings <- matrix(0, p, k)
  loadings[cbind(seq_len(p), rep_len(seq_len(k), p))] <- rep_len(c(.5, .6, .7, .55, .65), p)
  between <- matrix(.3, k, k)
  diag(between) <- 1
  r <- loadings %*% between %*% t(loadings)
  diag(r) <- 1
  r
}
cut_at <- function(x, at) matrix(findInterval(x, at) + 0, nrow(x))
# missing completely at random, or by the first item, which everybody answered
gaps <- function(x, share) replace(x, runif(length(x)) < share, NA)
gaps_by_first <- function(x, share) {
  away <- x[, 1L] > quantile(x[, 1L], 1 - 2 * share)
  hit <- matrix(runif(length(x)) < .5, nrow(x)) & away
  hit[, 1L] <- FALSE
  replace(x, hit, NA)
}
# people in clusters: answers share a part of their variance within
in_clusters <- function(n, r, clusters) {
  of <- rep_len(seq_len(clusters), n)
  root <- chol(r)
  own <- matrix(rnorm(n * ncol(r)), n) %*% root
  shared <- matrix(rnorm(clusters * ncol(r)), clusters) %*% root
  # each item's spread differs, too
  size <- matrix(exp(rnorm(clusters * ncol(r), 0, .2)), clusters)
  list(x = sqrt(.8) * own * size[of, ] + sqrt(.2) * shared[of, ], cluster = of)
}

makes <- list(normal = function(n, r) list(x = matrix(rnorm(n * ncol(r)), n) %*% chol(r)),
  skewed = function(n, r) {
    list(x = cut_at(matrix(rnorm(n * ncol(r)), n) %*% chol(r), c(.5, 1, 1.5, 2)))
  },
  polychoric = function(n, r) {
    list(x = cut_at(matrix(rnorm(n * ncol(r)), n) %*% chol(r), c(-.8, 0, .8)),
      how = list(kind = "polychoric"))
  },
  em = function(n, r) {
    list(x = gaps(matrix(rnorm(n * ncol(r)), n) %*% chol(r), .2), how = list(missing = "em"))
  },
  em_by_answers = function(n, r) {
    list(x = gaps_by_first(matrix(rnorm(n * ncol(r)), n) %*% chol(r), .2),
      how = list(missing = "em"))
  },
  pairwise = function(n, r) list(x = gaps(matrix(rnorm(n * ncol(r)), n) %*% chol(r), .2)),
  pairwise_by_answers = function(n, r) {
    list(x = gaps_by_first(matrix(rnorm(n * ncol(r)), n) %*% chol(r), .2))
  },
  weighted = function(n, r) {
    list(x = matrix(rnorm(n * ncol(r)), n) %*% chol(r), weight = exp(rnorm(n, 0, .7)))
  },
  clusters = function(n, r) in_clusters(n, r, 60L))

correlated <- function(made) {
  d <- as.data.frame(made$x)
  if (!all(vapply(d, function(v) length(unique(v)) > 1L, NA))) return(NULL)
  items <- names(d)
  d$weight <- made$weight
  d$cluster <- made$cluster
  q <- suppressMessages(questionnaire(d, items = tidyselect::all_of(items),
    weight = if (!is.null(made$weight)) "weight", cluster = if (!is.null(made$cluster)) "cluster"))
  tryCatch(do.call(correlate_items, c(list(q, threads = 1L), made$how)), error = function(e) NULL)
}

one_set <- function(make, n, p, seed) {
  set.seed(seed)
  r <- population(p)
  none <- diag(p)
  related <- correlated(makes[[make]](n, r))
  unrelated <- correlated(makes[[make]](n, none))
  out <- c(fit = NA, rmsea = NA, limits = NA, sphericity = NA, parallel = NA)
  if (!is.null(related)) {
    fit <- extract_factors(related, 3, starts = 0, threads = 1L)$values$fit
    out["fit"] <- fit$p < .05
    out["rmsea"] <- fit$rmsea_lower > 0
    v <- related$values
    up <- upper.tri(r)
    # skewed answers, and clusters whose spreads differ, have correlations of their own
    if (!make %in% c("skewed", "clusters")) {
      out["limits"] <- mean(abs(v$correlations - r)[up] < qnorm(.975) * v$standard_errors[up])
    }
  }
  if (!is.null(unrelated)) {
    out["sphericity"] <- assess_factorability(unrelated)$values$sphericity$p < .05
    found <- parallel_analysis(unrelated, replicates = 300, seed = seed, threads = 1L)
    out["parallel"] <- found$values$suggested > 0
  }
  out
}

cells <- expand.grid(n = c(200, 300, 1000), p = c(10, 30), make = names(makes),
  stringsAsFactors = FALSE)
# what an earlier run came to is kept: a line for each cell
kept <- "bench/tests.part"
named <- function(cell) paste(cell$make, cell$n, cell$p, sets, first_seed)
done <- if (file.exists(kept)) sub(",.*", "", readLines(kept))
left <- which(!vapply(seq_len(nrow(cells)), function(i) named(cells[i, ]) %in% done, NA))
invisible(parallel::mclapply(left, function(i) {
  cell <- cells[i, ]
  all <- vapply(seq_len(sets), function(s) one_set(cell$make, cell$n, cell$p, first_seed + s),
    numeric(5L))
  found <- round(100 * rowMeans(all, na.rm = TRUE), 1)
  cat(paste(c(named(cell), found), collapse = ","), "\n", sep = "", file = kept, append = TRUE)
}, mc.cores = 2L, mc.preschedule = FALSE))

measured <- utils::read.csv(kept, header = FALSE)
at <- match(vapply(seq_len(nrow(cells)), function(i) named(cells[i, ]), ""), measured[[1L]])
names(measured) <- c("cell", "true_model_rejected", "rmsea_above_0", "correlation_limits_hold",
  "sphericity_rejected", "a_factor_by_parallel")
table <- cbind(cells[c("make", "n", "p")], sets = sets, measured[at, -1L])
utils::write.csv(table, "bench/tests.csv", row.names = FALSE, quote = FALSE)
print(table, row.names = FALSE)
