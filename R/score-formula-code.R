# A formula written for R, a spreadsheet or a database. An entry has a
# label, parameters and
#
#   write  function(formula, data, asked): text, named by score where there is one for each
#
# Names, labels and codes come from people's files: they stand in quotes of the language, doubled or
# escaped, and never as code.

FORMULAS <- family(
  r = spec(label = "R code", parameters = list(),
    write = function(formula, data, asked) write_r_formula(formula)),
  spreadsheet = spec(label = "spreadsheet formulas",
    parameters = list(row = parameter("integer", "row of the first person", 1L, 1048576L, 2L)),
    write = function(formula, data, asked) write_cell_formulas(formula, data, asked$row)),
  sql = spec(label = "SQL",
    parameters = list(table = parameter("text", "name of the table of answers",
      default = "answers")),
    write = function(formula, data, asked) write_sql_formula(formula, data, asked$table)))

#' @rdname score_formula
#' @param formula What `score_formula()` returns.
#' @param language `"r"` (a function of a data frame), `"spreadsheet"` (a formula for each score, in
#'   the form that XLSX files keep: English names, commas, decimal points), `"sql"` (a SELECT of
#'   standard SQL).
#' @param data A data frame of the answers, or a file of them ([read_responses()] reads it): its
#'   columns say which letter an item has in the spreadsheet (then it must be given), and whether
#'   answers are numbers or words.
#' @param ... For `"spreadsheet"`: `row` (of the first person, 2 when left out); for `"sql"`:
#'   `table` (`"answers"` when left out).
#' @return `formula_code()`: text; for `"spreadsheet"` one formula for each score, by its name.
#' @section Codes and words: Codes for no answer of the codebook count as missing answers in every
#'   language; labels are turned into numbers where `data` shows words (in R always). Answers
#'   outside the codebook's range, which [score_respondents()] refuses, are allowed for.
#' @export
formula_code <- function(formula, language = c("r", "spreadsheet", "sql"), data = NULL, ...) {
  check_class(formula, "formula", "score_formula", "score_formula()")
  language <- check_choice(language, "language", names(FORMULAS))
  asked <- settle_parameters(FORMULAS, language, list(...))
  if (is.character(data)) data <- read_responses(data)
  if (!is.null(data)) {
    if (!is.data.frame(data)) check_class(data, "data", "data.frame", "read_responses()")
    absent <- setdiff(rownames(formula$values$weights), names(data))
    if (length(absent)) {
      stop_input("other_items", "`data` must have the items of the formula.",
        got = sprintf("Not in the data: %s.", name_culprits(absent)),
        todo = hint_nearest(absent[1L], names(data)))
    }
  }
  FORMULAS[[language]]$write(formula, data, asked)
}

# A formula as R code: a function of a data frame, which needs no package.

write_r_formula <- function(formula) {
  v <- formula$values
  items <- rownames(v$weights)
  weights <- apply(v$weights, 1L, function(x) r_vector(exactly(x)))
  lines <- c("# Scores of people; `answers` is a data frame of answers as they were given.",
    "score_people <- function(answers) {",
    "  number <- function(x, labels = NULL, codes = NULL, missing = NULL) {",
    "    text <- tolower(trimws(as.character(x)))",
    "    found <- suppressWarnings(as.numeric(text))", "    at <- match(text, tolower(labels))",
    "    found[!is.na(at)] <- codes[at[!is.na(at)]]", "    found[found %in% missing] <- NA",
    "    found", "  }", sprintf("  items <- %s", r_vector(quote_r(items))),
    r_call("x <- cbind", vapply(items, function(item) r_item(formula, item), "")),
    r_call("weights <- rbind", weights), "  colnames(x) <- items",
    sprintf("  dimnames(weights) <- list(items, %s)", r_vector(quote_r(colnames(v$weights)))),
    "  counts <- weights != 0", if (is.null(v$least)) r_complete(v) else r_partial(v),
    "  as.data.frame(scores, optional = TRUE)", "}")
  paste0(paste(lines, collapse = "\n"), "\n")
}

# (names of arguments may mean something to cbind() and c(): there are none)
quote_r <- function(x) if (length(x)) encodeString(enc2utf8(x), quote = "\"") else character()
r_vector <- function(x) sprintf("c(%s)", paste(x, collapse = ", "))

# A call with one argument a line.
r_call <- function(head, arguments) {
  commas <- rep(c(",", ""), c(length(arguments) - 1L, 1L))
  c(sprintf("  %s(", head), paste0("    ", arguments, commas), "  )")
}

r_item <- function(formula, item) {
  codes <- codes_of_item(formula, item)
  arguments <- c(sprintf("answers[[%s]]", quote_r(item)), if (length(codes$labels)) {
    c(paste("labels =", r_vector(quote_r(names(codes$labels)))),
      paste("codes =", r_vector(exactly(unname(codes$labels)))))
  }, if (length(codes$missing)) paste("missing =", r_vector(exactly(codes$missing))))
  sprintf("number(%s)", paste(arguments, collapse = ", "))
}

# Scores of people who answered all items that count.
r_complete <- function(v) {
  c(sprintf("  constant <- %s", r_vector(exactly(v$constant))), "  gaps <- is.na(x)",
    "  x[gaps] <- 0", "  scores <- sweep(x %*% weights, 2, constant, \"+\")",
    "  scores[gaps %*% counts > 0] <- NA")
}

# Means (or sums) of the items that were answered.
r_partial <- function(v) {
  c(sprintf("  turned <- %s", r_vector(exactly(turned_by(v)))),
    sprintf("  least <- %s", r_vector(exactly(v$least))), "  there <- !is.na(x)",
    "  keyed <- sweep(sweep(x, 2, sign(rowSums(weights)), \"*\"), 2, turned, \"+\")",
    "  keyed[!there] <- 0", "  answered <- there %*% counts",
    "  scores <- sweep(keyed %*% counts / answered, 2, colSums(abs(weights)), \"*\")",
    "  scores[sweep(answered, 2, least, \"<\")] <- NA")
}

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
