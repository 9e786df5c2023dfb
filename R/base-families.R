# Whatever there are several of (rotations, rules, file formats, figures, ...) is declared once, as
# an entry of its family: a plain list in the order in which people see it, by the names that people
# type. Checks, help, the study's schema, the command's help and the contract tests read the list;
# nothing else has to be told of a new entry. CONTRIBUTING.md has the table of families.

# Every entry has a label (what people read), and the short form of its paper where there is one
# (inst/catalogue/references.yml holds it in full); the rest is told where the family stands.
spec <- function(label, reference = NA_character_, ...) {
  list(label = label, reference = reference, ...)
}

# Entries know their names.
family <- function(...) {
  entries <- list(...)
  Map(function(entry, name) c(list(name = name), entry), entries, names(entries))
}

# A parameter of a method: `type` is "number", "integer", "text", "flag", "words" (one or several),
# or "matrix" or "any" (checked where it is used).
parameter <- function(type, description, lowest = NULL, highest = NULL, default = NULL) {
  list(type = type, description = description, lowest = lowest, highest = highest,
    default = default)
}

# A field of all entries of a family, or of those named.
spec_field <- function(family, field, names = base::names(family)) {
  vapply(family[names], function(one) one[[field]], family[[1L]][[field]])
}

# The parameters of all entries of a family, each once.
parameters_of <- function(family) {
  all <- unlist(unname(lapply(family, `[[`, "parameters")), recursive = FALSE)
  all[!duplicated(names(all))]
}

# What a method gets of what was asked of its parameters: checked, with defaults. One that the
# method does not have is an error.
settle_parameters <- function(family, name, asked) {
  own <- family[[name]]$parameters
  todo <- function(wrong) who_takes(family, wrong)
  settle_asked(own, sprintf("\"%s\"", name), asked, todo)
}

# The same of any parameters: `whose` is who has them, `todo` a function of the first that is wrong.
settle_asked <- function(own, whose, asked, todo) {
  asked <- asked[!vapply(asked, is.null, NA)]
  unnamed <- length(asked) && (is.null(names(asked)) || any(!nzchar(names(asked))))
  wrong <- if (unnamed) "an argument without a name" else setdiff(names(asked), names(own))
  if (length(wrong)) {
    stop_input("argument", if (length(own)) {
      sprintf("%s takes the parameters: %s.", whose, name_culprits(names(own)))
    } else {
      sprintf("%s takes no parameters.", whose)
    }, got = sprintf("Not known here: %s.", name_culprits(wrong)), todo = todo(wrong[1L]))
  }
  values <- lapply(own, `[[`, "default")
  for (one in names(asked)) {
    values[[one]] <- check_parameter(asked[[one]], one, own[[one]])
  }
  values
}

who_takes <- function(family, parameter) {
  takers <- Filter(function(one) parameter %in% names(one$parameters), family)
  if (length(takers)) {
    return(sprintf("`%s` is for %s.", parameter, name_culprits(names(takers))))
  }
  c(
    hint_nearest(parameter, c(names(parameters_of(family)), called_arguments()),
      renamed = called_arguments()),
    "Look at the help page for the arguments' names.")
}

check_parameter <- function(x, name, asked) {
  switch(asked$type,
    number = check_number(x, name, asked$lowest, asked$highest),
    integer = check_whole(x, name, asked$lowest,
      if (is.null(asked$highest)) .Machine$integer.max else asked$highest),
    flag = check_flag(x, name), text = check_text(x, name),
    words = check_words(x, name))
  x
}

# For help pages: the parameters of all methods of a family, as the help of `...`.
describe_parameters <- function(family, kind) {
  found <- parameters_of(family)
  one <- function(name) {
    p <- found[[name]]
    takers <- Filter(function(s) name %in% names(s$parameters), family)
    whole <- !is.null(p$lowest) && !is.null(p$highest)
    paste0(sprintf("  * `%s`", name), if (!is.null(p$default)) sprintf(" (%s)", format(p$default)),
      sprintf(", for %s", paste0('`"', names(takers), '"`', collapse = ", ")),
      if (whole) sprintf(", from %s to %s", format(p$lowest), format(p$highest)), ": ",
      p$description)
  }
  lines <- vapply(names(found), one, "")
  paste(c(sprintf("@param ... What the %s takes:", kind), "", lines), collapse = "\n")
}
