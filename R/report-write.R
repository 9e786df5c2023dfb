#' Write the report of a study or a plan, or of two side by side
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
#' @param study What [run_study()] returns, or [plan_study()] or [people_needed()] (then the
#'   sections are those of a plan), or a list of two or more of a kind: then they stand side by side
#'   (in Word and Markdown one below the other in each section), named as the list is, and
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
  for (one in studies) {
    if (is_result(one, "softsieve_study")) check_not_input(file, files_of_study(one))
  }
  write_whole(file, function(path) paper$write(studies, path, file))
}

# One study or plan, or a list of a kind, each with a name.
check_studies <- function(study) {
  is_plan <- function(x) is_result(x, "study_plan")
  studies <- if (is_result(study, "softsieve_study") || is_plan(study)) list(study) else study
  if (!is.list(studies) || is.data.frame(studies) || !length(studies)) {
    check_class(study, "study", "softsieve_study", "run_study()")
  }
  if (!all(vapply(studies, is_plan, NA))) for (one in studies) check_run(one)
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

#' Write everything a study found into a folder
#'
#' `report.html`, the tables as CSV (`items.csv`, `people.csv`, `adequacy.csv`, `eigenvalues.csv`,
#' `pattern.csv` (all loadings), `factor_correlations.csv`, `scales.csv`, `scale_items.csv`,
#' `scores.csv`, `score_correlations.csv`, `scale_scores.csv`, `scale_score_correlations.csv`,
#' `decisions.csv`, `findings.csv`; with norms `scale_norms.csv`, with sifting `trail.csv`), the
#' figures as PNG (`eigenvalues.png`, `fit.png`, `loadings.png`, `reliability.png`,
#' `scale_items.png`, `scores.png`, `scale_scores.png`, with sifting `sift.png`), `number.json`,
#' `reliability.json`, `solution.json` (with which `softsieve score` and [read_solution()] score new
#' people), `study.yml`, which repeats the run, and `files.md5`, the sums of all these (`md5sum -c
#' files.md5` shows whether they still are what the run wrote). All are made beside the folder first
#' and moved in together, so that a broken run leaves nothing half-written; what an earlier run
#' wrote there and this one does not (a table of factor correlations, when one factor is left) is
#' taken away, unless somebody changed it since. Of a study that stopped, what was done is written.
#'
#' @param study What [run_study()] returns.
#' @param folder Path of the folder; made when it is not there. Files of these names are replaced,
#'   all others are left alone.
#' @return The paths of the files, invisibly.
#' @section Errors: Those of [write_report()].
#' @family studies
#' @examplesIf requireNamespace("htmltools", quietly = TRUE)
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' study <- run_study(change_study(study, scales.replicates = 0)) # quick: without intervals
#' write_results(study, file.path(tempdir(), "results"))
#' @export
write_results <- function(study, folder) {
  check_run(study)
  check_text(folder, "folder")
  folder <- sub("/+$", "", folder)
  beside <- folder_of(folder)
  check_writable(if (dir.exists(folder)) folder else beside)
  check_place(folder, "folder")
  check_results_apart(folder, study)
  # (a folder of results often stands in one that people look into: what is on its way does not)
  beside <- place_beside(folder)
  if (!dir.create(beside, showWarnings = FALSE)) check_writable(file.path(beside, "x"))
  on.exit(unlink(beside, recursive = TRUE, expand = FALSE), add = TRUE)
  fill_folder(study, beside)
  files <- list.files(beside)
  places <- file.path(folder, files)
  check_not_input(places, files_of_study(study))
  if (dir.exists(folder)) {
    places <- vapply(places, check_place, "", USE.NAMES = FALSE)
    put_in_place(file.path(beside, files), places, away = outdated_files(folder, files))
  } else {
    put_in_place(beside, folder)
  }
  invisible(places)
}

# The folder beside stands in the same place as the folder, so relative paths in study.yml hold.
fill_folder <- function(study, folder) {
  at <- function(name, ending) file.path(folder, paste0(name, ending))
  on.exit(DRAWN$figures <- NULL, add = TRUE)
  write_table(study$findings, at("findings", ".csv"))
  v <- study$values
  for (result in c(v[names(v) != "trail"], list(study))) {
    save_tables(result, at)
    save_figures(result, folder)
  }
  if (!is.null(v$count)) write_table(v$count, at("number", ".json"))
  if (!is.null(v$reliability)) write_table(v$reliability, at("reliability", ".json"))
  if (!is.null(v$solution)) write_solution(v$solution, at("solution", ".json"))
  write_study(study, at("study", ".yml"))
  write_report(study, at("report", ".html")) # takes up the figures
  files <- list.files(folder)
  sums <- sprintf("%s  %s", tools::md5sum(file.path(folder, files)), files)
  write_whole(file.path(folder, SUMS), function(path) write_text(sums, path))
}

# What a run may write is known before it runs: the files of all tables (scores', which depend on
# what is scored, by both their names), and its own.
files_of_runs <- function() {
  of_tables <- unlist(lapply(all_tables(), function(own) {
    lapply(own, function(spec) Filter(is.character, spec["file"]))
  }))
  of_scores <- c("scores", "score_correlations", "norms")
  c(
    paste0(unique(c(of_tables, "findings", of_scores, paste0("scale_", of_scores))), ".csv"),
    "report.html", "study.yml", "solution.json", "number.json", "reliability.json", SUMS)
}

check_results_apart <- function(folder, study) {
  check_not_input(file.path(folder, files_of_runs()), files_of_study(study))
}

# The sums of a run's files, one "sum  name" a line.
SUMS <- "files.md5"

# What an earlier run wrote into a folder, nobody has changed since, and a run that writes `files`
# does not replace.
outdated_files <- function(folder, files) {
  sums <- file.path(folder, SUMS)
  if (!isTRUE(file.size(sums) < 1e6)) return(character())
  lines <- suppressWarnings(lines_of(sums))
  # (names in this folder only, whatever the file says)
  lines <- grep("^[0-9a-f]{32}  [^./\\\\][^/\\\\]*$", lines, value = TRUE, useBytes = TRUE)
  lines <- lines[validUTF8(lines)]
  lines <- lines[!substring(lines, 35L) %in% files]
  place <- file.path(folder, substring(lines, 35L))
  plain <- vapply(place, kind_of_path, "") == "plain"
  place[plain & tools::md5sum(place) == substr(lines, 1L, 32L)]
}

save_tables <- function(result, at) {
  for (spec in tables_of(result)) {
    if (is.null(spec[["file"]])) next
    write_table(spec[["data"]](result), at(file_name(spec, result), ".csv"))
  }
}

save_figures <- function(result, folder) {
  for (spec in figures_of(result)) {
    if (is.null(spec[["file"]]) || !has_figure(spec, result)) next
    height <- figure_height(spec, result)
    path <- file.path(folder, file_name(spec, result))
    save_figure(draw_spec(spec, result), path, height = height)
    DRAWN$figures <- c(DRAWN$figures, list(list(spec = spec, x = result, path = path)))
  }
}

# A table's or figure's file; where results of one class stand beside each other it depends on them.
file_name <- function(spec, result) {
  if (is.function(spec[["file"]])) spec[["file"]](result) else spec[["file"]]
}
