# The lines of a text file of ours, whatever the session's options say of encodings.
lines_of <- function(file, most = -1L) {
  from <- base::file(file, "r", encoding = "native.enc")
  on.exit(close(from))
  readLines(from, most, warn = FALSE, encoding = "UTF-8")
}
