# What each number means, and what to do when it is low: for its help page and for reports. Links to
# help pages are in square brackets, as roxygen has them.

GLOSSARY <- c(
  "sampling adequacy" = paste(
    "How far what two items share is shared with the other items too, from 0 to 1 (Kaiser &",
    "Rice 1974, who call it mediocre from .60, middling from .70, meritorious from .80). Below",
    ".50: leave out the item with the lowest, one at a time, and run again."
  ),
  "sphericity" = paste(
    "A test of whether the items are related at all: Bartlett's (1951) for complete answers, the",
    "sum of squared correlations otherwise. When p is above .05 there may be nothing to factor:",
    "look for more people or better items."
  ),
  "squared multiple correlation" = paste(
    "The share of an item's variance that the other items predict. Near 0: the item stands",
    "alone. Near 1: it repeats others; leave one out."
  ),
  "determinant" = paste(
    "The product of the eigenvalues of the correlation matrix, from 0 to 1. 0 means that an",
    "item follows from others: find it and leave it out."
  ),
  "eigenvalue" = paste(
    "The variance of all standardised items that one component takes up; they add up to the",
    "number of items. share and running share are shares of that sum."
  ),
  "chance mean, chance upper" = paste(
    "The mean, and an upper percentile, of the eigenvalue of that rank among unrelated items. A",
    "factor whose eigenvalue is not above them is likely to be noise."
  ),
  "Monte Carlo standard error" = paste(
    "How far a chance level may be off because only so many draws were made. When an eigenvalue",
    "is nearer to its limit than three of them: replicates = \"enough\"."
  ),
  "probability of a number" = paste(
    "How often, among simulated answers that look like these, that was the true number of",
    "factors ([count_factors()]). Below .60: no number stands out; compare solutions."
  ),
  "RMSEA" = paste(
    "Misfit for each degree of freedom, in the population (Browne & Cudeck 1992). Up to .05 is",
    "close; above .08 or so factors are missing, or items share what no factor explains."
  ),
  "BIC" = paste(
    "Misfit less a price for every parameter; the smallest is best (Schwarz 1978). Only",
    "differences mean something: below 2 they are slight, above 10 strong."
  ),
  "CFI" = paste(
    "How much of the misfit without any factor the factors take away, from 0 to 1 (Bentler",
    "1990). It says how good the model is beside none, not how many factors there are: adding",
    "factors until .95 is reached finds too many."
  ),
  "loading" = paste(
    "How much an item changes with a factor, the other factors held constant (pattern). Below",
    ".30 in size on every factor: the item belongs to none; consider leaving it out."
  ),
  "structure" = paste(
    "The correlation of an item with a factor. It equals the loading when factors are",
    "uncorrelated."
  ),
  "communality, uniqueness" = paste(
    "The share of an item's variance that the factors explain, and the rest. Communality below",
    ".20: the item has little in common with the others. Uniqueness at 0: the solution is",
    "improper; take fewer factors."
  ),
  "congruence" = paste(
    "How alike two factors are: the correlation of their loadings about 0, from -1 to 1 (Tucker",
    "1951). From .95 on they are very similar, from .85 similar; below, two things (Lorenzo-Seva",
    "& ten Berge 2006)."
  ),
  "stays" = paste(
    "How often an item's largest loading is on the same factor when people are drawn again.",
    "Below 80 %: think twice before it joins a scale."
  ),
  "complexity" = paste(
    "On how many factors an item loads, in effect (Hofmann 1978). 1 is best; near 2, the item",
    "cannot tell two factors apart."
  ),
  "root mean square residual" = paste(
    "The typical size of a correlation that the factors leave unexplained. There is no cut-off for",
    "exploratory solutions (.08 is for confirmatory models): look at the largest residuals."
  ),
  "SRMR" = paste(
    "The same with the diagonal counted in, where exploratory factors leave nothing: it is a",
    "little smaller."
  ),
  "adjusted chi-square" = paste(
    "The test of fit of so many factors, with the mean and variance that it has for these answers,",
    "normal or not, whole or with gaps. A small p says that something is left; with many people",
    "that may be little."
  ),
  "general factor, general share" = paste(
    "What all factors share (Schmid & Leiman 1957), and its part of the common variance. Below",
    ".50: read the factors; a total score mixes them."
  ),
  "component" = paste(
    "A weighted sum of items that takes up as much variance as can be; unlike a factor it",
    "counts what is an item's own."
  ),
  "alpha" = paste(
    "A lower bound of a sum's reliability when errors are unrelated (Cronbach 1951), exact when",
    "all items measure equally well. Low: more items, or better ones. Negative: an item works",
    "against the others; was it worded in reverse?"
  ),
  "omega" = paste(
    "The share of a sum's variance that one common factor explains (McDonald 1999). The one to",
    "report where it differs from alpha."
  ),
  "greatest lower bound, lambdas" = paste(
    "Lower bounds of reliability that take only errors to be unrelated (Guttman 1945; Jackson &",
    "Agunwamba 1977). The greatest comes out too large in small samples."
  ),
  "omega hierarchical" = paste(
    "The share of a sum's variance that one factor behind all items explains (Zinbarg et al.",
    "2005). Below .50: do not read the total as one thing."
  ),
  "categorical omega, ordinal alpha" = paste(
    "Omega of the sum of ordered answers (Green & Yang 2009); alpha of the normal variables",
    "thought to lie behind them, which nobody observed."
  ),
  "standard error of measurement" = paste(
    "How far one person's score may be off. Two people differ by more than error only beyond 2.77",
    "of it (1.96 times the root of 2): both scores are off."
  ),
  "heterotrait ratio" = paste(
    "How large correlations between two scales are beside those within (Henseler et al. 2015).",
    "Above .85: the two may be one."
  ),
  "smallest change" = paste(
    "What one person's score must change by, between two waves, to be more than error."
  ),
  "discrimination" = paste(
    "How far an item tells the upper from the lower 27 % of people (by the other items) apart,",
    "from -1 to 1. Near 0: it does not."
  ),
  "correlation with the rest" = paste(
    "Of an item with the sum of the other items of its scale. Below 0: the item works against",
    "its scale; look at its key."
  ),
  "determinacy" = paste(
    "The correlation of a factor score with its factor (Grice 2001). Below .80: do not use the",
    "scores; below .90: use them for groups, not to decide about single people (Gorsuch 1983)."
  )
)

#' Words and numbers, and what to do when they are low
#'
#' @eval describe_glossary()
#' @references Bartlett (1951), Kaiser & Rice (1974), Cronbach (1951), McDonald (1999) and the
#'   others are given in full on the help pages of the stages that use them.
#' @name softsieve-glossary
NULL

#' @srrstats {G1.3} every number that is printed is defined there
#' @noRd
describe_glossary <- function() {
  terms <- sprintf("\\item{%s}{%s}", names(GLOSSARY), GLOSSARY)
  paste(c("@details \\describe{", terms, "}"), collapse = "\n")
}

# For reports: without the brackets of links.
glossary_plain <- function() gsub("\\[([a-z_]+\\(\\))\\]", "\\1", GLOSSARY)
