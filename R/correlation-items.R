#' How the items go together
#'
#' Correlations of all items with each other, and all that later stages need to know about them: on
#' how many people each rests, the items' means and standard deviations, and their wording.
#'
#' @param x A [questionnaire()], a data frame of answers, a correlation matrix (then give `n`), or
#'   what this function returned before (then it is handed back).
#' @param kind `"pearson"`.
#' @param missing `"pairwise"`: each correlation on the people who answered both items; or
#'   `"complete"`: all on the people who answered every item.
#' @param n Number of people behind a correlation matrix.
#' @param ... Nothing; for the generic's sake.
#' @return An object of class `item_correlations` ([softsieve-result]); `values` holds `correlations`
#'   (p x p), `n_pair` (p x p counts), `n` (the number that tests use: the smallest of `n_pair`),
#'   `people` (who gave at least one answer that was used), `items` (tibble: `item`, `wording`,
#'   `scale`, `reversed`, `mean`, `sd`) and `smallest_eigenvalue`. `as_tibble()` has one row for each pair.
#' @section Errors: `softsieve_error_constant_item`, `softsieve_error_too_few_people`,
#'   `softsieve_error_matrix` (not square, not symmetric, values outside \[-1, 1\], no `n`),
#'   `softsieve_error_class`.
#' @section Findings: `identical_items` (two items that agree, or mirror each other, throughout),
#'   `fewer_people_than_items`, `not_positive_definite`, `few_pairs`.
#' @references Glasser, M. (1964). Linear regression analysis with missing observations among the
#'   independent variables. *Journal of the American Statistical Association*, 59, 834-844.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' correlate_items(motives)
#' @export
correlate_items <- function(x, ...) UseMethod("correlate_items")

#' @rdname correlate_items
#' @export
correlate_items.questionnaire <- function(x, kind = "pearson", missing = c("pairwise", "complete"), ...) {
  call <- environment()
  check_dots_empty(...)
  kind <- check_choice(kind, "kind", methods_of("correlation"))
  missing <- check_choice(missing, "missing", methods_of("missing"))
  answers <- x$values$answers
  check_enough_people(answers, missing, call)
  found <- core_correlate(answers, missing)
  check_varying(found$sds, call)
  check_pairs_met(found$correlations, call)
  items <- x$values$items[c("item", "wording", "scale", "reversed")]
  items$mean <- unname(found$means)
  items$sd <- unname(found$sds)
  new_item_correlations(found$correlations, found$n_pair, found$people, items, settings = list(kind = kind, missing = missing),
                        source = x$source, call = match.call())
}

#' @rdname correlate_items
#' @export
correlate_items.data.frame <- function(x, ...) {
  call <- environment()
  correlate_items(in_name_of(call, questionnaire(x)), ...)
}

#' @rdname correlate_items
#' @export
correlate_items.matrix <- function(x, n = NULL, ...) {
  call <- environment()
  check_dots_empty(...)
  check_correlation_matrix(x, n, call)
  if (is.null(colnames(x))) colnames(x) <- if (is.null(rownames(x))) paste0("item", seq_len(ncol(x))) else rownames(x)
  rownames(x) <- colnames(x)
  items <- tibble::tibble(item = colnames(x), wording = NA_character_, scale = NA_character_, reversed = FALSE,
                          mean = NA_real_, sd = NA_real_)
  n_pair <- matrix(as.numeric(n), nrow(x), ncol(x), dimnames = dimnames(x))
  new_item_correlations(x, n_pair, n, items, settings = list(kind = "given", missing = "given"),
                        source = list(fingerprint = rlang::hash(x), items = colnames(x), people = n), call = match.call())
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
  stop_input("class", "`x` must be a questionnaire, a data frame of answers, item correlations, or a correlation matrix with `n`.",
             got = describe_value(x), todo = "Start with questionnaire(data, codebook = ...).")
}

new_item_correlations <- function(correlations, n_pair, people, items, settings, source, call) {
  values <- list(correlations = correlations, n_pair = n_pair, n = min(n_pair), people = people, items = items,
                 smallest_eigenvalue = core_smallest_eigenvalue(correlations))
  new_result("item_correlations", values, settings, find_in_correlations(values), source, call)
}

#' @export
as_tibble.item_correlations <- function(x, ...) {
  r <- x$values$correlations
  pair <- which(upper.tri(r), arr.ind = TRUE)
  tibble::tibble(item = rownames(r)[pair[, 1L]], with = colnames(r)[pair[, 2L]], correlation = r[pair], people = x$values$n_pair[pair])
}

check_enough_people <- function(answers, missing, call) {
  used <- if (missing == "complete") sum(stats::complete.cases(answers)) else nrow(answers)
  if (used >= 3L) return(invisible())
  stop_input("too_few_people", "There must be at least three people to correlate items.",
             got = sprintf("%s of %s can be used.", format_count(used), count_of(nrow(answers), "person", "people")),
             todo = if (missing == "complete") "Give missing = \"pairwise\" to use what each person answered." else character(), call = call)
}

