# Reliability in groups of people, and over time.

# Alpha with Feldt's interval and omega of each scale in each group, and a test of equal alphas.
reliability_by_group <- function(scales, answers, by, level, ...) {
  if (is.null(answers)) {
    check_class(answers, "data", "questionnaire", "questionnaire() when `by` is given")
  }
  split <- split_people(answers, by, least = 10L)
  rows <- list()
  failed <- list()
  for (name in names(split$rows)) {
    people <- split$rows[[name]]
    part <- subset_people(answers, people)
    said <- tryCatch(group_rows(scales, part, name, length(people), level, ...),
      softsieve_error = function(e) e)
    if (is.data.frame(said)) {
      rows <- c(rows, list(said))
    } else {
      failed <- c(failed,
        list(new_finding("group_not_judged", name, count_of(length(people), "person", "people"),
          rlang::cnd_header(said))))
    }
  }
  groups <- do.call(rbind, rows)
  tests <- if (length(rows) > 1L) {
    test_equal_alphas(groups, lengths(split(scales$values$scales$item, scales$values$scales$scale)))
  }
  differ <- tests[!is.na(tests$p) & tests$p < cutoff("alphas_differ_p"), ]
  list(groups = groups, tests = tests,
    findings = do.call(bind_findings, c(list(split$findings), failed, list(if (NROW(differ)) {
      new_finding("alphas_differ", differ$scale, format_p(differ$p), value = differ$p,
        limit = cutoff("alphas_differ_p"))
    }))))
}

group_rows <- function(scales, part, name, people, level, ...) {
  given <- gather_reliability(scales, part, 1L, ...)
  rows <- lapply(seq_along(given$members), function(j) {
    at <- which(given$scale_of == j)
    s <- given$covariances[at, at, drop = FALSE]
    n <- pairs_n(given$correlations$values$n_pair, given$items$item[at],
      share_of_tests(given$correlations))
    m <- cpp_measure_covariances(s, rep(1L, length(at)))
    limits <- if (length(at) > 1L) {
      core_alpha_intervals(m[["alpha"]], s, n, level)["feldt", ]
    } else {
      c(NA_real_, NA_real_)
    }
    tibble_of(group = name, people = people, scale = names(given$members)[j], n = n,
      alpha = na_if_nan(m[["alpha"]]), lower = limits[1L], upper = limits[2L],
      omega = na_if_nan(m[["omega"]]))
  })
  do.call(rbind, rows)
}

test_equal_alphas <- function(groups, sizes) {
  rows <- lapply(unique(groups$scale), function(name) {
    g <- groups[groups$scale == name & !is.na(groups$alpha), ]
    found <- if (nrow(g) > 1L) {
      core_equal_alphas(g$alpha, g$n, sizes[[name]])
    } else {
      list(statistic = NA_real_, df = NA_real_, df2 = NA_real_, p = NA_real_)
    }
    tibble_of(scale = name, statistic = found$statistic, df = found$df, df2 = found$df2,
      p = found$p)
  })
  do.call(rbind, rows)
}

# Each scale's score at both waves.
assess_stability <- function(given, again, level) {
  if (is.null(given$answers)) {
    check_class(given$answers, "data", "questionnaire", "questionnaire() when `again` is given")
  }
  first <- given$answers
  key <- key_of(first)
  if (is.data.frame(again)) again <- raw_answers(again, key)
  check_class(again, "again", "questionnaire", "questionnaire()")
  check_keyed_alike(again, key)
  check_scale_items(given$items$item, again$values$items$item)
  again <- questionnaire_in_units(keep_quietly(again, colnames(first$values$answers)),
    given$scales$values$standardised)
  rows <- match_waves(first, again)
  columns <- given$items$item
  both <- lapply(seq_along(given$members), function(j) {
    own <- columns[given$scale_of == j]
    y <- cbind(mean_of_answered(first$values$answers[, own, drop = FALSE])[rows$first],
      mean_of_answered(again$values$answers[, own, drop = FALSE])[rows$again])
    y <- y[stats::complete.cases(y), , drop = FALSE]
    if (nrow(y) < 4L) {
      stop_input("waves", "At least four people must have answered a scale at both waves.",
        got = sprintf("%s: %s.", names(given$members)[j], count_of(nrow(y), "person", "people")))
    }
    found <- core_stability(y, level)
    tibble_of(scale = names(given$members)[j], people = nrow(y), coefficient = found$coefficient,
      estimate = found$estimate, lower = found$lower, upper = found$upper, sem = found$sem,
      smallest_change = found$smallest_change, shift = found$shift)
  })
  do.call(rbind, both)
}

# Rows of the same people: by the id column that both questionnaires have, or as they stand.
match_waves <- function(first, again) {
  id <- intersect(first$settings$id, again$settings$id)
  if (length(id)) {
    one <- as.character(first$values$people[[id[1L]]])
    two <- as.character(again$values$people[[id[1L]]])
    known <- intersect(one[!is.na(one)], two)
    if (length(known)) return(list(first = match(known, one), again = match(known, two)))
    stop_input("waves", "The waves must have people in common.",
      got = sprintf("No value of \"%s\" is in both.", id[1L]))
  }
  people <- c(nrow(first$values$answers), nrow(again$values$answers))
  if (people[1L] == people[2L]) {
    return(list(first = seq_len(people[1L]), again = seq_len(people[1L])))
  }
  stop_input("waves",
    "The second wave must have the same people, in the same order or with the same id column.",
    got = sprintf("%s and %s came.", count_of(people[1L], "person", "people"),
      count_of(people[2L], "person", "people")),
    todo = "Name the column in questionnaire(data, id = ...) for both.")
}
