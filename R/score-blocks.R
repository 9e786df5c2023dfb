#' Score people who are too many for memory
#'
#' Scores a file, a table of a database or any other source block by block, into a CSV or Parquet
#' file or a new table. What is written is there whole or not at all. A CSV file whose writing was
#' broken off is resumed by the same call.
#'
#' @param x A `factor_solution`, or a scale set ([form_scales()]).
#' @param source A source as [tabulate_items()] takes it.
#' @param into The path of a CSV or Parquet file, or `database_table(connection, table, new =
#'   TRUE)`.
#' @param ... What [score_respondents()] takes and needs one person's answers only: `method`,
#'   `missing`, `answered_share`, `answered_least`, `errors`, `level`, `reliability` (with `errors`
#'   of scales), `also` with `norms`, `units`, `threads`.
#' @param columns Columns of the source to stand beside the scores, in tidyselect's language.
#' @param rows People in a block, about.
#' @return An object of class `written_scores` ([softsieve-result]); its `values` are `people`,
#'   `scored` (people with a score), `into` (words) and `resumed` (how many people an earlier run
#'   had written). Findings are reported once, with the numbers of the first block that has them.
#' @section Errors: those of [score_respondents()] and [tabulate_items()],
#'   `softsieve_error_unwritable`, `softsieve_error_ending`.
#' @family scores
#' @family large data
#' @examples
#' solution <- factor_solution(repair_cafe[3:14], factors = 2, seed = 1)
#' file <- tempfile(fileext = ".csv")
#' score_into(solution, repair_cafe, file, columns = person)
#' @export
score_into <- function(x, source, into, ..., columns = NULL, rows = 1e5) {
  if (missing(source) || missing(into)) {
    stop_input("argument", "`source` and `into` must say where people come from and scores go.",
      got = "One of them is missing.",
      todo = "For example score_into(solution, \"answers.csv\", \"scores.csv\").")
  }
  asked <- asked_of_blocks(rlang::enquos(...))
  asked$threads <- settle_threads(asked[["threads"]])
  one <- function(block) call_with(score_respondents, c(list(x, block), asked))
  keep <- rlang::enquo(columns)
  rows <- check_whole(rows, "rows", 10L, 1e7L)
  scoring <- gather_scoring(x, asked$method, asked$missing)
  check_alone(asked, scoring)
  check_score_target(into, source)
  items <- scoring$items$item
  kept <- character()
  choose <- function(columns) {
    if (length(intersect(items, columns)) < 2L) stop_other_items(items, columns)
    if (!rlang::quo_is_null(keep)) kept <<- choose_columns(columns, keep)
    unique(c(intersect(items, columns), kept))
  }
  key <- rlang::hash(list(x$source, x$settings, x$call, asked[setdiff(names(asked), "threads")]))
  target <- open_target(into, key, scoring$names)
  finished <- FALSE
  on.exit(if (!finished) target$leave(), add = TRUE)
  findings <- NULL
  score <- function(block, first) {
    if (target$passes(block, first)) return(invisible())
    found <- score_block(one, block[intersect(items, names(block))], first)
    findings <<- same_findings(findings, found$findings)
    table <- as.data.frame(as_tibble(found))
    target$add(cbind(block[kept], table[setdiff(names(table), "row")]), block, first)
  }
  people <- with_counter("people scored", function(progress) {
    each <- function(block, first) {
      score(block, first)
      progress(first + nrow(block))
    }
    read_blocks(source, choose, each, rows, list(missing = "NA"))
  })
  if (!people) stop_input("no_answers", "The source must have people.", got = "It has none.")
  target$finish(people)
  finished <- TRUE
  told <- target$told()
  new_result("written_scores",
    list(people = people, scored = told$scored, into = told$name, resumed = told$resumed),
    c(settings_behind(x), asked[setdiff(names(asked), "norms")]), bind_findings(findings), x$source,
    match.call())
}

# What a block is asked: arguments of score_respondents() that are about single people.
asked_of_blocks <- function(dots) {
  known <- setdiff(names(formals(score_respondents)), c("x", "data", "by", "..."))
  if ("by" %in% names(dots)) refuse_into("`by`", "norms of groups")
  strange <- setdiff(names(dots), known)
  if (length(strange)) {
    stop_input("argument",
      sprintf("Beside `columns` and `rows`, scores may be asked: %s.", name_culprits(known, 20L)),
      got = if (nzchar(strange[1L])) {
        sprintf("Not known here: %s.", name_culprits(sprintf("`%s`", strange)))
      } else {
        "An argument without a name came."
      },
      todo = hint_nearest(strange[1L], known))
  }
  lapply(dots, rlang::eval_tidy)
}

# Findings of blocks, each once by its code and item: the numbers in them are of the block that told
# them first.
same_findings <- function(earlier, now) {
  now <- now[!now$code %in% BLOCK_FINDINGS, ]
  new <- !paste(now$code, now$item) %in% paste(earlier$code, earlier$item)
  rbind(earlier, now[new, ])
}

# What is told of each block but is no news of the whole: how many were scored is counted.
BLOCK_FINDINGS <- c("not_scored", "scored_with_missing")

# Scores of one person must need that person's answers only.
check_alone <- function(asked, scoring) {
  if (length(asked$also) && is.null(asked$norms)) {
    refuse_into("`also` without `norms`", "norms, which these people are not known for yet")
  }
  if (identical(asked$units, "own")) refuse_into("units = \"own\"", "means of all people")
  if (isTRUE(asked$errors) && scoring$of == "scales" && is.null(asked$reliability)) {
    refuse_into("`errors` of scales without `reliability`", "the reliability")
  }
}

refuse_into <- function(what, needs) {
  stop_input("argument",
    "Scores that go block by block into a file must need one person's answers only.",
    got = sprintf("%s needs %s.", what, needs),
    todo = "Leave it out, or score a sample of people first: sample_people().")
}

stop_other_items <- function(items, columns) {
  stop_input("other_items", "The source must have the items that the scores are made of.",
    got = sprintf("Not there: %s.", name_culprits(setdiff(items, columns))))
}

score_block <- function(one, block, first) {
  tryCatch(one(block), softsieve_error = function(e) stop_in_block(e, first, nrow(block)))
}

#' @exportS3Method tibble::as_tibble
as_tibble.written_scores <- function(x, ...) tibble::as_tibble(x$values)

#' @export
glance.written_scores <- function(x, ...) {
  check_dots_empty(...)
  as_tibble(x)
}
