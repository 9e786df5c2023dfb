# What people are scored with: the items, their means and deviations, and the weights, of a solution
# or of scales.

# A list of `of` ("factors", "components", "scales"), `one` (what one of them is called), `spec` (of
# the method), `missing`, `names`, `items` (tibble: item, wording, reversed, mean, sd), `key`,
# `weights` (p x k: of standardised answers, of scales of the answers), and of a solution `model`
# (core-score.R; `told_by` is what determinacy and errors rest on), `by_model` and `determinacy`, of
# scales `members` (p x k, 0 or 1).
gather_scoring <- function(x, method, missing) {
  scales <- is_result(x, "softsieve_scale_set")
  if (!scales && !is_result(x, "factor_solution")) {
    stop_input("class",
      "`x` must be a factor solution, or a scale set as form_scales() returns it.",
      got = describe_value(x),
      todo = "For example score_respondents(factor_solution(answers), answers).")
  }
  of <- if (scales) "scales" else paste0(one_of_model(x$settings), "s")
  spec <- settle_score_method(method, of)
  missing <- settle_missing(missing, spec)
  own <- if (scales) scoring_of_scales(x, spec) else scoring_of_solution(with_variance(x), spec)
  c(list(of = of, one = sub("s$", "", of), spec = spec, missing = missing), own)
}

scoring_of_scales <- function(x, spec) {
  s <- x$values$scales
  names <- unique(s$scale)
  members <- outer(s$scale, names, "==") + 0
  dimnames(members) <- list(s$item, names)
  sizes <- colSums(members)
  # what one answer counts when all are there
  each <- spec$combine(t(1 / sizes), sizes)[1L, ]
  units <- x$values$standardised
  list(names = names,
    items = tibble::tibble(s[c("item", "wording", "reversed")], mean = NA_real_, sd = NA_real_,
      unit_mean = units$mean, unit_sd = units$sd, unit_sign = units$sign),
    scale_units = units,
    key = key_for(x$values$key, s$item), weights = sweep(members, 2L, each, "*"), members = members)
}

# Components that are rounding have no scores.
with_variance <- function(x) {
  v <- x$values
  there <- apply(v$loadings, 2L, has_variance)
  if (one_of_model(x$settings) != "component" || all(there) || !any(there)) return(x)
  parts <- unclass(x)
  for (part in c("loadings", "structure")) {
    parts$values[[part]] <- v[[part]][, there, drop = FALSE]
  }
  parts$values$factor_correlations <- v$factor_correlations[there, there, drop = FALSE]
  structure(parts, class = oldClass(x))
}

find_without_variance <- function(x, scoring) {
  gone <- if (scoring$of == "components") setdiff(colnames(x$values$loadings), scoring$names)
  if (length(gone)) {
    new_finding("component_without_variance", name_culprits(gone),
      if (length(gone) == 1L) "has" else "have", value = length(gone), limit = NO_VARIANCE)
  }
}

scoring_of_solution <- function(x, spec) {
  v <- x$values
  model <- model_of_answers(x)
  if ("unrotated" %in% spec$needs && x$settings$rotation != "none") {
    stop_input("method", sprintf("%s must be of components as they were extracted.",
      capitalise(spec$label)),
      got = sprintf("These were rotated (%s).", x$settings$rotation),
      todo = "method = \"component\" can be had: of rotated ones only scores of variance one are.")
  }
  model$roots <- sqrt(colSums((v$loadings * units_of(v$items, x$settings))^2))
  check_can_be_had(spec, model, v$items$item)
  determinacy <- core_determinacy(model$correlations, model$structure, model$between,
    model$reproduced)
  model$told_by <- if (determinacy$by_model) model$reproduced else model$correlations
  weights <- spec$weights(model)
  if (anyNA(weights)) stop_not_to_be_had(spec, "The factors cannot be told apart by the items.")
  dimnames(weights) <- dimnames(v$loadings)
  list(
    names = colnames(v$loadings),
    items = v$items[c("item", "wording", "reversed", "mean", "sd")],
    key = key_for(v$key, v$items$item),
    weights = weights,
    model = model,
    # components are sums of all items; factors are known from their own
    own_items = one_of_model(x$settings) != "component",
    by_model = determinacy$by_model,
    determinacy = unname(determinacy$values))
}

key_for <- function(key, items) if (!is.null(key)) key[match(items, key$item), ]

reproduced_by <- function(v) core_reproduced(v$loadings, v$factor_correlations, v$items$uniqueness)

