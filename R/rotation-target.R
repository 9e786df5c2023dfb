# Rotations to a matrix that people give.

# A target is a p x k matrix; NA leaves an element free where `gaps` may be. Rows may be named by
# item, in any order.
check_target <- function(target, unrotated, rotation, gaps) {
  wrong <- what_is_wrong_with_target(target, unrotated, gaps)
  if (length(wrong)) {
    stop_input("target",
      sprintf("A target must be a numeric matrix of %d rows (items) and %d columns (factors)%s.",
        nrow(unrotated), ncol(unrotated),
        if (gaps) "; NA leaves an element free" else ", without missing answers for Procrustes"),
      got = wrong,
      todo = sprintf("Give rotation = \"%s\", target = matrix(...).", rotation))
  }
  if (!is.null(rownames(target))) target <- target[rownames(unrotated), , drop = FALSE]
  unname(target) + 0
}

what_is_wrong_with_target <- function(target, unrotated, gaps) {
  if (!is.matrix(target) || !is.numeric(target)) return(describe_value(target))
  if (!identical(dim(target), dim(unrotated))) {
    return(sprintf("It has %d rows and %d columns.", nrow(target), ncol(target)))
  }
  if (all(is.na(target))) return("Every element is NA.")
  strange <- setdiff(rownames(target), rownames(unrotated))
  if (length(strange)) return(sprintf("Rows that are no items: %s.", name_culprits(strange)))
  if (gaps) character() else what_is_wrong_with_whole(target)
}

# Procrustes needs all of a matrix that stands for as many factors as it has columns.
what_is_wrong_with_whole <- function(target) {
  if (anyNA(target)) {
    return(sprintf("%s NA.", count_of(sum(is.na(target)), "element is", "elements are")))
  }
  if (qr(target)$rank < ncol(target)) {
    return("Its columns do not stand for as many factors: some follow from others.")
  }
  character()
}
