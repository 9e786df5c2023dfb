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
    tibble_of(factors = f$factors, value = value, low = low, high = high, measure = name)
  }
  names <- c("RMSEA with its 90 % interval", "Root mean square residual", "BIC")
  long <- rbind(panel(f$rmsea, f$rmsea_lower, f$rmsea_upper, names[1L]),
    panel(f$rmsr, NA_real_, NA_real_, names[2L]), panel(f$bic, NA_real_, NA_real_, names[3L]))
  long$measure <- factor(long$measure, names)
  long <- long[!is.na(long$value), ]
  close <- tibble_of(measure = factor(names[1L], names), at = cutoff("rmsea_close"))
  ggplot2::ggplot(long, ggplot2::aes(.data$factors, .data$value)) +
    ggplot2::scale_y_continuous(labels = function(x) {
      format(x, big.mark = ",", decimal.mark = ".", trim = TRUE, drop0trailing = TRUE)
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

# How much each level of a factor is known: information and conditional error.

draw_information <- function(object) {
  c <- object$values$curves
  panels <- c("Information", "Error of a person's score")
  factors <- unique(c$factor)
  long <- tibble_of(factor = factor(rep(c$factor, 2L), factors), level = rep(c$level, 2L),
    value = c(c$information, pmin(c$error, 2)), panel = factor(rep(panels, each = nrow(c)), panels))
  kinds <- rep_len(c("solid", "22", "42", "12", "4212", "62"), length(factors))
  ggplot2::ggplot(long, ggplot2::aes(.data$level, .data$value, linetype = .data$factor)) +
    ggplot2::geom_line(colour = sieve_colour("kept"), linewidth = 0.8) +
    ggplot2::scale_linetype_manual(values = stats::setNames(kinds, factors)) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), ncol = 1L, scales = "free_y") +
    ggplot2::labs(x = "Level of the factor, in standard deviations from the mean", y = NULL,
      linetype = NULL, title = "Where on each factor people are known best",
      subtitle = wrap_subtitle(paste(
        "Above: information of the items that load on the factor most. Below: the error of a",
        "person's score there, 1 over the root of the information (cut off at 2)."))) +
    theme_sieve() +
    ggplot2::theme(legend.position = "top", legend.key.width = ggplot2::unit(2.2, "lines"),
      strip.text = ggplot2::element_text(hjust = 0, face = "bold"))
}
