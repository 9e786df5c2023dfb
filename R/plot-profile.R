# Figures of items and people: answer shares, distances and runs.

draw_answers <- function(object) {
  counts <- object$values$counts
  items <- object$values$items
  # without tables of few answers, bins stand in
  if (!nrow(counts)) return(draw_bins(object))
  many <- unique(object$values$bins$item)
  label <- function(t) if ("group" %in% names(t)) paste0(t$item, " (", t$group, ")") else t$item
  counts$label <- label(counts)
  items$label <- label(items)
  answers <- sort(unique(counts$answer))
  middle <- (min(answers) + max(answers)) / 2
  counts <- counts[order(counts$label, counts$answer), ]
  bars <- do.call(rbind, lapply(split(counts, counts$label), function(one) {
    below <- sum(one$share[one$answer < middle]) + sum(one$share[one$answer == middle]) / 2
    one$to <- cumsum(one$share) - below
    one$from <- one$to - one$share
    one
  }))
  items <- items[items$label %in% bars$label, ]
  order <- items$label[order(items$mean)]
  wording <- keyed_wording(items$wording, items$reversed)[match(order, items$label)]
  bars$y <- match(bars$label, order)
  bars$answer <- factor(bars$answer, answers)
  wide <- bars[bars$share >= 0.07, ]
  dark <- as.integer(wide$answer) %in% c(1L, length(answers))
  ggplot2::ggplot(bars) +
    ggplot2::geom_rect(ggplot2::aes(xmin = .data$from, xmax = .data$to, ymin = .data$y - 0.4,
      ymax = .data$y + 0.4, fill = .data$answer)) +
    ggplot2::geom_text(
      ggplot2::aes(x = (.data$from + .data$to) / 2, y = .data$y, label = round(100 * .data$share)),
      wide, size = 3.5, colour = ifelse(dark, "white", sieve_colour("ink"))) +
    ggplot2::geom_vline(xintercept = 0, colour = sieve_colour("ink"), linewidth = 0.4) +
    ggplot2::scale_fill_manual(values = stats::setNames(answer_colours(length(answers)), answers),
      labels = answer_labels(answers, object$settings$labels), name = NULL) +
    ggplot2::scale_y_continuous(breaks = seq_along(order),
      labels = ifelse(nzchar(wording), paste0(clip_text(wording, 74L), "   ", order), order),
      expand = ggplot2::expansion(add = 0.6)) +
    ggplot2::scale_x_continuous(labels = function(x) paste(round(100 * abs(x)), "%")) +
    ggplot2::labs(
      title = "How each item was answered",
      x = NULL,
      y = NULL,
      subtitle = wrap_subtitle(
        paste("Per cent of those who answered, highest mean first; left of the line the lower",
          "answers, right the higher ones%s"),
        if (length(many)) sprintf(". In bins, by what = \"bins\": %s", name_culprits(many)) else "")
    ) +
    theme_sieve("none") +
    ggplot2::theme(legend.position = "top", legend.justification = "right")
}

# "1 not at all" where all items call their answers alike, "1" otherwise.
answer_labels <- function(answers, labels) {
  if (is.null(labels)) return(format(answers, trim = TRUE))
  trimws(paste(answers, ifelse(answers %in% labels, names(labels)[match(answers, labels)], "")))
}