# How the answers go together and with the factors: of polychoric and mixed correlations these are
# those of what lies behind the answers, and the answers' own follow from their thresholds.
model_of_answers <- function(x) {
  v <- x$values
  model <- list(correlations = v$correlations, loadings = v$loadings, structure = v$structure,
    between = v$factor_correlations, uniquenesses = v$items$uniqueness,
    reproduced = reproduced_by(v))
  behind <- v$item_correlations$values
  if (is.null(behind$thresholds) || one_of_model(x$settings) == "component") return(model)
  thresholds <- unname(behind$thresholds)
  values <- unname(behind$category_values)
  own <- core_answers_model(thresholds, values, model$correlations, model$structure)
  fitted <- model$reproduced
  diag(fitted) <- 1
  model$correlations <- own$correlations
  model$reproduced <- core_answers_model(thresholds, values, fitted, model$structure)$correlations
  model$structure <- model$structure * own$kappa
  model$loadings <- model$loadings * own$kappa
  model$uniquenesses <- 1 - own$kappa^2 * (1 - model$uniquenesses)
  model
}

# No uniqueness below this. (Correlations without an inverse have no factors: extraction refuses
# them, and components need none.)
UNIQUENESS_NONE <- 1e-6

check_can_be_had <- function(spec, model, items) {
  none <- items[model$uniquenesses < UNIQUENESS_NONE]
  if (!"uniquenesses" %in% spec$needs || !length(none)) return(invisible())
  stop_not_to_be_had(spec, sprintf("Nothing is an item's own of: %s.", name_culprits(none)),
    items = none)
}

stop_not_to_be_had <- function(spec, why, items = NULL) {
  stop_input("method",
    sprintf("%s must be possible with this solution.", capitalise(spec$label)),
    got = why,
    todo = paste(
      "method = \"regression\" can be had; or leave such an item out, take fewer factors, or",
      "give extract_factors() a lowest_uniqueness above 0."), items = items)
}

# Means and deviations that answers are standardised by: the solution's people's; of a solution that
# came from a matrix those that `units` gives, or these people's own.
settle_units <- function(scoring, units, answers) {
  items <- scoring$items
  if (scoring$of == "scales") return(NULL)
  if (!is.null(units)) return(units_given(units, items, answers))
  if (!anyNA(items$mean) && !anyNA(items$sd)) {
    return(list(mean = items$mean, sd = items$sd, by = "the solution's people"))
  }
  stop_input("units",
    "The items' means and standard deviations must be known.",
    got = "The solution came from a matrix, which does not hold them.",
    todo = paste(
      "Give units = a data frame of item, mean and sd (of keyed answers), or units = \"own\"",
      "to standardise by these people's own."))
}

units_given <- function(units, items, answers) {
  if (identical(units, "own")) {
    units <- list(mean = colMeans(answers, na.rm = TRUE), sd = column_sds(answers))
    units$by <- "these people"
    what <- "With units = \"own\" every item must be answered in two ways, at least."
  } else {
    columns <- c("item", "mean", "sd")
    good <- is.data.frame(units) && all(columns %in% names(units)) &&
      is.numeric(units$mean) && is.numeric(units$sd)
    if (!good || !all(items$item %in% units$item)) {
      stop_input("units",
        "`units` must be \"own\", or a data frame of item, mean and sd, with all items.",
        got = if (good) {
          sprintf("Not there: %s.", name_culprits(setdiff(items$item, units$item)))
        } else {
          describe_value(units)
        },
        todo = "Means and standard deviations are those of keyed answers.")
    }
    at <- match(items$item, units$item)
    units <- list(mean = units$mean[at], sd = units$sd[at], by = "the units given")
    what <- "Every item must have a mean and a standard deviation above 0."
  }
  bad <- items$item[!is.finite(units$mean) | !is.finite(units$sd) | units$sd <= 0]
  if (!length(bad)) return(units)
  stop_input("units", what, got = sprintf("Not so: %s.", name_culprits(bad)))
}

# Standard deviation of each column, without a copy of the whole.
column_sds <- function(x) vapply(seq_len(ncol(x)), function(j) stats::sd(x[, j], na.rm = TRUE), 0)

# How scales came about is not a setting of the scores.
settings_behind <- function(x) {
  s <- x$settings
  names(s)[names(s) == "by"] <- "scales_by"
  s
}

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
  missing <- check_choice(missing, "missing", names(MISSING_ANSWERS))
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
