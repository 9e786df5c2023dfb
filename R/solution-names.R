# Names that people give to factors.

#' Name factors
#'
#' Gives factors names that stay: in prints, tables, figures, scales, scores and files, through
#' sorting, and through [rotate_factors()] by matching the factors. Without names it helps to find
#' them: the items that load highest on each factor, the words in which these differ from the other
#' factors' items, and the items that speak against.
#'
#' @param solution A `factor_solution`.
#' @param names A vector of names that says which factor each is for, by what it is called now or by
#'   F1, F2, ...: `c(F1 = "thrift")`; or as many names as there are factors, in their order; or an
#'   earlier solution that was named, of nearly the same items, whose names are taken over by
#'   matching factors. `NULL` for help.
#' @param strongest How many items to show for each factor and direction, without names.
#' @param ... Nothing: what is mis-typed is refused.
#' @return With names, the solution with them (`settings$factor_names` says which factor each
#'   stands for). Without, an object of class `naming_help` ([softsieve-result]); `values` holds
#'   tibbles with a row for each factor and
#'   * `strongest`: item: `factor`, `direction` (of its loading: `"high"` or `"low"`), `agree` (do
#'     those who have much of the factor agree with its wording? of an item that its key
#'     reverse-scored the other way), `item`, `loading`, `wording`, `reversed`;
#'   * `words`: word: `factor`, `word` (its shortest form), `own` and `others` (in how many of the
#'     factor's items, and of the others, it stands), `own_share` and `others_share`;
#'   * `against`: item that speaks against a name that the strongest give: `factor`, `item`,
#'     `loading`, `why` (`"elsewhere"`: it loads more on another factor; `"words alone"`: it has two
#'     of the factor's words, or its only one, and does not load on it), `wording`, `reversed`.
#' @section Words: A word distinguishes a factor when it stands in two of its items or more, and in
#'   three times as large a share of its items as of the other factors' items. Words of which one is
#'   the beginning of the other (up to three letters longer) count as one, and words of fewer than
#'   four letters do not count. An item's factor is the one it loads on most, if that loading is
#'   salient. Nothing is known of the language.
#' @section Matching: Factors of two solutions are matched over the items they share so that their
#'   coefficients of congruence add up to most ([compare_solutions()]); a name is taken over from
#'   .85 on, where factors are fairly similar (Lorenzo-Seva & ten Berge 2006).
#' @section Errors: `softsieve_error_names` (a factor that there is not; names that repeat, are
#'   empty, or are those of other columns of the tables), `softsieve_error_other_items`,
#'   `softsieve_error_class`.
#' @section Findings: `names_kept`, `names_lost`; for help `no_wordings`.
#' @eval describe_papers("Lorenzo-Seva & ten Berge (2006)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, factors = 4, seed = 1)
#' name_factors(solution)
#' named <- name_factors(solution, c(F1 = "thrift", F2 = "planet"))
#' form_scales(named)
#' @export
name_factors <- function(solution, names = NULL, strongest = 4L, ...) {
  check_dots_empty(...)
  check_class(solution, "solution", "factor_solution", "factor_solution()")
  strongest <- check_whole(strongest, "strongest", 1L, 100L)
  if (is.null(names)) return(naming_help(solution, strongest, match.call()))
  if (is_result(names, "factor_solution")) {
    if (is_named(names)) return(keep_names(solution, names))
    stop_input("names", "A solution whose names are taken over must have names.",
      got = "Its factors have not been named.",
      todo = "Name them first: name_factors(earlier, c(F1 = \"...\")).")
  }
  rename_factors(solution, settle_names(solution, names))
}

# What factors are called in the end, in their order.
settle_names <- function(solution, names) {
  now <- factor_names(solution)
  k <- length(now)
  plain <- plain_names(k, solution$settings)
  wrong <- function(must, got, todo = NULL) stop_input("names", must, got = got, todo = todo)
  if (!checkmate::test_character(names, any.missing = FALSE, min.len = 1L)) {
    wrong("`names` must be words, one for each factor that is named.", describe_value(names))
  }
  whom <- base::names(names)
  if (is.null(whom)) {
    if (length(names) != k) {
      wrong("Names without the factors they are for must be as many as there are factors.",
        sprintf("%s for %s.", count_of(length(names), "name"), count_of(k, "factor")),
        sprintf("Say which: c(%s = \"%s\").", now[1L], names[1L]))
    }
    at <- seq_len(k)
  } else {
    at <- match(whom, now)
    at[is.na(at)] <- match(whom[is.na(at)], plain)
    if (anyNA(at)) {
      wrong("Names must be for factors that there are.",
        sprintf("No factor is called %s.", name_culprits(whom[is.na(at)])),
        sprintf("There are: %s.", paste(unique(c(now, plain)), collapse = ", ")))
    }
    twice <- unique(whom[duplicated(at)])
    if (length(twice)) {
      wrong("A factor must be named once.", sprintf("Twice: %s.", name_culprits(twice)))
    }
  }
  now[at] <- trimws(unname(names))
  check_factor_names(now, plain, solution, wrong)
  now
}

# Names must be told from each other and from whatever stands beside them in tables.
check_factor_names <- function(names, plain, solution, wrong) {
  blank <- !nzchar(names) | grepl("[[:cntrl:]]", names) | nchar(names) > MOST_LETTERS
  if (any(blank)) {
    wrong(sprintf("A name must have 1 to %d letters, on one line.", MOST_LETTERS),
      name_culprits(vapply(names[blank], describe_value, "")))
  }
  twice <- unique(names[duplicated(lower(names))])
  if (length(twice)) {
    wrong("Every factor must have a name of its own.", sprintf("Twice: %s.", name_culprits(twice)))
  }
  mistaken <- names %in% plain & names != plain
  if (any(mistaken)) {
    wrong("A name must not be the plain name of another factor.",
      sprintf("%s came.", name_culprits(names[mistaken])))
  }
  beside <- solution$values$item_correlations$values$questionnaire$values$people
  taken <- intersect(names, c(BESIDE_LOADINGS, colnames(beside)))
  if (length(taken)) {
    wrong("Names must differ from the other columns of tables and from the id and group columns.",
      sprintf("Taken: %s.", name_culprits(taken)))
  }
}

MOST_LETTERS <- 60L

# Columns that stand beside loadings or scores.
BESIDE_LOADINGS <- c("item", "factor", "marks", "communality", "uniqueness", "complexity",
  "wording", "reversed", "general_share", "answered", "people", "share")
