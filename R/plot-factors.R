# What figures of factors share: how factors are told apart, and labels.

# Shapes and shades, so that factors can be told apart in grey; with more factors the same shapes
# are hollow.
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
  list(ggplot2::scale_shape_manual(values = shapes), ggplot2::scale_fill_manual(values = shades))
}

# Labels beside points, on ground of their own, that do not lie on each other as far as there is a
# library for it.
point_labels <- function(...) {
  if (!requireNamespace("ggrepel", quietly = TRUE)) {
    return(ggplot2::geom_text(..., check_overlap = TRUE, vjust = -0.8))
  }
  ggrepel::geom_label_repel(..., max.overlaps = Inf, seed = 1, min.segment.length = 0.2,
    label.size = 0, label.padding = ggplot2::unit(1.5, "pt"), box.padding = 0.2, max.time = 5,
    segment.colour = sieve_colour("other"), fill = "#fffefbcc")
}

# Figures of factors are of rotated ones, mostly: which they are stands below the title.
rotation_said <- function(solution) {
  sprintf("Rotation: %s", ROTATIONS[[solution$settings$rotation]]$label)
}

# Long names on several lines.
wrap_names <- function(names, width = 14L) {
  vapply(names, function(one) paste(strwrap(one, width), collapse = "\n"), "", USE.NAMES = FALSE)
}

# In a plane there is no room for wordings beside the points: they stand below, by the items' names.
wording_below <- function(items, wording) {
  if (!wording) return(NULL)
  text <- keyed_wording(items$wording, items$reversed)
  items <- items[nzchar(text), ]
  text <- text[nzchar(text)]
  if (!length(text)) return(NULL)
  each <- paste(items$item, clip_text(text, if (length(text) > 6L) 48L else 100L), sep = "  ")
  if (length(each) > 6L) {
    second <- c(each[seq(2L, length(each), 2L)], if (length(each) %% 2L) "")
    each <- paste(each[seq(1L, length(each), 2L)], second, sep = "    ")
  }
  paste(each, collapse = "\n")
}
