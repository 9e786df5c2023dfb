# How scores are made. A spec has, beside what all have,
#
#   of        what it scores: "factors", "components", "scales" (one or several)
#   missing   what can be done with people's missing answers, the default first
#   needs     what there must be: "uniquenesses" above 0, or "unrotated" components (or nothing)
#   weights   function(model): weights of standardised answers, p x k (core-score.R says what a
#             model holds); called again for every pattern of gaps
#   unbiased  does the score of somebody vary about their factor? Then its limits do too
#   rebuilds  are the weights R^-1 S, so that the core can make them for many patterns at once?
#   roots     are scores in units whose variance is the eigenvalue, not in standard deviations?
#
# and of scales, in the place of the last three,
#
#   combine   function(means, sizes): scores from the means of the items answered (n x k) and the
#             numbers of items

MISSING_ANSWERS <- c(best_weights = "with the weights that are best for what they answered",
  own_mean = "with the person's mean in the place of what is missing", none = "not at all")

SCORE_METHODS <- family(
  regression = spec(label = "regression scores", reference = "Thurstone (1935)", of = "factors",
    missing = names(MISSING_ANSWERS), needs = character(),
    weights = function(model) core_regression_weights(model), unbiased = FALSE, rebuilds = TRUE),
  bartlett = spec(label = "Bartlett scores", reference = "Bartlett (1937)", of = "factors",
    missing = names(MISSING_ANSWERS), needs = "uniquenesses",
    weights = function(model) core_bartlett_weights(model), unbiased = TRUE, rebuilds = FALSE),
  correlation_preserving = spec(label = "correlation-preserving scores",
    reference = "ten Berge et al. (1999)", of = "factors", missing = names(MISSING_ANSWERS),
    needs = character(), weights = function(model) core_preserving_weights(model), unbiased = FALSE,
    rebuilds = FALSE),
  anderson_rubin = spec(label = "Anderson-Rubin scores", reference = "Anderson & Rubin (1956)",
    of = "factors", missing = names(MISSING_ANSWERS), needs = "uniquenesses",
    weights = function(model) core_uncorrelated_weights(model), unbiased = FALSE, rebuilds = FALSE),
  component = spec(label = "component scores", of = "components", missing = names(MISSING_ANSWERS),
    needs = character(), weights = function(model) core_regression_weights(model), unbiased = FALSE,
    rebuilds = TRUE),
  unit_length = spec(label = "component scores by weights of length one",
    reference = "Hotelling (1933)", of = "components", missing = names(MISSING_ANSWERS),
    needs = "unrotated", weights = function(model) core_unit_weights(model), unbiased = FALSE,
    rebuilds = FALSE, roots = TRUE),
  mean = spec(label = "means of the items", of = "scales", missing = c("own_mean", "none"),
    combine = function(means, sizes) means),
  sum = spec(label = "sums of the items", of = "scales", missing = c("none", "own_mean"),
    combine = function(means, sizes) sweep(means, 2L, sizes, "*")))

# What one is of scores on factors and components.
unit_of_scores <- function(settings) {
  if (isTRUE(SCORE_METHODS[[settings$score]][["roots"]])) {
    return("units whose variance is the eigenvalue")
  }
  sprintf("standard deviations of the %s", sub("s$", "", settings$of))
}

# The methods for what is to be scored, the default first.
score_methods_of <- function(of) {
  Filter(function(name) of %in% SCORE_METHODS[[name]]$of, names(SCORE_METHODS))
}

# The method asked for, or the usual one.
settle_score_method <- function(method, of) {
  own <- score_methods_of(of)
  if (is.null(method)) return(SCORE_METHODS[[own[1L]]])
  check_text(method, "method")
  if (method %in% own) return(SCORE_METHODS[[method]])
  known <- method %in% names(SCORE_METHODS)
  stop_input("argument",
    sprintf("`method` for %s must be one of: %s.", of, paste0('"', own, '"', collapse = ", ")),
    got = if (known) {
      sprintf("\"%s\" is for %s.", method, paste(SCORE_METHODS[[method]]$of, collapse = " and "))
    } else {
      describe_value(method)
    },
    todo = if (known) {
      character()
    } else {
      c(hint_nearest(method, own), "Correlation-preserving: ten Berge et al. (1999).")
    })
}

settle_missing <- function(missing, spec) {
  if (is.null(missing)) return(spec$missing[1L])
  check_choice(missing, "missing", names(MISSING_ANSWERS))
  if (missing %in% spec$missing) return(missing)
  words <- paste0('"', spec$missing, '"', collapse = ", ")
  stop_input("argument",
    sprintf("`missing` for %s must be one it has: %s.", spec$label, words),
    got = sprintf("\"%s\" came.", missing),
    todo = sprintf("%s: people with missing answers are scored %s.", spec$missing,
      MISSING_ANSWERS[spec$missing]))
}

# For the help page.
describe_score_methods <- function() {
  each <- vapply(SCORE_METHODS, function(one) {
    by <- if (is.na(one$reference)) "" else sprintf("; %s", one$reference)
    sprintf('* `"%s"`: %s (of %s%s).', one$name, one$label, paste(one$of, collapse = ", "), by)
  }, "")
  paste(c("@section Methods:", each), collapse = "\n")
}
