# How often the search for loadings meets the best of a thousand random starts, where it is hard:
# more factors are asked for than there are, in small samples. Writes bench/search.csv. Takes about
# an hour on two processors; Rscript bench/search.R 20 200 makes do with 20 sets and 200 starts.
#
# Sets: true number k0 of 0 to 3, asked for k0 + 1 to k0 + 3 factors (as degrees of freedom allow),
# n of 15 to 300 people (more than items), 5 to 30 items. Two makes: `normal`, loadings drawn evenly
# from 0 to .9; `answers`, the same cut into 2 to 5 skewed categories. The search's settings were
# chosen on seeds 1 to 60 of `normal` and 1001 to 1100 of both; the sets here start from seed 2001.

suppressPackageStartupMessages(library(softsieve))
asked <- as.integer(commandArgs(trailingOnly = TRUE))
sets <- if (length(asked)) asked[1L] else 100L
starts <- if (length(asked) > 1L) asked[2L] else 1000L
core <- function(name) getFromNamespace(name, "softsieve")

hard_set <- function(seed, make) {
  set.seed(seed)
  repeat {
    p <- sample(5:30, 1L)
    k0 <- sample(0:3, 1L)
    k <- k0 + sample(3L, 1L)
    n <- round(exp(runif(1L, log(15), log(300))))
    if (k <= core("core_most_factors")(p) && n > p + 1L) break
  }
  loadings <- matrix(runif(p * max(k0, 1L), 0, 0.9) * rbinom(p * max(k0, 1L), 1L, 0.5), p)
  if (k0 == 0L) loadings[] <- 0
  z <- matrix(rnorm(n * ncol(loadings)), n) %*% t(loadings) + matrix(rnorm(n * p), n)
  if (make == "answers") {
    z <- apply(z, 2L, function(x) {
      cuts <- sort(quantile(x, runif(sample(4L, 1L), 0.1, 0.9)))
      findInterval(x, cuts)
    })
    if (any(apply(z, 2L, sd) == 0)) return(hard_set(seed + 100000L, make))
  }
  r <- cor(z)
  if (min(eigen(r, TRUE, TRUE)$values) < 1e-6) return(hard_set(seed + 100000L, make))
  list(r = r, k = k, p = p, n = n, weights = n / (1 - r^2)^2)
}

# The lowest of the ends of random starts, half of them even, half spread in logarithms.
best_of_random <- function(set, method, starts) {
  set.seed(1)
  p <- set$p
  lowest <- rep(0.005, p)
  value <- function(i) {
    psi <- if (i %% 2L) runif(p, 0.02, 0.98) else exp(runif(p, log(0.005), 0))
    if (method == "wls") {
      begin <- core("core_axis_step")(set$r, set$k, 1 - psi)
      return(
        core("cpp_fit_weighted")(set$r, scaled(set$weights), begin, lowest, 1e-7, 5000L)$discrepancy
      )
    }
    core("cpp_fit_uniquenesses")(set$r, set$k, method, psi, lowest, 1e-7, 200L)$discrepancy
  }
  min(vapply(seq_len(starts), value, 0), na.rm = TRUE)
}
scaled <- function(w) {
  diag(w) <- 0
  w / mean(w[upper.tri(w)])
}

found_by_search <- function(set, method) {
  lowest <- rep(0.005, set$p)
  if (method == "wls") {
    return(core("cpp_search_weighted")(set$r, scaled(set$weights), set$k, lowest, 5L, TRUE, 1e-9,
      20000L))
  }
  core("cpp_search_uniquenesses")(set$r, set$k, method, lowest, 5L, TRUE, 0L, 1e-9, 200L)
}

one <- function(seed, make, method, starts) {
  set <- hard_set(seed, make)
  seconds <- system.time(found <- found_by_search(set, method))[["elapsed"]]
  best <- best_of_random(set, method, starts)
  data.frame(make = make, seed = seed, method = method, p = set$p, k = set$k, n = set$n,
    found = found$discrepancy, best = best, searches = found$starts,
    converged = found$gradient <= 1e-8, seconds = seconds,
    met = found$discrepancy <= best + 1e-6 * (1 + best),
    lower = found$discrepancy < best - 1e-6 * (1 + best))
}

if (!interactive() && !nzchar(Sys.getenv("SEARCH_SOURCED"))) {
  jobs <- expand.grid(seed = 2000L + seq_len(sets), make = c("normal", "answers"),
    method = c("minres", "ml", "gls", "wls"), stringsAsFactors = FALSE)
  rows <- parallel::mclapply(seq_len(nrow(jobs)), function(i) {
    do.call(one,
      c(as.list(jobs[i, ]),
        starts = if (jobs$method[i] == "wls") max(starts %/% 4L, 10L) else starts))
  }, mc.cores = 2L, mc.preschedule = FALSE)
  all <- do.call(rbind, rows)
  summary <- do.call(rbind, by(all, all[c("method", "make")], function(x) {
    data.frame(method = x$method[1L], make = x$make[1L], sets = nrow(x),
      starts = if (x$method[1L] == "wls") max(starts %/% 4L, 10L) else starts, met = mean(x$met),
      lower_than_all_starts = mean(x$lower), searches = mean(x$searches),
      converged = mean(x$converged), milliseconds = 1000 * mean(x$seconds))
  }))
  print(summary, row.names = FALSE, digits = 3)
  if (!length(asked)) {
    write.csv(summary, "bench/search.csv", row.names = FALSE)
    print(all[!all$met, ], row.names = FALSE)
  }
}
