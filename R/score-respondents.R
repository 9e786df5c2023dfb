#' Score people
#'
#' Each person's scores on the factors or components of a solution, or on scales. Scores on factors
#' are in standard deviations from the mean of the people the solution came from; those on scales
#' are on the scale of the answers.
#'
#' @param x A `factor_solution`, or a scale set ([form_scales()]).
#' @param data A [questionnaire()] of the same items, keyed in the same way, or a data frame with
#'   raw answers: these are keyed as those that `x` came from (ends of the answer scale, reversed
#'   items, labels and missing codes of its codebook). Items that are absent count as left out by
#'   everybody, and are reported.
#' @param method How scores are made; see below. Left out: `"regression"` of factors, `"component"`
#'   of components, `"mean"` of scales.
#' @param missing What happens to people who left answers out: `"best_weights"` scores them with the
#'   weights that are best for the items they answered (not for scales), `"own_mean"` puts the
#'   person's mean of the other items of that factor or scale in the place of what is missing (of
#'   sums: prorated), `"none"` gives them no score. Left out: `"best_weights"` for factors and
#'   components, `"own_mean"` for means, `"none"` for sums. They are counted in any case.
#' @param answered_share,answered_least Share (from 0 to 1) and number of the items, of a scale its
#'   own, that a person must have answered to be scored; both must hold. Nobody is scored on a
#'   factor who answered none of the items that load on it by .30 or more.
#' @param errors Give each score's standard error and limits too?
#' @param level Of the limits, from .50 to .999.
#' @param reliability Of scales: what [assess_reliability()] returned, or numbers named by scale.
#'   Left out, reliability and spread are those of the people on whom the scales were formed
#'   ([form_scales()] keeps them), whoever is scored; scales from a list alone have none, and are
#'   assessed from `data`, with a finding.
#' @param also Further forms of each score, one or several of `"standardised"` (deviations from the
#'   mean of the norms), `"t_score"` (50 and 10 in their place: linear, not normalised) and
#'   `"percentile"` (rank: the share of the norms below, and half of those equal, from 0 to 100).
#' @param by Group columns, bare or in quotes: each person is compared with those of the same group
#'   (norms count each person once, also where people are weighted).
#' @param norms An earlier result of `score_respondents()` whose people are the norms (and whose
#'   `by` is used); left out, these people are.
#' @param units For a solution that came from a matrix: a data frame of `item`, `mean` and `sd` of
#'   keyed answers, or `"own"` for these people's own.
#' @inheritParams parallel_analysis
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `respondent_scores` ([softsieve-respondent-scores]).
#' @details The arguments are as many as the choices that a reviewer may ask about: the method, what
#'   is done about missing answers, errors, norms and units. [score_into()] scores people who are
#'   too many for memory.
#' @section Errors: `softsieve_error_other_items` when the data have other items than `x`;
#'   `softsieve_error_other_key` (a questionnaire keyed otherwise), `softsieve_error_method` (a
#'   method that cannot be had: an item without a uniqueness, factors that its items cannot tell
#'   apart; the error says what can), `softsieve_error_units` (means and deviations are not known),
#'   `softsieve_error_norms`, `softsieve_error_groups`, `softsieve_error_columns` (two columns of
#'   one name), `softsieve_error_out_of_range`, `softsieve_error_text_in_item`,
#'   `softsieve_error_class`, `softsieve_error_argument`.
#' @section Findings: those that travel with `x`, `items_absent`, `beyond_earlier_answers` (outside
#'   the answers that its people gave, where no codebook gives the ends), `against_key` (an item
#'   that runs against the others here: was it reverse-scored already?), `scored_with_missing`,
#'   `not_scored`, `low_determinacy`, `determinacy_by_model`, `improper_scores`,
#'   `scores_uncorrelated`, `scores_of_given_answers`, `determinacy_for_groups`, `own_precision`,
#'   `earlier_precision`, `no_errors` (on whom errors of scale scores rest), `own_norms`,
#'   `ranges_mixed`, `small_norms`, `no_norms`.
#' @eval describe_score_methods()
#' @section Formulas: With R the items' correlations, L the pattern, S the structure, P the factor
#'   correlations, U the uniquenesses and z a person's standardised answers, scores are W'z:
#'   \describe{
#'     \item{regression, component}{\eqn{W = R^{-1} S}{W = inv(R) S}}
#'     \item{bartlett}{\eqn{W = U^{-1} L (L' U^{-1} L)^{-1}}{W = inv(U) L inv(L' inv(U) L)}}
#'     \item{correlation_preserving}{\eqn{W = R^{-1} L P^{1/2} (P^{1/2} L' R^{-1} L P^{1/2})^{-1/2}
#'       P^{1/2}}{W = inv(R) L P^1/2 (P^1/2 L' inv(R) L P^1/2)^-1/2 P^1/2}, so that W'RW = P}
#'     \item{anderson_rubin}{\eqn{W = U^{-1} L (L' U^{-1} R U^{-1} L)^{-1/2}}{
#'       W = inv(U) L (L' inv(U) R inv(U) L)^-1/2}, so that W'RW = I}
#'   }
#'   With missing answers, rows and columns of unanswered items are left out of R, L, S and U
#'   (`"best_weights"`). Standard error of a score: how far the factor may be from what the score
#'   alone predicts of it, the root of diag(P) - diag(W'S)^2 / diag(W'RW), with limits about that
#'   prediction (of regression scores the score itself, of correlation-preserving and Anderson-Rubin
#'   scores less); of Bartlett's, who are unbiased, the root of diag(W'RW - W'S - S'W + P), with
#'   limits about the score. Of polychoric and mixed solutions R, L, S and U are those of the
#'   answers as they are, which follow from thresholds: an answer correlates with a factor as the
#'   variable behind it does, times the sum of the rises of its values times the normal density at
#'   each threshold, over its deviation. Of a
#'   scale with k items, m of them answered: s sqrt((1 - rel) k / m), with s and rel the deviation
#'   and the reliability of the whole score: errors of items alike, and unrelated. Limits of factor
#'   scores take the solution for known: of 15 skewed items and three factors they held the factor
#'   for 92 of 100 people, not 95, when the solution came from 200 people, and for 93.5 when from
#'   1,000 (`bench/scores.R`); those of scale means held the true score for 94.6.
#'   Determinacy: sqrt(diag(S' inv(R) S)); smallest correlation of two equally good sets of scores:
#'   2 d^2 - 1 with d the determinacy. Where the observed R could not come together with such
#'   factors (d would pass 1 in some direction), R is what the model reproduces, and a finding says
#'   so.
#' @section Which scores for what: To explain something else by factors, take regression scores as
#'   predictors; to explain factors by something else, take Bartlett's as the outcome: each gives
#'   regression coefficients without bias there, and the other does not (Skrondal & Laake 2001). To
#'   tell single people, regression scores have the smallest error.
#' @eval describe_papers("Skrondal & Laake (2001)", "Thurstone (1935)", "Bartlett (1937)",
#'   "Anderson & Rubin (1956)", "ten Berge et al. (1999)", "Guttman (1955)", "Grice (2001)")
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, seed = 1)
#' score_respondents(solution, motives)
#' score_respondents(solution, motives, method = "bartlett", errors = TRUE)
#'
#' scales <- form_scales(solution)
#' scored <- score_respondents(scales, motives, also = c("t_score", "percentile"), by = cafe)
#' scored
#' scored$values$norms
#' @export
score_respondents <- function(x, data, method = NULL, missing = NULL,
    answered_share = cutoff("answered_share"), answered_least = 1L, errors = FALSE, level = 0.95,
    reliability = NULL, also = NULL, by = NULL, norms = NULL, units = NULL, threads = NULL, ...) {
  check_dots_empty(...)
  if (missing(data)) {
    stop_input("argument", "`data` must be the people to score.", got = "Nothing came.",
      todo = "Give their answers, for example score_respondents(solution, motives).")
  }
  by <- settle_by(rlang::enquo(by), data)
  scoring <- gather_scoring(x, method, missing)
  asked <- settle_arguments(SCORE_TAKES)
  threads <- settle_threads(threads)
  what <- if (scoring$of == "scales") "scale set" else "solution"
  given <- answers_by_key(data, scoring$key, scoring$items$item, what)
  if (is.null(scoring$key)) scoring <- key_from_data(scoring, given$key)
  least <- list(share = asked$answered_share, number = asked$answered_least)
  scoring$units <- settle_units(scoring, units, given$answers)
  if (scoring$of != "scales") scoring <- quality_of_answered(scoring, given$answers)
  if (scoring$of == "scales") {
    scoring$items$mean <- unname(colMeans(given$answers, na.rm = TRUE))
    scoring$items$sd <- column_sds(given$answers)
  }
  found <- score_people(scoring, given$answers, least, errors, threads)
  found <- with_measurement_errors(found, scoring, reliability, x, data, given$source)
  groups <- groups_of_people(given$people, data, by, norms)
  compared <- compare_with_norms(found$scores, groups, asked$also, norms, scoring)
  new_respondent_scores(score_table(found, compared$forms, given$people, scoring, level), scoring,
    found, compared,
    c(settings_behind(x),
      list(of = scoring$of, score = scoring$spec$name, score_missing = scoring$missing,
        answered_share = answered_share, answered_least = asked$answered_least, errors = errors,
        level = level, also = asked$also, norms_by = groups$by,
        norms = if (!is.null(norms)) "other people",
        id = if (is_questionnaire(data)) data$settings$id,
        units = if (scoring$of != "scales") scoring$units$by)),
    bind_findings(findings_on(x, given$source), given$findings,
      find_against_key(given$answers, expected_signs(scoring)),
      find_in_scores(x, scoring, found, given, least), found$findings, compared$findings),
    given$source, match.call())
}

