#' What a sifting holds
#'
#' [sift_items()] returns an object of class `item_sift` ([softsieve-result]). Its `values`:
#'
#' * `trail`: tibble, one row for each step: `pass` (0: by hand, before the first), `items` (left
#'   before the step), `factors`, `number_by` (`"fixed"`, `"parallel analysis"`), `adequacy`
#'   (overall), `sphericity`, `sphericity_df`, `sphericity_p`, `share` (of the variance, explained),
#'   `rmsr`, `lowest_omega` (of the factors' items as
#'   scales), `step` (`"removed"`, `"restored"`, `"end"`), `item`, `wording`, `rule`, `value`,
#'   `limit`, `runners_up`, `who` (`"rule"`, `"person"`), `why`, `pinned` (items that offend and
#'   may not go);
#' * `items`: tibble, one row for each item: `item`, `wording`, `reversed`, `facet`, `state`
#'   (`"in"`, `"out"`), `pass` (in which it went), `rule`, `value`, `limit`, `who`, `why`;
#' * `tiles`: tibble, one row for each pass and item: `pass`, `item`, `state` (`"in"`, `"at risk"`:
#'   breaks a rule and stays for now, `"goes"`, `"out"`), `rule` (that it breaks first);
#' * `scales`: tibble: `pass`, `scale`, `items`, `omega`;
#' * `facets`: `NULL`, or tibble: `facet`, `before`, `after` (how many items);
#' * `left`: names of the items left; `solution`: their `factor_solution`, with `values$trail`;
#' * `ended`: `"clean"` (nothing breaks a rule), `"least"` (no more items may go), `"omega"`
#'   (without any of them a scale would lose too much), `"only_item"` (of a factor whose number is
#'   fixed), `"pinned"` (only pinned items offend), `"passes"` (so many were asked for), `"stopped"`
#'   (by a person), `"too_few_items"` (the items left cannot carry the factors);
#' * `rules`: what [sift_rules()] returned; `going_on`: what is needed to go on.
#'
#' `as_tibble()` gives the trail, `tidy()` the items, `glance()` one row.
#' @name softsieve-item-sift
NULL

new_item_sift <- function(now, ended, made_by) {
  all <- now$all$values$items
  passes <- now$passes
  solution <- last_solution(now)
  facets <- if (!is.null(now$facets) && !all(is.na(now$facets))) {
    known <- unique(stats::na.omit(now$facets))
    count <- function(items) {
      tabulate(match(now$facets[match(items, all$item)], known), length(known))
    }
    tibble_of(facet = known, before = count(all$item), after = count(now$left))
  }
  trail <- trail_of(passes, all)
  solution <- add_value(solution, "trail", trail)
  how <- now$how[c("factors", "method", "rotation", "if_too_few_items", "replicates", "seed")]
  new_result("item_sift",
    list(trail = trail, items = items_of_sift(now, trail, all), tiles = tiles_of(passes, all$item),
      scales = scales_of_passes(passes), facets = facets, left = now$left, solution = solution,
      ended = ended, rules = now$rules, going_on = now),
    c(now$all$settings, how,
      list(starts = now$how$turning$starts, passes = now$most_passes, keep = now$pinned)),
    bind_findings(findings_that_travel(now$all$findings), find_in_sift(now, ended)),
    solution$source, made_by)
}

# The solution of the items left, from many starts and with the answers that belong to it.
last_solution <- function(now) {
  part <- correlations_of_some(now$all, now$left)
  values <- part$values
  # its own answers are all that belongs to it, but under EM, where the others filled them in
  if (!identical(now$all$settings$missing, "em")) values$part_of <- NULL
  part <- unclass(part)
  part$values <- values
  part <- structure(part, class = class(now$all))
  answers <- now$all$values$questionnaire
  if (!is.null(answers)) {
    part$values$questionnaire <- keep_quietly(answers, now$left)
  }
  last <- now$passes[[length(now$passes)]]
  solve_pass(unedited(part, now$all), last$number, now$how)
}

# A part of the correlations is what its stage found, not an edit by hand.
unedited <- function(part, all) {
  parts <- unclass(part)
  parts$findings <- all$findings
  structure(parts, class = class(all))
}

trail_of <- function(passes, all) {
  stack_rows(lapply(seq_along(passes), function(i) {
    pass <- passes[[i]]
    last <- is.na(pass$removed)
    by_hand <- lapply(pass$events, function(event) {
      trail_row(i, pass, all, list(step = event$what, item = event$item, who = "person",
        why = event$why))
    })
    here <- trail_row(i, pass, all, list(step = if (last) "end" else "removed", item = pass$removed,
      rule = pass$rule, value = pass$value, limit = pass$limit,
      runners_up = paste(pass$runners_up, collapse = ", "), who = pass$who, why = pass$why,
      pinned = paste(pass$pinned, collapse = ", ")))
    stack_rows(c(by_hand, list(here)))
  }))
}

