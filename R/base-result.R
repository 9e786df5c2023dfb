# The one shape of every stage's result, and the fingerprint that ties results to their data.

#' What every result of softsieve holds
#'
#' Each stage returns a list of the same five parts, with a class of its own:
#'
#' * `values`: the numbers, as tibbles, matrices and vectors (each stage's help page names them);
#' * `settings`: everything that was asked for, defaults included, and the seed that was used;
#' * `findings`: a tibble of what was noticed, one row each: `stage`, `code` (short and stable),
#'   `severity` (`"note"`, `"caution"` or `"serious"`), `item` (or `NA`), `value` and `limit` (the
#'   number and what it was compared with, or `NA`) and `text` (a sentence that says what to do);
#' * `source`: the fingerprint of the answers, and the names of the items, that it came from;
#' * `call`: the call that made it.
#'
#' `as_tibble()` and `as.data.frame()` give its main table, `print()` a verdict, the table and the
#' next step, on 50 lines at most (`print(x, lines = 999)` shows all). Of findings it reports those
#' of its own stage and what this session has not reported yet, and counts what earlier stages
#' reported. Results may be read freely; to change one, run its stage again: of one that was edited,
#' whatever shows it says what is missing (`softsieve_error_edited`).
#' @name softsieve-result
NULL

new_result <- function(class, values, settings, findings, source, call) {
  findings$text <- in_called(of_model(findings, settings), source)
  parts <- list(values = values, settings = settings, findings = findings, source = source,
    call = by_generic(call))
  structure(parts, class = c(class, "softsieve_result"), holds = kinds_in(parts))
}

# What is found of loadings and rotation, in the words of components where these are components.
of_model <- function(findings, settings) {
  text <- findings$text
  at <- identical(settings$method, "components") &
    findings$stage %in% c("extraction", "rotation", "pattern", "scales")
  text[at] <- gsub("\\bfactor(s?)\\b", "component\\1", text[at])
  text
}

# The call of a method by its generic, so that update() can make it again.
by_generic <- function(call) {
  if (is.call(call) && is.name(call[[1L]]) &&
      startsWith(as.character(call[[1L]]), "correlate_items.")) {
    call[[1L]] <- as.name("correlate_items")
  }
  call
}

# A tibble of named columns that do not speak of each other, each of as many rows or of one value
# for all. (Small tables are most of what a stage makes; tibble() works out much that is not asked
# here, and took a fifth of the time.)
tibble_of <- function(...) {
  columns <- list(...)
  columns <- columns[!vapply(columns, is.null, NA)]
  rows <- unique(lengths(columns))
  plain <- length(rows) <= 2L && !any(vapply(columns, function(x) length(dim(x)) > 0L, NA))
  if (length(rows) == 2L) {
    if (!plain || !1L %in% rows) return(tibble::tibble(...))
    rows <- setdiff(rows, 1L)
    short <- lengths(columns) != rows
    columns[short] <- lapply(columns[short], rep_len_kept, rows)
  }
  if (!plain) return(tibble::tibble(...))
  tibble::new_tibble(columns, nrow = if (length(rows)) rows else 0L)
}

# (factors and dates stay such)
rep_len_kept <- function(x, n) if (is.object(x)) rep(x, n) else rep_len(x, n)

# Tables of the same columns under each other.
stack_rows <- function(tables) do.call(rbind, unname(tables))

#' @export
as.data.frame.softsieve_result <- function(x, ...) as.data.frame(as_tibble(x), ...)

# Values that are edited by hand are no longer what the stage found: the result says so, and gets
# another fingerprint, so that no later stage takes it for what it was. An edited questionnaire has
# the fingerprint of its new answers.

#' @export
`$<-.softsieve_result` <- function(x, name, value) replace_part(x, name, value)

#' @export
`[[<-.softsieve_result` <- function(x, i, value) replace_part(x, i, value)

# What a stage itself adds to the values of a result is not an edit.
add_value <- function(x, name, value) {
  parts <- unclass(x)
  parts$values[name] <- list(value)
  structure(parts, class = oldClass(x))
}

replace_part <- function(x, name, value) {
  class <- oldClass(x)
  parts <- unclass(x)
  parts[name] <- list(value)
  whole <- is.list(parts$source) && is.data.frame(parts$findings)
  if (identical(name, "values") && whole) {
    answers <- if (is.list(value)) value$answers
    parts$source$fingerprint <- if (is.matrix(answers)) {
      fingerprint_of(answers, value$weights)$fingerprint
    } else {
      paste("edited", rlang::hash(value))
    }
    told <- new_finding("edited_by_hand", gsub("_", " ", sub("^softsieve_", "", class[1L])))
    parts$findings <- bind_findings(parts$findings, told)
  }
  structure(parts, class = class)
}

# A fingerprint of answers: the same for the same items, answers and weights, whatever their
# storage.
fingerprint_of <- function(answers, weights = NULL) {
  matrix <- as.matrix(answers)
  parts <- c(list(colnames(matrix), as.numeric(matrix), dim(matrix)),
    if (!is.null(weights)) list(as.numeric(weights)))
  list(fingerprint = rlang::hash(parts), items = colnames(matrix), people = nrow(matrix))
}

# Results whose class has no table of its own in these forms: the main table, or a word. A print is
# the summary of most.

#' @export
summary.softsieve_result <- function(object, ...) object

#' @export
tidy.softsieve_result <- function(x, ...) {
  check_dots_empty(...)
  as_tibble(x)
}

#' @export
glance.softsieve_result <- function(x, ...) {
  stop_input("class", "`x` must be a result that can be given in one row.",
    got = sprintf("A %s came.", gsub("_", " ", class(x)[1L])),
    todo = "as_tibble(x) gives its main table.")
}

#' @export
coef.softsieve_result <- function(object, ...) {
  stop_input("class", "`object` must be a result that has loadings.",
    got = sprintf("A %s came.", gsub("_", " ", class(object)[1L])),
    todo = "coef() is of factor solutions, pattern tables and hierarchical forms.")
}
