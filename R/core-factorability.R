# Core: can these correlations be factored? All take a positive definite p x p correlation matrix.

# Bartlett (1951, Biometrika 38, 337-344): chi-square = -(n - 1 - (2p + 5) / 6) ln |R|, with
# p(p - 1) / 2 degrees of freedom, when the items are unrelated and normal.
core_sphericity <- function(correlations, n) {
  p <- ncol(correlations)
  log_determinant <- 2 * sum(log(diag(chol(correlations))))
  statistic <- -(n - 1 - (2 * p + 5) / 6) * log_determinant
  df <- p * (p - 1) / 2
  list(statistic = statistic, df = df, p = stats::pchisq(statistic, df, lower.tail = FALSE),
    determinant = exp(log_determinant))
}

# Kaiser & Rice (1974, Educ. Psychol. Meas. 34, 111-117): the sum of squared correlations over the
# sum of squared correlations and squared partial correlations (all other items held constant), for
# each item over its row and overall over all pairs. From 0 to 1; NA where there is not a
# correlation to share out.
core_sampling_adequacy <- function(correlations) {
  inverse <- chol2inv(chol(correlations))
  partial <- -inverse / sqrt(diag(inverse) %o% diag(inverse))
  direct2 <- correlations^2
  partial2 <- partial^2
  diag(direct2) <- diag(partial2) <- 0
  share <- function(direct, partial) {
    ifelse(direct + partial > 0, direct / (direct + partial), NA_real_)
  }
  list(overall = share(sum(direct2), sum(partial2)),
    items = share(rowSums(direct2), rowSums(partial2)))
}

# Squared multiple correlation of each item with all others: 1 - 1 / r^ii.
core_squared_multiple <- function(correlations) 1 - 1 / diag(chol2inv(chol(correlations)))

# Partial correlations of each pair given all other items, sign turned: the anti-image correlations
# (Guttman 1953, Psychometrika 18, 277-296), with the sampling adequacies on the diagonal.
core_anti_image <- function(correlations) {
  inverse <- chol2inv(chol(correlations))
  anti <- inverse / sqrt(diag(inverse) %o% diag(inverse))
  diag(anti) <- core_sampling_adequacy(correlations)$items
  dimnames(anti) <- dimnames(correlations)
  anti
}

# Largest eigenvalue over the smallest.
core_condition_number <- function(correlations) {
  values <- eigen(correlations, symmetric = TRUE, only.values = TRUE)$values
  values[1L] / values[length(values)]
}

# The mean of a standard normal variable within each category that thresholds cut it into, for each
# answer; answers without thresholds (NULL) as they are.
core_normal_scores <- function(answers, thresholds) {
  if (is.null(thresholds)) return(answers)
  cuts <- c(-Inf, thresholds, Inf)
  means <- -diff(stats::dnorm(cuts)) / pmax(diff(stats::pnorm(cuts)), 1e-300)
  means[match(answers, sort(unique(answers)))]
}

# What an item's categories tell of the normal variable behind them, 0 to 1: sum of (rise of the
# density)^2 / share. The variance of a polychoric correlation of unrelated items is 1 / (n times
# the product of both items').
core_threshold_information <- function(thresholds) {
  if (is.null(thresholds)) return(1)
  cuts <- c(-Inf, thresholds, Inf)
  sum(diff(stats::dnorm(cuts))^2 / pmax(diff(stats::pnorm(cuts)), 1e-300))
}

# Of all pairs on average: as how many people with the normal variables themselves each person
# counts.
core_mean_information <- function(thresholds) {
  told <- vapply(thresholds, core_threshold_information, 0)
  each <- told %o% told
  mean(each[upper.tri(each)])
}

# Core: items and people at a glance. `x` is a numeric matrix, people in rows, NA where missing.

# Moments of an item: mean, sd (n - 1), skewness and excess kurtosis (third and fourth standardised
# moments about n, minus 3 for the fourth), from its distinct answers and their counts.
core_item_moments <- function(values, counts) {
  n <- sum(counts)
  if (!n) return(c(mean = NA, sd = NA, skewness = NA, excess_kurtosis = NA))
  mean <- sum(counts * values) / n
  away <- values - mean
  m2 <- sum(counts * away^2) / n
  c(mean = mean, sd = if (n > 1) sqrt(m2 * n / (n - 1)) else NA_real_,
    skewness = if (m2 > 0) sum(counts * away^3) / n / m2^1.5 else NA_real_,
    excess_kurtosis = if (m2 > 0) sum(counts * away^4) / n / m2^2 - 3 else NA_real_)
}

