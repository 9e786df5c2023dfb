#' Write a study file
#'
#' Writes the study, whole or not at all. A study that came from a file keeps that file's comments
#' and order: only what changed is written again. A study that has been run is written with every
#' default and the seed filled in, the versions it ran with and the fingerprint of its answers, so
#' that running it again repeats it exactly.
#'
#' @param study What [read_study()], [run_study()], [decide()], [change_study()] or [study_of()]
#'   returns.
#' @param file Path of the YAML file to write; for a study that was read, the file it came from when
#'   left out.
#' @param defaults Fill in every default and the seed? When left out: if the study has been run.
#' @return `file`, invisibly.
#' @section Errors: `softsieve_error_unwritable`, `softsieve_error_class`, `softsieve_error_ending`,
#'   `softsieve_error_argument`.
#' @family studies
#' @examples
#' study <- read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve"))
#' file <- tempfile(fileext = ".yml")
#' write_study(decide(study, drop = "o2", why = "about travel"), file)
#' writeLines(readLines(file))
#' @export
write_study <- function(study, file = study$settings$file, defaults = NULL) {
  check_class(study, "study", "softsieve_study", "read_study()")
  check_text(file, "file")
  if (is.null(defaults)) defaults <- length(study$values) > 0L
  check_flag(defaults, "defaults")
  check_writable(dirname(file))
  check_ending(file, c("yml", "yaml"))
  lines <- study_lines(study, normalizePath(dirname(file)), defaults)
  write_whole(file, function(path) write_text(lines, path))
}

# The study as lines of YAML, with paths relative to the folder `home`.
study_lines <- function(study, home = study$settings$folder, defaults = TRUE) {
  s <- study$settings
  s <- moved_answers(s, home)
  if (!is.null(s$codebook)) s$codebook <- relative_path(study_path(s, s$codebook), home)
  wanted <- entries_to_write(s, defaults)
  old <- lines_of_origin(s)
  lines <- if (length(old)) edited_lines(old, wanted)
  if (is.null(lines)) lines <- plain_lines(wanted)
  if (defaults) c(study_history(study), without_history(lines)) else lines
}

# The lines of the file that a study came from, where that is still there.
lines_of_origin <- function(s) {
  there <- !is.null(s$file) && file.exists(s$file) && !dir.exists(s$file)
  if (there) decode_file(s$file, "UTF-8")$lines
}

# The entries with their values, by name: all of them, or those that were written.
entries_to_write <- function(s, defaults) {
  found <- list()
  for (entry in study_entries()) {
    way <- strsplit(entry$name, ".", fixed = TRUE)[[1L]]
    if (!defaults && !entry$name %in% s$written) next
    held <- if (length(way) == 1L) s[[way]] else s[[way[1L]]][[way[2L]]]
    if (!length(held)) next
    # lists and mappings stay such where they hold one thing
    if (isTRUE(entry[["several"]]) || isTRUE(entry[["mapped"]])) held <- as.list(held)
    found[[entry$name]] <- held
  }
  found
}

# `lines` with what differs from `wanted` written again; NULL where they then do not say that.
edited_lines <- function(lines, wanted) {
  done <- tryCatch({
    held <- flat_entries(load_yaml(lines))
    for (name in union(names(held), names(wanted))) {
      if (same_entry(held[[name]], wanted[[name]])) next
      lines <- edit_entry(lines, name, wanted[[name]])
    }
    flat_entries(load_yaml(lines))
  }, error = function(e) NULL)
  same <- length(done) == length(wanted) &&
    all(vapply(names(wanted), function(name) same_entry(done[[name]], wanted[[name]]), NA))
  if (same) lines
}

flat_entries <- function(held) {
  inside <- names(held) %in% names(STUDY_SECTIONS)
  flat <- unlist(unname(Map(function(name, section) {
    stats::setNames(section, sprintf("%s.%s", name, names(section)))
  }, names(held)[inside], held[inside])), recursive = FALSE)
  c(held[!inside], as.list(flat))
}

# Does the file hold what is wanted? yes, no, true and false are words to read_yaml_data().
same_entry <- function(held, wanted) {
  a <- entry_as_said(held)
  b <- entry_as_said(wanted)
  identical(a, b) || identical(a, as.list(b)) || identical(as.list(a), b)
}

entry_as_said <- function(x) {
  if (is.null(x)) return(NULL)
  if (is.list(x) || length(x) > 1L) return(lapply(as.list(x), entry_as_said))
  if (is.logical(x)) return(if (x) "true" else "false")
  word <- if (is.character(x)) match(lower(x), c("yes", "no")) else NA
  if (is.na(word)) as.character(x) else c("true", "false")[word]
}

plain_lines <- function(wanted) {
  tree <- list()
  for (name in names(wanted)) {
    way <- strsplit(name, ".", fixed = TRUE)[[1L]]
    if (length(way) == 1L) {
      tree[[way]] <- wanted[[name]]
    } else {
      tree[[way[1L]]][[way[2L]]] <- wanted[[name]]
    }
  }
  yaml_lines(tree)
}

HISTORY <- c("# Written by softsieve ", "# Answers: ")

without_history <- function(lines) {
  lines[!startsWith(lines, HISTORY[1L]) & !grepl("^# Answers: .* fingerprint ", lines)]
}

# Comment lines: with what this was run, and on which answers.
study_history <- function(study) {
  source <- study$source
  c(
    sprintf("%s%s under %s.", HISTORY[1L], utils::packageVersion("softsieve"), R.version.string),
    if (!is.null(source)) {
      sprintf("%s%s people, %d items, fingerprint %s.", HISTORY[2L], format_count(source$people),
        length(source$items), source$fingerprint)
    })
}
