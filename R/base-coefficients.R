# The registry of coefficients of a sum's reliability: what each is called, what it takes for
# granted, and who gave it. Prints, figures, help pages and the order of the core's measures read it
# from here.

coefficient_row <- function(name, label, assumes, reference) {
  tibble::tibble(name = name, label = label, assumes = assumes, reference = reference)
}

# In the order of the core's measures (core_reliability.h).
COEFFICIENTS <- rbind(
  coefficient_row(
    "alpha",
    "alpha",
    paste(
      "errors unrelated; exact when all items measure equally well, else too small; it",
      "is Guttman's lambda 3"
    ),
    "Cronbach (1951)"
  ),
  coefficient_row(
    "standardised_alpha",
    "alpha of standardised items",
    "as alpha, of items brought to equal variance",
    "Cronbach (1951)"
  ),
  coefficient_row(
    "lambda1",
    "Guttman's lambda 1",
    "errors unrelated; a lower bound",
    "Guttman (1945)"
  ),
  coefficient_row(
    "lambda2",
    "Guttman's lambda 2",
    "errors unrelated; a lower bound, never below alpha",
    "Guttman (1945)"
  ),
  coefficient_row(
    "lambda4",
    "Guttman's lambda 4, the greatest split half",
    "errors unrelated; the best of all splits, too large in small samples",
    "Guttman (1945)"
  ),
  coefficient_row(
    "lambda5",
    "Guttman's lambda 5",
    "errors unrelated; a lower bound, good when one item goes with all others",
    "Guttman (1945)"
  ),
  coefficient_row(
    "lambda6",
    "Guttman's lambda 6",
    "errors unrelated; a lower bound, good when items predict each other well",
    "Guttman (1945)"
  ),
  coefficient_row(
    "greatest_lower_bound",
    "greatest lower bound",
    "errors unrelated; the best of all lower bounds, but too large in small samples",
    "Jackson & Agunwamba (1977)"
  ),
  coefficient_row(
    "omega",
    "omega total",
    "one factor, loadings free; errors unrelated",
    "McDonald (1999)"
  ),
  coefficient_row(
    "composite",
    "composite reliability",
    "as omega, of standardised items",
    "Joreskog (1971)"
  ),
  coefficient_row(
    "coefficient_h",
    "coefficient H",
    "one factor; of the sum with the best weights, not of the plain sum",
    "Hancock & Mueller (2001)"
  ),
  coefficient_row(
    "variance_extracted",
    "average variance extracted",
    "one factor; the mean squared loading, no reliability",
    "Fornell & Larcker (1981)"
  ),
  coefficient_row(
    "mean_correlation",
    "mean correlation between items",
    "nothing; no reliability",
    "Clark & Watson (1995)"
  ),
  coefficient_row(
    "categorical_omega",
    "categorical omega",
    paste(
      "answers are normal variables cut into categories that share one factor; of the",
      "sum of the answers"
    ),
    "Green & Yang (2009)"
  ),
  coefficient_row(
    "ordinal_alpha",
    "ordinal alpha",
    paste(
      "as categorical omega with equal loadings, but of the normal variables nobody",
      "observed: not of the answers' sum"
    ),
    "Zumbo, Gadermann & Zeisser (2007)"
  )
)

coefficient_label <- function(name) COEFFICIENTS$label[match(name, COEFFICIENTS$name)]
