# Coefficients of a sum's reliability. A spec has, beside what all have:
#
#   assumes  what it takes for granted
#   short    its label where there is little room, when that is another
#   drawn    is it among those in the figure of coefficients?
#   best_of_many  is it the largest of many numbers? Then it has no limits
#   measure  function(covariances) for one that is not the compiled core's (core_reliability.h):
#            it has no limits from resampled people

COEFFICIENT_ALPHA <- spec(name = "alpha", label = "alpha", order = 1, reference = "Cronbach (1951)",
  assumes = paste("errors unrelated; exact when all items measure equally well, else too small; it",
    "is Guttman's lambda 3"),
  drawn = TRUE)

COEFFICIENT_STANDARDISED_ALPHA <- spec(name = "standardised_alpha",
  label = "alpha of standardised items", order = 2, reference = "Cronbach (1951)",
  assumes = "as alpha, of items brought to equal variance",
  drawn = TRUE)

COEFFICIENT_LAMBDA1 <- spec(name = "lambda1", label = "Guttman's lambda 1", order = 3,
  reference = "Guttman (1945)", assumes = "errors unrelated; a lower bound", drawn = FALSE)

COEFFICIENT_LAMBDA2 <- spec(name = "lambda2", label = "Guttman's lambda 2", order = 4,
  reference = "Guttman (1945)",
  assumes = "errors unrelated; a lower bound, never below alpha",
  drawn = TRUE)

COEFFICIENT_LAMBDA4 <- spec(name = "lambda4",
  label = "Guttman's lambda 4, the greatest split half",
  short = "Guttman's lambda 4", order = 5, reference = "Guttman (1945)",
  assumes = "errors unrelated; the best of all splits, so too large in samples: no limits",
  drawn = TRUE, best_of_many = TRUE)

COEFFICIENT_LAMBDA5 <- spec(name = "lambda5", label = "Guttman's lambda 5", order = 6,
  reference = "Guttman (1945)",
  assumes = "errors unrelated; a lower bound, good when one item goes with all others",
  drawn = TRUE)

COEFFICIENT_LAMBDA6 <- spec(name = "lambda6", label = "Guttman's lambda 6", order = 7,
  reference = "Guttman (1945)",
  assumes = "errors unrelated; a lower bound, good when items predict each other well",
  drawn = TRUE)

COEFFICIENT_GREATEST_LOWER_BOUND <- spec(name = "greatest_lower_bound",
  label = "greatest lower bound", order = 8, reference = "Jackson & Agunwamba (1977)",
  assumes = "errors unrelated; the best of all lower bounds, so too large in samples: no limits",
  drawn = TRUE, best_of_many = TRUE)

COEFFICIENT_OMEGA <- spec(name = "omega", label = "omega (one factor)", order = 9,
  reference = "McDonald (1999)",
  assumes = "one factor, loadings free; errors unrelated",
  drawn = TRUE)

COEFFICIENT_COMPOSITE <- spec(name = "composite", label = "composite reliability", order = 10,
  reference = "Joreskog (1971)", assumes = "as omega, of standardised items", drawn = TRUE)

COEFFICIENT_H <- spec(name = "coefficient_h", label = "coefficient H", order = 11,
  reference = "Hancock & Mueller (2001)",
  assumes = "one factor; of the sum with the best weights, not of the plain sum",
  drawn = TRUE)

COEFFICIENT_VARIANCE_EXTRACTED <- spec(name = "variance_extracted",
  label = "average variance extracted", order = 12, reference = "Fornell & Larcker (1981)",
  assumes = "one factor; the mean squared loading, no reliability",
  drawn = FALSE)

COEFFICIENT_MEAN_CORRELATION <- spec(name = "mean_correlation",
  label = "mean correlation between items", order = 13, reference = "Clark & Watson (1995)",
  assumes = "nothing; no reliability", drawn = FALSE)

COEFFICIENT_CATEGORICAL_OMEGA <- spec(name = "categorical_omega", label = "categorical omega",
  order = 14, reference = "Green & Yang (2009)",
  assumes = paste("answers are normal variables cut into categories that share one factor; of the",
    "sum of the answers"),
  drawn = TRUE)

COEFFICIENT_ORDINAL_ALPHA <- spec(name = "ordinal_alpha", label = "ordinal alpha", order = 15,
  reference = "Zumbo, Gadermann & Zeisser (2007)",
  assumes = paste("as categorical omega with equal loadings, but of the normal variables nobody",
    "observed: not of the answers' sum"),
  drawn = TRUE)

coefficient_label <- function(names) {
  unname(vapply(names, function(name) method_label("coefficient", name), ""))
}

coefficient_short <- function(names) {
  short <- function(name) {
    s <- spec_of("coefficient", name)
    if (is.null(s$short)) s$label else s$short
  }
  unname(vapply(names, short, ""))
}

# Every coefficient of one scale, named and in order, from its covariances; `ordinal` stands in for
# those that need the answers' tables. One that the core does not know is measured by its spec.
measure_scale <- function(covariances, split, ordinal) {
  measured <- cpp_measure_covariances(covariances, split)
  measured[names(ordinal)] <- ordinal
  own <- Filter(function(one) !is.null(one$measure), specs("coefficient"))
  measured <- c(measured, vapply(own, function(one) as.numeric(one$measure(covariances)), 0))
  measured[names_of("coefficient")]
}
