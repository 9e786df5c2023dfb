# Every line that a finding advises is run, in R and as an entry of a study file: what is advised
# must work in the world in which it is told.

advice_works <- function(pool, world, log) {
  space <- list2env(
    list(answers = world$answers, codebook = world$how$codebook, data = pool$questionnaire,
      correlations = pool$item_correlations, solution = pool$factor_solution,
      scales = pool$softsieve_scale_set, sifting = pool$item_sift),
    parent = globalenv())
  for (of in setdiff(names(pool), "data.frame")) {
    for (place in c("r", "study")) {
      lines <- softsieve:::grouped_findings(pool[[of]]$findings, pool[[of]], place)$line
      for (line in unique(lines[nzchar(lines)])) follow_line(line, of, place, space, log)
    }
  }
}

follow_line <- function(line, of, place, space, log) {
  what <- sprintf("<%s> advises %s", of, line)
  before <- length(log$wrong)
  got <- attempt(if (place == "r") in_r(line, space) else in_study(line), what, log)
  if (is.null(got) && length(log$wrong) == before) wrong(log, what, "it is refused")
}

in_r <- function(line, space) {
  force(line)
  function() eval(parse(text = line), space)
}

# "in the study, under factors: number: 2"
in_study <- function(line) {
  parts <- regmatches(line, regexec("under ([a-z]+): (.*)$", line))[[1L]]
  dir <- tempfile()
  dir.create(dir)
  file <- file.path(dir, "study.yml")
  entries <- if (parts[2L] == "answers") {
    c("answers:", "  file: a.csv", paste0("  ", parts[3L]))
  } else {
    c("answers: {file: a.csv}", paste0(parts[2L], ":"), paste0("  ", parts[3L]))
  }
  writeLines(entries, file)
  function() read_study(file)
}
