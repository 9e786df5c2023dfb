# What the package compares with, reports, asks and cites, as tables.

#' Cut-offs, findings, rules, words and papers
#'
#' Every cut-off that results are compared with and its source (all of them are arguments or can be
#' judged afresh from the tables: a cut-off starts a look, it does not end one); every finding and
#' what to do; the rules about the number of factors, and when each misleads; what printed words
#' mean; and the papers in full.
#'
#' @param what `"cutoffs"`, `"findings"`, `"rules"`, `"glossary"` or `"references"`.
#' @return A tibble:
#'   * `"cutoffs"`: `name`, `value`, `label`, `source`;
#'   * `"findings"`: `code`, `stage`, `severity` (all that it can be), `sentence` (with a `%s` for
#'     what the case puts in), `meaning` ([softsieve-findings]);
#'   * `"rules"`: `rule`, `label`, `misleads`, `reference` ([count_factors()]);
#'   * `"glossary"`: `term`, `meaning`;
#'   * `"references"`: `reference` (its short form), `paper`.
#' @family results
#' @examples
#' catalogue_table("cutoffs")
#' catalogue_table("rules")$misleads[1]
#' @export
catalogue_table <- function(what = c("cutoffs", "findings", "rules", "glossary", "references")) {
  what <- check_choice(what, "what", names(CATALOGUE_TABLES))
  CATALOGUE_TABLES[[what]]()
}

CATALOGUE_TABLES <- list(
  cutoffs = function() {
    of_entries(catalogue("cutoffs"), "name", value = "value", label = "label", source = "source")
  },
  findings = function() {
    all <- lapply(finding_kinds(), function(one) {
      one$severity <- paste(one$severity, collapse = ", ")
      one
    })
    of_entries(all, "code", stage = "stage", severity = "severity", sentence = "text",
      meaning = "meaning")
  },
  rules = function() {
    of_entries(RULES, "rule", label = "label", misleads = "misleads", reference = "reference")
  },
  glossary = function() {
    words <- glossary_plain()
    tibble_of(term = names(words), meaning = unname(words))
  },
  references = function() {
    papers <- names(paper_specs())
    tibble_of(reference = papers, paper = vapply(papers, reference_text, "", USE.NAMES = FALSE))
  })

# Fields of a family's entries as columns, their names first.
of_entries <- function(entries, names, ...) {
  columns <- lapply(list(...), function(field) {
    values <- lapply(unname(entries), `[[`, field)
    unlist(values)
  })
  tibble::as_tibble(c(stats::setNames(list(base::names(entries)), names), columns))
}
