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
