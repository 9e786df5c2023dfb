#' Answers in a database
#'
#' A table or view of a database as answers: for [read_responses()], whole, and as a source of
#' blocks for [tabulate_items()], [sample_people()] and [score_respondents()].
#'
#' @param connection An address; a DBI connection (packages DBI and, for example, RSQLite or
#'   RPostgres); an ADBC connection (package adbcdrivermanager); or a function without arguments
#'   that makes a connection. An address is `postgresql://user@host:port/database` (packages
#'   adbcpostgresql, adbcdrivermanager and nanoarrow, or RPostgres), a file called `*.sqlite` or
#'   `*.db` (RSQLite) or a file called `*.duckdb` (adbcdrivermanager and nanoarrow; the environment
#'   variable `SOFTSIEVE_DUCKDB` names DuckDB's shared library).
#' @param table The name of a table or view; with its schema, `c("schema", "table")` or a
#'   [DBI::Id()].
#' @param new Is it a table that is to be made, for [score_into()]?
#' @return An object of class `softsieve_database_table`.
#' @section How: Names are quoted by DBI or the driver. One `SELECT` of the columns that are needed
#'   is sent, and nothing is written but a new table that you ask for. A connection that you gave
#'   stays open; what an address or a function opened is closed after each reading.
#'
#'   A plain table of PostgreSQL (14 and later) is read by ranges of its pages: people come always
#'   in the same order, and what others write meanwhile is not seen. Other databases promise no
#'   order; random groups and draws depend on it.
#'
#'   PostgreSQL and SQLite are read so that nothing can be written, whatever a view calls: in a
#'   read-only transaction, or a read-only part of the one you are in. A statement of PostgreSQL may
#'   take 15 minutes (`options(softsieve.database_seconds = )`), a table be locked by others for 20
#'   seconds, and a server take 10 seconds to answer (`?connect_timeout=`).
#'
#'   Days, times and numbers of more than 15 digits come as text, as the database writes them
#'   ("infinity", years before Christ), and so does a column of SQLite that holds text among
#'   numbers; an empty text among numbers is a gap. The connection of a PostgreSQL address lives in
#'   a process of its own (package callr), which a hostile server may end without harm to this one.
#' @section Passwords: An address that holds one is refused. They come from the environment
#'   (`PGPASSWORD`) or from the database's own file (`~/.pgpass`), and are never shown or stored.
#' @section Errors: `softsieve_error_source` (no such database or table, or what the database says),
#'   `softsieve_error_package`, `softsieve_error_class`.
#' @family large data
#' @examplesIf requireNamespace("RSQLite", quietly = TRUE)
#' connection <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
#' DBI::dbWriteTable(connection, "answers", repair_cafe)
#' answers <- database_table(connection, "answers")
#' tabulate_items(answers, codebook = repair_cafe_codebook)
#' DBI::dbDisconnect(connection)
#' @export
database_table <- function(connection, table, new = FALSE) {
  needs_package("DBI", "Answers in a database")
  check_connection(connection)
  if (methods::is(table, "Id")) table <- unname(table@name)
  check_place_of_table(table)
  check_flag(new, "new")
  door <- door_of(connection)
  on.exit(door$close())
  there <- tryCatch({
    reading <- begin_reading(door)
    # (whatever comes of it, the owner's connection is as it was)
    tryCatch(columns_of_table(door, table), finally = try(reading(), silent = TRUE))
    TRUE
  }, error = function(e) not_there(e, door, table, new))
  if (new && there) {
    stop_input("source", "A new table must not be there yet.",
      got = sprintf("There is one called %s.", visible_text(paste(table, collapse = "."))),
      todo = "Give another name, or take it away.")
  }
  if (!there && !new) {
    stop_input("source", "`table` must be a table or view of the database.",
      got = sprintf("There is none called %s.", visible_text(paste(table, collapse = "."))),
      todo = sprintf("It has: %s.", name_culprits(door$tables())))
  }
  structure(list(connection = connection, table = table, new = new),
    class = "softsieve_database_table")
}

