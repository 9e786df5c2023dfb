#' Put answers and codebook together
#'
#' Checks that the answers are what the codebook says, maps text answers ("agree") to numbers by the
#' codebook's labels and ordered factors by their levels, turns the codes for "no answer" into
#' missing values and counts them, and turns reversed items round, once: `lowest + highest -
#' answer`. What comes out is ready for every later stage, and none of them touches the keys again.
#'
#' @param data A data frame with one row for each person, as [read_responses()] returns it.
#' @param items Which columns are items, in tidyselect's language, for example `c(m1:m6, t1)` or
#'   `starts_with("m")`. Left out: the codebook's items, or without a codebook all columns that are
#'   not `id`, `group`, `weight` or `cluster`.
#' @param codebook A data frame as [read_codebook()] returns it; a solution or a set of scales, as
#'   whose answers new people's are then keyed (items that the data do not have are missing); or
#'   `NULL`. Then the wording comes from the columns' `label` attributes, if there are any, and the
#'   range from the answers.
#' @param id,group Column (one) that names a person, and columns that group people: kept beside the
#'   answers, out of the analysis.
#' @param weight Column (one) of sampling weights, numbers of at least 0: used by all later stages
#'   from [correlate_items()] on.
#' @param cluster Column (one) of the clusters in which people were sampled, such as schools: kept
#'   as a group column is, and used by errors, tests and chance levels from [correlate_items()] on.
#' @param out_of_range What to do with answers outside the codebook's range: `"stop"`, or
#'   `"missing"` to treat them as missing and say so.
#' @param reversed Items worded in reverse, in tidyselect's language, where no codebook says so (or
#'   beside it). They are reverse-scored between `ends`, or where these are not given between the
#'   lowest and the highest answer that was given.
#' @param missing_codes Numbers and words that mean no answer in any item, for example `c(9, 99,
#'   "don't know")`, in addition to those of the codebook.
#' @param ends The lowest and the highest answer of all items for which no codebook says it, for
#' example `c(1, 5)`.
#' @param categories Columns of categories without order: each is made into items of 0 and 1, one
#'   for each category, named `column_category`; of two categories one for the second. `"all"`: all
#'   columns of which nothing else is said.
#' @param indicators `"all"` makes an item of every category, `"less_one"` of all but the first.
#' @param measured Items that are measurements, not answers, in tidyselect's language, or `TRUE` for
#'   all: temperatures, counts, prices. No codebook is asked for, nor are their values looked at as
#'   answers are; what is odd among them is reported (a running number, a date, a sum of others).
#' @param called What a row and a column is, for example `c(row = "day", column = "gauge")`
#'   (`"ox/oxen"` where many are not called by an s more): the words of prints, figures, findings
#'   and reports. Rows and columns where items are `measured`, else people and items.
#' @param order Column of days, times or numbers in whose order rows follow each other; columns
#'   before it tell series apart that do not (`c(site, day)`). How far neighbouring rows depend on
#'   each other is tested; where they do, errors, tests and limits are of blocks of rows, tests use
#'   the number of independent rows that tell as much, and chance levels come from the columns
#'   themselves, shifted ([parallel_analysis()]).
#' @param remove `"trend"` (a straight line), `"season"` (two harmonics) or both: taken out of each
#'   measured column, within each series, before anything else. New data that are scored later are
#'   taken as they are.
#' @param period Length of the season in units of the order; a year where that is of days.
#' @param x Any object.
#' @details Most arguments name columns; what is known of items stands in the codebook.
#' @return An object of class `questionnaire` ([softsieve-result]); `values` holds `answers`
#'   (numeric matrix, people x items, keyed, `NA` where missing), `people` (tibble with `id`,
#'   `group` and `cluster` columns as they were named), `weights` (numbers, or `NULL`), `items`
#'   (tibble: `item`, `wording`, `lowest`, `highest`, `reversed`, `scale`, `facet`, `labels`,
#'   `missing_codes`) and `missing_codes` (tibble: `item`, `code`, `people`; empty after
#'   [keep_people()]).
#' @section Errors: `softsieve_error_text_in_item`, `softsieve_error_items` (codebook and data name
#'   different items), `softsieve_error_out_of_range`, `softsieve_error_no_answers`,
#'   `softsieve_error_duplicate_names`, `softsieve_error_infinite`, `softsieve_error_weights`,
#'   `softsieve_error_codebook`.
#' @section Findings: how the file was read, `columns_left_out`, `no_codebook`, `levels_numbered`,
#'   `out_of_range`, `repeated_id`, `many_answers`, `fractions`, `categories_split`,
#'   `words_as_missing`, `turned_by_answers` (reversed items whose ends are those of the answers);
#'   and where no codebook gives the ends, `likely_missing_code` (9, 99,
#'   -77 and their like, far from the other answers) and `unlike_the_others` (many different values
#'   while others have few). Of measurements: `constant_column`, `running_number`, `id_like`,
#'   `date_like`, `group_like`, `outcome_like`, `follows_from_others`.
#'   Of rows in an order: `rows_depend`, `order_ties`, `order_gaps`, `series_trend`,
#'   `series_season`; of measurements without one `rows_alike`.
#' @eval describe_papers("Ljung & Box (1978)", "Bartlett (1935)", "Cochrane & Orcutt (1949)")
#' @family questionnaires
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' motives
#' questionnaire(repair_log, order = day, remove = "season", measured = TRUE,
#'   called = c(row = "day", column = "gauge"))
#' @export
questionnaire <- function(data, items = NULL, codebook = NULL, id = NULL, group = NULL,
    weight = NULL, cluster = NULL, out_of_range = c("stop", "missing"), reversed = NULL,
    missing_codes = NULL, ends = NULL, categories = NULL, indicators = c("all", "less_one"),
    measured = NULL, called = NULL, order = NULL, remove = NULL, period = NULL) {
  selected <- list(items = rlang::enquo(items), id = rlang::enquo(id), group = rlang::enquo(group),
    weight = rlang::enquo(weight), cluster = rlang::enquo(cluster),
    reversed = rlang::enquo(reversed), categories = rlang::enquo(categories),
    measured = rlang::enquo(measured), order = rlang::enquo(order))
  asked <- settle_arguments(QUESTIONNAIRE_TAKES[c("out_of_range", "indicators")])
  build_questionnaire(data, selected, codebook, asked$out_of_range, missing_codes, ends,
    match.call(),
    rows = list(called = called, remove = remove, period = period, indicators = asked$indicators))
}

