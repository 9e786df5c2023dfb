# Results as JSON that is read back to the last bit: solution files (score-file.R) and the stages
# that a study takes up again (study-resume.R). Only data are written and made: numbers, words,
# flags and lists of them with their attributes; never code. Every value is an object with one of
#
#   numbers, whole, words, flags   an array; null is a missing value. Numbers have as many digits as
#                                  they need; where some are infinite all are hexadecimal text
#   list                           an object (of named values) or an array
#   nothing                        true
#   taken                          the name of another value that stands here
#
# and `with`: its attributes (names, dim, dimnames, class, ...), each a value again.

exact_json <- function(x, known = list()) {
  if (!is_data(x)) return("{\"nothing\":true}")
  if (is_result(x, "softsieve_result") && length(known)) {
    at <- match(rlang::hash(x), known)
    if (!is.na(at)) return(sprintf("{\"taken\":%s}", json_words(names(known)[at])))
  }
  with <- attributes(x)
  # (worked out anew when it is read)
  with$holds <- NULL
  plain <- is_plain_list(x)
  if (plain) with$names <- NULL
  body <- exact_body(unclass(x), plain, known)
  if (!length(with)) return(sprintf("{%s}", body))
  attached <- vapply(with, exact_json, "", known = known)
  sprintf("{%s,\"with\":%s}", body, json_object(attached))
}

is_data <- function(x) !(is.null(x) || is.function(x) || is.language(x) || is.environment(x))

# A list that is an object in JSON: every value has a name of its own.
is_plain_list <- function(x) {
  is.list(x) && !is.null(names(x)) && all(nzchar(names(x))) && !anyDuplicated(names(x))
}

exact_body <- function(x, plain, known) {
  if (is.list(x)) {
    parts <- vapply(x, exact_json, "", known = known)
    return(paste0("\"list\":", if (plain) json_object(parts) else json_array(parts)))
  }
  kind <- c(double = "numbers", integer = "whole", character = "words", logical = "flags")
  text <- switch(
    typeof(x),
    double = json_numbers(x),
    integer = json_array(ifelse(is.na(x), "null", format(x, trim = TRUE, scientific = FALSE))),
    # in one go: there may be a word for each of many people
    character = as.character(jsonlite::toJSON(enc2utf8(as.vector(x)), na = "null")),
    logical = json_array(ifelse(is.na(x), "null", ifelse(x, "true", "false"))),
    stop("a result holds a value of type ", typeof(x), call. = FALSE))
  sprintf("\"%s\":%s", kind[[typeof(x)]], text)
}

json_array <- function(parts) paste0("[", paste(parts, collapse = ","), "]")

json_object <- function(parts) {
  paste0("{", paste0(json_words(names(parts)), ":", parts, collapse = ",\n"), "}")
}

json_words <- function(x) {
  x <- enc2utf8(as.character(x))
  vapply(x, function(one) as.character(jsonlite::toJSON(one, na = "null", auto_unbox = TRUE)), "")
}

json_numbers <- function(x) {
  x <- as.vector(x)
  if (any(is.nan(x) | is.infinite(x))) {
    return(json_array(sprintf("\"%s\"", ifelse(is.finite(x), sprintf("%a", x), as.character(x)))))
  }
  short <- sprintf("%.15g", x)
  exact <- is.na(x) | suppressWarnings(as.numeric(short)) == x
  text <- ifelse(exact, short, sprintf("%.17g", x))
  text[!is.na(x) & x == 0 & 1 / x < 0] <- "-0.0"
  json_array(ifelse(is.na(x), "null", text))
}

# What exact_json() wrote, from parsed JSON. `known`: values that others stand for, by name.
# Whatever does not fit is an R error: who calls turns it into one of ours.
from_exact <- function(x, known = list()) {
  if (!is.list(x)) stop("a value must be an object with a kind", call. = FALSE)
  kind <- intersect(names(x), c("nothing", "taken", "list", names(EXACT_KINDS)))
  if (length(kind) != 1L) stop("a value must have one kind", call. = FALSE)
  if (kind == "nothing") return(NULL)
  if (kind == "taken") {
    if (is.null(known[[x$taken]])) stop("a value that others need is missing", call. = FALSE)
    return(known[[x$taken]])
  }
  value <- if (kind == "list") {
    lapply(as.list(x$list), from_exact, known = known)
  } else {
    exact_vector(x[[kind]], kind)
  }
  if (is.null(x$with)) return(value)
  with <- lapply(as.list(x$with), from_exact, known = known)
  strange <- setdiff(unlist(with$class), EXACT_CLASSES)
  strange <- strange[!strange %in% own_classes()]
  if (length(strange)) stop("no value may be of the class ", strange[1L], call. = FALSE)
  if (is.list(value) && !is.null(names(value))) with$names <- names(value)
  check_rows(value, with)
  attributes(value) <- with
  if ("softsieve_result" %in% with$class) attr(value, "holds") <- kinds_in(unclass(value))
  value
}

