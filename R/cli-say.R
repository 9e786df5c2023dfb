# Where the command says things: results on stdout, the rest on stderr.

EXIT <- c(done = 0L, bad_input = 1L, wrong_usage = 2L, strict = 3L, interrupted = 130L)

# Lines to stdout. Who reads may stop reading (`| head`): that is their right, and no error.
put_out <- function(lines) {
  text <- paste0(paste(visible_text(lines), collapse = "\n"), "\n")
  tryCatch({
    cat(text)
    flush(stdout())
  }, error = function(e) rlang::abort("closed", class = "closed_pipe"))
  EXIT[["done"]]
}

# Lines to stderr: progress, notes, errors; long ones broken between words, so that none is cut.
say_aside <- function(...) {
  lines <- strsplit(visible_text(paste0(...)), "\n", fixed = TRUE)[[1L]]
  if (!length(lines)) lines <- ""
  wide <- nchar(lines, "width") > console_width()
  broken <- Map(function(line, far) if (far) wrap_lines(line, "", "  ") else line, lines, wide)
  cat(paste0(unlist(broken), "\n"), file = stderr(), sep = "")
}
