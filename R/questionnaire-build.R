#' Put answers and codebook together
#'
#' Checks that the answers are what the codebook says, turns the codes for "no answer" into missing
#' values and counts them, and turns reversed items round, once: `lowest + highest - answer`. What
#' comes out is ready for every later stage, and none of them touches the keys again.
#'
#' @param data A data frame with one row for each person, as [read_responses()] returns it.
#' @param items Which columns are items, in tidyselect's language, for example `c(m1:m6, t1)` or
#'   `starts_with("m")`. Left out: the codebook's items, or without a codebook all columns that are
#'   not `id` or `group`.
#' @param codebook A data frame as [read_codebook()] returns it, or `NULL`. Then the wording comes
#'   from the columns' `label` attributes, if there are any, and the range from the answers.
#' @param id,group Column (one) that names a person, and columns that group people: kept beside the
#'   answers, out of the analysis.
#' @param out_of_range What to do with answers outside the codebook's range: `"stop"`, or
#'   `"missing"` to treat them as missing and say so.
#' @param x Any object.
#' @return An object of class `questionnaire` ([softsieve-result]); `values` holds `answers` (numeric
#'   matrix, people x items, keyed, `NA` where missing), `people` (tibble with `id` and `group`
#'   columns as they were named), `items` (tibble: `item`, `wording`, `lowest`, `highest`, `reversed`,
#'   `scale`) and `missing_codes` (tibble: `item`, `code`, `people`).
#' @section Errors: `softsieve_error_text_in_item`, `softsieve_error_items` (codebook and data name
#'   different items), `softsieve_error_out_of_range`, `softsieve_error_no_answers`,
#'   `softsieve_error_duplicate_names`, `softsieve_error_infinite`, `softsieve_error_codebook`.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' motives
#' @export
questionnaire <- function(data, items = NULL, codebook = NULL, id = NULL, group = NULL,
                          out_of_range = c("stop", "missing")) {
  call <- environment()
  if (!is.data.frame(data)) check_class(data, "data", "data.frame", "read_responses()")
  out_of_range <- check_choice(out_of_range, "out_of_range", c("stop", "missing"))
  check_column_names(names(data), "data", call)
  if (!is.null(codebook)) {
    check_class(codebook, "codebook", "data.frame", "read_codebook()")
    codebook <- tidy_codebook(codebook, call)
  }
  columns <- list(id = select_columns(rlang::enquo(id), data, "id", call),
                  group = select_columns(rlang::enquo(group), data, "group", call),
                  items = select_columns(rlang::enquo(items), data, "items", call))
  item_names <- settle_items(columns, names(data), codebook, call)
  described <- describe_items(data[item_names], codebook)

  answers <- read_answers(data[item_names], call)
  coded <- drop_missing_codes(answers, codebook)
  ranged <- apply_range(coded$answers, described, out_of_range, call)
  check_answered(ranged$answers, call)
  keyed <- key_items(ranged$answers, described)
  people <- tibble::as_tibble(data[c(columns$id, columns$group)])

  findings <- bind_findings(
    find_left_out(names(data), c(item_names, columns$id, columns$group)), find_without_codebook(codebook),
    ranged$findings, find_repeated_ids(people, columns$id)
  )
  settings <- list(id = columns$id, group = columns$group, out_of_range = out_of_range, reversed = described$item[described$reversed])
  validate_questionnaire(new_questionnaire(keyed, people, described, coded$codes, settings, findings, match.call()))
}

select_columns <- function(selection, data, name, call) {
  if (rlang::quo_is_null(selection)) return(character())
  # names in a study file come as text; in R code as columns
  chosen <- tryCatch(names(data)[tidyselect::eval_select(selection, data)], error = function(e) {
    stop_input("items", sprintf("`%s` must choose columns that the data have.", name), got = conditionMessage(e),
               todo = sprintf("The data's columns: %s.", name_culprits(names(data), 30L)), call = call)
  })
  if (name == "items" && !length(chosen)) {
    stop_input("items", "`items` must choose at least two columns.", got = "It chooses none.",
               todo = sprintf("The data's columns: %s.", name_culprits(names(data), 30L)), call = call)
  }
  if (name == "id" && length(chosen) > 1L) {
    stop_input("items", "`id` must be one column.", got = sprintf("%s came.", name_culprits(chosen)), call = call)
  }
  chosen
}

