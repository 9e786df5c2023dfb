# Where the command says things: results on stdout, the rest on stderr.

EXIT <- c(done = 0L, bad_input = 1L, wrong_usage = 2L, strict = 3L, interrupted = 130L)

# Lines to stdout. Who reads may stop reading (`| head`): that is their right, and no error.
put_out <- function(lines) {
  to_stdout(paste0(visible_text(lines), "\n"))
  EXIT[["done"]]
}

# What does not arrive is an error (a disk is full), unless nobody reads any more. cat() alone does
# not tell.
to_stdout <- function(text) {
  checked <- tells_stdout()
  # (a limit on the size of files would end the process)
  if (checked) cpp_outlive_size_limit(TRUE)
  tryCatch({
    flush(stdout())
    if (checked) write_checked_out(enc2utf8(paste(text, collapse = ""))) else cat(text, sep = "")
    flush(stdout())
  }, error = function(e) {
    said <- sub(".*system error [0-9]+, ([^)]*)[)].*", "\\1", paste(conditionMessage(e),
      conditionMessage(if (is.null(e$parent)) e else e$parent)))
    if (!checked || grepl("Broken pipe", said)) rlang::abort("closed", class = "closed_pipe")
    stop_input("unwritable", "What is said must be written whole.", got = first_line(said),
      todo = "Is the disk full?")
  })
}

tells_stdout <- function() {
  sink.number() == 0L && !isatty(stdout()) && .Platform$OS.type == "unix" &&
    requireNamespace("processx", quietly = TRUE)
}

write_checked_out <- function(text) {
  out <- processx::conn_create_fd(1L, close = FALSE)
  left <- charToRaw(text)
  while (length(left)) {
    left <- processx::conn_write(out, left)
    if (length(left)) Sys.sleep(0.01)
  }
}

# Lines to stderr: progress, notes, errors; long ones broken between words, so that none is cut.
say_aside <- function(...) {
  lines <- strsplit(visible_text(paste0(...)), "\n", fixed = TRUE)[[1L]]
  if (!length(lines)) lines <- ""
  wide <- nchar(lines, "width") > console_width()
  broken <- Map(function(line, far) if (far) wrap_lines(line, "", "  ") else line, lines, wide)
  cat(paste0(unlist(broken), "\n"), file = stderr(), sep = "")
}
