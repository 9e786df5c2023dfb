#' What a questionnaire is expected to be like
#'
#' Before anybody has answered: so many factors, items and loadings, or a solution that is known
#' already. [plan_study()] and [people_needed()] simulate answers from it.
#'
#' @param factors How many factors.
#' @param items How many items each factor has: one number, or one for each factor, from 2 on.
#' @param loadings The loadings of each factor's items, spread evenly from the lowest to the highest
#'   of two numbers, or all alike; from 0.1 to 0.95.
#' @param correlations Of the factors: one number for all pairs, or a matrix.
#' @param pattern Instead of the four above: loadings, items in rows and factors in columns (a
#'   matrix, with `correlations`), a [factor_solution()], or a study that was run. Loadings are of
#'   what is behind the answers: few categories make those of Pearson correlations smaller. Those of
#'   a solution of Pearson correlations are smaller already: `answers = 0` leaves them as they are.
#' @param answers How many answers an item offers, from 2 to 9; 0: any number.
#' @param lean By how many standard deviations people lean to the upper answers: from -2 to 2. The
#'   middle answers reach 1.5 standard deviations to both sides.
#' @param missing Share of answers that will be missing, at random: from 0 to 0.5.
#' @param careless Share of people who will answer at random: from 0 to 0.5.
#' @param clusters People who answer in clusters, such as cafes: `c(size = 20, intraclass = .05)`,
#'   how many people a cluster has and the share of each item's variance that they have in common
#'   (to 0.5). The stages take people as independent: what clusters cost is seen.
#' @param blocks Planned gaps: `c(of = 4, asked = 3)` deals the items into so many blocks, each
#'   factor's items over all of them, and asks each person so many of the blocks (two at least), all
#'   choices of blocks equally often, so that each pair of items is answered together.
#' @return An object of class `planned_factors`, a list: `loadings` (items x factors, of normal
#'   variables behind the answers), `factor_correlations`, and the other arguments (each of them is
#'   one assumption, so there are more than ten).
#' @section Errors: `softsieve_error_argument`, `softsieve_error_plan` (loadings and correlations
#'   that cannot be: a communality of 1 or more, factor correlations that are not positive definite,
#'   or more factors than so many items can carry).
#' @family planning
#' @examples
#' planned_factors(factors = 3, items = 5, loadings = c(0.5, 0.7), correlations = 0.3)
#' @export
planned_factors <- function(factors, items = 5L, loadings = c(0.5, 0.7), correlations = 0.3,
    pattern = NULL, answers = 5L, lean = 0, missing = 0, careless = 0, clusters = NULL,
    blocks = NULL) {
  if (is.null(pattern) && missing(factors)) {
    stop_input("argument", "Say how many `factors`, or give a `pattern`.", got = "Neither came.")
  }
  if (is.null(pattern)) {
    k <- check_whole(factors, "factors", 1L, 50L)
    l <- even_pattern(k, items, loadings)
  } else {
    known <- pattern_known(pattern)
    l <- known$loadings
    said <- c("factors", "items", "loadings")[c(!missing(factors), !missing(items),
      !missing(loadings))]
    if (!is.null(known$between) && !missing(correlations)) said <- c(said, "correlations")
    if (length(said)) {
      stop_input("argument", "What a `pattern` says already must be left out.",
        got = sprintf("Both came: `pattern` and %s.", join_words(sprintf("`%s`", said))))
    }
    if (!is.null(known$between)) correlations <- known$between
  }
  answers <- check_whole(answers, "answers", 0L, 9L)
  if (answers == 1L) {
    stop_input("argument", "An item must offer at least two answers.", got = "1 came.",
      todo = "0 stands for any number.")
  }
  design <- list(loadings = l, factor_correlations = settle_between(correlations, ncol(l)),
    answers = answers, lean = check_number(lean, "lean", -2, 2),
    missing = check_number(missing, "missing", 0, 0.5),
    careless = check_number(careless, "careless", 0, 0.5), clusters = settle_clusters(clusters),
    blocks = settle_blocks(blocks, nrow(l)))
  check_design(design)
  structure(design, class = "planned_factors")
}

# Items of their own factor alone.
even_pattern <- function(k, items, loadings) {
  fine <- checkmate::test_integerish(items, lower = 2, upper = 200, any.missing = FALSE) &&
    length(items) %in% c(1L, k)
  if (!fine) {
    stop_input("argument", "`items` must be one whole number from 2 on, or one for each factor.",
      got = describe_value(items))
  }
  if (!checkmate::test_numeric(loadings, 0.1, 0.95, any.missing = FALSE, min.len = 1L,
    max.len = 2L)) {
    stop_input("argument", "`loadings` must be one or two numbers from 0.1 to 0.95.",
      got = describe_value(loadings))
  }
  items <- rep_len(as.integer(items), k)
  l <- matrix(0, sum(items), k)
  own <- rep(seq_len(k), items)
  l[cbind(seq_along(own), own)] <- unlist(lapply(items, function(m) {
    seq(max(loadings), min(loadings), length.out = m)
  }))
  name_pattern(l)
}