# The longest run of the same answer over the items in order; a missing answer ends a run.
core_longest_run <- function(x) {
  run <- longest <- as.integer(!is.na(x[, 1L]))
  for (j in seq_len(ncol(x))[-1L]) {
    same <- !is.na(x[, j]) & !is.na(x[, j - 1L]) & x[, j] == x[, j - 1L]
    run <- ifelse(same, run + 1L, as.integer(!is.na(x[, j])))
    longest <- pmax(longest, run)
  }
  longest
}

# Who gave one and the same answer to everything they answered, and answered at least half.
core_same_answer <- function(x) {
  low <- do.call(pmin, c(lapply(seq_len(ncol(x)), function(j) x[, j]), na.rm = TRUE))
  high <- do.call(pmax, c(lapply(seq_len(ncol(x)), function(j) x[, j]), na.rm = TRUE))
  !is.na(low) & low == high & rowSums(!is.na(x)) >= ncol(x) / 2
}

# Each person's standard deviation over the items answered.
core_within_person_sd <- function(x) {
  n <- rowSums(!is.na(x))
  away <- x - rowMeans(x, na.rm = TRUE)
  ifelse(n > 1, sqrt(rowSums(away^2, na.rm = TRUE) / pmax(n - 1, 1)), NA_real_)
}

# Even-odd consistency (Johnson 2005, J. Research in Personality 39, 103-129): within a person, the
# correlation over scales of the mean of the odd with the mean of the even items, stepped up by
# Spearman-Brown, 2r / (1 + r). NA with fewer than three scales. members: item indices by scale.
core_even_odd <- function(x, members) {
  members <- members[lengths(members) >= 2L]
  if (length(members) < 3L) return(rep(NA_real_, nrow(x)))
  half <- function(start) {
    vapply(members,
      function(i) rowMeans(x[, i[seq(start, length(i), by = 2L)], drop = FALSE], na.rm = TRUE),
      numeric(nrow(x)))
  }
  odd <- matrix(half(1L), nrow(x))
  even <- matrix(half(2L), nrow(x))
  gap <- is.nan(odd) | is.nan(even)
  odd[gap] <- even[gap] <- NA
  odd <- odd - rowMeans(odd, na.rm = TRUE)
  even <- even - rowMeans(even, na.rm = TRUE)
  r <- rowSums(odd * even, na.rm = TRUE) /
    sqrt(rowSums(odd^2, na.rm = TRUE) * rowSums(even^2, na.rm = TRUE))
  r[rowSums(!gap) < 3L | !is.finite(r)] <- NA
  ifelse(r <= -1 + 1e-9, -1, pmax(-1, 2 * r / (1 + r)))
}

# Squared Mahalanobis distance of each person from the mean, over the items answered: z' inv(R) z
# for standardised answers. NA where nothing was answered.
core_squared_distance <- function(z, correlations) {
  distance <- rep(NA_real_, nrow(z))
  for (rows in core_gap_patterns(z, rowSums(!is.na(z)) > 0)) {
    has <- !is.na(z[rows[1L], ])
    root <- chol(correlations[has, has, drop = FALSE])
    distance[rows] <- colSums(backsolve(root, t(z[rows, has, drop = FALSE]), transpose = TRUE)^2)
  }
  distance
}

# Pairs of an item and a reversed item of its scale that a person answered at the same end, in the
# words as they were read (raw answers): no stand on the matter gives both.
core_contradictions <- function(raw, lowest, highest, reversed, members) {
  count <- numeric(nrow(raw))
  for (i in members) {
    r <- i[reversed[i]]
    p <- i[!reversed[i]]
    if (!length(r) || !length(p)) next
    at <- function(items, end) {
      rowSums(sweep(raw[, items, drop = FALSE], 2L, end[items], "=="), na.rm = TRUE)
    }
    count <- count + at(p, highest) * at(r, highest) + at(p, lowest) * at(r, lowest)
  }
  as.integer(count)
}

# People with the same gaps: a list of row numbers.
core_gap_patterns <- function(z, usable) {
  pattern <- do.call(paste0, lapply(seq_len(ncol(z)), function(j) ifelse(is.na(z[, j]), "0", "1")))
  split(which(usable), pattern[usable])
}
