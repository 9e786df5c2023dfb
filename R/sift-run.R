# The passes of a sifting.

# Runs passes from `start` (all, left, rules, how, pinned, facets, passes, events) until one of the
# ends, and makes the result.
run_sift <- function(start, passes, asker, made_by) {
  now <- start
  now$most_passes <- passes + sum(vapply(now$passes, function(one) !is.na(one$removed), NA))
  total <- length(now$left)
  ended <- with_progress("Sifting", total, function(progress) {
    removed <- 0
    repeat {
      step <- one_pass(now, asker, may_go = removed < passes)
      now <<- step$now
      removed <- removed + step$went
      progress(min(total, total - length(now$left)))
      if (!is.null(step$ended)) return(step$ended)
    }
  })
  new_item_sift(now, ended, made_by)
}

# A pass: its state, who offends, which one goes; `ended` says why nothing does.
one_pass <- function(now, asker, may_go) {
  by_limits <- now$rules$settings$by_limits
  now$how$by_limits <- by_limits
  state <- state_known(now)
  found <- offenders(state, now$rules$values$rule_specs, now$how$components, by_limits)
  row <- pass_of(now, state, found)
  if (state$stepped && now$how$if_too_few_items == "stop") {
    return(end_with(now, row, "too_few_items"))
  }
  if (is.null(found)) return(end_with(now, row, "clean"))
  held <- vapply(found$item, function(item) held_by(item, now, state, found), "")
  row$pinned <- unique(found$item[held == "pinned"])
  if (!may_go) return(end_with(now, row, "passes"))
  choice <- choose_item(now, state, found, held, asker)
  now$pinned <- c(now$pinned, choice$pinned)
  row$pinned <- unique(c(row$pinned, choice$pinned))
  if (is.null(choice$item)) return(end_with(now, row, choice$ended))
  row[names(choice$went)] <- choice$went
  now$passes <- c(now$passes, list(row))
  now$left <- setdiff(now$left, choice$item)
  list(now = now, went = 1, ended = NULL)
}

# The state of these items, once where several siftings of the same answers come by them (`states`,
# sift-paths.R).
state_known <- function(now) {
  make <- function() sift_state(now$all, now$left, now$how)
  if (is.null(now$states)) return(make())
  key <- paste(c(now$how$factors, now$left), collapse = "\r")
  if (is.null(now$states[[key]])) assign(key, make(), envir = now$states)
  now$states[[key]]
}

end_with <- function(now, row, why) {
  now$passes <- c(now$passes, list(row))
  list(now = now, went = 0, ended = why)
}

# Why an item may not go: "" where it may.
held_by <- function(item, now, state, found) {
  s <- now$rules$settings
  if (item %in% now$pinned) return("pinned")
  if (length(now$left) <= s$least_items) return("least_items")
  why <- held_by_factor(item, now, state, found)
  if (nzchar(why) || is.null(s$least_per_facet)) return(why)
  facets <- now$facets[match(now$left, now$all$values$items$item)]
  facet <- facets[match(item, now$left)]
  if (!is.na(facet) && sum(facets == facet, na.rm = TRUE) <= s$least_per_facet) {
    return("least_per_facet")
  }
  ""
}

# What its own factor and scale say to an item's going.
held_by_factor <- function(item, now, state, found) {
  s <- now$rules$settings
  small <- found$item[found$rule == "small_factor"]
  size <- items_on_factor(item, state)
  if (size == 1L && is.numeric(now$how$factors)) return("only_item")
  if (size > 0L && size <= s$least_per_factor && !item %in% small) return("least_per_factor")
  if (loses_omega(item, state, s$most_omega_loss)) "omega" else ""
}

# How many items load on the item's own factor most, by .30 or more, when it does so itself; else 0.
items_on_factor <- function(item, state) {
  salient <- home_factor(state$loadings, cutoff("salient_loading"))
  own <- salient[match(item, state$items)]
  if (is.na(own)) 0L else sum(salient == own, na.rm = TRUE)
}

# Would its own scale's omega, or the lowest of all, fall by more than `most` without the item?
loses_omega <- function(item, state, most) {
  at <- match(item, state$items)
  loss <- -state$gains[at]
  if (is.na(loss)) return(FALSE)
  now <- state$scales$omega
  without <- replace(now, state$home[at], now[state$home[at]] - loss)
  lowest <- min(now, na.rm = TRUE) - min(without, na.rm = TRUE)
  max(loss, lowest) > most + 1e-9
}

# The worst item by the first rule that one breaks which may go; where somebody is asked, what they
# say: those refused are pinned, and the next one is offered.
choose_item <- function(now, state, found, held, asker) {
  pinned <- character()
  repeat {
    free <- which(held == "" & !found$item %in% pinned)
    if (!length(free)) {
      why <- setdiff(held, "pinned")
      return(list(pinned = pinned, ended = end_of_held(setdiff(why, ""))))
    }
    first <- found[free[1L], ]
    others <- runners_up(found[free, ], first)
    offer <- list(item = first$item, went = went_by_rule(first, others))
    if (is.null(asker)) return(c(offer, list(pinned = pinned)))
    said <- asker(question_of(now, state, first, others))
    check_said(said, state$items, now$pinned)
    if (identical(said, "yes")) {
      offer$went$who <- "person"
      offer$went$why <- "agreed to the rule"
      return(c(offer, list(pinned = pinned)))
    }
    if (identical(said, "stop")) return(list(pinned = pinned, ended = "stopped"))
    if (identical(said, "no")) {
      pinned <- c(pinned, first$item)
      next
    }
    return(list(item = said, pinned = pinned,
      went = list(removed = said, who = "person", why = sprintf("in the place of %s", first$item))))
  }
}

