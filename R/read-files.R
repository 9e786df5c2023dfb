# Which reader reads which file. A reader is a spec whose name starts with READER_
# (base-registry.R): name, label and order, and
#
#   endings  of the names of the files that it reads
#   package  what must be installed for it, or NULL
#   read     function(file, asked, call), asked a list of sheet, delimiter, encoding and missing;
#            gives data (columns of text, or as the file has them typed), how (what was decided, in
#            words) and findings
#
# A file with another ending is read as text.

READER_EXCEL <- spec(
  name = "excel",
  label = "XLSX and XLS sheets",
  order = 1,
  endings = c("xlsx", "xls"),
  package = "readxl",
  read = function(file, asked, call) {
    read_sheet(
      file,
      asked$sheet,
      "readxl",
      function(...) readxl::read_excel(..., col_types = "text", .name_repair = "minimal"),
      call
    )
  }
)

READER_ODS <- spec(
  name = "ods",
  label = "ODS sheets",
  order = 2,
  endings = "ods",
  package = "xml2",
  read = function(file, asked, call) read_sheet(file, asked$sheet, "xml2", read_ods_sheet, call)
)

READER_PARQUET <- spec(
  name = "parquet",
  label = "Parquet",
  order = 3,
  endings = "parquet",
  package = "nanoparquet",
  read = function(file, asked, call) {
    read <- function() nanoparquet::read_parquet(file)
    read_typed(file, "nanoparquet", read, "Parquet", call)
  }
)

READER_JSON_LINES <- spec(
  name = "json_lines",
  label = "JSON lines",
  order = 4,
  endings = c("json", "jsonl", "ndjson"),
  package = "jsonlite",
  read = function(file, asked, call) {
    read_typed(file, "jsonlite", function() read_json_lines(file, call), "JSON lines", call)
  }
)

reader_of <- function(file) {
  ending <- tolower(tools::file_ext(file))
  Find(function(one) ending %in% one$endings, specs("reader"))
}

read_table_file <- function(
  file,
  delimiter = NULL,
  encoding = NULL,
  missing = "NA",
  sheet = 1,
  call = caller_env(),
  header_rows = 1L
) {
  reader <- reader_of(file)
  asked <- list(delimiter = delimiter, encoding = encoding, missing = missing, sheet = sheet)
  table <- if (is.null(reader)) {
    read_text_table(file, delimiter, encoding, missing, call)
  } else {
    reader$read(file, asked, call)
  }
  check_column_names(names(table$data), basename(file), call)
  table <- settle_header(table, header_rows)
  if (!nrow(table$data)) {
    stop_input(
      "file_empty",
      "The file must have at least one line below its header.",
      got = sprintf(
        "\"%s\" has a header of %s and no answers.",
        basename(file),
        count_of(ncol(table$data), "column")
      ),
      call = call
    )
  }
  table
}

read_sheet <- function(file, sheet, package, reader, call) {
  read <- without_empty_edges(read_with(
    package,
    function() reader(file, sheet = sheet),
    file,
    call
  ))
  data <- tibble::as_tibble(
    lapply(read, function(x) {
      x <- trimws(as.character(x))
      x[!is.na(x) & (x == "" | x == "NA")] <- NA
      # sheets hold numbers in binary: 0.1 + 0.2 comes as 0.30000000000000004
      long <- !is.na(x) & grepl("^-?[0-9]+[.][0-9]{12,}$", x)
      x[long] <- format_plain(as.numeric(x[long]))
      x
    }),
    .name_repair = "minimal"
  )
  list(
    data = data,
    how = sprintf("sheet %s", if (is.character(sheet)) sprintf("\"%s\"", sheet) else format(sheet)),
    findings = NULL
  )
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
  vapply(x, function(one) format(one, digits = 12L, scientific = FALSE, trim = TRUE), "")
}

read_typed <- function(file, package, reader, how, call) {
  read <- read_with(package, reader, file, call)
  flat <- lapply(read, function(x) if (is.factor(x)) as.character(x) else x)
  odd <- names(flat)[
    !vapply(flat, function(x) is.numeric(x) || is.character(x) || is.logical(x), NA)
  ]
  if (length(odd)) {
    stop_input(
      "reader",
      "Every column must hold numbers or text.",
      got = sprintf("Not so in \"%s\": %s.", basename(file), name_culprits(odd)),
      call = call
    )
  }
  list(data = tibble::as_tibble(flat, .name_repair = "minimal"), how = how, findings = NULL)
}