# (which columns they name is settled where these are selected)
QUESTIONNAIRE_TAKES <- list(id = a_text("Column that names a person"),
  weight = a_text("Column of sampling weights"),
  cluster = a_text("Column of the clusters in which people were sampled"),
  group = a_text("Columns that group people", several = TRUE),
  items = a_text("Items to analyse; the codebook's when left out", several = TRUE),
  reversed = a_text("Items worded in reverse, in addition to those of the codebook",
    several = TRUE),
  missing_codes = a_number(
    "Numbers and words that mean no answer, in addition to those of the codebook", words = TRUE,
    several = TRUE),
  ends = a_number("The lowest and the highest answer, where no codebook says them", several = TRUE),
  categories = a_text("Columns of categories without order, to be made into items of 0 and 1",
    several = TRUE),
  indicators = a_text("Which categories become items: all, or all but the first",
    c("all", "less_one")),
  measured = a_text("Items that are measurements, not answers; all, or their names",
    several = TRUE),
  order = a_text("Column in whose order rows follow each other; before it, what tells series apart",
    several = TRUE),
  remove = a_text("What is taken out of measured columns", function() REMOVABLE, several = TRUE),
  period = a_number("Length of the season, in units of the order; a year of days", 2),
  out_of_range = a_text("What becomes of answers outside the ends: an error, or missing",
    c("stop", "missing")))

