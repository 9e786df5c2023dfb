# Core: extraction of k factors from a correlation or covariance matrix `s`. Every method returns
# loadings (p x k, unrotated, signs arbitrary), uniquenesses (p), discrepancy (of its own fit
# function, or NA), gradient (its largest free element, or the last change), iterations, converged,
# starts (how many searches) and apart (how many of them ended elsewhere). Loadings are in the
# matrix's units.

core_one_step <- function(s, loadings) {
  list(loadings = loadings, uniquenesses = diag(s) - rowSums(loadings^2), discrepancy = NA_real_,
    gradient = 0, iterations = 1L, converged = TRUE)
}

# Principal components (Hotelling 1933, J. Educ. Psychol. 24, 417-441): eigenvectors times the roots
# of their eigenvalues.
core_components <- function(s, k) core_one_step(s, core_leading_loadings(s, k))

# How many components reach a share of the variance.
core_components_for <- function(s, share) {
  values <- eigen(s, symmetric = TRUE, only.values = TRUE)$values
  which(cumsum(values) >= (share - 1e-12) * sum(values))[1L]
}

# Eigenvalues and vectors, and how much is left off the diagonal after each.
core_layers <- function(s) {
  e <- eigen(s, symmetric = TRUE)
  upper <- upper.tri(s)
  rmsr <- largest <- numeric(ncol(s))
  for (j in seq_along(rmsr)) {
    s <- s - e$values[j] * tcrossprod(e$vectors[, j])
    rmsr[j] <- sqrt(mean(s[upper]^2))
    largest[j] <- max(abs(s[upper]))
  }
  list(values = e$values, vectors = e$vectors, rmsr = rmsr, largest = largest)
}

# Rounding may keep the gradient of a hard case above what was asked of the search, but not above
# this.
CONVERGED_BELOW <- 1e-8

# The best of many searches. Its discrepancy is that of the help page: of minres the sum of all
# squared elements off the diagonal, each pair twice.
core_search_surely <- function(s, k, method, lowest, starts, most = 0L) {
  found <- cpp_search_uniquenesses(s, k, method, lowest, if (starts) starts else -1L, TRUE, most,
    1e-9, 200L)
  core_end_surely(found, s, k, method, lowest)
}

core_end_surely <- function(found, s, k, method, lowest) {
  if (found$gradient > CONVERGED_BELOW) {
    again <- core_fit_surely(s, k, method, found$uniquenesses, lowest)
    if (again$gradient < found$gradient) found[names(again)] <- again
  }
  found$converged <- found$gradient <= CONVERGED_BELOW
  if (method == "minres") found$discrepancy <- 2 * found$discrepancy
  found
}

# What tests of so many factors need, for each number and each of `methods`: loadings and more, as
# core_search_surely() gives them. (Least squares hardly ask which of several ends is the lowest:
# the first searches are enough.)
core_fits_for_tests <- function(r, factors, methods, threads = 1L) {
  p <- ncol(r)
  searches <- c(minres = 4L, ml = if (p > 30L) 12L else 30L)[methods]
  some <- factors[factors > 0L]
  found <- cpp_search_ladder(r, some, methods, searches, 0.005, 2L, 1e-9, 200L, threads)
  none <- list(loadings = matrix(0, p, 0L), uniquenesses = rep(1, p), converged = TRUE,
    discrepancy = core_no_factor(r))
  lapply(factors, function(k) {
    sapply(methods, simplify = FALSE, function(method) {
      if (k == 0L) return(none)
      core_end_surely(found[[method]][[match(k, some)]], r, k, method, 0.005)
    })
  })
}

# Weighted least squares: sum w (r - s)^2 over pairs.
core_search_weights <- function(r, k, weights, lowest, starts) {
  scale <- mean(weights[upper.tri(weights)])
  found <- cpp_search_weighted(r, weights / scale, k, lowest, if (starts) starts else -1L, TRUE,
    1e-9, 20000L)
  found$converged <- found$gradient <= CONVERGED_BELOW
  found$discrepancy <- found$discrepancy * scale
  found
}

