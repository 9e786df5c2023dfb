# Writing: whole or not at all, and nothing that a spreadsheet would run.

# The ending of a file's name, one of those that can be written.
check_ending <- function(file, endings) {
  form <- lower(tools::file_ext(file))
  if (form %in% endings) return(form)
  stop_input("ending",
    sprintf("The file's name must end in %s.",
      sub("(.*) and ", "\\1 or ", join_words(paste0(".", endings)))),
    got = sprintf("\"%s\" came.", basename(file)),
    todo = "The ending says what kind of file is written.")
}

needs_package <- function(package, what) {
  if (requireNamespace(package, quietly = TRUE)) return(invisible())
  stop_input("package", sprintf("%s need the package %s.", what, package),
    got = "It is not installed.", todo = sprintf("install.packages(\"%s\").", package))
}

# Text as UTF-8; what does not arrive on the disk is an error.
write_text <- function(text, path) {
  bytes <- charToRaw(enc2utf8(paste0(sub("\n$", "", paste(text, collapse = "\n")), "\n")))
  # what these warn of is an error, too
  to <- suppressWarnings(file(path, "wb"))
  suppressWarnings(tryCatch(writeBin(bytes, to), finally = close(to)))
  if (!isTRUE(file.size(path) == length(bytes))) {
    stop("the file on the disk is shorter than what was written")
  }
}

# Calls write(path) with a path beside `file`, and renames when what was written is whole. A writer
# that fails leaves nothing.
write_whole <- function(file, write) {
  check_writable(dirname(file))
  file <- check_place(file)
  beside <- place_beside(file)
  on.exit(unlink(beside, expand = FALSE), add = TRUE)
  write_checked(beside, write, basename(file))
  put_in_place(beside, file)
  invisible(file)
}

# What the writer warns of is judged by what it left: a file that is whole, or an error of ours.
write_checked <- function(path, write, name) {
  told <- character()
  failed <- function(e) {
    if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
    stop_input("unwritable", "The file must be written whole.",
      got = sprintf("\"%s\": %s", name, paste(c(conditionMessage(e), told), collapse = "; ")),
      todo = if (grepl("shorter|space|No such|open", conditionMessage(e))) {
        "Is the disk full? Nothing was left behind."
      } else {
        "Nothing was left behind."
      })
  }
  tryCatch(withCallingHandlers(write(path), warning = function(w) {
    told <<- c(told, conditionMessage(w))
    invokeRestart("muffleWarning")
  }), error = failed)
  if (!is_whole(path)) failed(simpleError("it broke off before its end"))
}

# How files end that are whole: those of kinds whose writers do not tell of a full disk.
FILE_TAILS <- list(png = as.raw(c(0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82)),
  parquet = charToRaw("PAR1"))

is_whole <- function(path) {
  size <- file.size(path)
  if (is.na(size) || size == 0) return(FALSE)
  form <- lower(tools::file_ext(path))
  if (form %in% c("xlsx", "docx")) return(!length(wrong_in_zip(path)))
  tail <- FILE_TAILS[[form]]
  if (form == "svg") tail <- charToRaw("</svg>")
  if (is.null(tail)) return(TRUE)
  from <- file(path, "rb")
  on.exit(close(from))
  seek(from, max(0, size - 64))
  length(grepRaw(tail, readBin(from, "raw", 64L), fixed = TRUE)) > 0L
}

check_writable <- function(folder) {
  if (dir.exists(folder) && file.access(folder, 2L) == 0) return(invisible(folder))
  stop_input("unwritable",
    "The folder to write into must exist and be writable.",
    got = if (dir.exists(folder)) {
      sprintf("\"%s\" may not be written to.", folder)
    } else {
      sprintf("There is no folder \"%s\".", folder)
    },
    todo = "Name another folder, or make it first.")
}

tidy_for_sheet <- function(table) {
  table <- all_visible(table)
  names(table) <- neutral_text(names(table))
  table[] <- lapply(table, function(x) {
    if (is.list(x)) x <- vapply(x, function(part) paste(part, collapse = " "), "")
    if (is.factor(x)) x <- as.character(x)
    if (is.character(x)) neutral_text(x) else x
  })
  table
}

neutral_text <- function(x) ifelse(!is.na(x) & grepl("^[=+@\t\r\n-]", x), paste0("'", x), x)
