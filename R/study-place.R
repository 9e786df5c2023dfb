# Where a study's answers are: a file, or a table of a database.

# The ways in which `answers` may say it: exactly one of them, whole.
ANSWER_WAYS <- list("file", c("database", "table"))

check_answer_ways <- function(x, at, call) {
  given <- vapply(ANSWER_WAYS, function(way) any(!vapply(x[way], is.null, NA)), NA)
  whole <- vapply(ANSWER_WAYS, function(way) !any(vapply(x[way], is.null, NA)), NA)
  if (sum(given) == 1L && any(whole)) return(invisible())
  there <- intersect(unlist(ANSWER_WAYS), names(x)[!vapply(x, is.null, NA)])
  stop_input(
    "study",
    sprintf("`%s` must hold `file`, or `database` and `table`.", at),
    got = if (length(there)) sprintf("It holds %s.", join_words(there)) else "It holds neither.",
    todo = "For example file: answers.csv; or database: panel.sqlite and table: answers.",
    call = call
  )
}

# The answers of a study's settings as they are read: a path, or a table of a database.
study_answers <- function(s) {
  if (is.null(s$answers$database)) return(study_path(s, s$answers$file))
  database_table(study_path(s, s$answers$database), unlist(s$answers$table))
}

read_study_answers <- function(s) {
  reading <- stage_arguments(s, "read")
  reading <- reading[setdiff(names(reading), c("database", "table"))]
  reading$file <- study_answers(s)
  if (is.null(reading$missing)) reading <- reading[names(reading) != "missing"]
  call_with(read_responses, reading)
}

# In words, without the folder.
answers_words <- function(s) {
  if (is.null(s$answers$database)) return(basename(s$answers$file))
  sprintf("%s in %s", paste(s$answers$table, collapse = "."), basename(s$answers$database))
}

# What `answers` says of a path or a table, as seen from the folder `home`.
place_entries <- function(answers, home, call) {
  if (!is_database_table(answers)) return(list(file = relative_path(answers, home)))
  if (!is.character(answers$connection)) {
    stop_input(
      "source",
      "A study file names a database by its address.",
      got = "A connection came, which no file can hold.",
      todo = "Give database_table() an address: \"postgresql://host/panel\" or \"panel.sqlite\".",
      call = call
    )
  }
  address <- answers$connection
  if (!grepl("://", address, fixed = TRUE)) address <- relative_path(address, home)
  list(database = address, table = answers$table)
}

# The same of settings that are to be written elsewhere.
moved_answers <- function(s, home) {
  if (!is.null(s$answers$file)) s$answers$file <- relative_path(study_path(s, s$answers$file), home)
  if (!is.null(s$answers$database) && !grepl("://", s$answers$database, fixed = TRUE)) {
    s$answers$database <- relative_path(study_path(s, s$answers$database), home)
  }
  s
}

# The command names a table by the database's address, a #, and the table: panel.sqlite#answers. A
# file that is so called is a file.
answers_named <- function(word, call) {
  if (file.exists(word) || !grepl("#", word, fixed = TRUE)) {
    check_file(word, call)
    return(word)
  }
  parts <- regmatches(word, regexec("^(.+)#([^#]*)$", word))[[1L]]
  in_name_of(call, database_table(parts[2L], strsplit(parts[3L], ".", fixed = TRUE)[[1L]]))
}