# Newton steps; where they give out, a bounded quasi-Newton search (Byrd, Lu, Nocedal & Zhu 1995,
# SIAM J. Sci. Comput. 16, 1190-1208) goes on from there, and Newton steps end it.
core_fit_surely <- function(s, k, method, start, lowest, newton_steps = 200L) {
  fit <- cpp_fit_uniquenesses(s, k, method, start, lowest, 1e-9, newton_steps)
  if (fit$converged) return(fit)
  to <- if (method == "minres") identity else log
  from <- if (method == "minres") identity else exp
  at <- function(x, part) cpp_discrepancy(s, k, method, from(x))[[part]]
  end <- tryCatch(
    stats::optim(to(pmax(fit$uniquenesses, lowest)), function(x) min(at(x, "value"), 1e100),
      function(x) at(x, "gradient"), method = "L-BFGS-B", lower = to(lowest),
      control = list(factr = 10, maxit = 1000L)),
    error = function(e) NULL)
  if (is.null(end)) return(fit)
  again <- cpp_fit_uniquenesses(s, k, method, from(end$par), lowest, 1e-9, 200L)
  again$iterations <- again$iterations + fit$iterations + end$counts[["function"]]
  if (again$gradient < fit$gradient) again else fit
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

# Alpha factoring: the same with the common parts scaled to variance 1 (Kaiser & Caffrey 1965,
# Psychometrika 30, 1-14).
core_alpha_step <- function(r, k, communalities) {
  root <- sqrt(communalities)
  diag(r) <- communalities
  root * core_leading_loadings(r / (root %o% root), k)
}

# What a method does whose communalities pass their bound: principal axes go where minimum residuals
# end under it, and other methods' rows are shortened to it.
core_end_in_minres <- function(s, loadings, lowest) {
  cpp_hold_communalities(s, loadings, lowest, 1e-9)
}

core_shorten <- function(s, loadings, lowest) {
  most <- diag(s) - lowest
  list(loadings = loadings * sqrt(pmin(1, most / pmax(rowSums(loadings^2), 1e-300))),
    gradient = NULL)
}

# Communalities that reproduce themselves. Plain repetition crawls or cycles: three communalities in
# a row are extrapolated (Aitken's delta squared for vectors: Varadhan & Roland 2008, Scand. J.
# Stat. 35, 335-353), and what the extrapolation gives is kept only when one more step moves it less
# than plain repetition does.
core_settle_communalities <- function(r, k, communalities, lowest, step, hold, tolerance = 1e-9,
    most = 1000L) {
  v <- diag(r)
  inside <- function(h) pmin(pmax(h, 1e-6 * v), (1 - lowest) * v)
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
  loadings <- step(r, k, second)
  if (any(rowSums(loadings^2) > (1 - lowest) * v)) {
    held <- hold(r, loadings, lowest * v)
    loadings <- held$loadings
    if (!is.null(held$gradient)) change <- held$gradient
  }
  list(loadings = loadings, uniquenesses = v - rowSums(loadings^2), discrepancy = NA_real_,
    gradient = change, iterations = iteration, converged = change < max(tolerance, CONVERGED_BELOW))
}

# Image factors: of the parts of items that the others predict, R + S R^-1 S - 2 S with S = 1/r^ii
# (Guttman 1953, Psychometrika 18, 277-296), by rescaled eigenvalues lambda of S^-1/2 R S^-1/2:
# loadings S^1/2 q (lambda - 1) / sqrt(lambda) (Kaiser 1963, in Harris, Problems in measuring
# change).
core_image <- function(r, k) {
  root <- 1 / sqrt(diag(chol2inv(chol(r))))
  e <- eigen(r / (root %o% root), symmetric = TRUE)
  lambda <- e$values[seq_len(k)]
  root * e$vectors[, seq_len(k), drop = FALSE] %*% diag(pmax(lambda - 1, 0) / sqrt(lambda), k)
}

# Minimum rank: the least common variance that k factors leave unexplained, no eigenvalue of R - Psi
# being negative (ten Berge & Kiers 1991, Psychometrika 56, 309-315). Given the k eigenvectors U,
# what they leave is linear in psi: sum_i (1 - sum_j u_ij^2) (1 - psi_i) plus a constant, and its
# minimum the convex problem of cpp_minimum_rank(). Alternating between the two never makes it
# larger.
core_minimum_rank_factors <- function(r, k, tolerance = 1e-8, most = 200L) {
  p <- ncol(r)
  costs <- rep(1, p)
  left <- Inf
  for (iteration in seq_len(most)) {
    psi <- cpp_minimum_rank(r, costs)
    e <- eigen(r - diag(psi, p), symmetric = TRUE)
    now <- sum(e$values[-seq_len(k)])
    change <- left - now
    if (change < tolerance) break
    left <- now
    costs <- pmax(1 - rowSums(e$vectors[, seq_len(k), drop = FALSE]^2), 1e-4)
  }
  loadings <- e$vectors[, seq_len(k), drop = FALSE] %*% diag(sqrt(pmax(e$values[seq_len(k)], 0)), k)
  # what the factors leave unexplained of the common part is counted with the unique
  list(loadings = loadings, uniquenesses = diag(r) - rowSums(loadings^2), discrepancy = now,
    gradient = abs(change), iterations = iteration, converged = change < tolerance)
}

# Measures of fit of normal answers from the minimum F of a discrepancy, and F0 of no factor:
# Bartlett's corrected chi-square (n - 1 - (2p + 5)/6 - 2k/3) F, its p, and RMSEA from it: on the
# plain one its limits hold the truth too seldom. CFI (Bentler 1990) and TLI (Tucker & Lewis 1973)
# rest on (n - 1) F; close-fit p: of RMSEA up to .05.
core_likelihood_fit <- function(discrepancy, none, p, k, n) {
  df <- core_degrees_of_freedom(p, k)
  df0 <- p * (p - 1) / 2
  chi <- (n - 1) * discrepancy
  chi0 <- (n - 1) * none
  corrected <- n * core_bartlett_factor(n, p, k) * discrepancy
  limit <- function(share) sqrt(core_noncentrality(corrected, df, share) / (df * (n - 1)))
  excess <- max(chi - df, 0)
  list(chi_square = corrected, p = stats::pchisq(corrected, df, lower.tail = FALSE),
    rmsea = sqrt(max(corrected - df, 0) / (df * (n - 1))), rmsea_lower = limit(0.95),
    rmsea_upper = limit(0.05),
    close_p = core_close_p(discrepancy, p, k, n),
    cfi = if (chi0 > df0) 1 - excess / max(excess, chi0 - df0) else 1,
    tli = (chi0 / df0 - chi / df) / (chi0 / df0 - 1))
}

core_close_p <- function(discrepancy, p, k, n) {
  df <- core_degrees_of_freedom(p, k)
  corrected <- n * core_bartlett_factor(n, p, k) * discrepancy
  suppressWarnings(stats::pchisq(corrected, df, 0.05^2 * df * (n - 1), lower.tail = FALSE))
}

# Where a search for uniquenesses starts: 1 - squared multiple correlation, or for a singular matrix
# 1 less each item's largest correlation in size.
core_start_uniquenesses <- function(correlations) {
  root <- tryCatch(chol(correlations), error = function(e) NULL)
  if (!is.null(root) && min(diag(root)) > 1e-6) return(1 / diag(chol2inv(root)))
  away <- abs(correlations)
  diag(away) <- 0
  unname(1 - apply(away, 1L, max))
}

# Core: the order, the signs and the derived matrices of a factor solution. `loadings` is the
# pattern matrix (p x k) and `correlations` that of the factors (k x k, identity when orthogonal).

core_structure <- function(loadings, correlations) loadings %*% correlations

# The part of each item's variance that the factors account for: diag(L P L').
core_communalities <- function(loadings, correlations) {
  rowSums(loadings * core_structure(loadings, correlations))
}

# Variance explained by each factor, overlap shared out: sums over items of pattern times structure.
# Adds up to the sum of the communalities.
core_factor_variance <- function(loadings, correlations) {
  colSums(loadings * core_structure(loadings, correlations))
}

# Factors by falling variance, each turned so that its loadings sum to a positive number.
# `transformation` T follows, as do the factor correlations. Items count by their standard
# deviations `unit` where covariances are analysed.
core_order_and_reflect <- function(loadings, correlations, transformation, unit = 1) {
  order <- order(-core_factor_variance(loadings * unit, correlations))
  signs <- ifelse(colSums(loadings) < 0, -1, 1)[order]
  turn <- function(m) m[, order, drop = FALSE] %*% diag(signs, length(signs))
  list(loadings = turn(loadings), transformation = turn(transformation),
    correlations = t(turn(t(turn(correlations)))))
}

# The same of several, each a list of loadings, correlations and transformation.
core_order_each <- function(each, unit = 1) {
  lapply(each, function(one) {
    core_order_and_reflect(one$loadings, one$correlations, one$transformation, unit)
  })
}

# On how many factors an item loads, in effect (Hofmann 1978): (sum l^2)^2 / sum l^4, from 1 to k.
core_complexity <- function(loadings) {
  fourth <- rowSums(loadings^4)
  ifelse(fourth > 0, rowSums(loadings^2)^2 / fourth, NA_real_)
}

core_reproduced <- function(loadings, correlations, uniquenesses) {
  core_structure(loadings, correlations) %*% t(loadings) + diag(uniquenesses, length(uniquenesses))
}

# Root mean squares of the residual correlations off the diagonal (rmsr), and with it (srmr, Bentler
# 1995), and the largest off it, in size.
core_residual_sizes <- function(residuals) {
  off <- residuals[upper.tri(residuals)]
  whole <- residuals[upper.tri(residuals, diag = TRUE)]
  list(rmsr = sqrt(mean(off^2)), srmr = sqrt(mean(whole^2)), largest_residual = max(abs(off)))
}

core_degrees_of_freedom <- function(p, k) ((p - k)^2 - (p + k)) / 2

# The largest k that leaves degrees of freedom (Ledermann 1937).
core_most_factors <- function(p) {
  k <- seq_len(p - 1L)
  max(0L, k[core_degrees_of_freedom(p, k) >= 0])
}
