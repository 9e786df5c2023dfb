# Figure: eigenvalues over the reach of chance.

# `values` and `settings` as in a parallel_analysis or a factor_count; `axis`: another horizontal
# scale.
eigenvalue_figure <- function(values, settings, axis = NULL) {
  e <- values$eigenvalues
  if (is.null(axis)) {
    axis <- ggplot2::scale_x_continuous("Rank", breaks = rank_breaks(nrow(e)),
      expand = ggplot2::expansion(add = c(0.4, 0.8)))
  }
  k <- values$suggested
  e$kept <- e$rank <= k
  e$limit <- e[[limit_column(settings)]]
  e$label <- ifelse(e$kept, format_number(e$eigenvalue), "")
  base <- min(0, e$eigenvalue, e$chance_mean)
  ggplot2::ggplot(e, ggplot2::aes(.data$rank, .data$eigenvalue)) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = base, ymax = .data$chance_upper),
      fill = sieve_colour("chance")) +
    ggplot2::geom_line(ggplot2::aes(y = .data$chance_mean), colour = sieve_colour("chance_line"),
      linewidth = 0.5) +
    ggplot2::geom_line(ggplot2::aes(y = .data$chance_upper), colour = sieve_colour("chance_line"),
      linewidth = 0.9) +
    decision_layers(e, k) +
    ggplot2::geom_line(colour = sieve_colour("other"), linewidth = 0.4) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$kept), shape = 21, size = 3.6, stroke = 0.9,
      colour = sieve_colour("kept")) +
    ggplot2::geom_text(ggplot2::aes(label = .data$label), vjust = -1.1, hjust = -0.1, size = 3.9,
      colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("paper"))) +
    axis +
    ggplot2::scale_y_continuous(expand = ggplot2::expansion(mult = c(0, 0.12))) +
    ggplot2::labs(title = eigenvalue_title(k, sum(e$eigenvalue > 1), settings$basis),
      y = if (settings$basis == "components") "Eigenvalue" else "Eigenvalue of the reduced matrix",
      subtitle = wrap_subtitle(
        "Shaded: %s draws of %s (n = %s); thin line their mean, edge percentile %s",
        format_count(settings$replicates), CHANCE_DATA[[settings$chance]]$label,
        format_count(values$n), format(settings$percentile))) +
    theme_sieve()
}

# Where the kept ranks end, and how far each kept eigenvalue exceeds its limit.
decision_layers <- function(e, k) {
  if (!k) return(NULL)
  top <- max(e$eigenvalue)
  list(
    ggplot2::geom_segment(ggplot2::aes(xend = .data$rank, y = .data$limit, yend = .data$eigenvalue),
      e[e$kept, ], colour = sieve_colour("kept"), linewidth = 1.6),
    ggplot2::annotate("segment", x = k + 0.5, xend = k + 0.5, y = min(0, e$eigenvalue), yend = top,
      linetype = "22", colour = sieve_colour("other")),
    ggplot2::annotate("text", x = k + 0.6, y = top, hjust = 0, vjust = 1, lineheight = 1,
      colour = sieve_colour("kept"), size = 4.6, fontface = "bold",
      label = sprintf("left of here: %s\nabove chance", count_of(k, "factor"))))
}

eigenvalue_title <- function(k, above_one, basis = "components") {
  said <- if (k == 0L) {
    "No factor exceeds chance"
  } else {
    paste(k, if (k == 1L) "factor exceeds chance" else "factors exceed chance")
  }
  if (above_one == k || basis != "components") return(said)
  sprintf("%s; %s above 1", said,
    if (above_one == 1L) "1 eigenvalue is" else paste(above_one, "eigenvalues are"))
}

rank_breaks <- function(p) if (p <= 30L) seq_len(p) else unique(c(1L, pretty(seq_len(p), 12L)[-1L]))
