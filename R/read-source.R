# Where answers come from a block of people at a time. An entry has a label
# and
#
#   takes    function(x): is it one?
#   package  what it needs beside softsieve, or NULL
#   open     function(x, asked): opens it. asked: rows (people in a block, about), columns
#            (their names) and text (how delimited text is read)
#
# What open() gives is a list: `columns` (names of all that the source has), `take` (a function
# without arguments: the next block as a data frame, or NULL at the end) and `close` (a function
# without arguments, called once). `asked` is an environment: its columns are known before the first
# block is taken.

SOURCES <- family(
  frame = spec(label = "a data frame", takes = is.data.frame, package = NULL, open = open_frame),
  "function" = spec(label = "a function that hands out blocks", takes = is.function, package = NULL,
    open = open_function),
  parquet = spec(label = "Parquet files", takes = is_source_parquet, package = "nanoparquet",
    open = open_parquet),
  files = spec(label = "delimited text files",
    takes = function(x) is.character(x) && length(x) && !anyNA(x), package = "data.table",
    open = open_files),
  query = spec(label = "what DBI::dbSendQuery() gave",
    takes = function(x) methods::is(x, "DBIResult"), package = "DBI", open = open_query),
  arrow = spec(label = "an Arrow stream", takes = function(x) inherits(x, "nanoarrow_array_stream"),
    package = "nanoarrow", open = open_arrow),
  database_table = spec(label = "a database_table()", takes = is_database_table, package = "DBI",
    open = open_database_table))

source_of <- function(x) {
  found <- Find(function(one) one$takes(x), SOURCES)
  if (is.null(found)) {
    labels <- vapply(SOURCES, `[[`, "", "label")
    stop_input("source", sprintf("`source` must be one of: %s.", paste(labels, collapse = ", ")),
      got = describe_value(x), todo = "For example the path of a CSV file.")
  }
  if (!is.null(found$package)) needs_package(found$package, "Such sources")
  found
}

# Opens a source, asks `choose(columns)` which of its columns are wanted, calls `each(block, first)`
# for every block (first: how many people came before), and closes it, whatever happens. Returns how
# many people came. What breaks in between is an error that says how far it came.
CELLS_TO_CLEAR <- 2e7
read_blocks <- function(x, choose, each, rows = 1e5, text = list()) {
  asked <- list2env(list(rows = rows, columns = NULL, text = text))
  opened <- source_of(x)$open(x, asked)
  on.exit(opened$close(), add = TRUE)
  asked$columns <- choose(opened$columns)
  people <- cells <- 0
  repeat {
    block <- tryCatch(opened$take(), error = function(e) {
      if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
      stop_broken(e, people)
    })
    if (is.null(block)) break
    if (!nrow(block)) next
    each(block[asked$columns], people)
    people <- people + nrow(block)
    # what was read goes now and then, and not when more has come
    cells <- cells + as.numeric(nrow(block)) * ncol(block)
    rm(block)
    if (cells < CELLS_TO_CLEAR) next
    gc(verbose = FALSE, full = FALSE)
    cells <- 0
  }
  people
}

stop_broken <- function(e, people) {
  stop_input("source",
    "The source must give its answers to the end.",
    got = sprintf("After %s it said: %s", count_of(people, "person", "people"),
      first_line(conditionMessage(e))),
    todo = paste(
      "Is the connection still there? Run it again; scores that go into a CSV file go on where",
      "they stopped."))
}
