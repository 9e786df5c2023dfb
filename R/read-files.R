# Which reader reads which file. An entry has a label and
#
#   kinds    what files it reads, by their first bytes (read-bytes.R), or NULL: text files that
#   endings  have these endings of their names
#   read     function(file, asked), asked a list of sheet, delimiter, encoding and missing;
#            gives data (columns of text, or as the file has them typed), how (what was decided, in
#            words) and findings
#
# Any other text is read as delimited text, whatever the file is called.

READERS <- family(
  excel = spec(label = "XLSX and XLS sheets", kinds = c("xlsx", "excel_old"),
    endings = c("xlsx", "xls"),
    read = function(file, asked) {
      # (its names are repaired by nobody: ours are looked at)
      read <- function(file, sheet) {
        suppressMessages(
          as.list(readxl::read_excel(file, sheet, col_types = "text", .name_repair = "minimal")))
      }
      read_sheet(read_apart(read, file, asked$sheet, "readxl"), asked$sheet)
    }),
  ods = spec(label = "ODS sheets", kinds = "ods", endings = "ods", read = function(file, asked) {
    read_sheet(read_apart(read_ods_sheet, file, asked$sheet, "xml2"), asked$sheet)
  }),
  parquet = spec(label = "Parquet", kinds = "parquet", endings = "parquet",
    read = function(file, asked) {
      read <- function(file, sheet) as.list(nanoparquet::read_parquet(file))
      flat_columns(read_apart(read, file, NULL, "nanoparquet"), file, "Parquet")
    }),
  json_lines = spec(label = "JSON lines", kinds = NULL, endings = c("json", "jsonl", "ndjson"),
    read = function(file, asked) {
      needs_reader("jsonlite", file)
      flat_columns(read_json_lines(file, asked$encoding), file, "JSON lines")
    }))

reader_of <- function(file) {
  kind <- kind_of_file(file)
  if (kind == "zip") kind <- kind_of_zip(file)
  by_kind <- Find(function(one) kind %in% one$kinds, READERS)
  if (!is.null(by_kind)) return(by_kind)
  ending <- plain_ending(file)
  Find(function(one) is.null(one$kinds) && ending %in% one$endings, READERS)
}

# The ending of a file's name, without that of what it is packed by.
plain_ending <- function(file) tools::file_ext(sub("[.](gz|xz)$", "", lower(basename(file))))

# `typed`: may columns of text files come as numbers?
read_table_file <- function(file, delimiter = NULL, encoding = NULL, missing = "NA", sheet = 1,
    header_rows = 1L, typed = FALSE) {
  check_reading(delimiter, encoding, missing, sheet)
  reader <- reader_of(file)
  asked <- list(delimiter = delimiter, encoding = encoding, missing = missing, sheet = sheet)
  table <- if (!is.null(reader)) {
    reader$read(file, asked)
  } else {
    plain <- if (typed) read_plain_text(file, delimiter, encoding, missing)
    if (is.null(plain)) read_text_table(file, delimiter, encoding, missing) else plain
  }
  check_column_names(names(table$data), basename(file))
  check_size(table$data, file)
  table <- settle_header(table, header_rows)
  if (!nrow(table$data)) {
    stop_input("file_empty",
      "The file must have at least one line below its header.",
      got = sprintf("\"%s\" has a header of %s and no answers.", basename(file),
        count_of(ncol(table$data), "column")))
  }
  table
}

check_size <- function(data, file, people = nrow(data)) {
  if (ncol(data) > MOST_COLUMNS) stop_too_large(file, "columns")
  if (as.numeric(people) * ncol(data) > MOST_CELLS) stop_too_large(file, "cells")
}

# What can be asked of all readers.
check_reading <- function(delimiter, encoding, missing, sheet) {
  marks <- is.null(delimiter) ||
    (is_text(delimiter) && nchar(delimiter) == 1L && !grepl("[[:alnum:]\"\r\n]", delimiter))
  if (!marks) {
    stop_input("argument", "`delimiter` must be one character that stands between cells.",
      got = describe_value(delimiter),
      todo = "For example delimiter = \";\"; left out, it is found.")
  }
  if (!is.null(encoding)) check_text(encoding, "encoding")
  if (!identical(missing, character())) check_words(missing, "missing")
  if (!is.character(sheet)) check_whole(sheet, "sheet", 1L)
  check_text(as.character(sheet), "sheet")
}

