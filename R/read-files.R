# Which reader reads which file. Each returns data (columns of text, or as the file has them typed),
# how (what was decided, in words) and findings.

read_table_file <- function(file, delimiter = NULL, encoding = NULL, missing = "NA", sheet = 1, call = caller_env()) {
  ending <- tolower(tools::file_ext(file))
  table <- switch(ending,
    xlsx = , xls = read_sheet(file, sheet, "readxl",
                              function(...) readxl::read_excel(..., col_types = "text",
                                                               .name_repair = "minimal"), call),
    ods = read_sheet(file, sheet, "xml2", read_ods_sheet, call),
    parquet = read_typed(file, "nanoparquet", function() nanoparquet::read_parquet(file), "Parquet", call),
    json = , jsonl = , ndjson = read_typed(file, "jsonlite", function() read_json_lines(file), "JSON lines", call),
    read_text_table(file, delimiter, encoding, missing, call)
  )
  check_column_names(names(table$data), basename(file), call)
  if (!nrow(table$data)) {
    stop_input("file_empty", "The file must have at least one line below its header.",
               got = sprintf("\"%s\" has a header of %s and no answers.", basename(file),
                             count_of(ncol(table$data), "column")), call = call)
  }
  table
}

read_sheet <- function(file, sheet, package, reader, call) {
  read <- read_with(package, function() reader(file, sheet = sheet), file, call)
  data <- tibble::as_tibble(lapply(read, function(x) {
    x <- trimws(as.character(x))
    x[!is.na(x) & (x == "" | x == "NA")] <- NA
    # sheets hold numbers in binary: 0.1 + 0.2 comes as 0.30000000000000004
    long <- !is.na(x) & grepl("^-?[0-9]+[.][0-9]{12,}$", x)
    x[long] <- format_plain(as.numeric(x[long]))
    x
  }), .name_repair = "minimal")
  list(data = data, how = sprintf("sheet %s", if (is.character(sheet)) sprintf("\"%s\"", sheet) else format(sheet)),
       findings = NULL)
}

format_plain <- function(x) vapply(x, function(one) format(one, digits = 12L, scientific = FALSE, trim = TRUE), "")

read_typed <- function(file, package, reader, how, call) {
  read <- read_with(package, reader, file, call)
  flat <- lapply(read, function(x) if (is.factor(x)) as.character(x) else x)
  odd <- names(flat)[!vapply(flat, function(x) is.numeric(x) || is.character(x) || is.logical(x), NA)]
  if (length(odd)) {
    stop_input("reader", "Every column must hold numbers or text.",
               got = sprintf("Not so in \"%s\": %s.", basename(file), name_culprits(odd)), call = call)
  }
  list(data = tibble::as_tibble(flat, .name_repair = "minimal"), how = how, findings = NULL)
}

# One object a line; an answer that a line leaves out is missing.
read_json_lines <- function(file) {
  lines <- readr::read_lines(file)
  rows <- lapply(lines[nzchar(trimws(lines))], jsonlite::fromJSON)
  names <- unique(unlist(lapply(rows, names)))
  columns <- lapply(stats::setNames(names, names), function(name) {
    unlist(lapply(rows, function(row) if (is.null(row[[name]])) NA else row[[name]]))
  })
  if (any(lengths(columns) != length(rows))) stop("an entry holds more than one value")
  columns
}

read_with <- function(package, reader, file, call) {
  if (!requireNamespace(package, quietly = TRUE)) {
    stop_input("reader", sprintf("Files like \"%s\" are read by the package %s, which must be installed.",
                                 basename(file), package),
               got = "It is not.", todo = sprintf("install.packages(\"%s\"), or save the file as CSV.",
                                                  package), call = call)
  }
  tryCatch(suppressMessages(reader()), error = function(e) {
    stop_input("reader", sprintf("\"%s\" must be a file that its ending promises.", basename(file)),
               got = conditionMessage(e),
               todo = "Is the sheet's name right? Does the file open in the program that wrote it?", call = call)
  })
}

# YAML as data: nothing in it is executed, and yes, no, y, n stay the words they are (an answer may
# be called "no", an item "n"). `what` is the class of the error and what the file is.
read_yaml_data <- function(file, what, call) {
  tryCatch(
    yaml::read_yaml(file, eval.expr = FALSE, handlers = list("bool#yes" = as.character, "bool#no" = as.character)),
    error = function(e) stop_input(what, sprintf("A %s file must be valid YAML.", what), got = conditionMessage(e),
                                   todo = "Look at that line: is the indentation even, with spaces and no tabs?", call = call)
  )
}
