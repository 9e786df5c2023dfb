# Core: how far correlations of different rows lie apart.

# Limits of a correlation by Fisher's (1921) z.
core_fisher_limits <- function(r, n, level) {
  z <- atanh(pmin(pmax(r, -1 + 1e-12), 1 - 1e-12))
  half <- stats::qnorm(1 - (1 - level) / 2) / sqrt(pmax(n - 3, 1e-9))
  list(lower = tanh(z - half), upper = tanh(z + half))
}

# Limits of the difference of two independent correlations from their own (Zou 2007, Psychol.
# Methods 12, 399-413).
core_difference_limits <- function(first, second, n_first, n_second, level) {
  a <- core_fisher_limits(first, n_first, level)
  b <- core_fisher_limits(second, n_second, level)
  d <- first - second
  list(lower = d - sqrt((first - a$lower)^2 + (b$upper - second)^2),
    upper = d + sqrt((a$upper - first)^2 + (second - b$lower)^2))
}

# What a correlation becomes where one of the two has `share` of its standard deviation, and nothing
# else changes (Thorndike 1949): r u / sqrt(1 - r^2 + r^2 u^2).
core_narrowed <- function(r, share) r * share / sqrt(1 - r^2 + r^2 * share^2)
