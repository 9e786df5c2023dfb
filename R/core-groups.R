# Core: groups of rows and their scores. `y` is n x k without gaps, `group` whole numbers from 1.

# The share of each column's variance that lies between groups.
core_group_shares <- function(y, group) {
  sums <- rowsum(y, group, reorder = TRUE)
  size <- tabulate(group)
  total <- colSums(sweep(y, 2L, colMeans(y))^2)
  between <- colSums(sums^2 / size) - colSums(y)^2 / nrow(y)
  stats::setNames(pmin(pmax(between / total, 0), 1), colnames(y))
}

# The same (k x replicates) of groups of these sizes dealt at random.
core_dealt_shares <- function(y, group, replicates, seed) {
  n <- nrow(y)
  dealt <- matrix(as.vector(cpp_normal_deviates(n, seed, 0L, replicates)), n)
  shares <- vapply(seq_len(replicates), function(i) {
    core_group_shares(y, group[order(dealt[, i])])
  }, numeric(ncol(y)))
  matrix(shares, ncol(y))
}

# Limits of eta squared from those of the noncentrality of F (Steiger 2004).
core_eta_limits <- function(eta, n, groups, level) {
  df <- c(groups - 1, n - groups)
  f <- eta / df[1L] / ((1 - eta) / df[2L])
  if (!is.finite(f)) return(c(eta, 1))
  limit <- function(share) {
    off <- function(ncp) suppressWarnings(stats::pf(f, df[1L], df[2L], ncp)) - share
    if (off(0) < 0) return(0)
    top <- 10
    while (off(top) > 0 && top < 1e7) top <- top * 2
    ncp <- stats::uniroot(off, c(0, top), tol = 1e-9 * top)$root
    ncp / (ncp + n)
  }
  tail <- (1 - level) / 2
  c(limit(1 - tail), limit(tail))
}

# Pooled standard deviations within groups.
core_within_deviations <- function(y, group) {
  means <- rowsum(y, group, reorder = TRUE) / tabulate(group)
  sqrt(colSums((y - means[group, , drop = FALSE])^2) / (nrow(y) - max(group)))
}

# The share of rows that are given back to their own group: the most probable one of normal scores
# with one covariance within groups (Fisher 1936), larger groups being more probable. In ten parts
# of the rows, of which each is left out once.
core_group_hits <- function(y, group, seed) {
  n <- nrow(y)
  drawn <- as.vector(cpp_normal_deviates(n, seed, 1L, 1L))
  part <- rank(drawn, ties.method = "first") %% min(10L, n)
  hit <- logical(n)
  for (out in unique(part)) {
    at <- which(part == out)
    here <- y[-at, , drop = FALSE]
    own <- group[-at]
    there <- sort(unique(own))
    size <- tabulate(own, max(group))
    means <- rowsum(here, own, reorder = TRUE) / size[there]
    apart <- here - means[match(own, there), , drop = FALSE]
    within <- crossprod(apart) / max(length(own) - length(there), 1)
    inverse <- core_power(within, -1)
    away <- vapply(seq_along(there), function(g) {
      d <- sweep(y[at, , drop = FALSE], 2L, means[g, ])
      rowSums((d %*% inverse) * d) - 2 * log(size[there[g]])
    }, numeric(length(at)))
    nearest <- there[max.col(-matrix(away, length(at)), ties.method = "first")]
    hit[at] <- nearest == group[at]
  }
  mean(hit)
}
