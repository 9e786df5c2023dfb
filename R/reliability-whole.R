# What the scales have in common: the general factor behind them, pairs of scales, and a total over
# all.

# The general factor of all items, by the Schmid-Leiman form and by a direct bifactor rotation:
# `measured` (a column for each scale, then all items, of six named numbers; core_hierarchy.h), and
# the loadings that resampled people start from. NULL with one scale, or where factors cannot be
# fitted.
assess_whole <- function(given, seed, threads) {
  k <- length(given$members)
  p <- length(given$sd)
  if (k < 2L || k + 1L > core_most_factors(p) || core_smallest_eigenvalue(given$r) < 1e-10) {
    return(NULL)
  }
  r <- unname(given$r)
  # one factor more than there are scales is often one too many: of many items a few searches must
  # do
  searches <- if (p > 30L) 8L else 0L
  factors <- extract_by("minres", r, k, 0.005, starts = 5L, most = searches)
  oblique <- core_rotate_weighted(factors$loadings, "oblique", core_request("oblimin", 0),
    rep(1, p), 20L, seed, threads)$best
  wide <- extract_by("minres", r, k + 1L, 0.005, starts = 5L, most = searches)
  bifactor <- core_rotate_weighted(wide$loadings, "orthogonal",
    core_request("bifactor-quartimin", 0), rep(1, p), if (p > 30L) 30L else 100L, seed,
    threads)$best
  list(pattern = oblique$loadings, bifactor = bifactor$loadings, unrotated = factors$loadings,
    uniquenesses = factors$uniquenesses, bifactor_uniquenesses = wide$uniquenesses,
    collapse = if (p <= 30L) how_often_collapsed(given, bifactor$loadings, wide, k, seed, threads),
    measured = cpp_measure_hierarchy(r, given$sd, given$scale_of - 1L, k, oblique$loadings,
      bifactor$loadings, factors$uniquenesses, wide$uniquenesses))
}

# A group factor with fewer loadings of this size has collapsed: the general factor took its items
# (Mansolf & Reise 2016).
GROUP_LOADING <- 0.20
GROUP_ITEMS <- 3L
COLLAPSE_TRIES <- 20L

# In the best rotation, in what share of searches from one start, and of samples drawn again from
# normal answers with these correlations.
how_often_collapsed <- function(given, best, wide, k, seed, threads) {
  collapsed <- function(loadings) {
    any(colSums(abs(loadings[, -1L, drop = FALSE]) >= GROUP_LOADING) < GROUP_ITEMS)
  }
  tries <- seq_len(COLLAPSE_TRIES)
  share <- function(each, starts) {
    request <- list(core_request("bifactor-quartimin", 0))
    found <- core_rotate_each(each, "orthogonal", rep(request, length(each)),
      list(rep(1, nrow(best)))[rep(1L, length(each))], starts, seed + tries, threads)
    mean(vapply(found, function(one) collapsed(one$best$loadings), NA))
  }
  root <- t(chol(given$r))
  samples <- lapply(tries, function(i) {
    r <- cpp_sample_correlations(as.integer(given$correlations$values$n), root, seed, i)
    extract_by("minres", r, k + 1L, 0.005, starts = 0L)$loadings
  })
  list(best = collapsed(best), starts = share(rep(list(wide$loadings), COLLAPSE_TRIES), 1L),
    samples = share(samples, 5L))
}

hierarchy_table <- function(given, whole, drawn, level) {
  if (is.null(whole)) return(NULL)
  sums <- c(names(given$members), "all items")
  rows <- lapply(seq_along(sums), function(j) {
    estimate <- whole$measured[, j]
    limits <- vapply(limits_of(drawn, j, estimate, level), `[[`, numeric(2L), "bca")
    tibble::tibble(scale = sums[j], form = sub(".*[.]", "", names(estimate)),
      part = sub("[.].*", "", names(estimate)), estimate = unname(estimate),
      lower = unname(limits[1L, ]), upper = unname(limits[2L, ]))
  })
  do.call(rbind, rows)
}

# Every two scales: how near they are, and whether their difference can be trusted. Scores are means
# of items.
pairs_table <- function(given, parts) {
  if (length(parts) < 2L) return(NULL)
  sums <- vapply(parts,
    function(part) replace(numeric(length(given$sd)), part$at, 1 / length(part$at)),
    numeric(length(given$sd)))
  between <- t(sums) %*% given$covariances %*% sums
  s <- sqrt(diag(between))
  rel <- vapply(parts, reported_value, 0)
  extracted <- vapply(parts, function(part) part$measured[["variance_extracted"]], 0)
  within <- vapply(parts, function(part) mean_size(given$r[part$at, part$at]), 0)
  pair <- utils::combn(length(parts), 2L)
  rows <- lapply(seq_len(ncol(pair)), function(j) {
    i <- pair[, j]
    r <- between[i[1L], i[2L]] / (s[i[1L]] * s[i[2L]])
    free <- r / sqrt(prod(rel[i]))
    list(r = r, free = free,
      difference = core_difference(s[i], rel[i], r),
      heterotrait = mean(abs(given$r[parts[[i[1L]]]$at, parts[[i[2L]]]$at])) /
        sqrt(prod(within[i])),
      extracted = min(extracted[i]))
  })
  each <- function(name) vapply(rows, `[[`, 0, name)
  names <- names(given$members)
  tibble::tibble(scale = names[pair[1L, ]], with = names[pair[2L, ]], correlation = each("r"),
    without_error = each("free"), difference = each("difference"),
    heterotrait = each("heterotrait"), variance_extracted = each("extracted"),
    squared = each("free")^2)
}

mean_size <- function(r) if (ncol(as.matrix(r)) < 2L) NA_real_ else mean(abs(r[upper.tri(r)]))

# The reliability that the scale's report names.
reported_value <- function(part) {
  name <- choose_coefficient(part)$report
  if (is.na(name)) NA_real_ else part$measured[[name]]
}

# Stratified alpha (Cronbach, Schonemann & McKie 1965) of the sum over all scales, and plain alpha
# beside it.
total_of <- function(given, parts) {
  if (length(parts) < 2L) return(NULL)
  whole <- sum(given$covariances)
  own <- vapply(parts, function(part) sum(part$covariances), 0)
  alpha <- vapply(parts, function(part) part$measured[["alpha"]], 0)
  k <- length(given$sd)
  list(
    stratified_alpha = if (anyNA(alpha)) NA_real_ else 1 - sum(own * (1 - alpha)) / whole,
    alpha = k / (k - 1) * (1 - sum(diag(given$covariances)) / whole))
}