# `selected`: which columns are what, as quosures; `silent`: may there be items that nobody
# answered? (Of new people, one of whom may be all there are.)
build_questionnaire <- function(data, selected, codebook, out_of_range, missing_codes, ends,
    made_by, silent = FALSE, rows = list()) {
  if (!is.data.frame(data)) check_class(data, "data", "data.frame", "read_responses()")
  check_column_names(names(data), "data")
  check_flat(data)
  if (is_result(codebook, c("factor_solution", "softsieve_scale_set"))) {
    codebook <- codebook_of_result(codebook, data)
    silent <- TRUE
  }
  if (!is.null(codebook)) {
    check_class(codebook, "codebook", "data.frame", "read_codebook()")
    codebook <- tidy_codebook(codebook)
  }
  chosen <- function(name) {
    if (is.null(selected[[name]])) return(character())
    select_columns(selected[[name]], data, name)
  }
  split <- split_categories(data, all_or(chosen, "categories", selected, data), rows$indicators)
  reading <- attr(data, "reading")
  data <- split$data
  data <- set_days_apart(data, selected)
  key <- list(reversed = chosen("reversed"), codes = check_missing_codes(missing_codes),
    ends = check_ends(ends))
  kinds <- c("id", "group", "weight", "cluster", "order", "items")
  columns <- lapply(stats::setNames(nm = kinds), chosen)
  item_names <- settle_items(columns, setdiff(names(data), split$items), codebook, split$items)
  unknown <- is.null(codebook) && is.null(ends)
  described <- rbind(describe_items(data[item_names], codebook),
    describe_items(data[split$items], NULL))
  described <- add_to_key(described, key, split$items)
  item_names <- described$item
  measured <- settle_measured(selected$measured, data[item_names])
  called <- settle_called(rows$called, measured)
  constant <- constant_columns(data[measured])
  if (length(constant)) {
    if (length(item_names) - length(constant) < 2L) stop_constant(constant)
    item_names <- setdiff(item_names, constant)
    measured <- setdiff(measured, constant)
    described <- described[described$item %in% item_names, ]
  }

  read <- read_answers(data[item_names], described, key$codes$words)
  coded <- drop_missing_codes(read$answers, described)
  ranged <- apply_range(core_join_columns(coded$answers), described, out_of_range)
  if (!silent) check_answered(ranged$answers)
  # without a codebook, the ends of the scale are those of the answers there are
  ends_by <- if (unknown) "answers" else "codebook"
  described <- take_range(described, ranged$answers, all = unknown)
  keyed <- key_items(ranged$answers, described)
  people <- tibble::as_tibble(
    data[unique(c(columns$id, columns$group, columns$cluster, columns$order))])
  removed <- settle_removed(rows$remove, rows$period, people, columns$order, measured, item_names)
  keyed <- without_removed(keyed, series_of(people, columns$order), removed)
  check_clusters(people, columns$cluster)

  weights <- read_weights(data, columns$weight)

  findings <- bind_findings(reading, split$findings,
    find_left_out(names(data), c(item_names, unlist(columns))),
    if (length(measured) < length(item_names)) find_without_codebook(codebook, described),
    read$findings, ranged$findings, find_repeated_ids(people, columns$id),
    find_in_answers(keyed, ranged$answers, described, setdiff(item_names, measured), unknown),
    find_in_measurements(ranged$answers[, setdiff(measured, split$items), drop = FALSE],
      attr(data, "days"), constant),
    find_in_series(keyed, people, columns$order, measured, rows$period))
  settings <- list(id = columns$id, group = columns$group, weight = columns$weight,
    cluster = columns$cluster, out_of_range = out_of_range,
    reversed = described$item[described$reversed], missing_codes = missing_codes, ends = ends,
    categories = stats::na.omit(as.character(split$findings$item)), indicators = rows$indicators,
    ends_by = ends_by, measured = measured, called = called, order = columns$order,
    remove = rows$remove, period = rows$period, made = split$items)
  validate_questionnaire(new_questionnaire(keyed, people, weights, described, coded$codes,
    tibble::as_tibble(data[setdiff(names(data), c(item_names, names(people)))]), settings, findings,
    made_by))
}

