#' What each component accounts for
#'
#' Takes a correlation or covariance matrix apart, layer by layer: the matrix that each component
#' reproduces, and what is left after it, down to nothing after the last.
#'
#' @param solution What [extract_components()] returned; however many it kept, all p layers are
#'   shown. Layers are those of the unrotated components.
#' @param object What `component_layers()` returned.
#' @param component Which layer, from 1 to p: `fitted()` gives the p x p matrix that this component
#'   alone reproduces.
#' @param after `residuals()` gives the p x p matrix left after components 1 to `after`, from 0 (the
#'   matrix itself) to p (nothing).
#' @param ... Not used.
#' @return An object of class `component_layers` ([softsieve-result]); `values` holds `table` (a
#'   tibble, one row for each component: `component`, `eigenvalue`, `share`, `cumulative_share`,
#'   `rmsr` and `largest_residual`, the size of what is left off the diagonal, in the units
#'   analysed), `vectors` (the eigenvectors, p x p, each turned as its component's loadings are) and
#'   `matrix` (what was taken apart, p x p); `settings$analysed` says whether these are correlations
#'   or covariances.
#' @section Formulas:
#' Layer j, with eigenvalue \eqn{\lambda_j}{lambda_j} and eigenvector \eqn{q_j}
#' \deqn{\lambda_j q_j q_j'}{lambda_j q_j q_j'}
#' What is left after it is the matrix less layers 1 to j.
#' @section Errors: `softsieve_error_class`, `softsieve_error_argument`.
#' @eval describe_papers("Jolliffe (2002)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' layers <- component_layers(extract_components(motives, components = 4))
#' layers
#' round(fitted(layers, component = 1)[1:4, 1:4], 2)
#' round(residuals(layers, after = 4)[1:4, 1:4], 2)
#' @concept cumulative variance
#' @export
component_layers <- function(solution) {
  check_class(solution, "solution", "factor_solution", "extract_components()")
  if (solution$settings$method != "components") {
    stop_input("class", "`solution` must be one of components.",
      got = sprintf("Its method is \"%s\".", solution$settings$method),
      todo = "Start with extract_components().")
  }
  unit <- observed_units(solution$values$items, solution$settings)
  s <- solution$values$correlations * (unit %o% unit)
  found <- core_layers(s)
  # as the loadings are turned, which are of items of variance 1
  found$vectors <- found$vectors %*% diag(ifelse(colSums(found$vectors / unit) < 0, -1, 1), ncol(s))
  dimnames(found$vectors) <- list(colnames(s), paste0("C", seq_len(ncol(s))))
  table <- tibble_of(component = paste0("C", seq_len(ncol(s))), eigenvalue = found$values,
    share = found$values / sum(found$values),
    cumulative_share = cumsum(found$values) / sum(found$values), rmsr = found$rmsr,
    largest_residual = found$largest)
  new_result("component_layers", list(table = table, vectors = found$vectors, matrix = s),
    solution$settings, solution$findings[solution$findings$code == "different_units", ],
    solution$source, match.call())
}

#' @exportS3Method tibble::as_tibble
as_tibble.component_layers <- function(x, ...) x$values$table

#' @rdname component_layers
#' @export
fitted.component_layers <- function(object, component, ...) {
  if (missing(component)) {
    stop_input("argument", "`component` must say which layer.", got = "It is missing.",
      todo = paste("For example fitted(x, component = 1); residuals(x, after = 1) is what is left",
        "after it."))
  }
  check_dots_empty(...)
  component <- check_whole(component, "component", 1L, nrow(object$values$table))
  layers_between(object, component, component)
}

#' @rdname component_layers
#' @export
residuals.component_layers <- function(object, after, ...) {
  if (missing(after)) {
    stop_input("argument", "`after` must say after how many layers.", got = "It is missing.",
      todo = "For example residuals(x, after = 1).")
  }
  check_dots_empty(...)
  p <- nrow(object$values$table)
  after <- check_whole(after, "after", 0L, p)
  if (after == p) return(0 * object$values$matrix)
  layers_between(object, after + 1L, p)
}

layers_between <- function(object, first, last) {
  v <- object$values
  j <- first:last
  q <- v$vectors[, j, drop = FALSE]
  m <- q %*% (v$table$eigenvalue[j] * t(q))
  dimnames(m) <- dimnames(v$matrix)
  m
}

#' @export
glance.component_layers <- function(x, ...) {
  check_dots_empty(...)
  t <- x$values$table
  tibble_of(items = nrow(t), largest_eigenvalue = t$eigenvalue[1L],
    layers_for_half = which(t$cumulative_share >= 0.5)[1L])
}
