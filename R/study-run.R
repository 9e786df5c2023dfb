#' Run a study
#'
#' Runs all stages as the study file says, in order, and keeps every result. It only chains the
#' exported stages: the same calls by hand, with the same seed, give the same numbers.
#'
#' @param study What [read_study()] returns, or the path of a study file.
#' @param threads Number of threads ([count_factors()]).
#' @param watch A function of one line of text, called as each stage begins, or `NULL`.
#' @return An object of class `study`; `values` holds `questionnaire`, `items` and `people` (their
#'   profiles), `correlations`,
#'   `factorability`, `count`, `sift` (where it was asked for), `solution`, `pattern`, `scales`,
#'   `reliability`, `scores` (on factors) and `scale_scores`; `settings` the study with the seed
#'   that was used; `findings` those of all stages.
#' @section Errors: Those of the stages.
#' @family studies
#' @examples
#' file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
#' study <- run_study(file)
#' study$values$solution
#' @export
run_study <- function(study, threads = NULL, watch = NULL) {
  call <- environment()
  if (is.character(study)) study <- in_name_of(call, read_study(study))
  check_class(study, "study", "softsieve_study", "read_study()")
  settings <- study$settings
  settings$seed <- settle_seed(settings$seed)
  values <- in_name_of(
    call,
    run_stages(settings, threads, if (is.null(watch)) function(line) NULL else watch)
  )
  if (!is.null(values$sift)) settings$decisions <- decisions_of(values$sift$values$trail)
  findings <- do.call(bind_findings, lapply(unname(values), `[[`, "findings"))
  # later stages repeat what they were told by earlier ones
  new_study(values, settings, unique(findings), values$questionnaire$source, match.call())
}

# Every stage in turn, each with what the study says to it (study-entries.R).
run_stages <- function(s, threads, watch) {
  asked_of <- function(stage) stage_arguments(s, stage)
  run <- function(verb, first, stage, ...) do.call(verb, c(first, asked_of(stage), list(...)))
  watch("Reading answers and codebook")
  asked <- questionnaire_of_study(s)
  watch("Looking at items and people")
  items <- profile_items(asked)
  people <- profile_respondents(asked)
  watch("Correlating items")
  correlations <- run(correlate_items, list(asked), "correlate", threads = threads)
  factorability <- assess_factorability(correlations)
  watch("Weighing the number of factors")
  count <- run(count_factors, list(correlations), "count", seed = s$seed, threads = threads)
  watch("Extracting and rotating factors")
  number <- number_of_study(s$factors$number, count)
  sifted <- if (s$sift$run) sift_as_asked(correlations, number, s, threads)
  solution <- if (is.null(sifted)) {
    factor_as_asked(correlations, number, s, threads)
  } else {
    asked <- keep_quietly(asked, sifted$values$left)
    named_as_asked(sifted$values$solution, s)
  }
  watch("Checking scales and scoring people")
  scales <- if (s$scales$by == "codebook") {
    form_scales(asked)
  } else {
    run(form_scales, list(solution), "form")
  }
  reliability <- run(
    assess_reliability,
    list(scales, asked),
    "trust",
    missing = s$correlations$missing,
    seed = s$seed,
    threads = threads
  )
  scores <- run(score_respondents, list(solution, asked), "score", threads = threads)
  scale_scores <- run(
    score_respondents,
    list(scales, asked),
    "score_scales",
    reliability = reliability
  )
  values <- list(
    questionnaire = asked,
    items = items,
    people = people,
    correlations = correlations,
    factorability = factorability,
    count = count,
    sift = sifted,
    solution = solution,
    pattern = run(pattern_table, list(solution), "pattern"),
    scales = scales,
    reliability = reliability,
    scores = scores,
    scale_scores = scale_scores
  )
  values[!vapply(values, is.null, NA)]
}

# The number that a rule finds is found anew in every pass; one that is given stays.
sift_as_asked <- function(correlations, number, s, threads) {
  components <- spec_of("extraction", s$factors$method)$model == "components"
  factors <- if (identical(s$factors$number, "parallel")) {
    "parallel"
  } else if (is.numeric(number)) {
    number
  } else {
    number$values$suggested
  }
  rules <- stage_arguments(s, "rules")
  rules[unlist(s$sift$without)] <- FALSE
  drop_first <- unlist(s$sift$drop_first)
  own <- names(spec_of("rotation", s$factors$rotation)$parameters)
  turning <- s$factors[intersect(c("oblique", "row_weights", own), names(s$factors))]
  asked <- list(
    correlations,
    rules = do.call(sift_rules, rules[!vapply(rules, is.null, NA)]),
    factors = factors,
    keep = s$sift$keep,
    drop_first = drop_first,
    method = if (components) "components" else s$factors$method,
    rotation = s$factors$rotation,
    seed = s$seed,
    threads = threads
  )
  do.call(sift_items, c(asked, turning[!vapply(turning, is.null, NA)]))
}

named_as_asked <- function(solution, s) {
  if (is.null(s$factors$names)) solution else name_factors(solution, s$factors$names)
}

questionnaire_of_study <- function(s) {
  reading <- stage_arguments(s, "read")
  reading$file <- study_path(s, reading$file)
  data <- do.call(read_responses, reading)
  codebook <- if (!is.null(s$codebook)) read_codebook(study_path(s, s$codebook))
  asking <- stage_arguments(s, "ask")
  asking["missing_codes"] <- list(codes_of_study(asking$missing_codes))
  # columns are named by words: they go in as they are
  rlang::inject(questionnaire(data, codebook = codebook, !!!asking))
}

