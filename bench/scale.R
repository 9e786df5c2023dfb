# What counting block by block costs, in time and memory, as people grow many: against reading the
# same source alone, in the same run, each in a process of its own. Then workers of a plan against
# one. Run from the package root, with the package installed:
#   Rscript bench/scale.R [folder] [people, several with commas] [file for the table]
# Files are made in `folder` where they are not there (1e7 people: some 4 GB).

arguments <- commandArgs(trailingOnly = TRUE)
given <- function(at, otherwise) if (is.na(arguments[at])) otherwise else arguments[at]
folder <- given(1L, "scale-data")
sizes <- as.numeric(strsplit(given(2L, "1e5,1e6"), ",")[[1L]])
file <- given(3L, NA)
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

make_sources <- function(n) {
  path <- function(ending) file.path(folder, sprintf("answers-%g.%s", n, ending))
  blocks <- seq_len(ceiling(n / BLOCK))
  if (!file.exists(path("csv"))) {
    for (b in blocks) {
      data.table::fwrite(block_of(b, min(BLOCK, n)), paste0(path("csv"), "-part"), append = b > 1)
    }
    file.rename(paste0(path("csv"), "-part"), path("csv"))
  }
  if (!file.exists(path("sqlite"))) {
    connection <- DBI::dbConnect(RSQLite::SQLite(), path("sqlite"))
    for (b in blocks) {
      DBI::dbWriteTable(connection, "answers", block_of(b, min(BLOCK, n)), append = b > 1)
    }
    DBI::dbDisconnect(connection)
  }
  parts <- file.path(folder, sprintf("answers-%g-%03d.parquet", n, blocks))
  for (b in blocks) {
    if (!file.exists(parts[b])) nanoparquet::write_parquet(block_of(b, min(BLOCK, n)), parts[b])
  }
}

# Runs code in a process of its own: seconds of processor time, seconds, and most memory (MB).
measured <- function(code) {
  script <- tempfile(fileext = ".R")
  writeLines(c(
    "suppressPackageStartupMessages(library(softsieve))",
    "options(cli.progress_show_after = 1e9)",
    sprintf("folder <- '%s'", folder),
    "time <- system.time({", code, "})",
    "peak <- grep('VmHWM', readLines('/proc/self/status'), value = TRUE)",
    "cat(sum(time[1:2]), time[['elapsed']], as.numeric(gsub('[^0-9]', '', peak)) / 1024, '\\n')"
  ), script)
  out <- system2(file.path(R.home("bin"), "Rscript"), script, stdout = TRUE)
  as.numeric(strsplit(utils::tail(out, 1L), " ")[[1L]])
}

SOURCES <- list(
  csv = list(
    read = "data.table::fread(file.path(folder, 'answers-%g.csv'), nThread = 2)",
    count = "t <- tabulate_items(file.path(folder, 'answers-%g.csv'), ends = c(1, 5))"
  ),
  parquet = list(
    read = paste(
      "for (f in Sys.glob(file.path(folder, 'answers-%g-*.parquet')))",
      "nanoparquet::read_parquet(f)"
    ),
    count = "t <- tabulate_items(file.path(folder, 'answers-%g-*.parquet'), ends = c(1, 5))"
  ),
  sqlite = list(
    read = paste(
      "c <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, 'answers-%g.sqlite'));",
      "r <- DBI::dbSendQuery(c, 'SELECT * FROM answers');",
      "while (!DBI::dbHasCompleted(r)) DBI::dbFetch(r, 1e5); DBI::dbClearResult(r)"
    ),
    count = paste(
      "c <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, 'answers-%g.sqlite'));",
      "t <- tabulate_items(database_table(c, 'answers'), ends = c(1, 5))"
    )
  )
)

rows <- list()
for (n in sizes) {
  make_sources(n)
  for (name in names(SOURCES)) {
    one <- SOURCES[[name]]
    read <- measured(sprintf(one$read, n))
    count <- measured(sprintf(one$count, n))
    rows[[length(rows) + 1L]] <- data.frame(
      source = name,
      people = n,
      read_seconds = read[1L],
      count_seconds = count[1L],
      ratio = count[1L] / read[1L],
      peak_mb = count[3L]
    )
    print(rows[[length(rows)]], row.names = FALSE, digits = 3L)
  }
  # the counting alone, of answers that are at hand
  alone <- measured(c(
    sprintf("set.seed(1); x <- as.data.frame(matrix(sample(5L, %g, TRUE), ncol = 50))", 5e6),
    "block <- function() { if (i < n) { i <<- i + 1; x } }; i <- 0",
    sprintf("n <- %g", n / 1e5),
    "t <- tabulate_items(block, ends = c(1, 5))"
  ))
  rows[[length(rows) + 1L]] <- data.frame(
    source = "a function (blocks in memory)",
    people = n,
    read_seconds = NA,
    count_seconds = alone[1L],
    ratio = NA,
    peak_mb = alone[3L]
  )
  print(rows[[length(rows)]], row.names = FALSE, digits = 3L)
}
table <- do.call(rbind, rows)
if (!is.na(file)) utils::write.csv(table, file, row.names = FALSE)

# 500 draws of a polychoric solution by the stages, on one worker and on two
if (requireNamespace("future", quietly = TRUE)) {
  of_workers <- function(workers) {
    measured(c(
      if (workers > 1) sprintf("future::plan('multisession', workers = %d)", workers),
      "q <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)",
      "s <- factor_solution(q, 4, kind = 'polychoric', seed = 1)",
      "x <- loading_stability(s, replicates = 500, halves = 0, seed = 1, threads = 1)"
    ))[2L]
  }
  seconds <- c(of_workers(1), of_workers(2))
  cat(sprintf("500 draws: %.1f s on one worker, %.1f on two: %.2f times\n",
    seconds[1L], seconds[2L], seconds[1L] / seconds[2L]))
  # what one range costs that does nothing
  cost <- measured(c(
    "future::plan('multisession', workers = 2)",
    "f <- function() future::value(future::future(1, globals = FALSE, seed = NULL)); f(); f()",
    "for (i in 1:50) f()"
  ))[2L]
  cat(sprintf("One range: %.0f ms (with the start of workers, over 52)\n", cost / 0.052))
}
