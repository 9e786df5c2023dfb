# Stages of a study that are stored as they are done, so that a run that broke off, or one after a
# small change, takes up what still holds. A stage is known by a fingerprint of its name, the
# version, the settings it takes and the fingerprints of what it works on. Files are JSON
# (base-exact.R): nothing in them is ever executed.

STORED_FORMAT <- "softsieve stage"

# Where stages are stored: an environment with `folder` (NULL: nowhere), the fingerprints so far
# (`keys`, and those without the factors' names, `nameless`), and what carried results stand for.
# `keep`: are stages stored that are not there yet?
stage_store <- function(folder, keep = TRUE) {
  store <- new.env(parent = emptyenv())
  store$keep <- keep
  store$folder <- if (!is.null(folder)) file.path(sub("/+$", "", folder), "stages")
  store$keys <- store$nameless <- list()
  store$known <- character()
  store
}

run_stage <- function(stage, s, values, threads, store) {
  if (is.null(store$folder)) return(stage$run(s, values, threads))
  kept <- !isFALSE(stage[["stored"]])
  key <- stage_key(stage, s, store$keys)
  nameless <- stage_key(stage, replace_names(s, NULL), store$nameless)
  wanted <- if (isTRUE(stage[["renames"]])) nameless else key
  found <- if (kept) stored_stage(stage, wanted, s, values, store)
  result <- taken_up(found, stage, values)
  if (is.null(result)) {
    result <- stage$run(s, values, threads)
    if (store$keep && kept) store_stage(stage, wanted, result, values, store)
  }
  # answers are known by what they are
  if (stage$name == "questionnaire") {
    key <- nameless <- rlang::hash(unclass(result)[c("values", "settings", "findings")])
  }
  store$keys[[stage$name]] <- key
  store$nameless[[stage$name]] <- nameless
  store$known[[stage$name]] <- rlang::hash(result)
  result
}

replace_names <- function(s, names) {
  s$factors["names"] <- list(names)
  s
}

stage_key <- function(stage, s, keys) {
  asked <- lapply(stage[["asks"]], function(part) stage_arguments(s, part))
  also <- if (!is.null(stage[["also"]])) stage$also(s)
  seed <- if (length(stage[["seed"]])) seed_of(s, names(stage$seed))
  rlang::hash(list(stage$name, as.character(utils::packageVersion("softsieve")), asked, also, seed,
    keys[stage$needs]))
}

stage_file <- function(name, store) file.path(store$folder, paste0(name, ".json"))

# A stage as it was stored, or NULL: when it is not there, is of something else, or cannot be read.
stored_stage <- function(stage, key, s, values, store) {
  file <- stage_file(stage$name, store)
  if (!file.exists(file)) return(NULL)
  tryCatch({
    text <- paste(lines_of(file), collapse = "\n")
    head <- sub("\n.*", "", substr(text, 1L, 300L))
    if (!grepl(sprintf("\"key\":\"%s\"", key), head, fixed = TRUE)) return(NULL)
    # what somebody changed is worked out again
    if (!grepl(rlang::hash(substring(text, nchar(head) + 2L)), head, fixed = TRUE)) return(NULL)
    stored <- parse_exact(text)
    result <- from_exact(stored$result, values)
    if (!is_result(result, "softsieve_result")) return(NULL)
    if (!is.null(stage[["revive"]])) result <- stage$revive(result, s)
    result["call"] <- list(str2lang("run_study()"))
    list(result = result, scales = unlist(stored$scales))
  }, error = function(e) NULL)
}

taken_up <- function(found, stage, values) {
  if (is.null(found) || !isTRUE(stage[["renames"]])) return(found$result)
  rename_scales(found$result, found$scales, scale_names(values), values)
}

scale_names <- function(values) unique(values$scales$values$scales$scale)

