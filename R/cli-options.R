# What the command can be told besides its verb and target: OPTIONS, and the entries of the study
# file by their full names.

cli_option <- function(name, type, value, help) {
  list(name = name, type = type, value = value, help = help)
}

OPTIONS <- list(
  codebook = cli_option("codebook", "character", "FILE", "the codebook, for a file of answers"),
  matrix = cli_option("matrix", "character", "FILE", "a correlation matrix in the place of DATA"),
  n = cli_option("n", "numeric", "N", "how many people are behind the matrix"),
  format = cli_option("format", "character", "FORM", "table (default), csv, json or markdown"),
  out = cli_option("out", "character", "PLACE", "write there, not to the screen"),
  seed = cli_option("seed", "numeric", "N", "the seed of everything that is drawn"),
  threads = cli_option("threads", "numeric", "N", "number of threads; results are the same"),
  quiet = cli_option("quiet", "flag", "", "no progress and no notes on stderr"),
  strict = cli_option("strict", "flag", "", "exit status 3 when a finding is serious"),
  solution = cli_option("solution", "character", "FILE", "score with this saved solution"),
  explain = cli_option("explain", "character", "ROW", "what this row's scores are made of"),
  with = cli_option("with", "character", "FILE", "the study or answers to compare with"),
  fresh = cli_option("fresh", "flag", "", "run everything again, take up nothing"))

WORK_OPTIONS <- c("codebook", "matrix", "n", "format", "out", "seed", "threads", "quiet", "strict")

# "--factors.number=4" and "--factors.number 4", taken out of the arguments: entries of the study
# file, as text, by name.
take_entries <- function(args) {
  known <- entry_options()
  entries <- list()
  rest <- character()
  while (length(args)) {
    # after a bare -- nothing is an option
    if (args[1L] == "--") return(list(entries = entries, rest = c(rest, args)))
    name <- sub("^--([a-z_.0-9]+)(=.*)?$", "\\1", args[1L])
    if (!names_entry(args[1L], name, known)) {
      rest <- c(rest, args[1L])
      args <- args[-1L]
      next
    }
    check_entry_name(name, known)
    inline <- grepl("=", args[1L], fixed = TRUE)
    value <- if (inline) sub("^[^=]*=", "", args[1L]) else args[2L]
    if (value %in% c(NA, "")) stop(sprintf("--%s needs a value", name), call. = FALSE)
    entries[[name]] <- value
    args <- args[-seq_len(if (inline) 1L else 2L)]
  }
  list(entries = entries, rest = rest)
}

# Names of entries are known, or at least have a point in them.
names_entry <- function(word, name, known) {
  startsWith(word, "--") && (name %in% known || grepl(".", name, fixed = TRUE))
}

check_entry_name <- function(name, known) {
  if (name %in% known) return(invisible())
  hint <- hint_nearest(name, known)
  stop(paste(c(sprintf("there is no entry --%s.", name), hint), collapse = " "), call. = FALSE)
}

# The text of an option as the study file would hold it: YAML's own reading of it, where it is no
# list.
entry_value <- function(name, text) {
  entry <- Find(function(one) one$name == name, study_entries())
  parts <- if (isTRUE(entry[["several"]]) || isTRUE(entry[["mapped"]])) {
    trimws(strsplit(text, if (name == "answers.filters") ";" else ",", fixed = TRUE)[[1L]])
  } else {
    text
  }
  numeric <- any(c("integer", "number") %in% entry$type)
  typed <- function(x) {
    number <- suppressWarnings(as.numeric(x))
    if (numeric && !is.na(number)) number else x
  }
  if (isTRUE(entry[["mapped"]])) {
    return(stats::setNames(as.list(sub("^[^=]*=", "", parts)), sub("=.*$", "", parts)))
  }
  if (isTRUE(entry[["several"]])) lapply(parts, typed) else typed(parts)
}

is_study_file <- function(target) {
  isTRUE(lower(tools::file_ext(study_in(target))) %in% c("yml", "yaml"))
}

# The study that a verb works on: a study file, or a file of answers with what the options say.
study_for <- function(target, options) {
  entries <- options$entries
  target <- study_in(target)
  is_study <- is_study_file(target)
  study <- if (!is.null(options$matrix)) {
    written <- list(answers = list(matrix = options$matrix, n = options$n))
    study_from(written, file.path(getwd(), "study.yml"), NULL, lines = character())
  } else if (is_study) {
    check_file(target)
    study_from(read_yaml_data(target, "study"), target, NULL)
  } else {
    answers <- answers_named(target)
    if (is.character(answers)) answers <- normalizePath(answers)
    written <- list(answers = place_entries(answers, getwd()))
    study_from(written, file.path(getwd(), "study.yml"), NULL, lines = character())
  }
  settings <- study$settings
  if (!is.null(options$codebook)) {
    check_file(options$codebook)
    settings <- set_entry(settings, "codebook", normalizePath(options$codebook))
  }
  if (!is.null(options$seed)) settings <- set_entry(settings, "seed", options$seed)
  for (name in names(entries)) {
    settings <- set_entry(settings, name, entry_value(name, entries[[name]]))
  }
  settings <- set_aside_decisions(settings, names(entries), options)
  new_study(list(), settings, no_findings(), NULL, NULL)
}

# An option is for this run: it goes before what the study file has decided on the same.
DECIDED_BY <- c(factors.number = "number", factors.names = "name")

set_aside_decisions <- function(settings, given, options) {
  aside <- vapply(settings$decisions, word_of, "") %in% DECIDED_BY[given]
  if (!any(aside)) return(settings)
  if (!isTRUE(options$quiet)) {
    at <- which(aside)
    say_aside(sprintf("--%s goes before %s of the study file in this run.",
      join_words(intersect(names(DECIDED_BY), given)), join_words(sprintf("decisions[%d]", at))))
  }
  settings$decisions <- settings$decisions[!aside]
  settings
}

# Lines of progress on stderr.
watch_for <- function(options) if (isTRUE(options$quiet)) function(line) NULL else say_aside

# A folder of results stands for the study in it.
study_in <- function(target) {
  if (!length(target) || is.na(target)) return("")
  inside <- file.path(target, "study.yml")
  if (dir.exists(target) && file.exists(inside)) inside else target
}

# Stages that an earlier run left here or beside the study: what still holds is taken up, and
# nothing is written there.
stages_there <- function(target) {
  beside <- dirname(study_in(target))
  folders <- c(beside, file.path(beside, "results"), "results")
  folders <- folders[dir.exists(file.path(folders, "stages"))]
  stage_store(if (length(folders)) folders[1L], keep = FALSE)
}

# Runs the stages that `wanted` needs; a stage that cannot go on is an error here.
run_for <- function(target, options, wanted, adjust = identity) {
  check_out(options)
  of_people <- intersect(wanted, c("questionnaire", "items", "people", "scores", "scale_scores"))
  if (!is.null(options$matrix) && length(of_people)) {
    stop_input("argument", "This needs the answers of people.", got = "A matrix came.",
      todo = "Give a file of answers.")
  }
  study <- adjust(study_for(target, options))
  watch <- watch_for(options)
  done <- run_stages(study, wanted, options$threads, watch, store = stages_there(target))
  why <- done$settings$stopped
  if (is.null(why)) return(done)
  rlang::abort(why$why, class = c("softsieve_error_stopped", "softsieve_error"))
}

entry_options <- function() {
  setdiff(vapply(study_entries(), `[[`, "", "name"), c("decisions", names(OPTIONS)))
}
