#' What a score is made of, item by item
#'
#' A score is a sum: of each item's weight times how far its value lies from the mean. This shows
#' the parts of one row's scores, largest first, and the rows whose scores are nearest.
#'
#' @param scores What [score_respondents()] returned, of factors, components or scales.
#' @param data The answers that it scored.
#' @param row Which row: its number, or its id where there is one.
#' @param nearest How many of the nearest rows are named.
#' @return An object of class `score_parts` ([softsieve-result]); `values` holds `parts` (tibble,
#'   one row for each score and item that counts, largest first: `score`, `item`, `wording`, `value`
#'   (as it is analysed), `mean`, `weight`, `part`; the parts of a score add up to it), `scores`
#'   (tibble: `score`, `value`), and `nearest` (tibble: `row`, `id`,
#'   `distance` in standard deviations of the scores, and the scores).
#' @section Errors: `softsieve_error_row` (no such row, or it has no score; values are missing, so
#'   that scores were made by other weights), `softsieve_error_class`.
#' @family scores
#' @examples
#' log <- questionnaire(repair_log, id = day, measured = TRUE, called = c(row = "day"))
#' busy <- factor_solution(log, 3, method = "components", rotation = "varimax")
#' explain_score(score_respondents(busy, log), log, "2022-01-15")
#' @export
explain_score <- function(scores, data, row, nearest = 3L) {
  check_class(scores, "scores", "respondent_scores", "score_respondents()")
  if (missing(data) || missing(row)) {
    stop_input("argument", "`data` and `row` must say whose scores are explained.",
      got = "Nothing came.", todo = "For example explain_score(scores, answers, 1).")
  }
  nearest <- check_whole(nearest, "nearest", 0L, 100L)
  v <- scores$values
  names <- v$factors$factor
  given <- answers_by_key(data, v$key, v$items$item, "scores")
  if (nrow(given$answers) != nrow(v$scores)) {
    stop_input("row", "`data` must be the rows that were scored.",
      got = sprintf("%s came, %s were scored.", count_of(nrow(given$answers), "row"),
        format_count(nrow(v$scores))))
  }
  id <- scores$settings$id
  ids <- if (length(id)) as.character(v$scores[[id]]) else as.character(seq_len(nrow(v$scores)))
  at <- settle_row(row, ids, length(id) > 0L)
  value <- given$answers[at, ]
  units <- units_of_scores(v$items, value, scores$settings$of)
  if (anyNA(value)) {
    stop_input("row", "Parts can be told of rows that have every value.",
      got = sprintf("Row %s lacks %s.", ids[at], name_culprits(v$items$item[is.na(value)])),
      todo = "Its scores were made with other weights, or a mean in the place of what is missing.")
  }
  parts <- stack_rows(lapply(names, function(name) {
    w <- v$weights[, name]
    made <- tibble_of(score = name, item = v$items$item, wording = v$items$wording,
      value = unname(value), mean = units$mean, weight = unname(w * units$sign / units$sd),
      part = unname(w * units$z))
    made <- made[w != 0, ]
    made[order(-abs(made$part)), ]
  }))
  own <- v$scores[names]
  values <- list(parts = parts,
    scores = tibble_of(score = names, value = unlist(own[at, ], use.names = FALSE)),
    nearest = nearest_rows(as.matrix(own), at, ids, nearest), row = ids[at])
  new_result("score_parts", values, scores$settings, findings_that_travel(scores$findings),
    scores$source, match.call())
}

settle_row <- function(row, ids, by_id) {
  at <- if (length(row) == 1L && !is.na(row)) match(as.character(row), ids) else NA
  # (a number comes from the command as text)
  if (checkmate::test_string(row, pattern = "^[0-9]{1,9}$")) row <- as.integer(row)
  whole <- checkmate::test_int(row, lower = 1, upper = length(ids))
  if (is.na(at) && whole) at <- as.integer(row)
  if (!is.na(at)) return(at)
  stop_input("row",
    if (by_id) "`row` must be an id, or the number of a row." else "`row` must be a row's number.",
    got = describe_value(row),
    todo = c(if (by_id) hint_nearest(as.character(row)[1L], ids),
      sprintf("There are %s.", count_of(length(ids), "row"))))
}

# What values are compared with, and their standardised values: as scores were made.
units_of_scores <- function(items, value, of) {
  if (!is.null(items[["unit_sd"]])) {
    return(list(mean = items$unit_mean, sd = items$unit_sd, sign = items$unit_sign,
      z = (value - items$unit_mean) / items$unit_sd * items$unit_sign))
  }
  if (of == "scales") return(list(mean = 0, sd = 1, sign = 1, z = value))
  list(mean = items$mean, sd = items$sd, sign = 1, z = (value - items$mean) / items$sd)
}

nearest_rows <- function(y, at, ids, count) {
  spread <- apply(y, 2L, stats::sd, na.rm = TRUE)
  away <- sqrt(rowSums(sweep(sweep(y, 2L, y[at, ]), 2L, spread, "/")^2))
  rows <- utils::head(setdiff(order(away), c(at, which(is.na(away)))), count)
  tibble::tibble(row = rows, id = ids[rows], distance = away[rows],
    tibble::as_tibble(y[rows, , drop = FALSE]))
}

#' @exportS3Method tibble::as_tibble
as_tibble.score_parts <- function(x, ...) x$values$parts

#' @export
glance.score_parts <- function(x, ...) {
  check_dots_empty(...)
  p <- x$values$parts
  tibble_of(row = x$values$row, scores = nrow(x$values$scores),
    largest = p$item[which.max(abs(p$part))], part = p$part[which.max(abs(p$part))])
}
