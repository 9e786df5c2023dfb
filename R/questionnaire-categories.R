# Columns of categories without order, as items of 0 and 1: one for each category.

# data with each of `columns` replaced by one column for each of its categories, named after both;
# and what was made.
split_categories <- function(data, columns, most = 30L) {
  made <- list()
  for (name in columns) {
    x <- trimws(as.character(data[[name]]))
    x[!is.na(x) & !nzchar(x)] <- NA
    values <- sort(unique(x[!is.na(x)]))
    if (length(values) < 2L || length(values) > most) {
      stop_input("items",
        sprintf("A column of `categories` must hold 2 to %d different categories.", most),
        got = sprintf("%s holds %s.", name, count_of(length(values), "category", "categories")))
    }
    parts <- stats::setNames(lapply(values, function(value) as.integer(x == value)),
      paste(name, values, sep = "_"))
    clash <- intersect(names(parts), names(data))
    if (length(clash)) {
      stop_input("duplicate_names", "Items made of categories must have names of their own.",
        got = sprintf("There is a column %s already.", name_culprits(clash)))
    }
    labels <- attr(data[[name]], "label", exact = TRUE)
    for (i in seq_along(parts)) {
      attr(parts[[i]], "label") <- paste0(if (length(labels)) labels else name, ": ", values[i])
    }
    data <- data[setdiff(names(data), name)]
    data[names(parts)] <- parts
    made[[name]] <- names(parts)
  }
  findings <- if (length(made)) {
    new_finding("categories_split", names(made), vapply(made, name_culprits, ""),
      item = names(made), value = lengths(made))
  }
  list(data = data, items = unlist(made, use.names = FALSE), findings = findings)
}
