# How often the limits that are printed hold what is true in the population: of reliability
# coefficients (a scale of eight items), and of RMSEA (18 items, three factors, and two where there
# are three); normal and skewed five-category answers of 100, 200 and 500 people. And how far
# coefficients without limits are off on average. Writes bench/intervals.csv.
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
three <- matrix(0, 18L, 3L)
three[cbind(1:18, rep(1:3, each = 6L))] <- seq(0.4, 0.8, length.out = 18L)
three_factors <- population(three, matrix(c(1, 0.6, 0.3, 0.6, 1, 0.3, 0.3, 0.3, 1), 3L))

# ---- reliability ----
scale_of <- function(x, replicates) {
  assess_reliability(
    questionnaire(as.data.frame(x)),
    scales = list(all = colnames(x)),
    replicates = replicates,
    seed = 1,
    threads = 1L
  )$values$coefficients
}
reliability_set <- function(i, n, skewed, true) {
  set.seed(10000L * n + i)
  found <- suppressWarnings(scale_of(draw(n, one_factor, skewed), DRAWS))
  true <- true[match(found$coefficient, names(true))]
  data.frame(
    what = found$coefficient,
    holds = true >= found$lower & true <= found$upper,
    off = found$estimate - true
  )
}

# ---- RMSEA ----
rmsea_of <- function(r, n, k) {
  found <- extract_factors(r, k, method = "ml", n = n, seed = 1, threads = 1L)
  found$values$fit
}
rmsea_set <- function(i, n, skewed, true) {
  set.seed(20000L * n + i)
  r <- stats::cor(draw(n, three_factors, skewed))
  rows <- lapply(2:3, function(k) {
    fit <- suppressWarnings(rmsea_of(r, n, k))
    at <- true[[as.character(k)]]
    data.frame(
      what = sprintf("RMSEA, %d factors", k),
      holds = at >= fit$rmsea_lower - 1e-12 & at <= fit$rmsea_upper,
      off = fit$rmsea - at
    )
  })
  do.call(rbind, rows)
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
  r <- if (skewed) stats::cor(draw(1e6L, three_factors, TRUE)) else three_factors
  dimnames(r) <- rep(list(sprintf("i%02d", 1:18)), 2L)
  # of so many people RMSEA is that of the population (0 where the model is true)
  true_rmsea <- list("2" = rmsea_of(r, 1e7, 2L)$rmsea, "3" = if (skewed) {
    rmsea_of(r, 1e7, 3L)$rmsea
  } else {
    0
  })
  for (n in c(100L, 200L, 500L)) {
    parts <- parallel::mclapply(seq_len(sets), function(i) {
      rbind(reliability_set(i, n, skewed, true), rmsea_set(i, n, skewed, true_rmsea))
    }, mc.cores = processors)
    all <- do.call(rbind, parts)
    each <- split(all, factor(all$what, unique(all$what)))
    rows <- c(rows, list(data.frame(
      answers = if (skewed) "skewed categories" else "normal",
      people = n,
      what = names(each),
      nominal = ifelse(startsWith(names(each), "RMSEA"), 0.9, 0.95),
      holds = round(vapply(each, function(d) mean(d$holds), 0), 3L),
      off = round(vapply(each, function(d) mean(d$off), 0), 4L),
      sets = sets
    )))
    print(rows[[length(rows)]], row.names = FALSE)
  }
}
utils::write.csv(do.call(rbind, rows), "bench/intervals.csv", row.names = FALSE)
