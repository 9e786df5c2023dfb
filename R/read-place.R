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

kind_of_path <- function(path) cpp_kind_of_path(enc2native(path.expand(path)))

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

put_back <- function(kept, to, moved) for (i in rev(seq_along(to))) {
  if (nzchar(kept[i])) {
    if (dir.exists(kept[i])) unlink(to[i], recursive = TRUE, expand = FALSE)
    quietly(file.rename(kept[i], to[i]))
  } else if (i <= moved) {
    unlink(to[i], recursive = TRUE, expand = FALSE)
  }
}

quietly <- function(code) isTRUE(suppressWarnings(tryCatch(code, error = function(e) FALSE)))
