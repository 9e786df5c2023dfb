# How groups' solutions differ: congruences, loadings, what chance would give, and what to say of
# it.

congruences_of_groups <- function(pooled, solutions) {
  loadings <- c(list(everybody = pooled$values$loadings),
    lapply(solutions, function(x) x$values$loadings))
  pair <- utils::combn(length(loadings), 2L)
  rows <- lapply(seq_len(ncol(pair)), function(i) {
    two <- loadings[pair[, i]]
    tibble::tibble(factor = colnames(two[[1L]]), group = names(two)[2L], with = names(two)[1L],
      congruence = unname(diag(core_congruences(two[[1L]], two[[2L]]))))
  })
  all <- stack_rows(rows)
  all$likeness <- likeness(all$congruence)
  all
}

# How low the lowest congruence of two groups would be were they equal in truth: the pooled loadings
# plus what each group's draws differ from its own loadings by.
chance_of_groups <- function(pooled, kept, congruences) {
  target <- pooled$values$loadings
  p <- nrow(target)
  noisy <- lapply(kept, function(one) {
    own <- as.numeric(one$solution$values$loadings)
    matrix(as.numeric(one$draws) - own + as.numeric(target), p)
  })
  lengths <- lapply(noisy, function(x) sqrt(colSums(x^2)))
  pair <- utils::combn(length(noisy), 2L)
  lowest <- lapply(seq_len(ncol(pair)), function(i) {
    a <- pair[1L, i]
    b <- pair[2L, i]
    found <- colSums(noisy[[a]] * noisy[[b]]) / (lengths[[a]] * lengths[[b]])
    apply(matrix(found, ncol(target)), 2L, min)
  })
  lowest <- do.call(pmin, lowest)
  lowest <- lowest[is.finite(lowest)]
  observed <- min(congruences$congruence[congruences$with != "everybody"])
  list(expected = stats::median(lowest), p = (sum(lowest <= observed) + 1) / (length(lowest) + 1))
}

differences_of_groups <- function(pooled, kept) {
  loadings <- lapply(kept, function(one) one$solution$values$loadings)
  mean <- Reduce(`+`, loadings) / length(loadings)
  drawn <- !is.null(kept[[1L]]$draws)
  centre <- if (drawn) Reduce(`+`, lapply(kept, `[[`, "draws")) / length(kept)
  items <- pooled$values$items
  p <- nrow(mean)
  k <- ncol(mean)
  rows <- lapply(names(kept), function(name) {
    limits <- if (drawn) {
      core_drawn_limits(matrix(kept[[name]]$draws - centre, p * k), 0.95)
    } else {
      list(lower = rep(NA_real_, p * k), upper = rep(NA_real_, p * k))
    }
    tibble::tibble(item = rep(items$item, k), factor = rep(colnames(mean), each = p), group = name,
      loading = as.numeric(loadings[[name]]), pooled = as.numeric(pooled$values$loadings),
      mean = as.numeric(mean), difference = as.numeric(loadings[[name]] - mean),
      lower = limits$lower, upper = limits$upper, apart = limits$lower > 0 | limits$upper < 0,
      wording = rep(items$wording, k), reversed = rep(items$reversed, k))
  })
  all <- stack_rows(rows)
  all[order(-abs(all$difference)), ]
}

# A difference beyond chance comes first, with its items; congruence says how similar patterns are,
# and never that scores mean the same.
say_of_groups <- function(values) {
  between <- values$congruences[values$congruences$with != "everybody", ]
  worst <- between[which.min(between$congruence), ]
  limits <- c(cutoff("factor_similar"), cutoff("factor_equal"))
  lowest <- sprintf("the lowest congruence between two groups is %s (%s, %s with %s)",
    format_beside(worst$congruence, limits), worst$factor, worst$group, worst$with)
  other <- unique(between$factor[between$likeness == "different"])
  beyond <- isTRUE(values$chance$p < cutoff("groups_p"))
  patterns <- if (length(other) && (beyond || is.null(values$chance))) {
    sprintf("%s not the same in all groups: %s. Do not compare the groups' scores on %s.",
      verb_of(other), lowest, join_words(other))
  } else if (!beyond && !is.null(values$chance)) {
    sprintf(
      paste(
        "No difference between the groups' factors stands out from chance: %s. In groups of these",
        "sizes a difference may go unseen."),
      lowest)
  } else {
    sprintf(
      paste(
        "The groups have %s patterns otherwise: %s. That does not show that scores mean the same",
        "in each."),
      worst$likeness, lowest)
  }
  if (is.null(values$chance)) patterns <- sub(" otherwise:", ":", patterns)
  c(if (beyond) say_of_items(values), patterns, say_of_chance(values), say_of_differences(values))
}

# The items that differ most, with limits.
say_of_items <- function(values) {
  apart <- values$differences[which(values$differences$apart), ]
  if (!nrow(apart)) apart <- values$differences
  apart <- utils::head(apart[!duplicated(apart$item), ], 3L)
  each <- sprintf("%s on %s in %s (%s, %s from the groups' mean, limits %s to %s)", apart$item,
    apart$factor, apart$group, format_unit(apart$loading), format_unit(apart$difference),
    format_unit(apart$lower), format_unit(apart$upper))
  sprintf("The groups differ by more than chance (%s), most of all %s.", format_p(values$chance$p),
    join_words(each))
}

# What equal groups would have given.
say_of_chance <- function(values) {
  if (is.null(values$chance)) return(character())
  sprintf(
    "Groups of these sizes from one population would give a lowest congruence of about %s (%s).",
    format_unit(values$chance$expected), format_p(values$chance$p))
}

say_of_differences <- function(values) {
  if (all(is.na(values$differences$apart))) return(character())
  sprintf("%s of %s loadings stand apart from the groups' mean; about %s would by chance alone.",
    format_count(values$apart), format_count(nrow(values$differences)),
    format_number(values$by_chance, 0L))
}

verb_of <- function(names) paste(join_words(names), if (length(names) == 1L) "is" else "are")

find_in_groups <- function(each, values, p) {
  out <- Filter(function(one) !is.null(one$why), each)
  small <- values$groups[values$groups$people < 5 * p, ]
  other <- values$congruences[values$congruences$likeness == "different", ]
  other <- other[other$with != "everybody", ]
  # what chance would give as well is not a difference
  if (isTRUE(values$chance$p >= cutoff("groups_p"))) other <- other[0L, ]
  bind_findings(
    if (length(out)) new_finding("group_left_out", names(out), vapply(out, `[[`, "", "why")),
    if (nrow(small)) {
      new_finding("small_group_draws", name_culprits(small$group), p, value = min(small$people),
        limit = 5 * p)
    },
    if (nrow(other)) {
      new_finding("groups_differ", vapply(split(other$factor, other$factor), `[`, "", 1L),
        vapply(split(other$congruence, other$factor), function(x) format_unit(min(x)), ""),
        value = vapply(split(other$congruence, other$factor), min, 0),
        limit = cutoff("factor_similar"))
    })
}
