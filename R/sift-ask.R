# Asking people in each pass of a sifting.

# NULL, or a function of a question.
settle_asker <- function(ask) {
  if (isFALSE(ask)) return(NULL)
  if (is.function(ask)) return(ask)
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
