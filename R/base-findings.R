# Findings: what a stage noticed, one row each. Prints, reports and the command's exit status read
# them; no stage tells anything by another way.

SEVERITIES <- c("note", "caution", "serious")

# What each says stands in inst/catalogue/findings.yml, and what its fields are. The sentence takes
# what stands in `...`. `item`, `value` and `limit` may be NA: not every finding is about an item or
# a number. Several are made at once from vectors.
new_finding <- function(code, ..., item = NA_character_, value = NA_real_, limit = NA_real_,
    severity = NULL, stage = NULL) {
  spec <- finding_kinds()[[code]]
  if (is.null(spec)) stop("no finding is called ", code, call. = FALSE)
  if (is.null(severity)) severity <- spec$severity[1L]
  stopifnot(all(severity %in% spec$severity))
  columns <- list(stage = if (is.null(stage)) spec$stage else stage, code = code,
    severity = severity, item = as.character(item), value = as.numeric(value),
    limit = as.numeric(limit),
    text = visible_text(if (...length()) sprintf(spec$text, ...) else spec$text, blanks = TRUE))
  # one finding is made for each, hundreds in a run: tibble() itself would take most of a stage's
  # time
  rows <- if (any(lengths(columns) == 0L)) 0L else max(lengths(columns))
  stopifnot(lengths(columns) %in% c(0L, 1L, rows))
  tibble::new_tibble(lapply(columns, rep_len, rows), nrow = rows)
}

# Notes that explain what later stages show; cautions and serious findings travel anyway.
TRAVELLING_NOTES <- c("people_kept", "weighted", "n_of_tests")

# What an earlier stage noticed that later results must still say.
findings_that_travel <- function(findings) {
  if (is.null(findings)) return(NULL)
  findings[findings$severity != "note" | findings$code %in% TRAVELLING_NOTES, ]
}

# For reading: the same thing noticed of several items is told in one sentence (`many` of its spec),
# each with the `line` that does what it advises (base-advice.R) in the words of the `place`; tables
# and files have a row for each item. `x`: the result that tells them.
grouped_findings <- function(findings, x = NULL, place = "r") {
  findings$items <- as.list(findings$item)
  kinds <- paste(findings$code, findings$severity)
  for (kind in unique(kinds)) {
    code <- sub(" .*", "", kind)
    many <- if (code %in% names(finding_kinds())) finding_kinds()[[code]][["many"]]
    if (is.null(many)) next
    # of a group, the group's name stands first: these are left as they are
    named <- startsWith(findings$text, findings$item) | !startsWith(many, "%s")
    at <- which(kinds == kind & !is.na(findings$item) & named)
    if (length(at) < 2L) next
    limit <- if (grepl("%s.*%s", many)) format_unit(findings$limit[at[1L]])
    findings$text[at[1L]] <- do.call(sprintf,
      as.list(c(many, name_culprits(findings$item[at]), limit)))
    findings$items[[at[1L]]] <- findings$item[at]
    findings$item[at[1L]] <- NA_character_
    findings <- findings[-at[-1L], ]
    kinds <- kinds[-at[-1L]]
  }
  findings$line <- vapply(seq_len(nrow(findings)), function(i) {
    f <- findings[i, ]
    line <- advice_line(f$code, f$items[[1L]], f$limit, place, x)
    if (is.null(line)) "" else line
  }, "")
  findings
}

# What to say of a result beside these people: what was found about the answers of others stays with
# them.
ABOUT_ANSWERS <- c("reading", "questionnaire", "answers", "profile", "tables")

findings_on <- function(x, source) {
  told <- findings_that_travel(x$findings)
  if (identical(x$source$fingerprint, source$fingerprint)) return(told)
  told[!told$stage %in% ABOUT_ANSWERS & told$code != "n_of_tests", ]
}

# A stage's result with more findings.
add_findings <- function(x, more) {
  parts <- unclass(x)
  more$text <- in_called(more$text, x$source)
  parts$findings <- bind_findings(parts$findings, more)
  structure(parts, class = oldClass(x))
}

no_findings <- function() {
  words <- c("stage", "code", "severity", "item", "value", "limit", "text")
  columns <- stats::setNames(rep(list(character()), 7L), words)
  columns[c("value", "limit")] <- list(numeric())
  tibble::new_tibble(columns, nrow = 0L)
}

# Findings of several sources under each other, the most severe first within each stage.
bind_findings <- function(...) {
  given <- Filter(function(x) length(x) && nrow(x), list(...))
  if (!length(given)) return(no_findings())
  # what travelled by two ways stands once
  all <- unique(do.call(rbind, given))
  if (nrow(all) == 1L) return(all)
  stage <- match(all$stage, unique(all$stage))
  all[order(stage, -match(all$severity, SEVERITIES)), ]
}

#' What each finding says, and what to do
#'
#' Every stage shows what it noticed in `findings`, a table with one row each: `stage`, `code`,
#' `severity` (`"note"`: good to know; `"caution"`: look at it before going on; `"serious"`: results
#' mean little until it is settled), `item`, `value`, `limit` (the cut-off that the value is
#' compared with) and `text`. Prints, the report and the command read them.
#'
#' @eval describe_findings()
#' @seealso `catalogue_table("findings")`, the same as a table.
#' @family results
#' @name softsieve-findings
NULL

# For the help page: a section for each stage.
describe_findings <- function() {
  all <- finding_kinds()
  stages <- unique(vapply(all, `[[`, "", "stage"))
  vapply(stages, function(stage) {
    own <- Filter(function(one) one$stage == stage, all)
    each <- vapply(own, function(one) {
      severity <- paste(one$severity, collapse = " or ")
      sprintf("* `%s` (%s): %s", one$name, severity, one$meaning)
    }, "")
    paste(c(sprintf("@section Of %s:", stage), each), collapse = "\n")
  }, "")
}

# What each number means, and what to do when it is low: inst/catalogue/glossary.yml.

#' Words and numbers, and what to do when they are low
#'
#' @eval describe_glossary()
#' @references Bartlett (1951), Kaiser & Rice (1974), Cronbach (1951), McDonald (1999) and the
#'   others are given in full on the help pages of the stages that use them.
#' @name softsieve-glossary
NULL

describe_glossary <- function() {
  words <- unlist(catalogue("glossary"))
  terms <- sprintf("\\item{%s}{%s}", names(words), words)
  paste(c("@details \\describe{", terms, "}"), collapse = "\n")
}

# For reports: without the brackets of links.
glossary_plain <- function() gsub("\\[([a-z_]+\\(\\))\\]", "\\1", unlist(catalogue("glossary")))