# One row for each item, from the codebook or from what the data tell.
describe_items <- function(data, codebook) {
  if (!is.null(codebook)) {
    return(
      codebook[
        match(names(data), codebook$item),
        c("item", "wording", "lowest", "highest", "reversed", "scale", "facet", "labels",
          "missing_codes")
      ])
  }
  label <- vapply(data, function(x) as.character(c(attr(x, "label", exact = TRUE), NA))[1L], "")
  tibble_of(item = names(data), wording = unname(label), lowest = NA_real_, highest = NA_real_,
    reversed = FALSE, scale = NA_character_, facet = NA_character_,
    labels = rep(list(NULL), length(data)), missing_codes = rep(list(numeric()), length(data)))
}

# The lowest and the highest answer of each item whose ends are not known (`all`), or of those that
# have to be reverse-scored.
take_range <- function(described, answers, all) {
  open <- (all | described$reversed) & (is.na(described$lowest) | is.na(described$highest))
  if (!any(open)) return(described)
  range_of <- function(x) if (all(is.na(x))) c(NA_real_, NA_real_) else range(x, na.rm = TRUE)
  ends <- apply(answers[, open, drop = FALSE], 2L, range_of)
  described$lowest[open] <- ends[1L, ]
  described$highest[open] <- ends[2L, ]
  described
}

# Columns of categories without order, as items of 0 and 1: one for each category.

# The columns named, or with the word "all" those that nothing else is said of.
all_or <- function(chosen, name, selected, data) {
  value <- if (!is.null(selected[[name]])) {
    tryCatch(rlang::eval_tidy(selected[[name]]), error = function(e) NULL)
  }
  if (!identical(unlist(value), "all") || "all" %in% names(data)) return(chosen(name))
  known <- setdiff(names(selected), c(name, "reversed", "measured", "items"))
  setdiff(names(data), unlist(lapply(known, chosen)))
}

# data with each of `columns` replaced by one column for each of its categories, named after both;
# and what was made.
split_categories <- function(data, columns, indicators = "all", most = 30L) {
  made <- list()
  for (name in columns) {
    x <- trimws(as.character(data[[name]]))
    x[!is.na(x) & !nzchar(x)] <- NA
    values <- sort(unique(x[!is.na(x)]))
    if (length(values) < 2L || length(values) > most) {
      stop_input("items",
        sprintf("A column of `categories` must hold 2 to %d different categories.", most),
        got = sprintf("%s holds %s.", name, count_of(length(values), "category", "categories")))
    }
    if (length(values) == 2L || identical(indicators, "less_one")) values <- values[-1L]
    parts <- stats::setNames(lapply(values, function(value) as.integer(x == value)),
      paste(name, values, sep = "_"))
    clash <- intersect(names(parts), names(data))
    if (length(clash)) {
      stop_input("duplicate_names", "Items made of categories must have names of their own.",
        got = sprintf("There is a column %s already.", name_culprits(clash)))
    }
    labels <- attr(data[[name]], "label", exact = TRUE)
    for (i in seq_along(parts)) {
      attr(parts[[i]], "label") <- paste0(if (length(labels)) labels else name, ": ", values[i])
    }
    data <- data[setdiff(names(data), name)]
    data[names(parts)] <- parts
    made[[name]] <- names(parts)
  }
  several <- names(made)[lengths(made) > 1L]
  findings <- if (length(made)) {
    bind_findings(
      new_finding("categories_split", names(made), vapply(made, name_culprits, ""),
        item = names(made), value = lengths(made)),
      if (length(several)) new_finding("indicators_dependent", name_culprits(several)))
  }
  list(data = data, items = unlist(made, use.names = FALSE), findings = findings)
}
