# What reliability is worked out from: the items of all scales, their answers and covariances.

# The items of all scales: their answers (a questionnaire, or NULL), correlations, covariances and
# keys.
gather_reliability <- function(scales, data, threads, ...) {
  s <- scales$values$scales
  members <- split(s$item, factor(s$scale, unique(s$scale)))
  behind <- behind_scales(data)
  answers <- behind$answers
  dots <- list(...)
  # correlations that know their answers are made again of the scales' items, in the same way
  if (!is.null(answers) && !is_questionnaire(data)) {
    check_pearson(data)
    dots <- data$settings[c("kind", "missing", "repair")]
  }
  check_scale_items(s$item, behind$items)
  if (!is.null(answers) && length(s$item) > 1L) answers <- keep_quietly(answers, s$item)
  answers <- questionnaire_in_units(answers, scales$values$standardised)
  tables <- behind$tables
  if (!is.null(tables) && length(s$item) > 1L) tables <- keep_counted(tables, s$item)
  correlations <- if (is.null(answers)) {
    correlate_items(data, ...)
  } else {
    call_with(correlate_items, c(list(answers, threads = threads), dots))
  }
  check_pearson(correlations)
  items <- correlations$values$items
  at <- match(s$item, items$item)
  sd <- ifelse(is.na(items$sd[at]), 1, items$sd[at])
  r <- correlations$values$correlations[at, at, drop = FALSE]
  list(scales = scales, members = members, answers = answers, tables = tables,
    correlations = correlations, items = items[at, ], r = r, sd = sd, covariances = r * (sd %o% sd),
    scale_of = rep(seq_along(members), lengths(members)))
}

# What reliability can be worked out from: answers (a questionnaire) or tables (counts), or neither
# of a matrix; and the names of the items there are.
behind_scales <- function(data) {
  if (is_questionnaire(data)) return(list(answers = data, items = data$values$items$item))
  if (is_item_tables(data)) return(list(tables = data, items = data$values$items$item))
  if (!is_result(data, "item_correlations")) return(list(items = colnames(data)))
  v <- data$values
  if (!is.null(v$questionnaire)) return(behind_scales(v$questionnaire))
  list(tables = v$tables, items = v$items$item)
}

check_pearson <- function(correlations) {
  if (kind_is(correlations$settings$kind, "like_pearson")) return(invisible())
  stop_input("argument", "Reliability of a sum of answers must rest on Pearson correlations.",
    got = sprintf("kind = \"%s\" came.", correlations$settings$kind),
    todo = "Leave `kind` out: ordinal coefficients are given with the others.")
}

check_scale_items <- function(items, available) {
  absent <- setdiff(items, available)
  if (!length(absent)) return(invisible())
  stop_input("scales", "Every item of a scale must be among the answers.",
    got = sprintf("Not there: %s.", name_culprits(absent)),
    todo = hint_nearest(absent[1L], available))
}

# What weights leave, and neighbouring rows that depend on each other.
share_of_tests <- function(correlations) {
  effect <- if (length(correlations$settings$order)) correlations$values$design_effect else 1
  correlations$values$effective_share / effect
}

# Tests use the scarcest pair, times that.
pairs_n <- function(n_pair, items, share) {
  n <- n_pair[items, items, drop = FALSE]
  n <- if (length(items) > 1L) min(n[upper.tri(n)]) else n[1L]
  if (share < 1) floor(n * share) else n
}

# The people who enter: all of them, or those without missing answers.
answers_used <- function(given) {
  x <- given$answers$values$answers
  if (given$correlations$settings$missing != "complete") return(x)
  x[stats::complete.cases(x), , drop = FALSE]
}

# Their weights, brought to a mean of 1 over everybody, or NULL.
weights_used <- function(given) {
  weights <- scaled_weights(given$answers)
  if (is.null(weights) || given$correlations$settings$missing != "complete") return(weights)
  weights[stats::complete.cases(given$answers$values$answers)]
}

# A data frame as a questionnaire, keyed as `key` says where there is one.
raw_answers <- function(data, key) {
  there <- if (!is.null(key)) intersect(key$item, names(data))
  if (length(there) < 2L) return(questionnaire(data))
  key_raw_answers(data, key, there, silent = FALSE)
}
