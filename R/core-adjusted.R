# Core: the test of fit for least squares on correlations that are not those of normal answers, from
# how much each person moves each correlation.

# Covariances (times n) of the p(p - 1)/2 correlations above the diagonal, column by column, from
# people's influence on them. `x`: answers, people in rows, NA where missing; r: p x p; `thresholds`
# NULL for Pearson correlations, else one vector for each item. A person who did not answer both
# items of a pair moves its correlation only through the thresholds; the others count n / n_pair
# (gaps taken to be at random).
core_correlation_gamma <- function(x, r, thresholds = NULL) {
  n <- nrow(x)
  pairs <- which(upper.tri(r), arr.ind = TRUE)
  one <- if (is.null(thresholds)) {
    core_pearson_influence(x, r)
  } else {
    core_polychoric_influence(x, r, thresholds)
  }
  gamma <- 0
  blocks <- split(seq_len(n), (seq_len(n) - 1L) %/% 512L)
  moves <- lapply(seq_len(nrow(pairs)), function(k) one(pairs[k, 1L], pairs[k, 2L]))
  for (block in blocks) {
    part <- vapply(moves, function(move) move(block), numeric(length(block)))
    dim(part) <- c(length(block), nrow(pairs))
    gamma <- gamma + crossprod(part)
  }
  gamma / n
}

# Of a Pearson correlation: z_i z_j - r (z_i^2 + z_j^2) / 2 (Hampel 1974, J. Am. Stat. Assoc. 69,
# 383-393; its variance is that of Pearson & Filon 1898 without normality).
core_pearson_influence <- function(x, r) {
  mean <- colMeans(x, na.rm = TRUE)
  sd <- sqrt(colMeans(sweep(x, 2L, mean)^2, na.rm = TRUE))
  z <- sweep(sweep(x, 2L, mean), 2L, sd, "/")
  function(i, j) {
    share <- mean(!is.na(z[, i] + z[, j]))
    function(people) {
      a <- z[people, i]
      b <- z[people, j]
      move <- (a * b - r[i, j] * (a^2 + b^2) / 2) / share
      replace(move, is.na(move), 0)
    }
  }
}

# Of a polychoric correlation in two steps (Olsson 1979, Psychometrika 44, 443-460): the score of
# the person's cell, and what the person does to both items' thresholds (Muthen 1984, Psychometrika
# 49, 115-132).
core_polychoric_influence <- function(x, r, thresholds) {
  codes <- apply(x, 2L, function(v) match(v, sort(unique(v))))
  seen <- colMeans(!is.na(x))
  function(i, j) {
    cells <- core_cell_influence(thresholds[[i]], thresholds[[j]], r[i, j])
    share <- mean(!is.na(codes[, i] + codes[, j]))
    function(people) {
      a <- codes[people, i]
      b <- codes[people, j]
      none_as_0 <- function(v) replace(v, is.na(v), 0)
      none_as_0(cells$both[cbind(a, b)]) / share - none_as_0(cells$first[a]) / seen[i] -
        none_as_0(cells$second[b]) / seen[j]
    }
  }
}

# For each cell of a pair's table, with pi its probability: `both` (rows x columns) = (d ln pi / d
# rho) / I, `first` and `second` what a person in that category does through the thresholds, I = sum
# (d pi / d rho)^2 / pi.
core_cell_influence <- function(first, second, rho) {
  h <- c(-Inf, first, Inf)
  k <- c(-Inf, second, Inf)
  root <- sqrt(1 - rho^2)
  cells <- function(corners) {
    diff(t(diff(corners)))
  } # of a matrix of values at corners: columns x rows
  below <- outer(h, k, Vectorize(function(a, b) cpp_bivariate_below(a, b, rho)))
  probability <- t(pmax(cells(below), 1e-12))
  density <- outer(h, k, function(a, b) {
    d <- exp(-(a^2 - 2 * rho * a * b + b^2) / (2 * root^2)) / (2 * pi * root)
    replace(d, !is.finite(a) | !is.finite(b), 0)
  })
  slope <- t(cells(density))
  score <- slope / probability
  information <- sum(slope * score)
  # what one threshold, moved, does to the score; and what a person does to the threshold
  through <- function(own, other, score) {
    if (!length(own)) return(0)
    line <- vapply(
      own,
      function(t) diff(stats::pnorm((other - rho * t) / root)),
      numeric(length(other) - 1L)
    )
    line <- matrix(line, length(other) - 1L)
    pull <- colSums(
      line * t(score[-nrow(score), , drop = FALSE] - score[-1L, , drop = FALSE]) *
        rep(stats::dnorm(own), each = nrow(line))
    )
    person <- outer(seq_len(length(own) + 1L), seq_along(own), function(category, t) {
      (category <= t) - stats::pnorm(own)[t]
    })
    drop(person %*% (pull / stats::dnorm(own))) / information
  }
  list(
    both = score / information,
    first = through(first, k, score),
    second = through(second, h, t(score))
  )
}

# The chi-square adjusted in mean and variance, of a discrepancy n sum v_a e_a^2 over residual
# correlations e (Asparouhov & Muthen 2010, after Satorra & Bentler 1994): a T + df - a tr(U G), a =
# sqrt(df / tr(U G U G)), U = V - V D (D'VD)^-1 D'V. `gamma` is G, `slopes` is D (one row for each
# correlation; NULL for the model without parameters).
core_adjusted_chi_square <- function(gamma, v, slopes, residuals, n) {
  root <- sqrt(v)
  m <- gamma * (root %o% root)
  df <- length(v)
  if (!is.null(slopes)) {
    q <- qr(slopes * root, tol = 1e-8)
    basis <- qr.Q(q)[, seq_len(q$rank), drop = FALSE]
    m <- m - basis %*% crossprod(basis, m)
    m <- m - m %*% basis %*% t(basis)
    df <- df - q$rank
  }
  first <- sum(diag(m))
  a <- sqrt(df / sum(m^2))
  plain <- n * sum(v * residuals^2)
  list(chi_square = max(a * plain + df - a * first, 0), df = df, plain = plain)
}

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
