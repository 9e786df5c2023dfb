# Columns of tables as people read them.
#
# A column holds its numbers (`raw`), how they read (`text`), whether they stand to the right, and
# whether it is `roomy`: shown where there is room for it, on a wide terminal, in the report and in
# Word.

column <- function(raw, text, right) {
  text <- visible_text(unname(as.character(text)), blanks = TRUE)
  list(raw = raw, text = text, right = right, roomy = FALSE)
}

words <- function(x) column(x, ifelse(is.na(x), "", as.character(x)), FALSE)
# Words that stand to the right: numbers with something beside them.
figures <- function(x) column(x, ifelse(is.na(x), "", as.character(x)), TRUE)
units <- function(x, digits = 2L) column(x, format_unit(x, digits), TRUE)
numbers <- function(x, digits = 2L) column(x, format_number(x, digits), TRUE)
counts <- function(x) column(x, format_count(x), TRUE)
shares <- function(x, digits = 0L) column(x, format_share(x, digits), TRUE)
p_values <- function(x) column(x, ifelse(is.na(x), "", sub("^p = |^p ", "", format_p(x))), TRUE)
# Names of marks and rules as people write them: "cross_loading" with a hyphen.
hyphened <- function(x) gsub("_", " ", gsub("cross_loading", "cross-loading", x, fixed = TRUE))
wordings <- function(items) words(keyed_wording(items$wording, items$reversed))
with_limits <- function(x, lower, upper) {
  column(x, ifelse(is.na(x), "", paste0(format_unit(x), bracket(lower, upper))), TRUE)
}

# Numbers that stand back: blank where there is one ink, grey in Word.
faint <- function(column, at) {
  column$full <- column$text
  column$text[at] <- ""
  column$faint <- at
  column
}

roomy <- function(column) {
  column$roomy <- TRUE
  column
}
