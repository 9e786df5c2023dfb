# What each number means, and what to do when it is low: inst/catalogue/glossary.yml.

#' Words and numbers, and what to do when they are low
#'
#' @eval describe_glossary()
#' @references Bartlett (1951), Kaiser & Rice (1974), Cronbach (1951), McDonald (1999) and the
#'   others are given in full on the help pages of the stages that use them.
#' @name softsieve-glossary
NULL

describe_glossary <- function() {
  words <- unlist(catalogue("glossary"))
  terms <- sprintf("\\item{%s}{%s}", names(words), words)
  paste(c("@details \\describe{", terms, "}"), collapse = "\n")
}

# For reports: without the brackets of links.
glossary_plain <- function() gsub("\\[([a-z_]+\\(\\))\\]", "\\1", unlist(catalogue("glossary")))