check_place_of_table <- function(table) {
  good <- is.character(table) && length(table) %in% 1:3 && !anyNA(table) && all(nzchar(table))
  if (good) return(invisible())
  stop_input("argument", "`table` must be the name of a table, alone or after its schema.",
    got = describe_value(table), todo = "For example \"answers\" or c(\"survey\", \"answers\").")
}

is_database_table <- function(x) inherits(x, "softsieve_database_table")

# Every database understands this, and gives the columns of an empty result. (PostgreSQL is asked
# for its list: what is not there does not come back as a name in an error.)
columns_of_table <- function(door, table) {
  if (engine_spoken(door) == "postgresql") {
    found <- types_in_postgresql(door, table)$name
    if (!length(found)) stop("The table does not exist.", call. = FALSE)
    return(found)
  }
  names(door$ask(sprintf("SELECT * FROM %s WHERE 1 = 0", table_in_sql(door, table))))
}

# A table that is there and will not be read is another matter than one that is not there. (Which
# tables other schemas have, the list does not tell.)
not_there <- function(e, door, table, new) {
  tables <- tryCatch(door$tables(), error = function(...) stop_database(e))
  unlisted <- length(table) > 1L && !new
  if (unlisted || (length(table) == 1L && table %in% tables)) stop_database(e)
  FALSE
}

#' @export
print.softsieve_database_table <- function(x, ...) {
  check_dots_empty(...)
  if (x$new) {
    cat(sprintf("A table to be made: %s.\n", database_words(x)))
    cat("Next: score_into(..., into = ).\n")
  } else {
    cat(sprintf("Answers in %s.\n", database_words(x)))
    cat("Next: read_responses(), or tabulate_items() with the codebook.\n")
  }
  invisible(x)
}

# Where answers are, in words.
database_words <- function(x) {
  place <- if (is.character(x$connection)) basename(x$connection) else "a database"
  visible_text(sprintf("the table %s of %s", paste(x$table, collapse = "."), place))
}

open_database_table <- function(x, asked) {
  door <- door_of(x$connection)
  inner <- reading <- NULL
  close <- function() {
    if (!is.null(inner)) inner$close()
    if (!is.null(reading)) try(reading(), silent = TRUE)
    door$close()
  }
  opened <- FALSE
  on.exit(if (!opened) close())
  reading <- try_database(begin_reading(door))
  columns <- try_database(columns_of_table(door, x$table))
  opened <- TRUE
  list(columns = columns, take = function() {
    if (is.null(inner)) inner <<- try_database(open_table(door, x$table, asked))
    inner$take()
  }, close = close)
}

# What it takes from a table: by ranges of its pages where that can be, otherwise as it comes.
open_table <- function(door, table, asked) {
  columns <- cells_of_table(door, table, asked$columns)
  plan <- plan_pages(door, table, asked$rows)
  if (!is.null(plan)) return(open_pages(door, columns, plan))
  # (a client takes the lowest whole number for a missing one)
  whole <- columns$as %in% "whole"
  columns$sql[whole] <- paste0(columns$sql[whole], "::float8")
  inner <- door$send(select_from(door, table, columns), asked$rows)
  list(take = function() {
    block <- inner$take()
    if (!is.null(block)) settle_cells(block, columns)
  }, close = inner$close)
}

# How each column is asked for, so that no cell comes as another: a data frame of names, `sql` and
# `long` (numbers of any length come as text, and are made numbers where these keep all digits).
cells_of_table <- function(door, table, columns) {
  as_they_are <- data.frame(name = columns, sql = door$quote(columns), long = FALSE)
  switch(engine_spoken(door), postgresql = cells_in_postgresql(door, table, as_they_are),
    sqlite = cells_in_sqlite(door, table, as_they_are), as_they_are)
}

select_from <- function(door, table, columns) {
  sprintf("SELECT %s FROM %s", paste(columns$sql, "AS", door$quote(columns$name), collapse = ", "),
    table_in_sql(door, table))
}

# While a table is read nothing can be written, whatever its views call, and nothing is waited for
# without end. Gives a function that ends this. What an owner had begun goes on as it was.
begin_reading <- function(door, snapshot = NULL) {
  switch(engine_spoken(door), postgresql = begin_in_postgresql(door, snapshot),
    sqlite = begin_in_sqlite(door), function() NULL)
}
