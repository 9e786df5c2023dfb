# Coefficients of a sum's reliability. A spec has, beside what all have:
#
#   assumes  what it takes for granted
#   short    its label where there is little room, when that is another
#   drawn    is it among those in the figure of coefficients?
#   best_of_many  is it the largest of many numbers? Then it has no limits
#   measure  function(covariances) for one that is not the compiled core's (core_reliability.h):
#            it has no limits from resampled people

COEFFICIENTS <- family(
  alpha = spec(label = "alpha", reference = "Cronbach (1951)",
    assumes = paste(
      "errors unrelated; exact when all items measure equally well, else too small; it",
      "is Guttman's lambda 3"),
    drawn = TRUE),
  standardised_alpha = spec(label = "alpha of standardised items", reference = "Cronbach (1951)",
    assumes = "as alpha, of items brought to equal variance", drawn = TRUE),
  lambda1 = spec(label = "Guttman's lambda 1", reference = "Guttman (1945)",
    assumes = "errors unrelated; a lower bound", drawn = FALSE),
  lambda2 = spec(label = "Guttman's lambda 2", reference = "Guttman (1945)",
    assumes = "errors unrelated; a lower bound, never below alpha", drawn = TRUE),
  lambda4 = spec(label = "Guttman's lambda 4, the greatest split half",
    short = "Guttman's lambda 4", reference = "Guttman (1945)",
    assumes = "errors unrelated; the best of all splits, so too large in samples: no limits",
    drawn = TRUE, best_of_many = TRUE),
  lambda5 = spec(label = "Guttman's lambda 5", reference = "Guttman (1945)",
    assumes = "errors unrelated; a lower bound, good when one item goes with all others",
    drawn = TRUE),
  lambda6 = spec(label = "Guttman's lambda 6", reference = "Guttman (1945)",
    assumes = "errors unrelated; a lower bound, good when items predict each other well",
    drawn = TRUE),
  greatest_lower_bound = spec(label = "greatest lower bound",
    reference = "Jackson & Agunwamba (1977)",
    assumes = "errors unrelated; the best of all lower bounds, so too large in samples: no limits",
    drawn = TRUE, best_of_many = TRUE),
  omega = spec(label = "omega (one factor)", reference = "McDonald (1999)",
    assumes = "one factor, loadings free; errors unrelated", drawn = TRUE),
  composite = spec(label = "composite reliability", reference = "Joreskog (1971)",
    assumes = "as omega, of standardised items", drawn = TRUE),
  coefficient_h = spec(label = "coefficient H", reference = "Hancock & Mueller (2001)",
    assumes = "one factor; of the sum with the best weights, not of the plain sum", drawn = TRUE),
  variance_extracted = spec(label = "average variance extracted",
    reference = "Fornell & Larcker (1981)",
    assumes = "one factor; the mean squared loading, no reliability", drawn = FALSE),
  mean_correlation = spec(label = "mean correlation between items",
    reference = "Clark & Watson (1995)", assumes = "nothing; no reliability", drawn = FALSE),
  categorical_omega = spec(label = "categorical omega", reference = "Green & Yang (2009)",
    assumes = paste(
      "answers are normal variables cut into categories that share one factor; of the",
      "sum of the answers"),
    drawn = TRUE),
  ordinal_alpha = spec(label = "ordinal alpha", reference = "Zumbo, Gadermann & Zeisser (2007)",
    assumes = paste("as categorical omega with equal loadings, but of the normal variables nobody",
      "observed: not of the answers' sum"),
    drawn = TRUE))

coefficient_label <- function(names) {
  unname(vapply(names, function(name) COEFFICIENTS[[name]]$label, ""))
}

coefficient_short <- function(names) {
  short <- function(name) {
    s <- COEFFICIENTS[[name]]
    if (is.null(s$short)) s$label else s$short
  }
  unname(vapply(names, short, ""))
}

# Every coefficient of one scale, named and in order, from its covariances; `ordinal` stands in for
# those that need the answers' tables. One that the core does not know is measured by its spec.
measure_scale <- function(covariances, split, ordinal) {
  measured <- cpp_measure_covariances(covariances, split)
  measured[names(ordinal)] <- ordinal
  own <- Filter(function(one) !is.null(one$measure), COEFFICIENTS)
  measured <- c(measured, vapply(own, function(one) as.numeric(one$measure(covariances)), 0))
  measured[names(COEFFICIENTS)]
}