draw_respondents <- function(object) {
  all <- object$values$people
  s <- object$settings
  p <- all[!is.na(all$p), ]
  p$depth <- -log10(pmax(p$p, 1e-12))
  p$flagged <- nzchar(p$flags)
  p$who <- if (length(s$id)) as.character(p[[s$id]]) else paste("row", p$row)
  named <- utils::head(p[p$flagged, ][order(-p$depth[p$flagged] - p$longest_run[p$flagged] / 4), ],
    12L)
  run <- s$run_share * s$items
  ggplot2::ggplot(p, ggplot2::aes(.data$longest_run, .data$depth)) +
    ggplot2::annotate("rect", xmin = -Inf, xmax = Inf, ymin = -log10(s$distance_p), ymax = Inf,
      fill = sieve_colour("chance"), alpha = 0.6) +
    ggplot2::annotate("rect", xmin = run, xmax = Inf, ymin = -Inf, ymax = -log10(s$distance_p),
      fill = sieve_colour("chance"), alpha = 0.6) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$flagged), shape = 21, size = 2.6,
      colour = sieve_colour("kept"), alpha = 0.85,
      position = ggplot2::position_jitter(width = 0.18, height = 0, seed = 1)) +
    name_people(named) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("turned"),
      "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_x_continuous(breaks = function(limits) unique(round(pretty(limits, 8L))),
      expand = ggplot2::expansion(add = c(0.6, 2))) +
    ggplot2::scale_y_continuous(breaks = 0:12, labels = function(x) {
      format(10^-x, scientific = FALSE, drop0trailing = TRUE, trim = TRUE)
    }) +
    ggplot2::labs(
      title = sprintf("%s flagged, none removed",
        count_of(sum(nzchar(all$flags)), "person", "people")),
      x = "Longest run of the same answer",
      y = "p of the Mahalanobis distance (further out is higher)",
      subtitle = wrap_subtitle(
        paste("Each point a person; filled are flagged by any sign. Shaded: beyond the cut-offs",
          "of distance or run%s"),
        not_drawn(nrow(all) - nrow(p)))) +
    theme_sieve() +
    ggplot2::theme(panel.grid.major.x = ggplot2::element_line(colour = "#e9e6df", linewidth = 0.4))
}

not_drawn <- function(count) {
  if (!count) return("")
  sprintf(". Not drawn, as they have no distance: %s", count_of(count, "person", "people"))
}

# Names beside points, kept apart where the package for it is there.
name_people <- function(named) {
  if (requireNamespace("ggrepel", quietly = TRUE)) {
    return(ggrepel::geom_text_repel(ggplot2::aes(label = .data$who), named, size = 3.4,
      colour = sieve_colour("ink"), seed = 1L, min.segment.length = 0.2,
      segment.colour = sieve_colour("other"), max.overlaps = 30))
  }
  ggplot2::geom_text(ggplot2::aes(label = .data$who), named, hjust = -0.25, size = 3.4,
    check_overlap = TRUE, colour = sieve_colour("ink"))
}

# Items with many different answers each: ten bins from the lowest to the highest that was given.
draw_bins <- function(object) {
  bins <- object$values$bins
  items <- object$values$items
  label <- function(t) if ("group" %in% names(t)) paste0(t$item, " (", t$group, ")") else t$item
  items <- items[label(items) %in% label(bins), ]
  at <- match(label(bins), label(items))
  wording <- keyed_wording(items$wording, items$reversed)
  rows <- ifelse(nzchar(wording), paste0(clip_text(wording, 60L), "   ", label(items)),
    label(items))
  place <- nrow(items) + 1L - at
  step <- stats::ave(bins$from, at, FUN = function(x) (seq_along(x) - 1) / length(x))
  bars <- data.frame(from = step + 0.004, to = step + 1 / 10 - 0.004, y = place - 0.42,
    top = place - 0.42 + 0.78 * bins$share / max(bins$share))
  ends <- do.call(rbind, lapply(seq_len(nrow(items)), function(i) {
    own <- bins[at == i, ]
    data.frame(x = c(0, 1), side = c(0, 1), y = nrow(items) + 1L - i - 0.42,
      label = format(c(own$from[1L], utils::tail(own$to, 1L)), digits = 4L, trim = TRUE))
  }))
  left <- setdiff(unique(object$values$items$item), items$item)
  ggplot2::ggplot(bars) +
    ggplot2::geom_rect(
      ggplot2::aes(xmin = .data$from, xmax = .data$to, ymin = .data$y, ymax = .data$top),
      fill = sieve_colour("kept")) +
    ggplot2::geom_text(ggplot2::aes(.data$x, .data$y, label = .data$label, hjust = .data$side),
      ends, vjust = 1.5, size = 3.4, colour = sieve_colour("other")) +
    ggplot2::scale_x_continuous(breaks = NULL) +
    ggplot2::scale_y_continuous(breaks = rev(seq_len(nrow(items))), labels = rows,
      expand = ggplot2::expansion(add = 0.5)) +
    ggplot2::labs(title = "How each item was answered", x = NULL, y = NULL,
      subtitle = wrap_subtitle(
        paste("Items with many different answers, in ten bins of each item's own range;",
          "tallest: %s of the people%s"),
        format_share(max(bins$share)),
        if (length(left)) sprintf(". Not drawn: %s", name_culprits(left)) else "")) +
    theme_sieve("none")
}

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
