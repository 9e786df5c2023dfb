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
    refuse(sub("[.]?\\s*$", "", strsplit(conditionMessage(e), "\n")[[1L]][1L]))
  })
  if (!is.list(row) || (length(row) && is.null(names(row)))) refuse("it is not an object")
  nested <- names(row)[vapply(row, function(part) is.list(part) || length(part) > 1L, NA)]
  if (length(nested)) refuse(sprintf("%s holds more than one value", name_culprits(nested)))
  twice <- unique(names(row)[duplicated(names(row))])
  if (length(twice)) refuse(sprintf("%s stands there twice", name_culprits(twice)))
  row
}
