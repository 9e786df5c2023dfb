# Large delimited text that is plain (no letters beyond ASCII, no quotes, all lines of one length)
# is looked through once, and then read by data.table with what that said of each column: the same
# table as read-text.R makes of it, in less time and memory.

# What a file must have to be worth it.
PLAIN_BYTES <- 1e6

# The table, or NULL where it has to be read the other way. Columns of whole numbers are numbers,
# all others text; `whole` is how many are numbers.
read_plain_text <- function(file, delimiter, encoding, missing) {
  if (!may_be_plain(file, encoding, missing)) return(NULL)
  threads <- settle_threads(NULL)
  found <- scan_plain(file, delimiter, missing, threads)
  if (is.null(found)) return(NULL)
  data <- plain_columns_of(file, found, missing, threads)
  if (is.null(data) || nrow(data) != found$lines - 1) return(NULL)
  columns <- stats::setNames(as.list(data), found$names)
  rm(data)
  small <- which(found$whole == 1L)
  for (i in small) columns[[i]] <- as.numeric(columns[[i]])
  # (where a column is numbers, no line repeats the header)
  read <- list(columns = columns)
  if (!any(found$whole > 0)) read <- without_header_again(read)
  list(data = tibble::as_tibble(read$columns, .name_repair = "minimal"),
    how = c(delimiter_text(found$delimiter), "UTF-8"), whole = sum(found$whole > 0),
    findings = find_header_again(read$again))
}

may_be_plain <- function(file, encoding, missing) {
  size <- file.size(file)
  all(size >= PLAIN_BYTES, size <= MOST_BYTES, upper(c(encoding, "UTF-8")[1L]) == "UTF-8",
    !grepl("^\\s|\\s$|^$", missing), requireNamespace("data.table", quietly = TRUE),
    kind_of_file(file) == "text")
}

# What cpp_scan_cells() tells, with the delimiter and the columns' names.
scan_plain <- function(file, delimiter, missing, threads) {
  top <- lines_of(as_path(file), 20L)
  if (!all(validUTF8(top))) return(NULL)
  if (is.null(delimiter)) delimiter <- find_delimiter(top)
  if (nchar(delimiter, "bytes") != 1L) return(NULL)
  bytes <- readBin(as_path(file), "raw", file.size(file))
  found <- cpp_scan_cells(bytes, delimiter, missing, threads)
  rm(bytes)
  if (is.null(found) || length(found$whole) > MOST_COLUMNS) return(NULL)
  found$delimiter <- delimiter
  found$names <- names(parse_lines(top[1:2], delimiter, missing))
  # (a header of numbers may come again among numbers)
  odd <- length(found$names) != length(found$whole) || all(grepl("^[0-9]", found$names))
  if (!odd) found
}

# (`file` is a file that is there and was looked through: never a command or an address)
plain_columns_of <- function(file, found, missing, threads) {
  tryCatch(
    data.table::fread(file = file, sep = found$delimiter, header = TRUE, quote = "",
      na.strings = c("", missing),
      colClasses = c("character", "integer", "numeric")[found$whole + 1L], check.names = FALSE,
      data.table = FALSE, showProgress = FALSE, nThread = threads),
    warning = function(w) NULL, error = function(e) NULL)
}
