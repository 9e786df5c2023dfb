# Prints of scores, of their formula and of the way back.

#' @export
print.respondent_scores <- function(x, ...) {
  v <- x$values
  s <- x$settings
  one <- scored_one(x)
  people <- unique(format_count(range(v$factors$people)))
  show_result(x,
    sprintf("%s of %s scored on %s (%s).", paste(people, collapse = " to "),
      count_of(nrow(v$scores), "person", "people"), count_of(nrow(v$factors), one),
      SCORE_METHODS[[s$score]]$label),
    scores_about(x, one),
    c(table_text(x, "factors"), table_text(x, "correlations", titled = TRUE),
      table_text(x, "norms", titled = TRUE), table_text(x, "people", titled = TRUE)),
    next_step = paste("as_tibble() gives the table, write_table() saves it; plot() draws it;",
      "score_formula() gives the formula."))
}

# What the columns mean.
scores_about <- function(x, one) {
  s <- x$settings
  f <- x$values$factors
  c(if (one == "scale") {
    sprintf("%s; people with missing answers are scored %s.", if (isTRUE(s$standardise)) {
      "In standard deviations of the items from their means"
    } else {
      "On the scale of the answers"
    }, MISSING_ANSWERS[[s$score_missing]])
  } else {
    sprintf("In %s from the mean; people with missing answers scored %s.", unit_of_scores(s),
      MISSING_ANSWERS[[s$score_missing]])
  }, if (isTRUE(any(f[["determinacy"]] < 1 - 1e-9))) {
    paste("Determinacy: correlation of the best score with the factor (1 is best); least alike:",
      "how low two equally good sets of scores might correlate (Guttman 1955).")
  }, if (s$errors) sprintf("Limits: %s of each score.", format_share(s$level)))
}

#' @export
print.score_formula <- function(x, ...) {
  s <- x$settings
  if (s$of == "items") {
    w <- x$values$weights
    return(show_result(x,
      sprintf("The way back from %s to %s.", count_of(nrow(w), "component"),
        count_of(ncol(w), "item")),
      "A value is the constant plus the sum of weight times score, as values were given.",
      table_text(x), next_step = "formula_code() writes it for R, for a spreadsheet or in SQL."))
  }
  number <- ncol(x$values$weights)
  missing <- if (is.null(x$values$least)) {
    "For people who answered every item that counts."
  } else {
    sprintf(
      paste(
        "What a person left out counts as the mean of the scale's items that the person answered,",
        "of which at least %s must be there; formula_code() writes that, too."),
      paste(unique(x$values$least), collapse = " or "))
  }
  show_result(x,
    sprintf("The formula of %s (%s).", count_of(number, "score"), SCORE_METHODS[[s$score]]$label),
    c(
      paste("A score is the constant plus the sum of weight times answer, answers as they were",
        "given: reversed items are not reverse-scored."),
      missing),
    table_text(x),
    next_step = "formula_code() writes it for R, for a spreadsheet or in SQL.")
}

#' @export
print.carried_back <- function(x, ...) {
  v <- x$values
  show_result(x,
    sprintf("A model of %s, written in %s.", count_of(v$scores_used, "score"),
      count_of(sum(!is.na(v$table$reversed)), "item")),
    c("Raw: for one point more of the answer as it was given; standardised: for one",
      "standard deviation of the keyed answer. Errors are of the model's estimates alone."),
    table_text(x),
    below = if (!is.na(v$check$largest)) {
      sprintf("Checked on %s: predictions from items and from scores differ by at most %s",
        count_of(v$check$people, "person", "people"), format(v$check$largest, digits = 1L))
    },
    next_step = "as_tibble() gives the table, write_table() saves it.")
}

#' @export
print.rebuilt_answers <- function(x, ...) {
  v <- x$values
  s <- x$settings
  one <- one_of_model(s)
  target <- format_share(s$target)
  reach <- function(n) if (n == 1L) "reaches" else "reach"
  show_result(x,
    sprintf("%s of the variance of %s kept by %s.", format_share(v$share, 1L),
      count_of(nrow(v$items), "item"), kept_words(s)),
    if (is.na(v$enough)) {
      sprintf("Not even %s %s %s.", count_of(nrow(v$curve), one), reach(nrow(v$curve)), target)
    } else {
      sprintf("%s %s %s.", count_of(v$enough, one), reach(v$enough), target)
    },
    c(table_text(x, "curve"), table_text(x, "items", titled = TRUE)),
    next_step = paste(
      "plot() draws the curve, plot(x, \"rebuilt\") answers and what is left of them;",
      "as_tibble() gives the rebuilt answers."))
}

# What was kept for rebuilding: "4 components", or names.
kept_words <- function(settings) {
  if (is.character(settings$kept)) return(join_words(settings$kept))
  count_of(settings$kept, one_of_model(settings))
}
