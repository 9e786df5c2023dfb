# Findings: what a stage noticed, one row each. Prints, reports and the command's exit status read
# them; no stage tells anything by another way.

FINDING_SEVERITIES <- c("note", "caution", "serious")

# `item`, `value` and `limit` may be NA: not every finding is about an item or a number.
new_finding <- function(stage, code, severity, text, item = NA_character_, value = NA_real_, limit = NA_real_) {
  stopifnot(severity %in% FINDING_SEVERITIES)
  tibble::tibble(stage = stage, code = code, severity = severity, item = as.character(item),
                 value = as.numeric(value), limit = as.numeric(limit), text = text)
}

no_findings <- function() new_finding(character(), character(), character(), character(), character(), numeric(),
                                      numeric())

# Findings of several sources under each other, the most severe first within each stage.
bind_findings <- function(...) {
  all <- do.call(rbind, c(list(no_findings()), list(...)))
  stage <- match(all$stage, unique(all$stage))
  all[order(stage, -match(all$severity, FINDING_SEVERITIES)), ]
}
