#' How many components predict an outcome best
#'
#' Components (or factors, or single columns that stand for them) are often made to predict
#' something else: a yield, a failure. This asks how many do that best in rows that were not used to
#' make them, by cross-validation in which everything is learned inside each fold: means and
#' deviations, correlations, weights, and the regression.
#'
#' @param x A [questionnaire()], best of measurements.
#' @param outcome What is to be predicted: a column of the data that is not among the items, bare or
#'   in quotes, or a value for each row: numbers, or two classes. Rows without one are left out.
#' @param of `"components"`, `"factors"` (regression scores of minimum residuals; rotation changes
#'   no prediction), or `"items"`: the items that load most on each of so many components turned by
#'   varimax.
#' @param most The largest number tried; `NULL` is 12, or fewer where there are fewer items or rows.
#' @param folds,repeats Number of folds, and how many times rows are dealt anew: five times, of more
#'   than 2,000 rows once, where that is `NULL`. Rows of a cluster stay together, and of rows in an
#'   `order` each fold is a stretch of them.
#' @param seed A whole number; drawn from R's generator when `NULL`.
#' @return An object of class `predictive_number` ([softsieve-result]); `values` holds `table`
#'   (tibble: `model` (`"none"`, the numbers, `"all"`, `"best single"`), `number`, `error` (mean
#'   squared error, or mean deviance of a class, in rows left out), `se` (over folds), `explained`
#'   (1 less the error over that of no predictor), `hits` (share of classes predicted rightly)),
#'   `best` and `chosen` (the number with the smallest error, and the smallest number within one
#'   standard error of it; 0: no number is better than none), and `rows`.
#' @section Errors: `softsieve_error_outcome` (no such column, three classes or more, no variance,
#'   too few rows), `softsieve_error_argument`, `softsieve_error_class`.
#' @eval describe_papers("Stone (1974)", "Jolliffe (2002)")
#' @family scores
#' @examples
#' log <- questionnaire(repair_log, visitors:parts, measured = TRUE,
#'   called = c(row = "day", column = "gauge"))
#' components_for(log, kilograms, seed = 1)
#' components_for(log, repair_log$tools_broken > 1, seed = 1)
#' @export
components_for <- function(x, outcome, of = c("components", "factors", "items"), most = NULL,
    folds = 10L, repeats = NULL, seed = NULL) {
  check_class(x, "x", "questionnaire", "questionnaire()")
  if (missing(outcome)) {
    stop_input("argument", "`outcome` must say what is to be predicted.", got = "Nothing came.",
      todo = "Name a column that is not among the items.")
  }
  of <- check_choice(of, "of", c("components", "factors", "items"))
  folds <- check_whole(folds, "folds", 3L, 50L)
  if (is.null(repeats)) repeats <- if (nrow(x$values$answers) > 2000L) 1L else 5L
  repeats <- check_whole(repeats, "repeats", 1L, 100L)
  seed <- settle_seed(seed)
  given <- settle_outcome(rlang::enquo(outcome), x)
  answers <- x$values$answers[given$rows, , drop = FALSE] + 0
  most <- settle_most_for(most, answers, folds, of)
  part <- subset_people(x, given$rows)
  found <- cross_validate(answers, given, dealt_folds(part, folds, repeats, seed), most, of)
  values <- c(predictive_values(found, most, of, given$class), list(rows = nrow(answers)))
  new_result("predictive_number", values,
    list(of = of, outcome = given$name, classes = given$classes, most = most, folds = folds,
      repeats = repeats, seed = seed),
    findings_that_travel(x$findings), x$source, match.call())
}

# The outcome of each row as numbers, 0 and 1 where it has two classes.
settle_outcome <- function(outcome, x) {
  known <- all_columns(x)
  name <- rlang::as_label(rlang::quo_get_expr(outcome))
  value <- tryCatch(rlang::eval_tidy(outcome, known), error = function(e) {
    stop_input("outcome", "`outcome` must be a column of the data, or a value for each row.",
      got = conditionMessage(e), todo = sprintf("Columns: %s.", name_culprits(names(known), 30L)))
  })
  if (checkmate::test_string(value) && value %in% names(known)) {
    name <- value
    value <- known[[value]]
  }
  wrong <- function(got, todo) {
    stop_input("outcome", "`outcome` must be numbers or two classes, one value for each row.",
      got = got, todo = todo)
  }
  if (!is.atomic(value) || length(value) != nrow(known)) {
    wrong(describe_value(value), sprintf("There are %s rows.", format_count(nrow(known))))
  }
  if (name %in% colnames(x$values$answers)) {
    wrong(sprintf("%s is among the items that are to predict it.", name),
      "Leave it out of the items: keep_items().")
  }
  there <- which(!is.na(value))
  kinds <- unique(value[there])
  class <- length(kinds) == 2L
  if (!class && !is.numeric(value)) {
    wrong(sprintf("%s has %s.", name, count_of(length(kinds), "class", "classes")),
      "Ask of one class against the others: outcome = site == \"mill\".")
  }
  if (length(kinds) < 2L) wrong(sprintf("%s has one value.", name), "Another column may vary.")
  classes <- if (class) as.character(sort(kinds))
  y <- if (class) as.numeric(value[there] == sort(kinds)[2L]) else as.numeric(value[there])
  if (!all(is.finite(y))) wrong("There are infinite values.", "Correct them, or leave them out.")
  list(y = y, rows = there, name = name, class = class, classes = classes)
}

