#' Count answers that are too many for memory
#'
#' Goes once over a source of answers, a block of people at a time, and keeps what adds up over
#' people: for every pair of items the table of who gave which two answers, or, for items of many
#' values, counts, sums and cross-products. Correlations, and all that follows from them, need no
#' more; memory depends on the items, not on the people.
#'
#' @param source A data frame; the paths of delimited text files or of Parquet files (`*` stands for
#'   any letters); a function without arguments that hands out a data frame each time it is called,
#'   and `NULL` at the end; what `DBI::dbSendQuery()` gave; a [database_table()]; or an Arrow stream
#'   (package nanoarrow), as ADBC drivers hand out.
#' @param items,codebook,weight,reversed,missing_codes,ends As in [questionnaire()]. Categories and
#'   keys are settled before the first block: by the codebook's `lowest` and `highest`, or by
#'   `ends`, or, where nothing says them, by the answers of the first block (reported as a finding).
#' @param group One column: everybody is counted, and each group by itself.
#' @param missing `"pairwise"`, or `"complete"` to count only people who answered every item.
#' @param random_groups Into how many groups people are split at random, by their number: what
#'   [draw_tables()] draws or leaves out to show how sure a number is. 1: none.
#' @param rows People in a block, about.
#' @param threads Number of threads; all processors, but never more than eight, when `NULL`.
#' @param workers How many processes read one table together (package callr): a plain table of
#'   PostgreSQL, given as a [database_table()] with an address or a function that connects. Each
#'   reads ranges of its pages within one snapshot: the counts are those of one process, whatever
#'   others write meanwhile.
#' @param delimiter,decimal,encoding For text files: as in [read_responses()].
#' @param ... Nothing: what is mis-typed is refused.
#' @details It takes what [questionnaire()] and [read_responses()] take, as it does the work of both
#'   a block at a time.
#' @return An object of class `item_tables` ([softsieve-result]); `values` holds `items` (tibble, as
#'   in a questionnaire), `categories` (list: each item's, keyed; `NULL` for items of more than 16),
#'   `cells` (matrix, one column for each random group: the tables, then each item's own counts),
#'   `sums`, `cubes` and `origins` (sums, for items of many values and for weights), `people`
#'   (matrix, one column for each random group: people, with an answer, with all answers, weight,
#'   squared weight), `missing_codes`, `unfit` (answers of each item that are none of its
#'   categories), and `groups` (named list of `item_tables`, or `NULL`).
#' @section How: An answer that is not a category of its item (beyond the codebook's ends, or a
#'   fraction) is missing, and counted. For whole numbers the correlations are, to the last bit,
#'   those of the same answers in a [questionnaire()].
#'   The tables of all random groups hold up to 100 million counts: of 280 items of five categories
#'   in 200 groups, of 1,500 in 3, of 2,800 in one. Of more items fewer groups are kept, which is
#'   told; errors by [draw_tables()] need 20.
#' @section Errors: `softsieve_error_source` (what it cannot read, or what broke),
#'   `softsieve_error_too_large` (items whose tables are larger than that in one group), and those
#'   of [questionnaire()].
#' @section Findings: `counted_in_blocks`, `fewer_random_groups`, `unfit_answers`,
#'   `ends_of_first_block`; `out_of_range` does not occur: such answers are unfit.
#' @eval describe_papers("Miller (1974)")
#' @family large data
#' @examples
#' file <- system.file("extdata", "repair_cafe_answers.csv", package = "softsieve")
#' tables <- tabulate_items(file, codebook = repair_cafe_codebook)
#' tables
#' count_factors(tables)
#' @export
tabulate_items <- function(source, items = NULL, codebook = NULL, weight = NULL, group = NULL,
    missing = c("pairwise", "complete"), reversed = NULL, missing_codes = NULL, ends = NULL,
    random_groups = 200L, rows = 1e5, threads = NULL, workers = 1L, delimiter = NULL,
    decimal = NULL, encoding = NULL, ...) {
  check_dots_empty(...)
  selected <- list(items = rlang::enquo(items), weight = rlang::enquo(weight),
    group = rlang::enquo(group), reversed = rlang::enquo(reversed))
  missing <- check_choice(missing, "missing", c("pairwise", "complete"))
  random_groups <- check_whole(random_groups, "random_groups", 1L, 1000L)
  rows <- check_whole(rows, "rows", 10L, 1e7)
  threads <- settle_threads(threads)
  workers <- check_whole(workers, "workers", 1L, 64L)
  check_reading(delimiter, encoding, "NA", 1)
  if (!is.null(decimal)) check_choice(decimal, "decimal", c(".", ","))
  if (!is.null(codebook)) {
    check_class(codebook, "codebook", "data.frame", "read_codebook()")
    codebook <- tidy_codebook(codebook)
  }
  key <- list(codes = check_missing_codes(missing_codes), ends = check_ends(ends))
  state <- new.env()
  text <- list(delimiter = delimiter, decimal = decimal, encoding = encoding, missing = "NA")
  choose <- function(columns) choose_counted(columns, selected, codebook, state)
  begin <- function(block) begin_tally(block, state, codebook, key, missing, random_groups)
  people <- with_counter("people counted", function(progress) {
    if (workers > 1L) {
      return(count_together(source, workers, rows, choose, begin, state, progress))
    }
    each <- function(block, first) {
      if (!first) begin(block)
      add_block(block, first, state, threads)
      progress(first + nrow(block))
    }
    read_blocks(source, choose, each, rows, text)
  })
  if (!people) stop_input("no_answers", "The source must have people.", got = "It has none.")
  asked <- random_groups
  random_groups <- state$asked$random_groups
  settings <- list(missing = missing, weight = state$columns$weight, group = state$columns$group,
    reversed = state$described$item[state$described$reversed], missing_codes = missing_codes,
    ends = ends, ends_by = if (is.null(codebook) && is.null(ends)) "answers" else "codebook",
    random_groups = random_groups)
  finish_tally(state, people, settings, asked, threads, match.call())
}

