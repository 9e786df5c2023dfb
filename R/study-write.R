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
  check_writable(folder_of(file))
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

# Changing a study file where it stands: lines of YAML, of which only those of the entry that
# changes are written again, so that comments and order stay. What cannot be done so (odd YAML) is
# seen by who calls: the lines are read back and must say what was meant.

# The lines of a block that begins with line `from` and is indented by `indent`: until the next line
# that is not deeper. Blank and comment lines at its end belong to what follows.
block_end <- function(lines, from, indent, list_too = FALSE) {
  depth <- nchar(sub("^( *).*$", "\\1", lines))
  empty <- grepl("^\\s*(#.*)?$", lines)
  # a list may stand at the depth of its key
  inside <- depth > indent | (list_too & depth == indent & grepl("^ *- ", lines)) | empty
  after <- which(!inside & seq_along(lines) > from)
  last <- if (length(after)) after[1L] - 1L else length(lines)
  while (last > from && empty[last]) last <- last - 1L
  last
}

# The line on which `key:` stands within lines from..to at the least depth there, or none.
key_line <- function(lines, key, from = 1L, to = length(lines), top = TRUE) {
  if (from > to) return(integer())
  own <- if (top) "" else " +"
  at <- grep(sprintf("^%s[\"']?%s[\"']?\\s*:", own, literal_pattern(key)), lines[from:to])
  at[1L][!is.na(at[1L])] + from - 1L
}

literal_pattern <- function(x) gsub("([][{}()+*^$|\\\\?.])", "\\\\\\1", x)

# Where an entry stands ("factors.number", "decisions[2].why"); its section's line where it stands
# in braces.
line_of_entry <- function(lines, name) {
  if (identical(name, "study")) return(integer())
  parts <- strsplit(name, ".", fixed = TRUE)[[1L]]
  number <- as.integer(sub("^.*\\[([0-9]+)\\]$", "\\1", parts[1L], perl = TRUE)) |>
    suppressWarnings()
  section <- key_line(lines, sub("\\[.*$", "", parts[1L]))
  if (!length(section)) return(integer())
  last <- block_end(lines, section, 0L, list_too = TRUE)
  if (!is.na(number)) {
    dashes <- grep("^ *- ", lines[seq_len(last)])
    dashes <- dashes[dashes > section]
    if (number > length(dashes)) return(section)
    last <- if (number < length(dashes)) dashes[number + 1L] - 1L else last
    section <- dashes[number]
  }
  if (length(parts) < 2L) return(section)
  inner <- grep(sprintf("(^|[-{, ]) *%s *:", literal_pattern(parts[2L])), lines[section:last])
  if (length(inner)) section + inner[1L] - 1L else section
}

# The lines with one entry set to `value` (NULL takes it out).
edit_entry <- function(lines, name, value) {
  way <- strsplit(name, ".", fixed = TRUE)[[1L]]
  if (length(way) == 1L) return(edit_key(lines, way, value, 1L, length(lines), 0L))
  section <- key_line(lines, way[1L])
  if (!length(section)) {
    if (is.null(value)) return(lines)
    return(c(lines, paste0(way[1L], ":"), entry_lines(way[2L], value, 2L)))
  }
  last <- block_end(lines, section, 0L)
  if (!grepl("^[^:]+:\\s*(#.*)?$", lines[section])) {
    lines <- unfold_section(lines, section, last, way[1L])
    last <- block_end(lines, section, 0L)
  }
  indent <- if (last > section) {
    first <- Find(function(i) !grepl("^\\s*(#.*)?$", lines[i]), (section + 1L):last)
    nchar(sub("^( *).*$", "\\1", lines[first]))
  } else {
    2L
  }
  edit_key(lines, way[2L], value, section + 1L, last, indent)
}

# A section in braces, as a block; what was said after the braces stays.
unfold_section <- function(lines, section, last, name) {
  held <- load_yaml(lines[section:last])[[name]]
  comment <- regmatches(lines[last], regexpr("\\s#[^}\"']*$", lines[last]))
  block <- unlist(lapply(names(held), function(key) entry_lines(key, held[[key]], 2L)))
  c(lines[seq_len(section - 1L)], paste0(name, ":", if (length(comment)) comment), block,
    lines[seq_len(length(lines) - last) + last])
}

edit_key <- function(lines, key, value, from, to, indent) {
  at <- key_line(lines, key, from, to, top = indent == 0L)
  if (!length(at)) {
    if (is.null(value)) return(lines)
    return(append(lines, entry_lines(key, value, indent), to))
  }
  last <- block_end(lines, at, indent, list_too = TRUE)
  new <- if (!is.null(value)) entry_lines(key, value, indent)
  if (length(new) == 1L && last == at) {
    comment <- regmatches(lines[at], regexpr("\\s+#[^\"']*$", lines[at]))
    new <- paste0(new, comment)
  }
  c(lines[seq_len(at - 1L)], new, lines[seq_len(length(lines) - last) + last])
}

entry_lines <- function(key, value, indent) {
  paste0(strrep(" ", indent), yaml_lines(stats::setNames(list(value), key)))
}

yaml_lines <- function(x) {
  text <- yaml::as.yaml(x, indent.mapping.sequence = TRUE, precision = 15L,
    handlers = list(logical = verbatim_yes, numeric = verbatim_number))
  strsplit(sub("\n$", "", text), "\n")[[1L]]
}

# Whole numbers without a decimal point.
verbatim_number <- function(x) {
  text <- format(x, trim = TRUE, digits = 15L, scientific = FALSE, decimal.mark = ".")
  structure(text, class = "verbatim")
}

# true and false, which no reader of YAML takes for a word.
verbatim_yes <- function(x) structure(ifelse(x, "true", "false"), class = "verbatim")
