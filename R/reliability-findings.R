# What reliability notices.

find_in_reliability <- function(values, given) {
  s <- values$scales
  each <- lapply(s$scale, function(name) {
    find_in_scale(
      s[s$scale == name, ],
      values$items[values$items$scale == name, ],
      values$assumptions[values$assumptions$scale == name, ],
      near_copies(list(
        covariances = given$covariances[
          given$scale_of == match(name, s$scale),
          given$scale_of == match(name, s$scale),
          drop = FALSE
        ],
        items = given$items[given$scale_of == match(name, s$scale), ]
      ))$pairs,
      ranges_of(given, match(name, s$scale))
    )
  })
  do.call(
    bind_findings,
    c(
      each,
      list(
        find_in_splits(values$splits),
        find_in_pairs(values$pairs),
        find_in_hierarchy_of(values$hierarchy)
      )
    )
  )
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
  better <- items[which(items$alpha_without - scale$alpha > cutoff("high_alpha_gain")), ]
  improper <- items$item[which(items$loading^2 >= 0.995 - 1e-8)]
  finding <- function(code, severity, text, ...) {
    new_finding("reliability", code, severity, text, ...)
  }
  bind_findings(
    if (nrow(against)) {
      finding(
        "against_scale",
        "serious",
        item = against$item,
        value = against$item_rest,
        limit = 0,
        text = against_text(against, name, clear)
      )
    },
    if (isTRUE(scale$alpha < 0) && !clear) {
      finding(
        "negative_alpha",
        "serious",
        value = scale$alpha,
        limit = 0,
        text = sprintf(
          paste(
            "%s has a negative alpha (%s): its items are, on average, negatively related.",
            "That is no low reliability but a wrong key, or no scale."
          ),
          name,
          format_unit(scale$alpha)
        )
      )
    },
    if (nrow(better)) {
      finding(
        "alpha_rises_without",
        "note",
        item = better$item,
        value = better$alpha_without,
        limit = scale$alpha,
        text = sprintf(
          "%s: without %s alpha would be %s instead of %s.",
          name,
          better$item,
          format_unit(better$alpha_without),
          format_unit(scale$alpha)
        )
      )
    },
    if (length(copies)) {
      finding(
        "nearly_redundant",
        "caution",
        value = length(copies),
        limit = cutoff("collinear_r"),
        text = sprintf(
          paste(
            "%s: %s nearly repeat each other; they raise reliability without adding to what",
            "is measured."
          ),
          name,
          name_culprits(copies)
        )
      )
    },
    if (scale$items < 3L) {
      finding(
        "few_items",
        "caution",
        value = scale$items,
        limit = 3,
        text = few_items_text(name, scale$items)
      )
    },
    if (scale$n <= scale$items) {
      finding(
        "fewer_people_than_items",
        "serious",
        value = scale$n,
        limit = scale$items,
        text = sprintf(
          "%s: %s for %s; nothing here can be trusted.",
          name,
          count_of(scale$n, "person", "people"),
          count_of(scale$items, "item")
        )
      )
    },
    if (length(ranges)) {
      finding(
        "different_ranges",
        "caution",
        value = length(ranges),
        text = sprintf(
          paste(
            "%s adds items with different ranges (%s): those with the wider one weigh more.",
            "Bring them to one range, or read standardised alpha."
          ),
          name,
          join_words(ranges)
        )
      )
    },
    if (isTRUE(assumed$factors > 1L)) {
      finding(
        "several_factors",
        "caution",
        value = assumed$factors,
        limit = 1,
        text = sprintf(
          paste(
            "%s: parallel analysis finds %d factors among its items. One number hides that;",
            "look for two scales in it."
          ),
          name,
          assumed$factors
        )
      )
    },
    if (length(improper)) {
      finding(
        "one_factor_improper",
        "caution",
        item = improper,
        limit = 0.005,
        text = sprintf(
          "%s: the one-factor model puts the uniqueness of %s at its bound; read omega with care.",
          name,
          improper
        )
      )
    }
  )
}

against_text <- function(against, name, clear) {
  rest <- format_unit(against$item_rest)
  if (!clear) {
    return(sprintf(
      paste(
        "%s works against its scale %s (correlation with the rest %s): was it worded in",
        "reverse and not keyed?"
      ),
      against$item,
      name,
      rest
    ))
  }
  sprintf(
    paste(
      paste(
        "%s runs against the rest of its scale %s (correlation with the rest %s); turned",
        "round, all items would go together:"
      ),
      paste(
        "was it worded in reverse and not keyed? Until that is settled the scale's",
        "coefficients mean nothing."
      )
    ),
    against$item,
    name,
    rest
  )
}

few_items_text <- function(name, items) {
  if (items == 1L) {
    return(sprintf(
      "%s is one item: its reliability cannot be known from one wave (give `again`).",
      name
    ))
  }
  sprintf(
    paste(
      "%s has 2 items: standardised alpha is all there is, and whether they measure one",
      "thing cannot be checked."
    ),
    name
  )
}

find_in_splits <- function(splits) {
  sampled <- if (!is.null(splits)) splits[!splits$exact, ]
  if (!NROW(sampled)) return(NULL)
  new_finding(
    "reliability",
    "split_sampled",
    "note",
    value = 24,
    text = sprintf(
      paste(
        "%s: with more than 24 items the greatest split half is the best of 200 searches,",
        "not surely the greatest."
      ),
      sampled$scale
    )
  )
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
  ratio <- sprintf(
    "their heterotrait-monotrait ratio is %s, above %s",
    format_unit(near$heterotrait),
    format_unit(cutoff("heterotrait"))
  )
  share <- sprintf(
    paste(
      "without error they share %s of their variance, and one of them extracts only %s",
      "from its own items"
    ),
    format_unit(near$squared),
    format_unit(near$variance_extracted)
  )
  why <- ifelse(
    by_ratio & by_share,
    paste(ratio, share, sep = "; "),
    ifelse(by_ratio, ratio, share)
  )
  new_finding(
    "reliability",
    "scales_overlap",
    "caution",
    value = ifelse(by_ratio, near$heterotrait, near$squared),
    limit = ifelse(by_ratio, cutoff("heterotrait"), near$variance_extracted),
    text = sprintf("%s and %s are hard to tell apart: %s.", near$scale, near$with, why)
  )
}

find_in_hierarchy_of <- function(hierarchy) {
  if (is.null(hierarchy)) return(NULL)
  low <- hierarchy[
    hierarchy$scale == "all items" &
      hierarchy$form == "schmid_leiman" &
      hierarchy$part == "general",

  ]
  if (!isTRUE(low$estimate < cutoff("omega_hierarchical"))) return(NULL)
  new_finding(
    "reliability",
    "no_total",
    "note",
    value = low$estimate,
    limit = cutoff("omega_hierarchical"),
    text = sprintf(
      paste(
        "A total over all items would be %s general (omega hierarchical %s): score the",
        "scales, not the total."
      ),
      format_share(low$estimate),
      format_unit(low$estimate)
    )
  )
}
