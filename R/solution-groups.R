#' What solutions of groups hold
#'
#' [factor_solution()] with `by` returns an object of class `group_solutions` ([softsieve-result]):
#' the solution of everybody, one for each group that is extracted as it was and turned towards it,
#' and what differs. Its `values`:
#'
#' * `pooled`: the solution of everybody, a `factor_solution`; `solutions`: a named list, one
#'   `factor_solution` for each group, its factors turned to the pooled loadings by Procrustes
#'   rotation (orthogonal where the pooled factors do not correlate, otherwise oblique);
#' * `groups`: tibble: `group`, `people`, `n` (that tests use), `rmsr` (root mean square residual);
#' * `congruences`: tibble, one row for each factor and pair of groups, and of each group with
#'   everybody: `factor`, `group`, `with` (`"everybody"`, or a group), `congruence`, `likeness`
#'   (`"very similar"` from .95, `"similar"` from .85, else `"different"`);
#' * `differences`: tibble, one row for each item, factor and group: `item`, `factor`, `group`,
#'   `loading`, `pooled`, `mean` (of the groups' loadings), `difference` (loading less mean),
#'   `lower`, `upper` (its limits, from people resampled within the groups), `apart` (do the
#'   limits leave 0 out?), `wording`, `reversed`; the largest first;
#' * `chance`: were the groups equal in truth, how low the lowest congruence of two of them would be
#'   (`expected`, the median), and how often as low as here (`p`); or `NULL` without draws;
#' * `apart`, `by_chance`: how many differences are apart, and how many would be in groups that are
#'   equal in truth; `verdict`: sentences.
#'
#' @section Limits: People are resampled within each group `replicates` times, each draw is turned
#'   to the pooled loadings like the group was, and limits are the 95 % percentiles of the
#'   differences. They are for one difference at a time: of many, one in twenty is apart by chance.
#'   For `chance`, the pooled loadings plus what a group's draws differ from its loadings by stand
#'   for a group that is equal to the others. This is on the careful side: in simulations
#'   (bench/groups.R) `p` was below .05 in none or one of 100 sets of equal groups, and in 7 to 100
#'   of 100 where one of 12 items belonged to another factor in one group (7 with five groups of 100
#'   people, 38 with two, all with 300 people each).
#' @section What may be compared: A high congruence says that groups have similar patterns, not that
#'   scores mean the same: with many people a significant difference (`p` below .05) can go with
#'   congruences above .95, and one item may differ widely. The verdict reports such a difference
#'   first, with its items. Whether means may be compared also takes equal loadings and intercepts
#'   of the items, which a test of measurement invariance looks at. Turning a group's factors
#'   towards the pooled ones makes them as alike as possible: congruences near 1 are easier to
#'   reach than between solutions that were rotated alone, above all with many factors and few
#'   items.
#' @section Findings: `group_left_out` (fewer people than items, or no solution),
#'   `small_group_draws` (fewer than five people for each item), `groups_differ`.
#' @eval describe_papers("Tucker (1951)", "Schonemann (1966)", "Meredith (1993)")
#' @name softsieve-group-solutions
NULL

solve_groups <- function(pooled, by, replicates, seed, threads, made_by) {
  answers <- answers_behind(pooled)
  threads <- settle_threads(threads)
  split <- split_people(answers, by)
  each <- lapply(names(split$rows), function(name) {
    part <- subset_people(answers, split$rows[[name]])
    solve_group(name, part, pooled, replicates, seed, threads)
  })
  names(each) <- names(split$rows)
  fine <- vapply(each, function(one) is.null(one$why), NA)
  if (sum(fine) < 2L) {
    stop_input("groups", "At least two groups must have a solution.",
      got = sprintf("%s: %s", names(each)[!fine], vapply(each[!fine], `[[`, "", "why")),
      todo = "Put small groups together, or take fewer items.")
  }
  kept <- each[fine]
  solutions <- lapply(kept, `[[`, "solution")
  values <- list(pooled = pooled, solutions = solutions,
    groups = stack_rows(Map(group_row, names(kept), kept)),
    congruences = congruences_of_groups(pooled, solutions),
    differences = differences_of_groups(pooled, kept))
  values$chance <- if (replicates) chance_of_groups(pooled, kept, values$congruences)
  apart <- values$differences$apart
  values$apart <- sum(apart)
  values$by_chance <- 0.05 * sum(!is.na(apart))
  values$verdict <- say_of_groups(values)
  new_result("group_solutions", values,
    c(pooled$settings, list(by = by, replicates = replicates, seed = seed)),
    bind_findings(findings_that_travel(pooled$findings), split$findings,
      find_in_groups(each, values, nrow(pooled$values$loadings))),
    pooled$source, made_by)
}

