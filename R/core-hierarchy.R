# Core: factors of factors, and what is left of the factors beside them.

# The least uniqueness of a factor that is factored itself.
HIGHER_LOWEST <- 0.005

# `h` factors of k factor correlations, by minimum residuals, several turned by varimax: loadings (k
# x h) and uniquenesses (k). Of two factors only the size of their correlation is known: both load
# its root.
core_higher_factors <- function(between, h) {
  if (ncol(between) == 2L) {
    r <- between[1L, 2L]
    loadings <- matrix(c(1, sign(r)) * sqrt(abs(r)), 2L)
    return(list(loadings = loadings, uniquenesses = 1 - rowSums(loadings^2)))
  }
  lowest <- rep(HIGHER_LOWEST, ncol(between))
  found <- core_search_surely(unname(between), h, "minres", lowest, 5L)
  turned <- found$loadings
  if (h > 1L) {
    turned <- core_rotate_weighted(turned, "orthogonal",
      core_request("crawford-ferguson", 1 / nrow(turned)), 1, 20L, 1, 1L)$best$loadings
  }
  signs <- ifelse(colSums(turned) < 0, -1, 1)
  order <- order(-colSums(turned^2))
  list(loadings = (turned %*% diag(signs, h))[, order, drop = FALSE],
    uniquenesses = found$uniquenesses)
}

# Schmid & Leiman (1957, Psychometrika 22, 53-61): pattern L (p x k) of factors that load G (k x h)
# on general ones and have U = sqrt(1 - G^2) of their own: general LG, group LU. The two together
# reproduce L (GG' + U^2) L'.
core_schmid_leiman <- function(loadings, higher) {
  own <- sqrt(pmax(1 - rowSums(higher^2), 0))
  list(general = loadings %*% higher, group = loadings %*% diag(own, length(own)))
}
