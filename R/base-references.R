# The papers that methods and cut-offs rest on, in full, by the short form used elsewhere:
# inst/catalogue/references.yml.

#' @srrstats {G1.0} the papers behind each method, in full
#' @noRd
reference_text <- function(short) {
  unname(sort(vapply(catalogue("references")[short], identity, "")))
}
