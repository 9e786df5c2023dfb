#' How the items go together
#'
#' Correlations of all items with each other, and all that later stages need to know about them: on
#' how many people each rests, how sure it is, the items' means and standard deviations, and their
#' wording.
#'
#' @param x A [questionnaire()], a data frame of answers, counts of answers ([tabulate_items()]: how
#'   missing answers are treated is settled there), a correlation matrix or a triangle of one
#'   (then give `n`), a covariance matrix (then give `n` and `kind = "covariance"`), a data frame
#'   that holds a correlation matrix, as a file of one is read (then give `n`), or what this
#'   function returned before (then it is handed back).
#' @param kind What to compute:
#'   * `"pearson"`: takes the distances between answers as equal;
#'   * `"covariance"`: Pearson, with the covariances kept as the matrix of interest;
#'   * `"spearman"`: Pearson correlations of the ranks;
#'   * `"polychoric"`: takes answers as ordered categories cut from normal variables and estimates
#'     the correlation of these (tetrachoric where items have two categories);
#'   * `"mixed"`: polychoric between ordered items, Pearson between continuous ones, polyserial
#'     across.
#'
#'   Of a matrix: what it is. `"given"` (nobody says) counts as Pearson's, but for the probabilities
#'   of [count_factors()], which see it as Pearson's and as polychoric.
#' @param missing `"pairwise"`: each correlation on the people who answered both items;
#'   `"complete"`: all on the people who answered every item; `"em"`: maximum likelihood under
#'   missing at random (Pearson and covariance only), everybody with an answer enters.
#' @param repair A matrix with negative eigenvalues, which pairwise and polychoric correlations can
#'   have: replace it by the nearest correlation matrix, with a finding that says by how much
#'   (`TRUE`), or stop (`FALSE`).
#' @param continuous_from For `"mixed"`: items with at least this many different answers, or with
#'   fractions, count as continuous.
#' @param threads Number of threads; all processors, but never more than eight, when `NULL`.
#' @param n Number of people behind a matrix.
#' @param ... Nothing; for the generic's sake.
#' @return An object of class `item_correlations` ([softsieve-item-correlations]).
#' @section Errors: `softsieve_error_constant_item`, `softsieve_error_too_few_people`,
#'   `softsieve_error_no_pairs`, `softsieve_error_not_positive_definite` (with `repair = FALSE`),
#'   `softsieve_error_many_categories` (polychoric of items with more than 16),
#'   `softsieve_error_matrix` (not square, not symmetric, values outside \[-1, 1\], no `n`),
#'   `softsieve_error_class`, `softsieve_error_argument`.
#' @section Findings: `identical_items` (two items that agree, or mirror each other, throughout),
#'   `fewer_people_than_items`, `repaired`, `not_positive_definite`, `few_pairs`, `empty_cells`,
#'   `correlation_at_bound`, `half_added`, `categories_as_numbers` (four answers or fewer under
#'   Pearson: what polychoric correlations would change), `skewed_as_numbers`, `em_not_converged`,
#'   `weighted`, `n_of_tests` (why tests use fewer people than there are), `triangle_mirrored`; and
#'   what [questionnaire()] cautioned of.
#' @section How: Items with up to 16 different answers are held as bits, one plane for each answer,
#'   and each pair's table of counts is made by counting bits. Pairwise n, means, products, ranks
#'   and polychoric correlations follow from the tables alone. Polychoric correlations are two-step
#'   maximum likelihood: thresholds from each item's own answers, then the correlation by Newton
#'   steps with exact derivatives; their standard errors take the thresholds as known. Standard
#'   errors are (1 - r^2) / sqrt(n - 1) for Pearson and that times sqrt(1 + r^2 / 2) for Spearman.
#'   With weights (mean 1 after scaling), tests use n times Kish's effective share, (sum w)^2 / (n
#'   sum w^2).
#' @eval describe_papers("Bonett & Wright (2000)", "Dempster, Laird & Rubin (1977)",
#'   "Genz (2004)", "Glasser (1964)", "Higham (2002)", "Olsson (1979)",
#'   "Olsson, Drasgow & Dorans (1982)")
#' @family before factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' correlate_items(motives)
#' correlate_items(motives, kind = "polychoric")
#' @export
correlate_items <- function(x, ...) UseMethod("correlate_items")

CORRELATE_TAKES <- list(kind = a_text("The kind of correlation", function() names(KINDS)),
  missing = a_text("What is done about missing answers", function() names(MISSING_METHODS)),
  continuous_from = a_whole("For mixed: items with so many different answers are continuous", 3,
    17),
  repair = a_flag("Replace a matrix with negative eigenvalues by the nearest correlation matrix"))

