# Prints of what scores are for: outcomes, groups, and what one row's scores are made of.

#' @export
print.predictive_number <- function(x, ...) {
  s <- x$settings
  v <- x$values
  what <- function(k) count_of(k, sub("s$", "", s$of))
  at <- function(model) v$table[v$table$model == model, ]
  said <- if (v$chosen == 0L) {
    sprintf("No number of %s predicts %s better than its mean does.", s$of, s$outcome)
  } else {
    sprintf("%s %s %s best, or as well: %s of its %s in rows left out.", what(v$chosen),
      if (v$chosen == 1L) "predicts" else "predict", s$outcome,
      format_share(at(as.character(v$chosen))$explained),
      if (is.null(s$classes)) "variance" else "deviance")
  }
  all <- at("all")
  one <- at("best single")
  share <- function(row) if (is.na(row$explained)) "(too few rows)" else format_share(row$explained)
  show_result(x, capitalise(said),
    c(
      sprintf("The smallest error is that of %s; the simplest within one standard error is taken.",
        what(v$best)),
      sprintf("All items together: %s; the best single one: %s.", share(all), share(one)),
      sprintf("%s rows; %d folds, dealt %d times, seed %s: all is learned inside each fold.",
        format_count(v$rows), s$folds, s$repeats, s$seed),
      if (!is.null(s$classes)) {
        sprintf("%s: %s against %s. Hits: share of rows told rightly.", s$outcome, s$classes[2L],
          s$classes[1L])
      }),
    table_text(x),
    next_step = sprintf("plot() shows the curve; %s makes them of all rows.",
      if (s$of == "factors") "factor_solution(x, factors = k)" else "extract_components(x, k)"))
}

#' @export
print.score_groups <- function(x, ...) {
  s <- x$values$scores
  t <- x$values$together
  best <- s[which.max(s$eta_squared), ]
  verdict <- if (t$p < cutoff("groups_apart_p")) {
    sprintf("Groups of %s lie apart most in %s: %s of its variance is between them.", x$settings$by,
      best$score, format_share(best$eta_squared))
  } else {
    sprintf("Groups of %s lie no further apart than groups dealt at random (%s).", x$settings$by,
      format_p(t$p))
  }
  show_result(x, verdict,
    c(
      sprintf(
        paste("Of all scores together %s is between groups (%s); %s of rows left out are given",
          "back to their group (the largest group: %s)."),
        format_share(t$eta_squared), format_p(t$p), format_share(t$hits),
        format_share(t$by_chance)),
      sprintf(
        "Eta squared: share of variance between groups, with %s limits; p over %s random deals.",
        format_share(x$settings$level), format_count(x$settings$replicates)),
      "Overlap: of the two groups that lie furthest apart, from 0 to 1."),
    c(table_text(x, "scores"), table_text(x, "groups", titled = TRUE)),
    next_step = "plot() shows each group's scores; x$values$pairs has all two groups.")
}

#' @export
print.score_parts <- function(x, ...) {
  v <- x$values
  show_result(x,
    sprintf("Row %s: %s.", v$row,
      join_words(sprintf("%s %s", v$scores$score, format_number(v$scores$value)))),
    "Parts: weight times how far the value lies from the mean; they add up to the score.",
    unlist(lapply(v$scores$score, function(name) table_text(x, "parts", name, titled = TRUE)))[-1L],
    below = if (nrow(v$nearest)) {
      sprintf("Nearest: %s.",
        join_words(sprintf("%s (%s)", v$nearest$id, format_number(v$nearest$distance))))
    },
    next_step = "as_tibble() gives all parts.")
}
