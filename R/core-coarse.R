# Core: what another kind of correlation changes: the number of factors, and their loadings.

# Sequential parallel analysis of a reduced matrix by normal chance data (Green et al. 2012): how
# many leading eigenvalues exceed the 95th percentile of those of samples from a population with the
# factors before them.
core_sequential_number <- function(r, n, replicates, seed, threads) {
  p <- ncol(r)
  observed <- cpp_spectrum(r, "factors")
  most <- core_most_factors(p)
  for (k in 0:most) {
    root <- matrix(0, 0L, 0L)
    if (k) {
      found <- cpp_search_uniquenesses(r, k, "minres", 0.005, 2L, TRUE, 5L, 1e-6, 200L)
      root <- core_population_root(found$loadings)
    }
    drawn <- cpp_sample_eigenvalues(as.integer(n), p, root, "factors", 0L, replicates, seed,
      threads, NULL)
    if (observed[k + 1L] <= stats::quantile(drawn[k + 1L, ], 0.95, names = FALSE)) return(k)
  }
  most
}

# The largest difference of the loadings of k factors of two matrices of the same items: minimum
# residuals, the first turned by oblimin, the second to where the first is.
core_largest_change <- function(first, second, k, seed, threads) {
  p <- ncol(first)
  fit <- function(r) {
    cpp_search_uniquenesses(r, k, "minres", 0.005, 2L, TRUE, 5L, 1e-6, 200L)$loadings
  }
  a <- fit(first)
  b <- core_orthogonal_procrustes(fit(second), a)$loadings
  if (k > 1L) {
    request <- core_request("oblimin", 0)
    turned <- core_rotate_weighted(a, "oblique", request, rep(1, p), 10L, seed, threads)$best
    back <- t(solve(turned$transformation))
    a <- a %*% back
    b <- b %*% back
  }
  away <- b - a
  at <- arrayInd(which.max(abs(away)), dim(away))
  list(change = away[at], item = at[1L])
}
