# Where scores of very many people go: a CSV or Parquet file, or a table of a database.

# A target is a list of functions: passes(block, first) (was this block written by an earlier run?),
# add(table, block, first), finish(people), leave() (what to do when it was broken off) and told()
# (scored: people with a score; name, resumed). `scores` are the columns that hold scores.
open_target <- function(into, key, scores) {
  count <- function(table) sum(rowSums(!is.na(table[scores])) > 0)
  if (is_database_table(into)) return(database_target(into, count))
  form <- lower(tools::file_ext(into))
  if (form == "csv") csv_target(into, key, count) else parquet_target(into, count)
}

check_score_target <- function(into, source) {
  if (is_database_table(into)) return(check_new_table(into, source))
  if (!is.character(into) || length(into) != 1L || is.na(into)) {
    stop_input("argument",
      "`into` must be the path of a CSV or Parquet file, or a new database_table().",
      got = describe_value(into))
  }
  form <- check_ending(into, c("csv", "parquet"))
  if (form == "parquet") needs_package("nanoparquet", "Parquet files")
  check_writable(folder_of(into))
  check_place(into)
  check_not_input(into, files_of_source(source))
}

check_new_table <- function(into, source) {
  if (!isTRUE(into$new)) {
    stop_input("source", "Scores must go into a new table.", got = "One that is there came.",
      todo = "Name one that is not: database_table(connection, table, new = TRUE).")
  }
  own <- is.character(into$connection) || is.function(into$connection)
  if (own || !is_database_table(source)) return(invisible())
  if (!identical(source$connection, into$connection)) return(invisible())
  stop_input("source", "Answers must be read and scores written by connections of their own.",
    got = "Both came with the same connection.", todo = "Connect a second time for `into`.")
}

# An unfinished CSV file stands beside its place, with a note of how far it came: the same scores of
# the same answers go on there.
csv_target <- function(into, key, count) {
  place <- check_place(into)
  beside <- file.path(dirname(place), paste0(ON_THE_WAY, "unfinished-", basename(place)))
  note <- paste0(beside, ".json")
  unlock <- lock_file(place)
  at <- list2env(list(old = unfinished_note(beside, note, key), chain = key, resumed = 0,
    scored = 0, begun = FALSE))
  list(
    passes = function(block, first) passes_csv(at, block, first, beside, note),
    add = function(table, block, first) {
      add_to_csv(at, table, first, beside, note)
      at$scored <- at$scored + count(table)
      write_note(at, key, first + nrow(block), beside, note)
    },
    finish = function(people) {
      # fewer people than an earlier run wrote: it was of others
      if (!at$begun) stop_other_blocks(beside, note)
      put_in_place(beside, place)
      unlink(note, expand = FALSE)
      unlock()
    },
    leave = unlock,
    told = function() list(scored = at$scored, name = into, resumed = at$resumed))
}

# Was this block written by an earlier run?
passes_csv <- function(at, block, first, beside, note) {
  at$chain <- rlang::hash(list(at$chain, block))
  if (is.null(at$old) || at$begun) return(FALSE)
  end <- first + nrow(block)
  if (end >= at$old$people) resume_scores(at, end, beside, note)
  TRUE
}

add_to_csv <- function(at, table, first, beside, note) {
  if (!at$begun) unlink(c(beside, note), expand = FALSE)
  at$begun <- TRUE
  text <- delimited_text(tidy_for_sheet(table), col_names = first == 0)
  append_text(text, beside)
}

# The last block that an earlier run wrote has passed: were they the same?
resume_scores <- function(at, end, beside, note) {
  if (end > at$old$people || at$chain != at$old$chain) stop_other_blocks(beside, note)
  at$begun <- TRUE
  at$resumed <- end
  at$scored <- as.numeric(at$old$scored)
}

write_note <- function(at, key, people, beside, note) {
  told <- list(key = key, chain = at$chain, people = people, scored = at$scored,
    bytes = file.size(beside))
  fresh <- paste0(note, "-new")
  write_text(jsonlite::toJSON(told, auto_unbox = TRUE, digits = NA), fresh)
  file.rename(fresh, note)
}

# What an earlier run noted, where it is of the same scores and its file is as it was left.
unfinished_note <- function(beside, note, key) {
  if (!file.exists(beside) || !file.exists(note)) return(NULL)
  old <- tryCatch(parse_json_text(paste(lines_of(note), collapse = "\n"), simplifyVector = TRUE),
    error = function(e) NULL)
  if (!is_note(old, key) || file.size(beside) < old$bytes) return(NULL)
  if (file.size(beside) > old$bytes) cut_file(beside, old$bytes)
  old
}

is_note <- function(old, key) {
  if (!is.list(old) || !identical(old$key, key)) return(FALSE)
  counts <- c(old$people, old$scored, old$bytes)
  is.numeric(counts) && length(counts) == 3L
}

# The first bytes of a file only: it was killed while it wrote.
cut_file <- function(file, bytes) {
  short <- paste0(file, "-cut")
  from <- file(file, "rb")
  to <- file(short, "wb")
  left <- bytes
  while (left > 0) {
    piece <- readBin(from, "raw", min(left, 2^24))
    if (!length(piece)) break
    writeBin(piece, to)
    left <- left - length(piece)
  }
  close(from)
  close(to)
  file.rename(short, file)
}

stop_other_blocks <- function(beside, note) {
  unlink(c(beside, note), expand = FALSE)
  stop_input("source",
    "A file that is resumed must come from the same answers, in blocks of the same size.",
    got = "These are others.",
    todo = "What was written of it was taken away: run it again, from the beginning.")
}

append_text <- function(text, file) {
  bytes <- charToRaw(enc2utf8(text))
  before <- if (file.exists(file)) file.size(file) else 0
  to <- suppressWarnings(file(file, "ab"))
  suppressWarnings(tryCatch(writeBin(bytes, to), finally = close(to)))
  if (isTRUE(file.size(file) == before + length(bytes))) return(invisible())
  stop_input("unwritable", "The file must be written whole.",
    got = sprintf("\"%s\" is shorter on the disk than what was written.", basename(file)),
    todo = "Is the disk full? Make room and run it again: it goes on where it stopped.")
}

parquet_target <- function(into, count) {
  place <- check_place(into)
  beside <- place_beside(place)
  scored <- 0
  list(passes = function(block, first) FALSE,
    add = function(table, block, first) {
      write <- if (first == 0) nanoparquet::write_parquet else nanoparquet::append_parquet
      write_checked(beside, function(path) write(table, path), basename(place))
      scored <<- scored + count(table)
    },
    finish = function(people) put_in_place(beside, place),
    leave = function() unlink(beside, expand = FALSE),
    told = function() list(scored = scored, name = into, resumed = 0))
}

# One transaction: all of the table, or none of it.
database_target <- function(into, count) {
  trying <- function(code) try_database(code)
  door <- door_of(into$connection, write = TRUE)
  trying(door$begin())
  scored <- 0
  list(passes = function(block, first) FALSE,
    add = function(table, block, first) {
      if (first == 0) trying(door$create(into$table, table))
      if (first > 0 || door$creates_empty) trying(door$append(into$table, table))
      scored <<- scored + count(table)
    },
    finish = function(people) {
      trying(door$commit())
      door$close()
    },
    leave = function() {
      try(door$rollback(), silent = TRUE)
      door$close()
    },
    told = function() list(scored = scored, name = database_words(into), resumed = 0))
}
