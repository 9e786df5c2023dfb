# One entry of a study file: what it may be, and its form (study-entries-list.R has them all).

# Entries of a section that a stage takes ("": none by itself).
under <- function(section, stage, ...) {
  own <- list(...)
  unname(Map(
    function(key, entry) {
      entry$name <- if (nzchar(section)) paste0(section, ".", key) else key
      entry$stage <- if (nzchar(stage)) stage
      if (is.null(entry$argument)) entry$argument <- key
      # (under which name results keep it)
      if (is.null(entry$setting)) entry$setting <- entry$argument
      entry
    },
    names(own),
    own))
}

# What an entry may be. `several`: a list of such; `mapped`: such by words; `words`: or else one of
# these words (TRUE: any).
a_text <- function(label, choices = NULL, ...) {
  list(label = label, type = "string", choices = choices, ...)
}
a_flag <- function(label, ...) list(label = label, type = "boolean", ...)
a_number <- function(label, lowest = NULL, highest = NULL, words = NULL, ..., type = "number") {
  if (!is.null(words)) type <- c(type, "string")
  choices <- if (is.character(words)) words
  list(label = label, type = type, choices = choices, lowest = lowest, highest = highest, ...)
}
a_whole <- function(...) a_number(..., type = "integer")

form_of_entry <- function(entry) {
  if (!is.null(entry[["records"]])) {
    return(list(type = "records", items = entry[["records"]](), description = entry$label))
  }
  value <- list(type = entry$type, enum = entry[["choices"]], minimum = entry[["lowest"]],
    maximum = entry[["highest"]])
  value <- value[!vapply(value, is.null, NA)]
  if (isTRUE(entry[["several"]])) value <- list(type = "array", items = value)
  if (isTRUE(entry[["mapped"]])) value <- list(type = "map", items = value)
  whole <- is.numeric(entry[["default"]]) && "integer" %in% entry$type
  value$default <- if (whole) as.integer(entry$default) else entry[["default"]]
  value$description <- entry$label
  value
}
