# The one shape of every stage's result, and the fingerprint that ties results to their data.

#' What every result of softsieve holds
#'
#' Each stage returns a list of the same five parts, with a class of its own:
#'
#' * `values`: the numbers, as tibbles, matrices and vectors (each stage's help page names them);
#' * `settings`: everything that was asked for, defaults included, and the seed that was used;
#' * `findings`: a tibble of what was noticed, one row each: `stage`, `code` (short and stable),
#'   `severity` (`"note"`, `"caution"` or `"serious"`), `item` (or `NA`), `value` and `limit` (the
#'   number and what it was held against, or `NA`) and `text` (a sentence that says what to do);
#' * `source`: the fingerprint of the answers, and the names of the items, that it came from;
#' * `call`: the call that made it.
#'
#' `as_tibble()` and `as.data.frame()` give its main table, `print()` a verdict, the table and the
#' next step. Results may be read freely; to change one, run its stage again.
#' @name softsieve-result
NULL

new_result <- function(class, values, settings, findings, source, call) {
  structure(
    list(values = values, settings = settings, findings = findings, source = source, call = call),
    class = c(class, "softsieve_result")
  )
}

# Tables of the same columns under each other.
stack_rows <- function(tables) do.call(rbind, unname(tables))

#' @export
as.data.frame.softsieve_result <- function(x, ...) as.data.frame(as_tibble(x), ...)

# Values that are edited by hand are no longer what the stage found: the result says so, and gets
# another fingerprint, so that no later stage takes it for what it was. An edited questionnaire has
# the fingerprint of its new answers.

#' @export
`$<-.softsieve_result` <- function(x, name, value) replace_part(x, name, value)

#' @export
`[[<-.softsieve_result` <- function(x, i, value) replace_part(x, i, value)

replace_part <- function(x, name, value) {
  class <- oldClass(x)
  parts <- unclass(x)
  parts[name] <- list(value)
  if (identical(name, "values")) {
    answers <- value$answers
    parts$source$fingerprint <- if (is.matrix(answers)) {
      fingerprint_of(answers, value$weights)$fingerprint
    } else {
      paste("edited", rlang::hash(value))
    }
    told <- new_finding("edited_by_hand", gsub("_", " ", sub("^softsieve_", "", class[1L])))
    parts$findings <- bind_findings(parts$findings, told)
  }
  structure(parts, class = class)
}

# A fingerprint of answers: the same for the same items, answers and weights, whatever their
# storage.
fingerprint_of <- function(answers, weights = NULL) {
  matrix <- as.matrix(answers)
  parts <- c(
    list(colnames(matrix), as.numeric(matrix), dim(matrix)),
    if (!is.null(weights)) list(as.numeric(weights))
  )
  list(fingerprint = rlang::hash(parts), items = colnames(matrix), people = nrow(matrix))
}