# Others that break the same rule, then other rules: up to three.
runners_up <- function(found, first) {
  others <- found[found$item != first$item, ]
  others <- others[!duplicated(others$item), ]
  utils::head(others[order(others$rule != first$rule), ], 3L)
}

went_by_rule <- function(first, others) {
  list(removed = first$item, rule = first$rule, label = first$label, value = first$value,
    limit = first$limit, breaks = first$breaks, digits = first$digits, who = "rule", why = "",
    runners_up = sprintf("%s (%s %s)", others$item, others$rule,
      mapply(show_measure, others$value, others$digits)))
}

# What the trail keeps of a pass; nothing has gone yet.
pass_of <- function(now, state, found) {
  list(items = state$items, number = state$number, number_by = state$number_by,
    stepped = state$stepped, adequacy = state$adequacy$overall, sphericity = state$sphericity,
    share = state$share, rmsr = state$rmsr, scales = state$scales,
    members = split(state$items, factor(colnames(state$loadings)[state$home],
      colnames(state$loadings))),
    reproduced = state$reproduced, offenders = found,
    events = now$events[seq_along(now$events) > sum(lengths(lapply(now$passes, `[[`, "events")))],
    removed = NA_character_, rule = NA_character_, label = NA_character_, value = NA_real_,
    limit = NA_real_, breaks = NA_character_, digits = 2L, who = NA_character_, why = "",
    runners_up = character(), pinned = character())
}

# An end is not a step: what comes after stands in its place.
without_end <- function(now) {
  last <- now$passes[[length(now$passes)]]
  if (is.na(last$removed)) {
    now$passes <- now$passes[-length(now$passes)]
  }
  now
}

# Goes on from where an earlier sifting is, with what is asked again.
go_on <- function(x, again, passes, asker, threads, made_by) {
  now <- without_end(x$values$going_on)
  if (!is.null(again$rules)) now$rules <- again$rules
  if (!is.null(again$factors)) now$how$factors <- again$factors
  now$pinned <- unique(c(now$pinned, again$keep))
  now$how$threads <- settle_threads(threads)
  run_sift(now, passes, asker, made_by)
}

# Why nobody may go.
end_of_held <- function(why) {
  if (!length(why)) return("pinned")
  first <- intersect(c("only_item", "omega"), why)
  if (length(first)) first[1L] else "least"
}

# Asking people in each pass of a sifting.

# NULL, or a function of a question.
settle_asker <- function(ask) {
  if (isFALSE(ask)) return(NULL)
  if (is.function(ask)) return(theirs(ask, "ask"))
  if (isTRUE(ask) && interactive()) return(ask_at_terminal)
  stop_input("argument", "`ask` must be FALSE, a function, or at a terminal TRUE.",
    got = if (isTRUE(ask)) "There is no terminal to ask at." else describe_value(ask),
    todo = "A function gets the question, and answers \"yes\", \"no\", \"stop\" or an item.")
}

question_of <- function(now, state, first, others) {
  row <- state$table[match(first$item, state$items), ]
  wording <- keyed_wording(row$wording, row$reversed)
  list(item = first$item, wording = wording, rule = first$rule, value = first$value,
    limit = first$limit,
    text = sprintf("Pass %d, %s left. %s%s: its %s is %s, %s %s. Take it out?",
      length(now$passes) + 1L, count_of(length(state$items), "item"), first$item,
      if (nzchar(wording)) sprintf(" (%s)", wording) else "", first$label,
      show_measure(first$value, first$digits), first$breaks,
      show_measure(first$limit, first$digits)),
    others = others, items = state$items)
}

check_said <- function(said, items, pinned) {
  words <- c("yes", "no", "stop")
  if (checkmate::test_string(said) && said %in% c(words, setdiff(items, pinned))) {
    return(invisible())
  }
  stop_input("answer",
    "The answer must be \"yes\", \"no\", \"stop\" or an item that is left and not pinned.",
    got = describe_value(said),
    todo = if (checkmate::test_string(said)) hint_nearest(said, c(words, items)) else character())
}

ask_at_terminal <- function(question) {
  others <- question$others
  lines <- c(strwrap(question$text, console_width()), if (nrow(others)) {
    sprintf("Next would be: %s.", name_culprits(sprintf("%s (%s)", others$item, others$rule)))
  })
  repeat {
    cat(visible_text(lines), sep = "\n")
    said <- trimws(readline("yes, no (keep it for good), another item, or stop: "))
    short <- c(y = "yes", n = "no", s = "stop")
    if (said %in% names(short)) said <- short[[said]]
    if (said %in% c("yes", "no", "stop", question$items)) return(said)
    cat("That is none of these.\n")
  }
}
