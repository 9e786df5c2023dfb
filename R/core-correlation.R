# Core: means, deviations and correlations of answers with gaps. `x` is a numeric matrix, people in
# rows, NA where an answer is missing.

# Pearson correlations. `missing` is "pairwise" (each pair on the people who answered both) or
# "complete" (all pairs on the people who answered everything). Returns correlations (p x p), n_pair
# (p x p counts), means and sds of the items on the people used, and people (how many were used).
core_correlate <- function(x, missing) {
  if (missing == "complete") x <- x[stats::complete.cases(x), , drop = FALSE]
  answered <- !is.na(x)
  correlations <- suppressWarnings(stats::cor(x, use = if (anyNA(x)) "pairwise.complete.obs" else "everything"))
  list(correlations = correlations, n_pair = crossprod(answered), means = colMeans(x, na.rm = TRUE),
       sds = apply(x, 2L, stats::sd, na.rm = TRUE), people = sum(rowSums(answered) > 0))
}

# Pairs of items (a matrix of two columns of indices) that agree up to `slack`.
core_identical_pairs <- function(correlations, slack = 1e-10) {
  which(abs(correlations) > 1 - slack & upper.tri(correlations), arr.ind = TRUE)
}

core_smallest_eigenvalue <- function(correlations) {
  min(eigen(correlations, symmetric = TRUE, only.values = TRUE)$values)
}
