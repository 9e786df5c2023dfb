#' Score people on the factors
#'
#' Regression scores: the best linear prediction of each factor from a person's answers, in standard
#' deviations from the mean of the people the solution came from. People with gaps are scored from
#' what they answered, with the weights that are best for those items.
#'
#' @param solution A `factor_solution`.
#' @param data A [questionnaire()] of the same items, keyed in the same way, or a data frame with
#'   raw answers: these are keyed as the solution's were (ends of the answer scale, reversed items,
#'   labels and missing codes of its codebook). Items that are absent count as left out by
#'   everybody, and are told.
#' @param answered_share Share of the items a person must have answered to be scored, from 0 to 1.
#' @return An object of class `respondent_scores` ([softsieve-result]); `values` holds `scores`
#'   (tibble, one row for each person in the order of the data: the id and group columns, `answered`
#'   (how many items), and a column for each factor, `NA` for people with too few answers) and
#'   `factors` (tibble: `factor`, `determinacy`, the correlation of the score with the factor when
#'   nothing is missing, from 0 to 1, and `sd` of the scores).
#' @section Errors: `softsieve_error_other_items` when the data have other items than the solution;
#'   `softsieve_error_other_key` (a questionnaire keyed otherwise than the solution's),
#'   `softsieve_error_out_of_range`, `softsieve_error_text_in_item`, `softsieve_error_class`.
#' @section Findings: those that travel with the solution, `items_absent`, `beyond_earlier_answers`
#'   (outside the answers that the solution's people gave, where no codebook told the ends),
#'   `against_key` (an item that runs against the others here: was it turned round already?),
#'   `not_scored`, `low_determinacy`, `determinacy_by_model`, `own_norms` (the solution came from a
#'   bare correlation matrix: these people's own means and standard deviations were used).
#' @section Formula: S' inv(R) z, S being the structure matrix, R the items' correlations and z the
#'   standardised answers; rows and columns of unanswered items are left out. Determinacy:
#'   sqrt(diag(S' inv(R) S)); where the observed R could not come together with such factors (the
#'   value would pass 1 in some direction), R is what the model reproduces, and a finding says so.
#' @references Thurstone, L. L. (1935). *The vectors of mind*. University of Chicago Press.
#'
#'   Guttman, L. (1955). The determinacy of factor score matrices with implications for five other
#'   basic problems of common-factor theory. *British Journal of Statistical Psychology*, 8, 65-81.
#'
#'   Grice, J. W. (2001). Computing and evaluating factor scores. *Psychological Methods*, 6,
#'   430-450.
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' score_respondents(factor_solution(motives, seed = 1), motives)
#' @export
score_respondents <- function(solution, data, answered_share = cutoff("answered_share")) {
  call <- environment()
  check_class(solution, "solution", "factor_solution", "factor_solution()")
  check_number(answered_share, "answered_share", 0, 1)
  items <- solution$values$items
  if (!is_questionnaire(data) && !is.data.frame(data)) {
    check_class(data, "data", "questionnaire", "questionnaire(), or a data frame,")
  }
  given <- answers_by_key(data, solution$values$key, items$item, call)
  answers <- given$answers
  norms <- settle_norms(items, answers)
  z <- sweep(sweep(answers, 2L, norms$mean), 2L, norms$sd, "/")
  answered <- rowSums(!is.na(z))
  usable <- answered >= max(1, answered_share * ncol(z))
  scores <- spec_of("score", "regression")$score(
    z,
    solution$values$correlations,
    solution$values$structure,
    usable
  )
  determinacy <- determinacy_of(solution)
  factors <- tibble::tibble(
    factor = colnames(scores),
    determinacy = determinacy$values,
    sd = unname(apply(scores, 2L, stats::sd, na.rm = TRUE))
  )
  people <- given$people
  table <- tibble::as_tibble(cbind(
    people,
    tibble::tibble(answered = as.integer(answered)),
    as.data.frame(scores)
  ))
  settings <- c(
    solution$settings,
    list(score = "regression", answered_share = answered_share, norms = norms$by)
  )
  new_result(
    "respondent_scores",
    list(scores = table, factors = factors),
    settings,
    bind_findings(
      findings_that_travel(solution$findings),
      given$findings,
      find_against_key(answers, solution$values$correlations),
      find_in_scores(usable, factors, norms$by, answered_share, determinacy$by_model)
    ),
    given$source,
    match.call()
  )
}

