# What must hold for items to be correlated, and for a correlation matrix to be inverted.

check_enough_people <- function(used, people, missing) {
  if (used >= 3L) return(invisible())
  stop_input("too_few_people",
    "There must be at least three people to correlate items.",
    got = sprintf("%s of %s can be used.", format_count(used),
      count_of(people, "person", "people")),
    todo = if (missing == "complete") {
      "Give missing = \"pairwise\" to use what each person answered."
    } else {
      character()
    })
}

check_varying <- function(sds) {
  constant <- names(sds)[is.na(sds) | sds == 0]
  if (!length(constant)) return(invisible())
  stop_input("constant_item",
    "Every item must vary: an item to which all give the same answer correlates with nothing.",
    got = sprintf("Constant: %s.", name_culprits(constant)),
    todo = "Leave these items out: questionnaire(data, items = -c(...)).", items = constant)
}

check_pairs_met <- function(correlations) {
  gap <- which(is.na(correlations) & upper.tri(correlations), arr.ind = TRUE)
  if (!nrow(gap)) return(invisible())
  pairs <- sprintf("%s with %s", rownames(correlations)[gap[, 1L]],
    colnames(correlations)[gap[, 2L]])
  stop_input("no_pairs", "Every pair of items must have been answered by people who vary on both.",
    got = sprintf("Not so for: %s.", name_culprits(pairs)),
    todo = "Were these items given to different people? Analyse them apart.")
}

check_correlation_matrix <- function(x, n) {
  wrong <- first_wrong("It holds text." = !is.numeric(x), "It is not square." = nrow(x) != ncol(x),
    "It has missing values." = anyNA(x), "It has infinite values." = any(is.infinite(x)),
    "It has values outside [-1, 1]." = any(abs(x) > 1 + 1e-8),
    "Its diagonal is not 1 throughout." = any(abs(diag(x) - 1) > 1e-8),
    "It is not symmetric." = max(abs(x - t(x))) > 1e-8, "It has one item." = ncol(x) < 2L)
  if (length(wrong)) {
    stop_input("matrix",
      paste("A matrix must be a correlation matrix: square, symmetric, values from -1 to 1,",
        "ones on the diagonal."),
      got = paste(wrong, describe_value(x)),
      todo = if (looks_like_covariances(x)) {
        "It looks like a covariance matrix: give kind = \"covariance\"."
      } else {
        "Give answers as a data frame, not as a matrix."
      })
  }
  if (is.null(n)) {
    stop_input("matrix", "A correlation matrix must come with the number of people behind it.",
      got = "`n` is missing.", todo = "Give it as n = 840, for example.")
  }
  check_whole(n, "n", 3L)
}

looks_like_covariances <- function(x) {
  is.numeric(x) &&
    nrow(x) == ncol(x) &&
    all(is.finite(x)) &&
    all(diag(x) > 0) &&
    max(abs(x - t(x))) < 1e-8 * max(abs(x))
}

check_covariance_matrix <- function(x) {
  wrong <- first_wrong("It holds text." = !is.numeric(x), "It is not square." = nrow(x) != ncol(x),
    "It has missing values." = anyNA(x), "It has infinite values." = any(is.infinite(x)),
    "A variance on its diagonal is 0 or below." = any(diag(x) <= 0),
    "It is not symmetric." = max(abs(x - t(x))) > 1e-8 * max(abs(x)))
  if (!length(wrong)) return(x)
  stop_input("matrix",
    "A covariance matrix must be square and symmetric, with variances above 0 on its diagonal.",
    got = wrong, todo = "Give answers as a data frame, not as a matrix.")
}

# For stages that need the inverse: says which items make the matrix singular, and what to do.
is_invertible <- function(x) x$values$smallest_eigenvalue >= 1e-10

check_invertible <- function(x) {
  if (is_invertible(x)) return(invisible())
  r <- x$values$correlations
  same <- core_identical_pairs(r)
  must <- paste("The correlation matrix must be positive definite: no item may follow exactly",
    "from others.")
  if (nrow(same)) {
    pairs <- sprintf("%s and %s", rownames(r)[same[, 1L]], colnames(r)[same[, 2L]])
    stop_input("identical_items", must,
      got = sprintf("They agree throughout: %s.", name_culprits(pairs)),
      todo = "Leave one of each pair out.", items = rownames(r)[same[, 2L]])
  }
  if (x$values$n <= ncol(r)) {
    stop_input("too_few_people", must,
      got = sprintf("%s answered %s.", count_of(x$values$n, "person", "people"),
        count_of(ncol(r), "item")),
      todo = paste(
        "More people than items are needed, better five to ten times as many. Take fewer",
        "items, or more people."))
  }
  tied <- rownames(r)[core_dependent_items(r)]
  stop_input("singular", must,
    got = c(
      sprintf("Its smallest eigenvalue is %s.", format(x$values$smallest_eigenvalue, digits = 2L)),
      sprintf("Items that follow from each other: %s.", name_culprits(tied))),
    todo = c("Is one of them the sum of others? Leave it out.",
      "With many missing answers, try missing = \"complete\"."), items = tied)
}

check_em_kind <- function(kind, missing) {
  if (missing != "em" || kind_is(kind, "em")) return(invisible())
  stop_input("argument",
    sprintf(
      "missing = \"em\" goes with kind %s: it estimates means and covariances of normal answers.",
      paste0("\"", Filter(function(k) kind_is(k, "em"), names(KINDS)), "\"", collapse = " or ")),
    got = sprintf("kind = \"%s\" came.", kind),
    todo = "Give missing = \"pairwise\", or another kind.")
}

# Polychoric correlations need categories, weighted ranks a table.
check_categories <- function(answers, kind, weights) {
  if (!kind_is(kind, "few")(!is.null(weights))) return(invisible())
  many <- colnames(answers)[vapply(cpp_categories(answers, NULL, 1L)$values, is.null, NA)]
  if (!length(many)) return(invisible())
  stop_input("many_categories",
    sprintf("Every item must have at most 16 different answers for %s correlations%s.", kind,
      if (is.null(weights)) "" else " with weights"),
    got = sprintf("More than 16: %s.", name_culprits(many)),
    todo = paste("Give kind = \"mixed\" to take these items as continuous, or leave them out if",
      "they are not items."))
}

check_em <- function(found) {
  if (!is.null(found$correlations)) return(invisible())
  stop_input("singular",
    "EM must be able to predict missing answers from the others.",
    got = "The covariances of some answers became singular.",
    todo = paste("Are two items copies of each other, or are there fewer people than items? Try",
      "missing = \"pairwise\"."))
}
