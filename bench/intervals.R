# How often the limits that are printed hold what is true in the population, of reliability
# coefficients (a scale of eight items); normal and skewed five-category answers of 100, 200 and 500
# people. And how far coefficients without limits are off on average. Writes bench/intervals.csv.
#
#     Rscript bench/intervals.R [sets] [processors]

suppressPackageStartupMessages(library(softsieve))
asked <- as.integer(commandArgs(TRUE))
sets <- if (length(asked) >= 1L) asked[1L] else 300L
processors <- if (length(asked) >= 2L) asked[2L] else 2L
DRAWS <- 400L
CUTS <- list(c(-0.8, 0.2, 0.9, 1.6), c(-0.3, 0.4, 1, 1.6), c(-1.6, -0.9, -0.2, 0.7))

draw <- function(n, r, skewed) {
  x <- matrix(stats::rnorm(n * ncol(r)), n) %*% chol(r)
  if (skewed) for (j in seq_len(ncol(x))) x[, j] <- findInterval(x[, j], CUTS[[1L + j %% 3L]]) + 1
  colnames(x) <- sprintf("i%02d", seq_len(ncol(x)))
  x
}
population <- function(loadings, between = diag(ncol(loadings))) {
  r <- loadings %*% between %*% t(loadings)
  diag(r) <- 1
  r
}
one_factor <- population(cbind(c(0.8, 0.7, 0.7, 0.6, 0.6, 0.5, 0.5, 0.4)))

# ---- reliability ----
scale_of <- function(x, replicates) {
  assess_reliability(questionnaire(as.data.frame(x)), scales = list(all = colnames(x)),
    replicates = replicates, seed = 1, threads = 1L)$values$coefficients
}
reliability_set <- function(i, n, skewed, true) {
  set.seed(10000L * n + i)
  found <- suppressWarnings(scale_of(draw(n, one_factor, skewed), DRAWS))
  true <- true[match(found$coefficient, names(true))]
  data.frame(what = found$coefficient, holds = true >= found$lower & true <= found$upper,
    off = found$estimate - true)
}

rows <- list()
for (skewed in c(FALSE, TRUE)) {
  set.seed(3)
  many <- if (skewed) draw(1e6L, one_factor, TRUE) else NULL
  exact <- if (skewed) {
    scale_of(many, 0L)
  } else { # answers with exactly these covariances
    x <- scale(matrix(stats::rnorm(5000L * 8L), 5000L))
    x <- x %*% solve(chol(stats::cov(x))) %*% chol(one_factor)
    colnames(x) <- sprintf("i%02d", 1:8)
    scale_of(x, 0L)
  }
  true <- stats::setNames(exact$estimate, exact$coefficient)
  for (n in c(100L, 200L, 500L)) {
    parts <- parallel::mclapply(seq_len(sets), function(i) {
      reliability_set(i, n, skewed, true)
    }, mc.cores = processors)
    all <- do.call(rbind, parts)
    each <- split(all, factor(all$what, unique(all$what)))
    rows <- c(rows, list(data.frame(answers = if (skewed) "skewed categories" else "normal",
      people = n, what = names(each), nominal = 0.95,
      holds = round(vapply(each, function(d) mean(d$holds), 0), 3L),
      off = round(vapply(each, function(d) mean(d$off), 0), 4L), sets = sets)))
    print(rows[[length(rows)]], row.names = FALSE)
  }
}
utils::write.csv(do.call(rbind, rows), "bench/intervals.csv", row.names = FALSE)