#' @exportS3Method tibble::as_tibble
as_tibble.respondent_scores <- function(x, ...) x$values$scores

settle_norms <- function(items, answers) {
  if (!anyNA(items$mean)) {
    return(list(mean = items$mean, sd = items$sd, by = "the solution's people"))
  }
  list(
    mean = colMeans(answers, na.rm = TRUE),
    sd = apply(answers, 2L, stats::sd, na.rm = TRUE),
    by = "these people"
  )
}

# Determinacy of each factor, and whether the reproduced correlations had to be taken for it.
determinacy_of <- function(solution) {
  v <- solution$values
  reproduced <- core_reproduced(v$loadings, v$factor_correlations, v$items$uniqueness)
  found <- core_determinacy(v$correlations, v$structure, v$factor_correlations, reproduced)
  list(values = unname(found$values), by_model = found$by_model)
}

find_in_scores <- function(usable, factors, norms, answered_share, by_model) {
  low <- factors[factors$determinacy < cutoff("determinacy"), ]
  bind_findings(
    if (!all(usable)) {
      new_finding(
        "not_scored",
        count_of(sum(!usable), "person", "people"),
        format_share(answered_share),
        value = sum(!usable),
        limit = answered_share
      )
    },
    if (nrow(low)) {
      new_finding(
        "low_determinacy",
        low$factor,
        format_unit(low$determinacy),
        value = low$determinacy,
        limit = cutoff("determinacy")
      )
    },
    if (by_model) {
      new_finding("determinacy_by_model")
    },
    if (norms == "these people") {
      new_finding("own_norms")
    }
  )
}

#' @export
tidy.respondent_scores <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scores
  factors <- x$values$factors$factor
  beside <- s[setdiff(names(s), factors)]
  tibble::tibble(
    beside[rep(seq_len(nrow(s)), length(factors)), ],
    factor = rep(factors, each = nrow(s)),
    score = unlist(s[factors], use.names = FALSE)
  )
}

#' @export
glance.respondent_scores <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scores
  f <- x$values$factors
  tibble::tibble(
    people = nrow(s),
    scored = sum(!is.na(s[[f$factor[1L]]])),
    factors = nrow(f),
    lowest_determinacy = min(f$determinacy)
  )
}

#' Scores beside the data, and scores of new people
#'
#' `augment()` puts the scores of [score_respondents()] beside the data; `predict()` gives the
#' scores alone, one row for each person.
#'
#' @param x,object A factor solution, as [factor_solution()] returns it.
#' @param data,newdata Answers of the same items: a [questionnaire()], or a data frame, which is
#'   keyed as the solution's answers were.
#' @param ... Nothing, for the generic's sake; in `predict()` what [score_respondents()] takes.
#' @return A tibble: the data (of a questionnaire: its people and answers) with a column for each
#'   factor, or these columns alone.
#' @section Errors: `softsieve_error_argument` when the data have a column of a factor's name
#'   already; otherwise those of [score_respondents()].
#' @family results
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, factors = 4, seed = 1)
#' augment(solution, repair_cafe)
#' predict(solution, repair_cafe[1:3, ])
#' @export
augment.factor_solution <- function(x, data = NULL, ...) {
  check_dots_empty(...)
  scored <- in_name_of(environment(), score_respondents(x, data))
  scores <- scored$values$scores[scored$values$factors$factor]
  beside <- if (is_questionnaire(data)) as_tibble(data) else tibble::as_tibble(data)
  there <- intersect(names(beside), names(scores))
  if (length(there)) {
    stop_input(
      "argument",
      "The data must not have columns of the factors' names.",
      got = sprintf("They have: %s.", name_culprits(there)),
      todo = "Name these columns otherwise, or take score_respondents()."
    )
  }
  tibble::add_column(beside, scores)
}

#' @rdname augment.factor_solution
#' @export
predict.factor_solution <- function(object, newdata = NULL, ...) {
  scored <- in_name_of(environment(), score_respondents(object, newdata, ...))
  scored$values$scores[scored$values$factors$factor]
}
