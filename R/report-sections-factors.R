# The report's sections from the solution on (report-sections.R says what a section is).

section_factors <- function(study) {
  v <- study$values
  x <- v$solution$values
  worst <- x$residual_pairs[1L, ]
  c(show_figure(v$pattern), show_pattern(v$pattern),
    aside(paste(
      "Communality: the share of an item's variance that the factors explain; uniqueness:",
      "the rest. Complexity: on how many factors the item loads, in effect. The sign of a",
      "factor is arbitrary.")),
    if (is_named(v$solution)) say(names_said(v$solution$settings)),
    show_table(v$solution, "variance"),
    if (one_of_model(v$solution$settings) == "component") {
      say(shares_line(x), component_sentences(x$loadings))
    },
    show_table(v$solution, "factor_correlations"),
    say(sprintf("Residual correlations: root mean square %s, largest %s (%s with %s)%s.",
      format_unit(x$fit$rmsr, 3L), format_unit(worst$residual), worst$item, worst$with,
      if (is.na(x$fit$df)) "" else sprintf("; df = %s", format(x$fit$df)))))
}

# Who called the factors what they are called.
names_said <- function(settings) {
  given <- settings$factor_names[settings$factor_names != names(settings$factor_names)]
  sprintf("The %ss were named by people, after their items: %s.", one_of_model(settings),
    paste(names(given), "is", given, collapse = ", "))
}

section_scales <- function(study) {
  x <- study$values$reliability
  c(verdict(reliability_verdict(x)), say(report_reasons(x$values)), show_table(x, "scales"),
    say(bracket_note(x)), show_figure(x, "coefficients"), show_table(x, "hierarchy"),
    show_table(x, "pairs"), show_table(x, "items"))
}

section_scores <- function(study) {
  x <- study$values$scores
  scales <- study$values$scale_scores
  c(
    say(sprintf("On %s, by %s.", x$settings$of, SCORE_METHODS[[x$settings$score]]$label)),
    say(scores_about(x, scored_one(x))), show_table(x, "factors"),
    on_screen(show_table(x, "correlations")),
    say(sprintf("On scales: %s.", SCORE_METHODS[[scales$settings$score]]$label)),
    say(scores_about(scales, "scale")), show_table(scales, "factors"), show_table(scales, "norms"),
    on_screen(show_figure(scales, "spread")))
}