# Which columns are items; what the codebook and the data do not share is an error.
settle_items <- function(columns, available, codebook, call) {
  apart <- c(columns$id, columns$group)
  chosen <- columns$items
  if (!length(chosen)) chosen <- if (is.null(codebook)) setdiff(available, apart) else codebook$item
  absent <- setdiff(chosen, available)
  if (length(absent)) {
    stop_input("items", "Every item of the codebook must be a column of the data.",
               got = sprintf("The data have no column %s.", name_culprits(absent)),
               todo = c(hint_nearest(absent[1L], setdiff(available, chosen)),
                        "Correct the name, or choose the items there are with `items`."), call = call)
  }
  unknown <- if (is.null(codebook)) character() else setdiff(chosen, codebook$item)
  if (length(unknown)) {
    stop_input("items", "Every item must stand in the codebook.",
               got = sprintf("The codebook has no item %s.", name_culprits(unknown)),
               todo = c(hint_nearest(unknown[1L], setdiff(codebook$item, chosen)), "Add a row to the codebook, or leave the item out of `items`."),
               call = call)
  }
  both <- intersect(chosen, apart)
  if (length(both)) {
    stop_input("items", "A column must be an item or kept apart (id, group), not both.", got = sprintf("Both: %s.", name_culprits(both)), call = call)
  }
  if (length(chosen) < 2L) {
    stop_input("items", "A questionnaire must have at least two items.", got = sprintf("%s came.", count_of(length(chosen), "item")), call = call)
  }
  chosen
}

# One row for each item, from the codebook or from what the data tell.
describe_items <- function(data, codebook) {
  if (!is.null(codebook)) {
    return(codebook[match(names(data), codebook$item), c("item", "wording", "lowest", "highest", "reversed", "scale")])
  }
  label <- vapply(data, function(x) as.character(c(attr(x, "label", exact = TRUE), NA))[1L], "")
  tibble::tibble(item = names(data), wording = unname(label), lowest = NA_real_, highest = NA_real_, reversed = FALSE, scale = NA_character_)
}

# The item columns as a numeric matrix. Text where a number belongs is an error that shows it.
read_answers <- function(data, call) {
  numbers <- lapply(data, function(x) suppressWarnings(as.numeric(if (is.numeric(x) || is.logical(x)) x else as.character(x))))
  blank <- function(x) is.na(x) | !nzchar(trimws(as.character(x)))
  bad <- Map(function(x, number) is.na(number) & !blank(x), data, numbers)
  culprits <- names(data)[vapply(bad, any, NA)]
  if (length(culprits)) stop_text_in_item(lapply(culprits, function(i) unique(as.character(data[[i]][bad[[i]]]))), culprits, call)
  answers <- matrix(unlist(numbers, use.names = FALSE), ncol = length(numbers), dimnames = list(NULL, names(data)))
  endless <- colSums(is.infinite(answers)) > 0
  if (any(endless)) {
    stop_input("infinite", "Answers must be finite numbers.", got = sprintf("Infinite values in %s.", name_culprits(names(data)[endless])), call = call)
  }
  answers
}

stop_text_in_item <- function(texts, items, call) {
  shown <- vapply(texts, function(text) paste0('"', utils::head(text, 3L), '"', collapse = ", "), "")
  comma <- vapply(texts, function(text) all(grepl("^[-+]?[0-9]+,[0-9]+$", text)), NA)
  todo <- c(
    if (any(comma)) sprintf("A decimal comma is the likely cause in %s: read the file with the decimal mark \",\" (decimal).", name_culprits(items[comma])),
    if (!all(comma)) "Correct the cells, or leave the column out of `items` if it is not an item."
  )
  stop_input("text_in_item", "Every item's answers must be numbers.",
             got = sprintf("%s text: %s.", if (length(items) == 1L) "1 item holds" else paste(length(items), "items hold"),
                           name_culprits(sprintf("%s (%s)", items, shown))), todo = todo, call = call, items = items)
}

