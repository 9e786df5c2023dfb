#' Keep some of the people, or some of the items
#'
#' What is kept is a questionnaire again, with everything that belongs to it: keys, weights, ids.
#'
#' @param x A [questionnaire()].
#' @param ... For `keep_people()`: conditions on the items (keyed) and on every other column of the
#'   data, all of which must hold, for example `cafe == "Harbour"`; a condition that is missing for
#'   a person does not hold. For `keep_items()`: items in tidyselect's language, for example `m1:m6`
#'   or `-c(o1, o2)`.
#' @param where Conditions as text, in a small language that R never evaluates (study files use it):
#'   `"cafe = Harbour and m1 >= 3"`, `"cafe in (Harbour, Mill)"`, `"m1 is given"` or `"is missing"`,
#'   `=`, `!=`, `<`, `<=`, `>`, `>=`, joined by `and`, `or`, `not` and brackets. Text with signs
#'   in it stands in quotes, a column's name with blanks or signs in backticks.
#' @return An object of class `questionnaire`; its findings say how many were kept, and by which
#'   condition: this travels into every later result. `settings$kept` holds the conditions as text.
#' @section Errors: `softsieve_error_class`, `softsieve_error_condition` (not TRUE or FALSE for each
#'   person, or nobody left), `softsieve_error_items`.
#' @family questionnaires
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' keep_people(motives, cafe == "Harbour", m1 >= 3)
#' keep_people(motives, where = "cafe in (Harbour, Mill) and m1 is given")
#' keep_items(motives, -c(o1, o2))
#' @export
keep_people <- function(x, ..., where = NULL) {
  check_class(x, "x", "questionnaire", "questionnaire()")
  conditions <- rlang::enquos(...)
  if (!is.null(where)) check_words(where, "where")
  data <- all_columns(x)
  held <- lapply(conditions, condition_holds, data = data)
  said <- vapply(conditions,
    function(condition) paste(deparse(rlang::quo_get_expr(condition), 500L), collapse = " "),
    "")
  by_words <- lapply(where, function(one) where_holds(read_where(one), data))
  keep_those(x, c(held, by_words), c(unname(said), where), match.call())
}

condition_holds <- function(condition, data) {
  held <- tryCatch(rlang::eval_tidy(condition, data), error = function(e) {
    stop_input("condition", "A condition must be about columns that are there.",
      got = conditionMessage(e), todo = sprintf("Columns: %s.", name_culprits(names(data), 30L)))
  })
  if (is.logical(held) && length(held) %in% c(1L, nrow(data))) return(held)
  stop_input("condition", "A condition must be TRUE or FALSE for each person.",
    got = describe_value(held), todo = "For example cafe == \"Harbour\".")
}

# Those for whom all of `held` hold; `said` is what the conditions were.
keep_those <- function(x, held, said, made_by) {
  keep <- rep(TRUE, nrow(x$values$answers))
  for (one in held) keep <- keep & !is.na(one) & one
  if (!any(keep)) {
    stop_input("condition", "Somebody must be left.", got = "The conditions hold for nobody.")
  }
  kept <- new_finding("people_kept", format_count(sum(keep)),
    count_of(length(keep), "person", "people"),
    if (length(said)) paste(said, collapse = " and ") else "no condition was given",
    value = sum(keep), limit = length(keep))
  rebuilt <- subset_people(x, keep)
  rebuilt$findings <- bind_findings(rebuilt$findings, kept)
  rebuilt$settings$kept <- c(x$settings$kept, said)
  rebuilt$call <- made_by
  rebuilt
}

#' @rdname keep_people
#' @export
keep_items <- function(x, ...) {
  check_class(x, "x", "questionnaire", "questionnaire()")
  names <- colnames(x$values$answers)
  blank <- tibble::as_tibble(stats::setNames(rep(list(0), length(names)), names))
  chosen <- select_columns(rlang::quo(c(...)), blank, "items")
  if (length(chosen) < 2L) {
    stop_input("items", "A questionnaire must have at least two items.",
      got = sprintf("%s would be left.", count_of(length(chosen), "item")))
  }
  v <- x$values
  left <- setdiff(names, chosen)
  kept <- if (length(left)) {
    new_finding("items_left_out", name_culprits(left), value = length(left))
  }
  rebuild_questionnaire(x, v$answers[, chosen, drop = FALSE], v$people, v$weights,
    v$items[match(chosen, v$items$item), ], kept, match.call())
}

# The one way to a part of the people: everything that belongs to them comes along, and the
# fingerprint is theirs.
subset_people <- function(x, rows) {
  v <- x$values
  rebuild_questionnaire(x, v$answers[rows, , drop = FALSE], v$people[rows, , drop = FALSE],
    v$weights[rows], v$items, NULL, x$call, v$apart[rows, , drop = FALSE])
}

rebuild_questionnaire <- function(x, answers, people, weights, items, finding, call,
    apart = x$values$apart) {
  codes <- x$values$missing_codes
  if (nrow(people) < nrow(x$values$people)) {
    codes <- codes[0L, ]
  } # who gave a code is no longer known
  earlier <- x$findings[is.na(x$findings$item) | x$findings$item %in% items$item, ]
  settings <- x$settings
  settings$reversed <- intersect(settings$reversed, items$item)
  settings$measured <- intersect(settings$measured, items$item)
  if (!length(weights)) weights <- NULL
  validate_questionnaire(new_questionnaire(answers, people, weights, items,
    codes[codes$item %in% items$item, ], apart, settings, bind_findings(earlier, finding), call))
}

# keep_items() by name, without its finding: these items were asked for.
keep_quietly <- function(answers, items) {
  kept <- keep_items(answers, tidyselect::all_of(items))
  kept$findings <- answers$findings
  kept
}