# A result with other names of its scales; NULL where other words could be touched: names that
# people gave may be any word, those of items may be F1.
rename_scales <- function(result, from, to, values) {
  if (identical(from, to)) return(result)
  if (length(from) != length(to) || !all(grepl("^[A-Z]+[0-9]+$", from))) return(NULL)
  said <- unlist(values$questionnaire$values$items[c("item", "wording", "facet")])
  if (any(vapply(from, function(name) any(grepl(name, said, fixed = TRUE)), NA))) return(NULL)
  new_name <- function(words) {
    at <- match(words, from)
    words[!is.na(at)] <- to[at[!is.na(at)]]
    words
  }
  result <- rename_within(result, new_name)
  # all at once: a new name may be an old one of another
  result$findings$text <- replace_words(result$findings$text, from, to)
  result
}

# Words that are names, names of parts and of rows and columns, however deep.
rename_within <- function(x, new_name) {
  kept <- attributes(x)
  if (is.character(x)) {
    x <- new_name(as.vector(x))
  } else if (is.list(x)) {
    x <- lapply(unclass(x), rename_within, new_name)
  }
  if (length(kept)) attributes(x) <- lapply(kept, rename_within, new_name)
  x
}

# Longest names first, each by a mark that no text has, so that none is replaced twice.
replace_words <- function(text, from, to) {
  marks <- sprintf("\001%d\001", seq_along(from))
  for (i in order(-nchar(from))) text <- gsub(from[i], marks[i], text, fixed = TRUE)
  for (i in seq_along(to)) text <- gsub(marks[i], to[i], text, fixed = TRUE)
  text
}

# What cannot be stored (a full disk, a folder that may not be written) is worked out again.
store_stage <- function(stage, key, result, values, store) {
  dir.create(store$folder, recursive = TRUE, showWarnings = FALSE)
  body <- sprintf("\"scales\":%s,\n\"result\":%s}", json_array(json_words(scale_names(values))),
    exact_json(result, store$known))
  head <- "{\"format\":\"%s\",\"version\":1,\"key\":\"%s\",\"sum\":\"%s\","
  text <- paste0(sprintf(head, STORED_FORMAT, key, rlang::hash(body)), "\n", body)
  # a result that holds answers (of the items that a sifting left) is not stored
  if (grepl("\"answers\":\\{\"(numbers|whole)\"", text)) return(invisible())
  try(
    write_whole(stage_file(stage$name, store), function(path) write_text(text, path)),
    silent = TRUE)
}

# Where a study's answers are: a file, or a table of a database.

# The answers of a study's settings as they are read: a path, or a table of a database.
study_answers <- function(s) {
  if (is.null(s$answers$database)) return(study_path(s, s$answers$file))
  database_table(study_path(s, s$answers$database), unlist(s$answers$table))
}

# In words, without the folder.
answers_words <- function(s) {
  if (!is.null(s$answers$matrix)) return(basename(s$answers$matrix))
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
  # (where the locale knows ASCII alone, names of files are bytes)
  if (!l10n_info()[["UTF-8"]]) Encoding(name) <- "unknown"
  if (grepl("^(/|~|[A-Za-z]:|[a-z]+://)", name)) name else file.path(settings$folder, name)
}

