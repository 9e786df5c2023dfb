# How many factors or components to extract, and who says so.

# `asked`: a number, "parallel", "probable", a rule's name, or what parallel_analysis() or
# count_factors() returned. `x`: item_correlations; `most`: the largest number possible.
settle_factors <- function(asked, x, most, name, seed, threads) {
  if (is.numeric(asked)) {
    return(list(k = check_number_of(asked, most, ncol(x$values$correlations), name), by = "given"))
  }
  chosen <- if (inherits(asked, "softsieve_number")) {
    asked
  } else if (is_result(asked, c("parallel_analysis", "factor_count"))) {
    number_found(asked, x, name)
  } else {
    number_by_rule(asked, x, most, name, seed, threads)
  }
  if (is.na(chosen$k)) {
    stop_input("factors", sprintf("The rule must find a number of %s.", name),
      got = sprintf("%s: %s.", capitalise(chosen$by), chosen$reason),
      todo = "Give another rule, or a number.")
  }
  if (chosen$k == 0L) {
    stop_input("factors",
      sprintf("At least one %s must exceed chance to be extracted.", sub("s$", "", name)),
      got = sprintf("0 %s by %s.", name, chosen$by),
      todo = c("Look at the items with assess_factorability().",
        sprintf("If theory asks for one, give %s = 1 and say so.", name)))
  }
  list(
    k = check_number_of(min(chosen$k, max(most, 1L)), most, ncol(x$values$correlations), name),
    by = chosen$by)
}

# A number that a stage before has settled, and by what.
number_settled <- function(k, by) {
  structure(list(k = k, by = by, reason = ""), class = "softsieve_number")
}

# What another stage found on the same items: parallel analysis's number, or the one that
# count_factors() takes.
number_found <- function(asked, x, name) {
  if (!identical(asked$source$fingerprint, x$source$fingerprint)) {
    other <- if (identical(asked$source$items, x$source$items)) {
      "people (or other answers of theirs)"
    } else {
      "items"
    }
    stop_input("factors",
      sprintf("The number of %s must have been found on the same answers.", name),
      got = sprintf("It was found on other %s.", other),
      todo = sprintf(
        "Run count_factors() or parallel_analysis() on these answers, or give the number: %s = %d.",
        name, if (is.null(asked$values$taken)) asked$values$suggested else asked$values$taken))
  }
  v <- asked$values
  if (is_result(asked, "parallel_analysis")) {
    return(list(k = v$suggested, by = "parallel analysis", reason = ""))
  }
  list(k = v$taken, by = said_taken_by(v), reason = "")
}

number_by_rule <- function(asked, x, most, name, seed, threads) {
  check_rule_asked(asked, x, most, name)
  if (asked == "parallel") {
    found <- parallel_analysis(x, seed = seed, threads = threads)
    return(number_found(found, x, name))
  }
  if (asked == "probable") {
    found <- number_by_default(x, settle_seed(seed), settle_threads(threads))
    return(list(k = found$k, by = say_taken(found), reason = ""))
  }
  count <- count_factors(x, rules = asked, seed = seed, threads = threads)
  number_of_rule(asked, count)
}

check_rule_asked <- function(asked, x, most, name) {
  rules <- names(RULES)
  if (checkmate::test_choice(asked, c("probable", rules))) return(invisible())
  typed <- checkmate::test_string(asked)
  stop_input("factors",
    sprintf("`%s` must be a whole number, \"probable\", or a rule: %s.", name,
      paste0('"', rules, '"', collapse = ", ")),
    got = describe_value(asked),
    todo = c(if (typed) hint_nearest(asked, rules),
      possible_numbers(most, ncol(x$values$correlations), name)))
}

number_of_rule <- function(rule, count) {
  row <- count$values$rules[count$values$rules$rule == rule, ]
  by <- if (row$holds) {
    row$label
  } else {
    paste(row$label, "(which takes Pearson correlations for granted)")
  }
  list(k = row$suggested, by = by, reason = row$reason)
}

check_number_of <- function(asked, most, p, name) {
  whole <- length(asked) == 1L && is.finite(asked) && asked == round(asked)
  if (whole && asked >= 1 && asked <= most) return(as.integer(asked))
  got <- if (whole && asked > most) {
    sprintf("%s came, for %s.", count_of(asked, sub("s$", "", name)), count_of(p, "item"))
  } else {
    describe_value(asked)
  }
  stop_input("factors",
    sprintf("`%s` must be a whole number%s, or the name of a rule.", name, if (name == "factors") {
      " that leaves degrees of freedom"
    } else {
      ", a share of the variance between 0 and 1"
    }),
    got = got, todo = possible_numbers(most, p, name))
}

possible_numbers <- function(most, p, name) {
  if (most < 1L) {
    return(sprintf("%s allow no factor: at least three items are needed.", count_of(p, "item")))
  }
  if (most == 1L) return(sprintf("%s allow 1 %s.", count_of(p, "item"), sub("s$", "", name)))
  sprintf("%s allow 1 to %d %s.", count_of(p, "item"), most, name)
}
