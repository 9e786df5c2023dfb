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
