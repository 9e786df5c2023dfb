# Core: rows that follow each other. `x` is n x p, in order, NA where missing; `site` (whole
# numbers) tells series apart that do not follow each other.

# Autocorrelations of each column at lags 1 to `most` (most x p): sums of products of deviations
# from the column's mean, of neighbours within a site, over the sum of squares.
core_autocorrelations <- function(x, site, most) {
  z <- sweep(x, 2L, colMeans(x, na.rm = TRUE))
  size <- colSums(z^2, na.rm = TRUE)
  there <- colSums(!is.na(z))
  n <- nrow(z)
  found <- vapply(seq_len(most), function(k) {
    at <- which(site[seq_len(n - k)] == site[k + seq_len(n - k)])
    products <- z[at, , drop = FALSE] * z[at + k, , drop = FALSE]
    # (gaps leave fewer products; their mean is over those there are)
    share <- length(at) / pmax(colSums(!is.na(products)), 1)
    colSums(products, na.rm = TRUE) * share / (size * n / there)
  }, numeric(ncol(z)))
  matrix(found, ncol = ncol(z), byrow = TRUE)
}

# Ljung & Box (1978, Biometrika 65, 297-303): Q = n (n + 2) sum r_k^2 / (n - k), chi-square with as
# many degrees of freedom as lags when rows do not depend on each other; p of each column.
core_dependence <- function(r, n) {
  k <- seq_len(nrow(r))
  stats::pchisq(n * (n + 2) * colSums(r^2 / (n - k)), nrow(r), lower.tail = FALSE)
}

# How much more correlations of unrelated series vary than those of as many independent rows
# (Bartlett 1935, J. R. Stat. Soc. 98, 536-543): 1 + 2 sum_k (1 - k/n) r_ik r_jk, at least 1, the
# mean over all pairs of columns. `r` holds autocorrelations, lags x columns.
core_series_effect <- function(r, n) {
  weights <- 2 * (1 - seq_len(nrow(r)) / n)
  each <- 1 + crossprod(r * weights, r)
  mean(pmax(each[upper.tri(each)], 1))
}

# What is left of columns beside a straight line (`trend`) and two harmonics of a season of that
# `period`, within each site, at the columns' means.
core_without_pattern <- function(x, time, site, trend, period) {
  for (one in unique(site)) {
    rows <- which(site == one)
    pattern <- core_pattern(time[rows], trend, period)
    for (j in seq_len(ncol(x))) {
      there <- rows[!is.na(x[rows, j])]
      used <- pattern[match(there, rows), , drop = FALSE]
      if (length(there) < ncol(used) + 2L) next
      x[there, j] <- mean(x[there, j]) + stats::lm.fit(used, x[there, j])$residuals
    }
  }
  x
}

# 1, the time, and sines and cosines of the season and its half.
core_pattern <- function(time, trend, period) {
  t <- time - mean(time)
  turn <- if (!is.null(period)) 2 * pi * time / period
  cbind(1, if (trend) t / max(abs(t), 1e-300),
    if (!is.null(period)) cbind(sin(turn), cos(turn), sin(2 * turn), cos(2 * turn)))
}

# p of a pattern's coefficients (`of`: columns of the pattern) in a series whose errors follow each
# other: ordinary least squares of the series and the pattern, both less their first autocorrelation
# of the residuals times their last value (Cochrane & Orcutt 1949, J. Am. Stat. Assoc. 44, 32-61).
core_pattern_p <- function(x, pattern, site, of) {
  there <- !is.na(x)
  x <- x[there]
  pattern <- pattern[there, , drop = FALSE]
  site <- site[there]
  n <- length(x)
  if (n < ncol(pattern) + 10L) return(NA_real_)
  last <- c(FALSE, site[-1L] == site[-n])
  r <- 0
  for (round in 1:8) {
    e <- drop(x - pattern %*% stats::lm.fit(without_last(pattern, r, last),
      without_last(x, r, last))$coefficients)
    r <- sum(e[last] * e[which(last) - 1L]) / sum(e[which(last) - 1L]^2)
    # (short series show less than there is: Kendall 1954, Biometrika 41, 403-404)
    r <- min(r + (1 + 3 * r) / n, 0.99)
  }
  y <- without_last(x, r, last)
  w <- without_last(pattern, r, last)
  full <- sum(stats::lm.fit(w, y)$residuals^2)
  less <- sum(stats::lm.fit(w[, -of, drop = FALSE], y)$residuals^2)
  df <- n - ncol(pattern) - 1L
  stats::pf((less - full) / length(of) / (full / df), length(of), df, lower.tail = FALSE)
}

without_last <- function(x, r, last) {
  m <- as.matrix(x)
  before <- m[pmax(seq_len(nrow(m)) - 1L, 1L), , drop = FALSE]
  out <- m - r * before * last
  # the first of a site counts as much as the others
  out[!last, ] <- m[!last, ] * sqrt(1 - r^2)
  if (is.matrix(x)) out else drop(out)
}

# Correlations of columns that are shifted in circles against each other, at all lags of a grid:
# for each pair of columns a vector of `steps` lags of n / steps rows each. Gaps take part as gaps.
core_shifted_products <- function(z, steps) {
  n <- nrow(z)
  mask <- !is.na(z)
  z[!mask] <- 0
  lags <- round((seq_len(steps) - 1L) * n / steps) + 1L
  turned <- stats::mvfft(z)
  whole <- all(mask)
  squares <- if (!whole) stats::mvfft(z^2)
  there <- if (!whole) stats::mvfft(mask + 0)
  p <- ncol(z)
  products <- rows <- columns <- array(0, c(steps, p, p))
  for (i in seq_len(p)) {
    # sum over t of a_t b_(t + lag)
    with <- function(a, b) Re(stats::mvfft(Conj(a) * b, inverse = TRUE))[lags, , drop = FALSE] / n
    products[, i, ] <- with(turned[, i], turned)
    rows[, i, ] <- if (whole) sum(z[, i]^2) else with(squares[, i], there)
    columns[, i, ] <- if (whole) rep(colSums(z^2), each = steps) else with(there[, i], squares)
  }
  list(products = products, rows = rows, columns = columns)
}

# Correlation matrices of such draws: `offsets` (sites x columns) says by how many steps each column
# of each site is shifted. `held`: core_shifted_products() of each site.
core_shifted_correlations <- function(held, offsets) {
  p <- ncol(offsets)
  sums <- list(0, 0, 0)
  for (s in seq_along(held)) {
    steps <- dim(held[[s]]$products)[1L]
    lag <- outer(offsets[s, ], offsets[s, ], function(a, b) (b - a) %% steps) + 1L
    at <- cbind(as.vector(lag), rep(seq_len(p), p), rep(seq_len(p), each = p))
    sums <- Map(function(sum, part) sum + part[at], sums, held[[s]])
  }
  r <- matrix(sums[[1L]] / sqrt(pmax(sums[[2L]] * sums[[3L]], 1e-300)), p)
  r <- (r + t(r)) / 2
  diag(r) <- 1
  r
}
