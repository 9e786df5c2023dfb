# Figure: the loadings, one row for each item and one column for each factor.

# A disc's area is the squared loading: the share of the item's variance, when factors are
# uncorrelated. Negative loadings are rings. Small ones are dots without a number.
draw_loadings <- function(object, asked) {
  table <- object$values$table
  loadings <- object$values$loadings
  hide_below <- object$settings$hide_below
  factors <- colnames(loadings)
  order <- table$item
  long <- data.frame(item = rep(rownames(loadings), length(factors)),
    factor = rep(factors, each = nrow(loadings)), loading = as.numeric(loadings))
  long$item <- factor(long$item, rev(order))
  long$factor <- factor(long$factor, factors)
  long$salient <- abs(long$loading) >= hide_below
  salient <- long[long$salient, ]
  rows <- rev(item_labels(table, asked$wording, 72L))
  ggplot2::ggplot(long, ggplot2::aes(.data$factor, .data$item)) +
    ggplot2::geom_point(data = long[!long$salient, ], size = 0.8, colour = "#c3c6c3") +
    ggplot2::geom_point(
      ggplot2::aes(size = .data$loading^2, fill = .data$loading > 0, colour = .data$loading > 0),
      salient, shape = 21, stroke = 1.3) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$loading)), salient, hjust = 0,
      nudge_x = 0.17, size = 3.9, colour = sieve_colour("ink")) +
    ggplot2::scale_size_area(max_size = 9, limits = c(0, 1), oob = scale_squish) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("turned"))) +
    ggplot2::scale_x_discrete(position = "top", drop = FALSE,
      labels = function(x) wrap_names(x, max(8L, 60L %/% length(x)))) +
    ggplot2::scale_y_discrete(labels = stats::setNames(rows, rev(order)), drop = FALSE,
      expand = ggplot2::expansion(add = 0.9)) +
    ggplot2::labs(title = sprintf("Which items load on which %s", one_of_model(object$settings)),
      x = NULL, y = NULL,
      subtitle = wrap_subtitle(
        "Rotation: %s. Size shows the squared loading; %sloadings under %s are dots",
        ROTATIONS[[object$settings$rotation]]$label,
        if (any(salient$loading < 0)) "rings are negative; " else "", format_unit(hide_below))) +
    theme_sieve() +
    ggplot2::theme(panel.grid.major.y = ggplot2::element_line(colour = "#f0ede6"),
      axis.text.x.top = ggplot2::element_text(face = "bold", size = 14))
}

scale_squish <- function(x, range = c(0, 1), ...) pmin(pmax(x, range[1L]), range[2L])

# Pixels that a figure of so many rows needs to be legible.
rows_height <- function(items) max(800, 150 + 26 * items)

# Figure: the loadings as bars, factor by factor.

bar_columns <- function(k) if (k <= 6L) k else ceiling(k / 2)

# One panel for each factor, its own items on top. Bars of other factors' items are light; negative
# ones are hollow, so that they can be told in grey.
draw_bars <- function(object, asked) {
  v <- object$values
  factors <- colnames(v$loadings)
  pattern <- pattern_table(object)
  home <- pattern$values$table$factor[match(v$items$item, pattern$values$table$item)]
  limit <- pattern$settings$hide_below
  bars <- tibble_of(item = rep(v$items$item, length(factors)),
    factor = factor(rep(factors, each = nrow(v$items)), factors), loading = as.numeric(v$loadings),
    own = rep(home, length(factors)) == rep(factors, each = nrow(v$items)),
    label = rep(item_labels(v$items, asked$wording, 46L), length(factors)))
  bars$own <- bars$own & !is.na(bars$own)
  order <- match(pattern$values$table$item, v$items$item)
  bars$label <- factor(bars$label, rev(unique(bars$label)[order]))
  bars$look <- ifelse(!bars$own, "other", ifelse(bars$loading < 0, "against", "own"))
  reach <- max(abs(bars$loading))
  said <- bars[abs(bars$loading) >= limit, ]
  ggplot2::ggplot(bars, ggplot2::aes(.data$loading, .data$label)) +
    ggplot2::geom_vline(xintercept = c(-limit, limit), colour = sieve_colour("chance_line"),
      linetype = "22") +
    ggplot2::geom_col(ggplot2::aes(fill = .data$look, colour = .data$look), width = 0.72,
      linewidth = 0.6) +
    ggplot2::geom_vline(xintercept = 0, colour = sieve_colour("ink")) +
    ggplot2::geom_text(
      ggplot2::aes(label = format_unit(.data$loading),
        hjust = ifelse(.data$loading < 0, 1.15, -0.15)),
      said, size = 3.4, colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(~factor, ncol = bar_columns(length(factors)),
      labeller = ggplot2::label_wrap_gen(20L)) +
    ggplot2::scale_fill_manual(values = c(own = sieve_colour("kept"),
      against = sieve_colour("paper"), other = "#d4d8d5")) +
    ggplot2::scale_colour_manual(values = c(own = sieve_colour("kept"),
      against = sieve_colour("turned"), other = "#d4d8d5")) +
    ggplot2::scale_x_continuous(
      limits = c(-1, 1) * (reach + 0.22),
      breaks = c(-0.5, 0, 0.5), # ends of one panel would touch those of the next
      labels = loading_axis) +
    ggplot2::labs(title = sprintf("Loadings on each %s", one_of_model(object$settings)), x = NULL,
      y = NULL,
      subtitle = wrap_subtitle("%s. Dark: the item's own %s; %sdashed: loadings of %s",
        rotation_said(object), one_of_model(object$settings),
        if (any(bars$look == "against")) "hollow: negative there; " else "", format_unit(limit))) +
    theme_sieve() +
    ggplot2::theme(strip.text = ggplot2::element_text(face = "bold", size = 14),
      panel.spacing.x = ggplot2::unit(14, "pt"))
}

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
