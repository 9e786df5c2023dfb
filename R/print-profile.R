# Prints of the profiles of items and of people.

#' @export
print.item_profile <- function(x, ...) {
  i <- x$values$items
  grouped <- "group" %in% names(i)
  flagged <- sum(nzchar(i$flags))
  verdict <- sprintf("%s%s: %s flagged.", count_of(length(unique(i$item)), "item"),
    if (grouped) sprintf(" in %s", count_of(length(unique(i$group)), "group")) else "",
    if (flagged) format_count(flagged) else "none")
  show_result(x, verdict,
    c(
      paste("Kurtosis is in excess of a normal distribution's. Floor and ceiling: share at",
        "the lowest and the highest answer."),
      if (x$settings$weighted) "Weighted."),
    table_text(x),
    next_step = paste(
      "profile_respondents() looks at the people; assess_factorability() at the items",
      "together."))
}

#' @export
print.respondent_profile <- function(x, ...) {
  p <- x$values$people
  flagged <- p[nzchar(p$flags), ]
  show_result(x,
    sprintf("%s: %s flagged, none removed.", count_of(nrow(p), "person", "people"),
      if (nrow(flagged)) format_count(nrow(flagged)) else "none"),
    "One flag is not proof of careless answers: look for several together.",
    table_text(x, "people"),
    next_step = "plot() shows distances and runs; keep_people() keeps those you want, and says so.")
}