#' Words and numbers, and what to do when they are low
#'
#' \describe{
#'   \item{sampling adequacy}{How far what two items share is shared with the other items too, from
#'     0 to 1 (Kaiser & Rice 1974). Below .50: leave out the item with the lowest, one at a time,
#'     and run again.}
#'   \item{sphericity}{Bartlett's (1951) test of whether the items are related at all. When p is
#'     above .05 there may be nothing to factor: look for more people or better items.}
#'   \item{squared multiple correlation}{The share of an item's variance that the other items
#'     predict. Near 0: the item stands alone. Near 1: it repeats others; leave one out.}
#'   \item{determinant}{The product of the eigenvalues of the correlation matrix, from 0 to 1. 0
#'     means that an item follows from others: find it and leave it out.}
#'   \item{eigenvalue}{The variance of all standardised items that one component takes up; they add
#'     up to the number of items. `share` and `running_share` are shares of that sum.}
#'   \item{chance mean, chance upper}{The mean, and an upper percentile, of the eigenvalue of that
#'     rank among unrelated items. A factor whose eigenvalue is not above them is likely to be
#'     noise.}
#'   \item{Monte Carlo standard error}{How far a chance level may be off because only so many draws
#'     were made. When an eigenvalue is nearer to its limit than three of them: `replicates =
#'     "enough"`.}
#'   \item{probability of a number}{How often, among simulated answers that look like these, that
#'     was the true number of factors ([count_factors()]). Below .60: no number stands out; compare
#'     solutions.}
#'   \item{RMSEA}{Misfit for each degree of freedom, in the population (Browne & Cudeck 1992). Up to
#'     .05 is close; above .08 or so factors are missing, or items share what no factor explains.}
#'   \item{BIC}{Misfit less a price for every parameter; the smallest is best (Schwarz 1978). Only
#'     differences mean something: below 2 they are slight, above 10 strong.}
#'   \item{CFI}{How much of the misfit without any factor the factors take away, from 0 to 1
#'     (Bentler 1990). Below .95: consider one factor more.}
#'   \item{loading}{How much an item changes with a factor, the other factors held constant
#'     (pattern). Below .30 in size on every factor: the item belongs to none; consider leaving it
#'     out.}
#'   \item{structure}{The correlation of an item with a factor. It equals the loading when factors
#'     are uncorrelated.}
#'   \item{communality, uniqueness}{The share of an item's variance that the factors explain, and
#'     the rest. Communality below .20: the item has little in common with the others. Uniqueness at
#'     0: the solution is improper; take fewer factors.}
#'   \item{congruence}{How alike two factors are: the correlation of their loadings about 0, from -1
#'     to 1 (Tucker 1951). From .95 on they are equal, from .85 similar; below, they are two things
#'     (Lorenzo-Seva & ten Berge 2006).}
#'   \item{stays}{How often an item's largest loading is on the same factor when people are drawn
#'     again. Below 80 %: think twice before it joins a scale.}
#'   \item{complexity}{On how many factors an item loads, in effect (Hofmann 1978). 1 is best; near
#'     2, the item cannot tell two factors apart.}
#'   \item{root mean square residual}{The typical size of a correlation that the factors leave
#'     unexplained. Above .08 or so: consider one factor more.}
#'   \item{SRMR}{The same with the diagonal counted in. Its cut-offs are those of the root mean
#'   square residual.}
#'   \item{adjusted chi-square}{A test of fit for weighted least squares, with the mean and variance
#'     that it has for these answers, normal or not. Read it as any chi-square: a small p says that
#'     something is left.}
#'   \item{general factor, general share}{What all factors share (Schmid & Leiman 1957), and its
#'     part of the common variance. Below .50: read the factors; a total score mixes them.}
#'   \item{component}{A weighted sum of items that takes up as much variance as can be; unlike a
#'     factor it counts what is an item's own.}
#'   \item{alpha}{A lower bound of a sum's reliability when errors are unrelated (Cronbach 1951),
#'     exact when all items measure equally well. Low: more items, or better ones. Negative: an item
#'     works against the others; was it worded in reverse?}
#'   \item{omega}{The share of a sum's variance that one common factor explains (McDonald 1999). The
#'     one to report where it differs from alpha.}
#'   \item{greatest lower bound, lambdas}{Lower bounds of reliability that take only errors to be
#'     unrelated (Guttman 1945; Jackson & Agunwamba 1977). The greatest comes out too large in small
#'     samples.}
#'   \item{omega hierarchical}{The share of a sum's variance that one factor behind all items
#'     explains (Zinbarg et al. 2005). Below .50: do not read the total as one thing.}
#'   \item{categorical omega, ordinal alpha}{Omega of the sum of ordered answers (Green & Yang
#'     2009); alpha of the normal variables thought to lie behind them, which nobody observed.}
#'   \item{standard error of measurement}{How far one person's score may be off. People who are
#'     nearer than that cannot be told apart.}
#'   \item{heterotrait ratio}{How large correlations between two scales are beside those within
#'     (Henseler et al. 2015). Above .85: the two may be one.}
#'   \item{smallest change}{What one person's score must change by, between two waves, to be more
#'   than error.}
#'   \item{discrimination}{How far an item tells the upper from the lower 27 % of people (by the
#'   other items) apart, from -1 to
#'     1. Near 0: it does not.}
#'   \item{correlation with the rest}{Of an item with the sum of the other items of its scale. Below
#'     0: the item works against its scale; look at its key.}
#'   \item{determinacy}{The correlation of a factor score with its factor (Grice 2001). Below .80:
#'     use the scores for groups, not for single persons.}
#' }
#' @references Bartlett (1951), Kaiser & Rice (1974), Cronbach (1951), McDonald (1999) and the
#'   others are given in full on the help pages of the stages that use them.
#' @name softsieve-glossary
NULL

#' Cut-offs
#'
#' Every number that results are held against, with its source. All of them are arguments or can be
#' judged afresh from the tables: a cut-off starts a look, it does not end one.
#'
#' @return `cutoff_table()` returns a tibble: `name`, `value`, `label`, `source`.
#' @examples
#' cutoff_table()
#' @name softsieve-cutoffs
#' @export
cutoff_table <- function() {
  tibble::tibble(
    name = names(CUTOFFS),
    value = vapply(CUTOFFS, `[[`, 0, "value"),
    label = vapply(CUTOFFS, `[[`, "", "label"),
    source = vapply(CUTOFFS, `[[`, "", "source")
  )
}

# Results whose class has no table of its own in these forms: the main table, or a word.

#' @export
tidy.softsieve_result <- function(x, ...) {
  check_dots_empty(...)
  as_tibble(x)
}

#' @export
glance.softsieve_result <- function(x, ...) {
  stop_input(
    "class",
    "`x` must be a result that can be told in one row.",
    got = sprintf("A %s came.", gsub("_", " ", class(x)[1L])),
    todo = "as_tibble(x) gives its main table."
  )
}

#' @export
coef.softsieve_result <- function(object, ...) {
  stop_input(
    "class",
    "`object` must be a result that has loadings.",
    got = sprintf("A %s came.", gsub("_", " ", class(object)[1L])),
    todo = "coef() is of factor solutions, pattern tables and hierarchical forms."
  )
}
