# Core: chi-squares of factor models whose correlations are not those of normal answers without
# gaps.
#
# With q = p(p - 1)/2 correlations above the diagonal (column by column), a discrepancy is about n
# e'Ue, e being their sampling errors, U = V - V D (D'VD)^-1 D'V for a weight matrix V and slopes D
# of the model. It is a weighted sum of chi-squares whose mean is tr(UG) and whose variance is 2
# tr(UGUG), G being the covariances of root n e (Satorra & Bentler 1994, in von Eye & Clogg, Latent
# variables analysis, 399-419).

# Indices of the pairs, q x 2.
core_pairs <- function(p) which(upper.tri(diag(p)), arr.ind = TRUE)

# V of maximum likelihood: the inverse of the covariances that correlations of normal answers have
# (Jennrich 1970, J. Am. Stat. Assoc. 65, 904-912), at the correlations `sigma`. With A = sigma^-1
# it is a_ik a_jl + a_il a_jk less what a change of the items' spreads takes up, and is not made
# whole: core_weigh().
core_normal_weight <- function(sigma) {
  inverse <- chol2inv(chol(sigma))
  list(inverse = inverse, spreads = solve(diag(ncol(sigma)) + sigma * inverse))
}

# V m for such a weight, for one of a diagonal (a vector), or for none (NULL: the identity).
core_weigh <- function(weight, m, threads = 1L) {
  if (is.null(weight)) return(m)
  if (!is.list(weight)) return(weight * m)
  cpp_weigh_pairs(weight$inverse, weight$spreads, m, threads)
}

# The covariances of root n times correlations of normal answers (Pearson & Filon 1898, Phil. Trans.
# R. Soc. A 191, 229-311).
core_normal_gamma <- function(r) {
  pair <- core_pairs(ncol(r))
  i <- pair[, 1L]
  j <- pair[, 2L]
  own <- r[pair]
  ik <- r[i, i]
  jl <- r[j, j]
  il <- r[i, j]
  jk <- r[j, i]
  squares <- (own %o% own) * (ik^2 + jl^2 + il^2 + jk^2) / 2
  squares + ik * jl + il * jk - own * (ik * il + jk * jl) -
    rep(own, each = nrow(pair)) * (ik * jk + il * jl)
}

# What tests of several models share: `weight` V (core_weigh()), GV, VGV, the trace of GV and of its
# square; and of a sample of units their rows x V and x'Vx, for what a small sample adds to the
# trace of the square.
core_robust_parts <- function(gamma, weight, rows, units, threads) {
  vg <- core_weigh(weight, gamma, threads)
  gv <- if (is.null(weight)) vg else t(vg)
  weighed <- t(core_weigh(weight, t(rows), threads))
  list(weight = weight, gv = gv, vgv = core_weigh(weight, gv, threads), trace = sum(diag(gv)),
    trace_square = sum(vg * gv), weighed = weighed, sizes = rowSums(weighed * rows), units = units)
}

# Loadings turned so that k of the items have a triangle of zeros, and which loadings are free then:
# what is left to turn is not a parameter.
core_free_loadings <- function(loadings) {
  k <- ncol(loadings)
  turned <- qr(t(loadings), LAPACK = TRUE)
  loadings <- loadings %*% qr.Q(turned)
  free <- matrix(TRUE, nrow(loadings), k)
  for (m in seq_len(k)[-1L]) free[turned$pivot[seq_len(m - 1L)], m] <- FALSE
  list(loadings = loadings, free = as.vector(t(free)))
}

# Mean and variance of the discrepancy under a model (NULL: of unrelated items, without parameters):
# trace tr(UG), and trace_square, half the variance. Over n units with influences x the variance is
# 2 (1 - 1/n) tr(UGUG) + var(x'Ux) / n, and tr(UGUG) from a sample is too large by the mean of
# (x'Ux)^2 / n: with many items neither is small. NULL where the model's slopes are not independent,
# and where so few people answer otherwise than all others that the sample does not know: what is
# left of tr(UGUG) is far from possible (tr(UG)^2 / df at least), or tr(UG) is far below df, which
# it is about when pairs are weighed as normal answers' are.
core_robust_traces <- function(parts, loadings = NULL, threads = 1L) {
  trace <- parts$trace
  square <- parts$trace_square
  sizes <- parts$sizes
  df <- ncol(parts$vgv)
  if (!is.null(loadings)) {
    turned <- core_free_loadings(loadings)
    df <- df - sum(turned$free)
    slopes <- function(m) {
      cpp_times_slopes(m, turned$loadings, threads)[, turned$free, drop = FALSE]
    }
    inner <- slopes(t(core_weigh(parts$weight, slopes(diag(ncol(parts$vgv))), threads)))
    root <- tryCatch(chol((inner + t(inner)) / 2), error = function(e) NULL)
    if (is.null(root)) return(NULL)
    inverse <- chol2inv(root)
    through <- slopes(parts$vgv)
    first <- cpp_multiply(inverse, slopes(t(through)), threads)
    # tr((D'VD)^-1 D'VGVGVD), GVD and VGVD being thinner than VGVGV
    second <- sum(cpp_multiply(slopes(parts$gv), inverse, threads) * through)
    trace <- trace - sum(diag(first))
    square <- square - 2 * second + sum(first * t(first))
    own <- slopes(parts$weighed)
    sizes <- sizes - rowSums(cpp_multiply(own, inverse, threads) * own)
  }
  n <- parts$units
  if (is.finite(n)) square <- square - (mean(sizes^2) - stats::var(sizes) / 2) / n
  if (!(4 * df * square > trace^2) || is.list(parts$weight) && 4 * trace < df) return(NULL)
  list(trace = trace, trace_square = square)
}

