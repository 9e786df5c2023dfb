# How people were sampled: weights and clusters.

# The weight column as numbers, or NULL when there is none. Of a part of the people all may be 0.
read_weights <- function(data, column, part = FALSE) {
  if (!length(column)) return(NULL)
  w <- data[[column]]
  fail <- function(got, todo = character()) {
    stop_input("weights", "Weights must be finite numbers of at least 0, and not all 0.", got = got,
      todo = todo)
  }
  if (!is.numeric(w)) {
    fail(sprintf("Column %s holds text: %s.", column,
      name_culprits(sprintf("\"%s\"", unique(w)), 3L)))
  }
  rows <- function(hit) sprintf("row %s", name_culprits(which(hit)))
  if (any(is.na(w) | is.infinite(w))) {
    fail(sprintf("Missing or infinite in %s.", rows(is.na(w) | is.infinite(w))),
      "Give these people a weight, or leave them out.")
  }
  if (any(w < 0)) fail(sprintf("Negative in %s.", rows(w < 0)))
  if (!part && all(w == 0)) fail("All are 0.")
  # (sums of their squares must not leave what a number holds)
  far <- w > 0 & (w < 1e-100 | w > 1e100)
  if (any(far)) {
    fail(sprintf("Beyond 1e-100 or 1e100 in %s.", rows(far)), "Divide all by their mean.")
  }
  w
}

# A questionnaire's weights scaled to a mean of 1, or NULL.
scaled_weights <- function(x) {
  weights <- x$values$weights
  if (is.null(weights)) NULL else weights / mean(weights)
}

# Everybody is in one of two clusters or more.
check_clusters <- function(people, column) {
  if (!length(column)) return(invisible())
  values <- people[[column]]
  known <- unique(values[!is.na(values)])
  wrong <- if (anyNA(values)) {
    sprintf("In row %s it is missing.", name_culprits(which(is.na(values))))
  } else if (length(known) < 2L) {
    "All people are in one."
  }
  if (is.null(wrong)) return(invisible())
  stop_input("clusters",
    sprintf("`cluster` must say which of two or more clusters everybody is in: %s.", column),
    got = wrong, todo = "Name another column, or leave these people out.")
}

# The cluster of each person, or NULL; of rows that follow each other, their blocks.
clusters_of <- function(x) {
  column <- x$settings$cluster
  if (length(column)) as.character(x$values$people[[column]]) else row_blocks_of(x)
}