# Codes for "no answer" become NA and are counted, item by item and code by code.
drop_missing_codes <- function(answers, codebook) {
  codes <- if (is.null(codebook)) list() else codebook$missing_codes[match(colnames(answers), codebook$item)]
  counted <- list()
  for (i in seq_along(codes)) for (code in unique(codes[[i]])) {
    hit <- which(answers[, i] == code)
    answers[hit, i] <- NA
    if (length(hit)) counted[[length(counted) + 1L]] <- tibble::tibble(item = colnames(answers)[i], code = code, people = length(hit))
  }
  empty <- tibble::tibble(item = character(), code = numeric(), people = integer())
  list(answers = answers, codes = do.call(rbind, c(list(empty), counted)))
}

apply_range <- function(answers, items, out_of_range, call) {
  low <- matrix(items$lowest, nrow(answers), ncol(answers), byrow = TRUE)
  high <- matrix(items$highest, nrow(answers), ncol(answers), byrow = TRUE)
  outside <- which(!is.na(answers) & ((!is.na(low) & answers < low) | (!is.na(high) & answers > high)), arr.ind = TRUE)
  if (!nrow(outside)) return(list(answers = answers, findings = NULL))
  named <- sprintf("%s = %s (row %d)", colnames(answers)[outside[, 2L]], format(answers[outside], trim = TRUE), outside[, 1L])
  if (out_of_range == "stop") {
    stop_input("out_of_range", "Answers must lie within the codebook's `lowest` and `highest`.",
               got = sprintf("Outside: %s.", name_culprits(named)),
               todo = c("A code for \"no answer\" belongs into the codebook's `missing_codes`.",
                        "Correct the answers, or give out_of_range = \"missing\" to treat them as missing."), call = call)
  }
  counts <- table(colnames(answers)[outside[, 2L]])
  answers[outside] <- NA
  list(answers = answers, findings = new_finding(
    "questionnaire", "out_of_range", "caution", item = names(counts), value = as.numeric(counts),
    text = sprintf("%s: %s outside the codebook's range, treated as missing.", names(counts), vapply(counts, count_of, "", one = "answer"))
  ))
}

check_answered <- function(answers, call) {
  silent <- colnames(answers)[colSums(!is.na(answers)) == 0]
  if (!length(silent)) return(invisible())
  stop_input("no_answers", "Every item must have been answered by somebody.",
             got = sprintf("No answers at all: %s.", name_culprits(silent)),
             todo = "Leave these items out with `items`, or look whether their missing codes are right.", call = call)
}

key_items <- function(answers, items) {
  for (i in which(items$reversed)) answers[, i] <- items$lowest[i] + items$highest[i] - answers[, i]
  answers
}

find_left_out <- function(available, used) {
  left <- setdiff(available, used)
  if (!length(left)) return(NULL)
  new_finding("questionnaire", "columns_left_out", "note", value = length(left),
              text = sprintf("Not used, as neither item nor id nor group: %s.", name_culprits(left)))
}

find_without_codebook <- function(codebook) {
  if (!is.null(codebook)) return(NULL)
  new_finding("questionnaire", "no_codebook", "caution",
              text = "No codebook: wording comes from the columns' labels, no item is turned round, and the range is not checked.")
}

find_repeated_ids <- function(people, id) {
  if (!length(id)) return(NULL)
  twice <- unique(people[[id]][duplicated(people[[id]])])
  if (!length(twice)) return(NULL)
  new_finding("questionnaire", "repeated_id", "caution", value = length(twice),
              text = sprintf("%s in `%s` more than once: %s. Was a person entered twice?", count_of(length(twice), "name"), id, name_culprits(twice)))
}
