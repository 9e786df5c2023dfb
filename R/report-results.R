#' Write everything a study found into a folder
#'
#' `report.html`, the tables as CSV (`items.csv`, `people.csv`, `adequacy.csv`, `eigenvalues.csv`,
#' `pattern.csv` (all loadings), `factor_correlations.csv`, `scales.csv`, `scale_items.csv`,
#' `scores.csv`, `score_correlations.csv`, `scale_scores.csv`, `scale_score_correlations.csv`,
#' `decisions.csv`, `findings.csv`; with norms `scale_norms.csv`, with sifting `trail.csv`), the
#' figures as PNG (`eigenvalues.png`, `fit.png`, `loadings.png`, `reliability.png`,
#' `scale_items.png`, `scores.png`, `scale_scores.png`, with sifting `sift.png`), `number.json`,
#' `reliability.json`, `solution.json` (with which `softsieve score` and [read_solution()] score new
#' people) and `study.yml`, which repeats the run. All are made beside the folder first and moved in
#' together, so that a broken run leaves nothing half-written. Of a study that stopped, what was
#' done is written.
#'
#' @param study What [run_study()] returns.
#' @param folder Path of the folder; made when it is not there. Files of these names are replaced.
#' @return The paths of the files, invisibly.
#' @section Errors: Those of [write_report()].
#' @family studies
#' @examplesIf requireNamespace("htmltools", quietly = TRUE)
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' study <- run_study(change_study(study, scales.replicates = 0)) # quick: without intervals
#' write_results(study, file.path(tempdir(), "results"))
#' @export
write_results <- function(study, folder) {
  call <- environment()
  check_run(study)
  check_text(folder, "folder")
  folder <- sub("/+$", "", folder)
  check_writable(if (dir.exists(folder)) folder else dirname(folder), call)
  check_place(folder, call, "folder")
  # (a folder of results often stands in one that people look into: what is on its way does not)
  beside <- place_beside(folder)
  if (!dir.create(beside, showWarnings = FALSE)) check_writable(file.path(beside, "x"), call)
  on.exit(unlink(beside, recursive = TRUE, expand = FALSE), add = TRUE)
  in_name_of(call, fill_folder(study, beside))
  files <- list.files(beside)
  places <- file.path(folder, files)
  if (dir.exists(folder)) {
    places <- vapply(places, check_place, "", call = call, USE.NAMES = FALSE)
    put_in_place(file.path(beside, files), places, call)
  } else {
    put_in_place(beside, folder, call)
  }
  invisible(places)
}

# The folder beside stands in the same place as the folder, so relative paths in study.yml hold.
fill_folder <- function(study, folder) {
  at <- function(name, ending) file.path(folder, paste0(name, ending))
  on.exit(rm(list = ls(DRAWN), envir = DRAWN), add = TRUE)
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
    assign(drawn_key(spec, result), path, envir = DRAWN)
  }
}

# A table's or figure's file; where results of one class stand beside each other it hangs on them.
file_name <- function(spec, result) {
  if (is.function(spec[["file"]])) spec[["file"]](result) else spec[["file"]]
}
