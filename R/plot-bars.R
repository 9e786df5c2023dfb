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
  bars <- tibble::tibble(item = rep(v$items$item, length(factors)),
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
