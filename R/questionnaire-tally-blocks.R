# Blocks of answers, as they are counted once it is settled what is counted (begin_tally()). `state`
# is what that settled, and what was counted so far.

# Nothing is counted yet.
start_counts <- function(state) {
  state$tally <- new_tally(state)
  state$groups <- list()
  state$nameless <- 0
  state$unfit <- numeric(length(state$values))
  state$codes <- NULL
}

new_tally <- function(state) {
  sizes <- unname(lengths(state$values))
  weighted <- length(state$columns$weight) > 0
  cpp_tally(sizes, state$asked$random_groups, weighted, state$asked$complete)
}

# What was counted, as plain data that add up (workers hand it over).
read_counts <- function(tally, threads) {
  read <- cpp_tally_read(tally, threads)
  none <- !length(read$sums)
  list(cells = read$cells, sums = if (!none) read$sums, cubes = if (!none) read$cubes,
    people = read$people)
}

add_block <- function(block, first, state, threads) {
  tryCatch({
    check_flat(block)
    read <- read_answers(block[state$columns$items], state$described, state$words)
    weights <- read_weights(block, state$columns$weight, part = TRUE)
  }, softsieve_error = function(e) stop_in_block(e, first, nrow(block)))
  coded <- drop_missing_codes(read$answers, state$described)
  state$codes <- rbind(state$codes, coded$codes)
  if (nrow(state$codes) > 1000L) state$codes <- sum_codes(state$codes)
  ranged <- drop_beyond(coded$answers, state)
  answers <- ranged$answers
  for (i in which(state$described$reversed)) {
    answers[[i]] <- turn_round(answers[[i]], state$described$lowest[i], state$described$highest[i])
  }
  unfit <- cpp_tally_add(state$tally, answers, unname(state$values), state$origins, weights, first,
    threads)
  state$unfit <- state$unfit + unfit + ranged$beyond
  if (length(state$columns$group)) {
    group <- as.character(block[[state$columns$group]])
    state$nameless <- state$nameless + sum(is.na(group))
    add_groups(group, answers, weights, first, state, threads)
  }
}

# Answers of items of many values that lie beyond the ends a codebook gave.
drop_beyond <- function(answers, state) {
  beyond <- numeric(length(answers))
  for (i in which(!state$open & vapply(state$values, is.null, NA))) {
    x <- answers[[i]]
    hit <- which(x < state$described$lowest[i] | x > state$described$highest[i])
    beyond[i] <- length(hit)
    if (length(hit)) answers[[i]][hit] <- NA
  }
  list(answers = answers, beyond = beyond)
}

MOST_COUNTED_GROUPS <- 100L

check_counted_groups <- function(groups, state) {
  if (groups <= MOST_COUNTED_GROUPS) return(invisible())
  stop_input("groups", sprintf("`group` may have up to %d groups.", MOST_COUNTED_GROUPS),
    got = sprintf("Column %s has more.", state$columns$group))
}

add_groups <- function(group, answers, weights, first, state, threads) {
  rows <- split(seq_along(group), group)
  for (name in names(rows)) {
    if (is.null(state$groups[[name]])) {
      check_counted_groups(length(state$groups) + 1L, state)
      state$groups[[name]] <- new_tally(state)
    }
    at <- rows[[name]]
    cpp_tally_add(
      state$groups[[name]],
      lapply(answers, `[`, at),
      unname(state$values),
      state$origins,
      weights[at],
      # in a group, too, people are in the random groups that they are in among all
      first + at - 1,
      threads)
  }
}

# An error in a block says where in the source the block is.
stop_in_block <- function(e, first, people) {
  e$message <- sprintf("%s\nBetween person %s and person %s of the source.", e$message,
    format_count(first + 1), format_count(first + people))
  rlang::cnd_signal(e)
}
