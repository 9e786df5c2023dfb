#' The formula of scores
#'
#' What each answer counts in each score, on the scale on which answers were given: reversed items
#' need not be reverse-scored, nor answers standardised. `formula_code()` writes it for R, for a
#' spreadsheet or for a database.
#'
#' @param x A `factor_solution`, a scale set ([form_scales()]), or what [score_respondents()]
#'   returned (then the other arguments are those it was asked with).
#' @param method,missing,answered_share,answered_least,units As in [score_respondents()]. The
#'   formula of a scale's mean or sum passes over missing answers as `missing` says; all other
#'   scores are of people who answered every item that counts, and others get none: weights for
#'   missing answers are made for each pattern of them.
#' @param inverse `TRUE`: the way back, of components: what each score counts in each item, on the
#'   scale on which answers were given. With all components kept it gives back what was scored, to
#'   rounding.
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `score_formula` ([softsieve-result]). `values` holds `table` (tibble:
#'   `item`, the first row being `"(constant)"`, `wording`, `reversed`, and a column for each factor
#'   or scale), `weights` (p x k, of answers as they were given), `constant` (k), `standardised`
#'   (p x k, of keyed and standardised answers), `items` (tibble: `item`, `wording`, `reversed`,
#'   `mean`, `sd`), `key` and `least` (how many items of each scale must be answered; `NULL` unless
#'   missing answers are passed over). `as_tibble()` gives `table`, `tidy()` one row for each item
#'   and score.
#' @section Formula: A score is c + sum b_i x_i with x the answers as given. With w the weight of
#'   the standardised answer, m and s the mean and standard deviation of keyed answers: b = w / s,
#'   and of a reversed item, whose keyed answer is lowest + highest - x, b = - w / s; c = - sum w m
#'   / s, plus w (lowest + highest) / s of each reversed item. Back: m + s sum l f, with the
#'   loadings l of an item and scores f of variance 1 (of weights of length one l over the
#'   eigenvalue's root).
#' @section Findings: `key_unknown` (of scales that were listed by hand, or a matrix: which items
#'   are reversed is not known), and those that travel with `x`.
#' @section Errors: `softsieve_error_method`, `softsieve_error_units`, `softsieve_error_class`,
#'   `softsieve_error_argument`.
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, seed = 1)
#' formula <- score_formula(solution)
#' formula
#' cat(formula_code(formula, "sql", table = "answers"))
#'
#' # a spreadsheet with the answers, and a formula in the columns beside them
#' formulas <- formula_code(score_formula(form_scales(solution)), "spreadsheet", data = repair_cafe)
#' substr(formulas["F1"], 1, 70)
#' @export
score_formula <- function(x, method = NULL, missing = NULL,
    answered_share = cutoff("answered_share"), answered_least = 1L, units = NULL, inverse = FALSE,
    ...) {
  check_dots_empty(...)
  check_flag(inverse, "inverse")
  if (inverse) return(inverse_formula(x, method, units, match.call()))
  if (is_result(x, "score_formula")) return(x)
  check_number(answered_share, "answered_share", 0, 1)
  answered_least <- check_whole(answered_least, "answered_least", 1L)
  least <- list(share = answered_share, number = answered_least)
  scored <- is_result(x, "respondent_scores")
  if (scored) {
    check_asked_before(!missing(method) || !missing(missing) || !missing(units))
    scoring <- c(list(of = x$settings$of, missing = x$settings$score_missing),
      list(spec = SCORE_METHODS[[x$settings$score]]), x$values[c("items", "key", "weights")])
    least <- list(share = x$settings$answered_share, number = x$settings$answered_least)
  } else {
    scoring <- gather_scoring(x, method, missing)
    if (scoring$of != "scales") {
      own <- identical(units, "own")
      if (own) units <- stop_no_people()
      scoring$items[c("mean", "sd")] <- settle_units(scoring, units, NULL)[c("mean", "sd")]
    }
  }
  raw <- raw_weights(scoring)
  alike <- !is.null(scoring$items[["unit_sd"]])
  partial <- scoring$of == "scales" && scoring$missing != "none" && !alike
  table <- formula_table(scoring$items, rbind(raw$constant, raw$weights))
  sizes <- colSums(scoring$weights != 0)
  new_result("score_formula",
    list(table = table, weights = raw$weights, constant = raw$constant,
      standardised = standardised_weights(scoring), items = scoring$items, key = scoring$key,
      least = if (partial) pmax(1L, least$number, ceiling(least$share * sizes - 1e-9))),
    c(settings_behind(x)[setdiff(names(settings_behind(x)), c("of", "score", "score_missing"))],
      list(of = scoring$of, score = scoring$spec$name,
        score_missing = if (partial) scoring$missing else "none")),
    bind_findings(findings_that_travel(x$findings),
      if (is.null(scoring$key)) new_finding("key_unknown"),
      if (is_result(x, "factor_solution")) find_without_variance(x, scoring)),
    x$source, match.call())
}

