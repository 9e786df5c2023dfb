#' Write the report of a study, or of two side by side
#'
#' The ending says what is written: one HTML file with tables that sort, a slider that hides small
#' loadings, wording on hover and everything inside, which needs no other file and no network and
#' can
#' be mailed as it is; a Word document in the manuscript style of social-science journals; or
#' Markdown with its figures in a folder beside it. All have the same sections: what was asked, the
#' sample, items, factorability, number of factors, solution, sifting, reliability, scores,
#' decisions, a methods and a results paragraph to paste (in the study's `language`: English or
#' German), how to repeat it, references and glossary.
#'
#' @param study What [run_study()] returns, or a list of two or more of these: then they stand side
#'   by side (in Word and Markdown one below the other in each section), named as the list is, and
#'   [compare_solutions()] says how the first two agree.
#' @param file Path of the file to write; its name ends in `.html`, `.docx` (needs the packages
#'   officer and flextable) or `.md`.
#' @return `file`, invisibly.
#' @details The same study and data give the same HTML and Markdown, byte for byte: they have a date
#'   only where the study file says one (`date:`). A Word document carries the time it was made.
#'   Of a study that stopped, what was done is written.
#' @section Errors: `softsieve_error_ending`, `softsieve_error_unwritable`,
#' `softsieve_error_package`;
#'   `softsieve_error_class` when a study has not been run.
#' @family studies
#' @examplesIf requireNamespace("htmltools", quietly = TRUE)
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' study <- run_study(change_study(study, scales.replicates = 0)) # quick: without intervals
#' write_report(study, tempfile(fileext = ".html"))
#' @export
write_report <- function(study, file) {
  studies <- check_studies(study)
  check_text(file, "file")
  ending <- check_ending(file, names(PAPERS))
  paper <- PAPERS[[ending]]
  for (package in paper[["package"]]) needs_package(package, "Such reports")
  write_whole(file, function(path) paper$write(studies, path, file))
}

# One study or a list of them, each with a name.
check_studies <- function(study) {
  studies <- if (is_result(study, "softsieve_study")) list(study) else study
  if (!is.list(studies) || is.data.frame(studies) || !length(studies)) {
    check_class(study, "study", "softsieve_study", "run_study()")
  }
  for (one in studies) check_run(one)
  given <- if (is.null(names(studies))) rep("", length(studies)) else names(studies)
  titles <- make.unique(vapply(studies, title_of_study, ""), " ")
  names(studies) <- ifelse(nzchar(given), given, titles)
  all_visible(studies)
}

check_run <- function(study) {
  check_class(study, "study", "softsieve_study", "run_study()")
  if (length(study$values)) return(invisible(study))
  stop_input("class", "`study` must have been run.", got = "It was only read.",
    todo = "Give what run_study(study) returns.")
}
