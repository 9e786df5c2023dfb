# A formula as a SELECT of standard SQL.

write_sql_formula <- function(formula, data, table) {
  scores <- colnames(formula$values$weights)
  from <- quote_sql(table)
  columns <- vapply(seq_along(scores), function(j) {
    terms <- terms_of_score(formula, j)
    values <- vapply(terms$item, function(item) sql_value(formula, data, from, item), "")
    written <- if (is.null(formula$values$least)) {
      products <- sprintf("%s * %s", sql_number(terms$weight), values)
      paste(c(sql_number(formula$values$constant[j]), products), collapse = "\n    + ")
    } else {
      partial_sql(terms, values)
    }
    sprintf("  %s AS %s", written, quote_sql(scores[j]))
  }, "")
  sprintf("SELECT\n  %s.*,\n%s\nFROM %s\n", from, paste(columns, collapse = ",\n"), from)
}

quote_sql <- function(x) sprintf("\"%s\"", gsub("\"", "\"\"", x, fixed = TRUE))

# E-notation: databases take a plain decimal for an exact number of few digits.
sql_number <- function(x) {
  text <- upper(exactly(x, e = TRUE))
  ifelse(x < 0, sprintf("(%s)", text), text)
}

partial_sql <- function(terms, values) {
  turned <- ifelse(terms$sign < 0, paste(exactly(terms$turned), "- "), "")
  keyed <- sprintf("COALESCE(%s%s, 0)", turned, values)
  count <- paste(sprintf("CASE WHEN %s IS NULL THEN 0 ELSE 1 END", values), collapse = "\n      + ")
  # in E-notation, so that no database divides whole numbers
  sprintf("CASE WHEN %s >= %s\n    THEN %s * (%s)\n    / (%s) END", count, exactly(terms$least),
    sql_number(terms$whole), paste(keyed, collapse = "\n      + "), count)
}

# The number in a column, NULL where it is a code for a gap or no label.
sql_value <- function(formula, data, from, item) {
  codes <- codes_of_item(formula, item)
  column <- paste0(from, ".", quote_sql(item))
  labels <- codes$labels[!codes$labels %in% codes$missing]
  unseen <- is.null(data) && any(names(labels) != exactly(labels))
  if (!unseen && !holds_words(data, item)) {
    for (code in codes$missing) column <- sprintf("NULLIF(%s, %s)", column, exactly(code))
    return(column)
  }
  text <- if (unseen) sprintf("CAST(%s AS VARCHAR(1000))", column) else column
  found <- sql_words(labels, setdiff(codes$possible, codes$missing))
  sprintf("CASE LOWER(TRIM(%s)) %s END", text, paste(found, collapse = " "))
}

# Labels and, as numbers may stand among words, the numbers. Some databases know no capitals beyond
# A to Z: there, such a letter is looked for as a capital, too.
sql_words <- function(labels, possible) {
  spelt <- lapply(names(labels), capitals_beyond)
  number <- exactly(union(unname(labels), possible))
  words <- c(unlist(spelt), number, paste0(number, ".0"))
  to <- c(rep(exactly(unname(labels)), lengths(spelt)), number, number)
  first <- !duplicated(words)
  sprintf("WHEN '%s' THEN %s", gsub("'", "''", words[first], fixed = TRUE), to[first])
}

# A word in small letters; with its first letter, and with all letters, beyond ASCII as capitals.
capitals_beyond <- function(word) {
  word <- lower(word)
  letters <- strsplit(word, "")[[1L]]
  far <- vapply(letters, utf8ToInt, 0L) > 127L
  if (!any(far)) return(word)
  all <- ifelse(far, upper(letters), letters)
  unique(c(word, paste(c(all[1L], letters[-1L]), collapse = ""), paste(all, collapse = "")))
}