# The files that a study reads, wherever it names them, and its own.
files_of_study <- function(study) {
  s <- study$settings
  words <- unlist(rapply(s[setdiff(names(s), "folder")], as.character, "character", how = "list"))
  words <- words[nchar(words, "bytes") < 1000L & !grepl("\n", words, fixed = TRUE)]
  named <- vapply(unique(words), study_path, "", settings = list(folder = s$folder))
  c(named, s$file)
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

# From what a study file says of its answers to the questionnaire.

questionnaire_of_study <- function(s) drop_as_decided(questionnaire_as_read(s), s)

# With every item that the file and the codebook hold.
questionnaire_as_read <- function(s) {
  data <- read_study_answers(s)
  codebook <- if (!is.null(s$codebook)) read_codebook(study_path(s, s$codebook))
  asking <- stage_arguments(s, "ask")
  asking["missing_codes"] <- list(codes_of_study(asking$missing_codes))
  called <- unlist(stage_arguments(s, "called"))
  if (length(called)) names(called) <- sub("s$", "", names(called))
  # columns are named by words: they go in as they are
  asked <- rlang::inject(questionnaire(data, codebook = codebook, called = called, !!!asking))
  filters <- unlist(s$answers$filters)
  if (length(filters)) keep_people(asked, where = filters) else asked
}

# Codes as numbers where all are; words stay words.
codes_of_study <- function(codes) {
  if (is.null(codes)) return(NULL)
  number <- suppressWarnings(as.numeric(codes))
  if (anyNA(number)) as.character(codes) else number
}

# Where items are sifted, dropping is the first step of that, and stands in its trail.
drop_as_decided <- function(asked, s) {
  gone <- names(s$by_hand$drop)
  if (s$sift$run) return(asked)
  strange <- setdiff(gone, colnames(asked$values$answers))
  if (length(strange)) {
    stop_input("items", "Items that are dropped must be among the items.",
      got = sprintf("Not there: %s.", name_culprits(strange)),
      todo = hint_nearest(strange[1L], colnames(asked$values$answers)))
  }
  if (!length(gone)) return(asked)
  keep_items(asked, -tidyselect::all_of(gone))
}

read_study_answers <- function(s) {
  reading <- stage_arguments(s, "read")
  reading <- reading[setdiff(names(reading), c("database", "table"))]
  reading$file <- study_answers(s)
  if (is.null(reading$missing)) reading <- reading[names(reading) != "missing"]
  call_with(read_responses, reading)
}

# From everybody in the file to those that each test is of.

# One row for each step at which people may be left out: `step` in words, `out`, `left`, `why` (a
# name) and `conditions`.
people_left <- function(study) {
  v <- study$values
  if (is.null(v$questionnaire)) return(NULL)
  kept <- v$questionnaire$findings
  kept <- kept[kept$code == "people_kept", ]
  answers <- v$questionnaire$values$answers
  empty <- sum(rowSums(!is.na(answers)) == 0L)
  n <- nrow(answers)
  rows <- list(list("In the file", NA, if (nrow(kept)) kept$limit[1L] else n, "", ""),
    if (nrow(kept)) {
      said <- paste(v$questionnaire$settings$kept, collapse = "; ")
      list("Met the condition for inclusion", kept$limit[1L] - n, n, "filtered", said)
    },
    list("Answered an item", empty, n - empty, "unanswered", ""))
  if (!is.null(v$correlations)) rows <- c(rows, steps_of_correlations(v, n - empty))
  if (!is.null(v$scores)) {
    scored <- sum(stats::complete.cases(score_matrix(v$scores)))
    rows <- c(rows, list(list("Have scores on all factors", NA, scored, "scored", "")))
  }
  rows <- rows[!vapply(rows, is.null, NA)]
  tibble_of(step = vapply(rows, `[[`, "", 1L),
    out = vapply(rows, function(row) as.integer(row[[2L]]), 0L),
    left = vapply(rows, function(row) as.integer(row[[3L]]), 0L), why = vapply(rows, `[[`, "", 4L),
    conditions = vapply(rows, `[[`, "", 5L))
}

steps_of_correlations <- function(v, there) {
  r <- v$correlations$values
  complete <- v$correlations$settings$missing == "complete"
  pair <- range(r$n_pair[upper.tri(r$n_pair)])
  range <- if (pair[1L] < pair[2L]) {
    sprintf("Answered both items of a pair (%s at most)", format_count(pair[2L]))
  }
  list(
    if (complete) list("Answered all items", there - r$people, r$people, "incomplete", ""),
    if (!is.null(range)) list(range, NA, pair[1L], "pairs", ""),
    list("Effective size of tests", NA, r$n, "tests", ""))
}

score_matrix <- function(scores) as.matrix(scores$values$scores[scores$values$factors[[1L]]])
