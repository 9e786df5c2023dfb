# What is text for people stands in files that can be edited without R (inst/catalogue), each read
# once.
FOUND <- new.env(parent = emptyenv())

catalogue <- function(name) {
  key <- paste0("catalogue ", name)
  if (is.null(FOUND[[key]])) {
    file <- system.file("catalogue", paste0(name, ".yml"), package = "softsieve", mustWork = TRUE)
    text <- paste(readLines(file, encoding = "UTF-8"), collapse = "\n")
    assign(key, yaml::yaml.load(text, eval.expr = FALSE), envir = FOUND)
  }
  FOUND[[key]]
}

# The name by which an argument, an entry or a code of an earlier version goes now; NULL for others.
now_called <- function(name) catalogue("renamed")[[name]]
