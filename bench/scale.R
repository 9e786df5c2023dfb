# What counting block by block costs, in time and memory, as people grow many: against reading the
# same source alone, in the same run, each in a process of its own. (Workers of a plan against one:
# bench/workers.R; random groups against people drawn again: bench/random-groups.R.) Run from the
# package root, with the package installed:
#   Rscript bench/scale.R [folder] [people, several with commas] [file for the table] [sources]
# Files are made in `folder` where they are not there (1e7 people: some 4 GB). PostgreSQL is
# measured where a server and a client are installed, DuckDB where SOFTSIEVE_DUCKDB names its
# library.

arguments <- commandArgs(trailingOnly = TRUE)
given <- function(at, otherwise) if (is.na(arguments[at])) otherwise else arguments[at]
folder <- given(1L, "scale-data")
sizes <- as.numeric(strsplit(given(2L, "1e5,1e6"), ",")[[1L]])
file <- given(3L, NA)
only <- strsplit(given(4L, ""), ",")[[1L]] # "parquet,postgresql": these alone
ITEMS <- 50L
dir.create(folder, showWarnings = FALSE)

# Answers from 1 to 5 to fifty items on five factors, a twentieth of them missing, by blocks.
block_of <- function(number, people) {
  set.seed(number)
  f <- matrix(stats::rnorm(people * 5), people)
  x <- f[, rep(1:5, each = 10)] + stats::rnorm(people * ITEMS)
  x <- findInterval(x, c(-1.7, -0.5, 0.5, 1.7)) + 1L
  x[sample(length(x), length(x) %/% 20)] <- NA
  x <- as.data.frame(matrix(x, people))
  names(x) <- sprintf("q%02d", seq_len(ITEMS))
  x
}
BLOCK <- 1e5

# the tests' own server
suppressPackageStartupMessages(library(softsieve))
source("tests/testthat/helper-postgres.R")
address <- tryCatch({
  start_postgres()
  Sys.setenv(PGPASSWORD = SERVER$password, TZ = "UTC")
  SERVER$address
}, skip = function(e) {
  cat("Without PostgreSQL:", conditionMessage(e), "\n")
  NULL
})
has_duckdb <- file.exists(Sys.getenv("SOFTSIEVE_DUCKDB"))

# Tables that others are not told of, as of any database.
fill_table <- function(door, name, n) {
  for (b in seq_len(ceiling(n / BLOCK))) {
    block <- block_of(b, min(BLOCK, n))
    if (b == 1 && door$creates_empty) door$create(name, block[0, ])
    if (b == 1 && !door$creates_empty) door$create(name, block) else door$append(name, block)
  }
}

make_sources <- function(n) {
  path <- function(ending) file.path(folder, sprintf("answers-%g.%s", n, ending))
  blocks <- seq_len(ceiling(n / BLOCK))
  wanted <- function(name) !length(only) || name %in% only
  if (wanted("csv") && !file.exists(path("csv"))) {
    for (b in blocks) {
      data.table::fwrite(block_of(b, min(BLOCK, n)), paste0(path("csv"), "-part"), append = b > 1)
    }
    file.rename(paste0(path("csv"), "-part"), path("csv"))
  }
  if (wanted("sqlite") && !file.exists(path("sqlite"))) {
    connection <- DBI::dbConnect(RSQLite::SQLite(), path("sqlite"))
    for (b in blocks) {
      DBI::dbWriteTable(connection, "answers", block_of(b, min(BLOCK, n)), append = b > 1)
    }
    DBI::dbDisconnect(connection)
  }
  if (!is.null(address) && wanted("postgresql")) {
    door <- softsieve:::door_of(address, write = TRUE)
    fill_table(door, sprintf("answers-%g", n), n)
    door$run("CHECKPOINT")
    door$close()
  }
  parts <- file.path(folder, sprintf("answers-%g-%03d.parquet", n, blocks))
  for (b in blocks) {
    if (!file.exists(parts[b])) nanoparquet::write_parquet(block_of(b, min(BLOCK, n)), parts[b])
  }
}

