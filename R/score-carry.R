#' From a regression on scores back to the items
#'
#' A model that was fitted on scores says what a step on a factor is worth. As scores are weighted
#' sums of answers, the same model can be written in items: `carry_back()` turns its coefficients
#' into one for each item, standardised and on the scale on which answers were given, with standard
#' errors by the same matrix, and checks that both forms predict the same.
#'
#' @param fit A model whose linear predictor is a sum of scores as they are: an `lm` or `glm` (one
#'   response), or coefficients as a vector named by scores (and `"(Intercept)"`; then there are no
#'   standard errors). Other predictors may be added to the scores and keep their coefficients;
#'   products, powers and transformations of scores cannot be carried back.
#' @param x Where the scores came from: what [score_respondents()] or [score_formula()] returned, a
#'   `factor_solution` or a scale set (then scores are those that `score_respondents()` gives by
#'   itself).
#' @param data Answers ([questionnaire()] or data frame) to check predictions on; left out, those
#'   of the solution. People with missing answers in items that count are passed over.
#' @param replicates How many times the people are resampled, from 20 on, for errors that know
#'   that the weights of scores come from a sample too (solution, scores and fit are made again of
#'   each draw): with `x` a solution that has its answers, an `lm` or `glm` on the scores that
#'   `score_respondents(x, answers)` gives by itself, and at most 5,000 people. 0, and in all other
#'   cases: the fit's covariances carried back, with a finding that errors take the weights as
#'   known.
#' @return An object of class `carried_back` ([softsieve-result]). `values` holds `table` (tibble,
#'   one row for `"(Intercept)"`, each item and each other predictor: `term`, `wording`, `reversed`,
#'   `standardised` and `standardised_error` (of keyed answers in standard deviations), `raw` and
#'   `raw_error` (of one point on the scale on which answers were given)), `covariances` (of `raw`;
#'   `NULL` without standard errors), `scores` (tibble: `score`, `estimate`, `error` in the fit) and
#'   `check` (tibble of one row: `people` compared, `largest` difference of predictions;
#'   `scores_differ`, the largest difference of the fit's scores from those of `x`; `NA` where it
#'   could not be seen).
#' @section Formula: With scores c + B'x of answers x (p x k weights B, see [score_formula()]) and a
#'   predictor b0 + b'(c + B'x): items have the coefficients B b, the intercept is b0 + b'c, and
#'   their covariances are A V A', with V the fit's covariances of (b0, b) and A the matrix that
#'   makes the ones of the others. The covariances have the rank of the scores: p coefficients that
#'   k numbers carry are not free of each other, and none of them is a test of its item.
#' @section Errors: `softsieve_error_fit` (no scores among the terms, scores within other terms,
#'   coefficients that are not determined), `softsieve_error_class`.
#' @inheritParams parallel_analysis
#' @section Findings: `weights_as_known`, `not_checked`, `predictions_differ`,
#'   `other_scores_in_fit`, and those that travel with `x`.
#' @eval describe_papers("Massy (1965)")
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' # an outcome, made up here: hours of help a month
#' set.seed(1)
#' hours <- 6 + 1.5 * rowMeans(repair_cafe[paste0("m", 1:4)], na.rm = TRUE) + rnorm(840)
#'
#' # all component scores, to see which matter
#' all <- extract_components(correlate_items(motives), ncol(motives$values$answers))
#' scored <- score_respondents(all, motives)
#' people <- data.frame(hours, as_tibble(scored))
#' whole <- lm(reformulate(colnames(coef(all)), "hours"), people)
#' head(coef(summary(whole)), 6)
#'
#' # fewer, and are these enough?
#' fewer <- lm(hours ~ C1 + C2 + C3 + C4, people)
#' anova(fewer, whole)
#'
#' # what each item is worth
#' carry_back(fewer, scored, motives)
#' @export
carry_back <- function(fit, x, data = NULL, replicates = 100L, seed = NULL, threads = NULL) {
  if (!identical(replicates, 0) && !identical(replicates, 0L)) {
    replicates <- check_whole(replicates, "replicates", 20L, 1e5L)
  }
  seed <- settle_seed(seed)
  formula <- if (is_result(x, "score_formula")) x else score_formula(x)
  v <- formula$values
  scores <- colnames(v$weights)
  given <- coefficients_of(fit, scores)
  as_given <- carry_matrix(v$weights, v$constant, given$terms)
  center <- if (formula$settings$of == "scales") {
    colSums(v$standardised * v$items$mean / v$items$sd)
  } else {
    rep(0, length(scores))
  }
  in_units <- carry_matrix(v$standardised, center, given$terms)
  errors <- function(a) {
    if (is.null(given$covariances)) return(rep(NA_real_, nrow(a)))
    unname(sqrt(pmax(rowSums((a %*% given$covariances) * a), 0)))
  }
  estimates <- given$estimates
  at <- match(rownames(as_given), v$items$item)
  table <- tibble_of(term = rownames(as_given), wording = v$items$wording[at],
    reversed = v$items$reversed[at], standardised = as.numeric(in_units %*% estimates),
    standardised_error = errors(in_units), raw = as.numeric(as_given %*% estimates),
    raw_error = errors(as_given))
  drawn <- if (replicates > 0 && !is.null(given$covariances)) {
    carried_draws(fit, x, given, replicates, seed, settle_threads(threads))
  }
  covariances <- if (!is.null(given$covariances)) as_given %*% given$covariances %*% t(as_given)
  if (!is.null(drawn$raw)) {
    covariances <- stats::cov(t(drawn$raw))
    table$raw_error <- unname(sqrt(diag(covariances)))
    table$standardised_error <- unname(apply(drawn$standardised, 1L, stats::sd))
  }
  check <- check_carried(fit, x, formula, data, estimates, table)
  new_result("carried_back",
    list(table = table, covariances = covariances,
      scores = tibble_of(
        score = given$terms,
        estimate = unname(estimates),
        error = if (is.null(given$covariances)) NA_real_ else unname(sqrt(diag(given$covariances)))
      ),
      scores_used = sum(given$terms %in% scores), check = check$table),
    c(formula$settings, list(fit = class(fit)[1L], replicates = NCOL(drawn$raw), seed = seed)),
    bind_findings(findings_that_travel(formula$findings), check$findings,
      find_weights_known(given, drawn)),
    formula$source, match.call())
}

