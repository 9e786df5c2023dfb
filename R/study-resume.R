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
    text <- paste(readLines(file, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
    if (!grepl(sprintf("\"key\":\"%s\"", key), substr(text, 1L, 300L), fixed = TRUE)) {
      return(NULL)
    }
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
  text <- sprintf(
    "{\"format\":\"%s\",\"version\":1,\"key\":\"%s\",\n\"scales\":%s,\n\"result\":%s}",
    STORED_FORMAT, key, json_array(json_words(scale_names(values))),
    exact_json(result, store$known))
  # a result that holds answers (of the items that a sifting left) is not stored
  if (grepl("\"answers\":\\{\"(numbers|whole)\"", text)) return(invisible())
  try(
    write_whole(stage_file(stage$name, store), function(path) write_text(text, path)),
    silent = TRUE)
}
