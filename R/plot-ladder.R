# Figure: how factors split from level to level.

# A factor stands below its parent as far as there is room. Dark: the parent; light: what else
# correlates .30 or more.
draw_ladder <- function(object, asked) {
  nodes <- ladder_nodes(object$values, asked$wording)
  rungs <- object$values$rungs
  rungs <- rungs[abs(rungs$correlation) >= cutoff("correlation_worth"), ]
  find <- function(level, factor) match(paste(level, factor), paste(nodes$level, nodes$factor))
  above <- find(rungs$level_before, rungs$factor_before)
  below <- find(rungs$level, rungs$factor)
  rungs[c("x", "y", "xend", "yend")] <- list(nodes$x[above], -nodes$level[above] - 0.16,
    nodes$x[below], -nodes$level[below] + 0.16)
  # numbers of lighter rungs stand nearer to the lower end, so that they do not lie on the others
  along <- ifelse(rungs$parent, 0.5, 0.72)
  rungs$at_x <- rungs$x + along * (rungs$xend - rungs$x)
  rungs$at_y <- rungs$y + along * (rungs$yend - rungs$y)
  rungs <- rungs[order(rungs$parent), ]
  ggplot2::ggplot(rungs) +
    ggplot2::geom_segment(
      ggplot2::aes(.data$x, .data$y, xend = .data$xend, yend = .data$yend,
        linewidth = pmin(abs(.data$correlation), 1), linetype = .data$correlation < 0,
        colour = .data$parent)) +
    ggplot2::geom_label(
      ggplot2::aes(.data$at_x, .data$at_y, label = format_unit(.data$correlation)), size = 3.7,
      label.size = 0, label.padding = ggplot2::unit(1.5, "pt"), fill = sieve_colour("paper"),
      colour = sieve_colour("ink")) +
    ggplot2::geom_label(ggplot2::aes(.data$x, -.data$level, label = .data$label), nodes, size = 3.9,
      lineheight = 0.95, colour = sieve_colour("ink"), fill = sieve_colour("chance"),
      label.size = 0, label.padding = ggplot2::unit(6, "pt")) +
    ggplot2::scale_linewidth(range = c(0.3, 3.2), limits = c(0, 1)) +
    ggplot2::scale_linetype_manual(values = c("FALSE" = "solid", "TRUE" = "42")) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("kept"), "FALSE" = "#b9c4c3")) +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(add = 0.5)) +
    ggplot2::scale_y_continuous(breaks = -unique(nodes$level), labels = unique(nodes$level),
      expand = ggplot2::expansion(add = 0.4)) +
    ggplot2::labs(title = "How factors split as one more is taken", x = NULL,
      y = "Number of factors",
      subtitle = wrap_subtitle(
        paste("Lines: correlations of the factors' scores; dark with the factor above that it",
          "correlates with most, light others; all from %s on%s"),
        format_unit(cutoff("correlation_worth")),
        if (any(rungs$correlation < 0)) "; dashed: negative" else "")) +
    theme_sieve() +
    ggplot2::theme(axis.text.x = ggplot2::element_blank())
}

# Where each factor stands: in the order of its parents, evenly over the width of the last level.
ladder_nodes <- function(values, wording) {
  nodes <- values$factors
  nodes$x <- NA_real_
  widest <- max(table(nodes$level))
  for (level in unique(nodes$level)) {
    own <- which(nodes$level == level)
    k <- length(own)
    lines <- values$rungs[values$rungs$level == level & values$rungs$parent, ]
    parent <- lines$factor_before[match(nodes$factor[own], lines$factor)]
    before <- nodes[nodes$level == level - 1L, ]
    wish <- if (nrow(before)) before$x[match(parent, before$factor)] else seq_len(k)
    strength <- lines$correlation[match(nodes$factor[own], lines$factor)]
    place <- order(order(wish, -abs(if (nrow(before)) strength else seq_len(k))))
    nodes$x[own] <- (place - 0.5) / k * widest
  }
  nodes$label <- ladder_labels(nodes, wording)
  nodes
}

ladder_labels <- function(nodes, wording) {
  plain <- grepl("^[FC][0-9]+$", nodes$factor)
  said <- keyed_wording(nodes$wording, nodes$reversed)
  text <- vapply(said, function(one) paste(strwrap(clip_text(one, 54L), 19L), collapse = "\n"), "")
  ifelse(wording & nzchar(said), paste0(nodes$factor, "\n", text),
    ifelse(plain, paste0(nodes$factor, ": ", nodes$item), wrap_names(nodes$factor, 16L)))
}

# In how many samples two factors show, by how closely they go together.
draw_hidden <- function(object) {
  tried <- check_drawable(object$values$tried,
    sprintf("Only factors of %d items or more are split.", FEWEST_TO_SPLIT))
  tried$factor <- factor(tried$factor, unique(tried$factor))
  share <- object$settings$share
  ggplot2::ggplot(tried, ggplot2::aes(.data$correlation, .data$shown)) +
    ggplot2::geom_hline(yintercept = share, linetype = "22", colour = sieve_colour("ink")) +
    ggplot2::geom_linerange(
      ggplot2::aes(ymin = pmax(.data$shown - 2 * .data$error, 0),
        ymax = pmin(.data$shown + 2 * .data$error, 1)),
      colour = sieve_colour("kept")) +
    ggplot2::geom_line(colour = sieve_colour("kept"), linewidth = 0.8) +
    ggplot2::geom_point(colour = sieve_colour("kept"), size = 2.4) +
    ggplot2::facet_wrap(~factor) +
    ggplot2::scale_x_continuous(limits = c(0, 1), breaks = c(0.25, 0.5, 0.75),
      labels = format_unit(c(0.25, 0.5, 0.75))) +
    ggplot2::scale_y_continuous(limits = c(0, 1), breaks = seq(0, 1, 0.25),
      labels = format_share(seq(0, 1, 0.25))) +
    ggplot2::labs(title = "When two factors look like one",
      x = "How closely the two would correlate", y = "Samples that show both",
      subtitle = wrap_subtitle(
        "%s people; each factor split in two; dashed: %s of samples; bars: Monte Carlo error",
        format_count(object$values$people), format_share(share))) +
    theme_sieve()
}