name_pattern <- function(l) {
  if (is.null(rownames(l))) rownames(l) <- paste0("item", seq_len(nrow(l)))
  if (is.null(colnames(l))) colnames(l) <- paste0("F", seq_len(ncol(l)))
  l
}

# Loadings and factor correlations of a matrix, a solution or a study.
pattern_known <- function(pattern) {
  if (is_result(pattern, "softsieve_study")) pattern <- pattern$values$solution
  if (is_result(pattern, "factor_solution") && one_of_model(pattern$settings) == "factor") {
    v <- pattern$values
    return(list(loadings = v$loadings, between = unname(v$factor_correlations)))
  }
  if (is.data.frame(pattern)) pattern <- as.matrix(pattern)
  if (checkmate::test_matrix(pattern, "numeric", any.missing = FALSE, min.rows = 3L,
    min.cols = 1L)) {
    return(list(loadings = name_pattern(pattern)))
  }
  stop_input("argument",
    "`pattern` must be a matrix of loadings, a factor solution or a study that was run.",
    got = describe_value(pattern))
}

settle_between <- function(correlations, k) {
  if (checkmate::test_number(correlations, lower = -0.95, upper = 0.95)) {
    between <- matrix(correlations, k, k)
    diag(between) <- 1
    return(between)
  }
  if (checkmate::test_matrix(correlations, "numeric", any.missing = FALSE, nrows = k, ncols = k) &&
      isTRUE(all.equal(correlations, t(correlations), check.attributes = FALSE))) {
    return(unname(correlations))
  }
  stop_input("argument",
    "`correlations` must be one number, or a symmetric matrix with a row for each factor.",
    got = describe_value(correlations))
}

check_design <- function(design) {
  l <- design$loadings
  between <- design$factor_correlations
  smallest <- min(eigen(between, symmetric = TRUE, only.values = TRUE)$values)
  if (smallest < 1e-8 || any(abs(diag(between) - 1) > 1e-8)) {
    stop_input("plan", "Factor correlations must be possible together.",
      got = sprintf("The smallest eigenvalue of their matrix is %s.", format_number(smallest, 3L)),
      todo = "Make them less, or fewer of them negative.")
  }
  common <- core_communalities(l, between)
  if (any(common >= 0.999)) {
    stop_input("plan", "Each item must keep something of its own: a communality below 1.",
      got = sprintf("Not so for %s.", name_culprits(rownames(l)[common >= 0.999])),
      todo = "Make the loadings or the factor correlations smaller.")
  }
  if (ncol(l) > core_most_factors(nrow(l))) {
    stop_input("plan", "There must be enough items to tell the factors apart.",
      got = sprintf("%s for %s.", count_of(nrow(l), "item"), count_of(ncol(l), "factor")),
      todo = "Plan more items for each factor: three are the least, four or more are better.")
  }
}

#' @export
print.planned_factors <- function(x, ...) {
  blocks <- layout_of(x)
  cat(say_design(x), if (!is.null(blocks)) {
    own <- split(blocks$item, blocks$block)
    sprintf("Block %s: %s.", names(own), vapply(own, name_culprits, ""))
  }, "-> plan_study() and people_needed() take it.", sep = "\n")
  invisible(x)
}

# Everything that is assumed, in sentences.
say_design <- function(design) {
  l <- design$loadings
  own <- size_of_own(l)
  between <- design$factor_correlations
  range_of <- function(x) {
    if (diff(range(x)) < 0.005) return(format_unit(x[1L]))
    sprintf("%s to %s", format_unit(min(x)), format_unit(max(x)))
  }
  k <- ncol(l)
  offered <- if (design$answers == 0L) {
    "Answers on a continuous scale"
  } else {
    sprintf("%d answers to each item", design$answers)
  }
  leaning <- if (design$lean == 0) {
    ""
  } else {
    sprintf(", people %s standard deviations %s the middle", format_number(abs(design$lean), 1L),
      if (design$lean > 0) "above" else "below")
  }
  c(sprintf("%s on %s; each item's largest loading %s%s.", count_of(nrow(l), "item"),
    count_of(k, "factor"), range_of(own),
    if (k > 1L) {
      sprintf("; factors correlate %s", range_of(between[upper.tri(between)]))
    } else {
      ""
    }),
  sprintf("%s%s; %s of answers missing at random, %s of people careless.", offered, leaning,
    format_share(design$missing), format_share(design$careless)), say_clusters(design),
  say_blocks(design))
}

size_of_own <- function(l) abs(l[cbind(seq_len(nrow(l)), max.col(abs(l), ties.method = "first"))])
