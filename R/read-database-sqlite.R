# SQLite keeps a type with every cell, and its client makes all of a column what the first is: text
# among numbers would be 0. What a column holds is looked at first.

# So many columns in one statement.
LOOKED_AT <- 200L

cells_in_sqlite <- function(door, table, columns) {
  held <- do.call(rbind, lapply(split(columns$sql, (seq_along(columns$sql) - 1L) %/% LOOKED_AT),
    function(sql) held_in_sqlite(door, table, sql)))
  if (any(held$blob > 0)) {
    stop_input("source", "Every column must hold numbers or text.",
      got = sprintf("Bytes (BLOB) in: %s.", name_culprits(columns$name[held$blob > 0])),
      todo = "Leave these out, by `items` or by a view.")
  }
  numbers <- held$whole + held$real > 0
  mixed <- held$text > 0 & numbers
  # (a whole number that is kept as a real one is written as a whole one)
  text <- sprintf(paste("CASE WHEN typeof(%1$s) = 'real' AND %1$s = CAST(%1$s AS INTEGER)",
    "THEN CAST(CAST(%1$s AS INTEGER) AS TEXT) ELSE CAST(%1$s AS TEXT) END"), columns$sql)
  real <- sprintf("CAST(%s AS REAL)", columns$sql)
  as_text <- mixed | held$long > 0
  columns$sql <- ifelse(as_text, text, ifelse(held$whole > 0 & held$real > 0, real, columns$sql))
  columns
}

# How many cells of each kind each column holds; `long`: whole numbers beyond what a number keeps.
held_in_sqlite <- function(door, table, sql) {
  kinds <- c(text = "'text'", blob = "'blob'", whole = "'integer'", real = "'real'")
  one <- vapply(sql, function(column) {
    paste(c(sprintf("total(typeof(%s) = %s)", column, kinds),
      sprintf("total(typeof(%1$s) = 'integer' AND (%1$s > %2$s OR %1$s < -%2$s))", column,
        "9007199254740992")), collapse = ", ")
  }, "")
  found <- door$ask(sprintf("SELECT %s FROM %s", paste(one, collapse = ", "),
    table_in_sql(door, table)))
  found <- matrix(as.numeric(unlist(found)), ncol = length(kinds) + 1L, byrow = TRUE,
    dimnames = list(NULL, c(names(kinds), "long")))
  as.data.frame(found)
}

begin_in_sqlite <- function(door) {
  before <- as.numeric(door$ask("PRAGMA query_only")[[1L]])
  door$run("PRAGMA query_only = 1")
  function() if (before == 0) door$run("PRAGMA query_only = 0")
}