SCORE_TAKES <- list(
  method = a_text("How scores are made", function() names(SCORE_METHODS), setting = "score",
    check = NULL),
  missing = a_text("How people with missing answers are scored", function() names(MISSING_ANSWERS),
    setting = "score_missing", check = NULL),
  answered_share = a_number("The share of the items a person must have answered", 0, 1),
  answered_least = a_whole("How many items a person must have answered", 1),
  errors = a_flag("Give standard errors and limits with the scores"),
  level = a_number("Of the limits of scores", 0.5, 0.999),
  also = a_text("Further forms of scores", function() FORMS, several = TRUE,
    check = function(x, name) check_forms(x)),
  by = a_text("Group columns within which people are compared", several = TRUE,
    setting = "norms_by", check = NULL))

# Of scales that were listed by hand, and of a matrix, the key is the data's.
key_from_data <- function(scoring, key) {
  scoring$key <- key_for(key, scoring$items$item)
  scoring$items[c("wording", "reversed")] <- scoring$key[c("wording", "reversed")]
  scoring
}

# The table: who, how many answers, and each score with what stands beside it.
score_table <- function(found, forms, people, scoring, level) {
  columns <- list()
  reach <- stats::qnorm((1 + level) / 2)
  for (j in seq_along(scoring$names)) {
    name <- scoring$names[j]
    score <- unname(found$scores[, j])
    columns[[name]] <- score
    if (!is.null(found$errors)) {
      error <- unname(found$errors[, j])
      centre <- if (is.null(found$centres)) score else unname(found$centres[, j])
      columns[[paste0(name, "_error")]] <- error
      columns[[paste0(name, "_lower")]] <- centre - reach * error
      columns[[paste0(name, "_upper")]] <- centre + reach * error
    }
    for (form in names(forms)) columns[[paste0(name, "_", form)]] <- unname(forms[[form]][, j])
  }
  check_score_names(c(names(people), "answered", score_columns(scoring$names, found, forms)))
  tibble::new_tibble(c(as.list(people), list(answered = found$answered), columns),
    nrow = nrow(found$scores))
}

