# Study files: YAML that is data and nothing else, checked against the form of a study
# (study-entries.R).

#' Read a study file
#'
#' A study file is YAML that says what is to be done: where the answers and the codebook are, who is
#' kept, what is asked of each stage, what factors are called and what people decided
#' ([decide()]). It may hold what `system.file("schema", "study.schema.json", package =
#' "softsieve")`, a JSON Schema, lays down; what it leaves out takes the defaults. Paths are
#' relative
#' to the study file. Nothing in it is executed.
#'
#' @param file Path of a YAML file.
#' @return An object of class `softsieve_study` that has not been run: `values` is empty, `settings`
#'   holds the study with all defaults filled in, and `file`, its path, `folder` (where that is) and
#'   `written` (the entries that stand in the file).
#' @section Errors: `softsieve_error_file_missing`, `softsieve_error_file_empty`,
#'   `softsieve_error_study` (not YAML, an unknown entry, a value that is not allowed): with the
#' line
#'   of the file, what was expected, and the nearest word that would do.
#' @family studies
#' @examples
#' file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
#' read_study(file)
#' @export
read_study <- function(file) {
  check_file(file)
  study_from(read_yaml_data(file, "study"), file, match.call())
}

# A study of what was written: a tree of entries. `file` is where it stands, or a name beside which
# it would.
study_from <- function(written, file, made_by, lines = NULL) {
  if (is.null(lines) && file.exists(file)) lines <- decode_file(file, "UTF-8")$lines
  settings <- rlang::try_fetch(fit_form(written, study_form(), "study"),
    softsieve_error_study = function(cnd) rlang::cnd_signal(at_line(cnd, lines, file)))
  settings$decisions <- lapply(settings$decisions, function(one) one[!vapply(one, is.null, NA)])
  settings$folder <- normalizePath(dirname(file))
  settings$file <- file
  settings$written <- written_entries(written)
  new_study(list(), settings, no_findings(), NULL, made_by)
}

# "factors.number", "seed": what a file says itself.
written_entries <- function(written) {
  sections <- names(STUDY_SECTIONS)
  unlist(lapply(names(written), function(name) {
    if (name %in% sections) sprintf("%s.%s", name, names(written[[name]])) else name
  }))
}

# An error about an entry says on which line of the file that stands.
at_line <- function(cnd, lines, file) {
  line <- if (!is.null(cnd$at)) line_of_entry(lines, cnd$at)
  if (length(line)) {
    cnd$message <- sprintf("%s, line %d: %s", basename(file), line, cnd$message)
    cnd$line <- line
  }
  cnd
}

new_study <- function(values, settings, findings, source, call) {
  new_result("softsieve_study", values, settings, findings, source, call)
}

# Checks `x` against a form, and fills in defaults.
# `at` is the path shown in errors, for example answers.file.
fit_form <- function(x, form, at) {
  fit_part <- list(object = fit_object, array = fit_array, map = fit_map, records = fit_records,
    design = fit_design)[form$type]
  if (length(fit_part) == 1L && !is.null(fit_part[[1L]])) return(fit_part[[1L]](x, form, at))
  x <- settle_flag(x, form)
  problem <- misfit(x, form)
  if (length(problem)) {
    near <- if (is.character(x) && length(x) == 1L) hint_nearest(x, form$enum)
    stop_entry(at, problem, x, near)
  }
  if (is_whole_form(form) && is.numeric(x)) as.integer(x) else unname(x)
}

is_whole_form <- function(form) "integer" %in% form$type && !"number" %in% form$type

settle_flag <- function(x, form) if (identical(form$type, "boolean")) flag_of_word(x) else x

fit_object <- function(x, form, at) {
  if (is.null(x)) x <- list()
  if (!is.list(x) || (length(x) && is.null(names(x)))) {
    stop_entry(at, "must hold named entries", x)
  }
  known <- names(form$properties)
  inside <- function(name) if (at == "study") name else paste0(at, ".", name)
  check_entries(x, form, at, inside)
  for (name in known) {
    part <- form$properties[[name]]
    if (!is.null(x[[name]])) {
      x[[name]] <- fit_form(x[[name]], part, inside(name))
    } else if (identical(part$type, "object")) {
      x[[name]] <- fit_object(NULL, part, inside(name))
    } else {
      x[[name]] <- part$default
    }
  }
  x[intersect(known, names(x))]
}

