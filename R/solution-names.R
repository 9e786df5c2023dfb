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

# Help with naming factors: their strongest items, the words that tell them apart, and what speaks
# against.

naming_help <- function(solution, most, call) {
  loadings <- solution$values$loadings
  items <- solution$values$items
  salient <- cutoff("salient_loading")
  home <- home_factor(loadings, salient)
  each <- seq_len(ncol(loadings))
  said <- word_table(items$wording)
  words <- lapply(each, words_of, colnames(loadings), said, home)
  against <- lapply(each, function(j) {
    own <- said[words[[j]]$word, , drop = FALSE]
    against_of(j, loadings, items, own, salient, most)
  })
  values <- list(
    strongest = stack_rows(lapply(each, strongest_of, loadings, items, salient, most)),
    words = stack_rows(words), against = stack_rows(against), factors = colnames(loadings))
  new_result("naming_help", values, c(solution$settings, list(items = most)),
    if (all(is.na(items$wording))) new_finding("no_wordings") else no_findings(), solution$source,
    call)
}

rows_about <- function(factor, at, loading, items, ...) {
  tibble::tibble(factor = rep(factor, length(at)), ..., item = items$item[at],
    loading = unname(loading[at]), wording = items$wording[at], reversed = items$reversed[at])
}

# The items with the largest salient loadings of either sign.
strongest_of <- function(j, loadings, items, salient, most) {
  loading <- loadings[, j]
  towards <- function(sign, direction) {
    at <- order(-sign * loading)
    at <- utils::head(at[sign * loading[at] >= salient], most)
    rows_about(
      colnames(loadings)[j],
      at,
      loading,
      items,
      direction = rep(direction, length(at)),
      # the wording of an item that was reverse-scored says the opposite of its loading
      agree = unname(loading[at] > 0) != (items$reversed[at] %in% TRUE))
  }
  rbind(towards(1, "high"), towards(-1, "low"))
}

# Items that load here, but more on another factor; and items that have several of the factor's
# words and do not load on it.
against_of <- function(j, loadings, items, said, salient, most) {
  size <- abs(loadings)
  largest <- max.col(size, ties.method = "first")
  elsewhere <- which(size[, j] >= salient & largest != j)
  alone <- which(size[, j] < salient & colSums(said) >= min(2L, max(nrow(said), 1L)))
  at <- c(elsewhere, alone)
  why <- rep(c("elsewhere", "words alone"), c(length(elsewhere), length(alone)))
  keep <- utils::head(order(match(why, c("elsewhere", "words alone")), -size[at, j]), most)
  rows_about(colnames(loadings)[j], at[keep], loadings[, j], items, why = why[keep])
}

MOST_WORDS <- 6L

# Words in several of a factor's items, and hardly in those of the others.
words_of <- function(j, names, said, home) {
  own <- which(home == j)
  others <- which(home != j)
  inside <- rowSums(said[, own, drop = FALSE])
  outside <- rowSums(said[, others, drop = FALSE])
  share <- inside / max(length(own), 1L)
  share_outside <- outside / max(length(others), 1L)
  telling <- which(inside >= 2 & share >= 3 * share_outside)
  telling <- utils::head(telling[order(-(share - share_outside)[telling])], MOST_WORDS)
  tibble_of(factor = rep(names[j], length(telling)), word = as.character(rownames(said)[telling]),
    own = as.integer(inside[telling]), others = as.integer(outside[telling]),
    own_share = unname(share[telling]), others_share = unname(share_outside[telling]))
}

# Shorter words join others, mostly, and say nothing of their own.
LEAST_LETTERS <- 4L

# Which word stands in which wording: words x items, TRUE or FALSE. Words are runs of letters of any
# script; forms of a word are one row, named by the shortest.
word_table <- function(wording) {
  wording[is.na(wording)] <- ""
  said <- lapply(strsplit(lower(wording), "[^[:alpha:]]+"), function(x) {
    unique(x[nchar(x) >= LEAST_LETTERS])
  })
  stems <- shortest_forms(sort(unique(unlist(said))))
  words <- unique(unname(stems))
  out <- vapply(said, function(one) words %in% stems[one], logical(length(words)))
  matrix(out, length(words), length(wording), dimnames = list(words, NULL))
}

# For each word, in sorted order, the one it is a form of: words that begin alike stand in a row.
shortest_forms <- function(words) {
  form <- words
  for (i in seq_along(words)[-1L]) {
    before <- form[i - 1L]
    more <- nchar(words[i]) - nchar(before)
    longer <- more <= 3L && startsWith(words[i], before)
    if (longer && nchar(before) >= LEAST_LETTERS) form[i] <- before
  }
  stats::setNames(form, words)
}

#' @exportS3Method tibble::as_tibble
as_tibble.naming_help <- function(x, ...) x$values$strongest

#' @export
glance.naming_help <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble_of(factors = length(v$factors), items = length(unique(v$strongest$item)),
    words = nrow(v$words), against = nrow(v$against))
}
