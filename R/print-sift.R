# Prints of sifting.

#' @export
print.sift_rules <- function(x, ...) {
  t <- x$values$table
  s <- x$settings
  held <- c(sprintf("%d in all", s$least_items),
    if (s$least_per_factor > 0L) sprintf("%d on each factor", s$least_per_factor),
    if (!is.null(s$least_per_facet)) sprintf("%d of each facet", s$least_per_facet))
  show_result(x,
    sprintf("%s of sifting, %d in use.", count_of(nrow(t), "rule"), sum(t$on)),
    sprintf("The first rule that an item breaks takes out the worst by that rule. Must stay: %s.",
      join_words(held)),
    table_text(x), next_step = "sift_items() sifts by them.")
}

#' @export
print.item_sift <- function(x, ...) {
  v <- x$values
  out <- nrow(v$items) - length(v$left)
  last <- v$trail[nrow(v$trail), ]
  show_result(x,
    sprintf("%s of %s out, %d left on %s: %s.", format_count(out), count_of(nrow(v$items), "item"),
      length(v$left), count_of(last$factors, one_of_model(v$solution$settings)), ENDS[[v$ended]]),
    paste("Explained: share of the variance of the items left; omega: the lowest of the factors'",
      "items as scales."),
    c(table_text(x, "story"), table_text(x, "facets", titled = TRUE)),
    next_step = if (v$ended == "passes") {
      "sift_items() goes on from here; sift_restore() and sift_remove() change it by hand."
    } else {
      "values$solution is the solution of the items left; plot() shows the passes."
    })
}

#' @export
print.sift_replay <- function(x, ...) {
  v <- x$values
  show_result(x, if (v$same) {
    "The same items are left."
  } else {
    apart <- v$both$item[v$both$then != v$both$here]
    sprintf("Other items are left: %s.", name_culprits(apart))
  }, if (is.na(v$departs)) {
    "Every step would be taken again."
  } else {
    sprintf("It departs at step %d.", v$departs)
  }, table_text(x), next_step = "values$again is the sifting of these answers by the same rules.")
}

#' @export
print.sift_paths <- function(x, ...) {
  v <- x$values
  count <- function(verdict) sum(v$items$verdict == verdict)
  show_result(x,
    sprintf("On %s: %s stay, %s go, %s uncertain.", count_of(nrow(v$paths), "path"),
      count_of(count("stays"), "item"), format_count(count("goes")),
      format_count(count("uncertain"))),
    paste("Shares of paths on which an item stays: of all, with other limits, another rule first,",
      "other numbers of factors, people resampled."),
    c(table_text(x, "items"), table_text(x, "pairs", titled = TRUE),
      table_text(x, "agreement", titled = TRUE), table_text(x, "outside", titled = TRUE)),
    next_step = "sift_restore() and sift_remove() decide uncertain items by their content.")
}

#' @export
print.short_forms <- function(x, ...) {
  v <- x$values
  s <- x$settings
  measure <- if (s$criterion == "omega") "omega" else "fidelity"
  show_result(x,
    sprintf("%s: the best %s of %s, by %s.", count_of(nrow(v$scales), "short form"),
      format_count(sum(v$scales$kept)), count_of(sum(v$scales$items), "item"), measure),
    c(
      paste("Fidelity: correlation of the short score with the long one of another occasion",
        "(errors that shared items share are taken off)."),
      if (s$replicates) {
        sprintf(
          "Inside, left out: mean %s of the set chosen in people drawn, in these and the others.",
          measure)
      }),
    c(table_text(x, "scales"), table_text(x, "sets", titled = TRUE)),
    next_step = "values$short is a scale set: score_respondents(), assess_reliability().")
}
