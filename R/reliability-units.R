# Scales of columns in different units: each counts by its standardised values.

# Means and deviations by which items of different units are made alike. Of a list they are those of
# the answers that come with it.
units_of_answers <- function(x) {
  a <- x$values$answers
  tibble_of(item = colnames(a), mean = unname(colMeans(a, na.rm = TRUE)),
    sd = unname(apply(a, 2L, stats::sd, na.rm = TRUE)), sign = 1)
}

# The scales with the units of their items, where they are to be standardised: as asked, or where
# they are measurements.
with_units <- function(formed, units, standardise) {
  items <- formed$values$scales$item
  parts <- unclass(formed)
  if (is.null(standardise) && all(items %in% formed$source$measured)) standardise <- TRUE
  parts$settings$standardise <- standardise
  if (isTRUE(standardise)) parts$values$standardised <- units[match(items, units$item), ]
  structure(parts, class = oldClass(formed))
}

with_units_of <- function(formed, data) {
  done <- !is.null(formed$settings[["by"]]) && formed$settings$by != "list that was given"
  if (done || !is_questionnaire(data)) return(formed)
  parts <- unclass(formed)
  parts$source <- data$source
  with_units(structure(parts, class = oldClass(formed)), units_of_answers(data),
    formed$settings$standardise)
}

# Answers in those units: a matrix, or a questionnaire, which stays that of the same people.
in_units <- function(answers, units) {
  if (is.null(units)) return(answers)
  z <- sweep(answers, 2L, units$mean)
  sweep(z, 2L, units$sign / units$sd, "*")
}

questionnaire_in_units <- function(q, units) {
  if (is.null(units) || is.null(q)) return(q)
  parts <- unclass(q)
  answers <- parts$values$answers
  parts$values$answers <- in_units(answers, units[match(colnames(answers), units$item), ])
  parts$values$items[c("lowest", "highest")] <- NA_real_
  structure(parts, class = oldClass(q))
}