# Runs code in a process of its own: seconds of processor time (with those of processes it began
# that have ended), seconds, and most memory (MB).
measured <- function(code) {
  script <- tempfile(fileext = ".R")
  writeLines(c(
    "suppressPackageStartupMessages(library(softsieve))",
    "options(cli.progress_show_after = 1e9)",
    sprintf("folder <- '%s'", folder),
    "time <- system.time({", code, "})",
    "peak <- grep('VmHWM', readLines('/proc/self/status'), value = TRUE)",
    "peak <- as.numeric(gsub('[^0-9]', '', peak)) / 1024",
    "cat(sum(time[c(1:2, 4:5)]), time[['elapsed']], peak, '\\n')"), script)
  out <- system2(file.path(R.home("bin"), "Rscript"), script, stdout = TRUE)
  as.numeric(strsplit(utils::tail(out, 1L), " ")[[1L]])
}

SOURCES <- list(
  csv = list(read = "data.table::fread(file.path(folder, 'answers-%g.csv'), nThread = 2)",
    count = "t <- tabulate_items(file.path(folder, 'answers-%g.csv'), ends = c(1, 5))"),
  parquet = list(
    read = paste("for (f in Sys.glob(file.path(folder, 'answers-%g-*.parquet')))",
      "nanoparquet::read_parquet(f)"),
    count = "t <- tabulate_items(file.path(folder, 'answers-%g-*.parquet'), ends = c(1, 5))"),
  sqlite = list(
    read = paste("c <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, 'answers-%g.sqlite'));",
      "r <- DBI::dbSendQuery(c, 'SELECT * FROM answers');",
      "while (!DBI::dbHasCompleted(r)) DBI::dbFetch(r, 1e5); DBI::dbClearResult(r)"),
    count = paste("c <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, 'answers-%g.sqlite'));",
      "t <- tabulate_items(database_table(c, 'answers'), ends = c(1, 5))")))

# What is there here only: a table read through ADBC or RPostgres, by one process and by two; and
# Parquet through DuckDB.
if (!is.null(address)) {
  table <- sprintf("database_table('%s', 'answers-%%g')", address)
  read <- c(sprintf("d <- softsieve:::door_of('%s')", address),
    "s <- d$send('SELECT * FROM \"answers-%g\"', 1e5)", "while (!is.null(s$take())) {}")
  SOURCES$postgresql <- list(read = paste(read, collapse = "; "),
    count = sprintf("t <- tabulate_items(%s, ends = c(1, 5))", table))
  SOURCES[["postgresql, two workers"]] <- list(read = NULL,
    count = sprintf("t <- tabulate_items(%s, ends = c(1, 5), workers = 2)", table))
}
if (has_duckdb) {
  connect <- paste("library(adbcdrivermanager);", "c <- adbc_connection_init(adbc_database_init(",
    "adbc_driver(Sys.getenv('SOFTSIEVE_DUCKDB'), 'duckdb_adbc_init')));",
    "f <- file.path(folder, 'answers-%g-*.parquet');",
    "execute_adbc(c, paste0('CREATE VIEW a AS SELECT * FROM read_parquet(\\'', f, '\\')'));")
  SOURCES[["parquet through duckdb"]] <- list(
    read = paste(connect, "s <- softsieve:::adbc_door(c)$send('SELECT * FROM a', 1e5);",
      "while (!is.null(s$take())) {}"),
    count = paste(connect, "t <- tabulate_items(database_table(c, 'a'), ends = c(1, 5))"))
}

if (length(only)) SOURCES <- SOURCES[intersect(only, names(SOURCES))]

row_of <- function(name, n, read, count) {
  row <- data.frame(source = name, people = n, read_seconds = read[1L], count_seconds = count[1L],
    ratio = count[1L] / read[1L], elapsed = count[2L], peak_mb = count[3L])
  print(row, row.names = FALSE, digits = 3L)
  row
}

rows <- list()
for (n in sizes) {
  make_sources(n)
  for (name in names(SOURCES)) {
    one <- SOURCES[[name]]
    read <- if (is.null(one$read)) NA else measured(sprintf(one$read, n))
    rows[[length(rows) + 1L]] <- row_of(name, n, read, measured(sprintf(one$count, n)))
  }
  # the counting alone, of answers that are at hand
  alone <- measured(c(
    sprintf("set.seed(1); x <- as.data.frame(matrix(sample(5L, %g, TRUE), ncol = 50))", 5e6),
    "block <- function() { if (i < n) { i <<- i + 1; x } }; i <- 0", sprintf("n <- %g", n / 1e5),
    "t <- tabulate_items(block, ends = c(1, 5))"))
  rows[[length(rows) + 1L]] <- row_of("a function (blocks in memory)", n, NA, alone)
}
table <- do.call(rbind, rows)
if (!is.na(file)) utils::write.csv(table, file, row.names = FALSE)
if (!is.null(address)) SERVER$stop()
