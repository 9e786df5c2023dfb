# Figures of reliability: coefficients, what each item does, split halves, scores, groups.

in_panels <- function(drawn) {
  drawn +
    theme_sieve() +
    ggplot2::theme(panel.spacing.x = ggplot2::unit(22, "pt"),
      panel.grid.major.x = ggplot2::element_line(colour = "#f0ede6"),
      strip.text = ggplot2::element_text(face = "bold", hjust = 0),
      strip.text.y = ggplot2::element_text(angle = 0))
}

draw_coefficients <- function(object) {
  v <- object$values
  drawn <- names(COEFFICIENTS)[spec_field(COEFFICIENTS, "drawn")]
  t <- v$coefficients[v$coefficients$coefficient %in% drawn, ]
  t <- check_drawable(t[!is.na(t$estimate), ], "Give scales of two items or more.")
  t$scale <- factor(t$scale, v$scales$scale)
  t$label <- factor(coefficient_short(t$coefficient), rev(coefficient_short(names(COEFFICIENTS))))
  t$report <- t$coefficient == v$scales$report[match(t$scale, v$scales$scale)]
  ggplot2::ggplot(t, ggplot2::aes(.data$estimate, .data$label, colour = .data$report)) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$lower, xmax = .data$upper), na.rm = TRUE,
      linewidth = 1.1) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$report), size = 3) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$estimate)), nudge_y = 0.36,
      size = 3.4, colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(ggplot2::vars(.data$scale), nrow = if (nrow(v$scales) > 4L) 2L else 1L,
      labeller = ggplot2::label_wrap_gen(18L)) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("other"))) +
    ggplot2::scale_shape_manual(values = c("TRUE" = 16, "FALSE" = 1)) +
    ggplot2::scale_x_continuous(labels = format_unit) +
    ggplot2::labs(title = "How reliable each scale's score is, by which assumption", x = NULL,
      y = NULL,
      subtitle = wrap_subtitle("Filled: the coefficient to report. %s", if (all(is.na(t$lower))) {
        ""
      } else {
        sprintf("Bars: %s limits", format_share(object$settings$level))
      }))
}

draw_items_left_out <- function(object) {
  v <- object$values
  t <- check_drawable(v$items[!is.na(v$items$alpha_without), ],
    "Give scales of three items or more.")
  t$scale <- factor(t$scale, v$scales$scale)
  t$better <- t$alpha_without > v$scales$alpha[match(t$scale, v$scales$scale)]
  uneven <- vapply(split(t$sd, t$scale), spreads_differ, NA)
  t$costs <- t$better & !uneven[as.character(t$scale)]
  wording <- keyed_wording(t$wording, t$reversed)
  row <- ifelse(nzchar(wording), paste0(clip_text(wording, 60L), "   ", t$item), t$item)
  t$row <- factor(row, rev(row))
  t$alpha <- v$scales$alpha[match(t$scale, v$scales$scale)]
  ggplot2::ggplot(t, ggplot2::aes(.data$alpha_without, .data$row)) +
    ggplot2::geom_vline(ggplot2::aes(xintercept = .data$alpha), colour = sieve_colour("ink"),
      linetype = 2) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$alpha, xend = .data$alpha_without, yend = .data$row,
        colour = .data$costs),
      linewidth = 1.1) +
    ggplot2::geom_point(ggplot2::aes(colour = .data$costs), size = 2.6) +
    ggplot2::geom_text(
      ggplot2::aes(label = format_unit(.data$alpha_without),
        hjust = ifelse(.data$better, -0.4, 1.4)),
      size = 3.4) +
    ggplot2::facet_grid(ggplot2::vars(.data$scale), scales = "free_y", space = "free_y",
      labeller = ggplot2::label_wrap_gen(14L)) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("turned"),
      "FALSE" = sieve_colour("kept"))) +
    ggplot2::scale_x_continuous(labels = function(x) format_unit(x, 3L),
      expand = ggplot2::expansion(mult = 0.12)) +
    ggplot2::labs(title = "Alpha without each item", x = NULL, y = NULL,
      subtitle = wrap_subtitle(paste0("Dashed: alpha with all items. ", if (all(uneven)) {
        "Items vary unlike: alpha tells of their units here, not of items"
      } else {
        "An item to the right of it costs the scale reliability"
      }, if (any(uneven) && !all(uneven)) {
        sprintf(" (not of %s: there alpha tells of units)", join_words(names(which(uneven))))
      })))
}