check_varying <- function(sds, call) {
  constant <- names(sds)[is.na(sds) | sds == 0]
  if (!length(constant)) return(invisible())
  stop_input("constant_item", "Every item must vary: an item to which all give the same answer correlates with nothing.",
             got = sprintf("Constant: %s.", name_culprits(constant)),
             todo = "Leave these items out: questionnaire(data, items = -c(...)).", call = call, items = constant)
}

check_pairs_met <- function(correlations, call) {
  gap <- which(is.na(correlations) & upper.tri(correlations), arr.ind = TRUE)
  if (!nrow(gap)) return(invisible())
  pairs <- sprintf("%s with %s", rownames(correlations)[gap[, 1L]], colnames(correlations)[gap[, 2L]])
  stop_input("no_pairs", "Every pair of items must have been answered by people who vary on both.",
             got = sprintf("Not so for: %s.", name_culprits(pairs)), todo = "Were these items given to different people? Analyse them apart.", call = call)
}

check_correlation_matrix <- function(x, n, call) {
  wrong <- if (!is.numeric(x)) "It holds text." else
    if (nrow(x) != ncol(x)) sprintf("It has %d rows and %d columns.", nrow(x), ncol(x)) else
    if (anyNA(x)) "It has missing values." else
    if (any(abs(x) > 1 + 1e-8)) sprintf("It has values outside [-1, 1]: the largest in size is %s.", format(max(abs(x)), digits = 4L)) else
    if (any(abs(diag(x) - 1) > 1e-8)) "Its diagonal is not 1 throughout." else
    if (max(abs(x - t(x))) > 1e-8) "It is not symmetric." else
    if (ncol(x) < 2L) "It has one item."
  if (length(wrong)) {
    stop_input("matrix", "A matrix must be a correlation matrix: square, symmetric, values from -1 to 1, ones on the diagonal.",
               got = wrong, todo = "Give answers as a data frame, not as a matrix.", call = call)
  }
  if (is.null(n)) {
    stop_input("matrix", "A correlation matrix must come with the number of people behind it.", got = "`n` is missing.",
               todo = "Give it as n = 840, for example.", call = call)
  }
  check_whole(n, "n", 3L, call = call)
}

find_in_correlations <- function(values) {
  r <- values$correlations
  p <- ncol(r)
  same <- core_identical_pairs(r)
  finding <- function(code, severity, text, ...) new_finding("correlation", code, severity, text, ...)
  bind_findings(
    if (nrow(same)) finding("identical_items", "serious", item = rownames(r)[same[, 1L]], value = r[same], limit = 1,
                            text = sprintf("%s and %s agree throughout (r = %s): one of them must go before factoring.",
                                           rownames(r)[same[, 1L]], colnames(r)[same[, 2L]], format_unit(r[same]))),
    if (values$n <= p) finding("fewer_people_than_items", "serious", value = values$n, limit = p,
                               text = sprintf("%s for %s: the matrix cannot be inverted, and no factor can be trusted.",
                                              count_of(values$n, "person", "people"), count_of(p, "item"))),
    if (values$smallest_eigenvalue < 1e-10) finding("not_positive_definite", "serious", value = values$smallest_eigenvalue, limit = 0,
                                                   text = sprintf("The matrix is not positive definite: its smallest eigenvalue is %s.",
                                                                  format(values$smallest_eigenvalue, digits = 2L))),
    if (values$n < 0.5 * max(values$n_pair)) finding("few_pairs", "caution", value = values$n, limit = 0.5 * max(values$n_pair),
                                                     text = sprintf("The scarcest pair of items rests on %s, the fullest on %s; tests use the smaller number.",
                                                                    format_count(values$n), count_of(max(values$n_pair), "person", "people")))
  )
}

# For stages that need the inverse: says which items make the matrix singular, and what to do.
check_invertible <- function(x, call = caller_env()) {
  if (x$values$smallest_eigenvalue >= 1e-10) return(invisible())
  r <- x$values$correlations
  same <- core_identical_pairs(r)
  must <- "The correlation matrix must be positive definite: no item may follow exactly from others."
  if (nrow(same)) {
    pairs <- sprintf("%s and %s", rownames(r)[same[, 1L]], colnames(r)[same[, 2L]])
    stop_input("identical_items", must, got = sprintf("They agree throughout: %s.", name_culprits(pairs)),
               todo = "Leave one of each pair out.", call = call, items = rownames(r)[same[, 2L]])
  }
  if (x$values$n <= ncol(r)) {
    stop_input("too_few_people", must, got = sprintf("%s answered %s.", count_of(x$values$n, "person", "people"), count_of(ncol(r), "item")),
               todo = "More people than items are needed, better five to ten times as many. Take fewer items, or more people.", call = call)
  }
  stop_input("singular", must, got = sprintf("Its smallest eigenvalue is %s.", format(x$values$smallest_eigenvalue, digits = 2L)),
             todo = c("Is one item the sum of others? Leave it out.", "With many missing answers, try missing = \"complete\"."), call = call)
}
