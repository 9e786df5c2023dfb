# The registry: whatever there are several of is declared once, as a list whose name starts with the
# kind in capitals (ROTATION_VARIMAX, RULE_HULL, WRITER_CSV), in a file of the room it belongs to.
# Nothing else has to be told of it: checks, help, the study's schema, the command's help, tables of
# methods and the contract tests read it from here. CONTRIBUTING.md has the table of kinds.
#
# Every spec has: name (what people type), label (what people read), order (its place), reference
# (short form of the paper, or NA: base-references.R holds it in full); and what its kind needs,
# which is told where the kind is used.

spec <- function(name, label, order, reference = NA_character_, ...) {
  list(name = name, label = label, order = order, reference = reference, ...)
}

# A parameter of a method: `type` is "number", "integer", "text", "flag", "words" (one or several),
# or "matrix" or "any" (checked where it is used).
parameter <- function(type, description, lowest = NULL, highest = NULL, default = NULL) {
  list(type = type, description = description, lowest = lowest, highest = highest,
    default = default)
}

# Specs that were added in this session, beside those of the package.
ADDED <- new.env(parent = emptyenv())
FOUND <- new.env(parent = emptyenv())

# What is text for people stands in files that can be edited without R (inst/catalogue), each read
# once.
catalogue <- function(name) {
  key <- paste0("catalogue ", name)
  if (is.null(FOUND[[key]])) {
    file <- system.file("catalogue", paste0(name, ".yml"), package = "softsieve", mustWork = TRUE)
    text <- paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
    assign(key, yaml::yaml.load(text, eval.expr = FALSE), envir = FOUND)
  }
  FOUND[[key]]
}

# Kinds whose specs are such files: all in one, or a file for each.
CATALOGUES <- list(finding = function() {
  all <- catalogue("findings")
  Map(
    function(name, one, order) c(spec(name, one$text, order), one),
    names(all), all, as.numeric(seq_along(all)))
}, language = function() {
  files <- list.files(system.file("catalogue", package = "softsieve"), "^language-.*[.]yml$")
  lapply(sub("[.]yml$", "", files), function(file) {
    fields <- lapply(catalogue(file), function(one) if (is.list(one)) unlist(one) else one)
    c(fields, list(reference = NA_character_))
  })
})

# All specs of a kind ("rotation"), in their order, named by their names.
specs <- function(kind) {
  if (!is.null(FOUND[[kind]])) return(FOUND[[kind]])
  space <- environment(specs)
  called <- ls(space)
  own <- if (kind %in% names(CATALOGUES)) {
    CATALOGUES[[kind]]()
  } else {
    lapply(called[startsWith(called, paste0(upper(kind), "_"))], get, envir = space)
  }
  all <- c(own, ADDED[[kind]])
  names(all) <- vapply(all, `[[`, "", "name")
  all <- all[order(vapply(all, `[[`, 0, "order"))]
  assign(kind, all, envir = FOUND)
  all
}

# Adds a spec to a kind for this session; one of the same name that was added before gives way.
add_spec <- function(kind, spec) {
  drop_spec(kind, spec$name)
  assign(kind, c(ADDED[[kind]], list(spec)), envir = ADDED)
}

drop_spec <- function(kind, name) {
  kept <- Filter(function(one) one$name != name, ADDED[[kind]])
  assign(kind, kept, envir = ADDED)
  if (exists(kind, envir = FOUND, inherits = FALSE)) rm(list = kind, envir = FOUND)
}

spec_of <- function(kind, name) {
  found <- specs(kind)[[name]]
  if (is.null(found)) stop("no ", kind, " is called ", name, call. = FALSE)
  found
}

names_of <- function(kind) names(specs(kind))

# A field of all specs of a kind, or of those named.
spec_field <- function(kind, field, names = names_of(kind)) {
  vapply(specs(kind)[names], function(one) one[[field]], specs(kind)[[1L]][[field]])
}

method_label <- function(kind, name) spec_of(kind, name)$label
method_reference <- function(kind, name) spec_of(kind, name)$reference

# The parameters of all specs of a kind, each once.
parameters_of <- function(kind) {
  all <- unlist(unname(lapply(specs(kind), `[[`, "parameters")), recursive = FALSE)
  all[!duplicated(names(all))]
}

# What a method gets of what was asked of its parameters: checked, with defaults. One that the
# method does not have is an error.
settle_parameters <- function(kind, name, asked, call) {
  own <- spec_of(kind, name)$parameters
  todo <- function(wrong) who_takes(kind, wrong)
  settle_asked(own, sprintf("\"%s\"", name), asked, call, todo)
}

# The same of any parameters: `whose` is who has them, `todo` a function of the first that is wrong.
settle_asked <- function(own, whose, asked, call, todo) {
  asked <- asked[!vapply(asked, is.null, NA)]
  unnamed <- length(asked) && (is.null(names(asked)) || any(!nzchar(names(asked))))
  wrong <- if (unnamed) "an argument without a name" else setdiff(names(asked), names(own))
  if (length(wrong)) {
    stop_input("argument",
      if (length(own)) {
        sprintf("%s takes the parameters: %s.", whose, name_culprits(names(own)))
      } else {
        sprintf("%s takes no parameters.", whose)
      },
      got = sprintf("Not known here: %s.", name_culprits(wrong)),
      todo = todo(wrong[1L]), call = call)
  }
  values <- lapply(own, `[[`, "default")
  for (one in names(asked)) {
    values[[one]] <- check_parameter(asked[[one]], one, own[[one]], call)
  }
  values
}

who_takes <- function(kind, parameter) {
  takers <- Filter(function(one) parameter %in% names(one$parameters), specs(kind))
  if (length(takers)) {
    return(sprintf("`%s` is for %s.", parameter, name_culprits(names(takers))))
  }
  c(
    hint_nearest(parameter, names(parameters_of(kind))),
    "Look at the help page for the arguments' names.")
}

check_parameter <- function(x, name, asked, call) {
  switch(asked$type,
    number = check_number(x, name, asked$lowest, asked$highest, call = call),
    integer = check_whole(x, name, asked$lowest,
      if (is.null(asked$highest)) .Machine$integer.max else asked$highest,
      call = call),
    flag = check_flag(x, name, call = call), text = check_text(x, name, call = call),
    words = check_words(x, name, call = call))
  x
}

# For help pages: the parameters of all methods of a kind, as the help of `...`.
describe_parameters <- function(kind) {
  found <- parameters_of(kind)
  one <- function(name) {
    p <- found[[name]]
    takers <- Filter(function(s) name %in% names(s$parameters), specs(kind))
    whole <- !is.null(p$lowest) && !is.null(p$highest)
    paste0(sprintf("  * `%s`", name),
      if (!is.null(p$default)) sprintf(" (%s)", format(p$default)),
      sprintf(", for %s", paste0('`"', names(takers), '"`', collapse = ", ")),
      if (whole) sprintf(", from %s to %s", format(p$lowest), format(p$highest)),
      ": ", p$description)
  }
  lines <- vapply(names(found), one, "")
  paste(c(sprintf("@param ... What the %s takes:", kind), "", lines), collapse = "\n")
}
