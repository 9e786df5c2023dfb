#' Loadings as they were printed
#'
#' Reads a table of loadings out of a paper or a book, blanks where small ones were left out, so
#' that [compare_solutions()] can say how far it is reproduced.
#'
#' @param file Path of a file ([read_responses()] reads it), or a data frame: items in the first
#'   column, or in that named "item", and a column of loadings for each factor or component.
#' @return An object of class `printed_loadings` ([softsieve-result]); `values$loadings` is a
#'   matrix, items x factors, `NA` where nothing was printed, and `values$decimals` how many
#'   decimals the table has.
#' @section Errors: `softsieve_error_loadings` (no names, text among the loadings, values beyond
#'   2 in size), those of [read_responses()].
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, 4, seed = 1)
#' printed <- data.frame(item = rownames(coef(solution)), round(coef(solution), 2))
#' printed[abs(printed$F1) < .3, "F1"] <- NA
#' compare_solutions(solution, read_loadings(printed))
#' @export
read_loadings <- function(file) {
  table <- if (is.data.frame(file)) tibble::as_tibble(file) else read_responses(file)
  named <- match("item", lower(names(table)), nomatch = 1L)
  items <- as.character(table[[named]])
  wrong <- function(got) {
    stop_input("loadings", "A table of loadings must have items, and a column for each factor.",
      got = got, todo = "Items stand in the first column; blanks are loadings left out.")
  }
  if (ncol(table) < 2L || is.numeric(table[[named]])) wrong("There is no column of names.")
  if (anyNA(items) || anyDuplicated(items)) {
    wrong(sprintf("Missing or twice: %s.", name_culprits(unique(items[duplicated(items)]))))
  }
  parts <- table[-named]
  parts[] <- lapply(parts, function(x) {
    text <- trimws(gsub("\u2212", "-", as.character(x), fixed = TRUE))
    text[!is.na(text) & text %in% c("", "-", ".")] <- NA
    number <- suppressWarnings(as.numeric(text))
    if (any(is.na(number) & !is.na(text))) {
      wrong(sprintf("Text: %s.", name_culprits(text[is.na(number) & !is.na(text)])))
    }
    number
  })
  parts <- parts[vapply(parts, function(x) !all(is.na(x)), NA)]
  loadings <- as.matrix(as.data.frame(parts, check.names = FALSE))
  if (!ncol(loadings)) wrong("All of its cells are blank.")
  rownames(loadings) <- items
  if (any(abs(loadings) > 2, na.rm = TRUE)) {
    wrong(sprintf("Beyond 2: %s.", name_culprits(loadings[which(abs(loadings) > 2)])))
  }
  new_result("printed_loadings",
    list(loadings = loadings, decimals = decimals_of(loadings[!is.na(loadings)])), list(),
    no_findings(), list(items = items), match.call())
}

decimals_of <- function(x) {
  for (digits in 0:4) if (all(abs(x - round(x, digits)) < 1e-9)) return(digits)
  5L
}

largest_there <- function(x) if (all(is.na(x))) NA_real_ else max(x, na.rm = TRUE)

# A solution beside printed loadings: columns matched in order and sign, by the cells that were
# printed, and which of these differ by more than rounding.
compare_with_printed <- function(solution, printed, made_by) {
  own <- solution$values$loadings
  given <- printed$values$loadings
  shared <- intersect(rownames(given), rownames(own))
  if (length(shared) < 3L) {
    stop_input("other_items", "Solution and printed table must share three items or more.",
      got = sprintf("They share %d.", length(shared)),
      todo = hint_nearest(setdiff(rownames(given), shared)[1L], rownames(own)))
  }
  a <- own[shared, , drop = FALSE]
  b <- given[shared, , drop = FALSE]
  filled <- replace(b, is.na(b), 0)
  matched <- core_aligned(filled, a)
  turned <- (b * 1)[, matched$column, drop = FALSE] * rep(matched$sign, each = nrow(b))
  apart <- turned - a
  limit <- 0.5 * 10^-printed$values$decimals + 1e-9
  cells <- which(abs(apart) > limit & !is.na(apart), arr.ind = TRUE)
  cells <- cells[order(-abs(apart[cells])), , drop = FALSE]
  compared <- sum(!is.na(apart))
  largest <- if (compared) max(abs(apart), na.rm = TRUE) else NA_real_
  values <- list(
    factors = tibble_of(factor = colnames(a), printed = colnames(b)[matched$column],
      sign = matched$sign, cells = colSums(!is.na(apart)),
      largest = unname(apply(abs(apart), 2L, largest_there))),
    cells = tibble_of(item = shared[cells[, 1L]], factor = colnames(a)[cells[, 2L]],
      here = a[cells], printed = turned[cells], difference = apart[cells]),
    compared = compared, largest = largest, limit = limit,
    unmatched = setdiff(colnames(b), colnames(b)[matched$column]))
  new_result("printed_comparison", values, solution$settings,
    findings_that_travel(solution$findings), solution$source, made_by)
}

#' @exportS3Method tibble::as_tibble
as_tibble.printed_loadings <- function(x, ...) {
  tibble::tibble(item = rownames(x$values$loadings),
    tibble::as_tibble(as.data.frame(x$values$loadings)))
}

#' @exportS3Method tibble::as_tibble
as_tibble.printed_comparison <- function(x, ...) x$values$cells

#' @export
glance.printed_loadings <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(items = nrow(x$values$loadings), factors = ncol(x$values$loadings),
    blank = sum(is.na(x$values$loadings)), decimals = x$values$decimals)
}

#' @export
glance.printed_comparison <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(compared = x$values$compared, differ = nrow(x$values$cells), largest = x$values$largest)
}
