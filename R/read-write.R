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

# A file of our own, for this session: whole, or what would be read of it were cut.
write_own <- function(path, size, write) {
  # (a limit on the size of files would end the process)
  before <- cpp_outlive_size_limit(TRUE)
  on.exit(cpp_outlive_size_limit(before))
  to <- file(path, "wb")
  suppressWarnings(tryCatch(write(to), error = function(e) NULL, finally = close(to)))
  if (isTRUE(file.size(path) == size)) return(invisible())
  stop_input("unwritable", "R must have room for files of its own.",
    got = sprintf("\"%s\" took %.0f of %.0f bytes.", dirname(path), file.size(path), size),
    todo = "Is the disk full? The variable TMPDIR names another folder; begin R anew.")
}

# Calls write(path) with a path beside `file`, and renames when what was written is whole. A writer
# that fails leaves nothing.
write_whole <- function(file, write) {
  check_writable(folder_of(file))
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
    said <- paste(unique(c(conditionMessage(e), told)), collapse = "; ")
    stop_input("unwritable", "The file must be written whole.",
      got = sprintf("\"%s\": %s", name, said),
      todo = if (grepl("shorter|space|No such|open", conditionMessage(e))) {
        "Is the disk full? Nothing was left behind."
      } else {
        "Nothing was left behind."
      })
  }
  # (a limit on the size of files would end the process)
  before <- cpp_outlive_size_limit(TRUE)
  on.exit(cpp_outlive_size_limit(before))
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
  check_path(folder)
  # (a folder that was deleted while one stood in it still seems to be there)
  known <- !is.na(suppressWarnings(tryCatch(normalizePath(folder, mustWork = TRUE),
    error = function(e) NA)))
  if (known && dir.exists(folder) && file.access(folder, 2L) == 0) return(invisible(folder))
  stop_input("unwritable",
    "The folder to write into must exist and be writable.",
    got = if (known && dir.exists(folder)) {
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

# Where files are put: what stands in their place is looked at before the work begins, all of it is
# made beside its place, and then moved in, all or nothing.

# Files on their way are hidden and named by who writes them, so that what a killed run left is told
# from what another is writing.
ON_THE_WAY <- ".softsieve-"

writer_mark <- function() {
  host <- substr(rlang::hash(Sys.info()[["nodename"]]), 1L, 6L)
  paste0(ON_THE_WAY, host, "-")
}

place_beside <- function(file) {
  there_is_room()
  folder <- dirname(file)
  clear_leftovers(folder)
  # (the ending tells writers what to write)
  ending <- tools::file_ext(file)
  mark <- sprintf("%s%d-", writer_mark(), Sys.getpid())
  tempfile(mark, folder, if (nzchar(ending)) paste0(".", ending) else "")
}

# What runs on this machine that are no more have left in a folder.
clear_leftovers <- function(folder) {
  mark <- writer_mark()
  found <- list.files(folder, paste0("^", mark, "[0-9]+-"), all.files = TRUE)
  if (!length(found) || .Platform$OS.type == "windows") return(invisible())
  process <- as.integer(sub("-.*$", "", substring(found, nchar(mark) + 1L)))
  gone <- !vapply(process, function(id) tools::pskill(id, 0L), NA)
  unlink(file.path(folder, found[gone]), recursive = TRUE, expand = FALSE)
}

kind_of_path <- function(path) {
  check_path(path)
  cpp_kind_of_path(enc2native(path.expand(path)))
}

# The place itself where `file` is a link to a file. What is no file (a folder, a device, a link to
# nothing) gives way to nobody.
check_place <- function(file, what = "plain") {
  kind <- kind_of_path(file)
  if (kind == "none") return(file)
  if (kind == what) return(if (nzchar(Sys.readlink(file))) normalizePath(file) else file)
  is <- c(plain = "a file", folder = "a folder", dangling = "a link to nothing",
    other = "a device, a pipe or a socket")
  stop_input("unwritable", sprintf("What is written must not stand in the way of %s.", is[[kind]]),
    got = sprintf("\"%s\" is one.", file), todo = "Give another name, or take it away.")
}

# Moves files (or folders) that are whole to their places, and takes the files `away` that they
# outdate: all of them, or what was there before stands there again.
put_in_place <- function(from, to, away = character()) {
  places <- c(to, away)
  suspendInterrupts({
    # a single file is replaced in one step: there is nothing to put back
    alone <- length(places) == 1L && !dir.exists(to)
    kept <- if (alone) "" else vapply(places, keep_old, "")
    on.exit(unlink(kept[nzchar(kept)], recursive = TRUE, expand = FALSE), add = TRUE)
    moved <- move_all(c(from, away), c(to, character(length(away))))
    if (moved < length(places)) {
      put_back(kept, places, moved)
      stop_input("unwritable", "The file must be writable.",
        got = sprintf("\"%s\" could not be replaced; all is as it was.", places[moved + 1L]),
        todo = "Is it open in another program?")
    }
  })
}

# How many were moved (to "": taken away): all, or those before the first that could not be.
move_all <- function(from, to) {
  native <- function(path) enc2native(path.expand(path))
  if (.Platform$OS.type != "windows") return(cpp_move_all(native(from), native(to)))
  for (i in seq_along(from)) {
    done <- if (nzchar(to[i])) file.rename(from[i], to[i]) else file.remove(from[i])
    if (!quietly(done)) return(i - 1L)
  }
  length(from)
}

# A second name for what stands in a place, "" where nothing does. A folder gives way at once.
keep_old <- function(to) {
  if (!file.exists(to)) return("")
  kept <- place_beside(to)
  if (dir.exists(to)) return(if (quietly(file.rename(to, kept))) kept else "")
  if (quietly(file.link(to, kept)) || quietly(file.copy(to, kept))) kept else ""
}

put_back <- function(kept, to, moved) {
  for (i in rev(seq_along(to))) {
    if (nzchar(kept[i])) {
      if (dir.exists(kept[i])) unlink(to[i], recursive = TRUE, expand = FALSE)
      quietly(file.rename(kept[i], to[i]))
    } else if (i <= moved) {
      unlink(to[i], recursive = TRUE, expand = FALSE)
    }
  }
}

quietly <- function(code) isTRUE(suppressWarnings(tryCatch(code, error = function(e) FALSE)))
