# Core: eigenvalues against chance, and the numbers that rules about the number of factors rest on.

# Chance levels of each rank from a ranks x replicates matrix of chance eigenvalues: mean and upper
# percentile (100: the largest), each with its Monte Carlo standard error. That of a percentile is
# half the distance between the order statistics one binomial standard deviation below and above it.
core_chance_levels <- function(chance, percentile) {
  b <- ncol(chance)
  sorted <- apply(chance, 1L, sort)
  share <- percentile / 100
  place <- 1 + (b - 1) * share
  low <- floor(place)
  upper <- sorted[low, ] + (place - low) * (sorted[min(low + 1, b), ] - sorted[low, ])
  away <- sqrt(b * share * (1 - share))
  around <- pmin(pmax(round(b * share + c(-1, 1) * away), 1), b)
  mean <- rowMeans(chance)
  list(mean = mean, upper = upper,
    mean_error = sqrt(rowSums((chance - mean)^2) / (b - 1) / b),
    upper_error = if (share == 1) {
      rep(NA_real_, nrow(chance))
    } else {
      (sorted[around[2L], ] - sorted[around[1L], ]) / 2
    })
}

# How many of the leading values exceed their levels before the first that does not.
core_leading_above <- function(values, levels) sum(cumprod(values > levels))

# The population matrix of a factor model, with ones on its diagonal, as its lower Cholesky factor.
core_population_root <- function(loadings) {
  r <- loadings %*% t(loadings)
  diag(r) <- 1
  t(chol(r))
}

# Reference eigenvalues of the empirical Kaiser criterion (Braeken & van Assen 2017, Psychol.
# Methods 22, 450-466): the Marchenko-Pastur edge of what the larger eigenvalues leave, at least 1.
core_empirical_kaiser <- function(eigenvalues, n) {
  p <- length(eigenvalues)
  before <- c(0, cumsum(eigenvalues)[-p])
  pmax((p - before) / (p - seq_len(p) + 1) * (1 + sqrt(p / n))^2, 1)
}

# The bend of a curve at each of its inner points: the second difference.
core_bends <- function(x) c(NA, diff(x, differences = 2L), NA)

# Hull (Lorenzo-Seva, Timmerman & Kiers 2011, Multivariate Behav. Res. 46, 340-364): of the
# solutions (fit rising, df falling) those on the upper convex hull, and how sharply it bends at
# each: st = (gain in fit per df spent to reach it) / (gain per df spent beyond it). A gain below
# `slack` is none.
core_hull <- function(fit, df, slack = 1e-9) {
  kept <- which(!is.na(fit) & fit > c(-Inf, cummax(fit)[-length(fit)] + slack))
  repeat { # a point below the line between its neighbours is not on the hull
    m <- length(kept)
    if (m < 3L) break
    inner <- kept[2:(m - 1L)]
    before <- kept[1:(m - 2L)]
    after <- kept[3:m]
    line <- fit[before] +
      (fit[after] - fit[before]) * (df[before] - df[inner]) / (df[before] - df[after])
    below <- fit[inner] <= line
    if (!any(below)) break
    kept <- setdiff(kept, inner[which(below)[1L]])
  }
  st <- rep(NA_real_, length(fit))
  m <- length(kept)
  gain <- if (m > 1L) diff(fit[kept]) / -diff(df[kept])
  # a perfect fit is the last that gains anything, and the sharpest bend: the solution after it adds
  # nothing
  if (m > 1L && kept[m] < length(fit)) gain <- c(gain, 0)
  bends <- utils::head(kept[-1L], length(gain) - 1L)
  st[bends] <- gain[seq_along(bends)] / pmax(gain[seq_along(bends) + 1L], slack)
  list(on_hull = seq_along(fit) %in% kept, st = st)
}

# The rank sum test of whether the first sample tends to be smaller: p of the one-sided alternative,
# by the normal approximation with correction for ties and continuity (Mann & Whitney 1947).
core_tends_smaller <- function(first, second) {
  ranks <- rank(c(first, second))
  n <- c(length(first), length(second))
  u <- sum(ranks[seq_len(n[1L])]) - n[1L] * (n[1L] + 1) / 2
  ties <- table(ranks)
  variance <- n[1L] * n[2L] / 12 * (sum(n) + 1 - sum(ties^3 - ties) / (sum(n) * (sum(n) - 1)))
  if (variance == 0) return(1)
  stats::pnorm((u - n[1L] * n[2L] / 2 + 0.5) / sqrt(variance))
}

# Features as the networks take them: standardised, and held within limits.
core_held_features <- function(features, model) {
  z <- sweep(sweep(features, 2L, model$centre), 2L, model$scale, "/")
  pmin(pmax(z, -model$most), model$most)
}

# The networks behind the probabilities: for each row of features the logit of the chance that there
# is a factor more, given that there are at least j. Networks that were trained apart are averaged.
core_network_logits <- function(z, members) {
  scores <- lapply(members, function(m) cbind(tanh(cbind(z, 1) %*% t(m$hidden)), 1) %*% m$output)
  drop(Reduce(`+`, scores)) / length(scores)
}

