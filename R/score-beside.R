#' Scores with the data, and scores of new people
#'
#' `augment()` adds the scores of [score_respondents()] to the data; `predict()` gives the
#' scores alone, one row for each person. Both key and standardise new answers as those of the
#' people that the solution or scales came from; items that are absent are missing answers, and
#' reported as messages.
#'
#' @param x,object A factor solution ([factor_solution()]), or a scale set ([form_scales()]).
#' @param data,newdata Answers of the same items: a [questionnaire()], or a data frame, which is
#'   keyed as the answers behind `x` were.
#' @param ... What [score_respondents()] takes: `method`, `missing`, `errors`, `also`, ...
#' @param replace Put scores in the place of columns of the same name? Otherwise these are an error.
#' @return A tibble: the data (of a questionnaire: its people and answers) with the columns of
#'   scores, or these columns alone.
#' @section Errors: `softsieve_error_columns` when the data have a column of a score's name already;
#'   otherwise those of [score_respondents()].
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, factors = 4, seed = 1)
#' augment(solution, repair_cafe)
#' predict(solution, repair_cafe[1:3, ], errors = TRUE)
#' predict(form_scales(solution), repair_cafe[1:3, ])
#'
#' # scores into a classifier: weights are learned on one half of the people, tried on the other
#' set.seed(1)
#' half <- sample(c(TRUE, FALSE), nrow(repair_cafe), replace = TRUE)
#' learn <- questionnaire(repair_cafe[half, ], codebook = repair_cafe_codebook, group = cafe)
#' scores_from <- factor_solution(learn, factors = 4, seed = 1)
#' here <- predict(scores_from, repair_cafe[half, ])
#' there <- predict(scores_from, repair_cafe[!half, ])
#' if (requireNamespace("rpart", quietly = TRUE)) {
#'   tree <- rpart::rpart(cafe ~ ., data.frame(cafe = repair_cafe$cafe[half], here))
#'   guess <- predict(tree, data.frame(there), type = "class")
#'   mean(guess == repair_cafe$cafe[!half])
#' }
#' @name softsieve-beside
#' @aliases augment.factor_solution predict.factor_solution
NULL

#' @rdname softsieve-beside
#' @export
augment.factor_solution <- function(x, data = NULL, ..., replace = FALSE) {
  put_beside(x, data, replace, ...)
}

#' @rdname softsieve-beside
#' @export
augment.softsieve_scale_set <- function(x, data = NULL, ..., replace = FALSE) {
  put_beside(x, data, replace, ...)
}

#' @export
augment.softsieve_result <- function(x, ...) {
  stop_input("class", "Only a solution or scales can be put beside answers, as scores.",
    got = describe_value(x), todo = "as_tibble() gives what this result holds, as a table.")
}

#' @rdname softsieve-beside
#' @export
predict.factor_solution <- function(object, newdata = NULL, ...) {
  score_columns_of(told_scores(object, newdata, ...))
}

#' @rdname softsieve-beside
#' @export
predict.softsieve_scale_set <- function(object, newdata = NULL, ...) {
  score_columns_of(told_scores(object, newdata, ...))
}

put_beside <- function(x, data, replace, ...) {
  check_flag(replace, "replace")
  scores <- score_columns_of(told_scores(x, data, ...))
  beside <- if (is_questionnaire(data)) as_tibble(data) else tibble::as_tibble(data)
  there <- intersect(names(beside), names(scores))
  if (length(there) && !replace) {
    stop_input("columns", "The data must not have columns of the scores' names.",
      got = sprintf("They have: %s.", name_culprits(there)),
      todo = "replace = TRUE puts the scores in their place; or name these columns otherwise.")
  }
  beside[names(scores)] <- scores
  beside
}

# The scores; as there is no print that tells them, findings that change what scores mean are told
# as messages.
TOLD_BESIDE <- c("items_absent", "not_scored", "against_key", "beyond_earlier_answers", "no_norms")

told_scores <- function(x, data, ...) {
  scored <- score_respondents(x, data, ...)
  told <- scored$findings[scored$findings$code %in% TOLD_BESIDE, ]
  for (text in unique(told$text)) message(text)
  scored
}

# What the table has beside people: the scores with all that stands by them.
score_columns_of <- function(scored) {
  table <- scored$values$scores
  table[-seq_len(match("answered", names(table)))]
}
