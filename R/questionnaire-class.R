# The class `questionnaire`: keyed answers, who gave them, what was asked.

# `apart`: the columns of the data that are neither items nor say who somebody is; people may be
# chosen by them.
new_questionnaire <- function(answers, people, weights, items, codes, apart, settings, findings,
    call) {
  new_result("questionnaire",
    values = list(answers = answers, people = people, weights = weights, items = items,
      missing_codes = codes, apart = apart),
    settings = settings, findings = findings, source = fingerprint_of(answers, weights),
    call = call)
}

# Every invariant that later stages rely on.
validate_questionnaire <- function(x) {
  answers <- x$values$answers
  stopifnot(is.matrix(answers), is.numeric(answers), nrow(answers) == nrow(x$values$people),
    identical(colnames(answers), x$values$items$item), !anyDuplicated(colnames(answers)),
    is.null(x$values$weights) || length(x$values$weights) == nrow(answers))
  x
}

# Everything that is known of each person.
all_columns <- function(x) {
  known <- as_tibble(x)
  apart <- x$values$apart
  tibble::as_tibble(c(as.list(known), as.list(apart[setdiff(names(apart), names(known))])))
}

#' @rdname questionnaire
#' @export
is_questionnaire <- function(x) is_result(x, "questionnaire")

#' @exportS3Method tibble::as_tibble
as_tibble.questionnaire <- function(x, ...) {
  tibble::as_tibble(cbind(x$values$people, as.data.frame(x$values$answers)))
}

#' @export
glance.questionnaire <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble::tibble(people = nrow(v$answers), items = ncol(v$answers),
    missing_share = mean(is.na(v$answers)), reversed = sum(v$items$reversed),
    weighted = !is.null(v$weights), ends_by = x$settings$ends_by)
}
