# How long count_factors() takes with all it asks by default, on two threads: as a ratio to one
# stats::cor() and one eigen() of the same answers in the same run. Rscript bench/number-speed.R

suppressPackageStartupMessages(library(softsieve))
options(cli.progress_show_after = Inf)
SIZES <- list(c(840L, 26L, 4L), c(24000L, 48L, 6L), c(5000L, 150L, 8L))

# Five-category answers of k factors.
answers_of <- function(n, p, k) {
  set.seed(n + p)
  loadings <- matrix(0, p, k)
  loadings[cbind(seq_len(p), rep(seq_len(k), length.out = p))] <- stats::runif(p, 0.4, 0.8)
  x <- matrix(stats::rnorm(n * k), n) %*% t(loadings)
  x <- x + matrix(stats::rnorm(n * p), n) %*% diag(sqrt(1 - rowSums(loadings^2)))
  x[] <- findInterval(x, c(-1.2, -0.4, 0.4, 1.2)) + 1
  colnames(x) <- sprintf("i%03d", seq_len(p))
  x
}
least <- function(code, times) {
  code <- substitute(code)
  from <- parent.frame()
  min(vapply(seq_len(times), function(i) system.time(eval(code, from))[[3L]], 0))
}

rows <- lapply(SIZES, function(size) {
  x <- answers_of(size[1L], size[2L], size[3L])
  q <- questionnaire(as.data.frame(x))
  r <- stats::cor(x)
  of_cor <- least(for (i in 1:20) stats::cor(x), 3L) / 20
  of_eigen <- least(for (i in 1:20) eigen(r, symmetric = TRUE), 3L) / 20
  count <- NULL
  took <- least(count <- count_factors(q, seed = 1, threads = 2), 2L)
  data.frame(people = size[1L], items = size[2L], factors = size[3L], said = count$values$probable,
    seconds = round(took, 1L), "cor() calls" = round(took / of_cor),
    "eigen() calls" = round(took / of_eigen), check.names = FALSE)
})
print(do.call(rbind, rows), row.names = FALSE)