# A table's columns are as long as it says that it is; R would believe any number.
check_rows <- function(value, with) {
  if (!"data.frame" %in% with$class) return(invisible())
  rows <- with$row.names
  short <- is.numeric(rows) && length(rows) == 2L && is.na(rows[1L])
  said <- if (short) abs(rows[2L]) else length(rows)
  if (!is.list(value) || any(lengths(value) != said)) {
    stop("a table has columns of other lengths than rows", call. = FALSE)
  }
}

no_number <- function(w = NULL) stop("a number is none", call. = FALSE)
numbers_from_exact <- function(x) {
  # (the smallest ones in hexadecimal are read with a warning)
  text <- is.character(x) & !is.na(x) & !grepl("^-?(0x[0-9a-f.p+-]+|Inf|NaN|NA)$", x)
  numbers <- suppressWarnings(as.double(x))
  if (any(is.na(numbers[text]))) no_number()
  numbers
}

EXACT_KINDS <- list(numbers = numbers_from_exact,
  whole = function(x) tryCatch(as.integer(x), warning = no_number), words = as.character,
  flags = as.logical)

EXACT_CLASSES <- c("factor", "ordered", "tbl_df", "tbl", "data.frame", "Date", "softsieve_result")

exact_vector <- function(x, kind) {
  if (is.list(x) && length(x)) stop("an array must hold values of one kind", call. = FALSE)
  EXACT_KINDS[[kind]](unlist(x))
}

parse_exact <- function(text) {
  parse_json_text(text, simplifyVector = TRUE, simplifyDataFrame = FALSE, simplifyMatrix = FALSE)
}

# JSON from outside: parsed as text, so that nothing in it is opened, and no deeper than can be
# meant.

# Values within values, at most: solution files need a dozen.
MOST_DEPTH <- 100L

# How deep brackets go, whatever stands in texts.
json_depth <- function(text) {
  bracket_depth(gsub("\"[^\"\\\\]*+(?:\\\\.[^\"\\\\]*+)*+\"", "", text, perl = TRUE))
}

bracket_depth <- function(text) {
  marks <- utf8ToInt(gsub("[^][{}]", "", text, perl = TRUE))
  if (length(marks)) max(0, cumsum(ifelse(marks %in% utf8ToInt("[{"), 1, -1))) else 0
}

parse_json_text <- function(text, ...) {
  if (json_depth(text) > MOST_DEPTH) stop("values stand in each other too deeply", call. = FALSE)
  # (looked at first: the reader's own errors take what stands there as a pattern of text, in which
  # a percent sign can break the process)
  fine <- jsonlite::validate(text)
  if (!fine) stop(first_line(attr(fine, "err")), call. = FALSE)
  # (what the reader only warns of is no JSON either: a mark of byte order within)
  tryCatch(jsonlite::parse_json(text, ...),
    warning = function(w) stop(first_line(conditionMessage(w)), call. = FALSE))
}

# The kind of each part of a result, and of what these hold, by its place: what wrong_in_parts()
# holds an edited one against.
kinds_in <- function(parts, deep = 3L) {
  if (is.null(names(parts))) return()
  kinds <- vapply(parts, function(part) class(part)[1L], "")
  # (calls do not travel into files)
  kinds <- kinds[kinds != "NULL" & names(kinds) != "call"]
  if (deep == 1L) return(kinds)
  held <- names(kinds)[vapply(parts[names(kinds)], is.list, NA)]
  c(kinds, unlist(lapply(held, function(name) {
    inner <- kinds_in(unclass(parts[[name]]), deep - 1L)
    if (length(inner)) stats::setNames(inner, paste0(name, "$", names(inner)))
  })))
}
