#' Change a sifting by hand, and go on
#'
#' `sift_remove()` takes items out, `sift_restore()` puts items back, each with a reason that stands
#' in the trail. The items that are left are looked at again; [sift_items()] goes on from there.
#'
#' @param x What [sift_items()] returned.
#' @param items Items, by bare names or words.
#' @param why The reason, in words.
#' @param keep Pin the items that are put back, so that no rule takes them out again?
#' @return An object of class `item_sift` ([softsieve-item-sift]).
#' @section Errors: `softsieve_error_items`, `softsieve_error_class`, `softsieve_error_argument`.
#' @family sifting
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' one <- sift_items(motives, factors = 4, passes = 1, seed = 1)
#' two <- sift_remove(one, "o1", "about coffee")
#' sift_items(sift_restore(two, "o2", "the cafe's owner asked for it"), factors = 4)
#' @export
sift_remove <- function(x, items, why) {
  check_class(x, "x", "item_sift", "sift_items()")
  check_text(why, "why")
  now <- x$values$going_on
  items <- settle_named_items(rlang::enquo(items), "items", now$left)
  check_enough_left(setdiff(now$left, items))
  now <- without_end(now)
  for (item in items) now$events <- c(now$events, list(hand_event("removed", item, why)))
  now$left <- setdiff(now$left, items)
  run_sift(now, 0, NULL, match.call())
}

#' @rdname sift_remove
#' @export
sift_restore <- function(x, items, why, keep = TRUE) {
  check_class(x, "x", "item_sift", "sift_items()")
  check_text(why, "why")
  check_flag(keep, "keep")
  now <- x$values$going_on
  all <- now$all$values$items$item
  out <- c("that were taken out", "Not taken out")
  items <- settle_named_items(rlang::enquo(items), "items", setdiff(all, now$left), known = out)
  now <- without_end(now)
  for (item in items) now$events <- c(now$events, list(hand_event("restored", item, why)))
  now$left <- all[all %in% c(now$left, items)]
  if (keep) now$pinned <- unique(c(now$pinned, items))
  run_sift(now, 0, NULL, match.call())
}

#' Run a sifting again on other answers
#'
#' Takes out, one after the other, what the trail took out, and says at each step whether the same
#' rules, on these answers, would have: the same end, or where it departs.
#'
#' @param trail What [sift_items()] returned.
#' @param data What [correlate_items()] takes, with the items of the trail.
#' @param threads Number of threads.
#' @return An object of class `sift_replay` ([softsieve-result]); `values` holds `steps` (tibble:
#'   `step`, `item`, `rule`, `then` (the value in the trail), `here`, `would_go` (the item that goes
#'   by rule here), `same`), `departs` (the first step that differs, or `NA`), `same` (is the end
#'   the same?), `again` (the sifting of these answers by the same rules, an `item_sift`) and `both`
#'   (tibble: `item`, `then`, `here`: `"in"` or `"out"`).
#' @section Errors: `softsieve_error_items`, `softsieve_error_class`, and those of [sift_items()].
#' @family sifting
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' sifted <- sift_items(motives, factors = 4, seed = 1)
#' replay(sifted, keep_people(motives, cafe != "Harbour"))
#' @export
replay <- function(trail, data, threads = NULL) {
  check_class(trail, "trail", "item_sift", "sift_items()")
  then <- trail$values$going_on
  s <- then$all$settings
  given <- s$missing == "given"
  asked <- if (given) list() else s[c("kind", "missing", "repair", "continuous_from")]
  if (is_result(data, "item_correlations") || is.matrix(data)) asked <- list()
  all <- call_with(as_correlations, c(list(data, threads = threads), asked))
  items <- then$all$values$items$item
  check_sift_items(items, "data", all$values$items$item)
  now <- list(all = correlations_of_some(all, items), left = items, rules = then$rules,
    how = utils::modifyList(then$how, list(threads = settle_threads(threads))),
    pinned = then$pinned, facets = then$facets, passes = list(), events = list())
  now$all$values["questionnaire"] <- list(all$values$questionnaire)
  steps <- replay_steps(trail$values$trail, now)
  fresh <- now
  fresh$events <- Filter(function(one) one$what == "removed", first_events(then))
  fresh$left <- setdiff(items, vapply(fresh$events, `[[`, "", "item"))
  again <- run_sift(fresh, Inf, NULL, match.call())
  off <- which(!steps$same)
  both <- tibble_of(item = items, then = ifelse(items %in% trail$values$left, "in", "out"),
    here = ifelse(items %in% again$values$left, "in", "out"))
  new_result("sift_replay",
    list(steps = steps, departs = if (length(off)) steps$step[off[1L]] else NA_integer_,
      same = identical(both$then, both$here), again = again, both = both),
    trail$settings, findings_that_travel(all$findings), all$source, match.call())
}

# What was done by hand before the first pass.
first_events <- function(then) if (length(then$passes)) then$passes[[1L]]$events else then$events

replay_steps <- function(trail, now) {
  done <- trail[trail$step != "end", ]
  rows <- vector("list", nrow(done))
  for (i in seq_len(nrow(done))) {
    row <- done[i, ]
    by_rule <- !is.na(row$rule)
    here <- NA_real_
    would <- NA_character_
    if (by_rule) {
      step <- one_pass(now, NULL, may_go = TRUE)
      last <- step$now$passes[[length(step$now$passes)]]
      would <- last$removed
      found <- last$offenders
      at <- which(found$item == row$item & found$rule == row$rule)
      if (length(at)) here <- found$value[at[1L]]
    }
    rows[[i]] <- tibble::tibble(step = i, item = row$item, rule = row$rule, then = row$value,
      here = here, would_go = would, same = !by_rule || identical(would, row$item))
    now$left <- if (row$step == "restored") {
      items <- now$all$values$items$item
      items[items %in% c(now$left, row$item)]
    } else {
      setdiff(now$left, row$item)
    }
  }
  if (length(rows)) return(stack_rows(rows))
  tibble_of(step = integer(), item = character(), rule = character(), then = numeric(),
    here = numeric(), would_go = character(), same = logical())
}

#' @exportS3Method tibble::as_tibble
as_tibble.sift_replay <- function(x, ...) x$values$steps

#' @export
glance.sift_replay <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(steps = nrow(x$values$steps), departs = x$values$departs, same = x$values$same,
    left_then = sum(x$values$both$then == "in"), left_here = sum(x$values$both$here == "in"))
}
