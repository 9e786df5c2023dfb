# Figures of the evidence about the number of factors.

draw_evidence <- function(object) {
  needs_package("patchwork", "Figures of two panels")
  # the same horizontal axis above and below: ranks as far as anything is said of them
  reach <- min(nrow(object$values$eigenvalues),
    max(object$values$rules$suggested, object$values$suggested + 8L, na.rm = TRUE) + 1L)
  shown <- object$values
  shown$eigenvalues <- shown$eigenvalues[seq_len(reach), ]
  above <- eigenvalue_figure(shown, object$settings, rank_axis(reach, NULL)) +
    ggplot2::theme(axis.title.y = ggplot2::element_text(margin = ggplot2::margin(r = -150)),
      plot.margin = ggplot2::margin(16, 20, 2, 16),
      plot.subtitle = ggplot2::element_text(margin = ggplot2::margin(b = 4)))
  patchwork::wrap_plots(above, suggestion_figure(object$values, reach), ncol = 1L,
    heights = c(1, 1.05)) +
    patchwork::plot_annotation(theme = ggplot2::theme(plot.background = ggplot2::element_rect(
      fill = sieve_colour("paper"), colour = NA)))
}

rank_axis <- function(reach, name) {
  ggplot2::scale_x_continuous(name, breaks = c(0L, rank_breaks(reach)),
    limits = c(-0.3, reach + 0.5), expand = ggplot2::expansion(0))
}

# One line for each rule: a mark at the number it suggests; and how probable each number is.
suggestion_figure <- function(values, reach) {
  rules <- values$rules[!is.na(values$rules$suggested), ]
  with_odds <- !is.null(values$probabilities)
  lines <- c(rules$label[rules$rule == "parallel"], if (with_odds) "probability",
    rules$label[rules$rule != "parallel"])
  rules$line <- factor(rules$label, rev(lines))
  rules$kind <- ifelse(rules$suggested == values$taken, "same", "other")
  # what rests on something that does not hold here is drawn faintly
  rules$fade <- ifelse(rules$holds, 1, 0.35)
  odds <- if (with_odds) values$probabilities[values$probabilities$probability >= 0.01, ]
  figure <- ggplot2::ggplot(rules, ggplot2::aes(.data$suggested, .data$line)) +
    ggplot2::scale_y_discrete(limits = rev(lines), labels = function(x) x) +
    ggplot2::geom_vline(xintercept = values$taken, colour = sieve_colour("kept"), linewidth = 0.6,
      linetype = "22") +
    ggplot2::geom_point(ggplot2::aes(shape = .data$kind, fill = .data$kind, alpha = .data$fade),
      size = 3.2, colour = sieve_colour("kept"), stroke = 0.9) +
    ggplot2::scale_shape_manual(values = c(same = 21, other = 23)) +
    ggplot2::scale_alpha_identity() +
    ggplot2::scale_fill_manual(values = c(same = sieve_colour("kept"),
      other = sieve_colour("paper"))) +
    rank_axis(reach,
      paste0("Rank (above) and number of factors suggested (below; dashed: taken)",
        if (any(!rules$holds)) "; faint: rests on Pearson correlations, which these are not")) +
    ggplot2::labs(y = NULL) +
    theme_sieve() +
    ggplot2::theme(axis.text.y = ggplot2::element_text(size = ggplot2::rel(0.78)),
      plot.margin = ggplot2::margin(2, 20, 12, 16),
      panel.grid.major.y = ggplot2::element_line(colour = "#e9e6df", linewidth = 0.4))
  if (!with_odds) return(figure)
  odds$said <- ifelse(odds$probability > 0.99, "> 99 %", format_share(odds$probability))
  figure +
    ggplot2::geom_label(ggplot2::aes(.data$factors, "probability", label = .data$said), odds,
      inherit.aes = FALSE, size = 3.5, label.size = 0, fill = sieve_colour("paper"),
      colour = sieve_colour("turned"),
      fontface = ifelse(odds$factors == values$probable, "bold", "plain"),
      label.padding = ggplot2::unit(0.12, "lines"))
}

# Root mean square residual, RMSEA with its interval, and BIC for each number of factors.
fit_figure <- function(object) {
  v <- object$values
  if (is.null(v$fits)) {
    stop_input("class", "Fit can only be drawn where it could be judged.",
      got = "The matrix is singular: there is no fit.", todo = "Draw the evidence: autoplot(x).")
  }
  f <- v$fits
  panel <- function(value, low, high, name) {
    tibble::tibble(factors = f$factors, value = value, low = low, high = high, measure = name)
  }
  names <- c("RMSEA with its 90 % interval", "Root mean square residual", "BIC")
  long <- rbind(panel(f$rmsea, f$rmsea_lower, f$rmsea_upper, names[1L]),
    panel(f$rmsr, NA_real_, NA_real_, names[2L]), panel(f$bic, NA_real_, NA_real_, names[3L]))
  long$measure <- factor(long$measure, names)
  long <- long[!is.na(long$value), ]
  close <- tibble::tibble(measure = factor(names[1L], names), at = cutoff("rmsea_close"))
  ggplot2::ggplot(long, ggplot2::aes(.data$factors, .data$value)) +
    ggplot2::scale_y_continuous(labels = function(x) {
      format(x, big.mark = ",", trim = TRUE, drop0trailing = TRUE)
    }) +
    ggplot2::geom_vline(xintercept = v$taken, colour = sieve_colour("kept"), linewidth = 0.6,
      linetype = "22") +
    ggplot2::geom_hline(ggplot2::aes(yintercept = .data$at), close,
      colour = sieve_colour("chance_line"), linewidth = 0.7) +
    ggplot2::geom_line(colour = sieve_colour("other"), linewidth = 0.4) +
    ggplot2::geom_linerange(ggplot2::aes(ymin = .data$low, ymax = .data$high),
      long[!is.na(long$low), ], colour = sieve_colour("kept"), linewidth = 1.3) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$factors == v$taken), shape = 21, size = 3.2,
      stroke = 0.9, colour = sieve_colour("kept")) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_x_continuous(breaks = f$factors) +
    ggplot2::facet_wrap(ggplot2::vars(.data$measure), ncol = 1L, scales = "free_y") +
    ggplot2::labs(x = "Number of factors", y = NULL,
      title = sprintf("How well each number of factors fits (n = %s)", format_count(v$n)),
      subtitle = wrap_subtitle(
        paste("Maximum likelihood. Dashed: the number taken, %s. Smaller is",
          "better; fit up to RMSEA %s (line) is close. RMSEA and residuals fall with every",
          "factor: look for where they level off; BIC has a minimum."),
        format_count(v$taken), format_unit(cutoff("rmsea_close")))) +
    theme_sieve() +
    ggplot2::theme(
      strip.text = ggplot2::element_text(hjust = 0, face = "bold", size = ggplot2::rel(0.95)),
      panel.spacing = ggplot2::unit(0.9, "lines"))
}
