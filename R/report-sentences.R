# Sentences filled from their templates, and numbers and methods as a language writes them
# (report-language-en.R).

# One sentence with its braces filled.
sentence <- function(tongue, name, ..., from = tongue$sentences) {
  text <- from[[name]]
  given <- list(...)
  for (key in names(given)) {
    text <- gsub(sprintf("{%s}", key), as.character(given[[key]]), text, fixed = TRUE)
  }
  text
}

in_words <- function(tongue, x) {
  if (length(x) < 2L) return(paste(x, collapse = ""))
  paste(paste(x[-length(x)], collapse = ", "), tongue$and, x[length(x)])
}

in_unit <- function(tongue, x, digits = 2L) {
  text <- format_unit(x, digits)
  if (tongue$zero) text <- sub("^(-?)[.]", "\\10.", text)
  sub(".", tongue$decimal, text, fixed = TRUE)
}

in_number <- function(tongue, x, digits = 2L) {
  sub(".", tongue$decimal, sprintf("%.*f", digits, x), fixed = TRUE)
}

in_share <- function(tongue, x, digits = 1L) {
  paste0(in_number(tongue, 100 * x, digits), " %")
}

called <- function(tongue, kind, name) {
  key <- paste(kind, name, sep = ".")
  if (key %in% names(tongue$methods)) tongue$methods[[key]] else method_label(kind, name)
}

# "Harman & Jones (1966)" as "(Harman & Jones, 1966)"; nothing without a paper.
cite <- function(kind, name) {
  reference <- method_reference(kind, name)
  if (is.na(reference)) "" else sub("^(.*) \\((.*)\\)$", "(\\1, \\2)", reference)
}

# A sentence whose citation was empty has no blank before its end.
tidy_prose <- function(x) gsub(" +([.,;])(?= |$)", "\\1", gsub(" {2,}", " ", x), perl = TRUE)
