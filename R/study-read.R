# Study files: YAML that is data and nothing else, checked against inst/schema/study.schema.json.

#' Read a study file
#'
#' A study file is YAML that says what is to be done: where the answers and the codebook are, and
#' what is asked of each stage. What it may hold is laid down in
#' `system.file("schema", "study.schema.json", package = "softsieve")`; what it leaves out takes the
#' schema's defaults. Paths are relative to the study file. Nothing in it is executed.
#'
#' @param file Path of a YAML file.
#' @return An object of class `study` that has not been run: `values` is empty, `settings` holds the
#'   study with all defaults filled in, and `file`, its path.
#' @section Errors: `softsieve_error_file_missing`, `softsieve_error_file_empty`,
#'   `softsieve_error_study` (not YAML, an unknown entry, a value that is not allowed).
#' @examples
#' file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
#' read_study(file)
#' @export
read_study <- function(file) {
  call <- environment()
  check_file(file)
  written <- read_yaml_data(file, "study", call)
  schema <- jsonlite::read_json(system.file("schema", "study.schema.json", package = "softsieve"))
  settings <- fit_schema(written, schema, "study", call)
  settings$folder <- dirname(normalizePath(file))
  settings$file <- file
  new_study(list(), settings, no_findings(), NULL, match.call())
}

new_study <- function(values, settings, findings, source, call) {
  new_result("study", values, settings, findings, source, call)
}

# Checks `x` against the part of JSON Schema that our schema uses, and fills in defaults.
# `at` is the path shown in errors, for example answers.file.
fit_schema <- function(x, schema, at, call) {
  if (identical(schema$type, "object")) return(fit_object(x, schema, at, call))
  if (identical(schema$type, "array")) return(fit_array(x, schema, at, call))
  # YAML's yes, no and false are words here, so that an answer may be called "no": an entry that is
  # one or the other takes them for what they are
  word <- if (identical(schema$type, "boolean") && is.character(x)) {
    match(tolower(x), c("no", "false", "yes", "true"))
  }
  if (length(word) == 1L && !is.na(word)) x <- word > 2L
  problem <- misfit(x, schema)
  if (length(problem)) stop_entry(at, problem, x, call)
  unname(x)
}

fit_object <- function(x, schema, at, call) {
  if (is.null(x)) x <- list()
  if (!is.list(x) || (length(x) && is.null(names(x)))) {
    stop_entry(at, "must hold named entries", x, call)
  }
  known <- names(schema$properties)
  inside <- function(name) if (at == "study") name else paste0(at, ".", name)
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
  absent <- setdiff(unlist(schema$required), names(x)[!vapply(x, is.null, NA)])
  if (length(absent)) {
    stop_input(
      "study",
      sprintf("`%s` must hold %s.", at, name_culprits(absent)),
      got = "It is missing.",
      todo = sprintf("%s: %s.", inside(absent[1L]), schema$properties[[absent[1L]]]$description),
      call = call
    )
  }
  for (name in known) {
    part <- schema$properties[[name]]
    if (!is.null(x[[name]])) {
      x[[name]] <- fit_schema(x[[name]], part, inside(name), call)
    } else if (identical(part$type, "object")) {
      x[[name]] <- fit_object(NULL, part, inside(name), call)
    } else {
      x[[name]] <- part$default
    }
  }
  x[intersect(known, names(x))]
}

fit_array <- function(x, schema, at, call) {
  x <- as.list(x)
  for (part in x) {
    problem <- misfit(part, schema$items)
    if (length(problem)) stop_entry(at, problem, part, call)
  }
  unlist(x)
}

# What is wrong with a scalar, in words, or nothing.
misfit <- function(x, schema) {
  types <- unlist(schema$type)
  is_type <- list(
    string = is.character,
    boolean = is.logical,
    number = is.numeric,
    integer = function(x) is.numeric(x) && all(x == round(x))
  )
  fits <- length(x) == 1L && !is.na(x) && any(vapply(types, function(type) is_type[[type]](x), NA))
  choices <- unlist(schema$enum)
  if (!fits) {
    return(sprintf(
      "must be one %s",
      paste(
        c(string = "text", boolean = "yes or no", number = "number", integer = "whole number")[
          types
        ],
        collapse = " or "
      )
    ))
  }
  if (is.character(x) && length(choices) && !x %in% choices) {
    return(paste("must be one of:", paste(choices, collapse = ", ")))
  }
  if (is.numeric(x) && !is.null(schema$minimum) && x < schema$minimum) {
    return(paste("must be at least", format(schema$minimum)))
  }
  if (is.numeric(x) && !is.null(schema$maximum) && x > schema$maximum) {
    return(paste("must be at most", format(schema$maximum, scientific = FALSE)))
  }
  character()
}

stop_entry <- function(at, problem, x, call) {
  stop_input("study", sprintf("`%s` %s.", at, problem), got = describe_value(x), call = call)
}
