# Figures of correlations: the matrix in an order that puts related items together, and the items'
# sampling adequacy.

draw_correlations <- function(object) {
  r <- object$values$correlations
  order <- related_order(r)
  items <- colnames(r)[order]
  cells <- data.frame(row = factor(rep(items, length(items)), rev(items)),
    column = factor(rep(items, each = length(items)), items), r = as.numeric(r[order, order]))
  cells <- cells[
    as.integer(cells$column) + as.integer(cells$row) <= length(items),

  ] # below the diagonal
  cells$dark <- abs(cells$r) > 0.7
  size <- max(2.2, min(4, 90 / length(items)))
  about <- object$values$items
  wording <- keyed_wording(about$wording, about$reversed)[match(rev(items), about$item)]
  ggplot2::ggplot(cells, ggplot2::aes(.data$column, .data$row)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$r), colour = sieve_colour("paper"),
      linewidth = 0.5) +
    (
      if (length(items) <= 40L) {
        ggplot2::geom_text(
          ggplot2::aes(label = sub("^(-?)[.]", "\\1", format_unit(.data$r)), colour = .data$dark),
          size = size)
      }) +
    ggplot2::scale_fill_gradientn(colours = answer_colours(9L), limits = c(-1, 1)) +
    ggplot2::scale_colour_manual(values = c("TRUE" = "white", "FALSE" = sieve_colour("ink"))) +
    ggplot2::scale_x_discrete(drop = FALSE) +
    ggplot2::scale_y_discrete(drop = FALSE,
      labels = stats::setNames(
        ifelse(nzchar(wording), paste0(clip_text(wording, 44L), "   ", rev(items)), rev(items)),
        rev(items))) +
    ggplot2::labs(
      title = "How the items go together",
      x = NULL,
      y = NULL,
      subtitle = wrap_subtitle(
        "%s, in hundredths; related items stand together; green positive, brown negative",
        if (object$settings$kind == "given") {
          "Correlations"
        } else {
          # of covariances, too, the correlations are drawn
          kind <- object$settings$kind
          capitalise(KINDS[[if (kind == "covariance") "pearson" else kind]]$label)
        })) +
    theme_sieve("none") +
    ggplot2::theme(axis.text.x = ggplot2::element_text(angle = 90, vjust = 0.5, hjust = 1),
      axis.text.y = ggplot2::element_text(size = 9))
}

draw_adequacy <- function(object) {
  i <- object$values$items
  s <- object$settings
  i$item <- factor(i$item, rev(i$item))
  wording <- keyed_wording(i$wording, i$reversed)
  cuts <- data.frame(at = c(s$least, cutoff("adequacy_middling"), cutoff("adequacy_meritorious")),
    label = c("least", "middling", "meritorious"), up = c(0.9, 1.7, 0.9))
  ggplot2::ggplot(i, ggplot2::aes(.data$adequacy, .data$item)) +
    ggplot2::geom_vline(ggplot2::aes(xintercept = .data$at), cuts,
      colour = sieve_colour("chance_line"), linetype = "22") +
    ggplot2::geom_text(
      ggplot2::aes(x = .data$at, y = nrow(i) + .data$up,
        label = sprintf("%s %s", .data$label, format_unit(.data$at))),
      cuts, size = 3.7, colour = "#6d624b") +
    ggplot2::geom_segment(ggplot2::aes(x = 0, xend = .data$adequacy, yend = .data$item),
      colour = "#d3d6d3", linewidth = 1) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$adequacy >= s$least), shape = 21, size = 3.4,
      stroke = 1.1, colour = sieve_colour("kept")) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$adequacy)), hjust = -0.5, size = 3.7,
      colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_x_continuous(limits = c(0, 1.05), expand = ggplot2::expansion(mult = c(0, 0.02)),
      labels = format_unit) +
    ggplot2::scale_y_discrete(
      labels = stats::setNames(
        ifelse(nzchar(wording), paste0(clip_text(wording, 74L), "   ", i$item),
          as.character(i$item)),
        as.character(i$item)),
      expand = ggplot2::expansion(add = c(0.6, 2.2))) +
    ggplot2::labs(
      title = sprintf("Sampling adequacy is %s overall; %s", format_unit(object$values$adequacy),
        adequacy_title(i, s)),
      x = "Sampling adequacy", y = NULL,
      subtitle = wrap_subtitle(
        "Near 1: what an item shares with any other it shares with the rest as well%s",
        if (any(i$adequacy < s$least, na.rm = TRUE)) "; rings are too low" else "")) +
    theme_sieve("none")
}

adequacy_title <- function(items, settings) {
  low <- items$item[items$adequacy < settings$least]
  if (length(low)) {
    sprintf("%s below %s", name_culprits(low), format_unit(settings$least))
  } else {
    sprintf("no item is below %s", format_unit(settings$least))
  }
}

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

# Small multiples: the correlations of each group.
draw_grouped <- function(object) {
  c <- object$values$correlations
  items <- unique(c(c$item, c$with))
  both <- tibble::tibble(item = factor(c(c$item, c$with), items),
    with = factor(c(c$with, c$item), rev(items)), group = factor(rep(c$group, 2L), unique(c$group)),
    r = rep(c$correlation, 2L))
  few <- length(items) <= 12L
  ggplot2::ggplot(both, ggplot2::aes(.data$item, .data$with, fill = .data$r)) +
    ggplot2::geom_tile() +
    (if (few) ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$r)), size = 2.8)) +
    ggplot2::facet_wrap(~group) +
    ggplot2::scale_fill_gradientn(colours = answer_colours(11L), limits = c(-1, 1), name = "r") +
    ggplot2::labs(title = "Correlations in each group", x = NULL, y = NULL,
      subtitle = wrap_subtitle("%d of %d differences between groups are beyond chance.",
        sum(object$values$differences$differs), nrow(object$values$differences))) +
    theme_sieve("none") +
    ggplot2::theme(axis.text.x = ggplot2::element_text(angle = 60, hjust = 1),
      legend.position = "right")
}