# The chi-square adjusted in mean and variance (Asparouhov & Muthen 2010): a T + df - a tr(UG), a =
# sqrt(df / tr(UGUG)); its p; `by` a; and by how much T exceeds its mean.
core_adjusted <- function(statistic, df, traces) {
  a <- sqrt(df / traces$trace_square)
  chi <- max(a * statistic + df - a * traces$trace, 0)
  list(chi_square = chi, p = stats::pchisq(chi, df, lower.tail = FALSE), by = a,
    excess = statistic - traces$trace)
}

# What the discrepancy of maximum likelihood tells of the population's (Brosseau-Liard, Savalei & Li
# 2012, Multivariate Behav. Res. 47, 904-930; Savalei 2021, Multivariate Behav. Res. 56, 390-407):
# what exceeds its mean, per degree of freedom and person; limits from the noncentrality of the
# adjusted chi-square, over its factor. `excess0`: of unrelated items, with df0.
core_robust_measures <- function(misfit, df, excess0, df0, n) {
  limit <- function(share) core_noncentrality(misfit$chi_square, df, share) / misfit$by / (df * n)
  close <- misfit$by * df * n * 0.05^2
  excess <- max(misfit$excess, 0)
  list(rmsea = sqrt(excess / (df * n)), rmsea_lower = sqrt(limit(0.95)),
    rmsea_upper = sqrt(limit(0.05)),
    close_p = suppressWarnings(stats::pchisq(misfit$chi_square, df, close, lower.tail = FALSE)),
    cfi = if (excess0 > 0) 1 - excess / max(excess, excess0) else 1,
    tli = if (excess0 > 0) 1 - misfit$excess / df / (excess0 / df0) else NA_real_)
}

# The share of an item's variance that people of a cluster have in common, from 0 on: intraclass
# correlation of a one-way analysis of variance (Fisher 1925).
core_shared_within <- function(x, cluster) {
  there <- !is.na(x)
  x <- x[there]
  cluster <- as.character(cluster[there])
  size <- as.vector(rowsum(rep(1, length(x)), cluster))
  groups <- length(size)
  if (groups < 2L || groups == length(x)) return(0)
  means <- as.vector(rowsum(x, cluster)) / size
  between <- sum(size * (means - mean(x))^2)
  within <- (sum((x - mean(x))^2) - between) / (length(x) - groups)
  typical <- (length(x) - sum(size^2) / length(x)) / (groups - 1)
  between <- between / (groups - 1)
  max(0, (between - within) / (between + (typical - 1) * within))
}

# Bartlett's (1950, Br. J. Math. Stat. Psychol. 3, 77-85) correction of n F for small samples.
core_bartlett_factor <- function(n, p, k) max(n - 1 - (2 * p + 5) / 6 - 2 * k / 3, 1) / n

# What gaps (NA) leave to few people: the mean over people of the share of answers that is missing
# times the number that is there, over n.
core_filled <- function(answers, n) {
  missing <- rowMeans(is.na(answers))
  mean(missing * (1 - missing)) * ncol(answers) / n
}

# The likelihood's discrepancy of unrelated items: -ln |R|.
core_no_factor <- function(r) -2 * sum(log(diag(chol(r))))

# d rho_ij / d l_im for the pairs i < j above the diagonal, column by column: p(p - 1)/2 x pk.
core_loading_slopes <- function(loadings) {
  p <- nrow(loadings)
  pairs <- which(upper.tri(diag(p)), arr.ind = TRUE)
  slopes <- matrix(0, nrow(pairs), length(loadings))
  rows <- seq_len(nrow(pairs))
  for (m in seq_len(ncol(loadings))) {
    slopes[cbind(rows, pairs[, 1L] + (m - 1L) * p)] <- loadings[pairs[, 2L], m]
    slopes[cbind(rows, pairs[, 2L] + (m - 1L) * p)] <- loadings[pairs[, 1L], m]
  }
  slopes
}

# The limit of the noncentrality of a chi-square at which its distribution function is `share`
# (0 when it is below that without any noncentrality). With share .95 it is the lower end of a 90 %
# interval, with .05 the upper.
core_noncentrality <- function(chi_square, df, share) {
  if (df <= 0) return(NA_real_)
  # stats::pchisq() loses its footing beyond 1e5: there the normal approximation is as good
  if (chi_square > 1e5) {
    return(max(0, chi_square - df - stats::qnorm(share) * sqrt(2 * (2 * chi_square - df))))
  }
  off <- function(ncp) suppressWarnings(stats::pchisq(chi_square, df, ncp)) - share
  if (off(0) < 0) return(0)
  top <- chi_square + 1
  while (off(top) > 0) top <- top * 2
  stats::uniroot(off, c(0, top), tol = 1e-8 * top)$root
}
