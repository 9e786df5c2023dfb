# The rotations: which criterion of the compiled core each minimises, with what parameter, and whether
# factors may correlate. Names, labels and papers stand in the registry of methods.

# `parameter`: function(p, k, asked) of the numbers of items and factors and the arguments. `oblique`:
# TRUE, FALSE, or NA where both make sense and FALSE is the default; `both`: may the other be asked for?
rotation_row <- function(criterion, parameter = function(p, k, asked) 0, oblique, both = TRUE) {
  list(criterion = criterion, parameter = parameter, oblique = oblique, both = both)
}
fixed <- function(value) function(p, k, asked) value

ROTATIONS <- list(
  oblimin = rotation_row("oblimin", function(p, k, asked) asked$gamma, TRUE),
  quartimin = rotation_row("oblimin", fixed(0), TRUE, FALSE),
  geomin = rotation_row("geomin", function(p, k, asked) asked$delta, TRUE),
  simplimax = rotation_row("simplimax", function(p, k, asked) if (is.null(asked$zeros)) p * (k - 1L) else asked$zeros, TRUE),
  pattern_simplicity = rotation_row("pattern-simplicity", oblique = TRUE),
  varimax = rotation_row("crawford-ferguson", function(p, k, asked) 1 / p, FALSE),
  quartimax = rotation_row("crawford-ferguson", fixed(0), FALSE, FALSE),
  equamax = rotation_row("crawford-ferguson", function(p, k, asked) k / (2 * p), FALSE),
  parsimax = rotation_row("crawford-ferguson", function(p, k, asked) (k - 1) / (p + k - 2), FALSE),
  factor_parsimony = rotation_row("crawford-ferguson", fixed(1), FALSE),
  crawford_ferguson = rotation_row("crawford-ferguson", function(p, k, asked) asked$kappa, FALSE),
  infomax = rotation_row("infomax", oblique = FALSE),
  entropy = rotation_row("entropy", oblique = FALSE, both = FALSE),
  oblimax = rotation_row("oblimax", oblique = FALSE, both = FALSE),
  bifactor_quartimin = rotation_row("bifactor-quartimin", fixed(0), FALSE),
  bifactor_geomin = rotation_row("bifactor-geomin", function(p, k, asked) asked$delta, FALSE),
  target = rotation_row("target", oblique = FALSE)
)

# Checks what was asked against the rotation's row, and fills in what was not.
settle_rotation <- function(rotation, oblique, asked, unrotated, call) {
  p <- nrow(unrotated)
  k <- ncol(unrotated)
  if (rotation == "promax") return(list(oblique = TRUE, request = core_request("crawford-ferguson", 1 / p)))
  row <- ROTATIONS[[rotation]]
  if (is.null(oblique)) oblique <- row$oblique
  if (oblique != row$oblique && !row$both) {
    stop_input("rotation", sprintf("%s must be %s.", capitalise(rotation), if (row$oblique) "oblique" else "orthogonal"),
               got = sprintf("oblique = %s came.", oblique), todo = "Leave `oblique` out, or take another rotation.", call = call)
  }
  if (rotation == "crawford_ferguson") check_number(asked$kappa, "kappa", 0, 1, call = call)
  if (!is.null(asked$zeros)) check_whole(asked$zeros, "zeros", 1L, p * k - 1L, call = call)
  if (rotation != "target") return(list(oblique = oblique, request = core_request(row$criterion, row$parameter(p, k, asked))))
  target <- check_target(asked$target, unrotated, call)
  weights <- (!is.na(target)) + 0
  target[is.na(target)] <- 0
  list(oblique = oblique, request = core_request("target", 0, target, weights))
}

# A target is a p x k matrix; NA leaves an element free. Rows may be named by item, in any order.
check_target <- function(target, unrotated, call) {
  must <- sprintf("A target must be a numeric matrix of %d rows (items) and %d columns (factors); NA leaves an element free.",
                  nrow(unrotated), ncol(unrotated))
  wrong <- if (!is.matrix(target) || !is.numeric(target)) describe_value(target) else
    if (!identical(dim(target), dim(unrotated))) sprintf("It has %d rows and %d columns.", nrow(target), ncol(target)) else
    if (all(is.na(target))) "Every element is NA." else
    if (!is.null(rownames(target)) && !setequal(rownames(target), rownames(unrotated)))
      sprintf("Rows that are no items: %s.", name_culprits(setdiff(rownames(target), rownames(unrotated))))
  if (length(wrong)) stop_input("target", must, got = wrong, todo = "Give rotation = \"target\", target = matrix(...).", call = call)
  if (!is.null(rownames(target))) target <- target[rownames(unrotated), , drop = FALSE]
  unname(target) + 0
}