draw_halves <- function(object) {
  v <- object$values
  t <- check_drawable(v$halves, "Give scales of three items or more.")
  t$scale <- factor(t$scale, v$scales$scale)
  lines <- data.frame(scale = factor(v$splits$scale, v$scales$scale), mean = v$splits$mean,
    number = v$splits$number)
  ggplot2::ggplot(t) +
    ggplot2::geom_rect(
      ggplot2::aes(xmin = .data$from, xmax = .data$to, ymin = 0, ymax = .data$share),
      fill = sieve_colour("chance"), colour = sieve_colour("chance_line")) +
    ggplot2::geom_vline(data = lines, ggplot2::aes(xintercept = .data$mean),
      colour = sieve_colour("kept"), linewidth = 1) +
    ggplot2::geom_text(data = lines,
      ggplot2::aes(x = .data$mean, y = Inf,
        label = sprintf("mean %s of %s", format_unit(.data$mean), format_count(.data$number))),
      hjust = -0.05, vjust = 1.6, size = 3.6, colour = sieve_colour("kept")) +
    ggplot2::facet_wrap(ggplot2::vars(.data$scale)) +
    ggplot2::scale_x_continuous(labels = function(x) format_unit(x, 3L),
      expand = ggplot2::expansion(mult = c(0.1, 0.35))) +
    ggplot2::scale_y_continuous(labels = format_share) +
    ggplot2::labs(title = "Split halves of each scale", x = "reliability by that split",
      y = "share of the splits",
      subtitle = paste(
        "All ways to halve the items (or a sample of them). A wide spread: the halves do",
        "not measure alike"))
}

draw_scale_scores <- function(object) {
  v <- object$values
  t <- check_drawable(v$totals[!is.na(v$totals$score), ],
    "Give the answers, not their correlations alone.")
  t$scale <- factor(t$scale, v$scales$scale)
  s <- v$scales
  s$scale <- factor(s$scale, s$scale)
  top <- vapply(split(t$people, t$scale), max, 0)
  s$y <- top[as.character(s$scale)] * 1.12
  ggplot2::ggplot(t, ggplot2::aes(.data$score, .data$people)) +
    ggplot2::geom_segment(ggplot2::aes(xend = .data$score, yend = 0),
      colour = sieve_colour("other"), linewidth = 1.6) +
    ggplot2::geom_linerange(data = s,
      ggplot2::aes(y = .data$y, x = .data$mean, xmin = .data$mean - .data$score_margin,
        xmax = .data$mean + .data$score_margin),
      colour = sieve_colour("kept"), linewidth = 1.3, na.rm = TRUE, orientation = "y") +
    ggplot2::geom_point(data = s, ggplot2::aes(.data$mean, .data$y), colour = sieve_colour("kept"),
      size = 3) +
    ggplot2::geom_text(data = s,
      ggplot2::aes(.data$mean, .data$y,
        label = sprintf("+/- %s", format_number(.data$score_margin))),
      vjust = -0.7, size = 3.6, colour = sieve_colour("kept")) +
    ggplot2::facet_wrap(ggplot2::vars(.data$scale), scales = "free_y") +
    ggplot2::scale_y_continuous(expand = ggplot2::expansion(mult = c(0, 0.14))) +
    ggplot2::labs(title = "How scores are spread, and how sure one is",
      x = "score (mean of the items)", y = "people",
      subtitle = wrap_subtitle("Bars: the %s interval of one person's score",
        format_share(object$settings$level)))
}

draw_group_alphas <- function(object) {
  t <- check_drawable(object$values$groups, "Ask for groups: assess_reliability(..., by = ).")
  t$scale <- factor(t$scale, object$values$scales$scale)
  tests <- object$values$equal_alphas
  p <- tests$p[match(t$scale, tests$scale)]
  t$group <- factor(t$group, rev(sort(unique(t$group))))
  t$panel <- sprintf("%s (equal alphas: %s)", t$scale, format_p(p))
  t$panel <- factor(t$panel, unique(t$panel[order(t$scale)]))
  ggplot2::ggplot(t, ggplot2::aes(.data$alpha, .data$group)) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$lower, xmax = .data$upper),
      colour = sieve_colour("kept"), linewidth = 1.1) +
    ggplot2::geom_point(colour = sieve_colour("kept"), size = 3) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$alpha)), nudge_y = 0.32, size = 3.3) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel)) +
    ggplot2::scale_x_continuous(labels = format_unit) +
    ggplot2::labs(title = "Alpha in each group", x = NULL, y = NULL,
      subtitle = sprintf("Bars: %s limits (Feldt)", format_share(object$settings$level)))
}

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
