# Figure: every loading with its limits.

# Own loadings dark, the others light: these should hold 0, or at least keep away from the dark
# ones.
draw_limits <- function(object, asked) {
  l <- object$values$loadings
  items <- object$values$items
  factors <- unique(l$factor)
  own <- l[l$home, ]
  weak <- abs(own$loading) < cutoff("salient_loading")
  order <- own$item[order(weak, match(own$factor, factors), -abs(own$loading))]
  labels <- item_labels(items, asked$wording, 56L)[match(rev(order), items$item)]
  l$item <- factor(l$item, rev(order))
  l$factor <- factor(l$factor, factors)
  ggplot2::ggplot(l, ggplot2::aes(.data$loading, .data$item, colour = .data$home)) +
    ggplot2::geom_vline(xintercept = 0, colour = sieve_colour("other"), linewidth = 0.5) +
    ggplot2::geom_vline(xintercept = c(-1, 1) * cutoff("salient_loading"),
      colour = sieve_colour("chance_line"), linetype = "22") +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$lower, xend = .data$upper, yend = .data$item, linewidth = .data$home)
    ) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$home), size = 2.2) +
    ggplot2::facet_wrap(~factor, nrow = 1L, labeller = ggplot2::label_wrap_gen(13L)) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("kept"), "FALSE" = "#9aa6a5")) +
    ggplot2::scale_linewidth_manual(values = c("TRUE" = 1.5, "FALSE" = 0.7)) +
    ggplot2::scale_shape_manual(values = c("TRUE" = 16L, "FALSE" = 1L)) +
    ggplot2::scale_y_discrete(labels = stats::setNames(labels, rev(order)), drop = FALSE) +
    ggplot2::scale_x_continuous(breaks = LOADING_BREAKS, labels = loading_axis) +
    ggplot2::labs(title = "How sure the loadings are", x = "Loading", y = NULL,
      subtitle = wrap_subtitle(
        "Limits of %s from %s resampled %s; dark: the item's largest; dashed: %s",
        format_share(object$settings$level), count_of(object$values$people, "person", "people"),
        count_of(object$values$solved, "time"), format_unit(cutoff("salient_loading")))) +
    theme_sieve() +
    ggplot2::theme(strip.text = ggplot2::element_text(face = "bold", size = 14))
}
