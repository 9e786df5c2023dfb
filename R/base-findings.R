# Findings: what a stage noticed, one row each. Prints, reports and the command's exit status read
# them; no stage tells anything by another way.

FINDING_SEVERITIES <- c("note", "caution", "serious")

# `item`, `value` and `limit` may be NA: not every finding is about an item or a number.
new_finding <- function(
  stage,
  code,
  severity,
  text,
  item = NA_character_,
  value = NA_real_,
  limit = NA_real_
) {
  stopifnot(severity %in% FINDING_SEVERITIES)
  columns <- list(
    stage = stage,
    code = code,
    severity = severity,
    item = as.character(item),
    value = as.numeric(value),
    limit = as.numeric(limit),
    text = text
  )
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

no_findings <- function() {
  new_finding(character(), character(), character(), character(), character(), numeric(), numeric())
}

# Findings of several sources under each other, the most severe first within each stage.
bind_findings <- function(...) {
  given <- Filter(function(x) length(x) && nrow(x), list(...))
  if (!length(given)) return(no_findings())
  # what travelled by two ways stands once
  all <- unique(do.call(rbind, given))
  if (nrow(all) == 1L) return(all)
  stage <- match(all$stage, unique(all$stage))
  all[order(stage, -match(all$severity, FINDING_SEVERITIES)), ]
}
