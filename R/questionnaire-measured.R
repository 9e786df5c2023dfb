# Columns that are measured, not answered: which they are, and what is odd among them.

# Names of the measured items: those chosen, or all.
settle_measured <- function(measured, data) {
  if (is.null(measured) || rlang::quo_is_null(measured)) return(character())
  value <- tryCatch(rlang::eval_tidy(measured), error = function(e) NULL)
  if (isTRUE(value) || identical(value, "all") || identical(value, list("all"))) return(names(data))
  if (identical(value, FALSE)) return(character())
  select_columns(measured, data, "measured")
}

# Days and times among what nobody chose are no measurements: with all others measured they are
# kept apart, and said so (`days`).
set_days_apart <- function(data, selected) {
  if (is.null(selected$measured) || rlang::quo_is_null(selected$measured)) return(data)
  if (!rlang::quo_is_null(selected$items)) return(data)
  days <- names(data)[vapply(data, inherits, NA, what = c("Date", "POSIXt"))]
  known <- unlist(lapply(selected[c("id", "group", "cluster", "weight", "order")], function(one) {
    if (is.null(one)) character() else select_columns(one, data, "group")
  }))
  days <- setdiff(days, known)
  if (!length(days)) return(data)
  structure(data[setdiff(names(data), days)], days = days)
}

# (many different values: more than a scale of answers has)
MANY_VALUES <- 25L
FEW_VALUES <- 5L
OUTCOMES <- "^(y|target|outcome|response|label|class)$"

# `days`, `constant`: columns that were kept apart as dates, and as constants.
find_in_measurements <- function(x, days, constant) {
  told <- function(code, items, ..., value = NA_real_) {
    if (length(items)) new_finding(code, items, ..., item = items, value = value)
  }
  if (!ncol(x)) return(NULL)
  kinds <- apply(x, 2L, odd_kind)
  of <- function(kind) names(kinds)[kinds == kind]
  many <- apply(x, 2L, function(v) length(unique(v[!is.na(v)])))
  few <- if (stats::median(many) > MANY_VALUES) names(many)[many > 2L & many <= FEW_VALUES]
  sums <- made_of_others(x[, !kinds %in% c("constant", "running"), drop = FALSE])
  bind_findings(told("constant_column", constant), told("running_number", of("running")),
    told("id_like", of("id")), told("date_like", c(days, of("date"))),
    told("group_like", few, format_count(many[few]), value = many[few]),
    told("outcome_like", grep(OUTCOMES, lower(colnames(x)), value = TRUE)),
    told("follows_from_others", names(sums), unname(sums)))
}

# What the values of one column look like: constant, running (equal steps), id (whole numbers, each
# once, with few between left out), date (20260131), or nothing of these.
odd_kind <- function(v) {
  v <- v[!is.na(v)]
  n <- length(v)
  if (n < 2L || min(v) == max(v)) return("constant")
  if (any(v != round(v)) || anyDuplicated(v)) return("plain")
  steps <- diff(v)
  if (n >= 10L && min(steps) == max(steps)) return("running")
  days <- as.Date(format(v, scientific = FALSE), "%Y%m%d")
  dated <- all(v > 19000000 & v < 22000000) && !anyNA(days)
  if (dated) "date" else if (n >= 20L && max(v) - min(v) < 2 * n) "id" else "plain"
}

# Columns that are (nearly) a multiple of an earlier one, or a sum of earlier ones: of which.
made_of_others <- function(x) {
  x <- scale(x[stats::complete.cases(x), , drop = FALSE])
  found <- character()
  for (j in seq_len(ncol(x))[-1L]) {
    before <- setdiff(seq_len(j - 1L), match(names(found), colnames(x)))
    if (nrow(x) < length(before) + 3L) break
    fit <- stats::lm.fit(x[, before, drop = FALSE], x[, j])
    if (sum(fit$residuals^2) > 1e-4 * (nrow(x) - 1)) next
    parts <- fit$coefficients
    named <- colnames(x)[before][!is.na(parts) & abs(parts) > 0.01]
    found[colnames(x)[j]] <- name_culprits(named)
  }
  found
}

stop_constant <- function(constant) {
  stop_input("constant_item", "Two columns or more must vary.",
    got = sprintf("Constant: %s.", name_culprits(constant)),
    todo = "What never changes goes with nothing: name other columns.")
}

# Measured columns with one value, which are left out.
constant_columns <- function(data) {
  one <- vapply(data, function(x) is.numeric(x) && length(unique(x[!is.na(x)])) < 2L, NA)
  names(data)[one]
}