settle_most_for <- function(most, answers, folds, of) {
  p <- ncol(answers)
  training <- floor(nrow(answers) * (1 - 1 / folds))
  room <- min(if (of == "factors") core_most_factors(p) else p, training - 2L)
  if (nrow(answers) < 2L * folds || room < 1L) {
    stop_input("outcome", "There must be rows to learn from and rows to leave out.",
      got = sprintf("%s have an outcome.", count_of(nrow(answers), "row")),
      todo = "Give fewer folds, or more rows.")
  }
  if (is.null(most)) return(min(12L, room))
  check_whole(most, "most", 1L, room)
}

# The fold of each row in each repeat: units (rows, or clusters) dealt anew, or stretches of rows in
# their order.
dealt_folds <- function(x, folds, repeats, seed) {
  n <- nrow(x$values$answers)
  series <- series_of(x$values$people, x$settings$order)
  if (!is.null(series)) {
    place <- integer(n)
    place[series$rows] <- seq_len(n)
    # (each repeat begins elsewhere)
    shift <- floor((seq_len(repeats) - 1L) * n / folds / repeats)
    return(lapply(shift, function(by) ((place - 1L + by) %/% (n / folds)) %% folds + 1L))
  }
  cluster <- clusters_of(x)
  unit <- if (is.null(cluster)) seq_len(n) else match(cluster, unique(cluster))
  drawn <- cpp_normal_deviates(max(unit), seed, 0L, repeats)
  drawn <- matrix(as.vector(drawn), max(unit))
  lapply(seq_len(repeats), function(i) {
    (rank(drawn[, i], ties.method = "first")[unit] - 1L) %% folds + 1L
  })
}

# What each fold of each repeat found: a list of lists.
cross_validate <- function(answers, given, dealt, most, of) {
  with_progress("Folds", sum(lengths(lapply(dealt, unique))), function(progress) {
    done <- 0L
    lapply(dealt, function(fold) {
      lapply(sort(unique(fold)), function(f) {
        found <- core_outcome_fold(answers, given$y, which(fold == f), most, of, given$class)
        done <<- done + 1L
        progress(done)
        found
      })
    })
  })
}

# The error of each model over all rows and repeats, and its standard error over the folds of a
# repeat.
predictive_values <- function(found, most, of, class) {
  all <- unlist(found, recursive = FALSE)
  rows <- sum(vapply(all, function(one) nrow(one$loss), 0L))
  summed <- function(part) Reduce(`+`, lapply(all, function(one) colSums(one[[part]]))) / rows
  error <- summed("loss")
  each <- vapply(found, function(repeated) {
    means <- vapply(repeated, function(one) colMeans(one$loss), numeric(most + 3L))
    apply(means, 1L, stats::sd) / sqrt(length(repeated))
  }, numeric(most + 3L))
  se <- rowMeans(each)
  table <- tibble::tibble(model = c("none", seq_len(most), "all", "best single"),
    number = c(0L, seq_len(most), NA, NA), error = error, se = se,
    explained = 1 - error / error[1L], hits = if (class) summed("hit") else NA_real_)
  numbered <- seq_len(most + 1L)
  best <- which.min(error[numbered])
  chosen <- which(error[numbered] <= error[best] + se[best])[1L]
  list(table = table, best = best - 1L, chosen = chosen - 1L)
}

#' @exportS3Method tibble::as_tibble
as_tibble.predictive_number <- function(x, ...) x$values$table

#' @export
glance.predictive_number <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  at <- v$table[v$chosen + 1L, ]
  tibble_of(rows = v$rows, best = v$best, chosen = v$chosen, error = at$error, se = at$se,
    explained = at$explained, hits = at$hits)
}
