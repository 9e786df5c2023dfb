# Core: sums over the people who answered both items of a pair, and what follows from them.
# `counted` is what core-tally.R says, of which values (for their names), sums, cubes and origins
# matter here.

# The sums that correlations of many values follow from, of answers that are at hand.
core_sum_answers <- function(x, weights, threads) {
  p <- ncol(x)
  origins <- round(colMeans(x, na.rm = TRUE))
  origins[!is.finite(origins)] <- 0
  tally <- cpp_tally(integer(p), 1L, !is.null(weights), FALSE)
  cpp_tally_add(tally, x, vector("list", p), origins, weights, 0, threads)
  read <- cpp_tally_read(tally, threads)
  list(values = vector("list", p), sums = array(read$sums, c(p, p, 5L)), cubes = read$cubes[, 1L],
    origins = origins)
}

# Pearson correlations and covariances of pairs from their sums. They are moved to whole numbers
# near the means first, which leaves sums of whole numbers exact and takes nothing from the digits.
core_sums_correlations <- function(sums) {
  s <- core_moved_sums(sums)
  squares <- s$square - s$sum^2 / s$weight
  products <- s$product - s$sum * t(s$sum) / s$weight
  list(correlations = products / sqrt(squares * t(squares)),
    covariances = products / (s$weight - 1), n_pair = s$people)
}

core_moved_sums <- function(sums) {
  p <- dim(sums)[1L]
  parts <- lapply(1:5, function(part) matrix(sums[, , part], p))
  names(parts) <- c("people", "weight", "sum", "square", "product")
  s <- parts
  by <- round(s$sum / s$weight)
  by[!is.finite(by)] <- 0
  s$sum <- parts$sum - by * s$weight
  s$square <- parts$square - 2 * by * parts$sum + by^2 * s$weight
  s$product <- parts$product - by * t(parts$sum) - t(by) * parts$sum + by * t(by) * s$weight
  s$moved <- by
  s
}

core_sums_moments <- function(counted) {
  s <- core_moved_sums(counted$sums)
  n <- diag(s$weight)
  mean <- diag(s$sum) / n
  moved <- diag(s$moved)
  square <- diag(s$square) / n - mean^2
  # the third power about the mean, from that about the origin
  raw <- counted$sums[cbind(seq_along(n), seq_along(n), 3L)] / n
  raw_square <- counted$sums[cbind(seq_along(n), seq_along(n), 4L)] / n
  cube <- counted$cubes / n - 3 * raw * raw_square + 2 * raw^3
  list(means = mean + moved + counted$origins, sds = sqrt(pmax(0, square) * n / (n - 1)),
    skewness = ifelse(square > 0, cube / square^1.5, NA_real_),
    categories = vapply(counted$values, function(v) if (is.null(v)) NA_integer_ else length(v), 0L,
      USE.NAMES = FALSE))
}
