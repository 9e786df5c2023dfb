# How often the limits of loading_stability() hold what is true in the population: orthogonal and
# oblique factors, normal and five-category answers, 200 and 500 people. The population's loadings
# are those that the same extraction and rotation find in the population's own correlations (of five
# categories: those of two million people). Writes bench/coverage.csv.
#
#     Rscript bench/coverage.R [sets] [threads]

library(softsieve)

asked <- as.integer(commandArgs(TRUE))
sets <- if (length(asked) >= 1L) asked[1L] else 200L
threads <- if (length(asked) >= 2L) asked[2L] else 2L
draws <- 400L

# 20 items on 4 factors, main loadings from .40 to .80, small ones beside them, made with a seed of
# their own.
population <- function(oblique) {
  set.seed(if (oblique) 31 else 32)
  loadings <- matrix(stats::runif(80L, -0.1, 0.1), 20L)
  main <- cbind(1:20, rep(1:4, each = 5L))
  loadings[main] <- stats::runif(20L, 0.4, 0.8)
  loadings[c(3, 12), 4L] <- c(0.3, 0.25)
  between <- diag(4L)
  if (oblique) {
    between[lower.tri(between)] <- c(0.5, 0.3, 0.1, 0.4, 0.2, -0.1)
    between[upper.tri(between)] <- t(between)[upper.tri(between)]
  }
  r <- loadings %*% between %*% t(loadings)
  diag(r) <- 1
  r
}

# Cut points of five categories, from even to skewed.
cuts <- list(c(-1.5, -0.5, 0.5, 1.5), c(-0.3, 0.4, 1, 1.6), c(-1.2, -0.4, 0.2, 1))

draw <- function(n, r, five) {
  x <- matrix(stats::rnorm(n * ncol(r)), n) %*% chol(r)
  if (five) {
    for (j in seq_len(ncol(x))) x[, j] <- findInterval(x[, j], cuts[[1L + j %% 3L]]) + 1
  }
  colnames(x) <- sprintf("i%02d", seq_len(ncol(x)))
  x
}

solve_one <- function(x, rotation) {
  factor_solution(x, 4, rotation = rotation, starts = 20, seed = 1, threads = threads)
}

# The true numbers in the order and signs of a sample's factors.
truth_for <- function(solution, truth) {
  a <- compare_solutions(truth = truth, sample = solution)$values$factors
  at <- match(a$with, colnames(truth$values$loadings))
  r <- truth$values$factor_correlations[at, at] * (a$sign %o% a$sign)
  list(loadings = truth$values$loadings[, at] * rep(a$sign, each = 20L), correlations = r)
}

holds <- function(true, table) mean(true >= table$lower & true <= table$upper)

one_set <- function(r, truth, rotation, five, n) {
  answers <- questionnaire(as.data.frame(draw(n, r, five)))
  solution <- solve_one(answers, rotation)
  found <- loading_stability(solution, replicates = draws, halves = 0, seed = 1, threads = threads)
  true <- truth_for(solution, truth)
  l <- found$values$loadings
  wanted <- true$loadings[cbind(match(l$item, rownames(true$loadings)), match(l$factor, colnames(
    solution$values$loadings)))]
  main <- abs(wanted) >= 0.3
  between <- found$values$factor_correlations
  at <- colnames(solution$values$loadings)
  phi <- true$correlations[cbind(match(between$factor, at), match(between$with, at))]
  c(loadings = holds(wanted, l), main = holds(wanted[main], l[main, ]),
    others = holds(wanted[!main], l[!main, ]),
    communalities = holds(truth$values$items$communality, found$values$items),
    correlations = if (nrow(between)) holds(phi, between) else NA)
}

rows <- list()
for (oblique in c(FALSE, TRUE)) {
  rotation <- if (oblique) "oblimin" else "varimax"
  r <- population(oblique)
  for (five in c(FALSE, TRUE)) {
    set.seed(7)
    whole <- if (five) stats::cor(draw(2e6, r, TRUE)) else r
    dimnames(whole) <- rep(list(sprintf("i%02d", 1:20)), 2L)
    truth <- solve_one(correlate_items(whole, n = 1e6), rotation)
    for (n in c(200L, 500L)) {
      set.seed(1000 + n)
      found <- vapply(seq_len(sets), function(i) one_set(r, truth, rotation, five, n), numeric(5L))
      rows <- c(rows, list(data.frame(factors = if (oblique) "oblique" else "orthogonal",
        answers = if (five) "five categories" else "normal", people = n, sets = sets,
        t(round(rowMeans(found), 3L)))))
      print(rows[[length(rows)]])
    }
  }
}
utils::write.csv(do.call(rbind, rows), "bench/coverage.csv", row.names = FALSE)
