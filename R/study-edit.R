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
  structure(format(x, trim = TRUE, digits = 15L, scientific = FALSE), class = "verbatim")
}

# true and false, which no reader of YAML takes for a word.
verbatim_yes <- function(x) structure(ifelse(x, "true", "false"), class = "verbatim")