#' @rdname correlate_items
#' @export
correlate_items.questionnaire <- function(x, kind = "pearson",
    missing = c("pairwise", "complete", "em"), repair = TRUE, continuous_from = 11L, threads = NULL,
    ...) {
  check_class(x, "x", "questionnaire", "questionnaire()")
  check_dots_empty(...)
  asked <- settle_arguments(CORRELATE_TAKES)
  correlate_answers(x, asked, settle_threads(threads), compare = TRUE, match.call())
}

#' @rdname correlate_items
#' @export
correlate_items.item_correlations <- function(x, ...) {
  check_dots_empty(...)
  x
}

#' @rdname correlate_items
#' @export
correlate_items.default <- function(x, ...) {
  stop_input("class",
    paste("`x` must be a questionnaire, a data frame of answers, item correlations, or a",
      "correlation matrix with `n`."),
    got = describe_value(x),
    todo = "Start with questionnaire(data, codebook = ...).")
}

# `compare`: is it told what polychoric correlations would change? (Not in draws.)
correlate_answers <- function(x, asked, threads, compare, made_by = NULL) {
  kind <- asked$kind
  missing <- asked$missing
  check_em_kind(kind, missing)
  answers <- x$values$answers
  weights <- scaled_weights(x)
  used <- if (missing == "complete") sum(stats::complete.cases(answers)) else nrow(answers)
  check_enough_people(used, nrow(answers), missing)
  ordered <- if (kind_is(kind, "core") == "mixed") is_ordered(answers, asked$continuous_from)
  check_categories(answers, kind, weights)
  found <- with_progress("Correlations", ncol(answers)^2 / 128, function(progress) {
    core_correlate(answers, kind_is(kind, "core"), missing, weights, ordered, threads, progress)
  })
  check_varying(stats::setNames(found$sds, colnames(answers)))
  check_em(found)
  check_pairs_met(found$correlations)
  fixed <- settle_definite(found$correlations, asked$repair)
  found$correlations <- fixed$correlations
  items <- x$values$items[c("item", "wording", "scale", "reversed")]
  items[c("mean", "sd", "skewness", "categories")] <- list(unname(found$means), unname(found$sds),
    found$skewness, as.integer(found$categories))
  if (!is.null(ordered)) items$ordered <- ordered
  if (!is.null(found$covariances)) found$covariances <- found$correlations * (items$sd %o% items$sd)
  share <- core_effective_share(weights)
  settings <- c(asked, list(weighted = !is.null(weights)))
  settings$cluster <- x$settings$cluster
  findings <- bind_findings(findings_that_travel(x$findings), fixed$finding,
    find_in_method(found, items, settings, share))
  made <- new_item_correlations(found, found$people, share, items, settings, findings, x$source,
    made_by, x, threads = threads)
  coarse <- if (compare) find_coarse(answers, made, threads)
  if (is.null(coarse)) made else add_findings(made, coarse)
}

# Ordered categories, as against continuous: few different answers, and whole ones.
is_ordered <- function(answers, continuous_from) {
  vapply(seq_len(ncol(answers)), function(i) {
    values <- unique(answers[!is.na(answers[, i]), i])
    length(values) < continuous_from && all(values == round(values))
  }, NA)
}

# The matrix as it is, or the nearest that has no negative eigenvalue and a finding that says so.
settle_definite <- function(correlations, repair) {
  smallest <- core_smallest_eigenvalue(correlations)
  if (smallest > -1e-10) return(list(correlations = correlations, finding = NULL))
  if (!repair) {
    stop_input("not_positive_definite", "The correlation matrix must have no negative eigenvalue.",
      got = sprintf("Its smallest eigenvalue is %s.", format(smallest, digits = 2L)),
      todo = "Give repair = TRUE to use the nearest correlation matrix, or missing = \"complete\".")
  }
  near <- core_nearest_correlation(correlations)
  at <- arrayInd(which.max(abs(near$correlations - correlations)), dim(correlations))
  list(correlations = near$correlations,
    finding = new_finding("repaired", format(smallest, digits = 2L),
      format(near$largest_change, digits = 2L), rownames(correlations)[at[1L]],
      colnames(correlations)[at[2L]],
      severity = if (near$largest_change > 0.05) "serious" else "caution",
      value = near$largest_change, limit = 0))
}

# The one door to correlations: whatever a stage was given, with what correlate_items() needs in
# `...`. `threads` is for answers alone.
as_correlations <- function(x, ..., threads = NULL) {
  answers <- is_questionnaire(x) || is.data.frame(x) || is_item_tables(x)
  if (answers) correlate_items(x, ..., threads = threads) else correlate_items(x, ...)
}

# Other people's answers correlated as those behind `correlations` were.
correlate_alike <- function(questionnaire, correlations, threads = NULL) {
  correlate_answers(questionnaire, correlations$settings[names(CORRELATE_TAKES)],
    settle_threads(threads), compare = FALSE)
}

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