# Scores to items: of components, whose scores are weighted sums that can be gone back from.
inverse_formula <- function(x, method, units, made_by) {
  if (!is_result(x, "factor_solution") || one_of_model(x$settings) != "component") {
    stop_input("class", "The way back must be from components.", got = describe_value(x),
      todo = "reconstruct_responses() rebuilds answers from factors.")
  }
  scoring <- gather_scoring(x, method, NULL)
  own <- settle_units(scoring, units, NULL)
  items <- scoring$items
  turned <- !is.null(scoring$key) & items$reversed %in% TRUE
  sign <- ifelse(turned, -1, 1)
  back <- x$values$loadings[, scoring$names, drop = FALSE]
  if (isTRUE(scoring$spec[["roots"]])) back <- sweep(back, 2L, scoring$model$roots, "/")
  weights <- t(back * own$sd * sign)
  ends <- ifelse(turned, scoring$key$lowest + scoring$key$highest, 0)
  constant <- stats::setNames(ends + sign * own$mean, items$item)
  from <- tibble_of(item = scoring$names, wording = NA_character_, reversed = FALSE, mean = 0,
    sd = 1)
  table <- formula_table(from, rbind(constant, weights))
  table$reversed[1L] <- FALSE
  new_result("score_formula",
    list(table = table, weights = weights, constant = constant, standardised = t(back),
      items = from, key = NULL, least = NULL),
    c(settings_behind(x), list(of = "items", score = scoring$spec$name, score_missing = "none")),
    findings_that_travel(x$findings), x$source, made_by)
}

# Weights and constant of answers as they were given.
raw_weights <- function(scoring) {
  w <- scoring$weights
  items <- scoring$items
  scales <- scoring$of == "scales"
  alike <- !is.null(items[["unit_sd"]])
  mean <- if (alike) items$unit_mean else if (scales) 0 else items$mean
  weights <- if (alike) w * items$unit_sign / items$unit_sd else if (scales) w else w / items$sd
  turned <- if (is.null(scoring$key)) rep(FALSE, nrow(w)) else items$reversed %in% TRUE
  ends <- ifelse(turned, scoring$key$lowest + scoring$key$highest, 0)
  list(weights = weights * ifelse(turned, -1, 1), constant = colSums(weights * (ends - mean)))
}

standardised_weights <- function(scoring) {
  if (scoring$of != "scales") return(scoring$weights)
  raw <- scoring$weights * scoring$items$sd
  items <- scoring$items
  if (is.null(items[["unit_sd"]])) raw else raw * items$unit_sign / items$unit_sd
}

check_asked_before <- function(asked) {
  if (!asked) return(invisible())
  stop_input("argument", "`x` must be a solution or a scale set where a method is asked for.",
    got = "Scores came, which were made by one.",
    todo = "Leave `method`, `missing` and `units` out, or give the solution.")
}

stop_no_people <- function() {
  stop_input("units",
    "`units` must be a data frame of item, mean and sd: there are no people here.",
    got = "\"own\" came.", todo = "Or give what score_respondents(..., units = \"own\") returned.")
}

#' @exportS3Method tibble::as_tibble
as_tibble.score_formula <- function(x, ...) x$values$table

#' @export
tidy.score_formula <- function(x, ...) {
  check_dots_empty(...)
  w <- x$values$weights
  tibble_of(item = rep(rownames(w), ncol(w)), score = rep(colnames(w), each = nrow(w)),
    weight = as.numeric(w), standardised = as.numeric(x$values$standardised))
}

#' @export
coef.score_formula <- function(object, ...) {
  check_dots_empty(...)
  rbind("(constant)" = object$values$constant, object$values$weights)
}

#' @export
glance.score_formula <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(scores = ncol(x$values$weights), items = nrow(x$values$weights),
    method = x$settings$score, missing = x$settings$score_missing)
}

# What a formula is written of: numbers in full, the terms of a score, codes and words.

# With all digits that a number has; E-notation keeps databases from taking decimals for exact.
exactly <- function(x, e = FALSE) {
  text <- sprintf(if (e) "%.16e" else "%.17g", x)
  # 17 digits where 15 say the same are hard to read
  short <- sprintf(if (e) "%.14e" else "%.15g", x)
  ifelse(as.numeric(short) == x, short, text)
}

# What is known of an item's codes: numbers for no answer, and labels (named by the words, lower
# case), where the key has them.
codes_of_item <- function(formula, item) {
  key <- formula$values$key
  row <- if (is.null(key)) NA else match(item, key$item)
  if (is.na(row)) return(list(missing = numeric(), labels = NULL, possible = numeric()))
  missing <- if (is.null(key$missing_codes)) numeric() else key$missing_codes[[row]]
  ends <- c(key$lowest[row], key$highest[row])
  whole <- checkmate::test_integerish(ends, any.missing = FALSE) && diff(ends) <= 100
  list(missing = as.numeric(missing), labels = key$labels[[row]],
    possible = if (whole) seq(ends[1L], ends[2L]) else numeric())
}

# The terms of one score: item, weight, and where gaps are passed over `sign` and `turned`: the
# keyed answer is sign * x + turned, and the score `whole` times the mean of these.
terms_of_score <- function(formula, j) {
  v <- formula$values
  at <- which(v$weights[, j] != 0)
  list(item = rownames(v$weights)[at], weight = unname(v$weights[at, j]),
    sign = unname(sign(v$weights[at, j])), turned = turned_by(v)[at],
    whole = sum(abs(v$weights[at, j])), least = v$least[j])
}

# lowest + highest of reversed items, 0 of the others.
turned_by <- function(v) {
  if (is.null(v$key)) return(rep(0, nrow(v$weights)))
  ifelse(v$items$reversed %in% TRUE, v$key$lowest + v$key$highest, 0)
}

# Does the item's column hold words (as far as the data show)?
holds_words <- function(data, item) {
  if (is.null(data)) return(FALSE)
  x <- data[[item]]
  (is.character(x) || is.factor(x)) &&
    any(is.na(suppressWarnings(as.numeric(as.character(x[!is.na(x)])))))
}

# The constant, then the items; a column of weights for each score. (tibble() would put names into
# an environment, which takes none that the session's language has not.)
formula_table <- function(items, weights) {
  described <- list(item = c("(constant)", items$item), wording = c(NA, items$wording),
    reversed = c(NA, items$reversed))
  tibble::new_tibble(c(described, as.list(as.data.frame(weights))), nrow = nrow(weights))
}
