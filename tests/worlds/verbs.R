# Every verb of the command, on the world's answers as a file.

verbs_run <- function(world, log) {
  if (is.null(world$answers)) return(invisible())
  dir <- tempfile()
  dir.create(dir)
  old <- setwd(dir)
  on.exit(setwd(old))
  utils::write.csv(world$answers, "answers.csv", row.names = FALSE, na = "")
  book <- world$how$codebook
  if (!is.null(book)) utils::write.csv(book, "codebook.csv", row.names = FALSE, na = "")
  roles <- world$how[intersect(names(world$how), c("id", "group", "weight", "cluster"))]
  roles <- rbind(sprintf("--answers.%s", names(roles)), unlist(roles))
  targets <- list(ANSWERS = "answers.csv", DATA = "answers.csv", STUDY = "answers_study.yml",
    DESIGN = "design.yml")
  writeLines(c("factors: 2", "people: 100", "replicates: 20"), "design.yml")
  for (verb in softsieve:::VERBS) {
    if (verb$name %in% c("demo", "page")) next # (of its own data; stays until it is ended)
    target <- targets[[strsplit(verb$target, "[^A-Z]")[[1L]][1L]]]
    words <- c(verb$name, target,
      if (!is.null(book) && "codebook" %in% verb$options) c("--codebook", "codebook.csv"),
      if (isTRUE(verb[["entries"]])) roles)
    command_ends(words, verb$name, log)
  }
}

command_ends <- function(words, verb, log) {
  what <- sprintf("softsieve %s", paste(words, collapse = " "))
  log$calls <- log$calls + 1L
  status <- NULL
  said <- tryCatch(utils::capture.output(type = "message", {
    out <- utils::capture.output(status <- softsieve:::cli_main(words))
  }), error = function(e) {
    wrong(log, what, c("R's own error:", conditionMessage(e)))
    NULL
  })
  if (is.null(said)) return(invisible())
  fits(c(out, said), what, log)
  if (!isTRUE(status %in% 0:2)) wrong(log, what, c("status", status))
  if (status != 0L && !any(nzchar(said))) wrong(log, what, "failed without a word")
}
