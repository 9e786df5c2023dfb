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
#' @examples
#' study <- run_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' write_report(study, tempfile(fileext = ".html"))
#' @export
write_report <- function(study, file) {
  check_run(study)
  check_text(file, "file")
  check_ending(file, c("html", "htm"))
  t <- tags()
  v <- study$values
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
    section_short(v, study$findings),
    html_section("To look at", html_findings(study$findings)),
    section_answers(v),
    section_factorability(v),
    section_number(v),
    section_factors(v),
    section_scales(v),
    section_scores(v),
    section_method(study)
  )
  write_whole(file, function(path) write_text(page, path), call = environment())
}

#' Write everything a study found into a folder
#'
#' `report.html`, the tables as CSV (`items.csv`, `people.csv`, `adequacy.csv`, `eigenvalues.csv`,
#' `pattern.csv` (all loadings), `factor_correlations.csv`, `scales.csv`, `scale_items.csv`,
#' `scores.csv`, `findings.csv`), the figures as PNG (`eigenvalues.png`, `fit.png`, `loadings.png`,
#' `reliability.png`, `scale_items.png`), `number.json`, `reliability.json` and `study.yml`, which
#' repeats the run. All are made beside the folder first and moved in together, so that a broken run
#' leaves nothing half-written.
#'
#' @param study What [run_study()] returns.
#' @param folder Path of the folder; made when it is not there. Files of these names are replaced.
#' @return The paths of the files, invisibly.
#' @section Errors: Those of [write_report()].
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
  v <- study$values
  at <- function(name) file.path(folder, name)
  write_report(study, at("report.html"))
  tables <- list(
    items = v$items,
    people = v$people,
    adequacy = v$factorability,
    eigenvalues = v$count$values$eigenvalues,
    rules = v$count,
    pattern = full_pattern(v$pattern),
    factor_correlations = correlation_frame(v$solution),
    scales = v$reliability,
    scale_items = tidy(v$reliability),
    scores = v$scores,
    findings = study$findings
  )
  for (name in names(tables)) write_table(tables[[name]], at(paste0(name, ".csv")))
  write_table(v$count, at("number.json"))
  write_table(v$reliability, at("reliability.json"))
  save_figure(ggplot2::autoplot(v$count), at("eigenvalues.png"))
  if (!is.null(v$count$values$fits)) save_figure(ggplot2::autoplot(v$count, "fit"), at("fit.png"))
  save_figure(
    ggplot2::autoplot(v$pattern),
    at("loadings.png"),
    height = loadings_height(nrow(v$pattern$values$table))
  )
  sizes <- v$reliability$values$scales$items
  if (any(sizes > 1L)) save_figure(ggplot2::autoplot(v$reliability), at("reliability.png"))
  if (any(sizes > 2L)) {
    save_figure(
      ggplot2::autoplot(v$reliability, "items"),
      at("scale_items.png"),
      height = loadings_height(sum(sizes))
    )
  }
  write_study(study, at("study.yml"))
}

correlation_frame <- function(solution) {
  between <- solution$values$factor_correlations
  cbind(data.frame(factor = colnames(between)), as.data.frame(between))
}

check_run <- function(study, call = caller_env()) {
  check_class(study, "study", "study", "run_study()", call = call)
  if (length(study$values)) return(invisible(study))
  stop_input(
    "class",
    "`study` must have been run.",
    got = "It was only read.",
    todo = "Give what run_study(study) returns.",
    call = call
  )
}
