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
