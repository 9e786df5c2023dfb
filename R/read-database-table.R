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
#'   A plain table of PostgreSQL (14 and later) is read by ranges of its pages, in a read-only
#'   transaction of its own: people come always in the same order, and what others write meanwhile
#'   is not seen. Other databases promise no order; random groups and draws depend on it.
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
  there <- tryCatch(is.character(columns_of_table(door, table)),
    error = function(e) not_there(e, door, table, new))
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

# Every database understands this, and gives the columns of an empty result.
columns_of_table <- function(door, table) {
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
  inner <- NULL
  columns <- try_database(columns_of_table(door, x$table))
  list(columns = columns, take = function() {
    if (is.null(inner)) inner <<- try_database(open_table(door, x$table, asked))
    inner$take()
  }, close = function() {
    if (!is.null(inner)) inner$close()
    door$close()
  })
}

# What it takes from a table: by ranges of its pages where that can be, otherwise as it comes.
open_table <- function(door, table, asked) {
  select <- select_from(door, table, asked$columns)
  plan <- plan_pages(door, table, asked$rows)
  if (is.null(plan)) return(door$send(select, asked$rows))
  open_pages(door, select, plan, asked$rows)
}

select_from <- function(door, table, columns) {
  sprintf("SELECT %s FROM %s", paste(door$quote(columns), collapse = ", "),
    table_in_sql(door, table))
}

# Tables of PostgreSQL by ranges of their pages, within one snapshot: in the same order whenever
# they are read, whatever others write meanwhile, and by several processes at once.

# How many pages there are, and how many make up a block of about `rows` people (`size`); NULL where
# a table cannot be read so: views, tables that others inherit from, other databases and old ones.
plan_pages <- function(door, table, rows) {
  name <- table_in_sql(door, table)
  # (names in capitals and with spaces need their quotes within the text, too)
  literal <- sprintf("'%s'", gsub("'", "''", name, fixed = TRUE))
  about <- tryCatch({
    if (!grepl("^PostgreSQL", door$ask("SELECT version()")[[1L]])) return(NULL)
    door$ask(paste("SELECT relkind::text AS kind, relhassubclass AS parent,",
      "(pg_relation_size(oid) / current_setting('block_size')::int)::float8 AS pages,",
      "current_setting('server_version_num')::int AS version",
      "FROM pg_class WHERE oid = to_regclass(", literal, ")"))
  }, error = function(e) NULL)
  if (is.null(about) || !nrow(about)) return(NULL)
  plain <- about$kind %in% c("r", "m") && !isTRUE(as.logical(about$parent))
  if (!plain || about$version < 140000) return(NULL)
  first <- min(about$pages, 100)
  each <- max(1, people_between(door, name, 0, first) / max(1, first))
  list(name = name, pages = about$pages, size = max(1, round(rows / each)))
}

people_between <- function(door, name, from, to) {
  where <- pages_from(from, to)
  door$ask(sprintf("SELECT count(*)::float8 FROM %s WHERE %s", name, where))[[1L]]
}

pages_from <- function(from, to) {
  sprintf("ctid >= '(%.0f,0)'::tid AND ctid < '(%.0f,0)'::tid", from, to)
}

# Reads a plan's pages [from, to), a range at a time. `snapshot`: one that another process holds.
open_pages <- function(door, select, plan, rows, from = 0, to = plan$pages, snapshot = NULL) {
  own <- begin_reading(door, snapshot)
  at <- from
  now <- NULL
  leave <- function() {
    if (!is.null(now)) now$close()
    now <<- NULL
  }
  list(
    take = function() {
      repeat {
        block <- if (!is.null(now)) now$take()
        if (!is.null(block)) return(block)
        leave()
        if (at >= to) return(NULL)
        end <- min(at + plan$size, to)
        # a range is a block, whole
        now <<- whole_pieces(door$send(paste(select, "WHERE", pages_from(at, end)), rows))
        at <<- end
      }
    },
    close = function() {
      leave()
      if (own) try(door$run("ROLLBACK"), silent = TRUE)
    })
}

# Drivers hand a range out in pieces of their own size.
whole_pieces <- function(inner) {
  done <- FALSE
  list(take = function() {
    if (done) return(NULL)
    done <<- TRUE
    pieces <- list()
    while (!is.null(piece <- inner$take())) pieces[[length(pieces) + 1L]] <- piece
    if (length(pieces) < 2L) return(if (length(pieces)) pieces[[1L]])
    columns <- lapply(stats::setNames(nm = names(pieces[[1L]])), function(name) {
      do.call(c, lapply(pieces, `[[`, name))
    })
    structure(columns, class = "data.frame", row.names = c(NA_integer_, -length(columns[[1L]])))
  }, close = inner$close)
}

# A transaction that only reads, unless the connection is in one already: then that is its owner's.
begin_reading <- function(door, snapshot = NULL) {
  # within a transaction the time stands still
  time <- function() door$ask("SELECT now()::text")[[1L]]
  if (time() == time()) return(FALSE)
  door$run("BEGIN TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
  if (!is.null(snapshot)) {
    door$run(sprintf("SET TRANSACTION SNAPSHOT '%s'", gsub("[^0-9A-Fa-f-]", "", snapshot)))
  }
  TRUE
}
