# Prints of counts, and of scores that were written.

#' @export
print.item_tables <- function(x, ...) {
  v <- x$values
  counted <- sum(lengths(v$categories) > 0)
  people <- rowSums(v$people)
  show_result(x,
    sprintf("%s, %s counted pair by pair.", count_of(people[["people"]], "person", "people"),
      count_of(nrow(v$items), "item")),
    c(
      sprintf("%s answered something, %s everything.", format_count(people[["answering"]]),
        format_count(people[["whole"]])),
      if (counted < nrow(v$items)) {
        sprintf("Of %s only sums are kept: more than 16 categories.",
          count_of(nrow(v$items) - counted, "item"))
      },
      if (length(v$groups)) sprintf("Counted apart too: %s.", name_culprits(names(v$groups)))),
    next_step = paste(
      "profile_items(), correlate_items() and all that take these; sample_people() where answers",
      "of people are needed."))
}

#' @export
print.written_scores <- function(x, ...) {
  v <- x$values
  show_result(x,
    sprintf("%s, %s scored, written to %s.", count_of(v$people, "person", "people"),
      format_count(v$scored), v$into),
    if (v$resumed > 0) {
      sprintf("The first %s an earlier run had written.", format_count(v$resumed))
    },
    next_step = "read_responses() reads them again.")
}
