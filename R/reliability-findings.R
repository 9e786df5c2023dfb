# What reliability notices.

find_in_reliability <- function(values, given) {
  s <- values$scales
  each <- lapply(s$scale, function(name) {
    find_in_scale(s[s$scale == name, ], values$items[values$items$scale == name, ],
      values$assumptions[values$assumptions$scale == name, ],
      near_copies(list(
        covariances = given$covariances[
          given$scale_of == match(name, s$scale),
          given$scale_of == match(name, s$scale),
          drop = FALSE
        ],
        items = given$items[given$scale_of == match(name, s$scale), ]))$pairs,
      ranges_of(given, match(name, s$scale)))
  })
  do.call(bind_findings,
    c(each,
      list(find_in_splits(values$splits), find_in_pairs(values$pairs),
        find_in_hierarchy_of(values$hierarchy), find_collapse(values$collapse))))
}

# How the ends of a scale's items differ, by the codebook; NULL when they do not, or nobody knows.
ranges_of <- function(given, j) {
  if (is.null(given$answers) || given$answers$settings$ends_by != "codebook") return(NULL)
  items <- given$answers$values$items
  ends <- items[match(given$items$item[given$scale_of == j], items$item), c("lowest", "highest")]
  ends <- unique(stats::na.omit(ends))
  if (nrow(ends) < 2L) {
    NULL
  } else {
    sprintf("%s to %s", format(ends$lowest, trim = TRUE), format(ends$highest, trim = TRUE))
  }
}

find_in_scale <- function(scale, items, assumed, copies, ranges) {
  name <- scale$scale
  against <- items[which(items$flag == "against its key"), ]
  clear <- !is.na(scale$wrong_key)
  uneven <- spreads_differ(items$sd)
  gains <- items$alpha_without - scale$alpha > cutoff("high_alpha_gain") & !uneven
  better <- items[which(gains), ]
  improper <- items$item[which(items$loading^2 >= 0.995 - 1e-8)]
  bind_findings(
    if (nrow(against)) {
      new_finding("against_scale", against$item, name, format_unit(against$item_rest),
        if (clear) AGAINST_CLEARLY else AGAINST, item = against$item, value = against$item_rest,
        limit = 0)
    },
    if (isTRUE(scale$alpha < 0) && !clear) {
      new_finding("negative_alpha", name, format_unit(scale$alpha), value = scale$alpha, limit = 0)
    },
    if (nrow(better)) {
      new_finding("alpha_rises_without", name, better$item, format_unit(better$alpha_without),
        format_unit(scale$alpha), item = better$item, value = better$alpha_without,
        limit = scale$alpha)
    },
    if (length(copies)) {
      new_finding("nearly_redundant", name, name_culprits(copies), value = length(copies),
        limit = cutoff("collinear_r"))
    },
    if (scale$items < 3L) {
      new_finding("few_items", name, count_of(scale$items, "item"), FEW_ITEMS[[scale$items]],
        value = scale$items, limit = 3)
    },
    if (scale$n <= scale$items) {
      new_finding("few_people_for_scale", name, count_of(scale$n, "person", "people"),
        count_of(scale$items, "item"), value = scale$n, limit = scale$items)
    },
    if (length(ranges)) {
      new_finding("different_ranges", name, join_words(ranges), value = length(ranges))
    },
    if (uneven && !length(ranges)) {
      widest <- which.max(items$sd)
      least <- which.min(items$sd)
      ratio <- items$sd[widest] / items$sd[least]
      new_finding("spreads_differ", name, items$item[widest],
        format_number(ratio, if (ratio < 10) 1L else 0L), items$item[least], value = ratio,
        limit = cutoff("spread_ratio"))
    },
    if (isTRUE(assumed$factors > 1L)) {
      new_finding("several_factors", name, assumed$factors, value = assumed$factors, limit = 1)
    },
    if (length(improper)) {
      new_finding("one_factor_improper", name, improper, item = improper, limit = 0.005)
    })
}

# How the sentence about items against their scale ends.
AGAINST <- ": was it worded in reverse and not keyed?"
AGAINST_CLEARLY <- paste(
  "; reverse-scored, all items would go together: was it worded in reverse and not keyed? Until",
  "that is settled the scale's coefficients mean nothing.")

# What one item, and what two, leave open.
FEW_ITEMS <- c("its reliability cannot be known from one wave (give `again`)",
  "standardised alpha is all there is, and whether they measure one thing cannot be checked")

find_in_splits <- function(splits) {
  sampled <- if (!is.null(splits)) splits[!splits$exact, ]
  if (!NROW(sampled)) return(NULL)
  new_finding("split_sampled", sampled$scale, value = 24)
}

find_in_pairs <- function(pairs) {
  if (is.null(pairs)) return(NULL)
  near <- pairs[
    which(pairs$heterotrait > cutoff("heterotrait") | pairs$variance_extracted < pairs$squared),

  ]
  if (!nrow(near)) return(NULL)
  by_ratio <- !is.na(near$heterotrait) & near$heterotrait > cutoff("heterotrait")
  by_share <- !is.na(near$squared) &
    !is.na(near$variance_extracted) &
    near$variance_extracted < near$squared
  ratio <- sprintf("their heterotrait-monotrait ratio is %s, above %s",
    format_unit(near$heterotrait), format_unit(cutoff("heterotrait")))
  share <- sprintf(
    paste("without error they share %s of their variance, and one of them extracts only %s",
      "from its own items"),
    format_unit(near$squared), format_unit(near$variance_extracted))
  why <- ifelse(by_ratio & by_share, paste(ratio, share, sep = "; "),
    ifelse(by_ratio, ratio, share))
  new_finding("scales_overlap", near$scale, near$with, why,
    value = ifelse(by_ratio, near$heterotrait, near$squared),
    limit = ifelse(by_ratio, cutoff("heterotrait"), near$variance_extracted))
}

# Exploratory bifactor forms lose group factors easily.
find_collapse <- function(collapse) {
  if (is.null(collapse) || (!collapse$best && collapse$samples < 0.10)) return(NULL)
  often <- join_words(c(sprintf("%s of samples like this one", format_share(collapse$samples, 0L)),
    if (collapse$starts >= 0.005) {
      sprintf("%s of searches from one start", format_share(collapse$starts, 0L))
    }))
  new_finding("bifactor_collapses", if (collapse$best) {
    sprintf("lost a group factor to the general one, as in %s", often)
  } else {
    sprintf("kept its group factors here, but loses one to the general factor in %s", often)
  }, value = collapse$samples, limit = 0.10)
}

find_in_hierarchy_of <- function(hierarchy) {
  if (is.null(hierarchy)) return(NULL)
  low <- hierarchy[
    hierarchy$scale == "all items" &
      hierarchy$form == "schmid_leiman" &
      hierarchy$part == "general",

  ]
  if (!isTRUE(low$estimate < cutoff("omega_hierarchical"))) return(NULL)
  new_finding("no_total", format_share(low$estimate), format_unit(low$estimate),
    value = low$estimate, limit = cutoff("omega_hierarchical"))
}

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
    tibble_of(scale = names(given$members)[j], score = levels, people = people)
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
    tibble_of(scale = part$name, number = length(v), all = part$halves$all, mean = mean(v),
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
