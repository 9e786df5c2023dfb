# What taking few answers for numbers changes: told once, where correlations are made.

# The least people at which polychoric correlations of two or three answers are recommended, and the
# change of a loading from which they are whatever the number of answers.
PEOPLE_FOR_POLYCHORIC <- 200L
LOADING_CHANGED <- 0.10
COARSE_DRAWS <- 100L

# Of Pearson correlations of items with four answers or fewer: the number of factors by sequential
# parallel analysis, and the loading that changes most, as polychoric correlations have them.
find_coarse <- function(answers, x, threads) {
  v <- x$values
  categories <- v$items$categories
  few <- which(!is.na(categories) & categories <= 4L)
  if (kind_is(x$settings$kind, "core") != "pearson" || !length(few)) return(NULL)
  compared <- compare_coarse(answers, x, threads)
  advised <- !is.null(compared) && is_advised(compared, min(categories[few]), v$n)
  new_finding("categories_as_numbers",
    if (length(few) == 1L) "1 item has" else paste(length(few), "items have"),
    name_culprits(v$items$item[few]), say_coarse(compared),
    if (advised) " Polychoric correlations are recommended: kind = \"polychoric\"." else "",
    severity = if (advised) "caution" else "note", value = length(few))
}

is_advised <- function(compared, least, n) {
  compared$pearson != compared$polychoric ||
    abs(compared$change) >= LOADING_CHANGED ||
    (least <= 3L && n >= PEOPLE_FOR_POLYCHORIC)
}

# NULL where polychoric correlations cannot be had, or factored.
compare_coarse <- function(answers, x, threads) {
  v <- x$values
  r <- v$correlations
  p <- ncol(r)
  found <- latent_of_answers(answers, x, threads)
  if (is.null(found)) return(NULL)
  latent <- found$correlations
  count <- function(r, n) core_sequential_number(r, n, COARSE_DRAWS, 1, threads)
  pearson <- count(r, v$n)
  polychoric <- count(latent, max(p + 1, floor(v$n * core_mean_information(found$thresholds))))
  k <- max(1L, min(pearson, polychoric))
  changed <- core_largest_change(r, latent, k, 1, threads)
  list(pearson = pearson, polychoric = polychoric, change = changed$change,
    item = v$items$item[changed$item], factors = k)
}

# Polychoric correlations of the same people, where they can be had and factored.
latent_of_answers <- function(answers, x, threads) {
  v <- x$values
  if (!can_be_compared(v)) return(NULL)
  weights <- scaled_weights(v$questionnaire)
  if (x$settings$missing == "complete") {
    answers <- answers[stats::complete.cases(answers), , drop = FALSE]
    weights <- NULL
  }
  found <- cpp_table_correlations(answers, "polychoric", weights, TRUE, threads, NULL)
  latent <- found$correlations
  usable <- !is.null(latent) && !anyNA(latent) && core_smallest_eigenvalue(latent) > 1e-6
  if (usable) found
}

can_be_compared <- function(v) {
  p <- ncol(v$correlations)
  categories <- v$items$categories
  tabled <- !anyNA(categories) && all(categories <= 16L)
  tabled && p > 3L && v$n > p && v$smallest_eigenvalue > 1e-8
}

say_coarse <- function(compared) {
  if (is.null(compared)) {
    return("Polychoric correlations of these cannot be factored, so that nothing is compared.")
  }
  number <- if (compared$pearson == compared$polychoric) {
    sprintf("the number of factors stays (%d by sequential parallel analysis)", compared$pearson)
  } else {
    sprintf("the number of factors changes from %d to %d (sequential parallel analysis)",
      compared$pearson, compared$polychoric)
  }
  sprintf(
    "As polychoric correlations %s, and the loading that changes most (%s, of %s) does so by %s.",
    number, compared$item, count_of(compared$factors, "factor"), format_unit(compared$change))
}