check_score_names <- function(wanted) {
  twice <- unique(wanted[duplicated(wanted)])
  if (!length(twice)) return(invisible())
  stop_input("columns", "Every column of the scores must have a name of its own.",
    got = sprintf("Twice: %s.", name_culprits(twice)),
    todo = "Name the factors or scales otherwise (name_factors()), or the id and group columns.")
}

# The names of all columns that scores give, beside those of people.
score_columns <- function(names, found, forms) {
  beside <- c(if (!is.null(found$errors)) c("error", "lower", "upper"), names(forms))
  unlist(lapply(names, function(name) c(name, if (length(beside)) paste0(name, "_", beside))))
}

# What the correlations of items are expected to look like: known from a solution; within a scale
# above 0.
expected_signs <- function(scoring) {
  if (scoring$of != "scales") return(scoring$model$correlations)
  sign <- scoring$scale_units$sign
  tcrossprod(if (is.null(sign)) scoring$members else scoring$members * sign)
}

#' What scores hold
#'
#' [score_respondents()] returns an object of class `respondent_scores` ([softsieve-result]). Its
#' `values`:
#'
#' * `scores`: tibble, one row for each person in the order of the data: the id and group columns,
#'   `answered` (how many items), and a column for each factor or scale, `NA` for people with too
#'   few answers, or with none to the items of that factor; with `errors`, after each,
#'   `<name>_error`, `<name>_lower` and `<name>_upper`; with `also`, `<name>_standardised`,
#'   `<name>_t_score`, `<name>_percentile`;
#' * `factors`: tibble, one row for each factor or scale: `factor`, `people` (with a score), `mean`
#'   and `sd` of the scores; of a solution `determinacy` (correlation of the best score with the
#'   factor, from all items that anybody answered, from 0 to 1), `smallest` (smallest correlation of
#'   two equally
#'   good sets of scores, from -1 to 1) and `validity` (correlation of these scores with the
#'   factor); of scales `items` and `reliability` (`NA` where neither it nor `errors` was asked
#'   for);
#' * `correlations`: `NULL` for one factor, else tibble, one row for each two: `factor`, `with`,
#'   `factors` (correlation of the factors; `NA` of scales), `scores` (of the scores when nothing is
#'   missing, by the formula W'RW; `NA` of scales), `observed` (of these people's scores),
#'   `leaks` and `leaks_back` (correlation of the score of `factor` with the factor `with`, and the
#'   other way round);
#' * `norms`: `NULL`, or tibble, one row for each factor or scale and group: `scale`, `group`,
#'   `people`, `mean`, `sd`, `p10`, `p25`, `p50`, `p75`, `p90`;
#' * `norm_table`: `NULL`, or tibble, one row for each score that somebody has: `scale`, `group`,
#'   `score`, `people`, `percentile`, `standardised`, `t_score`;
#' * `weights`: p x k, of standardised answers (of scales: of the answers) when nothing is missing;
#'   `items`: tibble: `item`, `wording`, `reversed`, `mean`, `sd` (what answers were standardised
#'   by); `key`: how answers are keyed, as in [softsieve-factor-solution].
#'
#' `as_tibble()` gives `scores`, `tidy()` one row for each person and factor, `glance()` one row.
#' @name softsieve-respondent-scores
NULL

