# Databases, as they are spoken to here. A door is a list of functions over one connection:
#
#   ask      function(sql): a small result, as a data frame
#   send     function(sql, rows): a large one; take and close, as sources have them
#   run      function(sql): what gives no result
#   quote    function(names): identifiers, quoted by DBI or the driver
#   tables   function(): what there is, for messages
#   begin, create, append, commit, rollback   for scores that go into a new table; create makes it
#            as the data are, and adds these, too, unless it `creates_empty`
#   close    function(): ends what was opened here; the user's own connection stays
#   engine   "postgresql" or "sqlite", where that is known
#
# What is sent of a user's is quoted; all else is SELECT, and the transaction it stands in.

door_of <- function(connection, write = FALSE) {
  if (methods::is(connection, "DBIConnection")) return(dbi_door(connection, own = FALSE))
  if (inherits(connection, "adbc_connection")) return(adbc_door(connection))
  try_database({
    if (is.function(connection)) {
      made <- connection()
      if (methods::is(made, "DBIConnection")) return(dbi_door(made, own = TRUE))
      if (inherits(made, "adbc_connection")) {
        return(adbc_door(made, function() adbc("adbc_connection_release")(made)))
      }
      stop_connection("A function that connects must give", made)
    }
    engine_of(connection)$open(connection, write)
  })
}

# May these be a connection?
check_connection <- function(connection) {
  if (is.character(connection)) return(check_address(connection))
  known <- is.function(connection) || methods::is(connection, "DBIConnection") ||
    inherits(connection, "adbc_connection")
  if (!known) stop_connection("`connection` must be", connection)
  invisible()
}

stop_connection <- function(must, got) {
  stop_input("class",
    paste(must, "an address, a DBI or ADBC connection, or a function that makes one."),
    got = describe_value(got),
    todo = "For example \"postgresql://host/panel\" or \"answers.sqlite\".")
}

# The code's value; what a database says becomes an error of ours.
try_database <- function(code) {
  tryCatch(code, error = function(e) {
    if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
    stop_database(e)
  })
}

stop_database <- function(e) {
  stop_input("source", "The database must answer.", got = first_line(conditionMessage(e)),
    todo = "Is it there, and the connection open? May you read this table?")
}

table_in_sql <- function(door, table) paste(door$quote(table), collapse = ".")

# Which engine a door leads to: "postgresql", "sqlite" or "other".
engine_spoken <- function(door) {
  if (!is.null(door$engine)) return(door$engine)
  said <- tryCatch(door$ask("SELECT version()")[[1L]], error = function(e) "")
  if (grepl("^PostgreSQL", said[1L])) "postgresql" else "other"
}

dbi_door <- function(connection, own) {
  force(connection)
  list(
    # what goes wrong in some drivers is a warning
    ask = function(sql) plain_columns(strictly(DBI::dbGetQuery(connection, sql))),
    send = function(sql, rows) {
      result <- strictly(DBI::dbSendQuery(connection, sql))
      inner <- open_query(result, list(rows = rows))
      list(take = function() strictly(inner$take()),
        close = function() try(DBI::dbClearResult(result), silent = TRUE))
    },
    run = function(sql) strictly(DBI::dbExecute(connection, sql)),
    quote = function(names) as.character(DBI::dbQuoteIdentifier(connection, names)),
    tables = function() DBI::dbListTables(connection),
    engine = switch(class(connection)[1L], SQLiteConnection = "sqlite",
      PqConnection = "postgresql"),
    creates_empty = TRUE,
    begin = function() DBI::dbBegin(connection),
    create = function(table, data) DBI::dbCreateTable(connection, dbi_name(table), data),
    append = function(table, data) DBI::dbAppendTable(connection, dbi_name(table), data),
    commit = function() DBI::dbCommit(connection),
    rollback = function() DBI::dbRollback(connection),
    # (one that broke cannot be closed)
    close = function() if (own) try(DBI::dbDisconnect(connection), silent = TRUE))
}

dbi_name <- function(names) {
  if (length(names) == 1L) return(names)
  parts <- utils::tail(c("catalog", "schema", "table"), length(names))
  do.call(DBI::Id, stats::setNames(as.list(names), parts))
}

strictly <- function(code) {
  withCallingHandlers(code, warning = function(w) stop(conditionMessage(w), call. = FALSE))
}

# The packages of ADBC take minutes to build: whoever has them is served, and nobody is asked to.
adbc <- function(name, package = "adbcdrivermanager") getExportedValue(package, name)

# `close`: what else is to be let go with the connection.
adbc_door <- function(connection, close = function() NULL) {
  force(connection)
  run <- function(sql) adbc("execute_adbc")(connection, sql)
  write <- function(mode) function(table, data) write_by_adbc(connection, table, data, mode)
  list(
    ask = function(sql) plain_columns(as.data.frame(adbc("read_adbc")(connection, sql))),
    send = function(sql, rows) open_arrow(adbc("read_adbc")(connection, sql), NULL), run = run,
    quote = function(names) {
      vapply(names, adbc("adbc_connection_quote_identifier"), "", connection = connection,
        USE.NAMES = FALSE)
    },
    tables = function() {
      adbc_tables <- adbc("read_adbc")(connection, paste(
        "SELECT table_name FROM information_schema.tables",
        "WHERE table_schema NOT IN ('information_schema', 'pg_catalog')"))
      as.data.frame(adbc_tables)[[1L]]
    },
    creates_empty = FALSE, begin = function() run("BEGIN"), create = write("create"),
    append = write("append"), commit = function() run("COMMIT"),
    rollback = function() run("ROLLBACK"), close = function() try(close(), silent = TRUE))
}