# Errors that take the weights for known are too small.
find_weights_known <- function(given, drawn) {
  if (is.null(given$covariances) || !is.null(drawn$raw)) return(NULL)
  why <- if (is.null(drawn)) "no replicates were asked for" else drawn$why
  new_finding("weights_as_known", why)
}

# Terms of the fit, their estimates and covariances: the intercept first (0 where there is none).
coefficients_of <- function(fit, scores) {
  model <- inherits(fit, "lm") && !inherits(fit, "mlm")
  if (!model && !checkmate::test_numeric(fit, finite = TRUE, names = "unique", min.len = 1L)) {
    stop_input("class",
      "`fit` must be an lm or a glm of one response, or a named vector of coefficients.",
      got = describe_value(fit),
      todo = "For example lm(outcome ~ F1 + F2, data), or c(\"(Intercept)\" = 1, F1 = 0.5).")
  }
  estimates <- if (model) stats::coef(fit) else fit
  bare <- function(x) gsub("^`|`$", "", x)
  terms <- bare(names(estimates))
  undetermined <- terms[is.na(estimates)]
  hidden <- setdiff(if (model) bare(labels(stats::terms(fit))) else terms, c(scores, "(Intercept)"))
  hidden <- hidden[vapply(hidden, function(term) any(words_in(term) %in% scores), NA)]
  why <- if (length(undetermined)) {
    c(
      sprintf("Coefficients that are not determined: %s.", name_culprits(undetermined)),
      "Leave these terms out of the model.")
  } else if (length(hidden)) {
    c(sprintf("Scores within other terms: %s.", name_culprits(hidden)),
      "Only sums of scores can be written in items.")
  } else if (!any(scores %in% terms)) {
    c(sprintf("No score is among its terms: %s.", name_culprits(terms)),
      sprintf("Scores are called: %s.", name_culprits(scores)))
  }
  if (length(why)) {
    stop_input("fit", "The scores must enter the model as they are.", why[1L], why[2L])
  }
  covariances <- if (model) stats::vcov(fit)
  if (!"(Intercept)" %in% terms) {
    estimates <- c(0, estimates)
    terms <- c("(Intercept)", terms)
    if (model) covariances <- rbind(0, cbind(0, covariances))
  }
  list(terms = terms, estimates = stats::setNames(estimates, terms), covariances = covariances)
}

# The names in a term; a name that is no syntax stands for itself.
words_in <- function(term) tryCatch(all.vars(str2lang(term)), error = function(e) term)

# Predictions may differ by rounding alone.
PREDICTIONS_WITHIN <- 1e-8

