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
    coefficients <- tibble::tibble(scale = part$name, coefficient = names(m), estimate = unname(m),
      standard_error = unname(vapply(limits, `[[`, 0, "error")), lower = bca[, 1L],
      upper = bca[, 2L], interval = ifelse(is.na(bca[, 1L]), NA_character_, "bca"))
    first <- match("alpha", names(m))
    if (is.na(coefficients$lower[first]) && !is.null(alpha)) {
      coefficients[first, c("lower", "upper", "interval")] <- list(alpha["feldt", 1L],
        alpha["feldt", 2L], "feldt")
    }
    intervals <- tibble::tibble(scale = part$name, coefficient = rep(names(m), 2L),
      interval = rep(c("percentile", "bca"), each = length(m)),
      lower = c(percentile[, 1L], bca[, 1L]), upper = c(percentile[, 2L], bca[, 2L]))
    if (!is.null(alpha)) {
      intervals <- rbind(
        tibble::tibble(scale = part$name, coefficient = "alpha", interval = rownames(alpha),
          lower = unname(alpha[, 1L]), upper = unname(alpha[, 2L])),
        intervals)
    }
    list(coefficients = coefficients, intervals = intervals[!is.na(intervals$lower), ])
  })
  list(coefficients = do.call(rbind, lapply(each, `[[`, "coefficients")),
    intervals = do.call(rbind, lapply(each, `[[`, "intervals")))
}
