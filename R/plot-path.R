# Figure: factors, items, and what runs between them.

# With more paths than this only each item's own is drawn.
MOST_PATHS <- 60L

# Items stand in one column, sorted by factor, so that paths of own items do not cross; a path is as
# wide as its loading is large, dashed when it is negative; the number stands where it ends.
draw_path <- function(object, asked) {
  v <- object$values
  order <- pattern_table(object)$values$table$item
  items <- v$items[match(order, v$items$item), ]
  place <- stats::setNames(rev(seq_along(order)), order)
  factors <- factor_places(v$loadings[order, , drop = FALSE], place)
  room <- path_room(factors, asked$wording)
  factors$end <- room$end
  paths <- loading_paths(v$loadings[order, , drop = FALSE], place, factors, asked$hide_below)
  few <- nrow(paths) <= MOST_PATHS
  shown <- if (few) paths else paths[paths$own, ]
  arcs <- correlation_arcs(v$factor_correlations, factors)
  spread <- nrow(items)
  ggplot2::ggplot(shown) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$x, y = .data$y, xend = .data$xend, yend = .data$yend,
        linewidth = pmin(abs(.data$loading), 1), linetype = .data$loading < 0, colour = .data$own),
      lineend = "butt") +
    arc_layers(arcs) +
    ggplot2::geom_label(
      ggplot2::aes(.data$at_x, .data$at_y, label = format_unit(.data$loading), colour = .data$own),
      size = 3.2, label.size = 0, label.padding = ggplot2::unit(1.2, "pt"),
      fill = sieve_colour("paper")) +
    ggplot2::geom_text(ggplot2::aes(x = -0.02, y = unname(place[.data$item]), label = .data$label),
      tibble_of(item = order, label = item_labels(items, asked$wording, 56L)), hjust = 1,
      size = 3.9, colour = sieve_colour("ink")) +
    ggplot2::geom_label(ggplot2::aes(1, .data$y, label = .data$label), factors, hjust = 0,
      size = 4.6, fontface = "bold", colour = "white", fill = sieve_colour("kept"),
      label.padding = ggplot2::unit(5, "pt")) +
    ggplot2::scale_linewidth(range = c(0.2, 3), limits = c(0, 1)) +
    ggplot2::scale_linetype_manual(values = c("FALSE" = "solid", "TRUE" = "42")) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("kept"), "FALSE" = "#a5744f")) +
    ggplot2::scale_x_continuous(limits = room$limits) +
    ggplot2::scale_y_continuous(limits = c(0.2, spread + 0.8), expand = c(0, 0)) +
    ggplot2::labs(title = sprintf("Items and %ss", one_of_model(object$settings)),
      subtitle = wrap_subtitle("%s. Width: size of the loading, from %s%s%s%s%s",
        rotation_said(object), format_unit(asked$hide_below),
        if (few) "" else "; only each item's own, as there are many",
        if (all(shown$own)) "" else "; brown: other than the item's own",
        if (any(shown$loading < 0)) "; dashed: negative" else "",
        if (nrow(arcs)) {
          sprintf("; right: correlations of the %ss", one_of_model(object$settings))
        } else {
          ""
        })) +
    theme_sieve("none") +
    ggplot2::theme(axis.text = ggplot2::element_blank(), axis.title = ggplot2::element_blank())
}

# Each factor in the middle of its items; one without items in the gaps.
factor_places <- function(loadings, place) {
  home <- home_factor(loadings, cutoff("salient_loading"))
  y <- vapply(seq_len(ncol(loadings)), function(j) {
    own <- place[which(home == j)]
    if (length(own)) mean(own) else NA_real_
  }, 0)
  empty <- is.na(y)
  y[empty] <- seq(0.8, by = 1, length.out = sum(empty))
  tibble_of(factor = colnames(loadings), y = y, label = wrap_names(colnames(loadings)))
}

loading_paths <- function(loadings, place, factors, hide_below) {
  home <- home_factor(loadings, 0)
  at <- which(abs(loadings) >= hide_below, arr.ind = TRUE)
  if (!nrow(at)) at <- cbind(seq_along(home), home)
  y <- unname(place[rownames(loadings)[at[, 1L]]])
  yend <- factors$y[at[, 2L]]
  own <- home[at[, 1L]] == at[, 2L]
  # where the number stands along its path: own ones near the item, others farther on
  along <- ifelse(own, 0.12, 0.3)
  tibble::tibble(item = rownames(loadings)[at[, 1L]], factor = factors$factor[at[, 2L]],
    loading = loadings[at], own = own, x = 0, y = y, xend = 1, yend = yend, at_x = along,
    at_y = y + along * (yend - y))
}

# How wide the figure is in units from items (0) to factors (1), and where each factor's label ends:
# letters and margins take pixels, whatever the units.
path_room <- function(factors, wording, width = 1180, letter = 10.5, margin = 18) {
  left <- if (wording) 1.5 else 0.25
  letters <- vapply(strsplit(factors$label, "\n"), function(x) max(nchar(x)), 0L)
  pixels <- letters * letter + margin
  # units a pixel, from: left + 1 + longest label + arcs = width
  unit <- (left + 1 + ARC_ROOM) / (width - max(pixels))
  list(limits = c(-left, 1 + max(pixels) * unit + ARC_ROOM), end = 1 + pixels * unit)
}

ARC_ROOM <- 0.55

# Arcs to the right of the factors, farther out the farther apart these stand.
correlation_arcs <- function(r, factors, least = 0.1, points = 40L) {
  pair <- which(upper.tri(r) & abs(r) >= least, arr.ind = TRUE)
  span <- max(1, diff(range(factors$y)))
  arcs <- lapply(seq_len(nrow(pair)), function(i) {
    y <- factors$y[pair[i, ]]
    ends <- factors$end[pair[i, ]]
    between <- r[pair[i, 1L], pair[i, 2L]]
    t <- seq(0, 1, length.out = points)
    out <- 0.12 + 0.4 * abs(diff(y)) / span
    tibble_of(pair = i, correlation = between, x = ends[1L] + t * diff(ends) + out * sin(pi * t),
      y = y[1L] + t * diff(y), middle = seq_len(points) == points %/% 2L)
  })
  if (!length(arcs)) return(tibble_of())
  do.call(rbind, arcs)
}

arc_layers <- function(arcs) {
  if (!nrow(arcs)) return(NULL)
  list(
    ggplot2::geom_path(
      ggplot2::aes(.data$x, .data$y, group = .data$pair,
        linewidth = pmin(abs(.data$correlation), 1), linetype = .data$correlation < 0),
      arcs, colour = sieve_colour("other")),
    ggplot2::geom_label(ggplot2::aes(.data$x, .data$y, label = format_unit(.data$correlation)),
      arcs[arcs$middle, ], size = 3.6, label.size = 0, label.padding = ggplot2::unit(1.2, "pt"),
      fill = sieve_colour("paper"), colour = sieve_colour("ink")))
}
