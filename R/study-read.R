# Study files: YAML that is data and nothing else, checked against the form of a study
# (study-entries.R).

#' Read a study file
#'
#' A study file is YAML that says what is to be done: where the answers and the codebook are, and
#' what is asked of each stage. What it may hold is laid down in
#' `system.file("form", "study.form.json", package = "softsieve")`; what it leaves out takes the
#' form's defaults. Paths are relative to the study file. Nothing in it is executed.
#'
#' @param file Path of a YAML file.
#' @return An object of class `study` that has not been run: `values` is empty, `settings` holds the
#'   study with all defaults filled in, and `file`, its path.
#' @section Errors: `softsieve_error_file_missing`, `softsieve_error_file_empty`,
#'   `softsieve_error_study` (not YAML, an unknown entry, a value that is not allowed).
#' @family studies
#' @examples
#' file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
#' read_study(file)
#' @export
read_study <- function(file) {
  call <- environment()
  check_file(file)
  written <- read_yaml_data(file, "study", call)
  settings <- fit_form(written, study_form(), "study", call)
  settings$folder <- dirname(normalizePath(file))
  settings$file <- file
  new_study(list(), settings, no_findings(), NULL, match.call())
}

new_study <- function(values, settings, findings, source, call) {
  new_result("softsieve_study", values, settings, findings, source, call)
}

# Checks `x` against a form, and fills in defaults.
# `at` is the path shown in errors, for example answers.file.
fit_form <- function(x, form, at, call) {
  fit_part <- list(object = fit_object, array = fit_array, map = fit_map)[form$type]
  if (length(fit_part) == 1L && !is.null(fit_part[[1L]])) {
    return(fit_part[[1L]](x, form, at, call))
  }
  # YAML's yes, no and false are words here, so that an answer may be called "no": an entry that is
  # one or the other takes them for what they are
  word <- if (identical(form$type, "boolean") && is.character(x)) {
    match(tolower(x), c("no", "false", "yes", "true"))
  }
  if (length(word) == 1L && !is.na(word)) x <- word > 2L
  problem <- misfit(x, form)
  if (length(problem)) {
    near <- if (is.character(x) && length(x) == 1L) hint_nearest(x, form$enum)
    stop_entry(at, problem, x, call, near)
  }
  unname(x)
}

fit_object <- function(x, form, at, call) {
  if (is.null(x)) x <- list()
  if (!is.list(x) || (length(x) && is.null(names(x)))) {
    stop_entry(at, "must hold named entries", x, call)
  }
  known <- names(form$properties)
  inside <- function(name) if (at == "study") name else paste0(at, ".", name)
  check_entries(x, form, at, inside, call)
  for (name in known) {
    part <- form$properties[[name]]
    if (!is.null(x[[name]])) {
      x[[name]] <- fit_form(x[[name]], part, inside(name), call)
    } else if (identical(part$type, "object")) {
      x[[name]] <- fit_object(NULL, part, inside(name), call)
    } else {
      x[[name]] <- part$default
    }
  }
  x[intersect(known, names(x))]
}

# No entry is unknown, and none is missing that must be there.
check_entries <- function(x, form, at, inside, call) {
  known <- names(form$properties)
  unknown <- setdiff(names(x), known)
  if (length(unknown)) {
    stop_input(
      "study",
      sprintf("`%s` may hold: %s.", at, paste(known, collapse = ", ")),
      got = sprintf("It holds %s.", name_culprits(unknown)),
      todo = hint_nearest(unknown[1L], known),
      call = call
    )
  }
  absent <- setdiff(form$required, names(x)[!vapply(x, is.null, NA)])
  if (length(absent)) {
    stop_input(
      "study",
      sprintf("`%s` must hold %s.", at, name_culprits(absent)),
      got = "It is missing.",
      todo = sprintf("%s: %s.", inside(absent[1L]), form$properties[[absent[1L]]]$description),
      call = call
    )
  }
}

fit_array <- function(x, form, at, call) {
  x <- as.list(x)
  for (part in x) {
    problem <- misfit(part, form$items)
    if (length(problem)) stop_entry(at, problem, part, call)
  }
  unlist(x)
}

fit_map <- function(x, form, at, call) {
  if (!is.list(x) || !length(x) || is.null(names(x)) || !all(nzchar(names(x)))) {
    stop_entry(at, "must hold words, and a value for each", x, call)
  }
  for (name in names(x)) {
    problem <- misfit(x[[name]], form$items)
    if (length(problem)) stop_entry(paste0(at, ".", name), problem, x[[name]], call)
  }
  unlist(x)
}

TYPE_WORDS <- c(string = "text", boolean = "yes or no", number = "number", integer = "whole number")

# What is wrong with a scalar, in words, or nothing.
misfit <- function(x, form) {
  is_type <- list(
    string = is.character,
    boolean = is.logical,
    number = is.numeric,
    integer = function(x) is.numeric(x) && all(x == round(x))
  )
  one <- length(x) == 1L && !is.na(x)
  if (!one || !any(vapply(is_type[form$type], function(is) is(x), NA))) {
    return(sprintf("must be one %s", paste(TYPE_WORDS[form$type], collapse = " or ")))
  }
  if (is.character(x)) {
    known <- is.null(form$enum) || x %in% form$enum
    return(if (!known) paste("must be one of:", paste(form$enum, collapse = ", ")))
  }
  if (is.numeric(x)) out_of_reach(x, form)
}

out_of_reach <- function(x, form) {
  if (!is.null(form$minimum) && x < form$minimum) {
    return(paste("must be at least", format(form$minimum)))
  }
  if (!is.null(form$maximum) && x > form$maximum) {
    paste("must be at most", format(form$maximum, scientific = FALSE))
  }
}

stop_entry <- function(at, problem, x, call, todo = character()) {
  stop_input(
    "study",
    sprintf("`%s` %s.", at, problem),
    got = describe_value(x),
    todo = todo,
    call = call
  )
}