# No entry is unknown, and none is missing that must be there.
check_entries <- function(x, form, at, inside) {
  known <- names(form$properties)
  unknown <- setdiff(names(x), known)
  if (length(unknown)) {
    stop_input("study", sprintf("`%s` may hold: %s.", at, paste(known, collapse = ", ")),
      got = sprintf("It holds %s.", name_culprits(unknown)),
      todo = hint_nearest(unknown[1L], known), at = inside(unknown[1L]))
  }
  if (!is.null(form[["ways"]])) check_answer_ways(x, at)
  absent <- setdiff(form$required, names(x)[!vapply(x, is.null, NA)])
  if (length(absent)) {
    stop_input("study", sprintf("`%s` must hold %s.", at, name_culprits(absent)),
      got = "It is missing.",
      todo = sprintf("%s: %s.", inside(absent[1L]), form$properties[[absent[1L]]]$description))
  }
}

check_answer_ways <- function(x, at) {
  given <- vapply(ANSWER_WAYS, function(way) any(!vapply(x[way], is.null, NA)), NA)
  whole <- vapply(ANSWER_WAYS, function(way) !any(vapply(x[way], is.null, NA)), NA)
  if (sum(given) == 1L && any(whole)) return(invisible())
  there <- intersect(unlist(ANSWER_WAYS), names(x)[!vapply(x, is.null, NA)])
  stop_input("study",
    sprintf("`%s` must hold `file`, `database` and `table`, or `matrix` and `n`.", at),
    got = if (length(there)) sprintf("It holds %s.", join_words(there)) else "It holds none.",
    todo = "For example file: answers.csv; or database: panel.sqlite and table: answers.")
}

fit_array <- function(x, form, at) {
  x <- as.list(x)
  for (part in x) {
    problem <- misfit(part, form$items)
    if (length(problem)) stop_entry(at, problem, part)
  }
  unlist(x)
}

fit_records <- function(x, form, at) {
  if (!is.list(x) || !is.null(names(x))) {
    stop_entry(at, "must be a list: each begins with a dash", x)
  }
  lapply(seq_along(x), function(i) {
    here <- sprintf("%s[%d]", at, i)
    check_decision(fit_object(x[[i]], form$items, here), here)
  })
}

fit_map <- function(x, form, at) {
  x <- as.list(x)
  if (!length(x) || is.null(names(x)) || !all(nzchar(names(x)))) {
    stop_entry(at, "must hold words, and a value for each", x)
  }
  for (name in names(x)) {
    problem <- misfit(x[[name]], form$items)
    if (length(problem)) stop_entry(paste0(at, ".", name), problem, x[[name]])
  }
  unlist(x)
}

# A design must be one that can be planned (its loadings in a file are looked at when it is).
fit_design <- function(x, form, at) {
  tryCatch({
    said <- check_design_entries(x)
    if (!is.character(said$pattern)) planned_of_entries(said)
    said
  }, softsieve_error = function(e) {
    e$at <- at
    class(e) <- union("softsieve_error_study", class(e))
    rlang::cnd_signal(e)
  })
}

TYPE_WORDS <- c(string = "text", boolean = "yes or no", number = "number", integer = "whole number")

IS_TYPE <- list(string = is.character, boolean = is.logical, number = is.numeric,
  integer = function(x) is.numeric(x) && all(x == round(x)) && all(abs(x) <= .Machine$integer.max))

# What is wrong with a scalar, in words, or nothing.
misfit <- function(x, form) {
  one <- is.atomic(x) && length(x) == 1L && !is.na(x)
  if (!one || !any(vapply(IS_TYPE[form$type], function(is) is(x), NA))) {
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

stop_entry <- function(at, problem, x, todo = character()) {
  stop_input("study", sprintf("`%s` %s.", at, problem), got = describe_value(x), todo = todo,
    at = at)
}

# A decision holds one of the words, and what that word needs.
check_decision <- function(decision, at) {
  held <- intersect(names(decision), names(DECISIONS))
  if (length(held) != 1L) {
    stop_entry(at, sprintf("must hold one of: %s", paste(names(DECISIONS), collapse = ", ")),
      paste(names(decision), collapse = ", "))
  }
  absent <- setdiff(DECISIONS[[held]][["needs"]], names(decision))
  if (length(absent)) {
    stop_entry(at, sprintf("must say `%s` together with `%s`", absent[1L], held), decision[[held]])
  }
  decision
}
