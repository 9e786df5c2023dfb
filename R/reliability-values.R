# The tables of assess_reliability(), from what was found of each scale.

reliability_values <- function(given, parts, whole, drawn, target, level) {
  tables <- coefficient_tables(parts, drawn, level)
  chosen <- lapply(parts, choose_coefficient)
  together <- function(field) {
    do.call(rbind, lapply(parts, function(part) if (is.data.frame(part[[field]])) part[[field]]))
  }
  scores <- scale_scores(given)
  assumptions <- tibble::tibble(scale = names(given$members), together("assumptions"),
    report = vapply(chosen, `[[`, "", "report"), why = vapply(chosen, `[[`, "", "why"))
  items <- together("rows")
  items$flag <- flag_scale_items(items, parts)
  list(
    scales = scale_table(given, parts, tables$coefficients, assumptions$report, target, level),
    coefficients = tables$coefficients, intervals = tables$intervals, items = items,
    assumptions = assumptions, hierarchy = hierarchy_table(given, whole, drawn, level),
    collapse = whole$collapse, pairs = pairs_table(given, parts), total = total_of(given, parts),
    halves = halves_table(parts), splits = splits_table(parts), totals = scores)
}

scale_table <- function(given, parts, coefficients, report, target, level) {
  rows <- lapply(seq_along(parts), function(j) {
    part <- parts[[j]]
    k <- nrow(part$items)
    own <- coefficients[coefficients$scale == part$name, ]
    at <- match(report[j], own$coefficient)
    reliability <- if (is.na(at)) NA_real_ else own$estimate[at]
    r <- core_standardised(part$covariances)
    off <- if (k > 1L) r[upper.tri(r)] else NA_real_
    sd <- sqrt(sum(part$covariances)) / k
    sem <- sd * sqrt(max(1 - reliability, 0))
    tibble::new_tibble(
      list(scale = part$name, items = k, n = part$n,
        wrong_key = if (length(part$against)) name_culprits(part$against) else NA_character_,
        report = report[j], reliability = reliability,
        lower = if (is.na(at)) NA_real_ else own$lower[at],
        upper = if (is.na(at)) NA_real_ else own$upper[at],
        alpha = na_if_nan(part$measured[["alpha"]]), omega = na_if_nan(part$measured[["omega"]]),
        mean_correlation = mean(off), lowest_correlation = min(off), highest_correlation = max(off),
        mean = mean(part$items$mean), sd = sd, sem = sem,
        score_margin = stats::qnorm((1 + level) / 2) * sem,
        items_needed = if (isTRUE(reliability > 0 && reliability < 1)) {
          ceiling(k * core_lengthening(reliability, target) - 1e-9)
        } else {
          NA_real_
        }),
      nrow = 1L)
  })
  do.call(rbind, rows)
}

na_if_nan <- function(x) if (is.nan(x)) NA_real_ else x

# Scores as people see them: means of the items, of those who answered at least half of them.
scale_scores <- function(given) {
  if (is.null(given$answers)) return(NULL)
  x <- answers_used(given)
  rows <- lapply(seq_along(given$members), function(j) {
    score <- round(mean_of_answered(x[, given$scale_of == j, drop = FALSE]), 6L)
    levels <- sort(unique(score))
    people <- tabulate(match(score, levels), length(levels))
    tibble::tibble(scale = names(given$members)[j], score = levels, people = people)
  })
  do.call(rbind, rows)
}

mean_of_answered <- function(x) {
  score <- rowMeans(x, na.rm = TRUE)
  replace(score, rowMeans(!is.na(x)) < cutoff("answered_share"), NA_real_)
}

# Split halves of equal size in bins of a hundredth.
halves_table <- function(parts) {
  rows <- lapply(parts, function(part) {
    if (is.null(part$halves)) return(NULL)
    bins <- table(factor(floor(part$halves$values * 100 + 1e-9)))
    from <- as.numeric(names(bins)) / 100
    tibble::tibble(scale = part$name, from = from, to = from + 0.01,
      share = as.numeric(bins) / length(part$halves$values))
  })
  do.call(rbind, rows)
}

splits_table <- function(parts) {
  rows <- lapply(parts, function(part) {
    if (is.null(part$halves)) return(NULL)
    v <- part$halves$values
    tibble::tibble(scale = part$name, number = length(v), all = part$halves$all, mean = mean(v),
      lowest = min(v), highest = max(v), greatest = part$split$value, exact = part$split$exact)
  })
  do.call(rbind, rows)
}

# Do items vary so unlike that a sum is mostly one of them? Then alpha tells of units, not of items.
spreads_differ <- function(sd) isTRUE(max(sd) / min(sd) >= cutoff("spread_ratio"))

# One word for an item that does its scale no good, by the worst first.
flag_scale_items <- function(items, parts) {
  alpha <- stats::setNames(vapply(parts, function(part) part$measured[["alpha"]], 0),
    vapply(parts, `[[`, "", "name"))
  gain <- items$alpha_without - alpha[items$scale]
  uneven <- vapply(split(items$sd, items$scale), spreads_differ, NA)
  gain[uneven[items$scale]] <- NA
  copies <- unlist(lapply(parts, function(part) near_copies(part)$item))
  flag <- rep(NA_character_, nrow(items))
  flag[items$item %in% copies] <- "nearly redundant"
  flag[!is.na(gain) & gain > cutoff("high_alpha_gain")] <- "drags alpha down"
  # where some items run against all others, these are meant, and not those they pull down
  against <- unlist(lapply(parts, `[[`, "against"))
  blamed <- vapply(parts, function(part) length(part$against) > 0L, NA)
  clear <- items$scale %in% vapply(parts[blamed], `[[`, "", "name")
  flag[
    items$item %in% against | (!clear & !is.na(items$item_rest) & items$item_rest < 0)
  ] <- "against its key"
  flag
}

# Pairs within a scale that nearly repeat each other.
near_copies <- function(part) {
  r <- core_standardised(part$covariances)
  at <- which(upper.tri(r) & abs(r) >= cutoff("collinear_r"), arr.ind = TRUE)
  names <- part$items$item
  list(item = unique(names[as.integer(at)]),
    pairs = sprintf("%s with %s", names[at[, 1L]], names[at[, 2L]]))
}
