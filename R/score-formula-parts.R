# What a formula is written of: numbers in full, the terms of a score, codes and words.

# With all digits that a number has; E-notation keeps databases from taking decimals for exact.
exactly <- function(x, e = FALSE) {
  text <- sprintf(if (e) "%.16e" else "%.17g", x)
  # 17 digits where 15 say the same are hard to read
  short <- sprintf(if (e) "%.14e" else "%.15g", x)
  ifelse(as.numeric(short) == x, short, text)
}

# What is known of an item's codes: numbers for no answer, and labels (named by the words, lower
# case), where the key has them.
codes_of_item <- function(formula, item) {
  key <- formula$values$key
  row <- if (is.null(key)) NA else match(item, key$item)
  if (is.na(row)) return(list(missing = numeric(), labels = NULL, possible = numeric()))
  missing <- if (is.null(key$missing_codes)) numeric() else key$missing_codes[[row]]
  ends <- c(key$lowest[row], key$highest[row])
  whole <- checkmate::test_integerish(ends, any.missing = FALSE) && diff(ends) <= 100
  list(missing = as.numeric(missing), labels = key$labels[[row]],
    possible = if (whole) seq(ends[1L], ends[2L]) else numeric())
}

# The terms of one score: item, weight, and where gaps are passed over `sign` and `turned`: the
# keyed answer is sign * x + turned, and the score `whole` times the mean of these.
terms_of_score <- function(formula, j) {
  v <- formula$values
  at <- which(v$weights[, j] != 0)
  list(item = rownames(v$weights)[at], weight = unname(v$weights[at, j]),
    sign = unname(sign(v$weights[at, j])), turned = turned_by(v)[at],
    whole = sum(abs(v$weights[at, j])), least = v$least[j])
}

# lowest + highest of reversed items, 0 of the others.
turned_by <- function(v) {
  if (is.null(v$key)) return(rep(0, nrow(v$weights)))
  ifelse(v$items$reversed %in% TRUE, v$key$lowest + v$key$highest, 0)
}

# Does the item's column hold words (as far as the data show)?
holds_words <- function(data, item) {
  if (is.null(data)) return(FALSE)
  x <- data[[item]]
  (is.character(x) || is.factor(x)) &&
    any(is.na(suppressWarnings(as.numeric(as.character(x[!is.na(x)])))))
}
