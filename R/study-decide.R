#' Decide something about a study, or change what it asks for
#'
#' The study file is the single source of what a study is: what people decide is written into it,
#' with who, why and on which numbers, and runs of the study do as it says.
#'
#' @param study What [read_study()], [run_study()] or [study_of()] returns.
#' @param ... For `decide()`: one decision by its word: `drop`, `keep`, `restore` or `reverse`
#' (names
#'   of items), `number` (of factors), or `name` (a factor: `F1`) with `as` (what it is called). For
#'   `change_study()`: entries of the study file by their full names, for example
#'   `factors.rotation = "varimax"`; `NULL` takes an entry back to its default.
#' @param why The reason, in words.
#' @param who Who decided.
#' @param when The day, as text; nothing is written when it is left out.
#' @param numbers On which numbers, in words. Left out, they are what the last run showed of it (for
#'   items communality and largest loading, for the number what parallel analysis and the
#'   probabilities say, for names the strongest items).
#' @return The study with the decision (or change), not run: [write_study()] writes it into its
#' file,
#'   comments and all; [run_study()] runs it.
#' @section Errors: `softsieve_error_study`, `softsieve_error_class`, `softsieve_error_argument`.
#' @family studies
#' @examples
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' study <- decide(study, drop = "o2", why = "about travel, not about mending", who = "the board")
#' study <- change_study(study, factors.rotation = "varimax")
#' study
#' @export
decide <- function(study, ..., why = NULL, who = NULL, when = NULL, numbers = NULL) {
  check_class(study, "study", "softsieve_study", "read_study()")
  beside <- list(why = why, who = who, when = when, numbers = numbers)
  beside <- beside[!vapply(beside, is.null, NA)]
  decision <- c(list(...), beside)
  form <- form_of_decision()
  decision <- check_decision(fit_form(decision, form, "decision"), "decision")
  decision <- decision[!vapply(decision, is.null, NA)]
  if (is.null(decision$numbers)) {
    decision$numbers <- DECISIONS[[word_of(decision)]]$numbers(study$values, decision)
  }
  settings <- study$settings
  settings$decisions <- c(settings$decisions, list(decision))
  settings$written <- union(settings$written, "decisions")
  new_study(list(), settings, no_findings(), NULL, match.call())
}

#' @rdname decide
#' @export
change_study <- function(study, ...) {
  check_class(study, "study", "softsieve_study", "read_study()")
  asked <- list(...)
  known <- vapply(study_entries(), `[[`, "", "name")
  strange <- if (length(asked) && is.null(names(asked))) "" else setdiff(names(asked), known)
  if (!length(asked) || length(strange)) {
    stop_input("study",
      "Changes must be named as entries of a study file are: section.key = value.",
      got = if (length(strange)) sprintf("Not known: \"%s\".", strange[1L]) else "Nothing came.",
      todo = if (length(strange)) hint_nearest(strange[1L], known) else character())
  }
  settings <- study$settings
  for (name in names(asked)) settings <- set_entry(settings, name, asked[[name]])
  new_study(list(), settings, no_findings(), NULL, match.call())
}

# One entry of the settings, checked; NULL is its default.
set_entry <- function(settings, name, value) {
  entry <- Find(function(one) one$name == name, study_entries())
  form <- form_of_entry(entry)
  if (is.list(value) && is.null(names(value)) && !length(value)) value <- NULL
  fitted <- if (is.null(value)) form$default else fit_form(value, form, name)
  way <- strsplit(name, ".", fixed = TRUE)[[1L]]
  if (length(way) == 1L) {
    settings[way] <- list(fitted)
  } else {
    settings[[way[1L]]][way[2L]] <- list(fitted)
  }
  kept <- setdiff(settings$written, name)
  settings$written <- if (is.null(value)) kept else c(kept, name)
  settings
}
