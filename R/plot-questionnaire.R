# Figures of the answers: gaps, and pairs of items as answer scales are.

#' @rdname softsieve-figures
#' @param what Of a questionnaire: `"missing"` (who left out what, together) or `"pairs"` (each pair
#'   of up to 12 items: bubbles for how many gave which two answers). Of correlations: nothing.
#' @exportS3Method ggplot2::autoplot
autoplot.questionnaire <- function(object, what = c("missing", "pairs"), ...) {
  what <- check_choice(what, "what", c("missing", "pairs"))
  if (what == "missing") draw_gaps(object) else draw_pairs(object)
}

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
    ggplot2::geom_tile(ggplot2::aes(fill = .data$gap), colour = sieve_colour("paper"), linewidth = 0.7) +
    ggplot2::annotate("text", x = seq_along(items), y = 0.2, label = sprintf("%.1f", 100 * share), size = 3.3,
                      colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("turned"), "FALSE" = sieve_colour("chance"))) +
    ggplot2::scale_y_reverse(breaks = seq_along(shown),
                             labels = vapply(lengths(shown), count_of, "", one = "person",
                                             many = "people"), expand = ggplot2::expansion(add = c(0.3, 0.5))) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::labs(title = sprintf("%s of the answers are missing", format_share(mean(gaps), 1L)), x = NULL, y = NULL,
                  subtitle = wrap_subtitle("Dark: missing. The first line is the per cent missing of each item; below, the commonest patterns%s",
                                     if (rest > 0) sprintf(" (%s more not shown)", format_count(rest)) else "")) +
    theme_sieve() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank())
}

# Each pair of items: below the diagonal a bubble for each two answers, on it the shares of the
# answers, above it the correlation.
draw_pairs <- function(object) {
  answers <- object$values$answers
  items <- colnames(answers)
  if (length(items) > 12L) {
    stop_input("items", "The figure of pairs takes up to 12 items.",
               got = sprintf("%s came.", count_of(length(items), "item")), todo = "Choose some with keep_items().")
  }
  r <- correlate_items(object)$values$correlations
  place <- function(d) {
    d[c("row", "column")] <- lapply(d[c("row", "column")], factor, levels = items)
    d
  }
  pairs <- utils::combn(items, 2L)
  bubbles <- place(do.call(rbind, apply(pairs, 2L, function(pair) {
    counts <- as.data.frame(table(x = answers[, pair[1L]], y = answers[, pair[2L]]), stringsAsFactors = FALSE)
    data.frame(row = pair[2L], column = pair[1L], x = as.numeric(counts$x), y = as.numeric(counts$y),
               share = counts$Freq / sum(counts$Freq))
  }, simplify = FALSE)))
  low <- min(answers, na.rm = TRUE)
  span <- max(answers, na.rm = TRUE) - low
  bars <- place(do.call(rbind, lapply(items, function(item) {
    counts <- table(answers[, item])
    data.frame(row = item, column = item, x = as.numeric(names(counts)), share = as.numeric(counts) / sum(counts))
  })))
  bars$top <- low - 0.5 + (span + 1) * bars$share / max(bars$share) * 0.95
  numbers <- place(data.frame(row = pairs[1L, ], column = pairs[2L, ], r = r[t(pairs)]))
  ggplot2::ggplot() +
    ggplot2::geom_point(ggplot2::aes(.data$x, .data$y, size = .data$share), bubbles[bubbles$share > 0, ],
                        colour = sieve_colour("kept")) +
    ggplot2::geom_rect(ggplot2::aes(xmin = .data$x - 0.42, xmax = .data$x + 0.42, ymin = low - 0.5, ymax = .data$top),
                       bars, fill = sieve_colour("chance_line")) +
    ggplot2::geom_text(ggplot2::aes(x = low + span / 2, y = low + span / 2, label = format_unit(.data$r)), numbers,
                       size = 5, colour = sieve_colour("ink")) +
    ggplot2::facet_grid(row ~ column, switch = "both") +
    ggplot2::scale_size_area(max_size = 46 / length(items)) +
    ggplot2::scale_x_continuous(breaks = unique(round(c(low, low + span))), limits = c(low - 0.7, low + span + 0.7)) +
    ggplot2::scale_y_continuous(breaks = unique(round(c(low, low + span))), limits = c(low - 0.7, low + span + 0.7)) +
    ggplot2::labs(title = "Each pair of items", x = NULL, y = NULL,
                  subtitle = wrap_subtitle("Below: how many gave which two answers. On the diagonal: how often each answer was given. Above: Pearson correlations")) +
    theme_sieve() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank(), strip.placement = "outside",
                                   panel.border = ggplot2::element_rect(fill = NA, colour = "#e3dccd"),
                                   strip.text.y.left = ggplot2::element_text(angle = 0,
                                       face = "bold"), strip.text.x = ggplot2::element_text(face = "bold"),
                                   axis.text = ggplot2::element_text(size = 8), panel.spacing = ggplot2::unit(3, "pt"))
}
