# Figures of what scores are for.

draw_outcome <- function(object) {
  v <- object$values
  s <- object$settings
  none <- v$table$error[1L]
  t <- v$table[!is.na(v$table$number), ]
  beside <- v$table[v$table$model %in% c("all", "best single") & !is.na(v$table$error), ]
  beside$label <- in_called(c(all = "all items", "best single" = "best single item")[beside$model],
    object$source)
  # (the upper line has its words above it, the lower one below)
  beside$side <- ifelse(beside$explained == max(beside$explained), -0.5, 1.5)
  if (nrow(beside) > 1L && diff(beside$explained) == 0) beside$side <- c(-0.5, 1.5)
  taken <- t[t$number == v$chosen, ]
  best <- t[t$number == v$best, ]
  ggplot2::ggplot(t, ggplot2::aes(.data$number, .data$explained)) +
    ggplot2::annotate("rect", xmin = -Inf, xmax = Inf, ymin = 1 - (best$error + best$se) / none,
      ymax = Inf, fill = "#dfe6e3", alpha = 0.6) +
    ggplot2::geom_hline(ggplot2::aes(yintercept = .data$explained), beside, linetype = "22",
      colour = sieve_colour("kept")) +
    ggplot2::geom_text(
      ggplot2::aes(x = 0, y = .data$explained, label = .data$label, vjust = .data$side),
      beside, hjust = 0, size = 3.8, colour = sieve_colour("ink")) +
    ggplot2::geom_linerange(
      ggplot2::aes(ymin = .data$explained - .data$se / none,
        ymax = .data$explained + .data$se / none),
      t[-1L, ], colour = sieve_colour("kept")) +
    ggplot2::geom_line(colour = sieve_colour("kept")) +
    ggplot2::geom_point(size = 2.6, colour = sieve_colour("kept")) +
    ggplot2::geom_point(data = taken, shape = 21, size = 6, colour = sieve_colour("ink")) +
    ggplot2::scale_x_continuous(breaks = t$number) +
    ggplot2::scale_y_continuous(labels = function(x) format_share(x)) +
    ggplot2::labs(title = sprintf("How many %s predict %s", s$of, s$outcome),
      x = sprintf("Number of %s", s$of),
      y = sprintf("%s explained in rows left out",
        if (is.null(s$classes)) "Variance" else "Deviance"),
      subtitle = wrap_subtitle(
        paste("Ring: %d, the fewest within one standard error (shaded) of the best, %d. Bars: one",
          "standard error."),
        v$chosen, v$best)) +
    theme_sieve("y")
}

draw_score_groups <- function(object) {
  g <- object$values$groups
  s <- object$values$scores
  t <- object$values$together
  shown <- sprintf("%s: eta squared %s", s$score, format_unit(s$eta_squared))
  g$score <- factor(g$score, s$score, shown)
  g$group <- factor(g$group, rev(unique(g$group)))
  ggplot2::ggplot(g, ggplot2::aes(.data$mean, .data$group)) +
    ggplot2::geom_vline(xintercept = 0, colour = sieve_colour("chance_line")) +
    ggplot2::geom_linerange(
      ggplot2::aes(xmin = .data$mean - .data$sd, xmax = .data$mean + .data$sd),
      colour = sieve_colour("kept"), linewidth = 1.4) +
    ggplot2::geom_point(shape = 21, size = 3.2, fill = sieve_colour("paper"),
      colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(~score) +
    ggplot2::labs(title = sprintf("Scores by %s", object$settings$by), y = NULL,
      x = "Mean of the group, and one standard deviation to each side",
      subtitle = wrap_subtitle(
        paste("%s of the variance lies between groups (%s); %s of rows left out are given back to",
          "their group (the largest group: %s)."),
        format_share(t$eta_squared), format_p(t$p), format_share(t$hits),
        format_share(t$by_chance))) +
    theme_sieve("x")
}