# A new table of `data`, or more of one (`mode` is "create" or "append").
write_by_adbc <- function(connection, table, data, mode) {
  options <- list(adbc.ingest.target_table = utils::tail(table, 1L),
    adbc.ingest.mode = paste0("adbc.ingest.mode.", mode),
    adbc.ingest.target_db_schema = if (length(table) > 1L) table[length(table) - 1L])
  options <- options[!vapply(options, is.null, NA)]
  statement <- do.call(adbc("adbc_statement_init"), c(list(connection), options))
  on.exit(adbc("adbc_statement_release")(statement))
  stream <- nanoarrow::as_nanoarrow_array_stream(as.data.frame(data))
  adbc("adbc_statement_bind_stream")(statement, stream)
  adbc("adbc_statement_execute_query")(statement)
}

# Addresses, and the engines behind them. An entry has a label (its address, for messages) and
#
#   takes  function(address): is it one of this engine's?
#   open   function(address, write): a door; nothing is written where `write` is FALSE

ENGINES <- family(
  postgresql = spec(label = "postgresql://host:port/database",
    takes = function(address) grepl("^postgres(ql)?://", address),
    open = function(address, write) {
      parts <- parts_of_address(address)
      there <- function(package) requireNamespace(package, quietly = TRUE)
      if (there("adbcpostgresql") && there("adbcdrivermanager") && there("nanoarrow")) {
        return(adbc_at(adbc("adbcpostgresql", "adbcpostgresql")(), list(uri = address)))
      }
      needs_package("RPostgres", "Addresses of PostgreSQL")
      connect <- function(parts) do.call(DBI::dbConnect, c(list(RPostgres::Postgres()), parts))
      parts <- utils::modifyList(list(connect_timeout = "10", bigint = "integer64"), parts)
      # (a worker is a process of its own)
      if (isTRUE(getOption("softsieve.works"))) return(dbi_door(connect(parts), own = TRUE))
      apart_door(connect, parts)
    }),
  sqlite = spec(label = "a file called *.sqlite or *.db",
    takes = function(address) grepl("[.](sqlite3?|db)$", address, ignore.case = TRUE),
    open = function(address, write) {
      needs_package("RSQLite", "Addresses of SQLite")
      check_database_file(address)
      flags <- if (write) RSQLite::SQLITE_RW else RSQLite::SQLITE_RO
      connection <- DBI::dbConnect(RSQLite::SQLite(), address, flags = flags, synchronous = NULL)
      dbi_door(connection, own = TRUE)
    }),
  # The driver is the database's own shared library.
  duckdb = spec(label = "a file called *.duckdb",
    takes = function(address) grepl("[.]duckdb$", address, ignore.case = TRUE),
    open = function(address, write) {
      for (package in c("adbcdrivermanager", "nanoarrow")) {
        needs_package(package, "Addresses of DuckDB")
      }
      library <- Sys.getenv("SOFTSIEVE_DUCKDB")
      if (!file.exists(library)) {
        stop_input("source", "The variable SOFTSIEVE_DUCKDB must name DuckDB's shared library.",
          got = if (nzchar(library)) "It names none." else "It is not set.",
          todo = "It comes with DuckDB: libduckdb.so, .dylib or .dll.")
      }
      check_database_file(address)
      options <- list(path = address, access_mode = if (write) "READ_WRITE" else "READ_ONLY")
      adbc_at(adbc("adbc_driver")(library, "duckdb_adbc_init"), options)
    }))

# (what is no file, a pipe say, would be waited for)
check_database_file <- function(address) {
  if (kind_of_path(address) != "plain") stop("There is no such file.", call. = FALSE)
}

adbc_at <- function(driver, options) {
  database <- do.call(adbc("adbc_database_init"), c(list(driver), options))
  connection <- adbc("adbc_connection_init")(database)
  adbc_door(connection, function() {
    adbc("adbc_connection_release")(connection)
    adbc("adbc_database_release")(database)
  })
}

engine_of <- function(address) {
  found <- Find(function(one) one$takes(address), ENGINES)
  if (!is.null(found)) return(found)
  labels <- vapply(ENGINES, `[[`, "", "label")
  stop_input("source", sprintf("An address must be one of: %s.", paste(labels, collapse = "; ")),
    got = describe_value(address), todo = "For other databases give a DBI connection.")
}

# An address never holds a password, and is not shown where it seems to.
check_address <- function(address) {
  check_text(address, "connection")
  secret <- grepl("://[^@]*:[^@]*@", address) ||
    grepl("[?&](ssl)?pass(word|file)=", address, ignore.case = TRUE)
  if (secret) {
    stop_input("source", "An address must hold no password.",
      got = "What may be one came, and is not shown.",
      todo = paste(
        "Name the user alone (postgresql://user@host/panel). The password comes from the variable",
        "PGPASSWORD or the file ~/.pgpass."))
  }
  engine_of(address)
  invisible()
}