# As the study asks of extraction and rotation, each with what its method takes.
factor_as_asked <- function(correlations, number, s, threads) {
  components <- spec_of("extraction", s$factors$method)$model == "components"
  extract <- if (components) extract_components else extract_factors
  asked <- c(
    stage_arguments(s, "extract"),
    list(seed = if (!components) s$seed, threads = if (!components) threads)
  )
  asked <- asked[intersect(names(asked), names(formals(extract)))]
  extracted <- do.call(extract, c(list(correlations, number), asked))
  own <- names(spec_of("rotation", s$factors$rotation)$parameters)
  solution <- do.call(
    rotate_factors,
    c(
      list(extracted),
      stage_arguments(s, "rotate"),
      s$factors[intersect(own, names(s$factors))],
      list(seed = s$seed, threads = threads)
    )
  )
  named_as_asked(solution, s)
}

# Codes as numbers where all are; words stay words.
codes_of_study <- function(codes) {
  if (is.null(codes)) return(NULL)
  number <- suppressWarnings(as.numeric(codes))
  if (anyNA(number)) as.character(codes) else number
}

# The number that the study gives, or that the rule it names has found.
number_of_study <- function(asked, count) {
  if (is.numeric(asked)) return(asked)
  if (asked == "parallel") return(count)
  if (asked == "probable") return(count$values$probable)
  row <- count$values$rules[count$values$rules$rule == asked, ]
  if (!is.na(row$suggested)) return(row$suggested)
  stop_input(
    "factors",
    "The rule that the study names must find a number of factors.",
    got = sprintf("%s: %s.", capitalise(row$label), row$reason),
    todo = "Give factors: number: parallel, or a number."
  )
}

#' @exportS3Method tibble::as_tibble
as_tibble.softsieve_study <- function(x, ...) x$findings

#' Write a study file
#'
#' Writes the study with every default and the seed filled in, the versions it ran with and, when it
#' has been run, the fingerprint of its answers: running that file again repeats it exactly.
#'
#' @param study What [read_study()] or [run_study()] returns.
#' @param file Path of the YAML file to write.
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_unwritable`, `softsieve_error_class`.
#' @family studies
#' @examples
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' write_study(study, tempfile(fileext = ".yml"))
#' @export
write_study <- function(study, file) {
  check_class(study, "study", "softsieve_study", "read_study()")
  check_text(file, "file")
  check_writable(dirname(file))
  check_ending(file, c("yml", "yaml"))
  lines <- study_lines(study, normalizePath(dirname(file)))
  write_whole(file, function(path) write_text(lines, path), call = environment())
}

# The study as lines of YAML, with paths relative to the folder `home`.
study_lines <- function(study, home = study$settings$folder) {
  s <- study$settings
  s$answers$file <- relative_path(study_path(s, s$answers$file), home)
  if (!is.null(s$codebook)) s$codebook <- relative_path(study_path(s, s$codebook), home)
  # lists and mappings stay such where they hold one thing
  for (entry in study_entries()) {
    if (!isTRUE(entry[["several"]]) && !isTRUE(entry[["mapped"]])) next
    way <- strsplit(entry$name, ".", fixed = TRUE)[[1L]]
    held <- s[[way]]
    s[[way]] <- if (length(held)) as.list(held)
  }
  body <- s[setdiff(names(s), c("folder", "file"))]
  c(study_history(study), strsplit(yaml_of(body[lengths(body) > 0L]), "\n")[[1L]])
}

yaml_of <- function(x) {
  yaml::as.yaml(x, indent.mapping.sequence = TRUE, handlers = list(logical = verbatim_yes))
}

# true and false, which no reader of YAML takes for a word.
verbatim_yes <- function(x) {
  structure(ifelse(x, "true", "false"), class = "verbatim")
}

# Where a file that the study names is.
study_path <- function(settings, name) {
  if (grepl("^(/|~|[A-Za-z]:)", name)) name else file.path(settings$folder, name)
}

# The way to `file` from the folder `home`, so that a study can be moved together with its answers.
relative_path <- function(file, home) {
  there <- strsplit(normalizePath(file, winslash = "/", mustWork = FALSE), "/", fixed = TRUE)[[1L]]
  here <- strsplit(normalizePath(home, winslash = "/"), "/", fixed = TRUE)[[1L]]
  if (there[1L] != here[1L]) return(file) # another drive
  shared <- sum(cumprod(
    utils::head(there, min(lengths(list(there, here)))) ==
      utils::head(here, min(lengths(list(there, here))))
  ))
  paste(c(rep("..", length(here) - shared), there[-seq_len(shared)]), collapse = "/")
}

# Comment lines: with what this was run, and on which answers.
study_history <- function(study) {
  source <- study$source
  c(
    sprintf(
      "# Written by softsieve %s under %s.",
      utils::packageVersion("softsieve"),
      R.version.string
    ),
    if (!is.null(source)) {
      sprintf(
        "# Answers: %s people, %d items, fingerprint %s.",
        format_count(source$people),
        length(source$items),
        source$fingerprint
      )
    }
  )
}

#' @export
tidy.softsieve_study <- function(x, ...) {
  check_dots_empty(...)
  x$findings
}

#' @export
glance.softsieve_study <- function(x, ...) {
  check_dots_empty(...)
  run <- length(x$values) > 0L
  solution <- x$values$solution$values
  tibble::tibble(
    run = run,
    people = if (run) nrow(x$values$questionnaire$values$answers) else NA_integer_,
    items = if (run) nrow(solution$items) else NA_integer_,
    factors = if (run) ncol(solution$loadings) else NA_integer_,
    serious = sum(x$findings$severity == "serious"),
    cautions = sum(x$findings$severity == "caution"),
    seed = if (is.null(x$settings$seed)) NA_integer_ else x$settings$seed
  )
}
