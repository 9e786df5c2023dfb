# Tables as people read them: each is laid out once, and read by the terminal, the report, Word and
# files. The lists in the other files of this room have them by class, in their order. An entry has
# a label (its title) and
#
#   columns  function(x, part): a named list of columns (table-columns.R)
#   title    function(x): its title, where that depends on x
#   parts    function(x): names of the parts where there is one table for each (scales, say)
#   there    function(x): is there anything to show? (always, when left out)
#   most     how many rows the terminal shows, or a function(x) of it (all, when left out)
#   rest     function(count): what it says of the others
#   cut      does the report show no more than the terminal, either?
#   note     function(x): lines that explain it; note_word: the same for Word, where that differs
#   file     under which name write_results() saves it, or a function(x) of it, with all that `data`
#            has
#   data     function(x): all there is, for files; the main table of x when left out

all_tables <- function() {
  c(NUMBER_TABLES, OUTCOME_TABLES, PROFILE_TABLES, RELIABILITY_TABLES, SCORE_TABLES, SIFT_TABLES,
    SOLUTION_TABLES, STUDY_TABLES, TRUST_TABLES)
}

# The tables of a result, in their order.
tables_of <- function(x) {
  own <- all_tables()[[class(x)[1L]]]
  Filter(function(one) is.null(one[["there"]]) || one[["there"]](x), own)
}

# One of them: its title, columns and notes; of `part`, where it has parts.
table_of <- function(x, what = NULL, part = NULL) {
  own <- tables_of(x)
  spec <- if (is.null(what)) own[[1L]] else own[[what]]
  if (is.null(spec)) stop("no table of ", class(x)[1L], " is called ", what, call. = FALSE)
  columns <- if (is.null(spec[["parts"]])) spec$columns(x) else spec$columns(x, part)
  columns <- columns[!vapply(columns, is.null, NA)]
  # (items may have no wording)
  if (!any(nzchar(columns[["wording"]]$text))) columns[["wording"]] <- NULL
  said <- function(text) in_called(visible_text(text, blanks = TRUE), x$source)
  names(columns) <- said(names(columns))
  list(title = said(title_of(spec, x, part)), columns = columns,
    most = if (is.function(spec[["most"]])) spec[["most"]](x) else spec[["most"]],
    rest = if (!is.null(spec[["rest"]])) function(count) said(spec[["rest"]](count)),
    cut = isTRUE(spec[["cut"]]), note = if (!is.null(spec[["note"]])) said(spec[["note"]](x)),
    note_word = if (!is.null(spec[["note_word"]])) said(spec[["note_word"]](x)))
}

title_of <- function(spec, x, part) {
  if (!is.null(spec[["title"]])) return(spec[["title"]](x))
  if (is.null(part)) spec$label else sprintf(spec$label, part)
}

# The parts that a table comes in, or NULL once.
parts_of <- function(x, what) {
  parts <- tables_of(x)[[what]][["parts"]]
  if (is.null(parts)) list(NULL) else as.list(parts(x))
}

has_table <- function(x, what) what %in% names(tables_of(x))

# Its text, as a list of columns: what the terminal and Word lay out.
table_cells <- function(table, roomy) {
  shown <- Filter(function(one) roomy || !one$roomy, table$columns)
  list(text = lapply(shown, `[[`, "text"), right = vapply(shown, `[[`, NA, "right"))
}

# Words that stand last should still be readable beside roomy columns.
ROOMY_WORDS <- 40L

has_room <- function(cells, indent) {
  widths <- column_widths(cells$text)
  last <- length(widths)
  if (!cells$right[last]) widths[last] <- min(widths[last], ROOMY_WORDS)
  sum(widths + 2L) - 2L + nchar(indent) <= console_width()
}

# Its lines on a terminal; "" in front where there is a title above.
table_text <- function(x, what = NULL, part = NULL, titled = FALSE, indent = "  ") {
  if (!is.null(what) && !has_table(x, what)) return(character())
  table <- table_of(x, what, part)
  cells <- table_cells(table, roomy = has_room(table_cells(table, roomy = TRUE), indent))
  rows <- length(cells$text[[1L]])
  shown <- min(rows, table$most)
  text <- lapply(cells$text, utils::head, shown)
  c(if (titled) c("", paste0("  ", table$title)),
    if (shown) table_lines(text, unname(cells$right), indent = indent),
    if (rows > shown) paste0("  ", table$rest(rows - shown)))
}

# More would take a word processor, and the package that writes it, minutes.
MOST_WORD_ROWS <- 300L

# For Word: `frame` of text, which columns stand to the `right`, and which cells are `faint`.
word_cells <- function(table) {
  inked <- lapply(table$columns, function(one) if (is.null(one$full)) one$text else one$full)
  list(frame = as.data.frame(inked, check.names = FALSE),
    right = unname(vapply(table$columns, `[[`, NA, "right")),
    faint = lapply(unname(table$columns), function(one) which(one$faint %in% TRUE)),
    note = if (is.null(table$note_word)) table$note else table$note_word)
}

head_of_cells <- function(cells, rows) {
  cells$frame <- utils::head(cells$frame, rows)
  cells$faint <- lapply(cells$faint, function(at) at[at <= rows])
  cells
}

# All tables of a result for Word (word_cells()), named by their titles.
tables_for_word <- function(x, what = NULL) {
  own <- tables_of(x)
  if (!is.null(what)) own <- own[what]
  if (!is_result(x, "softsieve_result") || !length(own)) {
    number <- unname(vapply(as_tibble(x), is.numeric, NA))
    return(list(Table = list(frame = plain_text(x), right = number)))
  }
  made <- lapply(names(own), function(name) {
    parts <- parts_of(x, name)
    tables <- lapply(parts, function(part) table_of(x, name, part))
    frames <- lapply(tables, function(table) {
      made <- word_cells(table)
      # a table that the report cuts is cut here, where it would be too long for Word
      if (table$cut && nrow(made$frame) > MOST_WORD_ROWS) head_of_cells(made, table$most) else made
    })
    stats::setNames(frames, vapply(tables, `[[`, "", "title"))
  })
  do.call(c, made)
}

# A data frame as text: whole numbers whole, others with two decimals.
plain_text <- function(x) {
  columns <- lapply(as_tibble(x), function(column) {
    if (!is.numeric(column)) return(ifelse(is.na(column), "", as.character(column)))
    if (all(column == round(column), na.rm = TRUE)) format_count(column) else format_number(column)
  })
  all_visible(as.data.frame(columns, check.names = FALSE))
}

# What files save of a result's table: everything, in full.
table_data <- function(x, what = NULL) {
  if (is.null(what)) return(as_tibble(x))
  spec <- tables_of(x)[[what]]
  if (!is.null(spec[["data"]])) return(spec[["data"]](x))
  parts <- parts_of(x, what)
  one <- function(part) {
    columns <- lapply(table_of(x, what, part)$columns, `[[`, "raw")
    if (is.null(part)) tibble::as_tibble(columns) else tibble::tibble(part = part, !!!columns)
  }
  do.call(rbind, lapply(parts, one))
}
