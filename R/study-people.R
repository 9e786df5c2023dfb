# From everybody in the file to those that each test is of.

# One row for each step at which people may be left out: `step` in words, `out`, `left`, `why` (a
# name) and `conditions`.
people_left <- function(study) {
  v <- study$values
  kept <- v$questionnaire$findings
  kept <- kept[kept$code == "people_kept", ]
  answers <- v$questionnaire$values$answers
  empty <- sum(rowSums(!is.na(answers)) == 0L)
  n <- nrow(answers)
  rows <- list(list("In the file", NA, if (nrow(kept)) kept$limit[1L] else n, "", ""),
    if (nrow(kept)) {
      said <- paste(v$questionnaire$settings$kept, collapse = "; ")
      list("Met the condition for inclusion", kept$limit[1L] - n, n, "filtered", said)
    },
    list("Answered an item", empty, n - empty, "unanswered", ""))
  if (!is.null(v$correlations)) rows <- c(rows, steps_of_correlations(v, n - empty))
  if (!is.null(v$scores)) {
    scored <- sum(stats::complete.cases(score_matrix(v$scores)))
    rows <- c(rows, list(list("Have scores on all factors", NA, scored, "scored", "")))
  }
  rows <- rows[!vapply(rows, is.null, NA)]
  tibble::tibble(step = vapply(rows, `[[`, "", 1L),
    out = vapply(rows, function(row) as.integer(row[[2L]]), 0L),
    left = vapply(rows, function(row) as.integer(row[[3L]]), 0L), why = vapply(rows, `[[`, "", 4L),
    conditions = vapply(rows, `[[`, "", 5L))
}

steps_of_correlations <- function(v, there) {
  r <- v$correlations$values
  complete <- v$correlations$settings$missing == "complete"
  pair <- range(r$n_pair[upper.tri(r$n_pair)])
  range <- if (pair[1L] < pair[2L]) {
    sprintf("Answered both items of a pair (%s at most)", format_count(pair[2L]))
  }
  list(
    if (complete) list("Answered all items", there - r$people, r$people, "incomplete", ""),
    if (!is.null(range)) list(range, NA, pair[1L], "pairs", ""),
    list("Effective size of tests", NA, r$n, "tests", ""))
}

score_matrix <- function(scores) as.matrix(scores$values$scores[scores$values$factors[[1L]]])
