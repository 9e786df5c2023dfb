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
