# Figures: items in the plane of two factors, and people beside them.

# With more factors the grid would have too many planes to read.
MOST_IN_GRID <- 5L

draw_plane <- function(object, asked) {
  v <- object$values
  factors <- colnames(v$loadings)
  check_drawable(factors[-1L], "A plane needs two factors.")
  shown <- settle_shown(asked$factors, factors, 2L, MOST_IN_GRID)
  home <- factors[home_factor(v$loadings, cutoff("salient_loading"))]
  pair <- utils::combn(shown, 2L)
  points <- do.call(rbind, lapply(seq_len(ncol(pair)), function(i) {
    tibble::tibble(item = v$items$item,
      plane = paste(factors[pair[2L, i]], "over", factors[pair[1L, i]]),
      x = unname(v$loadings[, pair[1L, i]]), y = unname(v$loadings[, pair[2L, i]]), factor = home,
      own = home %in% factors[pair[, i]], label = v$items$item)
  }))
  points$plane <- factor(points$plane, unique(points$plane))
  points$factor <- factor(ifelse(is.na(points$factor), "none", points$factor), c(factors, "none"))
  single <- ncol(pair) == 1L
  many <- ncol(pair) > 6L
  reach <- range(unlist(points[c("x", "y")]), 0)
  reach <- reach + c(-0.08, 0.1) * diff(reach)
  points$label[!points$own] <- ""
  ggplot2::ggplot(points, ggplot2::aes(.data$x, .data$y)) +
    ggplot2::geom_hline(yintercept = 0, colour = sieve_colour("other"), linewidth = 0.4) +
    ggplot2::geom_vline(xintercept = 0, colour = sieve_colour("other"), linewidth = 0.4) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$factor, fill = .data$factor),
      size = if (single) 3.4 else 2.4, colour = sieve_colour("ink")) +
    point_labels(ggplot2::aes(label = .data$label), points, size = if (single) 3.7 else 2.9,
      colour = sieve_colour("ink")) +
    factor_scales(factors) +
    (
      if (!single) {
        ggplot2::facet_wrap(~plane, labeller = ggplot2::label_wrap_gen(if (many) 15L else 24L))
      }) +
    ggplot2::scale_x_continuous(breaks = LOADING_BREAKS, labels = loading_axis) +
    ggplot2::scale_y_continuous(breaks = LOADING_BREAKS, labels = loading_axis) +
    ggplot2::coord_fixed(xlim = reach, ylim = reach) +
    ggplot2::labs(title = sprintf("Items in the plane of two %ss", one_of_model(object$settings)),
      x = if (single) factors[pair[1L, 1L]], y = if (single) factors[pair[2L, 1L]],
      caption = wording_below(v$items[v$items$item %in% points$item[points$own], ], asked$wording),
      subtitle = wrap_subtitle(
        "%s. Shape and shade: the %s an item loads on most; items of others have no name.%s",
        rotation_said(object), one_of_model(object$settings), plane_said(object, shown, asked),
        width = SQUARE_SUBTITLE)) +
    theme_sieve() +
    ggplot2::theme(legend.position = "right", legend.title = ggplot2::element_blank(),
      strip.text = ggplot2::element_text(face = "bold", size = if (many) 8 else NULL))
}

# What else must be said of the planes that are shown.
plane_said <- function(object, shown, asked) {
  number <- ncol(object$values$loadings)
  paste0(
    if (length(shown) < number && is.null(asked$factors)) {
      sprintf(" The first %d of %d.", length(shown), number)
    },
    if (is_oblique(object)) " Axes stand at a right angle, though the factors correlate.")
}