# Squared distances of rows from the middle of those trained on (Mahalanobis 1936), over their mean.
core_feature_distance <- function(z, model) {
  away <- sweep(z, 2L, model$middle)
  rowSums((away %*% model$inverse) * away) / ncol(z)
}

# The logarithm of the mean distance of the rows up to the most probable number.
core_unlikeness <- function(logits, distance) {
  k <- which.max(core_hazards_to_probabilities(stats::plogis(logits)))
  log(mean(distance[seq_len(min(k, length(distance)))]))
}

# What speaks for one factor more than the most probable number: its features, and what the networks
# make of it and of the one before.
core_sight_of_next <- function(z, logits) {
  k <- which.max(core_hazards_to_probabilities(stats::plogis(logits)))
  at <- min(k, nrow(z))
  c(z[at, ], asked = logits[at] / 4, before = if (at > 1L) logits[at - 1L] / 4 else 2)
}

# Probabilities from logits that are made smaller (Guo et al. 2017, Proc. 34th ICML, 1321-1330), the
# more so the less the matrix is like those trained on: times exp(level + slope (unlikeness beyond
# its middle)), fitted on makes of sets that the networks had not seen.
core_temper <- function(logits, unlikeness, temper) {
  by <- exp(temper$level + temper$slope * max(unlikeness - temper$middle, 0))
  core_hazards_to_probabilities(stats::plogis(logits * by))
}

# The mass of probabilities that a range must hold so that it holds the truth in `share` of sets of
# its kind, of makes that were not trained on (split conformal: Vovk, Gammerman & Shafer 2005), and
# `share` of the probability at least.
core_mass_for <- function(share, coverage, people, items, first_share) {
  group <- core_coverage_group(people, items, first_share, coverage$cuts)
  max(share, stats::approx(coverage$asked, coverage$mass[group, ], share, rule = 2)$y)
}

# 1 to 8: few or many people, few or many items, a small or large first eigenvalue.
core_coverage_group <- function(people, items, first_share, cuts) {
  1L + (people > cuts$people) + 2L * (items > cuts$items) + 4L * (first_share > cuts$first)
}

# Hazards h_0, h_1, ...: P(0) = 1 - h_0, P(k) = h_0 ... h_(k-1) (1 - h_k), and what is left for the
# last.
core_hazards_to_probabilities <- function(hazards) {
  reached <- cumprod(c(1, hazards))
  c(reached[-length(reached)] * (1 - hazards), reached[length(reached)])
}

# The smallest run of neighbouring numbers, grown from the most probable one, that holds more than
# `mass`.
core_plausible_range <- function(probabilities, mass) {
  low <- high <- which.max(probabilities)
  last <- length(probabilities)
  while (sum(probabilities[low:high]) <= mass && high - low + 1L < last) {
    left <- if (low > 1L) probabilities[low - 1L] else -1
    right <- if (high < last) probabilities[high + 1L] else -1
    if (left > right) low <- low - 1L else high <- high + 1L
  }
  c(low, high) - 1L
}

# Core: what another kind of correlation changes: the number of factors, and their loadings.

# Sequential parallel analysis of a reduced matrix by normal chance data (Green et al. 2012): how
# many leading eigenvalues exceed the 95th percentile of those of samples from a population with the
# factors before them.
core_sequential_number <- function(r, n, replicates, seed, threads) {
  p <- ncol(r)
  observed <- cpp_spectrum(r, "factors")
  most <- core_most_factors(p)
  for (k in 0:most) {
    root <- matrix(0, 0L, 0L)
    if (k) {
      found <- cpp_search_uniquenesses(r, k, "minres", 0.005, 2L, TRUE, 5L, 1e-6, 200L)
      root <- core_population_root(found$loadings)
    }
    drawn <- cpp_sample_eigenvalues(as.integer(n), p, root, "factors", 0L, replicates, seed,
      threads, NULL)
    if (observed[k + 1L] <= stats::quantile(drawn[k + 1L, ], 0.95, names = FALSE)) return(k)
  }
  most
}

# The largest difference of the loadings of k factors of two matrices of the same items: minimum
# residuals, the first turned by oblimin, the second to where the first is.
core_largest_change <- function(first, second, k, seed, threads) {
  p <- ncol(first)
  fit <- function(r) {
    cpp_search_uniquenesses(r, k, "minres", 0.005, 2L, TRUE, 5L, 1e-6, 200L)$loadings
  }
  a <- fit(first)
  b <- core_orthogonal_procrustes(fit(second), a)$loadings
  if (k > 1L) {
    request <- core_request("oblimin", 0)
    turned <- core_rotate_weighted(a, "oblique", request, rep(1, p), 10L, seed, threads)$best
    back <- t(solve(turned$transformation))
    a <- a %*% back
    b <- b %*% back
  }
  away <- b - a
  at <- arrayInd(which.max(abs(away)), dim(away))
  list(change = away[at], item = at[1L])
}
