# Arguments of a stage, each declared once beside the verb that takes it: what it may be, and in
# words for people what it is. Defaults stand in the verb's own line. Its checks, the entries of
# study files with their schema, the command's options, and what study_of() and factor_solution()
# know of it are read from here.
#
# What an argument may be. `choices`: words, or a function of them; `several`: a list of such;
# `mapped`: such by words; `words`: or else one of these words (TRUE: any). Further fields:
#
#   check    function(x, name), where the types below do not say it all; NULL where the verb checks
#   entry    its name in a study file, where that is another
#   setting  its name among a result's settings, where that is another
#   lazy     may it be bare names, which the verb settles itself?

a_text <- function(label, choices = NULL, ...) {
  list(label = label, type = "string", choices = choices, ...)
}
a_flag <- function(label, ...) list(label = label, type = "boolean", ...)
a_number <- function(label, lowest = NULL, highest = NULL, words = NULL, ..., type = "number") {
  if (!is.null(words)) type <- c(type, "string")
  choices <- if (!is.logical(words)) words
  list(label = label, type = type, choices = choices, lowest = lowest, highest = highest, ...)
}
a_whole <- function(...) a_number(..., type = "integer")

choices_of <- function(argument) {
  choices <- argument[["choices"]]
  if (is.function(choices)) choices() else choices
}

# What the verb in whose frame this is evaluated was given for the arguments that it declares:
# checked, with defaults, by name. What is NULL by default may be NULL.
settle_arguments <- function(declared, frame = parent.frame()) {
  defaults <- formals(sys.function(sys.parent()))
  declared <- Filter(function(one) is.null(one[["lazy"]]), declared)
  values <- lapply(names(declared), function(name) {
    value <- get(name, envir = frame, inherits = FALSE)
    optional <- is.null(value) && is.null(defaults[[name]])
    if (optional) NULL else check_argument(value, name, declared[[name]])
  })
  stats::setNames(values, names(declared))
}

check_argument <- function(value, name, argument) {
  if ("check" %in% names(argument)) {
    return(if (is.null(argument$check)) value else argument$check(value, name))
  }
  if (isTRUE(argument[["several"]])) return(check_words(value, name))
  highest <- argument[["highest"]]
  switch(argument$type[1L],
    boolean = check_flag(value, name),
    number = check_number(value, name, argument$lowest, highest),
    integer = check_whole(value, name, argument$lowest,
      if (is.null(highest)) .Machine$integer.max else highest),
    string = {
      choices <- choices_of(argument)
      if (is.null(choices)) check_text(value, name) else check_choice(value, name, choices)
    })
}

# The defaults of a verb for the arguments that it declares, as values; the first of choices.
defaults_of <- function(verb, names) {
  held <- formals(verb)[names]
  values <- lapply(held[nzchar(as.character(held))], function(default) {
    value <- eval(default, topenv())
    if (is.numeric(value) && !all(is.finite(value))) NULL else utils::head(value, 1L)
  })
  stats::setNames(values[names], names)
}
