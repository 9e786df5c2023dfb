#' How far groups lie apart in their scores
#'
#' For each score how much of its variance lies between groups, how far each two groups overlap, and
#' how rarely groups dealt at random lie as far apart; and of all scores together how many rows that
#' were left out are given back to their group.
#'
#' @param scores What [score_respondents()] returned.
#' @param by The groups: a column beside the scores, bare or in quotes, or a value for each row.
#' @param replicates How many times rows are dealt to groups at random, from 99 to 100,000.
#' @param level Of the limits of eta squared, from .50 to .999.
#' @param seed A whole number; drawn from R's generator when `NULL`.
#' @return An object of class `score_groups` ([softsieve-result]); `values` holds `scores` (tibble:
#'   `score`, `eta_squared`, `lower`, `upper`, `p`, and `least_overlap` of two groups), `groups`
#'   (tibble: `score`, `group`, `rows`, `mean`, `sd`), `pairs` (tibble: `score`, `group`, `with`,
#'   `difference` in pooled standard deviations, `overlap` of two normal distributions that far
#'   apart, from 0 to 1), and `together` (tibble of one row: `rows`, `eta_squared` (mean over the
#'   scores), `p`, `hits` (share of rows left out that were given back to their group),
#'   `by_chance` (share of the largest group)).
#' @section Errors: `softsieve_error_groups` (one group, groups of one row, no such column),
#'   `softsieve_error_class`, `softsieve_error_argument`.
#' @section Formulas:
#' \deqn{\eta^2 = SS_{between} / SS_{total}}{eta^2 = SS_between / SS_total}
#' with limits from those of the noncentrality of F (Steiger 2004): \eqn{\lambda / (\lambda +
#' N)}{lambda / (lambda + N)}. Overlap of two groups d standard deviations apart is
#' \eqn{2 \Phi(-|d| / 2)}{2 Phi(-|d|/2)}. p is (1 + draws at least as large) / (1 + draws). Hits are
#' of the most probable group of normal scores with one covariance, learned on nine tenths of the
#' rows.
#' @eval describe_papers("Steiger (2004)")
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' scores <- score_respondents(factor_solution(motives, 4, seed = 1), motives)
#' score_groups(scores, cafe, seed = 1)
#' @export
score_groups <- function(scores, by, replicates = 999L, level = 0.95, seed = NULL) {
  check_class(scores, "scores", "respondent_scores", "score_respondents()")
  if (missing(by)) {
    stop_input("argument", "`by` must say what the groups are.", got = "Nothing came.",
      todo = "Name a group column, or give a value for each row.")
  }
  replicates <- check_whole(replicates, "replicates", 99L, 1e5L)
  check_number(level, "level", 0.5, 0.999)
  seed <- settle_seed(seed)
  table <- scores$values$scores
  names <- scores$values$factors$factor
  given <- settle_score_groups(rlang::enquo(by), table)
  y <- as.matrix(table[names])
  there <- which(!is.na(given$group) & stats::complete.cases(y))
  group <- factor(given$group[there])
  check_score_groups(group, given$name)
  y <- y[there, , drop = FALSE]
  found <- core_group_shares(y, as.integer(group))
  chance <- core_dealt_shares(y, as.integer(group), replicates, seed)
  limits <- vapply(found, core_eta_limits, numeric(2L), length(group), nlevels(group), level)
  pairs <- pairs_of_groups(y, group)
  least <- vapply(names, function(name) min(pairs$overlap[pairs$score == name]), 0)
  values <- list(
    scores = tibble_of(score = names, eta_squared = unname(found), lower = limits[1L, ],
      upper = limits[2L, ], p = (1 + rowSums(chance >= found - 1e-12)) / (1 + replicates),
      least_overlap = unname(least)),
    groups = means_of_groups(y, group), pairs = pairs,
    together = tibble_of(rows = length(group), eta_squared = mean(found),
      p = (1 + sum(colMeans(chance) >= mean(found) - 1e-12)) / (1 + replicates),
      hits = core_group_hits(y, as.integer(group), seed),
      by_chance = max(table(group)) / length(group)))
  new_result("score_groups", values,
    list(by = given$name, of = scores$settings$of, replicates = replicates, level = level,
      seed = seed),
    findings_that_travel(scores$findings), scores$source, match.call())
}

settle_score_groups <- function(by, table) {
  name <- rlang::as_label(rlang::quo_get_expr(by))
  value <- tryCatch(rlang::eval_tidy(by, table), error = function(e) NULL)
  if (checkmate::test_string(value) && value %in% names(table)) {
    name <- value
    value <- table[[value]]
  }
  if (is.atomic(value) && length(value) == nrow(table)) {
    group <- if (is.factor(value)) droplevels(value) else as.character(value)
    return(list(group = group, name = name))
  }
  stop_input("groups", "`by` must be a column beside the scores, or a value for each row.",
    got = if (is.null(value)) sprintf("%s is not there.", name) else describe_value(value),
    todo = c(sprintf("Columns: %s.", name_culprits(names(table), 30L)),
      "Columns of groups are named in questionnaire(group = )."))
}

check_score_groups <- function(group, name) {
  small <- names(which(table(group) < 2L))
  if (nlevels(group) > 1L && !length(small)) return(invisible())
  stop_input("groups", "There must be two groups or more, of two rows with scores or more each.",
    got = if (length(small)) {
      sprintf("One row: %s.", name_culprits(small))
    } else {
      sprintf("%s has %s.", name, count_of(nlevels(group), "group"))
    })
}

means_of_groups <- function(y, of) {
  stack_rows(lapply(colnames(y), function(name) {
    tibble_of(score = name, group = levels(of), rows = as.vector(table(of)),
      mean = as.vector(tapply(y[, name], of, mean)),
      sd = as.vector(tapply(y[, name], of, stats::sd)))
  }))
}

pairs_of_groups <- function(y, group) {
  two <- utils::combn(levels(group), 2L)
  within <- core_within_deviations(y, as.integer(group))
  stack_rows(lapply(colnames(y), function(name) {
    mean <- tapply(y[, name], group, mean)
    d <- unname(mean[two[1L, ]] - mean[two[2L, ]]) / within[[name]]
    tibble_of(score = name, group = two[1L, ], with = two[2L, ], difference = d,
      overlap = 2 * stats::pnorm(-abs(d) / 2))
  }))
}

#' @exportS3Method tibble::as_tibble
as_tibble.score_groups <- function(x, ...) x$values$scores

#' @export
glance.score_groups <- function(x, ...) {
  check_dots_empty(...)
  x$values$together
}
