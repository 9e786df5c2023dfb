# No output is an input, and no two write one file at a time.

# Refuses places to be written that are files which are read (`inputs`), by whatever name.
check_not_input <- function(places, inputs) {
  there <- function(paths) {
    paths <- paths[!is.na(paths) & nzchar(paths)]
    paths <- paths[vapply(paths, kind_of_path, "") == "plain"]
    stats::setNames(normalizePath(paths, winslash = "/"), paths)
  }
  same <- intersect(there(places), there(inputs))
  if (!length(same)) return(invisible())
  stop_input("unwritable", "What is written must not take the place of what is read.",
    got = sprintf("Both at once: %s.", name_culprits(sprintf("\"%s\"", basename(same)))),
    todo = "Write to another name, or into another folder.")
}

# The files that are behind a source of answers (paths, patterns, an address of a database's file).
files_of_source <- function(x) {
  if (is_database_table(x)) x <- x$connection
  if (!is.character(x)) return(character())
  c(x, unlist(lapply(x[grepl("[*?]", x)], Sys.glob)))
}

# A folder that only one process can make marks a file as being written: a function that takes the
# mark away. One that a process of this machine left is no mark any more.
lock_file <- function(file) {
  lock <- file.path(dirname(file), paste0(ON_THE_WAY, "lock-", basename(file)))
  holder <- file.path(lock, "holder")
  own <- paste0(writer_mark(), Sys.getpid())
  unlock <- function() unlink(lock, recursive = TRUE, expand = FALSE)
  says <- NULL
  # (a process that has just made it may not have said its name yet, or be about to take it away)
  for (i in 1:20) {
    if (dir.create(lock, showWarnings = FALSE)) {
      if (quietly(is.null(write_text(own, holder)))) return(unlock)
      unlock()
    } else if (dir.exists(lock)) {
      says <- quietly_read(holder)
      if (is_of_another(says)) break
      if (nzchar(says)) unlock()
    }
    Sys.sleep(0.05)
  }
  if (is.null(says)) {
    stop_input("unwritable", "The folder to write into must take another file.",
      got = sprintf("\"%s\" cannot be made in it.", basename(lock)),
      todo = "Is the disk full, or the name too long?")
  }
  stop_input("unwritable", "Only one process may write a file at a time.",
    got = sprintf("\"%s\" is being written by %s.", basename(file),
      if (nzchar(says)) sprintf("process %s", sub(".*-", "", says)) else "another process"),
    todo = sprintf("Wait for it; if it is no more, take away the folder \"%s\".", basename(lock)))
}

# Is a mark that of a process that lives, or of another machine, whose processes are not known here?
is_of_another <- function(says) {
  if (!nzchar(says)) return(FALSE)
  if (!startsWith(says, writer_mark())) return(TRUE)
  process <- suppressWarnings(as.integer(substring(says, nchar(writer_mark()) + 1L)))
  !is.na(process) && process != Sys.getpid() && tools::pskill(process, 0L)
}

quietly_read <- function(file) {
  lines <- suppressWarnings(tryCatch(lines_of(file, 1L), error = function(e) ""))
  if (length(lines)) lines else ""
}
