#' Write the report of a study
#'
#' One HTML file with figures, tables, findings, methods and the study file inside: it needs no
#' other file and no network, and can be mailed as it is.
#'
#' @param study What [run_study()] returns.
#' @param file Path of the HTML file to write; its name ends in `.html`.
#' @return `file`, invisibly.
#' @details The same study and data give the same file, byte for byte: it has a date only where the
#'   study file says one (`date:`).
#' @section Errors: `softsieve_error_ending`, `softsieve_error_unwritable`; `softsieve_error_class`
#'   when the study has not been run.
#' @family studies
#' @examples
#' study <- run_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' write_report(study, tempfile(fileext = ".html"))
#' @export
write_report <- function(study, file) {
  check_run(study)
  check_text(file, "file")
  check_ending(file, c("html", "htm"))
  needs_package("htmltools", "Reports", environment())
  t <- tags()
  title <- if (is.null(study$settings$title)) {
    "Factor analysis of a questionnaire"
  } else {
    study$settings$title
  }
  byline <- paste(
    c(
      study$settings$author,
      study$settings$date,
      sprintf("softsieve %s", utils::packageVersion("softsieve"))
    ),
    collapse = ", "
  )
  page <- html_page(
    title,
    t$h1(title),
    t$p(class = "byline", byline),
    lapply(unname(specs("section")), function(section) section$make(study))
  )
  write_whole(file, function(path) write_text(page, path), call = environment())
}

#' Write everything a study found into a folder
#'
#' `report.html`, the tables as CSV (`items.csv`, `people.csv`, `adequacy.csv`, `eigenvalues.csv`,
#' `pattern.csv` (all loadings), `factor_correlations.csv`, `scales.csv`, `scale_items.csv`,
#' `scores.csv`, `score_correlations.csv`, `scale_scores.csv`, `scale_score_correlations.csv`,
#' `findings.csv`; with norms `scale_norms.csv`, with sifting `trail.csv`), the figures as PNG
#' (`eigenvalues.png`, `fit.png`, `loadings.png`, `reliability.png`, `scale_items.png`,
#' `scores.png`, `scale_scores.png`, with sifting `sift.png`),
#' `number.json`, `reliability.json` and `study.yml`, which repeats the run. All are made beside the
#' folder first and moved in together, so that a broken run leaves nothing half-written.
#'
#' @param study What [run_study()] returns.
#' @param folder Path of the folder; made when it is not there. Files of these names are replaced.
#' @return The paths of the files, invisibly.
#' @section Errors: Those of [write_report()].
#' @family studies
#' @examples
#' study <- run_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' write_results(study, file.path(tempdir(), "results"))
#' @export
write_results <- function(study, folder) {
  call <- environment()
  check_run(study)
  check_text(folder, "folder")
  folder <- sub("/+$", "", folder)
  check_writable(if (dir.exists(folder)) folder else dirname(folder), call)
  beside <- tempfile(".softsieve-", dirname(folder))
  if (!dir.create(beside, showWarnings = FALSE)) check_writable(file.path(beside, "x"), call)
  on.exit(unlink(beside, recursive = TRUE), add = TRUE)
  in_name_of(call, fill_folder(study, beside))
  files <- list.files(beside)
  if (!dir.exists(folder)) dir.create(folder)
  moved <- file.rename(file.path(beside, files), file.path(folder, files))
  if (!all(moved)) {
    stop_input(
      "unwritable",
      "The results must be writable.",
      got = sprintf("Could not replace: %s.", name_culprits(files[!moved])),
      todo = "Are they open in another program?",
      call = call
    )
  }
  invisible(file.path(folder, files))
}

# The folder beside stands in the same place as the folder, so relative paths in study.yml hold.
fill_folder <- function(study, folder) {
  at <- function(name, ending) file.path(folder, paste0(name, ending))
  write_report(study, at("report", ".html"))
  write_table(study$findings, at("findings", ".csv"))
  for (result in study$values) {
    for (spec in tables_of(result)) {
      if (is.null(spec[["file"]])) next
      write_table(spec[["data"]](result), at(file_name(spec, result), ".csv"))
    }
    for (spec in figures_of(result)) {
      if (is.null(spec[["file"]]) || !has_figure(spec, result)) next
      height <- figure_height(spec, result)
      path <- file.path(folder, file_name(spec, result))
      save_figure(draw_spec(spec, result), path, height = height)
    }
  }
  write_table(study$values$count, at("number", ".json"))
  write_table(study$values$reliability, at("reliability", ".json"))
  write_study(study, at("study", ".yml"))
}

# A table's or figure's file; where results of one class stand beside each other it hangs on them.
file_name <- function(spec, result) {
  if (is.function(spec[["file"]])) spec[["file"]](result) else spec[["file"]]
}

check_run <- function(study, call = caller_env()) {
  check_class(study, "study", "softsieve_study", "run_study()", call = call)
  if (length(study$values)) return(invisible(study))
  stop_input(
    "class",
    "`study` must have been run.",
    got = "It was only read.",
    todo = "Give what run_study(study) returns.",
    call = call
  )
}
