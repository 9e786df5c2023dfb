# What figures of factors share: how factors are told apart, and labels.

# Shapes and shades, so that factors can be told apart in grey; with more factors the same shapes are
# hollow.
FACTOR_SHAPES <- c(21L, 24L, 22L, 23L, 25L)
FACTOR_SHADES <- c("#145c66", "#e0a458", "#8a3d12", "#9fc2bd", "#3c4a4f")

# Scales of shape and fill; "none" is for items without a salient loading.
factor_scales <- function(names) {
  k <- length(names)
  shades <- rep_len(FACTOR_SHADES, k)
  shades[seq_len(k) > length(FACTOR_SHADES)] <- sieve_colour("paper")
  words <- c(names, "none")
  shapes <- stats::setNames(c(rep_len(FACTOR_SHAPES, k), 4L), words)
  shades <- stats::setNames(c(shades, sieve_colour("other")), words)
  list(
    ggplot2::scale_shape_manual(values = shapes),
    ggplot2::scale_fill_manual(values = shades)
  )
}

# Labels beside points that do not lie on each other, as far as there is a library for it.
point_labels <- function(...) {
  if (requireNamespace("ggrepel", quietly = TRUE)) {
    return(ggrepel::geom_text_repel(..., max.overlaps = 40, seed = 1, min.segment.length = 0.3))
  }
  ggplot2::geom_text(..., check_overlap = TRUE, vjust = -0.8)
}

# Figures of factors are of rotated ones, mostly: which they are stands below the title.
rotation_said <- function(solution) {
  sprintf("Rotation: %s", method_label("rotation", solution$settings$rotation))
}
