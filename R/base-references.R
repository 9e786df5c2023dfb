# The papers that methods and cut-offs rest on stand in full in inst/catalogue/references.yml, by
# the short form used elsewhere.

#' @srrstats {G1.0} the papers behind each method, in full
#' @noRd
reference_text <- function(short) {
  unname(sort(vapply(catalogue("references")[short], identity, "")))
}
