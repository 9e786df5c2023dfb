# Splitting people by the group columns.

# What the quosure `by` says: columns of the people in `x`, bare (cafe, c(cafe, age)) or in quotes.
# Whether they are group columns is looked at where people are split.
settle_by <- function(by, x) {
  given <- x
  if (is_result(x, "item_correlations")) x <- x$values$questionnaire
  known <- as.character(if (is_questionnaire(x)) names(x$values$people) else colnames(x))
  said <- tryCatch(rlang::eval_tidy(by, as.list(rlang::set_names(known))), error = function(e) {
    if (!is_questionnaire(x) && !is.data.frame(x)) {
      check_class(given, "x", "questionnaire", "questionnaire() when `by` is given")
    }
    groups <- if (is_questionnaire(x)) x$settings$group
    stop_by(sprintf("%s came.", rlang::as_label(by)), groups)
  })
  if (!is.null(said) && !is.character(said)) stop_by(describe_value(said), known)
  said
}

stop_by <- function(got, known) {
  stop_input("groups",
    "`by` must name group columns of the people.",
    got = got,
    todo = if (length(known)) {
      sprintf("Their columns: %s.", name_culprits(known))
    } else {
      "Name them in questionnaire(data, group = ...)."
    })
}

# The rows of each group, named by its value (values joined by " / " for several columns), and
# findings about groups that are too small to say anything of. `least`: groups with fewer people are
# left out.
split_people <- function(x, by, least = 2L) {
  if (is.null(by)) return(list(rows = list(all = seq_len(nrow(x$values$answers))), findings = NULL))
  known <- x$settings$group
  absent <- setdiff(by, known)
  if (!is.character(by) || length(absent)) {
    got <- if (is.character(by)) sprintf("%s came.", name_culprits(by)) else describe_value(by)
    stop_by(got, known)
  }
  label <- joined_groups(x$values$people[by])
  rows <- split(seq_along(label), label)
  small <- names(rows)[lengths(rows) < least]
  nameless <- sum(is.na(label))
  findings <- bind_findings(if (length(small)) {
    new_finding("small_group", count_of(least, "person", "people"), name_culprits(small),
      value = length(small), limit = least)
  }, if (nameless) {
    new_finding("no_group", count_of(nameless, "person is", "people are"), join_words(by),
      value = nameless, limit = least)
  })
  rows <- rows[lengths(rows) >= least]
  if (!length(rows)) {
    stop_input("groups", sprintf("There must be a group with at least %d people.", least),
      got = "There is none.")
  }
  list(rows = rows, findings = findings)
}

# What `judge` (of a questionnaire, giving a tibble of one row) says of each group of people, and
# for a group that cannot be judged `blank` and why. `stage` names the finding about such groups.
judge_groups <- function(x, by, stage, judge, blank) {
  if (!is_questionnaire(x)) {
    check_class(x, "x", "questionnaire", "questionnaire() when `by` is given")
  }
  split <- split_people(x, by)
  rows <- lapply(names(split$rows), function(name) {
    people <- split$rows[[name]]
    part <- subset_people(x, people)
    said <- tryCatch(tibble::add_column(judge(part), why = NA_character_),
      softsieve_error = function(e) {
        tibble::add_column(blank, why = paste(c(rlang::cnd_header(e), e$body), collapse = " "))
      })
    tibble::add_column(said, group = name, people = length(people), .before = 1L)
  })
  groups <- do.call(rbind, rows)
  failed <- groups[!is.na(groups$why), ]
  unjudged <- if (nrow(failed)) {
    new_finding("group_not_judged", failed$group,
      vapply(failed$people, count_of, "", one = "person", many = "people"), failed$why,
      stage = stage)
  }
  list(groups = groups, findings = bind_findings(split$findings, unjudged))
}

# The values of several group columns as one word; NA where one is missing.
joined_groups <- function(columns) {
  columns <- lapply(columns, as.character)
  of <- do.call(paste, c(unname(columns), sep = " / "))
  of[Reduce(`|`, lapply(columns, is.na))] <- NA
  of
}
