# How well scores stand for what they are scores of, and what there is to tell of them.

quality_of_scores <- function(scoring, found) {
  scores <- found$scores
  common <- list(factor = scoring$names, people = unname(as.integer(colSums(!is.na(scores)))),
    mean = unname(colMeans(scores, na.rm = TRUE)), sd = column_sds(scores))
  own <- if (scoring$of == "scales") {
    known <- found[["reliability"]]
    list(items = unname(as.integer(colSums(scoring$members))),
      reliability = if (is.null(known)) rep(NA_real_, length(scoring$names)) else known)
  } else {
    list(determinacy = scoring$determinacy,
      smallest = core_smallest_correlation(scoring$determinacy),
      validity = unname(diag(validity_of(scoring))))
  }
  tibble::as_tibble(c(common, own))
}

validity_of <- function(scoring) {
  m <- scoring$model
  has <- if (is.null(scoring$answered)) rep(TRUE, nrow(m$structure)) else scoring$answered
  weights <- weights_by_answered(scoring)(has)
  core_score_validity(weights, m$told_by[has, has], m$structure[has, , drop = FALSE])
}

# Determinacy, and what scores have of the factors, without the items that nobody answered.
quality_of_answered <- function(scoring, answers) {
  has <- unname(colSums(!is.na(answers)) > 0)
  if (all(has) || !any(has)) return(scoring)
  part <- core_part_of_model(scoring$model, has)
  whole <- scoring$model$reproduced[has, has, drop = FALSE]
  found <- core_determinacy(part$correlations, part$structure, part$between, whole)
  scoring$answered <- has
  scoring$by_model <- found$by_model
  scoring$determinacy <- unname(found$values)
  scoring
}

# Two by two: correlations of the factors, of the scores by formula, and of these people's scores.
correlations_of_scores <- function(scoring, scores) {
  k <- length(scoring$names)
  if (k < 2L) return(NULL)
  at <- which(lower.tri(diag(k)), arr.ind = TRUE)
  other <- at[, "row"]
  first <- at[, "col"]
  none <- matrix(NA_real_, k, k)
  observed <- if (nrow(scores) < 2L) {
    none
  } else {
    suppressWarnings(stats::cor(scores, use = "pairwise.complete.obs"))
  }
  m <- scoring$model
  scales <- scoring$of == "scales"
  between <- if (scales) none else m$between
  by_formula <- if (scales) {
    none
  } else {
    core_score_correlations(m$told_by, scoring$weights, scoring$weights)
  }
  validity <- if (scales) none else validity_of(scoring)
  pick <- function(x, i, j) unname(x[cbind(i, j)])
  tibble_of(factor = scoring$names[first], with = scoring$names[other],
    factors = pick(between, first, other), scores = pick(by_formula, first, other),
    observed = pick(observed, first, other), leaks = pick(validity, first, other),
    leaks_back = pick(validity, other, first))
}

find_in_scores <- function(x, scoring, found, given, least) {
  bind_findings(find_gaps_in_scores(scoring, found, least), find_without_variance(x, scoring),
    if (scoring$of == "scales") find_ranges(scoring) else find_in_factor_scores(x, scoring))
}

# People without scores, and those who were scored with missing answers.
find_gaps_in_scores <- function(scoring, found, least) {
  why <- if (scoring$missing == "none") {
    "an answer is missing"
  } else {
    sprintf("fewer than %s of the items answered%s", format_share(least$share),
      if (least$number > 1L) sprintf(", or fewer than %d", least$number) else "")
  }
  tell <- function(code, counts, why) {
    if (!any(counts > 0)) return(NULL)
    new_finding(code, people_on(counts, scoring$names), why, value = max(counts))
  }
  bind_findings(tell("not_scored", found$too_few, why),
    tell("not_scored", found$unanswered, "none of the items answered that load on it"),
    tell("not_scored", found$impossible, "the method needs more of the items"),
    tell("scored_with_missing", found$with_missing, MISSING_ANSWERS[[scoring$missing]]))
}

# "114 people", or "114 people on F1, 99 on F3".
people_on <- function(counts, names) {
  if (length(unique(counts)) == 1L) return(count_of(counts[1L], "person", "people"))
  hit <- which(counts > 0)
  first <- count_of(counts[hit[1L]], "person", "people")
  name_culprits(sprintf("%s on %s", c(first, format_count(counts[hit[-1L]])), names[hit]))
}

find_in_factor_scores <- function(x, scoring) {
  low <- which(scoring$determinacy < cutoff("determinacy"))
  middling <- setdiff(which(scoring$determinacy < cutoff("determinacy_person")), low)
  bound <- x$findings$item[x$findings$code == "improper_solution"]
  between <- scoring$model$between
  correlate <- any(abs(between[upper.tri(between)]) > 1e-8)
  kind <- x$settings$kind
  bind_findings(
    if (length(low)) {
      new_finding("low_determinacy", scoring$names[low], format_unit(scoring$determinacy[low]),
        format_unit(core_smallest_correlation(scoring$determinacy[low])),
        value = scoring$determinacy[low], limit = cutoff("determinacy"))
    },
    if (length(middling)) {
      new_finding("determinacy_for_groups", scoring$names[middling],
        format_unit(scoring$determinacy[middling]), item = scoring$names[middling],
        value = scoring$determinacy[middling], limit = cutoff("determinacy_person"))
    },
    if (scoring$by_model) new_finding("determinacy_by_model"),
    if (length(bound)) new_finding("improper_scores", name_culprits(bound), value = length(bound)),
    if (scoring$spec$name == "anderson_rubin" && correlate) new_finding("scores_uncorrelated"),
    if (!is.null(kind) && !kind_is(kind, "like_pearson") && !answers_modelled(x)) {
      new_finding("scores_of_given_answers", KINDS[[kind]]$label)
    },
    if (identical(scoring$units$by, "these people")) new_finding("own_norms"))
}

# Scales that add items of different ranges, where the ranges are known.
find_ranges <- function(scoring) {
  key <- scoring$key
  if (is.null(key)) return(NULL)
  width <- key$highest - key$lowest
  hit <- vapply(seq_along(scoring$names), function(j) {
    own <- width[scoring$members[, j] > 0]
    any(key$ends_by == "codebook") && length(unique(own[!is.na(own)])) > 1L
  }, NA)
  if (!any(hit)) return(NULL)
  new_finding("ranges_mixed", scoring$names[hit], item = scoring$names[hit])
}

# Are determinacy and errors those of the answers as given?
answers_modelled <- function(x) {
  !is.null(x$values$item_correlations$values$thresholds) &&
    one_of_model(x$settings) == "factor"
}
