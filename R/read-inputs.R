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
  # (a process that has just made it may not have said its name yet)
  for (i in 1:20) {
    if (dir.create(lock, showWarnings = FALSE)) {
      write_text(own, holder)
      return(function() unlink(lock, recursive = TRUE, expand = FALSE))
    }
    if (!dir.exists(lock)) check_writable(file.path(dirname(file), "x"))
    says <- quietly_read(holder)
    if (startsWith(says, writer_mark())) {
      process <- suppressWarnings(as.integer(substring(says, nchar(writer_mark()) + 1L)))
      mine <- process == Sys.getpid()
      if (!mine && tools::pskill(process, 0L)) break
      unlink(lock, recursive = TRUE, expand = FALSE)
    }
    Sys.sleep(0.05)
  }
  stop_input("unwritable", "Only one process may write a file at a time.",
    got = sprintf("\"%s\" is being written by %s.", basename(file),
      if (nzchar(says)) sprintf("process %s", sub(".*-", "", says)) else "another process"),
    todo = sprintf("Wait for it; if it is no more, take away the folder \"%s\".", basename(lock)))
}

quietly_read <- function(file) {
  lines <- suppressWarnings(tryCatch(lines_of(file, 1L), error = function(e) ""))
  if (length(lines)) lines else ""
}