# One group: its solution and its draws, or why it has none.
solve_group <- function(name, part, pooled, replicates, seed, threads) {
  people <- nrow(part$values$answers)
  p <- nrow(pooled$values$loadings)
  if (people <= p) {
    why <- sprintf("%s for %s.", count_of(people, "person", "people"), count_of(p, "item"))
    return(list(why = why))
  }
  tryCatch({
    correlations <- correlate_alike(part, pooled$values$item_correlations)
    extracted <- solve_alike(correlations, unrotate(pooled))
    solution <- turn_to(extracted, pooled, seed, threads)
    draws <- if (replicates) {
      units <- list(unit_of = seq_len(people) - 1L, stratum_of = rep(0L, people))
      label <- sprintf("Group %s", name)
      draw_solutions(solution, part, units, replicates, 0L, 1L, seed, threads,
        label = label)$loadings
    }
    list(solution = solution, draws = draws, people = people)
  }, softsieve_error = function(e) {
    list(why = paste(c(rlang::cnd_header(e), e$body), collapse = " "))
  })
}

# Without its rotation, for stages that ask how a solution was found.
unrotate <- function(solution) {
  solution$settings$rotation <- "none"
  solution
}

is_oblique <- function(solution) {
  r <- solution$values$factor_correlations
  any(abs(r[upper.tri(r)]) > 1e-8)
}

# A group's factors turned to those of everybody, in their order and with their signs and names: the
# least squares of all loadings on the pooled ones, with factors of variance 1 (Browne 1972; the
# orthogonal one has a closed form, which this meets).
GROUP_STARTS <- 20L

turn_to <- function(extracted, pooled, seed, threads) {
  target <- pooled$values$loadings
  oblique <- is_oblique(pooled)
  asked <- list(target = unname(target))
  spec <- ROTATIONS[["target"]]
  turned <- if (ncol(target) == 1L) {
    sign <- sign(sum(extracted$values$unrotated * target))
    list(loadings = extracted$values$unrotated * sign, correlations = diag(1),
      transformation = diag(1) * sign)
  } else {
    core_rotate_weighted(extracted$values$unrotated, turning_of(spec, oblique),
      spec$request(nrow(target), ncol(target), asked), rep(1, nrow(target)), GROUP_STARTS, seed,
      threads)$best[c("loadings", "correlations", "transformation")]
  }
  settings <- extracted$settings
  settings[c("rotation", "target", "oblique", "normalization", "optimum", "starts")] <- list(
    if (ncol(target) == 1L) "none" else "target", unname(target), oblique, "none", 1L, GROUP_STARTS)
  solution <- new_factor_solution(extracted_part(extracted), turned, NULL, settings,
    extracted$findings, NULL)
  if (is_named(pooled)) rename_factors(solution, factor_names(pooled)) else solution
}

group_row <- function(name, one) {
  v <- one$solution$values
  tibble_of(group = name, people = one$people, n = v$n, rmsr = v$fit$rmsr)
}

#' @exportS3Method tibble::as_tibble
as_tibble.group_solutions <- function(x, ...) x$values$congruences

#' @export
tidy.group_solutions <- function(x, ...) {
  check_dots_empty(...)
  x$values$differences
}

#' @export
glance.group_solutions <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  between <- v$congruences[v$congruences$with != "everybody", ]
  tibble_of(groups = nrow(v$groups), factors = ncol(v$pooled$values$loadings),
    lowest_congruence = min(between$congruence), apart = v$apart, by_chance = v$by_chance)
}

# How groups' solutions differ: congruences, loadings, what chance would give, and what to say of
# it.

congruences_of_groups <- function(pooled, solutions) {
  loadings <- c(list(everybody = pooled$values$loadings),
    lapply(solutions, function(x) x$values$loadings))
  pair <- utils::combn(length(loadings), 2L)
  rows <- lapply(seq_len(ncol(pair)), function(i) {
    two <- loadings[pair[, i]]
    tibble_of(factor = colnames(two[[1L]]), group = names(two)[2L], with = names(two)[1L],
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
