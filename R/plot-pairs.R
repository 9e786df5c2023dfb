# Figure of pairs of items: a cell for each two, with how many gave which two answers and the
# correlation, and on the diagonal how often each answer was given. The upper half stays empty: it
# would say the same again.

MOST_PAIR_ITEMS <- 12L

draw_pairs <- function(object) {
  answers <- object$values$answers
  items <- colnames(answers)
  if (length(items) > MOST_PAIR_ITEMS) {
    stop_input("items", sprintf("The figure of pairs takes up to %d items.", MOST_PAIR_ITEMS),
      got = sprintf("%s came.", count_of(length(items), "item")),
      todo = "Choose some with keep_items().")
  }
  data <- describe_pairs(object)
  ggplot2::ggplot() +
    ggplot2::geom_rect(
      ggplot2::aes(xmin = .data$x - .data$half, xmax = .data$x + .data$half, ymin = 0.14,
        ymax = 0.14 + 0.84 * .data$height),
      data$bars, fill = sieve_colour("chance_line")) +
    ggplot2::geom_text(ggplot2::aes(x = .data$x, y = 0.06, label = .data$label, hjust = .data$side),
      data$ends, size = 3, colour = sieve_colour("other")) +
    ggplot2::geom_point(ggplot2::aes(.data$x, .data$y, size = .data$share),
      data$bubbles[data$bubbles$share > 0, ], colour = sieve_colour("kept")) +
    ggplot2::geom_label(
      ggplot2::aes(x = .data$x, y = 0.98, label = format_unit(.data$r), hjust = .data$x),
      data$numbers, vjust = 1, size = max(3, 5.4 - length(items) / 5), label.size = 0,
      label.padding = ggplot2::unit(0.12, "lines"), fill = sieve_colour("paper"),
      colour = sieve_colour("turned"), fontface = "bold") +
    ggplot2::facet_grid(row ~ column, switch = "both", drop = FALSE) +
    ggplot2::scale_size_area(max_size = 40 / length(items)) +
    ggplot2::scale_x_continuous(limits = c(0, 1), breaks = NULL,
      expand = ggplot2::expansion(0.02)) +
    ggplot2::scale_y_continuous(limits = c(0, 1), breaks = NULL,
      expand = ggplot2::expansion(0.02)) +
    ggplot2::labs(title = "Each pair of items", x = NULL, y = NULL,
      subtitle = wrap_subtitle(
        paste("Bubbles: how many gave which two answers, with the Pearson correlation; bars:",
          "how often each answer was given%s"),
        if (data$binned) " (items with many different answers in bins)" else "")) +
    theme_sieve("none") +
    ggplot2::theme(strip.placement = "outside",
      strip.text.y.left = ggplot2::element_text(angle = 0, face = "bold"),
      strip.text.x = ggplot2::element_text(face = "bold"), panel.spacing = ggplot2::unit(4, "pt"))
}
