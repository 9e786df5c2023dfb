# The kinds of correlation, and what may be done about missing answers. A spec of a kind has, beside
# what all have:
#
#   core     the kind that the compiled core computes from tables or cross-products, or "mixed"
#   em       may missing answers be estimated by EM?
#   like_pearson  is its sampling error that of Pearson correlations, as far as is known?
#   weighed  was the model of count_factors() trained on such?
#   influence  is it known how much each person moves such a correlation
#              (correlation-information.R)?
#   ordinal  does it take answers for cut normal variables? Chance is then drawn so, too
#   analysed what extraction factors: "correlations" or "covariances"
#   few      must every item have 16 different answers at most: function(weighted)

KINDS <- family(
  pearson = spec(label = "Pearson correlations", reference = "Pearson (1896)", core = "pearson",
    em = TRUE, like_pearson = TRUE, weighed = TRUE, influence = TRUE, ordinal = FALSE,
    analysed = "correlations", few = function(weighted) FALSE),
  covariance = spec(label = "covariances", reference = "Pearson (1896)", core = "pearson",
    em = TRUE, like_pearson = TRUE, weighed = TRUE, influence = TRUE, ordinal = FALSE,
    analysed = "covariances", few = function(weighted) FALSE),
  spearman = spec(label = "Spearman correlations", reference = "Spearman (1904)",
    core = "spearman", em = FALSE, like_pearson = FALSE, weighed = FALSE, influence = FALSE,
    ordinal = FALSE, analysed = "correlations",
    few = function(weighted) weighted), # weighted ranks need a table
  polychoric = spec(label = "polychoric correlations", reference = "Olsson (1979)",
    core = "polychoric", em = FALSE, like_pearson = FALSE, weighed = TRUE, influence = TRUE,
    ordinal = TRUE, analysed = "correlations", few = function(weighted) TRUE),
  mixed = spec(label = "Pearson, polyserial and polychoric correlations",
    reference = "Olsson, Drasgow & Dorans (1982)", core = "mixed", em = FALSE, like_pearson = FALSE,
    weighed = FALSE, influence = FALSE, ordinal = TRUE, analysed = "correlations",
    few = function(weighted) FALSE))

MISSING_METHODS <- family(
  pairwise = spec(label = "all people who answered both items of a pair",
    reference = "Glasser (1964)"),
  complete = spec(label = "people who answered all items", reference = "Little & Rubin (2020)"),
  em = spec(label = "maximum likelihood on all answers there are",
    reference = "Dempster, Laird & Rubin (1977)"))

# A property of the kind that correlations are of; a matrix that was given counts as Pearson's.
kind_is <- function(kind, property) KINDS[[if (kind == "given") "pearson" else kind]][[property]]