# One object a line; an answer that a line leaves out is missing. Lines are parsed as text: nothing
# in them is opened.
read_json_lines <- function(file, call) {
  lines <- decode_file(file, NULL, call)$lines
  at <- which(nzchar(trimws(lines)))
  rows <- lapply(at, function(i) parse_json_line(lines[i], i, basename(file), call))
  names <- unique(unlist(lapply(rows, names)))
  lapply(stats::setNames(names, names), function(name) {
    unlist(lapply(rows, function(row) if (is.null(row[[name]])) NA else row[[name]]))
  })
}

parse_json_line <- function(line, number, name, call) {
  refuse <- function(got) {
    stop_input(
      "reader",
      "Every line of a JSON lines file must be an object of numbers, texts, true, false or null.",
      got = sprintf("\"%s\", line %d: %s.", name, number, got),
      todo = "For example {\"m1\": 4, \"cafe\": \"Harbour\"}.",
      call = call
    )
  }
  row <- tryCatch(jsonlite::parse_json(line), error = function(e) {
    refuse(sub("[.]?\\s*$", "", strsplit(conditionMessage(e), "\n")[[1L]][1L]))
  })
  if (!is.list(row) || (length(row) && is.null(names(row)))) refuse("it is no object")
  nested <- names(row)[vapply(row, function(part) is.list(part) || length(part) > 1L, NA)]
  if (length(nested)) refuse(sprintf("%s holds more than one value", name_culprits(nested)))
  twice <- unique(names(row)[duplicated(names(row))])
  if (length(twice)) refuse(sprintf("%s stands there twice", name_culprits(twice)))
  row
}

read_with <- function(package, reader, file, call) {
  if (!requireNamespace(package, quietly = TRUE)) {
    stop_input(
      "reader",
      sprintf(
        "Files like \"%s\" are read by the package %s, which must be installed.",
        basename(file),
        package
      ),
      got = "It is not.",
      todo = sprintf("install.packages(\"%s\"), or save the file as CSV.", package),
      call = call
    )
  }
  tryCatch(suppressMessages(reader()), error = function(e) {
    if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
    stop_input(
      "reader",
      sprintf("\"%s\" must be a file that its ending promises.", basename(file)),
      got = conditionMessage(e),
      todo = "Is the sheet's name right? Does the file open in the program that wrote it?",
      call = call
    )
  })
}

# YAML as data: nothing in it is executed, and yes, no, y, n stay the words they are (an answer may
# be called "no", an item "n"). `what` is the class of the error and what the file is.
read_yaml_data <- function(file, what, call) {
  tryCatch(
    yaml::read_yaml(
      file,
      eval.expr = FALSE,
      handlers = list("bool#yes" = as.character, "bool#no" = as.character)
    ),
    error = function(e) {
      stop_input(
        what,
        sprintf("A %s file must be valid YAML.", what),
        got = conditionMessage(e),
        todo = if (grepl("Duplicate", conditionMessage(e), fixed = TRUE)) {
          "Each entry stands once."
        } else {
          "Look at that line: is the indentation even, with spaces and no tabs?"
        },
        call = call
      )
    }
  )
}

# `rows`: 1 (names alone), 2 (wording below them), or NULL to find out. Wording becomes the columns'
# labels.
settle_header <- function(table, rows) {
  if (is.null(rows)) rows <- if (second_is_wording(table$data)) 2L else 1L
  if (rows == 1L || !nrow(table$data)) return(table)
  wording <- vapply(table$data, function(x) as.character(x[1L]), "")
  table$data <- table$data[-1L, ]
  table$labels <- wording
  table$findings <- bind_findings(
    table$findings,
    new_finding("wording_row", value = sum(!is.na(wording)))
  )
  table
}

# Text in the first row, in (nearly) all columns that hold numbers below it, and in two at least.
second_is_wording <- function(data) {
  if (nrow(data) < 2L) return(FALSE)
  looks_numeric <- function(x) grepl("^\\s*[-+]?[0-9]+([.,][0-9]+)?\\s*$", x)
  numbers_below <- vapply(
    data,
    function(x) {
      below <- x[-1L]
      below <- below[!is.na(below)]
      is.character(x) && length(below) > 0L && mean(looks_numeric(below)) > 0.8
    },
    NA
  )
  if (sum(numbers_below) < 2L) return(FALSE)
  first <- vapply(data[numbers_below], function(x) x[1L], "")
  mean(!is.na(first) & grepl("[[:alpha:]]", first)) > 0.8
}
