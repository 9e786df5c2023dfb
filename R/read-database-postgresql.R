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
    "current_setting('server_version_num')::int AS version", "FROM pg_class WHERE oid =",
    oid_of_table(door, table)))
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
  range_from <- function(at) if (at < to) paste(select, pages_from(at, min(at + plan$size, to)))
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

settle_cells <- function(block, columns) {
  for (name in columns$name[columns$long]) block[[name]] <- long_numbers(block[[name]])
  block
}

# Text of numbers, of any length: numbers where these keep all digits, otherwise as it is.
KEPT_DIGITS <- 15L
long_numbers <- function(x) {
  if (is.numeric(x)) return(x)
  plain <- is.na(x) | grepl("^-?[0-9]+([.][0-9]+)?$", x)
  digits <- nchar(gsub("^0+", "", gsub("[-.]", "", x)))
  if (all(plain) && !any(digits > KEPT_DIGITS, na.rm = TRUE)) as.numeric(x) else x
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

# A transaction that only reads; within one of its owner's, a part of it that is taken back.
begin_in_postgresql <- function(door, snapshot) {
  # within a transaction the time stands still
  time <- function() door$ask("SELECT now()::text")[[1L]]
  own <- time() != time()
  end <- function() {
    if (own) return(door$run("ROLLBACK"))
    door$run("ROLLBACK TO SAVEPOINT softsieve_reads")
    door$run("RELEASE SAVEPOINT softsieve_reads")
  }
  begun <- FALSE
  on.exit(if (!begun) try(end(), silent = TRUE))
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
  begun <- TRUE
  end
}
