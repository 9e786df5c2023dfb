#' Draw people from a source
#'
#' Goes once over a source of answers, a block at a time, and keeps `n` people drawn by chance: for
#' what needs people (EM, shuffled chance, profiles of people, scores to look at) where these are
#' too many for memory. Every person gets a random number by the seed and by the place in the
#' source; the `n` with the smallest stay. The size of blocks makes no difference.
#'
#' @inheritParams tabulate_items
#' @param n How many people, from 1 on. Where the source has fewer, all come.
#' @param columns Which columns, in tidyselect's language; all when left out.
#' @param seed A whole number from 0 on; drawn from R's generator when `NULL`. Told in a note, and
#'   kept as attribute `seed`.
#' @return A tibble, one row for each person drawn, in the order of the source, its columns as the
#'   source has them, for [questionnaire()]; attribute `people`: how many there were.
#' @section Errors: `softsieve_error_source`, `softsieve_error_argument`, `softsieve_error_items`.
#' @eval describe_papers("Li (1994)")
#' @family large data
#' @examples
#' file <- system.file("extdata", "repair_cafe_answers.csv", package = "softsieve")
#' some <- sample_people(file, 200, seed = 1)
#' questionnaire(some, codebook = repair_cafe_codebook)
#' @export
sample_people <- function(source, n, columns = NULL, seed = NULL, rows = 1e5, delimiter = NULL,
    decimal = NULL, encoding = NULL) {
  n <- check_whole(n, "n", 1L, 1e7L)
  rows <- check_whole(rows, "rows", 10L, 1e7)
  check_reading(delimiter, encoding, "NA", 1)
  if (!is.null(decimal)) check_choice(decimal, "decimal", c(".", ","))
  asked <- rlang::enquo(columns)
  seed <- settle_seed(seed)
  kept <- NULL
  keys <- numeric()
  keep <- function(block, first) {
    own <- cpp_person_keys(seed, first, nrow(block))
    near <- if (length(keys) < n) seq_along(own) else which(own < max(keys))
    if (!length(near)) return(invisible())
    keys <<- c(keys, own[near])
    kept <<- stack_blocks(kept, block[near, , drop = FALSE])
    if (length(keys) <= n) return(invisible())
    stay <- sort(order(keys)[seq_len(n)])
    keys <<- keys[stay]
    kept <<- kept[stay, , drop = FALSE]
  }
  people <- with_counter("people passed", function(progress) {
    read_blocks(source,
      function(names) choose_columns(names, asked),
      function(block, first) {
        keep(block, first)
        progress(first + nrow(block))
      }, rows,
      list(delimiter = delimiter, decimal = decimal, encoding = encoding, missing = "NA"))
  })
  if (!people) stop_input("no_answers", "The source must have people.", got = "It has none.")
  rownames(kept) <- NULL
  structure(tibble::as_tibble(kept), seed = seed, people = people)
}

choose_columns <- function(names, asked) {
  check_column_names(names, "source")
  if (rlang::quo_is_null(asked)) return(names)
  none <- as.data.frame(matrix(numeric(), 0L, length(names), dimnames = list(NULL, names)))
  select_columns(asked, none, "columns")
}

# Blocks under each other: a column that is text in one of them is text in all.
stack_blocks <- function(above, below) {
  if (is.null(above)) return(below)
  for (name in names(below)) {
    x <- above[[name]]
    y <- below[[name]]
    if (is.factor(x) || is.factor(y) || is.character(x) != is.character(y)) {
      above[[name]] <- text_or_gap(x)
      below[[name]] <- text_or_gap(y)
    }
  }
  rbind(above, below)
}

text_or_gap <- function(x) {
  if (is.character(x)) return(x)
  ifelse(is.na(x), NA_character_, as.character(x))
}
