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
#'   `factorability`, `count`, `solution`, `pattern`, `scales`, `reliability` and `scores`;
#'   `settings` the study with the seed that was used; `findings` those of all stages.
#' @section Errors: Those of the stages.
#' @examples
#' file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
#' study <- run_study(file)
#' study$values$solution
#' @export
run_study <- function(study, threads = NULL, watch = NULL) {
  call <- environment()
  if (is.character(study)) study <- in_name_of(call, read_study(study))
  check_class(study, "study", "study", "read_study()")
  settings <- study$settings
  settings$seed <- settle_seed(settings$seed)
  values <- in_name_of(
    call,
    run_stages(settings, threads, if (is.null(watch)) function(line) NULL else watch)
  )
  findings <- do.call(bind_findings, lapply(unname(values), `[[`, "findings"))
  # later stages repeat what they were told by earlier ones
  new_study(values, settings, unique(findings), values$questionnaire$source, match.call())
}

run_stages <- function(s, threads, watch) {
  path <- function(name) study_path(s, name)
  watch("Reading answers and codebook")
  a <- s$answers
  data <- read_responses(
    path(a$file),
    delimiter = a$delimiter,
    decimal = a$decimal,
    thousands = a$thousands,
    encoding = a$encoding,
    sheet = a$sheet,
    header_rows = a$header_rows
  )
  codebook <- if (!is.null(s$codebook)) read_codebook(path(s$codebook))
  asked <- rlang::inject(questionnaire(
    data,
    items = !!a$items,
    codebook = codebook,
    id = !!a$id,
    group = !!a$group,
    weight = !!a$weight,
    out_of_range = a$out_of_range,
    reversed = !!a$reversed,
    missing_codes = codes_of_study(a$missing_codes),
    ends = a$ends,
    categories = !!a$categories
  ))
  watch("Looking at items and people")
  items <- profile_items(asked)
  people <- profile_respondents(asked)
  watch("Correlating items")
  c <- s$correlations
  correlations <- correlate_items(
    asked,
    kind = c$kind,
    missing = c$missing,
    continuous_from = c$continuous_from,
    repair = c$repair,
    threads = threads
  )
  factorability <- assess_factorability(correlations)
  watch("Weighing the number of factors")
  f <- s$factors
  count <- count_factors(
    correlations,
    basis = f$basis,
    chance = f$chance,
    reference = f$reference,
    percentile = f$percentile,
    sequential = f$sequential,
    replicates = f$replicates,
    seed = s$seed,
    threads = threads
  )
  watch("Extracting and rotating factors")
  solution <- factor_as_asked(correlations, number_of_study(f$number, count), f, s$seed, threads)
  watch("Checking scales and scoring people")
  r <- s$scales
  scales <- if (r$by == "codebook") {
    form_scales(asked)
  } else {
    form_scales(solution, salient = r$salient, crossing = r$crossing, weak = r$weak)
  }
  list(
    questionnaire = asked,
    items = items,
    people = people,
    correlations = correlations,
    factorability = factorability,
    count = count,
    solution = solution,
    pattern = pattern_table(solution, hide_below = s$pattern$hide_below),
    scales = scales,
    reliability = assess_reliability(
      scales,
      asked,
      missing = c$missing,
      wished = r$wished,
      replicates = r$replicates,
      level = r$level,
      seed = s$seed,
      threads = threads
    ),
    scores = score_respondents(solution, asked, answered_share = s$scores$answered_share)
  )
}

# `f`: what the study asks of its factors.
factor_as_asked <- function(correlations, number, f, seed, threads) {
  extracted <- if (f$method == "components") {
    extract_components(correlations, number, analyse = f$analyse)
  } else {
    extract_factors(
      correlations,
      number,
      method = f$method,
      analyse = f$analyse,
      lowest_uniqueness = f$lowest_uniqueness,
      starts = f$extraction_starts,
      seed = seed,
      threads = threads
    )
  }
  rotate_factors(
    extracted,
    f$rotation,
    oblique = f$oblique,
    gamma = f$gamma,
    kappa = f$kappa,
    delta = f$delta,
    power = f$power,
    zeros = f$zeros,
    row_weights = f$row_weights,
    starts = f$starts,
    optimum = f$optimum,
    seed = seed,
    threads = threads
  )
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
as_tibble.study <- function(x, ...) x$findings

#' Write a study file
#'
#' Writes the study with every default and the seed filled in, the versions it ran with and, when it
#' has been run, the fingerprint of its answers: running that file again repeats it exactly.
#'
#' @param study What [read_study()] or [run_study()] returns.
#' @param file Path of the YAML file to write.
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_unwritable`, `softsieve_error_class`.
#' @examples
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' write_study(study, tempfile(fileext = ".yml"))
#' @export
write_study <- function(study, file) {
  check_class(study, "study", "study", "read_study()")
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
  # lists stay lists where they hold one thing
  for (name in c("group", "items", "reversed", "missing_codes", "ends", "categories")) {
    s$answers[[name]] <- if (length(s$answers[[name]])) as.list(s$answers[[name]])
  }
  body <- s[setdiff(names(s), c("folder", "file"))]
  c(
    study_history(study),
    strsplit(
      yaml::as.yaml(
        body[lengths(body) > 0],
        indent.mapping.sequence = TRUE,
        handlers = list(logical = verbatim_yes)
      ),
      "\n"
    )[[
      1L
    ]]
  )
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
