# Where a study's answers are: a file, or a table of a database.

# The answers of a study's settings as they are read: a path, or a table of a database.
study_answers <- function(s) {
  if (is.null(s$answers$database)) return(study_path(s, s$answers$file))
  database_table(study_path(s, s$answers$database), unlist(s$answers$table))
}

# In words, without the folder.
answers_words <- function(s) {
  if (is.null(s$answers$database)) return(basename(s$answers$file))
  sprintf("%s in %s", paste(s$answers$table, collapse = "."), basename(s$answers$database))
}

# What `answers` says of a path or a table, as seen from the folder `home`.
place_entries <- function(answers, home) {
  if (!is_database_table(answers)) return(list(file = relative_path(answers, home)))
  if (!is.character(answers$connection)) {
    stop_input("source", "A study file names a database by its address.",
      got = "A connection came, which no file can hold.",
      todo = "Give database_table() an address: \"postgresql://host/panel\" or \"panel.sqlite\".")
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
answers_named <- function(word) {
  if (file.exists(word) || !grepl("#", word, fixed = TRUE)) {
    check_file(word)
    return(word)
  }
  parts <- regmatches(word, regexec("^(.+)#([^#]*)$", word))[[1L]]
  database_table(parts[2L], strsplit(parts[3L], ".", fixed = TRUE)[[1L]])
}

# Where a file (or a database) that the study names is.
study_path <- function(settings, name) {
  if (grepl("^(/|~|[A-Za-z]:|[a-z]+://)", name)) name else file.path(settings$folder, name)
}

# The way to `file` from the folder `home`, so that a study can be moved together with its answers.
relative_path <- function(file, home) {
  there <- strsplit(normalizePath(file, winslash = "/", mustWork = FALSE), "/", fixed = TRUE)[[1L]]
  here <- strsplit(normalizePath(home, winslash = "/"), "/", fixed = TRUE)[[1L]]
  if (there[1L] != here[1L]) return(file) # another drive
  shared <- sum(cumprod(
    utils::head(there, min(lengths(list(there, here)))) ==
      utils::head(here, min(lengths(list(there, here))))))
  paste(c(rep("..", length(here) - shared), there[-seq_len(shared)]), collapse = "/")
}
