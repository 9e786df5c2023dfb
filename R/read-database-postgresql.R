# Tables of PostgreSQL: within one snapshot, by ranges of their pages, so that people come in the
# same order whenever they are read, whatever others write meanwhile, and by several processes at
# once. A range comes as one row of arrays, as text: taking single cells out of a client costs more.

# How many pages there are, and how many make up a block of about `rows` people (`size`); NULL where
# a table cannot be read so: views, tables that others inherit from, other databases and old ones.
plan_pages <- function(door, table, rows) {
  if (engine_spoken(door) != "postgresql") return(NULL)
  name <- table_in_sql(door, table)
  about <- door$ask(paste("SELECT relkind::text AS kind, relhassubclass AS parent,",
    "(pg_relation_size(oid) / current_setting('block_size')::int)::float8 AS pages,",
    "current_setting('server_version_num')::int AS version",
    "FROM pg_class WHERE oid =", oid_of_table(door, table)))
  if (!nrow(about)) return(NULL)
  plain <- about$kind %in% c("r", "m") && !isTRUE(as.logical(about$parent))
  if (!plain || about$version < 140000) return(NULL)
  first <- min(about$pages, 100)
  each <- max(1, people_between(door, name, 0, first) / max(1, first))
  list(name = name, pages = about$pages, size = max(1, round(rows / each)))
}

# (names in capitals and with spaces need their quotes within the text, too)
oid_of_table <- function(door, table) {
  sprintf("to_regclass('%s')", gsub("'", "''", table_in_sql(door, table), fixed = TRUE))
}

people_between <- function(door, name, from, to) {
  where <- pages_from(from, to)
  door$ask(sprintf("SELECT count(*)::float8 FROM %s WHERE %s", name, where))[[1L]]
}

pages_from <- function(from, to) {
  sprintf("ctid >= '(%.0f,0)'::tid AND ctid < '(%.0f,0)'::tid", from, to)
}

# Reads a plan's pages [from, to), a range at a time.
open_pages <- function(door, columns, plan, from = 0, to = plan$pages) {
  arrays <- sprintf("array_agg(%s)::text AS %s", columns$sql, door$quote(columns$name))
  select <- sprintf("SELECT %s FROM %s WHERE", paste(arrays, collapse = ", "), plan$name)
  range_from <- function(at) {
    if (at < to) paste(select, pages_from(at, min(at + plan$size, to)))
  }
  at <- from
  list(take = function() {
    if (at >= to) return(NULL)
    sql <- range_from(at)
    at <<- min(at + plan$size, to)
    range <- if (is.null(door$ask_next)) door$ask(sql) else door$ask_next(sql, range_from(at))
    values <- stats::setNames(mapply(cpp_array_values, unclass(range), columns$as,
      SIMPLIFY = FALSE), columns$name)
    block <- structure(values, class = "data.frame", row.names = seq_along(values[[1L]]))
    settle_cells(block, columns)
  }, close = function() NULL)
}

# Whole and plain numbers, flags and text come as they are; numbers of any length, days, times and
# whatever else there is come as the server writes them: a client makes other values of those that
# it cannot hold.
cells_in_postgresql <- function(door, table, columns) {
  types <- types_in_postgresql(door, table)
  type <- types$type[match(columns$name, types$name)]
  columns$as <- ifelse(type %in% c("smallint", "integer"), "whole",
    ifelse(type %in% c("real", "double precision"), "number",
      ifelse(type %in% "boolean", "flag", "text")))
  columns$long <- type %in% c("bigint", "numeric")
  cast <- columns$as == "text"
  columns$sql[cast] <- paste0(columns$sql[cast], "::text")
  columns
}

# Names and types of a table's columns; a domain is what it is made of.
types_in_postgresql <- function(door, table) {
  door$ask(paste("SELECT a.attname::text AS name,",
    "coalesce(nullif(t.typbasetype, 0), t.oid)::regtype::text AS type",
    "FROM pg_attribute a JOIN pg_type t ON t.oid = a.atttypid",
    "WHERE a.attnum > 0 AND NOT a.attisdropped AND a.attrelid =", oid_of_table(door, table),
    "ORDER BY a.attnum"))
}

