# `softsieve demo`: the demo study, ready to be changed, and run once.

VERB_DEMO <- spec(
  name = "demo",
  label = "write the demo study into DIR (softsieve-demo) and run it",
  order = 1,
  target = "[DIR]",
  needed = FALSE,
  options = list(threads = THREADS_OPTION),
  run = function(target, options) {
    folder <- if (is.na(target)) "softsieve-demo" else target
    if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE)) {
      check_writable(folder, call = NULL)
    }
    check_writable(folder, call = NULL)
    from <- system.file("extdata", DEMO_FILES, package = "softsieve", mustWork = TRUE)
    for (file in from) {
      write_whole(file.path(folder, basename(file)), function(path) file.copy(file, path))
    }
    cat(sprintf("Demo files written to %s: %s\n", folder, paste(DEMO_FILES, collapse = ", ")))
    run_and_write(
      file.path(folder, DEMO_FILES[["study"]]),
      file.path(folder, "results"),
      options$threads
    )
  }
)

DEMO_FILES <- c(
  answers = "repair_cafe_answers.csv",
  codebook = "repair_cafe_codebook.csv",
  study = "repair_cafe_study.yml"
)
