# Stages of a study that are stored as they are done, so that a run that broke off, or one after a
# small change, takes up what still holds. A stage is known by a fingerprint of its name, the
# version, the settings it takes and the fingerprints of what it works on. Files are JSON
# (base-exact.R): nothing in them is ever executed.

STORED_FORMAT <- "softsieve stage"

# Where stages are stored: an environment with `folder` (NULL: nowhere), the fingerprints so far,
# and what carried results stand for. `keep`: are stages stored that are not there yet?
stage_store <- function(folder, keep = TRUE) {
  store <- new.env(parent = emptyenv())
  store$keep <- keep
  store$folder <- if (!is.null(folder)) file.path(sub("/+$", "", folder), "stages")
  store$keys <- list()
  store$known <- character()
  store
}

run_stage <- function(stage, s, values, threads, store) {
  if (is.null(store$folder)) return(stage$run(s, values, threads))
  key <- stage_key(stage, s, store)
  result <- if (!isFALSE(stage[["stored"]])) stored_stage(stage$name, key, values, store)
  if (is.null(result)) {
    result <- stage$run(s, values, threads)
    if (store$keep && !isFALSE(stage[["stored"]])) store_stage(stage$name, key, result, store)
  }
  # answers are known by what they are
  if (stage$name == "questionnaire") {
    key <- rlang::hash(unclass(result)[c("values", "settings", "findings")])
  }
  store$keys[[stage$name]] <- key
  store$known[[stage$name]] <- rlang::hash(result)
  result
}

stage_key <- function(stage, s, store) {
  asked <- lapply(stage[["asks"]], function(part) stage_arguments(s, part))
  also <- if (!is.null(stage[["also"]])) stage$also(s)
  rlang::hash(list(
    stage$name,
    as.character(utils::packageVersion("softsieve")),
    asked,
    also,
    store$keys[stage$needs]
  ))
}

stage_file <- function(name, store) file.path(store$folder, paste0(name, ".json"))

# A stage as it was stored, or NULL: when it is not there, is of something else, or cannot be read.
stored_stage <- function(name, key, values, store) {
  file <- stage_file(name, store)
  if (!file.exists(file)) return(NULL)
  tryCatch(
    {
      text <- paste(readLines(file, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
      if (!grepl(sprintf("\"key\":\"%s\"", key), substr(text, 1L, 300L), fixed = TRUE)) {
        return(NULL)
      }
      result <- from_exact(parse_exact(text)$result, values)
      if (!is_result(result, "softsieve_result")) return(NULL)
      result["call"] <- list(str2lang("run_study()"))
      result
    },
    error = function(e) NULL
  )
}

# What cannot be stored (a full disk, a folder that may not be written) is worked out again.
store_stage <- function(name, key, result, store) {
  dir.create(store$folder, recursive = TRUE, showWarnings = FALSE)
  text <- sprintf(
    "{\"format\":\"%s\",\"version\":1,\"key\":\"%s\",\n\"result\":%s}",
    STORED_FORMAT,
    key,
    exact_json(result, store$known)
  )
  try(
    write_whole(stage_file(name, store), function(path) write_text(text, path)),
    silent = TRUE
  )
}
