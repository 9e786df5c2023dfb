# The one shape of every stage's result, and the fingerprint that ties results to their data.

#' What every result of softsieve holds
#'
#' Each stage returns a list of the same five parts, with a class of its own:
#'
#' * `values`: the numbers, as tibbles, matrices and vectors (each stage's help page names them);
#' * `settings`: everything that was asked for, defaults included, and the seed that was used;
#' * `findings`: a tibble of what was noticed, one row each: `stage`, `code` (short and stable),
#'   `severity` (`"note"`, `"caution"` or `"serious"`), `item` (or `NA`), `value` and `limit` (the
#'   number and what it was held against, or `NA`) and `text` (a sentence that says what to do);
#' * `source`: the fingerprint of the answers, and the names of the items, that it came from;
#' * `call`: the call that made it.
#'
#' `as_tibble()` and `as.data.frame()` give its main table, `print()` a verdict, the table and the
#' next step. Results may be read freely; to change one, run its stage again.
#' @name softsieve-result
NULL

new_result <- function(class, values, settings, findings, source, call) {
  structure(list(values = values, settings = settings, findings = findings, source = source, call = call),
            class = c(class, "softsieve_result"))
}

#' @export
as.data.frame.softsieve_result <- function(x, ...) as.data.frame(as_tibble(x), ...)

# A fingerprint of answers: the same for the same items and answers, whatever their storage.
fingerprint_of <- function(answers) {
  matrix <- as.matrix(answers)
  list(fingerprint = rlang::hash(list(colnames(matrix), as.numeric(matrix), dim(matrix))),
       items = colnames(matrix), people = nrow(matrix))
}
