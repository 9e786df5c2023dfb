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
    tibble_of(scale = sums[j], form = sub(".*[.]", "", names(estimate)),
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
    free <- if (all(rel[i] > 0, na.rm = TRUE)) r / sqrt(prod(rel[i])) else NA_real_
    list(r = r, free = free,
      difference = core_difference(s[i], rel[i], r),
      heterotrait = mean(abs(given$r[parts[[i[1L]]]$at, parts[[i[2L]]]$at])) /
        sqrt(prod(within[i])),
      extracted = min(extracted[i]))
  })
  each <- function(name) vapply(rows, `[[`, 0, name)
  names <- names(given$members)
  tibble_of(scale = names[pair[1L, ]], with = names[pair[2L, ]], correlation = each("r"),
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

# Intervals by drawing people with replacement.

# The most people left out together when the acceleration of an interval is estimated.
MOST_PARTS <- 200L

# Of more people than these 500 parts are drawn, not single people, and fewer parts are left out:
# the acceleration nears 0 as people grow many. bench/reliability-parts.R holds the two ways against
# each other.
MANY_PEOPLE <- 2500L
FEW_PARTS <- 50L

# Above so many items the general factor is not fitted again for every draw: it has no limits then.
MOST_ITEMS_DRAWN <- 100L

# limits: a list, one for each measure of each scale and of the hierarchy, as
# core_bootstrap_limits() gives; NULL where nothing was drawn, with a finding that says why.
draw_people <- function(given, parts, whole, replicates, seed, threads) {
  none <- function(why) {
    list(replicates = 0L, finding = if (length(why)) new_finding("no_bootstrap", why))
  }
  if (replicates == 0L) return(none(character()))
  if (!is.null(given$tables)) {
    if (ncol(given$tables$values$cells) < LEAST_RANDOM_GROUPS) {
      return(none("counts are in too few random groups to draw from"))
    }
    return(draw_random_groups(given, parts, whole, replicates, seed, threads))
  }
  if (is.null(given$answers)) return(none("only correlations were given, not the answers"))
  if (!is.null(row_blocks_of(given$answers))) {
    return(none("neighbouring rows depend on each other, and are not drawn one by one"))
  }
  if (given$correlations$settings$missing == "em") {
    return(none("missing answers were estimated (EM); give missing = \"pairwise\" for them"))
  }
  x <- answers_used(given) + 0
  weights <- weights_used(given)
  x[is.na(x)] <- NaN
  plan <- drawing_plan(given, parts, whole, x, weights)
  groups <- min(nrow(x), if (nrow(x) > MANY_PEOPLE) FEW_PARTS else MOST_PARTS)
  draw_plan(plan, replicates, groups, seed, threads)
}

# The same of counts: random groups are drawn, and left out one by one.
draw_random_groups <- function(given, parts, whole, replicates, seed, threads) {
  dealt <- dealt_counts(given$tables)
  x <- matrix(0, 0L, nrow(given$tables$values$items))
  plan <- drawing_plan(given, parts, whole, x, NULL, dealt)
  draw_plan(plan, replicates, ncol(dealt$cells), seed, threads)
}

drawing_plan <- function(given, parts, whole, x, weights, dealt = NULL) {
  if (ncol(x) > MOST_ITEMS_DRAWN) whole <- NULL
  list(answers = x, weights = if (is.null(weights)) numeric() else weights, dealt = dealt,
    scale_of = given$scale_of - 1L, scales = length(parts),
    splits = lapply(parts, function(part) part$split$signs), ordinal = TRUE,
    pattern = if (is.null(whole)) matrix(0, 0L, 0L) else whole$pattern,
    bifactor = if (is.null(whole)) matrix(0, 0L, 0L) else whole$bifactor,
    unrotated = if (is.null(whole)) matrix(0, 0L, 0L) else whole$unrotated,
    uniquenesses = as.numeric(whole$uniquenesses),
    bifactor_uniquenesses = as.numeric(whole$bifactor_uniquenesses))
}

draw_plan <- function(plan, replicates, groups, seed, threads) {
  payload <- list(plan = plan, replicates = replicates, groups = groups, seed = seed)
  columns <- as.integer(replicates + groups)
  label <- "Resampled people"
  ran <- run_ranges(reliability_in_range, columns, payload, threads, label, align = 24L)
  drawn <- ran$value
  list(finding = ran$findings, replicates = replicates,
    draws = drawn[, seq_len(replicates), drop = FALSE],
    without = drawn[, replicates + seq_len(groups), drop = FALSE])
}

reliability_in_range <- function(first, count, payload, threads, progress) {
  cpp_resample_people(payload$plan, payload$replicates, payload$groups, as.integer(first),
    as.integer(count), MANY_PEOPLE, payload$seed, threads, progress)
}

# Of all numbers of the j-th scale (or sum), by their names. The best of many bounds has none: in
# draws it is too large again, by as much.
limits_of <- function(drawn, j, estimates, level) {
  own <- function(rows) {
    if (is.null(rows)) return(NULL)
    rows <- rows[rownames(rows) %in% paste0(names(estimates), ".", j), , drop = FALSE]
    rownames(rows) <- sub("[.][0-9]+$", "", rownames(rows))
    rows[!rownames(rows) %in% best_of_many(), , drop = FALSE]
  }
  core_bootstrap_limits(estimates, own(drawn$draws), own(drawn$without), level)
}

best_of_many <- function() names(Filter(function(one) isTRUE(one[["best_of_many"]]), COEFFICIENTS))

# Two tables of all coefficients: with one interval each, and with every interval there is.
coefficient_tables <- function(parts, drawn, level) {
  each <- lapply(seq_along(parts), function(j) {
    part <- parts[[j]]
    k <- nrow(part$items)
    m <- part$measured
    limits <- limits_of(drawn, j, m, level)
    bca <- unname(t(vapply(limits, `[[`, numeric(2L), "bca")))
    percentile <- unname(t(vapply(limits, `[[`, numeric(2L), "percentile")))
    alpha <- if (k > 1L) core_alpha_intervals(m[["alpha"]], part$covariances, part$n, level)
    coefficients <- tibble_of(scale = part$name, coefficient = names(m), estimate = unname(m),
      standard_error = unname(vapply(limits, `[[`, 0, "error")), lower = bca[, 1L],
      upper = bca[, 2L], interval = ifelse(is.na(bca[, 1L]), NA_character_, "bca"))
    first <- match("alpha", names(m))
    if (is.na(coefficients$lower[first]) && !is.null(alpha)) {
      coefficients[first, c("lower", "upper", "interval")] <- list(alpha["feldt", 1L],
        alpha["feldt", 2L], "feldt")
    }
    intervals <- tibble_of(scale = part$name, coefficient = rep(names(m), 2L),
      interval = rep(c("percentile", "bca"), each = length(m)),
      lower = c(percentile[, 1L], bca[, 1L]), upper = c(percentile[, 2L], bca[, 2L]))
    if (!is.null(alpha)) {
      intervals <- rbind(
        tibble_of(scale = part$name, coefficient = "alpha", interval = rownames(alpha),
          lower = unname(alpha[, 1L]), upper = unname(alpha[, 2L])),
        intervals)
    }
    list(coefficients = coefficients, intervals = intervals[!is.na(intervals$lower), ])
  })
  list(coefficients = do.call(rbind, lapply(each, `[[`, "coefficients")),
    intervals = do.call(rbind, lapply(each, `[[`, "intervals")))
}
