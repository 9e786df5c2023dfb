# What a questionnaire notices of its data.

find_left_out <- function(available, used) {
  left <- setdiff(available, used)
  if (!length(left)) return(NULL)
  new_finding("columns_left_out", name_culprits(left), value = length(left))
}

find_without_codebook <- function(codebook, described) {
  turned <- described$item[described$reversed]
  by_answers <- if (length(turned) && is.null(codebook)) {
    new_finding("turned_by_answers", turned,
      format(described$lowest[described$reversed], trim = TRUE),
      format(described$highest[described$reversed], trim = TRUE), item = turned)
  }
  if (!is.null(codebook)) return(by_answers)
  bind_findings(
    new_finding("no_codebook", if (length(turned)) "" else ", and no item is reverse-scored"),
    by_answers)
}

find_repeated_ids <- function(people, id) {
  if (!length(id)) return(NULL)
  twice <- unique(people[[id]][duplicated(people[[id]])])
  if (!length(twice)) return(NULL)
  new_finding("repeated_id", count_of(length(twice), "name"), id, name_culprits(twice),
    value = length(twice))
}

# More different answers than an answer scale has: a slider perhaps, or a column that is no item.
find_many_answers <- function(answers, limit = 101L) {
  many <- vapply(seq_len(ncol(answers)), function(i) length(unique(answers[, i])), 1L)
  hit <- which(many > limit)
  if (!length(hit)) return(NULL)
  new_finding("many_answers", colnames(answers)[hit], format_count(many[hit]),
    severity = ifelse(many[hit] > 1000, "serious", "caution"), item = colnames(answers)[hit],
    value = many[hit], limit = limit)
}

# Fractions among answers whose scale has whole ends: averages, or a decimal comma misread.
find_fractions <- function(answers, items) {
  if (is.integer(answers)) return(NULL)
  whole_scale <- !is.na(items$lowest) & items$lowest == round(items$lowest)
  parts <- colSums(answers != round(answers), na.rm = TRUE)
  hit <- which(whole_scale & parts > 0)
  if (!length(hit)) return(NULL)
  new_finding("fractions", items$item[hit], vapply(parts[hit], count_of, "", one = "answer"),
    ifelse(parts[hit] == 1, "is not a whole number", "are not whole numbers"),
    item = items$item[hit], value = parts[hit])
}

# What answers show: codes for no answer, columns that are no items. Not asked of measurements.
find_in_answers <- function(keyed, answers, described, items, unknown) {
  if (!length(items)) return(NULL)
  answers <- answers[, items, drop = FALSE]
  bind_findings(find_likely_codes(answers, if (unknown) "answers" else "codebook"),
    if (unknown) find_unlike_others(answers), find_many_answers(keyed[, items, drop = FALSE]),
    find_fractions(keyed[, items, drop = FALSE], described[described$item %in% items, ]))
}
