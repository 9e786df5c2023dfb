#' A study of what was done by hand
#'
#' Looks at results and writes down how they came about: which answers, who was kept, how items were
#' correlated, how factors were counted, extracted, rotated and named, which items were sifted out,
#' how scales were checked and people scored, and every seed. [write_study()] writes that as a study
#' file; [run_study()] repeats it.
#'
#' @param ... Results of the stages, for example what [count_factors()], [rotate_factors()],
#'   [sift_items()], [pattern_table()], [assess_reliability()] and [score_respondents()] returned;
#'   at least one must hold the answers it came from (a solution does).
#' @param answers Path of the file of answers, or a [database_table()] with an address. It must hold
#'   what was analysed.
#' @param codebook Path of the codebook, or `NULL` without one.
#' @param title,author What the report shows.
#' @param file Where the study file will stand: paths are relative to its folder.
#' @return An object of class `softsieve_study`, not run. Its settings hold what the results were
#'   made with.
#' @section Errors: `softsieve_error_class` (no result, or none with its answers),
#'   `softsieve_error_file_missing`; `softsieve_error_study` where results are of different answers
#'   than the file gives, were asked for different things, or where something was done that no study
#'   file can say (rules of one's own, rotation to a matrix, conditions beyond comparisons, results
#'   by group). Items that were taken out by hand in the midst of a sifting are dropped at its
#'   beginning there.
#' @family studies
#' @examples
#' folder <- tempfile()
#' dir.create(folder)
#' files <- system.file("extdata", package = "softsieve")
#' file.copy(list.files(files, full.names = TRUE), folder)
#' answers <- file.path(folder, "repair_cafe_answers.csv")
#' codebook <- file.path(folder, "repair_cafe_codebook.csv")
#' motives <- questionnaire(
#'   read_responses(answers),
#'   codebook = read_codebook(codebook),
#'   id = person,
#'   group = cafe
#' )
#' solution <- rotate_factors(extract_factors(motives, 4), "geomin", seed = 2026)
#' study <- study_of(solution, answers = answers, codebook = codebook)
#' write_study(study, file.path(folder, "study.yml"))
#' writeLines(readLines(file.path(folder, "study.yml")))
#' @export
study_of <- function(..., answers, codebook = NULL, title = NULL, author = NULL,
    file = file.path(if (is.character(answers)) dirname(answers) else ".", "study.yml")) {
  results <- list(...)
  good <- length(results) && all(vapply(results, is_result, NA))
  if (!good) {
    stop_input("class", "Results of the stages must be given.",
      got = if (length(results)) "Something else was among them." else "Nothing came.",
      todo = "For example study_of(solution, answers = \"answers.csv\").")
  }
  if (!is_database_table(answers)) check_file(answers)
  check_text(file, "file")
  if (!is.null(codebook)) check_file(codebook)
  asked <- questionnaire_behind(results)
  check_one_source(results)
  written <- list(title = title, author = author)
  written <- written[!vapply(written, is.null, NA)]
  home <- normalizePath(dirname(file))
  written$answers <- c(place_entries(answers, home), answers_said(asked, codebook))
  if (!is.null(codebook)) written$codebook <- relative_path(codebook, home)
  parts <- unlist(lapply(results, function(one) c(list(one), results_behind(one))), FALSE)
  # a sifting says what its solution only inherits
  sifted <- vapply(parts, inherits, NA, "item_sift")
  for (part in c(parts[sifted], parts[!sifted])) {
    said <- settings_said(part)
    if (any(sifted)) said <- said[!names(said) %in% c("factors.number", "factors.starts")]
    if (is_result(part, "item_sift")) said <- settings_said(part)
    written <- add_said(written, said)
  }
  written <- one_seed(written)
  study <- study_from(written, file, match.call(), lines = character())
  check_same_answers(study, asked)
  study
}

# The file, read as the study says, must give what was analysed.
check_same_answers <- function(study, asked) {
  found <- questionnaire_of_study(settings_in_force(study$settings))
  if (identical(found$source$fingerprint, asked$source$fingerprint)) return(invisible())
  size <- function(x) {
    sprintf("%s and %s", count_of(nrow(x$values$answers), "person", "people"),
      count_of(ncol(x$values$answers), "item"))
  }
  stop_input("study",
    "The file of answers must hold what was analysed.",
    got = sprintf("The results are of %s; the file, as the study reads it, gives %s%s.",
      size(asked), size(found), if (size(asked) == size(found)) " with other answers" else ""),
    todo = paste("Choose people with keep_people(), which a study can say,",
      "or write those who were analysed into a file and give that."))
}

# Where all stages had the same seed one says it.
one_seed <- function(written) {
  seeds <- unlist(written$own_seeds)
  if (!length(seeds)) return(written)
  written$seed <- seeds[[1L]]
  if (length(unique(seeds)) == 1L) written$own_seeds <- NULL
  written
}

# What a result carries with it.
results_behind <- function(result) {
  v <- result$values
  found <- list(v$going_on$all, v$item_correlations, v$solution,
    v$solution$values$item_correlations)
  found[vapply(found, inherits, NA, "softsieve_result")]
}

# The one with the most items: of fewer are the results of later stages.
questionnaire_behind <- function(results) {
  parts <- unlist(lapply(results, function(one) c(list(one), results_behind(one))), FALSE)
  found <- lapply(parts, function(part) {
    if (is_result(part, "questionnaire")) part else part$values$questionnaire
  })
  found <- found[vapply(found, is_result, NA, "questionnaire")]
  if (length(found)) {
    return(found[[which.max(vapply(found, function(one) ncol(one$values$answers), 0L))]])
  }
  stop_input("class", "One of the results must hold the answers that it came from.",
    got = "None does.", todo = "Give the questionnaire too, or what correlate_items() returned.")
}

# Later results may be of fewer items, never of other people; of the same items, of the same
# answers.
check_one_source <- function(results) {
  sources <- lapply(results, `[[`, "source")
  sources <- sources[lengths(sources) > 0L]
  items <- vapply(sources, function(one) paste(sort(one$items), collapse = "\r"), "")
  prints <- vapply(sources, `[[`, "", "fingerprint")
  people <- unique(vapply(sources, function(one) one$people, 1L))
  differ <- length(people) > 1L || any(tapply(prints, items, function(x) length(unique(x))) > 1L)
  if (!differ) return(invisible())
  stop_input("study", "All results must be of the same answers.",
    got = sprintf("They are of %d different ones.", length(unique(prints))),
    todo = "Leave out those of other people or items.")
}
