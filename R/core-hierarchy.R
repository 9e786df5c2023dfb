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

# Core: a factor of how items are worded, beside those of what they ask.

# k factors and one more, of the items `turned` alone and uncorrelated with the others: loadings and
# wording that make sum over pairs of (r - LL' - ww')^2 least, each given the other in turn.
core_wording_fit <- function(r, k, turned, tolerance = 1e-7, most = 2000L) {
  p <- ncol(r)
  w <- replace(numeric(p), turned, 0.3)
  for (iteration in seq_len(most)) {
    left <- r - w %o% w
    found <- core_search_surely(left, k, "minres", 0.005 * diag(left), 0L)
    before <- w
    residual <- r - tcrossprod(found$loadings)
    diag(residual) <- 0
    w[turned] <- core_one_loading(residual[turned, turned], w[turned])
    change <- max(abs(w - before))
    if (change < tolerance) break
  }
  if (sum(w) < 0) w <- -w
  list(loadings = found$loadings, wording = w, converged = change < tolerance, change = change)
}

# One factor of residuals (0 on the diagonal): each loading by least squares given the others, and
# within what leaves the item a unique part.
core_one_loading <- function(residual, w, steps = 50L) {
  for (step in seq_len(steps)) {
    for (i in seq_along(w)) {
      square <- sum(w[-i]^2)
      if (square < 1e-10) return(w * 0)
      w[i] <- max(-0.95, min(0.95, sum(residual[i, -i] * w[-i]) / square))
    }
  }
  w
}
