# A formula for a spreadsheet, in the form that XLSX files keep.

# Spreadsheet programs take no longer formulas.
MOST_CELL_CHARACTERS <- 8192L

write_cell_formulas <- function(formula, data, row) {
  if (is.null(data)) {
    stop_input("argument", "`data` must be given for a spreadsheet.", got = "It was left out.",
      todo = "Give the data frame or the file: its columns say which letter each item has.")
  }
  scores <- colnames(formula$values$weights)
  partial <- !is.null(formula$values$least)
  written <- vapply(seq_along(scores), function(j) {
    terms <- terms_of_score(formula, j)
    cells <- sprintf("$%s%d", column_letters(match(terms$item, names(data))), row)
    if (partial) return(partial_cells(formula, data, terms, cells))
    values <- unlist(Map(cell_value, cells, terms$item, MoreArgs = list(formula, data, "NA()")))
    products <- paste0(exactly(terms$weight), "*", values, collapse = "+")
    sprintf("=IFERROR(%s+%s,\"\")", exactly(formula$values$constant[j]), products)
  }, "")
  long <- nchar(written) > MOST_CELL_CHARACTERS
  if (any(long)) {
    stop_input("argument",
      sprintf("A formula must fit into a cell: %s characters.", format_count(MOST_CELL_CHARACTERS)),
      got = sprintf("Longer: %s.", name_culprits(scores[long])),
      todo = "Give answers as numbers (words take room), or take formula_code(x, \"r\").")
  }
  stats::setNames(written, scores)
}

# The mean of what is there, where enough is.
partial_cells <- function(formula, data, terms, cells) {
  values <- unlist(Map(cell_value, cells, terms$item, MoreArgs = list(formula, data, "NA()")))
  there <- sprintf("ISNUMBER(%s)", values)
  turned <- ifelse(terms$sign < 0, paste0(exactly(terms$turned), "-"), "")
  keyed <- sprintf("IFERROR(%s%s,0)", turned, values)
  count <- paste(there, collapse = "+")
  sprintf("=IF(%s>=%s,%s*(%s)/(%s),\"\")", count, exactly(terms$least), exactly(terms$whole),
    paste(keyed, collapse = "+"), count)
}

# The number in a cell, or `otherwise`: of a number that is not a code for a gap; of a word that is
# a label (programs compare words without regard to case).
cell_value <- function(cell, item, formula, data, otherwise) {
  codes <- codes_of_item(formula, item)
  good <- paste0("ISNUMBER(", cell, ")",
    paste0("*(", cell, "<>", exactly(codes$missing), ")", recycle0 = TRUE, collapse = ""))
  words <- otherwise
  if (holds_words(data, item)) {
    labels <- codes$labels[!codes$labels %in% codes$missing]
    for (i in rev(seq_along(labels))) {
      # (TRIM() leaves one of several blanks within)
      text <- gsub("\"", "\"\"", gsub(" +", " ", names(labels)[i]), fixed = TRUE)
      words <- sprintf("IF(TRIM(%s)=\"%s\",%s,%s)", cell, text, exactly(labels[[i]]), words)
    }
  }
  sprintf("IF(%s,%s,%s)", good, cell, words)
}

# 1 is A, 27 is AA.
column_letters <- function(at) {
  vapply(at, function(i) {
    letters <- character()
    while (i > 0) {
      letters <- c(LETTERS[(i - 1) %% 26 + 1], letters)
      i <- (i - 1) %/% 26
    }
    paste(letters, collapse = "")
  }, "")
}
