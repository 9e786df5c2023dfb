# YAML as data: nothing in it is executed, and yes, no, y, n stay the words they are (an answer may
# be called "no", an item "n").

# `what` is the class of the error and what the file is.
read_yaml_data <- function(file, what) {
  parts <- read_yaml_parts(file, what)
  if (length(parts) == 1L) return(parts[[1L]])
  stop_input(what, sprintf("A %s file must hold one document.", what),
    got = sprintf("\"%s\" holds %d, with --- between them.", basename(file), length(parts)),
    todo = "Write them into one, or into files of their own.")
}

# The documents of a file: what stands between lines of three dashes.
read_yaml_parts <- function(file, what) {
  check_file(file)
  lines <- decode_file(file, "UTF-8")$lines
  begins <- grepl("^---(\\s|$)", lines)
  parts <- unname(split(lines, cumsum(begins)))
  unsaid <- "^(---|[.]{3}|%.*)|#.*" # marks, directives and comments
  said <- vapply(parts, function(one) any(nzchar(trimws(sub(unsaid, "", one)))), NA)
  if (!any(said)) return(list(yaml_data(lines, what)))
  lapply(parts[said], yaml_data, what)
}

yaml_data <- function(lines, what) {
  refuse <- function(got, todo) {
    stop_input(what, sprintf("A %s file must be valid YAML.", what), got, todo)
  }
  big <- too_big_yaml(lines)
  if (length(big)) refuse(big, "Write it out, without * and deep brackets.")
  # (its parser ends a text there)
  nul <- grep("^[^#]*\".*(^|[^\\\\])(\\\\\\\\)*\\\\(0|x00|u0000|U00000000)", lines)
  if (length(nul)) {
    refuse(sprintf("Line %d holds a character of no text (NUL, \\0).", nul[1L]), "Take it away.")
  }
  # what its parser warns of is wrong, too
  wrong <- function(e) {
    said <- conditionMessage(e)
    twice <- grepl("Duplicate", said, fixed = TRUE)
    refuse(said,
      if (twice) "Each entry stands once." else "Look there: even indentation, spaces, no tabs?")
  }
  tryCatch(load_yaml(lines), error = wrong, warning = wrong)
}

load_yaml <- function(lines) {
  as_said <- function(x) x
  # what YAML takes for a number and R does not, or what has more digits than a number holds, is
  # text
  number <- function(x) {
    plain <- gsub("[_,]", "", x)
    if (!grepl("^[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?$", plain)) return(x)
    number <- as.numeric(plain)
    if (grepl("[.eE]", plain)) return(number)
    if (abs(number) < .Machine$integer.max) return(as.integer(number))
    if (abs(number) < 2^53) number else x
  }
  yaml::yaml.load(
    paste(lines, collapse = "\n"),
    eval.expr = FALSE,
    handlers = list(
      "bool#yes" = as_said,
      "bool#no" = as_said,
      "int" = number,
      "float#fix" = number,
      "float#exp" = number,
      # 007 is a code, 12:30 a time
      "int#oct" = as_said,
      "int#hex" = as_said,
      "int#base60" = as_said,
      "float#base60" = as_said))
}

MOST_ALIASES <- 20L
MOST_YAML <- 2^24

# What would take a parser long, in words: parts that repeat parts that repeat parts, brackets in
# brackets, a file of many megabytes.
too_big_yaml <- function(lines) {
  text <- paste(lines, collapse = "\n")
  if (nchar(text, "bytes") > MOST_YAML) {
    return(sprintf("It is larger than %s bytes.", format_count(MOST_YAML)))
  }
  if (sum(marked_words(lines, "[*]") %in% marked_words(lines, "&")) > MOST_ALIASES) {
    return(sprintf("It repeats parts (*) more than %d times.", MOST_ALIASES))
  }
  deep <- bracket_depth(text) > MOST_DEPTH
  dashes <- any(grepl(sprintf("^\\s*([-?:] +){%d}", 20L), lines))
  indented <- any(grepl("^ {400}", lines, perl = TRUE))
  if (deep || dashes || indented) "Its values stand in each other too deeply."
}

# What YAML may take for names of parts: the words behind a mark that begins a value.
marked_words <- function(lines, mark) {
  pattern <- sprintf("(?<![^\\s\\[{,:-])%s[^\\s\\]},:]+", mark)
  substring(unlist(regmatches(lines, gregexpr(pattern, lines, perl = TRUE))), 2L)
}

# Answers as JSON lines.

# One object a line; an answer that a line leaves out is missing.
read_json_lines <- function(file, encoding) {
  lines <- decode_file(file, encoding)$lines
  at <- which(nzchar(trimws(lines)))
  rows <- lapply(at, function(i) parse_json_line(lines[i], i, basename(file)))
  names <- unique(unlist(lapply(rows, names)))
  lapply(stats::setNames(names, names), function(name) {
    unlist(lapply(rows, function(row) if (is.null(row[[name]])) NA else row[[name]]))
  })
}

parse_json_line <- function(line, number, name) {
  refuse <- function(got) {
    stop_input("reader",
      "Every line of a JSON lines file must be an object of numbers, texts, true, false or null.",
      got = sprintf("\"%s\", line %d: %s.", name, number, got),
      todo = "For example {\"m1\": 4, \"cafe\": \"Harbour\"}.")
  }
  # whole numbers of more digits than a number holds are text; what stands in quotes is passed over
  long <- "\"(?:[^\"\\\\]|\\\\.)*+\"(*SKIP)(*FAIL)|(?<![0-9.eE+-])(-?[0-9]{16,})(?![0-9.eE])"
  line <- gsub(long, "\"\\1\"", line, perl = TRUE)
  row <- tryCatch(parse_json_text(line), error = function(e) {
    refuse(sub("[.]?\\s*$", "", first_line(conditionMessage(e))))
  })
  if (!is.list(row) || (length(row) && is.null(names(row)))) refuse("it is not an object")
  nested <- names(row)[vapply(row, function(part) is.list(part) || length(part) > 1L, NA)]
  if (length(nested)) refuse(sprintf("%s holds more than one value", name_culprits(nested)))
  twice <- unique(names(row)[duplicated(names(row))])
  if (length(twice)) refuse(sprintf("%s stands there twice", name_culprits(twice)))
  row
}

# YAML's yes, no and false are words here, so that an answer may be called "no": an entry that is
# one or the other takes them for what they are.
flag_of_word <- function(x) {
  if (!is.character(x) || length(x) != 1L) return(x)
  word <- match(lower(x), c("no", "false", "yes", "true"))
  if (is.na(word)) x else word > 2L
}
