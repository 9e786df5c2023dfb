#' Score people on the factors
#'
#' Regression scores: the best linear prediction of each factor from a person's answers, in standard
#' deviations from the mean of the people the solution came from. People with gaps are scored from
#' what they answered, with the weights that are best for those items.
#'
#' @param solution A `factor_solution`.
#' @param data A [questionnaire()] or a data frame with the same items, keyed in the same way.
#' @param answered_share Share of the items a person must have answered to be scored, from 0 to 1.
#' @return An object of class `respondent_scores` ([softsieve-result]); `values` holds `scores`
#'   (tibble, one row for each person in the order of the data: the id and group columns, `answered`
#'   (how many items), and a column for each factor, `NA` for people with too few answers) and
#'   `factors` (tibble: `factor`, `determinacy`, the correlation of the score with the factor when
#'   nothing is missing, and `sd` of the scores).
#' @section Errors: `softsieve_error_other_items` when the data have other items than the solution;
#'   `softsieve_error_class`.
#' @section Findings: `not_scored`, `low_determinacy`, `own_norms` (the solution came from a bare
#'   correlation matrix: these people's own means and standard deviations were used).
#' @section Formula: S' inv(R) z, S being the structure matrix, R the items' correlations and z the
#'   standardised answers; rows and columns of unanswered items are left out.
#' @references Thurstone, L. L. (1935). *The vectors of mind*. University of Chicago Press.
#'
#'   Guttman, L. (1955). The determinacy of factor score matrices with implications for five other
#'   basic problems of common-factor theory. *British Journal of Statistical Psychology*, 8, 65-81.
#'
#'   Grice, J. W. (2001). Computing and evaluating factor scores. *Psychological Methods*, 6, 430-450.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' score_respondents(factor_solution(motives, seed = 1), motives)
#' @export
score_respondents <- function(solution, data, answered_share = cutoff("answered_share")) {
  call <- environment()
  check_class(solution, "solution", "factor_solution", "factor_solution()")
  check_number(answered_share, "answered_share", 0, 1)
  items <- solution$values$items
  if (is.data.frame(data) && all(items$item %in% names(data))) {
    data <- in_name_of(call, questionnaire(data, items = tidyselect::all_of(items$item)))
  }
  check_same_items(data, items$item, call)
  answers <- data$values$answers[, items$item, drop = FALSE]
  norms <- settle_norms(items, answers)
  z <- sweep(sweep(answers, 2L, norms$mean), 2L, norms$sd, "/")
  answered <- rowSums(!is.na(z))
  usable <- answered >= max(1, answered_share * ncol(z))
  scores <- core_regression_scores(z, solution$values$correlations, solution$values$structure, usable)
  factors <- tibble::tibble(
    factor = colnames(scores), determinacy = unname(core_determinacy(solution$values$correlations,
                                                                     solution$values$structure)),
    sd = unname(apply(scores, 2L, stats::sd, na.rm = TRUE))
  )
  people <- data$values$people
  table <- tibble::as_tibble(cbind(people, tibble::tibble(answered = as.integer(answered)), as.data.frame(scores)))
  settings <- c(solution$settings, list(score = "regression", answered_share = answered_share, norms = norms$by))
  new_result("respondent_scores", list(scores = table, factors = factors), settings,
             find_in_scores(usable, factors, norms$by, answered_share), data$source, match.call())
}

#' @export
as_tibble.respondent_scores <- function(x, ...) x$values$scores

check_same_items <- function(data, wanted, call) {
  has <- if (is_questionnaire(data)) data$values$items$item else if (is.data.frame(data)) names(data)
  if (is.null(has)) check_class(data, "data", "questionnaire", "questionnaire(), or a data frame,", call = call)
  absent <- setdiff(wanted, has)
  extra <- if (is_questionnaire(data)) setdiff(has, wanted)
  if (!length(absent) && !length(extra)) return(invisible())
  stop_input("other_items", "The data must have the items that the solution was made of.",
             got = c(if (length(absent)) sprintf("Not in the data: %s.", name_culprits(absent)),
                     if (length(extra)) sprintf("Not in the solution: %s.", name_culprits(extra))),
             todo = "Score with a solution of these items.", call = call)
}

settle_norms <- function(items, answers) {
  if (!anyNA(items$mean)) return(list(mean = items$mean, sd = items$sd, by = "the solution's people"))
  list(mean = colMeans(answers, na.rm = TRUE), sd = apply(answers, 2L, stats::sd, na.rm = TRUE), by = "these people")
}

find_in_scores <- function(usable, factors, norms, answered_share) {
  low <- factors[factors$determinacy < cutoff("determinacy"), ]
  finding <- function(code, severity, text, ...) new_finding("score", code, severity, text, ...)
  bind_findings(
    if (!all(usable)) finding("not_scored", "note", value = sum(!usable), limit = answered_share,
                              text = sprintf("%s not scored: fewer than %s of the items answered.",
                                             count_of(sum(!usable), "person", "people"),
                                             format_share(answered_share))),
    if (nrow(low)) finding("low_determinacy", "caution", value = low$determinacy, limit = cutoff("determinacy"),
                           text = sprintf("Scores on %s correlate only %s with the factor: too little to speak of single persons.",
                                          low$factor, format_unit(low$determinacy))),
    if (norms == "these people") finding("own_norms", "note",
                                         text = "The solution came from a correlation matrix: answers were standardised by these people's own means and deviations.")
  )
}
