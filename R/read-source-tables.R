# Parquet files, database queries and Arrow streams as blocks.

# Each file is read whole, in a process of its own (read-apart.R): nothing that reads a part of one
# is there but a database, which hands out an Arrow stream.
SOURCE_PARQUET <- spec(
  name = "parquet",
  label = "Parquet files",
  order = 3,
  takes = function(x) {
    is.character(x) && length(x) > 0 && !anyNA(x) && all(is_parquet(x))
  },
  package = "nanoparquet",
  open = function(x, asked, call) {
    files <- find_files(x, call)
    at <- 0L
    now <- NULL
    read <- function(file, columns) as.list(nanoparquet::read_parquet(file, col_select = columns))
    columns_of <- function(file, none) nanoparquet::read_parquet_schema(file)
    schema <- read_apart(columns_of, files[1L], NULL, "nanoparquet", call)
    names <- schema$name[is.na(schema$num_children)]
    check_column_names(names, basename(files[1L]), call)
    list(
      columns = names,
      take = function() {
        repeat {
          block <- if (!is.null(now)) now$take()
          if (!is.null(block)) return(block)
          if (at == length(files)) return(NULL)
          at <<- at + 1L
          columns <- read_apart(read, files[at], asked$columns, "nanoparquet", call)
          flat <- flat_columns(columns, files[at], "Parquet", call)$data
          now <<- SOURCE_FRAME$open(flat, asked, call)
        }
      },
      close = function() now <<- NULL
    )
  }
)

is_parquet <- function(paths) {
  vapply(
    paths,
    function(path) {
      found <- if (file.exists(path)) path else utils::head(Sys.glob(path), 1L)
      length(found) == 1L && !dir.exists(found) && kind_of_file(found) == "parquet"
    },
    NA
  )
}

# What DBI::dbSendQuery() gave. It is fetched from here to its end, and left to its owner to clear.
SOURCE_QUERY <- spec(
  name = "query",
  label = "what DBI::dbSendQuery() gave",
  order = 5,
  takes = function(x) methods::is(x, "DBIResult"),
  package = "DBI",
  open = function(x, asked, call) {
    list(
      columns = DBI::dbColumnInfo(x)$name,
      take = function() {
        if (DBI::dbHasCompleted(x)) return(NULL)
        block <- DBI::dbFetch(x, n = asked$rows)
        if (nrow(block) || !DBI::dbHasCompleted(x)) plain_columns(block)
      },
      close = function() NULL
    )
  }
)

# An Arrow stream, as ADBC drivers hand out: adbcdrivermanager::read_adbc(connection, "SELECT ...").
SOURCE_ARROW <- spec(
  name = "arrow",
  label = "an Arrow stream",
  order = 6,
  takes = function(x) inherits(x, "nanoarrow_array_stream"),
  package = "nanoarrow",
  open = function(x, asked, call) {
    list(
      columns = names(x$get_schema()$children),
      take = function() {
        piece <- x$get_next()
        if (is.null(piece)) return(NULL)
        plain_columns(as.data.frame(piece))
      },
      close = function() nanoarrow::nanoarrow_pointer_release(x)
    )
  }
)

# Whole numbers of 64 bits (package bit64) as numbers.
plain_columns <- function(block) {
  long <- vapply(block, inherits, NA, "integer64")
  block[long] <- lapply(block[long], function(x) {
    if (requireNamespace("bit64", quietly = TRUE)) as.numeric(bit64::as.double.integer64(x))
    else as.numeric(format(x))
  })
  block
}

#' Answers in a database
#'
#' A table or query of a database as a source of blocks for [tabulate_items()], [sample_people()]
#' and [score_respondents()]. Only one `SELECT` of the columns that are needed is sent; names are
#' quoted by DBI. The connection stays open: it is yours.
#'
#' @param connection A DBI connection (packages DBI and, for example, RSQLite).
#' @param table The name of a table or view, or a [DBI::Id()].
#' @param new Is it a table that is to be made, for `score_respondents(into = )`?
#' @return An object of class `softsieve_database_table`.
#' @section Errors: `softsieve_error_source`, `softsieve_error_class`.
#' @family large data
#' @examplesIf requireNamespace("RSQLite", quietly = TRUE)
#' connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
#' DBI::dbWriteTable(connection, "answers", repair_cafe)
#' answers <- database_table(connection, "answers")
#' tabulate_items(answers, codebook = repair_cafe_codebook)
#' DBI::dbDisconnect(connection)
#' @export
database_table <- function(connection, table, new = FALSE) {
  call <- environment()
  needs_package("DBI", "Answers in a database", call)
  if (!methods::is(connection, "DBIConnection")) {
    stop_input(
      "class",
      "`connection` must be a DBI connection.",
      got = describe_value(connection),
      todo = "For example DBI::dbConnect(RSQLite::SQLite(), \"answers.sqlite\")."
    )
  }
  if (!methods::is(table, "Id")) check_text(table, "table")
  check_flag(new, "new")
  there <- tryCatch(DBI::dbExistsTable(connection, table), error = function(e) {
    stop_database(e, call)
  })
  if (new && there) {
    stop_input(
      "source",
      "A new table must not be there yet.",
      got = sprintf("There is one called %s.", DBI::dbQuoteIdentifier(connection, table)),
      todo = "Give another name, or take it away."
    )
  }
  if (!there && !new) {
    stop_input(
      "source",
      "`table` must be a table or view of the database.",
      got = sprintf("There is none called %s.", DBI::dbQuoteIdentifier(connection, table)),
      todo = sprintf("It has: %s.", name_culprits(DBI::dbListTables(connection)))
    )
  }
  structure(
    list(connection = connection, table = table, new = new),
    class = "softsieve_database_table"
  )
}

stop_database <- function(e, call) {
  stop_input(
    "source",
    "The database must answer.",
    got = first_line(conditionMessage(e)),
    todo = "Is the connection still open? May you read this table?",
    call = call
  )
}

#' @export
print.softsieve_database_table <- function(x, ...) {
  check_dots_empty(...)
  name <- DBI::dbQuoteIdentifier(x$connection, x$table)
  cat(sprintf("Answers in the table %s of a database.\n", visible_text(as.character(name))))
  cat("Next: tabulate_items(), with the codebook.\n")
  invisible(x)
}

SOURCE_TABLE <- spec(
  name = "database_table",
  label = "a database_table()",
  order = 7,
  takes = function(x) inherits(x, "softsieve_database_table"),
  package = "DBI",
  open = function(x, asked, call) {
    connection <- x$connection
    name <- DBI::dbQuoteIdentifier(connection, x$table)
    trying <- function(code) tryCatch(code, error = function(e) stop_database(e, call))
    columns <- trying(DBI::dbListFields(connection, x$table))
    result <- NULL
    inner <- NULL
    list(
      columns = columns,
      take = function() {
        if (is.null(inner)) {
          wanted <- DBI::dbQuoteIdentifier(connection, asked$columns)
          select <- paste("SELECT", paste(wanted, collapse = ", "), "FROM", name)
          result <<- trying(DBI::dbSendQuery(connection, select))
          inner <<- SOURCE_QUERY$open(result, asked, call)
        }
        inner$take()
      },
      close = function() if (!is.null(result)) try(DBI::dbClearResult(result), silent = TRUE)
    )
  }
)
