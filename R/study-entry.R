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

# The arguments that a verb declares (base-arguments.R), with its defaults, as entries.
declared_by <- function(section, stage, verb, declared) {
  defaults <- defaults_of(verb, names(declared))
  entries <- Map(function(entry, name) {
    entry$argument <- name
    if (is.null(entry[["default"]])) entry$default <- defaults[[name]]
    entry
  }, declared, names(declared))
  keys <- vapply(names(declared), function(name) {
    if (is.null(declared[[name]][["entry"]])) name else declared[[name]]$entry
  }, "")
  do.call(under, c(list(section, stage), stats::setNames(entries, keys)))
}

form_of_entry <- function(entry) {
  if (!is.null(entry[["records"]])) {
    return(list(type = "records", items = entry[["records"]](), description = entry$label))
  }
  value <- list(type = entry$type, enum = choices_of(entry), minimum = entry[["lowest"]],
    maximum = entry[["highest"]])
  value <- value[!vapply(value, is.null, NA)]
  if (isTRUE(entry[["several"]])) value <- list(type = "array", items = value)
  if (isTRUE(entry[["mapped"]])) value <- list(type = "map", items = value)
  whole <- is.numeric(entry[["default"]]) && "integer" %in% entry$type
  value$default <- if (whole) as.integer(entry$default) else entry[["default"]]
  value$description <- entry$label
  value
}
