# The verbs about whole studies: new, check, run, report, demo.

verb_new <- function(target, options) {
  if (isTRUE(options$plan)) return(begin_plan(options$out))
  answers <- answers_named(target)
  folder <- if (is.null(options$out)) "." else options$out
  make_folder(folder)
  written <- begin_study(answers, folder, full = isTRUE(options$full))
  if (settle_format(options["format"]) != "table") {
    put_results(list(written$columns), options["format"])
    return(NULL)
  }
  put_out(c(written$said, "", "Written:", paste0("  ", written$files), "",
    sprintf("Next: look at %s, then `softsieve check %s`.",
      if (length(written$files) > 1L) "both" else "it", written$files[1L])))
  NULL
}

# A design with every entry explained, to be changed.
begin_plan <- function(folder) {
  if (!is.null(folder)) make_folder(folder)
  file <- paste(c(folder, "design.yml"), collapse = "/")
  if (file.exists(file)) {
    stop_input("unwritable", "A plan begins in a new file.",
      got = sprintf("\"%s\" is there already.", file),
      todo = "Name another folder with --out, or change what is there.")
  }
  made <- lines_of(system.file("extdata", "repair_cafe_design.yml", package = "softsieve",
    mustWork = TRUE))
  write_text(sub("plan repair_cafe_design.yml", "plan design.yml", made, fixed = TRUE), file)
  put_out(c("Written:", paste0("  ", file), "",
    sprintf("Next: say there what you expect, then `softsieve plan %s`.", shell_word(file))))
  NULL
}

verb_check <- function(target, options) {
  study <- study_for(target, options)
  s <- settings_in_force(study$settings)
  asked <- if (has_people(s)) questionnaire_of_study(s) else correlate_for(s)
  check_named(s, asked)
  if (settle_format(options) != "table") {
    put_results(list(asked$findings), options)
    return(asked)
  }
  put_out(c(sprintf("%s is whole.", basename(target)),
    sprintf("  answers: %s", answers_words(study$settings)),
    in_called(sprintf("  %s, %s", count_of(asked$source$people, "person", "people"),
      count_of(nrow(asked$values$items), "item")), asked$source),
    if (length(s$decisions)) paste0("  ", decided_lines(study$settings)),
    findings_lines(asked$findings, "what --format csv shows", rep(TRUE, nrow(asked$findings)))))
  asked
}

# What a study names must be there: items of sifting and factors are looked at before anything runs.
check_named <- function(s, asked) {
  items <- asked$values$items$item
  named <- list("sift.keep" = unlist(s$sift$keep), "sift.drop_first" = names(s$sift$drop_first),
    "decisions" = c(names(s$by_hand$drop), s$by_hand$restore))
  if (!s$sift$run) named$decisions <- NULL
  for (entry in names(named)) {
    strange <- setdiff(named[[entry]], items)
    if (!length(strange)) next
    stop_input("study", sprintf("`%s` must name items that are there.", entry),
      got = sprintf("Not there: %s.", name_culprits(strange)),
      todo = hint_nearest(strange[1L], items))
  }
}

verb_run <- function(target, options) {
  out <- if (is.null(options$out)) "results" else options$out
  run_and_write(target, out, options)
}

run_and_write <- function(file, out, options) {
  out <- sub("(.)/+$", "\\1", out)
  check_writable(if (dir.exists(out)) out else folder_of(out))
  study <- study_for(file, options)
  check_results_apart(out, study)
  if (isTRUE(options$fresh)) unlink(file.path(out, "stages"), recursive = TRUE, expand = FALSE)
  watch <- watch_for(options)
  done <- run_stages(study, names(STAGES), options$threads, watch, out)
  watch("Writing ...")
  files <- write_results(done, out)
  if (settle_format(options["format"]) != "table") {
    put_results(list(glance(done)), options["format"])
  } else {
    put_out(run_said(done, files, out))
  }
  why <- done$settings$stopped
  if (!is.null(why)) {
    say_aside(sprintf("softsieve: the study stopped at %s: %s", stage_title(why$stage), why$why))
  }
  done
}

# What came of it, the folder, and what to open first.
FIRST_FILES <- c(report.html = "everything, with figures",
  pattern.csv = "which item belongs to which factor", scores.csv = "each person's scores")

run_said <- function(done, files, out) {
  first <- FIRST_FILES[names(FIRST_FILES) %in% basename(files)]
  c("", utils::capture.output(show_study(done, character(), rest_in = "findings.csv")), "",
    sprintf("%s in %s. Open first:", count_of(length(files), "file"), normalizePath(out)),
    paste0("  ", format(names(first)), "  ", first))
}

verb_report <- function(target, options) {
  out <- if (is.null(options$out)) "report.html" else options$out
  check_ending(out, names(PAPERS))
  check_writable(folder_of(out))
  everything <- names(STAGES)
  watch <- watch_for(options)
  studies <- lapply(c(target, options$with), function(file) {
    study <- study_for(file, options)
    run_stages(study, everything, options$threads, watch, store = stages_there(file))
  })
  if (length(studies) > 1L) {
    names(studies) <- make.unique(basename(c(target, options$with)), " ")
  }
  write_report(studies, out)
  if (settle_format(options["format"]) == "table") {
    put_out(sprintf("The report: %s", normalizePath(out)))
  } else {
    put_results(lapply(studies, glance), options["format"])
  }
  studies[[1L]]
}

verb_demo <- function(target, options) {
  folder <- if (is.na(target)) "softsieve-demo" else target
  make_folder(folder)
  from <- system.file("extdata", DEMO_FILES, package = "softsieve", mustWork = TRUE)
  there <- file.path(folder, basename(from))
  other <- (tools::md5sum(there) != tools::md5sum(from)) %in% TRUE
  if (any(other)) {
    stop_input("unwritable", "The demo must not take the place of files that are not its own.",
      got = sprintf("Changed, or of another version: %s.", name_culprits(basename(from)[other])),
      todo = "Name another folder, or go on with `softsieve run` there.")
  }
  for (file in from) {
    write_whole(file.path(folder, basename(file)), function(path) file.copy(file, path))
  }
  put_out(sprintf("Demo files written to %s:", folder))
  put_out(paste0("  ", DEMO_FILES))
  study <- file.path(folder, DEMO_FILES[["study"]])
  run_and_write(study, file.path(folder, "results"), options)
}

DEMO_FILES <- c(answers = "repair_cafe_answers.csv", codebook = "repair_cafe_codebook.csv",
  study = "repair_cafe_study.yml", design = "repair_cafe_design.yml")

make_folder <- function(folder) {
  if (!dir.exists(folder)) dir.create(folder, showWarnings = FALSE)
  check_writable(folder)
}