# How long one statement may take, and how long a table may be locked by somebody else.
DATABASE_SECONDS <- 900
LOCK_SECONDS <- 20
database_seconds <- function() {
  asked <- getOption("softsieve.database_seconds", DATABASE_SECONDS)
  check_number(asked, "softsieve.database_seconds", 0.1, 1e6)
  asked
}

# A transaction that only reads; within one of its owner's, a part of it that is taken back.
begin_in_postgresql <- function(door, snapshot) {
  # within a transaction the time stands still
  time <- function() door$ask("SELECT now()::text")[[1L]]
  own <- time() != time()
  if (own) {
    door$run("BEGIN TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
  } else {
    door$run("SAVEPOINT softsieve_reads")
    door$run("SET TRANSACTION READ ONLY")
  }
  if (!is.null(snapshot)) {
    door$run(sprintf("SET TRANSACTION SNAPSHOT '%s'", gsub("[^0-9A-Fa-f-]", "", snapshot)))
  }
  seconds <- database_seconds()
  limits <- c(statement_timeout = seconds, lock_timeout = min(seconds, LOCK_SECONDS)) * 1000
  door$run(paste0("SELECT ", paste(sprintf("set_config('%s', '%.0f', true)",
    c(names(limits), "max_parallel_workers_per_gather"), c(limits, 0)), collapse = ", ")))
  function() {
    if (own) return(door$run("ROLLBACK"))
    door$run("ROLLBACK TO SAVEPOINT softsieve_reads")
    door$run("RELEASE SAVEPOINT softsieve_reads")
  }
}

# ---- Addresses: postgresql://user@host:port/database?name=value&...

# What may follow the question mark. (Options of the server's, files of passwords and services are
# none of an address's.)
ADDRESS_MAY_SAY <- c("sslmode", "sslrootcert", "sslcert", "sslkey", "sslcrl", "channel_binding",
  "connect_timeout", "application_name", "target_session_attrs", "hostaddr", "host", "port", "user",
  "dbname", "gssencmode", "krbsrvname")

parts_of_address <- function(address) {
  form <- "^[a-z]+://(([^@/]*)@)?(\\[[^]]*\\]|[^:/?]*)(:([0-9]+))?(/([^?]*))?([?](.*))?$"
  part <- regmatches(address, regexec(form, address))[[1L]][c(3L, 4L, 6L, 8L)]
  parts <- stats::setNames(as.list(part), c("user", "host", "port", "dbname"))
  parts$host <- gsub("^\\[|\\]$", "", parts$host)
  more <- sub("^[^?]*[?]?", "", address)
  pairs <- strsplit(strsplit(more, "&", fixed = TRUE)[[1L]], "=", fixed = TRUE)
  for (pair in pairs) parts[[pair[1L]]] <- paste(pair[-1L], collapse = "=")
  parts <- parts[!is.na(parts) & nzchar(parts)]
  parts <- lapply(parts, function(x) suppressWarnings(utils::URLdecode(x)))
  check_parts(parts)
  parts
}

# The client takes what it says as a pattern of text, in which % stands for something else.
check_parts <- function(parts) {
  odd <- setdiff(names(parts), ADDRESS_MAY_SAY)
  if (length(odd)) {
    stop_input("source", "An address may hold after its ? only what is known.",
      got = sprintf("Not known: %s.", name_culprits(odd)),
      todo = sprintf("These are: %s.", join_words(ADDRESS_MAY_SAY)))
  }
  text <- unlist(parts)
  bad <- !validUTF8(text) | grepl("[%[:cntrl:]]", text)
  if (any(bad, na.rm = TRUE)) {
    stop_input("source", "An address must hold no percent sign and no control character.",
      got = sprintf("Not so, once decoded: %s.", name_culprits(names(parts)[bad])),
      todo = "Such names go by a connection of your own, passwords by the variable PGPASSWORD.")
  }
}
