# Figure of pairs of items: a cell for each two, with how many gave which two answers and the
# correlation, and on the diagonal how often each answer was given. The upper half stays empty: it
# would say the same again.

MOST_PAIR_ITEMS <- 12L
MOST_PLAIN_ANSWERS <- 11L # items with more different answers are put into bins

draw_pairs <- function(object) {
  answers <- object$values$answers
  items <- colnames(answers)
  if (length(items) > MOST_PAIR_ITEMS) {
    stop_input(
      "items",
      sprintf("The figure of pairs takes up to %d items.", MOST_PAIR_ITEMS),
      got = sprintf("%s came.", count_of(length(items), "item")),
      todo = "Choose some with keep_items()."
    )
  }
  r <- correlate_items(object)$values$correlations
  placed <- lapply(stats::setNames(items, items), function(item) place_answers(answers[, item]))
  place <- function(d) {
    d[c("row", "column")] <- lapply(d[c("row", "column")], factor, levels = items)
    d
  }
  pairs <- utils::combn(items, 2L, simplify = FALSE)
  bubbles <- place(do.call(
    rbind,
    lapply(pairs, function(pair) pair_bubbles(placed[[pair[1L]]], placed[[pair[2L]]], pair))
  ))
  bars <- place(do.call(rbind, lapply(items, function(item) answer_bars(placed[[item]], item))))
  corner <- vapply(pairs, function(pair) if (r[pair[1L], pair[2L]] > 0) 0.02 else 0.98, 0)
  numbers <- place(data.frame(
    row = vapply(pairs, `[`, "", 2L),
    column = vapply(pairs, `[`, "", 1L),
    x = corner,
    size = abs(r[t(simplify2array(pairs))]),
    r = r[t(simplify2array(pairs))]
  ))
  # where the axis ends: the answers at the ends, in every item's own units
  ends <- place(do.call(
    rbind,
    lapply(items, function(item) {
      data.frame(
        row = item,
        column = item,
        x = c(0.02, 0.98),
        label = placed[[item]]$ends,
        side = c(0, 1)
      )
    })
  ))
  binned <- any(vapply(placed, `[[`, NA, "binned"))
  ggplot2::ggplot() +
    ggplot2::geom_rect(
      ggplot2::aes(
        xmin = .data$x - .data$half,
        xmax = .data$x + .data$half,
        ymin = 0.14,
        ymax = 0.14 + 0.84 * .data$height
      ),
      bars,
      fill = sieve_colour("chance_line")
    ) +
    ggplot2::geom_text(
      ggplot2::aes(x = .data$x, y = 0.06, label = .data$label, hjust = .data$side),
      ends,
      size = 3,
      colour = sieve_colour("other")
    ) +
    ggplot2::geom_point(
      ggplot2::aes(.data$x, .data$y, size = .data$share),
      bubbles[bubbles$share > 0, ],
      colour = sieve_colour("kept")
    ) +
    ggplot2::geom_label(
      ggplot2::aes(x = .data$x, y = 0.98, label = format_unit(.data$r), hjust = .data$x),
      numbers,
      vjust = 1,
      size = max(3, 5.4 - length(items) / 5),
      label.size = 0,
      label.padding = ggplot2::unit(0.12, "lines"),
      fill = sieve_colour("paper"),
      colour = sieve_colour("turned"),
      fontface = "bold"
    ) +
    ggplot2::facet_grid(row ~ column, switch = "both", drop = FALSE) +
    ggplot2::scale_size_area(max_size = 40 / length(items)) +
    ggplot2::scale_x_continuous(
      limits = c(0, 1),
      breaks = NULL,
      expand = ggplot2::expansion(0.02)
    ) +
    ggplot2::scale_y_continuous(
      limits = c(0, 1),
      breaks = NULL,
      expand = ggplot2::expansion(0.02)
    ) +
    ggplot2::labs(
      title = "Each pair of items",
      x = NULL,
      y = NULL,
      subtitle = wrap_subtitle(
        paste(
          "Bubbles: how many gave which two answers, with the Pearson correlation; bars:",
          "how often each answer was given%s"
        ),
        if (binned) " (items with many different answers in bins)" else ""
      )
    ) +
    theme_sieve() +
    ggplot2::theme(
      panel.grid.major.y = ggplot2::element_blank(),
      strip.placement = "outside",
      strip.text.y.left = ggplot2::element_text(angle = 0, face = "bold"),
      strip.text.x = ggplot2::element_text(face = "bold"),
      panel.spacing = ggplot2::unit(4, "pt")
    )
}

# Answers as places from 0 to 1: those of few different answers as they are, of many in ten bins.
place_answers <- function(x) {
  values <- sort(unique(x[!is.na(x)]))
  ends <- range(values)
  span <- max(diff(ends), 1e-9)
  binned <- length(values) > MOST_PLAIN_ANSWERS
  steps <- if (binned) 10 else max(1, length(values))
  at <- if (binned) {
    (pmin(floor((x - ends[1L]) / span * 10), 9) + 0.5) / 10
  } else {
    0.08 + 0.84 * (x - ends[1L]) / span
  }
  list(at = at, ends = format(ends, trim = TRUE, digits = 3L), half = 0.40 / steps, binned = binned)
}

pair_bubbles <- function(first, second, pair) {
  counts <- as.data.frame(table(x = first$at, y = second$at), stringsAsFactors = FALSE)
  data.frame(
    row = pair[2L],
    column = pair[1L],
    x = as.numeric(counts$x),
    y = 0.06 + 0.76 * as.numeric(counts$y),
    share = counts$Freq / sum(counts$Freq)
  )
}

answer_bars <- function(placed, item) {
  counts <- table(placed$at)
  data.frame(
    row = item,
    column = item,
    x = as.numeric(names(counts)),
    height = as.numeric(counts) / max(counts),
    half = placed$half
  )
}
