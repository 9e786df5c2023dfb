# Scores beside those of others: standardised, T scores, percentile ranks, and the norms behind
# them.

FORMS <- c("standardised", "t_score", "percentile")

# Percentile ranks of smaller groups jump from one person to the next.
FEW_FOR_NORMS <- 100L

check_forms <- function(also) {
  if (is.null(also)) return(NULL)
  known <- is.character(also) && checkmate::test_subset(also, FORMS, empty.ok = FALSE)
  if (known) return(FORMS[FORMS %in% also])
  stop_input("argument",
    sprintf("`also` must be one or several of: %s.", paste0('"', FORMS, '"', collapse = ", ")),
    got = describe_value(also),
    todo = if (is.character(also)) hint_nearest(setdiff(also, FORMS)[1L], FORMS) else character())
}

# The group of each person ("all" without groups), and by which columns.
groups_of_people <- function(people, data, by, norms) {
  if (!is.null(norms)) by <- norms_by_of(norms, by)
  if (is.null(by)) return(list(by = NULL, of = rep("all", nrow(people))))
  known <- if (is.data.frame(data)) data else people
  absent <- if (is.character(by)) setdiff(by, names(known)) else by
  if (length(absent)) {
    got <- if (is.character(by)) sprintf("%s came.", name_culprits(absent)) else describe_value(by)
    stop_by(got, names(known))
  }
  list(by = by, of = joined_groups(known[by]))
}

norms_by_of <- function(norms, by) {
  check_class(norms, "norms", "respondent_scores", "score_respondents()")
  own <- norms$settings$norms_by
  if (is.null(by) || identical(by, own)) return(own)
  stop_input("norms", "`by` must be left out with `norms`, or be the same.",
    got = sprintf("The norms are by: %s.", if (is.null(own)) "nothing" else name_culprits(own)))
}

# A list of `forms` (each n x k, named), `norms` (tibble: scale, group, people, mean, sd and
# percentiles) and `table` (every score that the norms' people have, with its forms), findings.
compare_with_norms <- function(scores, groups, also, norms, scoring) {
  if (is.null(also) && is.null(groups$by) && is.null(norms)) return(list())
  own <- is.null(norms)
  known <- if (own) norms_of_people(scores, groups$of) else norms_of_earlier(norms, scoring)
  list(forms = lapply(stats::setNames(also, also), all_forms, scores, groups$of, known),
    norms = known$norms, table = known$table, findings = find_in_norms(groups, known$norms, own))
}

norms_of_people <- function(scores, groups) {
  if (all(is.na(groups))) {
    stop_input("norms", "There must be people to compare with.",
      got = "Nobody is there, or nobody has a group.",
      todo = "Give the norms of an earlier result: norms = ....")
  }
  list(norms = summarise_norms(scores, groups), table = norm_table(scores, groups))
}

# Scores (n x k) in another form, each person beside those of the same group.
all_forms <- function(form, scores, groups, known) {
  out <- scores * NA
  for (scale in colnames(scores)) {
    for (group in unique(known$norms$group)) {
      rows <- which(groups == group)
      out[rows, scale] <- form_of(scores[rows, scale], form, known, scale, group)
    }
  }
  out
}

form_of <- function(scores, form, known, scale, group) {
  of <- function(table) table[table$scale == scale & table$group == group, ]
  if (form == "percentile") {
    own <- of(known$table)
    if (!nrow(own)) return(NA_real_)
    return(core_percentile(scores, rep(own$score, own$people)))
  }
  own <- of(known$norms)
  z <- (scores - own$mean) / own$sd
  if (form == "t_score") 50 + 10 * z else z
}

summarise_norms <- function(scores, groups) {
  stack_rows(lapply(colnames(scores), function(scale) {
    stack_rows(lapply(sort(unique(groups)), function(group) {
      x <- scores[which(groups == group), scale]
      x <- x[!is.na(x)]
      tibble::tibble(scale = scale, group = group, people = length(x), mean = mean(x),
        sd = stats::sd(x), percentiles_of(x))
    }))
  }))
}

percentiles_of <- function(x) {
  at <- stats::quantile(x, c(0.1, 0.25, 0.5, 0.75, 0.9), names = FALSE, na.rm = TRUE)
  tibble::new_tibble(stats::setNames(as.list(at), c("p10", "p25", "p50", "p75", "p90")), nrow = 1L)
}

# Each score that somebody has, and how many have it: what percentile ranks are read from.
norm_table <- function(scores, groups) {
  stack_rows(lapply(colnames(scores), function(scale) {
    stack_rows(lapply(sort(unique(groups)), function(group) {
      x <- scores[which(groups == group), scale]
      counted <- rle(sort(x[!is.na(x)]))
      z <- (counted$values - mean(x, na.rm = TRUE)) / stats::sd(x, na.rm = TRUE)
      tibble_of(scale = scale, group = group, score = counted$values, people = counted$lengths,
        percentile = core_percentile(counted$values, x[!is.na(x)]), standardised = z,
        t_score = 50 + 10 * z)
    }))
  }))
}

norms_of_earlier <- function(norms, scoring) {
  v <- norms$values
  same <- setequal(v$factors$factor, scoring$names) &&
    identical(norms$settings$score, scoring$spec$name)
  if (is.null(v$norms) || !same) {
    stop_input("norms", "`norms` must hold norms of the same scores.", got = if (is.null(v$norms)) {
      "No norms are in it."
    } else {
      sprintf("It has %s of %s.", SCORE_METHODS[[norms$settings$score]]$label,
        name_culprits(v$factors$factor))
    }, todo = "Make them by score_respondents(..., also = \"percentile\").")
  }
  list(norms = v$norms, table = v$norm_table)
}

find_in_norms <- function(groups, summary, own) {
  small <- unique(summary[summary$people < FEW_FOR_NORMS, c("group", "people")])
  small <- small[!duplicated(small$group), ]
  strange <- sum(!groups$of %in% summary$group)
  bind_findings(if (nrow(small)) {
    new_finding("small_norms", name_culprits(sprintf("%s (%d)", small$group, small$people)),
      FEW_FOR_NORMS, value = min(small$people), limit = FEW_FOR_NORMS)
  }, if (strange) {
    new_finding("no_norms", count_of(strange, "person is", "people are"),
      if (own) "no group" else "a group that the norms do not have", value = strange)
  })
}
