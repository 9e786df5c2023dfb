# Parquet files, database queries and Arrow streams as blocks. Tables of databases:
# read-database-table.R.

# Each file is read whole, in a process of its own (read-source-text.R): nothing that reads a part
# of one is there but a database, which hands out an Arrow stream.
is_source_parquet <- function(x) is.character(x) && length(x) > 0 && !anyNA(x) && all(is_parquet(x))

open_parquet <- function(x, asked) {
  files <- find_files(x)
  at <- 0L
  now <- NULL
  names <- read_apart(parquet_names, files[1L], NULL, "nanoparquet")
  check_column_names(names, basename(files[1L]))
  apart <- reader_apart(parquet_columns)
  list(columns = names, take = function() {
    repeat {
      block <- if (!is.null(now)) now$take()
      if (!is.null(block)) return(block)
      if (at == length(files)) return(NULL)
      at <<- at + 1L
      wanted <- list(columns = asked$columns, all = setequal(asked$columns, names))
      columns <- apart$take(files[at], files[at + 1L], wanted)
      now <<- open_frame(flat_columns(columns, files[at], "Parquet")$data, asked)
    }
  }, close = apart$close)
}

# (These two know nothing of the session that calls them: reader_apart().)
parquet_names <- function(file, none) {
  schema <- nanoparquet::read_parquet_schema(file)
  schema$name[is.na(schema$num_children)]
}

# (to choose columns takes longer than to read all of them)
parquet_columns <- function(file, asked) {
  lacks <- setdiff(asked$columns, nanoparquet::read_parquet_schema(file)$name)
  if (length(lacks)) {
    stop("The columns must be those of the first file: ", lacks[1L], " is missing.", call. = FALSE)
  }
  if (!asked$all) return(as.list(nanoparquet::read_parquet(file, col_select = asked$columns)))
  as.list(nanoparquet::read_parquet(file))[asked$columns]
}

is_parquet <- function(paths) {
  vapply(paths, function(path) {
    found <- if (file.exists(path)) path else utils::head(Sys.glob(path), 1L)
    length(found) == 1L && !dir.exists(found) && file.access(found, 4L) == 0 &&
      kind_of_file(found) == "parquet"
  }, NA)
}

# What DBI::dbSendQuery() gave. It is fetched from here to its end, and left to its owner to clear.
open_query <- function(x, asked) {
  list(columns = DBI::dbColumnInfo(x)$name, take = function() {
    if (DBI::dbHasCompleted(x)) return(NULL)
    block <- DBI::dbFetch(x, n = asked$rows)
    if (nrow(block) || !DBI::dbHasCompleted(x)) plain_columns(block)
  }, close = function() NULL)
}

# An Arrow stream, as ADBC drivers hand out: adbcdrivermanager::read_adbc(connection, "SELECT ...").
open_arrow <- function(x, asked) {
  list(columns = names(x$get_schema()$children), take = function() {
    piece <- x$get_next()
    if (is.null(piece)) return(NULL)
    plain_columns(as.data.frame(piece))
  }, close = function() nanoarrow::nanoarrow_pointer_release(x))
}

# Whole numbers of 64 bits (package bit64) as numbers; as text where they have more digits than a
# number keeps, as ids may.
plain_columns <- function(block) {
  long <- vapply(block, inherits, NA, "integer64")
  block[long] <- lapply(block[long], function(x) {
    text <- if (requireNamespace("bit64", quietly = TRUE)) {
      bit64::as.character.integer64(x)
    } else {
      trimws(format(x))
    }
    text[text %in% "NA"] <- NA
    if (any(nchar(sub("-", "", text, fixed = TRUE)) > 15L, na.rm = TRUE)) return(text)
    as.numeric(text)
  })
  block
}