# Columns of a sheet as text.
read_sheet <- function(read, sheet) {
  read <- without_empty_edges(read)
  data <- tibble::as_tibble(
    lapply(read, function(x) {
      x <- trimws(as.character(x))
      x[!is.na(x) & (x == "" | x == "NA")] <- NA
      # sheets hold numbers in binary: 0.1 + 0.2 comes as 0.30000000000000004
      long <- !is.na(x) & grepl("^-?[0-9]+[.][0-9]{12,}$", x)
      x[long] <- format_plain(as.numeric(x[long]))
      x
    }),
    .name_repair = "minimal")
  list(data = data,
    how = sprintf("sheet %s", if (is.character(sheet)) sprintf("\"%s\"", sheet) else format(sheet)),
    findings = NULL)
}

# Sheets often reach further than what is in them: empty rows at the end, and empty columns without
# a name, go.
without_empty_edges <- function(columns) {
  empty <- function(x) is.na(x) | !nzchar(trimws(as.character(x)))
  columns <- as.list(columns)
  named <- !is.na(names(columns)) & nzchar(trimws(names(columns)))
  last <- max(0L, which(named | !vapply(columns, function(x) all(empty(x)), NA)))
  columns <- columns[seq_len(last)]
  if (!length(columns)) return(columns)
  filled <- Reduce(`|`, lapply(columns, function(x) !empty(x)))
  lapply(columns, utils::head, max(0L, which(filled)))
}

format_plain <- function(x) {
  vapply(x, format, "", digits = 12L, scientific = FALSE, trim = TRUE, decimal.mark = ".")
}

flat_columns <- function(read, file, how) {
  flat <- lapply(read, function(x) if (is.factor(x)) as.character(x) else x)
  odd <- names(flat)[
    !vapply(flat, function(x) is.numeric(x) || is.character(x) || is.logical(x), NA)
  ]
  if (length(odd)) {
    stop_input("reader", "Every column must hold numbers or text.",
      got = sprintf("Not so in \"%s\": %s.", basename(file), name_culprits(odd)))
  }
  list(data = tibble::as_tibble(flat, .name_repair = "minimal"), how = how, findings = NULL)
}

# `rows`: 1 (names alone), 2 (wording below them), 3 (wording and codes), or NULL to find out. Of
# the rows below the names the one with more spaces is wording: it becomes the columns' labels.
settle_header <- function(table, rows) {
  if (is.null(rows)) rows <- 1L + header_rows_below(table$data, table$whole)
  if (rows == 1L || !nrow(table$data)) return(table)
  below <- utils::head(table$data, rows - 1L)
  below <- vapply(below, as.character, character(nrow(below)))
  below <- matrix(below, nrow = min(rows - 1L, nrow(table$data)))
  spaces <- array(lengths(regmatches(below, gregexpr("\\s", below))), dim(below))
  at <- which.max(rowSums(spaces))
  table$data <- table$data[-seq_len(nrow(below)), ]
  table$labels <- stats::setNames(below[at, ], names(table$data))
  table$findings <- bind_findings(table$findings,
    new_finding(if (nrow(below) == 1L) "wording_row" else "header_rows",
      value = sum(!is.na(table$labels))))
  table
}

# How many rows below the names describe columns: two at most. `whole`: how many columns of text
# hold numbers throughout.
ENOUGH_TO_TELL <- 1000L
header_rows_below <- function(data, whole = NULL) {
  data <- utils::head(data, ENOUGH_TO_TELL)
  # (below a row of wording a row of codes keeps a column from being numeric: the second is first)
  if (describes_columns(data[-1L, ], whole) && letters_in(data[1L, ]) > 0.8) return(2L)
  if (describes_columns(data, whole)) 1L else 0L
}

letters_in <- function(row) {
  told <- vapply(row, function(x) is.character(x) && grepl("[[:alpha:]]", x), NA)
  sum(told) / max(1L, sum(!is.na(row)))
}

# Words in the first row, in (nearly) all columns that hold numbers below it, or else a few words
# again and again, of which it is none; and in two columns at least.
describes_columns <- function(data, whole) {
  if (nrow(data) < 2L) return(FALSE)
  told <- vapply(data, begins_with_words, NA)
  all <- sum(!is.na(told), whole)
  all >= 2L && sum(told, na.rm = TRUE) > 0.8 * all
}

# Is the first of these words about the others? NA where a column cannot tell.
FEWEST_TO_TELL <- 20L
begins_with_words <- function(x) {
  if (!is.character(x)) return(NA)
  below <- x[-1L][!is.na(x[-1L])]
  if (!length(below)) return(NA)
  lettered <- !is.na(x[1L]) && grepl("[[:alpha:]]", x[1L])
  if (mean(grepl("^\\s*[-+]?[0-9]+([.,][0-9]+)?\\s*$", below)) > 0.8) return(lettered)
  words <- unique(below)
  again <- length(below) >= FEWEST_TO_TELL && length(words) <= length(below) / 5
  if (!again) return(NA)
  lettered && !x[1L] %in% words && nchar(x[1L]) > max(nchar(words))
}

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
