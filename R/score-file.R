# Solutions and scales as files of their own: an open format (JSON; the schema is in inst/schema),
# versioned, without anybody's answers, read back to the last bit.

SOLUTION_FORMAT <- "softsieve solution"
SOLUTION_VERSION <- 2L

#' Save a solution, and read it back
#'
#' A solution file holds all that scoring new people needs: loadings, factor correlations, the
#' correlations of the items, the key (ends, reversed items, codes, labels, wording), means and
#' deviations, settings and findings; never the answers that it came from. It is JSON, laid down in
#' `system.file("schema", "solution.schema.json", package = "softsieve")`: every value is an object
#' with `numbers`, `whole`, `words`, `flags` or `list`, and `with` its names and dimensions. Numbers
#' are written with as many digits as they need: what is read back is what was written, bit for bit.
#'
#' @param x What [extract_factors()], [extract_components()], [rotate_factors()],
#'   [factor_solution()] or [form_scales()] returned.
#' @param file Path of the file; its name ends in `.json`.
#' @return `write_solution()`: `file`, invisibly. `read_solution()`: the solution (or set of scales)
#'   as it was saved, without the answers; [predict()], [score_respondents()], prints and figures
#'   take it as they took the first.
#' @section Errors: `softsieve_error_class`, `softsieve_error_ending`, `softsieve_error_unwritable`,
#'   `softsieve_error_file_missing`, `softsieve_error_file_empty`, `softsieve_error_solution` (not
#'   such a file, of a later version, or not whole).
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, 4, seed = 1)
#' file <- tempfile(fileext = ".json")
#' write_solution(solution, file)
#' new_people <- utils::head(repair_cafe)
#' identical(predict(read_solution(file), new_people), predict(solution, new_people))
#' @export
write_solution <- function(x, file) {
  if (!is_result(x, c("factor_solution", "softsieve_scale_set"))) {
    check_class(x, "x", "factor_solution", "rotate_factors() or form_scales()")
  }
  check_text(file, "file")
  check_ending(file, "json")
  write_whole(file, function(path) write_text(solution_text(x), path))
}

solution_text <- function(x) {
  sprintf("{\"format\":\"%s\",\n\"version\":%d,\n\"written_by\":%s,\n\"solution\":%s}",
    SOLUTION_FORMAT, SOLUTION_VERSION,
    json_words(paste("softsieve", utils::packageVersion("softsieve"))),
    exact_json(without_people(x)))
}

# The same without anybody's answers; correlations of items stay.
without_people <- function(x) {
  parts <- unclass(x)
  parts["call"] <- list(NULL)
  if (is_result(parts$values$item_correlations, "softsieve_result")) {
    r <- unclass(parts$values$item_correlations)
    r["call"] <- list(NULL)
    r$values["questionnaire"] <- list(NULL)
    r$values[c("part_of", "cluster")] <- NULL
    parts$values$item_correlations <- structure(r, class = oldClass(x$values$item_correlations))
  }
  parts$values["trail"] <- NULL
  structure(parts, class = oldClass(x))
}

#' @rdname write_solution
#' @export
read_solution <- function(file) {
  check_file(file)
  refuse <- function(got, todo = "Was it written by write_solution()?") {
    stop_input("solution", "The file must be a whole solution file.",
      got = sprintf("\"%s\": %s.", basename(file), got), todo = todo)
  }
  held <- tryCatch(parse_exact(paste(decode_file(file, "UTF-8")$lines, collapse = "\n")),
    error = function(e) refuse("it is not JSON, or not whole"))
  if (!is.list(held) || !identical(held$format, SOLUTION_FORMAT)) {
    refuse(sprintf("its `format` is not \"%s\"", SOLUTION_FORMAT))
  }
  if (!isTRUE(held$version %in% seq_len(SOLUTION_VERSION))) {
    refuse(
      sprintf("it is of version %s, known are 1 to %d", format(held$version), SOLUTION_VERSION),
      "Read it with a later softsieve.")
  }
  x <- tryCatch(from_exact(held$solution), error = function(e) refuse(conditionMessage(e)))
  wrong <- wrong_in_solution(x)
  if (!length(wrong)) wrong <- wrong_in_numbers(x$values)
  if (length(wrong)) refuse(wrong)
  # whatever else does not go together would be told later, in R's words (nothing is told here)
  hidden <- options(softsieve.tries = TRUE)
  on.exit(options(hidden))
  odd <- function(e) refuse(paste("its parts do not go together:", first_line(conditionMessage(e))))
  tryCatch(utils::capture.output(print(x)), error = odd, warning = odd)
  if (held$version == 1L) x <- with_new_names(x)
  x["call"] <- list(quote(read_solution()))
  x
}

# Settings, columns and findings of version 1 by the names they have now.
with_new_names <- function(x) {
  renamed <- function(names) {
    new <- lapply(names, now_called)
    ifelse(lengths(new) > 0L, as.character(new), names)
  }
  names(x$settings) <- renamed(names(x$settings))
  x$findings$code <- renamed(x$findings$code)
  tables <- vapply(x$values, is.data.frame, NA)
  x$values[tables] <- lapply(x$values[tables], function(table) {
    stats::setNames(table, renamed(names(table)))
  })
  x
}

# The form of such files as a JSON Schema (draft 2020-12).
solution_schema <- function() {
  array <- function(...) list(type = "array", items = list(type = c(..., "null")))
  value <- list("$ref" = "#/$defs/value")
  one <- function(key, held) {
    list(type = "object", required = list(key), additionalProperties = FALSE,
      properties = stats::setNames(list(held, list("$ref" = "#/$defs/with")), c(key, "with")))
  }
  list("$schema" = "https://json-schema.org/draft/2020-12/schema",
    title = "A softsieve solution",
    description = paste(
      "A factor solution or a set of scales, without answers. Every value is an object with its",
      "kind: numbers (null: missing; as hexadecimal text where some are infinite), whole numbers,",
      "words, flags, a list (of named values or not) or nothing; `with` holds its attributes."),
    type = "object",
    required = list("format", "version", "written_by", "solution"),
    additionalProperties = FALSE,
    properties = list(format = list(const = SOLUTION_FORMAT),
      version = list(const = SOLUTION_VERSION), written_by = list(type = "string"),
      solution = value),
    "$defs" = list(with = list(type = "object", additionalProperties = value),
      value = list(oneOf = list(one("numbers", array("number", "string")),
        one("whole", array("integer")), one("words", array("string")),
        one("flags", array("boolean")),
        one("list", list(anyOf = list(list(type = "array", items = value),
          list(type = "object", additionalProperties = value)))),
        one("nothing", list(const = TRUE))))))
}

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
    table <- table[setdiff(names(table), "row")]
    check_score_names(c(kept, names(table)))
    target$add(cbind(block[kept], table), block, first)
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
