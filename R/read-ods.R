# OpenDocument sheets: a zip file with a content.xml. Read with xml2, as text.

# `sheet` is a name or a number. Rows and columns that the format writes once with a count are
# spelled out; empty ones at the edges are left out.
read_ods_sheet <- function(file, sheet) {
  folder <- tempfile("ods-")
  on.exit(unlink(folder, recursive = TRUE, expand = FALSE), add = TRUE)
  utils::unzip(file, "content.xml", exdir = folder)
  tables <- xml2::xml_find_all(xml2::read_xml(file.path(folder, "content.xml")), "//table:table")
  names <- xml2::xml_attr(tables, "name")
  at <- if (is.character(sheet)) match(sheet, names) else as.integer(sheet)
  if (is.na(at) || at < 1L || at > length(tables)) {
    stop(sprintf("it has no sheet %s; its sheets: %s", sheet, name_culprits(names)))
  }
  elements <- xml2::xml_find_all(tables[[at]], ".//table:table-row")
  rows <- lapply(elements, ods_row)
  times <- ods_repeats(elements, "number-rows-repeated")
  # the empty rows that fill a sheet to its end are written once, with a count of a million
  last <- max(0L, which(lengths(rows) > 0L))
  check_reach(max(lengths(rows)) * sum(as.numeric(times[seq_len(last)])))
  rows <- rep(rows[seq_len(last)], times[seq_len(last)])
  if (!length(rows)) return(list())
  width <- max(lengths(rows))
  cells <- do.call(rbind,
    lapply(rows, function(row) c(row, rep(NA_character_, width - length(row)))))
  columns <- lapply(seq_len(width), function(j) cells[-1L, j])
  stats::setNames(columns, ifelse(is.na(cells[1L, ]), "", cells[1L, ]))
}

# The cells of a row as text, up to the last that is not empty.
ods_row <- function(row) {
  cells <- xml2::xml_children(row)
  if (!length(cells)) return(character())
  number <- xml2::xml_attr(cells, "value")
  text <- vapply(cells,
    function(cell) paste(xml2::xml_text(xml2::xml_find_all(cell, "./text:p")), collapse = "\n"),
    "")
  value <- ifelse(is.na(number), text, number)
  value[!nzchar(value)] <- NA
  times <- ods_repeats(cells, "number-columns-repeated")
  last <- max(0L, which(!is.na(value)))
  check_reach(sum(as.numeric(times[seq_len(last)])) * MOST_CELLS / MOST_COLUMNS)
  rep(value[seq_len(last)], times[seq_len(last)])
}

check_reach <- function(cells) {
  if (!isTRUE(cells <= MOST_CELLS)) stop("it repeats cells or rows without end", call. = FALSE)
}

# How often an element stands there.
ods_repeats <- function(elements, attribute) {
  times <- xml2::xml_attr(elements, attribute)
  times <- ifelse(is.na(times), 1, suppressWarnings(as.numeric(times)))
  if (anyNA(times) || any(times < 1)) stop("it repeats cells or rows less than once", call. = FALSE)
  times
}