new_respondent_scores <- function(table, scoring, found, compared, settings, findings, source,
    call) {
  items <- scoring$items
  if (!is.null(scoring$units)) items[c("mean", "sd")] <- scoring$units[c("mean", "sd")]
  new_result("respondent_scores",
    list(scores = table, factors = quality_of_scores(scoring, found),
      correlations = correlations_of_scores(scoring, found$scores), norms = compared$norms,
      norm_table = compared$table, weights = scoring$weights, items = items, key = scoring$key),
    settings, findings, source, call)
}

#' @exportS3Method tibble::as_tibble
as_tibble.respondent_scores <- function(x, ...) x$values$scores

#' @export
tidy.respondent_scores <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scores
  factors <- x$values$factors$factor
  beside <- c("error", "lower", "upper", FORMS)
  parts <- c(score = "", stats::setNames(paste0("_", beside), beside))
  there <- parts[paste0(factors[1L], parts) %in% names(s)]
  columns <- lapply(there, function(part) unlist(s[paste0(factors, part)], use.names = FALSE))
  own <- unlist(lapply(there, function(part) paste0(factors, part)))
  people <- s[setdiff(names(s), own)]
  tibble::tibble(people[rep(seq_len(nrow(s)), length(factors)), ],
    factor = rep(factors, each = nrow(s)), !!!columns)
}

#' @export
glance.respondent_scores <- function(x, ...) {
  check_dots_empty(...)
  f <- x$values$factors
  tibble::tibble(people = nrow(x$values$scores), scored = max(f$people), factors = nrow(f),
    method = x$settings$score, missing = x$settings$score_missing,
    lowest_determinacy = if (is.null(f[["determinacy"]])) NA_real_ else min(f$determinacy))
}
