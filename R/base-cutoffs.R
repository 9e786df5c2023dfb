# Every cut-off that the package compares a number with stands in inst/catalogue/cutoffs.yml, with
# the paper it comes from.

cutoff <- function(name) as.numeric(cutoff_spec(name)$value)
cutoff_source <- function(name) cutoff_spec(name)$source

cutoff_spec <- function(name) {
  found <- catalogue("cutoffs")[[name]]
  if (is.null(found)) stop("no cut-off is called ", name, call. = FALSE)
  found
}
