# Help, completion for bash and zsh, and the man page: all from the specs of verbs and options.
# `make command` writes the last three (tools/command.R).

help_lines <- function() {
  one <- function(verb) paste(c(verb$name, verb[["target"]]), collapse = " ")
  lefts <- vapply(VERBS, one, "")
  c("softsieve: from questionnaire answers to trustworthy scales", "",
    "Usage: softsieve VERB [TARGET] [OPTIONS]", "",
    beside_lines(unname(lefts), unname(vapply(VERBS, `[[`, "", "label"))), "",
    "DATA is a file of answers (CSV, TSV, XLSX, ODS, Parquet, JSON lines), a table of a database",
    "(panel.sqlite#answers, postgresql://me@host/panel#answers) or a study file (YAML).",
    "`softsieve VERB --help` has options and an example; `softsieve new` begins a study.",
    "", exit_lines())
}

exit_lines <- function() {
  c("Exit status: 0 done, 1 bad input (a message says what must hold; nothing is half-written),",
    "2 wrong usage, 3 with --strict when a finding is serious, 130 interrupted.")
}

beside_lines <- function(left, right) {
  width <- max(nchar(left)) + 2L
  paste0("  ", formatC(left, width = -width), right)
}

verb_help <- function(verb) {
  own <- known_options()[verb$options]
  left <- vapply(own, function(one) trimws(sprintf("--%s %s", one$name, one$value)), "")
  c(sprintf("softsieve %s: %s", verb$name, verb$label), "",
    sprintf("Usage: softsieve %s [OPTIONS]", paste(c(verb$name, verb[["target"]]), collapse = " ")),
    "", if (length(verb[["about"]])) c(strwrap(verb$about, 92L), ""), "Options:",
    beside_lines(c(unname(left), "--help"), c(unname(vapply(own, `[[`, "", "help")), "this text")),
    if (isTRUE(verb[["entries"]])) entries_help(), "", "Example:", paste0("  ", verb$example))
}

entries_help <- function() {
  c("",
    strwrap(
      paste("Every entry of a study file is an option too, by its full name: --factors.number 4",
        "--factors.rotation varimax --answers.id person --answers.group cafe,age",
        "--answers.filters \"age >= 18; cafe = Harbour\". Sections:"),
      92L),
    beside_lines(names(STUDY_SECTIONS), unname(STUDY_SECTIONS)))
}

# What each verb may be followed by; `$entries` stands for all entries of a study file.
command_words <- function() {
  vapply(VERBS, function(verb) {
    entries <- if (isTRUE(verb[["entries"]])) "$entries"
    paste(c(paste0("--", c(verb$options, "help")), entries), collapse = " ")
  }, "")
}

entry_words <- function() paste0("--", entry_options(), collapse = " ")

completion_bash <- function() {
  words <- command_words()
  cases <- sprintf("    %s) words=\"%s\" ;;", names(words), words)
  c("# Completion of softsieve for bash: source it, or put it into",
    "# ~/.local/share/bash-completion/completions/softsieve. Made by tools/command.R.",
    "_softsieve() {",
    "  local current=${COMP_WORDS[COMP_CWORD]} previous=${COMP_WORDS[COMP_CWORD-1]} words=\"\"",
    sprintf("  local entries=\"%s\"", entry_words()),
    "  COMPREPLY=()", "  if [ \"$COMP_CWORD\" -eq 1 ]; then",
    sprintf("    COMPREPLY=($(compgen -W \"%s --help --version\" -- \"$current\"))",
      paste(names(words), collapse = " ")),
    "    return", "  fi", "  if [ \"$previous\" = --format ]; then",
    sprintf("    COMPREPLY=($(compgen -W \"%s\" -- \"$current\"))", paste(FORMATS, collapse = " ")),
    "    return", "  fi", "  case ${COMP_WORDS[1]} in", cases, "  esac", "  case $current in",
    "    -*) COMPREPLY=($(compgen -W \"$words\" -- \"$current\")) ;;",
    "    *) COMPREPLY=($(compgen -f -- \"$current\")) ;;",
    "  esac", "}",
    "complete -o filenames -F _softsieve softsieve")
}

completion_zsh <- function() {
  quoted <- function(x) gsub("'", "'\\''", gsub(":", "\\:", x, fixed = TRUE), fixed = TRUE)
  verbs <- VERBS
  described <- sprintf("    '%s:%s'", names(verbs), quoted(vapply(verbs, `[[`, "", "label")))
  words <- command_words()
  c("#compdef softsieve",
    "# Completion of softsieve for zsh: put it as _softsieve into a folder of $fpath.",
    "# Made by tools/command.R.", "_softsieve() {", "  local -a verbs words", "  verbs=(",
    unname(described), "  )", "  if (( CURRENT == 2 )); then", "    _describe 'verb' verbs",
    "    return", "  fi", "  if [[ $words[CURRENT-1] == --format ]]; then",
    sprintf("    compadd %s", paste(FORMATS, collapse = " ")), "    return", "  fi",
    "  local -a options entries", sprintf("  entries=(%s)", entry_words()), "  case $words[2] in",
    sprintf("    %s) options=(%s) ;;", names(words), words), "  esac",
    "  if [[ $words[CURRENT] == -* ]]; then", "    compadd -- $options", "  else", "    _files",
    "  fi", "}", "_softsieve \"$@\"")
}

# The man page, in roff. A line that begins with a point or an apostrophe would be a command there.
man_page <- function() {
  plain <- function(x) {
    x <- gsub("\\", "\\e", x, fixed = TRUE)
    sub("^([.'])", "\\\\\\&\\1", gsub("-", "\\-", x, fixed = TRUE))
  }
  one_verb <- function(verb) {
    own <- known_options()[verb$options]
    c(
      sprintf(".SS %s %s", verb$name, plain(if (is.null(verb[["target"]])) "" else verb$target)),
      plain(paste0(capitalise(verb$label), ".")),
      if (length(verb[["about"]])) c(".PP", plain(verb$about)),
      unlist(lapply(own, function(one) {
        c(".TP", sprintf("\\fB\\-\\-%s\\fR \\fI%s\\fR", one$name, one$value), plain(one$help))
      })),
      ".PP", "Example:", ".PP", ".nf", plain(verb$example), ".fi")
  }
  unname(c(
    sprintf(".TH SOFTSIEVE 1 \"\" \"softsieve %s\"", utils::packageVersion("softsieve")),
    ".SH NAME", "softsieve \\- from questionnaire answers to trustworthy scales", ".SH SYNOPSIS",
    "\\fBsoftsieve\\fR \\fIVERB\\fR [\\fITARGET\\fR] [\\fIOPTIONS\\fR]", ".SH VERBS",
    unlist(lapply(VERBS, one_verb)), ".SH ENTRIES OF THE STUDY FILE",
    plain(paste(trimws(entries_help()[1:5]), collapse = " ")),
    unlist(lapply(study_entries(), function(entry) {
      if (!entry$name %in% entry_options()) return(NULL)
      label <- entry$label
      c(".TP", sprintf("\\fB\\-\\-%s\\fR", plain(entry$name)), plain(label))
    })),
    ".SH EXIT STATUS", plain(paste(exit_lines(), collapse = " "))))
}
