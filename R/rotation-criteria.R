# The rotations: which criterion of the compiled core each minimises, with what parameter, and
# whether factors may correlate. Names, labels and papers stand in the registry of methods.

# `parameter`: function(p, k, asked) of the numbers of items and factors and the arguments.
# `oblique`: what it is known for; `both`: may the other be asked for? `reference`: is the criterion
# of the loadings on reference axes?
rotation_row <- function(
  criterion,
  parameter = function(p, k, asked) 0,
  oblique,
  both = TRUE,
  reference = FALSE
) {
  list(
    criterion = criterion,
    parameter = parameter,
    oblique = oblique,
    both = both,
    reference = reference
  )
}
fixed <- function(value) function(p, k, asked) value

ROTATIONS <- list(
  oblimin = rotation_row("oblimin", function(p, k, asked) asked$gamma, TRUE),
  quartimin = rotation_row("oblimin", fixed(0), TRUE, FALSE),
  covarimin = rotation_row("oblimin", fixed(1), TRUE, FALSE, reference = TRUE),
  geomin = rotation_row("geomin", function(p, k, asked) asked$delta, TRUE),
  simplimax = rotation_row(
    "simplimax",
    function(p, k, asked) if (is.null(asked$zeros)) p * (k - 1L) else asked$zeros,
    TRUE
  ),
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
  target = rotation_row("target", oblique = FALSE),
  procrustes = rotation_row("target", oblique = FALSE)
)

# Checks what was asked against the rotation's row, and fills in what was not: `oblique`, `turning`,
# and the `request` to the core, or the whole `target` of Procrustes, which needs no search.
settle_rotation <- function(rotation, oblique, asked, unrotated, call) {
  p <- nrow(unrotated)
  k <- ncol(unrotated)
  # promax starts from varimax
  if (rotation == "promax") {
    return(list(
      oblique = TRUE,
      turning = "orthogonal",
      request = core_request("crawford-ferguson", 1 / p)
    ))
  }
  row <- ROTATIONS[[rotation]]
  if (is.null(oblique)) oblique <- row$oblique
  if (oblique != row$oblique && !row$both) {
    stop_input(
      "rotation",
      sprintf("%s must be %s.", capitalise(rotation), if (row$oblique) "oblique" else "orthogonal"),
      got = sprintf("oblique = %s came.", oblique),
      todo = "Leave `oblique` out, or take another rotation.",
      call = call
    )
  }
  settled <- list(
    oblique = oblique,
    turning = if (row$reference) {
      "reference"
    } else if (oblique) {
      "oblique"
    } else {
      "orthogonal"
    }
  )
  if (rotation == "crawford_ferguson") check_number(asked$kappa, "kappa", 0, 1, call = call)
  if (!is.null(asked$zeros)) check_whole(asked$zeros, "zeros", 1L, p * k - 1L, call = call)
  if (!rotation %in% c("target", "procrustes")) {
    return(c(settled, list(request = core_request(row$criterion, row$parameter(p, k, asked)))))
  }
  target <- check_target(asked$target, unrotated, rotation, call)
  if (rotation == "procrustes") return(c(settled, list(target = target)))
  weights <- (!is.na(target)) + 0
  target[is.na(target)] <- 0
  c(settled, list(request = core_request("target", 0, target, weights)))
}

# A target is a p x k matrix; NA leaves an element free, but not for Procrustes. Rows may be named
# by item, in any order.
check_target <- function(target, unrotated, rotation, call) {
  must <- sprintf(
    "A target must be a numeric matrix of %d rows (items) and %d columns (factors)%s.",
    nrow(unrotated),
    ncol(unrotated),
    if (rotation == "target") "; NA leaves an element free" else ", without gaps for Procrustes"
  )
  wrong <- if (!is.matrix(target) || !is.numeric(target)) {
    describe_value(target)
  } else if (!identical(dim(target), dim(unrotated))) {
    sprintf("It has %d rows and %d columns.", nrow(target), ncol(target))
  } else if (all(is.na(target))) {
    "Every element is NA."
  } else if (rotation == "procrustes" && anyNA(target)) {
    sprintf("%s NA.", count_of(sum(is.na(target)), "element is", "elements are"))
  } else if (rotation == "procrustes" && qr(target)$rank < ncol(target)) {
    "Its columns do not stand for as many factors: some follow from others."
  } else if (!is.null(rownames(target)) && !setequal(rownames(target), rownames(unrotated))) {
    sprintf(
      "Rows that are no items: %s.",
      name_culprits(setdiff(rownames(target), rownames(unrotated)))
    )
  }
  if (length(wrong)) {
    stop_input(
      "target",
      must,
      got = wrong,
      todo = sprintf("Give rotation = \"%s\", target = matrix(...).", rotation),
      call = call
    )
  }
  if (!is.null(rownames(target))) target <- target[rownames(unrotated), , drop = FALSE]
  unname(target) + 0
}
