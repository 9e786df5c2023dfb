# Core: extraction of k factors from a correlation matrix. Every method returns loadings (p x k, unrotated,
# signs arbitrary), uniquenesses (p), discrepancy (of its own fit function, or NA), gradient (its largest
# free element, or the last change), iterations and converged.

core_extract <- function(r, k, method, lowest) {
  start <- core_start_uniquenesses(r)
  switch(method,
         minres = , gls = , ml = core_fit_uniquenesses(r, k, method, start, lowest, 1e-9, 200L),
         principal_axis = core_settle_communalities(r, k, 1 - start, lowest, core_axis_step),
         alpha = core_settle_communalities(r, k, 1 - start, lowest, core_alpha_step),
         principal_axis_once = core_one_step(core_axis_step(r, k, 1 - start)),
         image = core_one_step(core_image(r, k)),
         minimum_rank = core_minimum_rank_factors(r, k))
}

core_one_step <- function(loadings) {
  list(loadings = loadings, uniquenesses = 1 - rowSums(loadings^2), discrepancy = NA_real_, gradient = 0, iterations = 1L, converged = TRUE)
}

# The k largest eigenvalues and their vectors, as loadings.
core_leading_loadings <- function(m, k) {
  e <- eigen(m, symmetric = TRUE)
  e$vectors[, seq_len(k), drop = FALSE] %*% diag(sqrt(pmax(e$values[seq_len(k)], 0)), k)
}

# Principal axes: eigenvectors of the matrix with communalities on its diagonal (Thurstone 1935).
core_axis_step <- function(r, k, communalities) {
  diag(r) <- communalities
  core_leading_loadings(r, k)
}

# Alpha factoring: the same with the common parts scaled to variance 1 (Kaiser & Caffrey 1965, Psychometrika
# 30, 1-14).
core_alpha_step <- function(r, k, communalities) {
  root <- sqrt(communalities)
  diag(r) <- communalities
  root * core_leading_loadings(r / (root %o% root), k)
}

# Communalities that reproduce themselves. Plain repetition crawls or cycles: three communalities in a row
# are extrapolated (Aitken's delta squared for vectors: Varadhan & Roland 2008, Scand. J. Stat. 35, 335-353),
# and what the extrapolation gives is kept only when one more step moves it less than plain repetition does.
core_settle_communalities <- function(r, k, communalities, lowest, step, tolerance = 1e-9, most = 1000L) {
  inside <- function(h) pmin(pmax(h, 1e-6), 1 - lowest)
  once <- function(h) inside(rowSums(step(r, k, h)^2))
  h <- inside(communalities)
  for (iteration in seq_len(most)) {
    first <- once(h)
    second <- once(first)
    moved <- first - h
    bend <- (second - first) - moved
    change <- max(abs(second - first))
    if (change < tolerance) break
    stride <- -sqrt(sum(moved^2) / max(sum(bend^2), 1e-300))
    far <- inside(h - 2 * stride * moved + stride^2 * bend)
    # a cycle is damped by half way steps
    h <- if (max(abs(once(far) - far)) < change) far else (first + second) / 2
  }
  h <- second
  loadings <- step(r, k, h)
  list(loadings = loadings, uniquenesses = 1 - inside(rowSums(loadings^2)), discrepancy = NA_real_, gradient = change,
       iterations = iteration, converged = change < tolerance)
}

# Image factors: of the parts of items that the others predict, R + S R^-1 S - 2 S with S = 1/r^ii (Guttman
# 1953, Psychometrika 18, 277-296), by rescaled eigenvalues lambda of S^-1/2 R S^-1/2: loadings S^1/2 q
# (lambda - 1) / sqrt(lambda) (Kaiser 1963, in Harris, Problems in measuring change).
core_image <- function(r, k) {
  root <- 1 / sqrt(diag(chol2inv(chol(r))))
  e <- eigen(r / (root %o% root), symmetric = TRUE)
  lambda <- e$values[seq_len(k)]
  root * e$vectors[, seq_len(k), drop = FALSE] %*% diag(pmax(lambda - 1, 0) / sqrt(lambda), k)
}

# Minimum rank: the least common variance that k factors leave unexplained, no eigenvalue of R - Psi being
# negative (ten Berge & Kiers 1991, Psychometrika 56, 309-315). Given the k eigenvectors U, what they leave is
# linear in psi: sum_i (1 - sum_j u_ij^2) (1 - psi_i) plus a constant, and its minimum the convex problem of
# core_minimum_rank(). Alternating between the two never makes it larger.
core_minimum_rank_factors <- function(r, k, tolerance = 1e-8, most = 200L) {
  p <- ncol(r)
  costs <- rep(1, p)
  left <- Inf
  for (iteration in seq_len(most)) {
    psi <- core_minimum_rank(r, costs)
    e <- eigen(r - diag(psi, p), symmetric = TRUE)
    now <- sum(e$values[-seq_len(k)])
    change <- left - now
    if (change < tolerance) break
    left <- now
    costs <- pmax(1 - rowSums(e$vectors[, seq_len(k), drop = FALSE]^2), 1e-4)
  }
  loadings <- e$vectors[, seq_len(k), drop = FALSE] %*% diag(sqrt(pmax(e$values[seq_len(k)], 0)), k)
  # what the factors leave unexplained of the common part is counted with the unique
  list(loadings = loadings, uniquenesses = 1 - rowSums(loadings^2), discrepancy = now, gradient = abs(change),
       iterations = iteration, converged = change < tolerance)
}

# Measures of fit from a discrepancy F whose minimum times n - 1 is a chi-square, and F0 of no factor at
# all. Formulas as in core_ladder_fit(); TLI (Tucker & Lewis 1973): (chi0/df0 - chi/df) / (chi0/df0 - 1);
# close-fit p: of RMSEA up to .05; AIC = chi-square - 2 df.
core_fit_measures <- function(discrepancy, none, p, k, n) {
  ladder <- core_ladder_fit(c(none, discrepancy), p, n, c(0, k))
  at <- lapply(ladder, `[`, 2L)
  df0 <- p * (p - 1) / 2
  ratio0 <- ladder$chi_square[1L] / df0
  free <- at$df > 0
  close <- if (free) suppressWarnings(stats::pchisq(at$chi_square, at$df, 0.05^2 * at$df * (n - 1), lower.tail = FALSE)) else NA_real_
  c(at[c("chi_square", "corrected", "p", "rmsea", "rmsea_lower", "rmsea_upper")], list(close_p = close, cfi = at$cfi,
    tli = if (free) (ratio0 - at$chi_square / at$df) / (ratio0 - 1) else NA_real_, aic = at$chi_square - 2 * at$df, bic = at$bic))
}