# Do items predict what scores do, for people who answered all that count? And are the scores in the
# fit those of x?
check_carried <- function(fit, x, formula, data, estimates, table) {
  v <- formula$values
  names <- colnames(v$weights)
  if (is.null(data) && is_result(x, "factor_solution")) {
    data <- x$values$item_correlations$values$questionnaire
  }
  scores <- scores_to_check(x, v, data)
  people <- 0L
  largest <- NA_real_
  if (!is.null(data)) {
    raw <- answers_as_given(v, data, formula$settings$of)
    counts <- rowSums(v$weights != 0) > 0
    whole <- stats::complete.cases(raw[, counts, drop = FALSE], scores)
    here <- intersect(names, names(estimates))
    by_scores <- estimates[["(Intercept)"]] + scores[whole, here, drop = FALSE] %*% estimates[here]
    at <- match(colnames(raw)[counts], table$term)
    by_items <- table$raw[1L] + raw[whole, counts, drop = FALSE] %*% table$raw[at]
    people <- sum(whole)
    if (people) largest <- max(abs(by_scores - by_items))
  }
  differ <- scores_differ(fit, scores, names)
  list(table = tibble_of(people = people, largest = largest, scores_differ = differ),
    findings = find_in_carried(largest, differ))
}

find_in_carried <- function(largest, differ) {
  off <- function(code, value) {
    if (is.na(value) || value <= PREDICTIONS_WITHIN) return(NULL)
    new_finding(code, format(value, digits = 2L), value = value, limit = PREDICTIONS_WITHIN)
  }
  bind_findings(if (is.na(largest)) new_finding("not_checked"), off("predictions_differ", largest),
    off("other_scores_in_fit", differ))
}

# The people's scores as they were made (people x scores): not by the formula that is to be checked.
scores_to_check <- function(x, v, data) {
  names <- colnames(v$weights)
  if (is_result(x, "respondent_scores")) {
    people <- if (is_questionnaire(data)) nrow(data$values$answers) else NROW(data)
    if (is.null(data) || people == nrow(x$values$scores)) return(as.matrix(x$values$scores[names]))
    stop_input("other_people",
      "`data` must be the answers of the people whose scores `x` holds, in the same order.",
      got = sprintf("%s of %s.", count_of(people, "row"), format_count(nrow(x$values$scores))))
  }
  if (is.null(data)) return(NULL)
  if (!is_result(x, "score_formula")) {
    return(as.matrix(as_tibble(score_respondents(x, data))[names]))
  }
  raw <- answers_as_given(v, data, x$settings$of)
  sweep(raw %*% v$weights, 2L, v$constant, "+")
}

# Answers on the scale on which they were given: reversed items turned back.
answers_as_given <- function(v, data, of) {
  what <- if (of == "scales") "scale set" else "solution"
  given <- answers_by_key(data, v$key, v$items$item, what)
  unkey_answers(given$answers + 0, v$items, v$key)
}

unkey_answers <- function(keyed, items, key) {
  for (i in which(items$reversed %in% TRUE & !is.null(key))) {
    keyed[, i] <- key$lowest[i] + key$highest[i] - keyed[, i]
  }
  keyed
}

# How far the scores that the model was fitted on lie from the nearest of those that x gives; NA
# where either is not known. The people may stand in another order, or be some of them.
scores_differ <- function(fit, scores, names) {
  if (is.null(scores) || !inherits(fit, "lm")) return(NA_real_)
  frame <- stats::model.frame(fit)
  shared <- intersect(names, names(frame))
  away <- vapply(shared, function(name) {
    known <- sort(scores[, name])
    if (!length(known)) return(NA_real_)
    at <- findInterval(frame[[name]], known)
    below <- abs(frame[[name]] - known[pmax(at, 1L)])
    above <- abs(frame[[name]] - known[pmin(at + 1L, length(known))])
    max(pmin(below, above))
  }, 0)
  if (length(away)) max(away) else NA_real_
}

#' @exportS3Method tibble::as_tibble
as_tibble.carried_back <- function(x, ...) x$values$table

#' @export
coef.carried_back <- function(object, ...) {
  check_dots_empty(...)
  stats::setNames(object$values$table$raw, object$values$table$term)
}

#' @export
vcov.carried_back <- function(object, ...) {
  check_dots_empty(...)
  object$values$covariances
}

#' @export
glance.carried_back <- function(x, ...) {
  check_dots_empty(...)
  tibble::tibble(terms = nrow(x$values$table), fit = x$settings$fit, x$values$check)
}
