#' How much each level of a factor is known
#'
#' Of a solution of polychoric (or mixed) correlations: how steeply answers rise with a factor,
#' where each category begins, how much the items tell about people at each level, and how large the
#' error of a person's score is there.
#'
#' @param solution A `factor_solution` of polychoric or mixed correlations, rotated or of one
#'   factor.
#' @param from,to,step The levels of the factors, in standard deviations from their means.
#' @param salient Items count for the factor on which they load most, when that loading reaches
#'   this.
#' @return An object of class `information_curves` ([softsieve-result]); `values` holds
#'   * `slopes`: tibble, one row for each item that counts: `factor`, `item`, `slope`, `highest`
#'     (its most information) and `at` (the level where that is), `wording`, `reversed`;
#'   * `thresholds`: tibble: `factor`, `item`, `answer` (the lowest answer above the threshold),
#'     `level` (of the factor at which half of the people give that answer or a higher one);
#'   * `curves`: tibble, one row for each factor and level: `factor`, `level`, `information` (sum
#'     over items), `error` (conditional standard error of measurement of the level, 1 over the root
#'     of the information).
#' @section Formulas: Answers are normal variables y cut at thresholds t (the graded model with
#'   normal ogives, Samejima 1969). With s the correlation of y with the factor, slope and levels
#'   are
#'   \deqn{s / \sqrt{1 - s^2}, \quad t / s}{s / sqrt(1 - s^2), t / s}
#'   and with P(c) the probability of category c at a level, the item's information is the sum over
#'   c of \eqn{P'(c)^2 / P(c)}{P'(c)^2 / P(c)}. Other factors are averaged over; items are taken to
#'   be independent given the factor they count for.
#' @section Errors: `softsieve_error_class`, `softsieve_error_kind` (a solution without thresholds),
#'   `softsieve_error_salient` (no item loads as much).
#' @eval describe_papers("Samejima (1969)", "Takane & de Leeuw (1987)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' latent <- factor_solution(motives, factors = 4, kind = "polychoric", seed = 1)
#' information_curves(latent)
#' plot(information_curves(latent))
#' @export
information_curves <- function(solution, from = -4, to = 4, step = 0.1,
    salient = cutoff("salient_loading")) {
  check_class(solution, "solution", "factor_solution", "factor_solution()")
  check_number(from, "from", -10, 9.9)
  check_number(to, "to", from + 0.01, 10)
  check_number(step, "step", 0.001, to - from)
  check_number(salient, "salient", 0, 1)
  behind <- solution$values$item_correlations$values
  thresholds <- behind$thresholds
  if (is.null(thresholds) || one_of_model(solution$settings) == "component") {
    stop_input("kind",
      "There must be factors of polychoric or mixed correlations, which have thresholds.",
      got = if (solution$settings$missing == "given") {
        "Of correlations that were given as a matrix, no thresholds are known."
      } else {
        sprintf("%s came.", capitalise(KINDS[[solution$settings$kind]]$label))
      },
      todo = "For example factor_solution(answers, kind = \"polychoric\").")
  }
  v <- solution$values
  home <- home_factor(v$loadings, salient)
  cut <- !vapply(thresholds[rownames(v$loadings)], is.null, NA)
  at <- which(!is.na(home) & cut)
  if (!length(at)) {
    stop_input("salient", "Some item with categories must load by `salient` or more.",
      got = sprintf("None loads by %s.", format_unit(salient)), todo = "Lower `salient`.")
  }
  levels <- seq(from, to, by = step)
  each <- lapply(at, function(i) {
    item_curve(i, home[i], v, thresholds, behind$category_values, levels)
  })
  rows <- function(part) stack_rows(lapply(each, `[[`, part))
  curves <- curves_of_factors(each, colnames(v$loadings)[home[at]], colnames(v$loadings), levels)
  new_result("information_curves",
    list(slopes = rows("slopes"), thresholds = rows("thresholds"), curves = curves),
    c(solution$settings, list(from = from, to = to, step = step, salient = salient)),
    findings_that_travel(solution$findings), solution$source, match.call())
}

item_curve <- function(i, j, v, thresholds, categories, levels) {
  item <- rownames(v$loadings)[i]
  s <- v$structure[i, j]
  t <- thresholds[[item]]
  information <- core_graded_information(s, t, levels)
  best <- which.max(information)
  list(information = information,
    slopes = tibble_of(factor = colnames(v$loadings)[j], item = item, slope = s / sqrt(1 - s^2),
      highest = information[best], at = levels[best], wording = v$items$wording[i],
      reversed = v$items$reversed[i]),
    thresholds = tibble::tibble(factor = colnames(v$loadings)[j], item = item,
      answer = categories[[item]][-1L], level = t / s))
}

curves_of_factors <- function(each, homes, factors, levels) {
  stack_rows(lapply(intersect(factors, homes), function(factor) {
    own <- lapply(each[homes == factor], `[[`, "information")
    information <- Reduce(`+`, own)
    tibble::tibble(factor = factor, level = levels, information = information,
      error = 1 / sqrt(information))
  }))
}

#' @exportS3Method tibble::as_tibble
as_tibble.information_curves <- function(x, ...) x$values$curves

#' @export
tidy.information_curves <- function(x, ...) {
  check_dots_empty(...)
  x$values$slopes
}

#' @export
glance.information_curves <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(factors = length(unique(x$values$curves$factor)), items = nrow(x$values$slopes),
    most_information = max(x$values$curves$information), least_error = min(x$values$curves$error))
}
