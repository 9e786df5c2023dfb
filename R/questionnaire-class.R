# The class `questionnaire`: keyed answers, who gave them, what was asked.

# `apart`: the columns of the data that are neither items nor say who somebody is; people may be
# chosen by them.
new_questionnaire <- function(answers, people, weights, items, codes, apart, settings, findings,
    call) {
  new_result("questionnaire",
    values = list(answers = answers, people = people, weights = weights, items = items,
      missing_codes = codes, apart = apart),
    settings = settings, findings = findings,
    source = c(fingerprint_of(answers, weights),
      if (!is.null(settings$called)) settings[c("called", "measured")],
      if (length(settings$made)) settings["made"]),
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

# Items that people name.

# Items by bare names or words.
settle_named_items <- function(asked, name, items, known = c("that are there", "Not there")) {
  named <- tryCatch(rlang::eval_tidy(asked, as.list(rlang::set_names(items))),
    error = function(e) rlang::as_label(asked))
  check_sift_items(named, name, items, known)
}

check_sift_items <- function(wanted, name, items, known = c("that are there", "Not there")) {
  if (length(wanted) || !is.character(wanted) && !is.null(wanted)) {
    wanted <- check_words(wanted, name)
  }
  strange <- setdiff(wanted, items)
  if (!length(strange)) return(as.character(wanted))
  stop_input("items", sprintf("`%s` must name items %s.", name, known[1L]),
    got = sprintf("%s: %s.", known[2L], name_culprits(strange)),
    todo = hint_nearest(as.character(strange[1L]), items))
}

# What stands for a codebook: the key of an earlier result.

codebook_of_key <- function(key, there) {
  codebook <- key[key$item %in% there, ]
  # an item that has to be reverse-scored keeps the ends it was turned between
  if (codebook$ends_by[1L] == "answers") {
    codebook[!codebook$reversed, c("lowest", "highest")] <- NA_real_
  }
  codebook[names(codebook) != "ends_by"]
}

# What a solution or scales say of their items, for new answers that have some of these.
codebook_of_result <- function(result, data) {
  key <- result$values$key
  there <- intersect(key$item, names(data))
  if (length(there) > 1L) return(codebook_of_key(key, there))
  stop_input("codebook",
    "A result that stands for a codebook must know its items, and the data must have some.",
    got = if (is.null(key)) "It came from a matrix alone." else "The data have at most one.",
    todo = "Give the codebook itself.")
}

# What a codebook would say, given by hand: reversed items, codes for no answer, ends.

# What was said beside (or without) a codebook: reversed items, codes and words for no answer, ends
# of the scale.
add_to_key <- function(described, key, made) {
  strange <- setdiff(key$reversed, described$item)
  if (length(strange)) {
    stop_input("items", "`reversed` must name items.",
      got = sprintf("No items: %s.", name_culprits(strange)))
  }
  described$reversed <- described$reversed | described$item %in% key$reversed
  described$missing_codes <- lapply(described$missing_codes, function(codes) {
    unique(c(codes, key$codes$numbers))
  })
  if (!is.null(key$ends)) {
    described$lowest[is.na(described$lowest)] <- key$ends[1L]
    described$highest[is.na(described$highest)] <- key$ends[2L]
  }
  described[described$item %in% made, c("lowest", "highest")] <- list(0, 1)
  described
}

# Codes and words for no answer apart.
check_missing_codes <- function(x) {
  if (!is.null(x) && !is.numeric(x) && !is.character(x)) {
    stop_input("argument", "`missing_codes` must be numbers or words.", got = describe_value(x),
      todo = "For example c(9, 99).")
  }
  number <- suppressWarnings(as.numeric(x))
  list(numbers = number[!is.na(number)], words = as.character(x)[is.na(number)])
}

check_ends <- function(x) {
  if (is.null(x) || (is.numeric(x) && length(x) == 2L && all(is.finite(x)) && x[1L] < x[2L])) {
    return(x)
  }
  stop_input("argument", "`ends` must be the lowest and the highest answer.",
    got = describe_value(x), todo = "For example ends = c(1, 5).")
}
