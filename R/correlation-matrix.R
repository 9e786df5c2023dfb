# Correlations that were computed elsewhere: matrices as people have them.

#' @rdname correlate_items
#' @param means,sds For a matrix: the items' means and standard deviations, p numbers each, or
#'   `NULL` (unknown). With `sds` a correlation matrix serves where covariances are needed; of a
#'   covariance matrix they are known.
#' @export
correlate_items.matrix <- function(x, n = NULL, repair = TRUE, kind = "given", means = NULL,
    sds = NULL, ...) {
  check_dots_empty(...)
  check_flag(repair, "repair")
  kind <- check_choice(kind, "kind", c("given", "covariance"))
  whole <- mirror_triangle(x)
  x <- whole$matrix
  covariances <- if (kind == "covariance") check_covariance_matrix(x)
  if (kind == "covariance") x <- core_standardised(x)
  check_correlation_matrix(x, n)
  if (is.null(colnames(x))) {
    colnames(x) <- if (is.null(rownames(x))) paste0("item", seq_len(ncol(x))) else rownames(x)
  }
  rownames(x) <- colnames(x)
  sds <- if (kind == "covariance") {
    unname(sqrt(diag(covariances)))
  } else {
    check_moments(sds, "sds", ncol(x))
  }
  means <- check_moments(means, "means", ncol(x))
  if (kind == "given" && !anyNA(sds)) covariances <- x * (sds %o% sds)
  if (!is.null(covariances)) dimnames(covariances) <- dimnames(x)
  items <- tibble::tibble(item = colnames(x), wording = NA_character_, scale = NA_character_,
    reversed = FALSE, mean = means, sd = sds, skewness = NA_real_, categories = NA_integer_)
  n_pair <- matrix(as.numeric(n), nrow(x), ncol(x), dimnames = dimnames(x))
  fixed <- settle_definite(x, repair)
  found <- list(correlations = fixed$correlations, covariances = covariances, n_pair = n_pair,
    standard_errors = core_pearson_error(x, n_pair, "pearson"))
  settings <- list(kind = kind, missing = "given", repair = repair, weighted = FALSE)
  new_item_correlations(found, n, 1, items, settings, bind_findings(whole$finding, fixed$finding),
    source = list(fingerprint = rlang::hash(list(unname(x), n)), items = colnames(x), people = n),
    call = match.call())
}

#' @rdname correlate_items
#' @export
correlate_items.data.frame <- function(x, ...) {
  matrix <- matrix_in_frame(x)
  if (!is.null(matrix)) {
    dots <- list(...)
    dots$threads <- NULL # a matrix is there already
    return(call_with(correlate_items, c(list(matrix), dots)))
  }
  correlate_items(questionnaire(x), ...)
}

# A data frame that holds a correlation matrix (as a file of one is read: perhaps with the items'
# names in its first column, perhaps a triangle alone), as a matrix; NULL for answers. Ones down the
# diagonal and nothing beyond 1: answers do not look so.
matrix_in_frame <- function(x) {
  if (ncol(x) < 3L || !nrow(x) %in% (ncol(x) - 0:1)) return(NULL)
  names <- colnames(x)
  if (nrow(x) < ncol(x)) { # the first column must hold the names
    if (is.numeric(x[[1L]])) return(NULL)
    names <- as.character(x[[1L]])
    x <- x[-1L]
  }
  if (ncol(x) < 3L || !all(vapply(x, holds_numbers, NA))) return(NULL)
  matrix <- as.matrix(x)
  storage.mode(matrix) <- "double"
  if (!is_correlation_matrix(mirror_triangle(matrix)$matrix)) return(NULL)
  dimnames(matrix) <- list(names, colnames(x))
  matrix
}

holds_numbers <- function(column) is.numeric(column) || all(is.na(column))

is_correlation_matrix <- function(r) {
  !anyNA(r) && all(abs(diag(r) - 1) < 1e-8) && all(abs(r) <= 1 + 1e-8) && max(abs(r - t(r))) < 1e-6
}

# A matrix of which only one triangle was written (zeros or gaps in the other), whole.
mirror_triangle <- function(x) {
  whole <- list(matrix = x, finding = NULL)
  if (!is.numeric(x) || nrow(x) != ncol(x) || nrow(x) < 2L) return(whole)
  blank <- function(part) all(is.na(part) | part == 0)
  lower <- x[lower.tri(x)]
  upper <- x[upper.tri(x)]
  if (blank(lower) == blank(upper)) return(whole)
  given <- if (blank(upper)) x else t(x)
  given[upper.tri(given)] <- t(given)[upper.tri(given)]
  dimnames(given) <- dimnames(x)
  list(matrix = given,
    finding = new_finding("triangle_mirrored", if (blank(upper)) "lower" else "upper"))
}

check_moments <- function(x, name, p) {
  if (is.null(x)) return(rep(NA_real_, p))
  lower <- if (name == "sds") .Machine$double.xmin else -Inf
  if (checkmate::test_numeric(x, lower, finite = TRUE, any.missing = FALSE, len = p)) {
    return(as.numeric(x))
  }
  stop_input("argument",
    sprintf("`%s` must be one number for each item%s.", name,
      if (name == "sds") ", above 0" else ""),
    got = describe_value(x),
    todo = sprintf("There are %s.", count_of(p, "item")))
}