trail_row <- function(i, pass, all, step) {
  said <- list(step = NA_character_, item = NA_character_, rule = NA_character_, value = NA_real_,
    limit = NA_real_, runners_up = "", who = NA_character_, why = "", pinned = "")
  said[names(step)] <- step
  omega <- pass$scales$omega
  columns <- c(
    list(pass = i, items = length(pass$items), factors = pass$number, number_by = pass$number_by,
      adequacy = pass$adequacy, sphericity = pass$sphericity$statistic,
      sphericity_df = pass$sphericity$df, sphericity_p = pass$sphericity$p, share = pass$share,
      rmsr = pass$rmsr,
      lowest_omega = if (all(is.na(omega))) NA_real_ else min(omega, na.rm = TRUE)),
    said[c("step", "item")], list(wording = all$wording[match(said$item, all$item)]),
    said[c("rule", "value", "limit", "runners_up", "who", "why", "pinned")])
  tibble::new_tibble(columns, nrow = 1L)
}

scales_of_passes <- function(passes) {
  all <- stack_rows(lapply(passes, `[[`, "scales"))
  sizes <- vapply(passes, function(pass) nrow(pass$scales), 0L)
  tibble::add_column(all, pass = rep(seq_along(passes), sizes), .before = 1L)
}

# Where each item stands at the end, and what took it out.
items_of_sift <- function(now, trail, all) {
  last <- trail[trail$step %in% c("removed", "restored"), ]
  last <- last[!duplicated(last$item, fromLast = TRUE), ]
  out <- !all$item %in% now$left
  at <- ifelse(out, match(all$item, last$item), NA_integer_)
  tibble::tibble(item = all$item, wording = all$wording, reversed = all$reversed,
    facet = if (is.null(now$facets)) NA_character_ else now$facets,
    state = ifelse(out, "out", "in"), last[at, c("pass", "rule", "value", "limit", "who", "why")])
}

tiles_of <- function(passes, items) {
  stack_rows(lapply(seq_along(passes), function(i) {
    pass <- passes[[i]]
    first <- match(items, pass$offenders$item)
    state <- ifelse(items %in% pass$removed, "goes", ifelse(is.na(first), "in", "at risk"))
    state[!items %in% pass$items] <- "out"
    rule <- if (is.null(pass$offenders)) NA_character_ else pass$offenders$rule[first]
    # tibble() itself takes longer than a pass
    tibble::new_tibble(
      list(pass = rep(i, length(items)), item = items, state = state,
        rule = rep_len(rule, length(items))),
      nrow = length(items))
  }))
}

find_in_sift <- function(now, ended) {
  last <- now$passes[[length(now$passes)]]
  stepped <- which(vapply(now$passes, `[[`, NA, "stepped"))
  # (one that was put back is no longer out)
  removed <- length(setdiff(stats::na.omit(vapply(now$passes, `[[`, "", "removed")), now$left))
  pinned <- unique(unlist(lapply(now$passes, `[[`, "pinned")))
  offends <- intersect(last$offenders$item, pinned)
  bind_findings(
    if (length(offends)) {
      rule <- last$offenders$rule[match(offends, last$offenders$item)]
      new_finding("pinned_offends", offends, rule, item = offends)
    },
    if (length(stepped)) {
      new_finding("fewer_carried", name_culprits(stepped), last$number, value = last$number)
    },
    if (!ended %in% c("clean", "pinned") && length(last$offenders)) {
      left <- unique(last$offenders$item)
      new_finding("sift_ended_early", ENDS[[ended]], name_culprits(left), value = length(left))
    },
    find_pairs_apart(now$passes),
    if (removed) new_finding("end_flatters", count_of(removed, "item"), value = removed))
}

# Two items that were a factor by themselves, one of which went.
find_pairs_apart <- function(passes) {
  pairs <- lapply(passes, function(pass) {
    small <- pass$offenders[pass$offenders$rule == "small_factor", ]
    if (is.na(pass$removed) || !pass$removed %in% small$item) return(NULL)
    own <- Filter(function(items) pass$removed %in% items, pass$members)[[1L]]
    if (length(own) == 2L) c(pass$removed, setdiff(own, pass$removed))
  })
  pairs <- Filter(length, pairs)
  if (!length(pairs)) return(NULL)
  new_finding("pair_apart", vapply(pairs, `[`, "", 1L), vapply(pairs, `[`, "", 2L),
    item = vapply(pairs, `[`, "", 1L))
}

# Why a sifting ended.
ENDS <- c(clean = "nothing breaks a rule any more", least = "no more items may go",
  pinned = "only pinned items break a rule",
  omega = "without any more of them a scale would lose too much reliability",
  only_item = "a factor would lose its only item, and the number of factors is fixed",
  passes = "no more passes were asked for", stopped = "it was stopped by a person",
  too_few_items = "the items left cannot carry so many factors")

#' @exportS3Method tibble::as_tibble
as_tibble.item_sift <- function(x, ...) x$values$trail

#' @export
tidy.item_sift <- function(x, ...) {
  check_dots_empty(...)
  x$values$items
}

#' @export
glance.item_sift <- function(x, ...) {
  check_dots_empty(...)
  t <- x$values$trail
  last <- t[nrow(t), ]
  tibble_of(items_before = nrow(x$values$items), items_left = length(x$values$left),
    passes = max(t$pass), factors = last$factors, adequacy = last$adequacy, share = last$share,
    lowest_omega = last$lowest_omega, ended = x$values$ended)
}
