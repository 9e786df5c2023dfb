# Figures of correlations: the matrix in an order that puts related items together, pairs of items
# as answer scales are, and the items' sampling adequacy.

#' @rdname softsieve-figures
#' @exportS3Method ggplot2::autoplot
autoplot.item_correlations <- function(object, ...) {
  r <- object$values$correlations
  order <- if (ncol(r) > 2L) stats::hclust(stats::as.dist(1 - abs(r)), "average")$order else seq_len(ncol(r))
  items <- colnames(r)[order]
  cells <- data.frame(row = factor(rep(items, length(items)), rev(items)), column = factor(rep(items, each = length(items)), items),
                      r = as.numeric(r[order, order]))
  cells <- cells[as.integer(cells$column) + as.integer(cells$row) <= length(items), ] # below the diagonal
  cells$dark <- abs(cells$r) > 0.7
  size <- max(2.2, min(4, 90 / length(items)))
  about <- object$values$items
  wording <- keyed_wording(about$wording, about$reversed)[match(rev(items), about$item)]
  ggplot2::ggplot(cells, ggplot2::aes(.data$column, .data$row)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$r), colour = sieve_colour("paper"), linewidth = 0.5) +
    (if (length(items) <= 40L) ggplot2::geom_text(ggplot2::aes(label = sub("^(-?)[.]", "\\1", format_unit(.data$r)), colour = .data$dark), size = size)) +
    ggplot2::scale_fill_gradientn(colours = answer_colours(9L), limits = c(-1, 1)) +
    ggplot2::scale_colour_manual(values = c("TRUE" = "white", "FALSE" = sieve_colour("ink"))) +
    ggplot2::scale_x_discrete(drop = FALSE) + ggplot2::scale_y_discrete(drop = FALSE, labels = stats::setNames(ifelse(nzchar(wording), paste0(clip_text(wording, 44L), "   ", rev(items)), rev(items)), rev(items))) +
    ggplot2::labs(title = "How the items go together", x = NULL, y = NULL,
                  subtitle = wrap_subtitle("%s, in hundredths; related items stand together; green positive, brown negative",
                                     if (object$settings$kind == "given") "Correlations" else capitalise(method_label("correlation", if (object$settings$kind == "covariance") "pearson" else object$settings$kind)))) +
    theme_sieve() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank(), axis.text.x = ggplot2::element_text(angle = 90, vjust = 0.5, hjust = 1), axis.text.y = ggplot2::element_text(size = 9))
}

# Each pair of items: below the diagonal a bubble for each two answers, on it the shares of the
# answers, above it the correlation.
draw_pairs <- function(object) {
  answers <- object$values$answers
  items <- colnames(answers)
  if (length(items) > 12L) {
    stop_input("items", "The figure of pairs takes up to 12 items.", got = sprintf("%s came.", count_of(length(items), "item")), todo = "Choose some with keep_items().")
  }
  r <- correlate_items(object)$values$correlations
  place <- function(d) transform(d, row = factor(row, items), column = factor(column, items))
  pairs <- utils::combn(items, 2L)
  bubbles <- place(do.call(rbind, apply(pairs, 2L, function(pair) {
    counts <- as.data.frame(table(x = answers[, pair[1L]], y = answers[, pair[2L]]), stringsAsFactors = FALSE)
    data.frame(row = pair[2L], column = pair[1L], x = as.numeric(counts$x), y = as.numeric(counts$y), share = counts$Freq / sum(counts$Freq))
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
    ggplot2::geom_point(ggplot2::aes(.data$x, .data$y, size = .data$share), bubbles[bubbles$share > 0, ], colour = sieve_colour("kept")) +
    ggplot2::geom_rect(ggplot2::aes(xmin = .data$x - 0.42, xmax = .data$x + 0.42, ymin = low - 0.5, ymax = .data$top), bars, fill = sieve_colour("chance_line")) +
    ggplot2::geom_text(ggplot2::aes(x = low + span / 2, y = low + span / 2, label = format_unit(.data$r)), numbers, size = 5, colour = sieve_colour("ink")) +
    ggplot2::facet_grid(row ~ column, switch = "both") +
    ggplot2::scale_size_area(max_size = 46 / length(items)) +
    ggplot2::scale_x_continuous(breaks = unique(round(c(low, low + span))), limits = c(low - 0.7, low + span + 0.7)) +
    ggplot2::scale_y_continuous(breaks = unique(round(c(low, low + span))), limits = c(low - 0.7, low + span + 0.7)) +
    ggplot2::labs(title = "Each pair of items", x = NULL, y = NULL, subtitle = wrap_subtitle("Below: how many gave which two answers. On the diagonal: how often each answer was given. Above: Pearson correlations")) +
    theme_sieve() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank(), strip.placement = "outside", panel.border = ggplot2::element_rect(fill = NA, colour = "#e3dccd"),
                                   strip.text.y.left = ggplot2::element_text(angle = 0, face = "bold"), strip.text.x = ggplot2::element_text(face = "bold"),
                                   axis.text = ggplot2::element_text(size = 8), panel.spacing = ggplot2::unit(3, "pt"))
}

#' @rdname softsieve-figures
#' @exportS3Method ggplot2::autoplot
autoplot.factorability <- function(object, ...) {
  i <- object$values$items
  s <- object$settings
  i$item <- factor(i$item, rev(i$item))
  wording <- keyed_wording(i$wording, i$reversed)
  cuts <- data.frame(at = c(s$least, s$acceptable, s$good), label = c("least", "acceptable", "good"), up = c(0.9, 1.7, 0.9))
  ggplot2::ggplot(i, ggplot2::aes(.data$adequacy, .data$item)) +
    ggplot2::geom_vline(ggplot2::aes(xintercept = .data$at), cuts, colour = sieve_colour("chance_line"), linetype = "22") +
    ggplot2::geom_text(ggplot2::aes(x = .data$at, y = nrow(i) + .data$up, label = sprintf("%s %s", .data$label, format_unit(.data$at))), cuts, size = 3.7, colour = "#6d624b") +
    ggplot2::geom_segment(ggplot2::aes(x = 0, xend = .data$adequacy, yend = .data$item), colour = "#d3d6d3", linewidth = 1) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$adequacy >= s$least), shape = 21, size = 3.4, stroke = 1.1, colour = sieve_colour("kept")) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$adequacy)), hjust = -0.5, size = 3.7, colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"), "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_x_continuous(limits = c(0, 1.05), expand = ggplot2::expansion(mult = c(0, 0.02)), labels = format_unit) +
    ggplot2::scale_y_discrete(labels = stats::setNames(ifelse(nzchar(wording), paste0(clip_text(wording, 74L), "   ", i$item), as.character(i$item)), as.character(i$item)), expand = ggplot2::expansion(add = c(0.6, 2.2))) +
    ggplot2::labs(title = sprintf("Sampling adequacy is %s overall; %s", format_unit(object$values$adequacy), adequacy_title(i, s)), x = "Sampling adequacy", y = NULL,
                  subtitle = wrap_subtitle("How far what an item shares with another it shares with all; rings are below the least")) +
    theme_sieve() + ggplot2::theme(panel.grid.major.y = ggplot2::element_blank())
}

adequacy_title <- function(items, settings) {
  low <- items$item[items$adequacy < settings$least]
  if (length(low)) sprintf("%s below %s", name_culprits(low), format_unit(settings$least)) else sprintf("no item is below %s", format_unit(settings$least))
}