# Which columns of the source are what; returns all that are needed.
choose_counted <- function(columns, selected, codebook, state) {
  check_column_names(columns, "source")
  none <- as.data.frame(matrix(numeric(), 0L, length(columns), dimnames = list(NULL, columns)))
  chosen <- lapply(stats::setNames(nm = names(selected)), function(name) {
    select_columns(selected[[name]], none, name)
  })
  if (length(chosen$group) > 1L) {
    stop_input("groups", "`group` must be one column.",
      got = sprintf("%s came.", name_culprits(chosen$group)))
  }
  chosen$id <- character()
  chosen$items <- settle_items(chosen, columns, codebook)
  state$columns <- chosen
  unique(c(chosen$items, chosen$weight, chosen$group))
}

# What the first block settles: the key, and how each item is counted.
begin_tally <- function(block, state, codebook, key, missing, random_groups) {
  check_flat(block)
  items <- state$columns$items
  described <- describe_items(block[items], codebook)
  key$reversed <- state$columns$reversed
  described <- add_to_key(described, key, character())
  state$words <- key$codes$words
  read <- read_answers(block[items], described, state$words)
  state$open <- is.na(described$lowest) | is.na(described$highest)
  first <- core_join_columns(drop_missing_codes(read$answers, described)$answers)
  state$described <- take_range(described, first, all = TRUE)
  state$values <- lapply(seq_along(items), function(i) {
    # what a codebook says holds, whatever comes
    countable(state$described[i, ], if (state$open[i]) first[, i] else numeric())
  })
  names(state$values) <- items
  origins <- round((state$described$lowest + state$described$highest) / 2)
  origins[is.na(origins)] <- 0
  state$origins <- origins
  state$asked <- list(random_groups = groups_that_fit(state$values, random_groups),
    complete = missing == "complete")
  start_counts(state)
}

# Tables are kept of every pair of items, in every random group: of many items in fewer groups.
MOST_COUNTS <- 1e8

groups_that_fit <- function(values, asked) {
  sizes <- lengths(values)
  counts <- (sum(sizes)^2 - sum(sizes^2)) / 2 + sum(sizes) + 4 * sum(sizes == 0) * length(sizes)
  if (counts <= MOST_COUNTS) return(as.integer(min(asked, max(1, MOST_COUNTS %/% counts))))
  stop_input("too_large",
    sprintf("Tables may hold up to %s counts.", format_count(MOST_COUNTS)),
    got = sprintf("The pairs of %d items make %s.", length(sizes), format_count(counts)),
    todo = "Name fewer columns in `items`: those that are meant to go together.")
}

# The categories that an item can have, or NULL when they are too many or not whole numbers.
countable <- function(item, answers) {
  ends <- c(item$lowest, item$highest)
  whole <- !anyNA(ends) && all(ends == round(ends))
  there <- answers[!is.na(answers)]
  if (!whole || diff(ends) > 15 || any(there != round(there))) return(NULL)
  seq(ends[1L], ends[2L])
}

finish_tally <- function(state, people, settings, asked, threads, made_by) {
  # a list is what workers counted
  parts <- function(tally) {
    read <- if (is.list(tally)) tally else read_counts(tally, threads)
    read$cells <- narrow_counts(read$cells, length(settings$weight) > 0)
    read
  }
  about <- list(items = state$described, categories = state$values, origins = state$origins,
    missing_codes = sum_codes(state$codes),
    unfit = stats::setNames(state$unfit, state$described$item))
  groups <- lapply(state$groups, function(one) {
    settings$group <- character()
    new_item_tables(c(about, parts(one)), settings, NULL, made_by)
  })
  values <- c(about, parts(state$tally), list(groups = if (length(groups)) groups))
  if (length(settings$weight) && sum(values$people["weight", ]) == 0) {
    stop_input("weights", "Weights must be finite numbers of at least 0, and not all 0.",
      got = "All are 0.")
  }
  silent <- silent_items(values)
  if (length(silent)) {
    stop_input("no_answers", "Every item must have been answered by somebody.",
      got = sprintf("No answers at all: %s.", name_culprits(silent)),
      todo = "Leave these items out with `items`, or look whether their missing codes are right.")
  }
  new_item_tables(values, settings, find_in_tally(values, settings, state, people, asked), made_by)
}

find_in_tally <- function(values, settings, state, people, asked) {
  hit <- which(values$unfit > 0)
  by_first <- state$open & settings$ends_by == "answers"
  bind_findings(
    new_finding("counted_in_blocks", count_of(people, "person", "people"),
      count_of(settings$random_groups, "random group"), value = people),
    if (settings$random_groups < asked) {
      new_finding("fewer_random_groups", settings$random_groups, asked,
        count_of(nrow(values$items), "item"), value = settings$random_groups, limit = asked)
    },
    if (length(hit)) {
      new_finding("unfit_answers", names(values$unfit)[hit],
        vapply(values$unfit[hit], count_of, "", one = "answer"), item = names(values$unfit)[hit],
        value = values$unfit[hit])
    },
    if (state$nameless) {
      new_finding("no_group", count_of(state$nameless, "person is", "people are"), settings$group,
        value = state$nameless, limit = 1)
    },
    if (any(by_first)) {
      new_finding("ends_of_first_block", name_culprits(values$items$item[by_first]),
        value = sum(by_first))
    })
}
