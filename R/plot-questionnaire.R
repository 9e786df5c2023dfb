# Figures of the answers: gaps, and pairs of items as answer scales are.

# The commonest patterns of gaps: a row each, an item a column, dark where the answer is missing.
draw_gaps <- function(object, most = 14L) {
  gaps <- is.na(object$values$answers)
  rows <- core_gap_patterns(object$values$answers, rep(TRUE, nrow(gaps)))
  rows <- rows[order(-lengths(rows))]
  shown <- utils::head(rows, most)
  share <- colMeans(gaps)
  items <- colnames(gaps)
  tiles <- do.call(rbind, lapply(seq_along(shown), function(i) {
    data.frame(pattern = i, item = items, gap = gaps[shown[[i]][1L], ])
  }))
  tiles$item <- factor(tiles$item, items)
  rest <- length(rows) - length(shown)
  ggplot2::ggplot(tiles, ggplot2::aes(.data$item, .data$pattern)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$gap), colour = sieve_colour("paper"),
      linewidth = 0.7) +
    ggplot2::annotate("text", x = seq_along(items), y = 0.2, label = sprintf("%.1f", 100 * share),
      size = if (length(items) > 30L) 2.4 else 3.3, angle = if (length(items) > 20L) 90 else 0,
      colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("turned"),
      "FALSE" = sieve_colour("chance"))) +
    ggplot2::scale_y_reverse(breaks = seq_along(shown),
      labels = vapply(lengths(shown), count_of, "", one = "person", many = "people"),
      expand = ggplot2::expansion(add = c(0.3, 0.5))) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::labs(
      title = sprintf("%s answers are missing",
        if (any(gaps)) paste(format_share(mean(gaps), 1L), "of the") else "No"),
      x = NULL, y = NULL,
      subtitle = wrap_subtitle(
        paste("Dark: missing. The first line is the per cent missing of each item; below, the",
          "commonest patterns%s"),
        if (rest > 0) sprintf(" (%s more not shown)", format_count(rest)) else "")) +
    theme_sieve("none") +
    ggplot2::theme(axis.text.x.top = upright_names(items))
}

# Names of many items, or long ones, stand upright where they would run into each other.
upright_names <- function(items, room = 90L) {
  crowded <- length(items) * (max(nchar(items, "width")) + 2L) > room
  if (!crowded) return(ggplot2::element_text())
  ggplot2::element_text(angle = 90, hjust = 0, vjust = 0.5,
    size = ggplot2::rel(if (length(items) > 30L) 0.75 else 0.9))
}
