# Figures of the way back: what each further component adds, and answers beside what is left of
# them.

draw_curve <- function(object) {
  v <- object$values
  s <- object$settings
  one <- one_of_model(s)
  curve <- v$curve
  curve$reached <- curve$share >= s$target - 1e-12
  kept <- if (is.character(s$kept)) NA else s$kept
  told <- curve[curve$kept %in% c(kept, v$enough), ]
  ggplot2::ggplot(curve, ggplot2::aes(.data$kept, .data$share)) +
    ggplot2::geom_col(ggplot2::aes(y = .data$added), width = 0.55, fill = sieve_colour("chance")) +
    ggplot2::geom_hline(yintercept = s$target, colour = sieve_colour("turned"), linetype = "42",
      linewidth = 0.7) +
    ggplot2::annotate("text", x = 0.6, y = s$target,
      label = sprintf("target %s", format_share(s$target)), hjust = 0, vjust = -0.6, size = 4,
      colour = sieve_colour("turned")) +
    ggplot2::geom_line(colour = sieve_colour("kept"), linewidth = 0.8) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$reached), shape = 21, size = 3,
      colour = sieve_colour("kept")) +
    point_labels(
      ggplot2::aes(label = sprintf("%d keep %s", .data$kept, format_share(.data$share))),
      told, size = 4.2, fontface = "bold", nudge_y = -0.06, nudge_x = 0.06 * nrow(curve),
      colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(
      values = c("TRUE" = sieve_colour("kept"), "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_y_continuous(limits = c(min(0, curve$added), 1.02), breaks = seq(0, 1, 0.25),
      labels = format_share) +
    ggplot2::scale_x_continuous(breaks = function(x) setdiff(unique(round(pretty(x))), 0)) +
    ggplot2::labs(title = sprintf("How much of the answers the first %ss keep", one),
      x = sprintf("%ss kept", capitalise(one)), y = NULL,
      subtitle = wrap_subtitle(
        "Line: share of the variance of %s that is kept; filled where the target is reached. %s",
        count_of(nrow(v$items), "item"), sprintf("Bars: what each further %s adds.", one))) +
    theme_sieve()
}

MOST_REBUILT <- 12L

# For each answer that was given: the middle half and the median of what is rebuilt in its place.
draw_rebuilt <- function(object, asked) {
  v <- object$values
  items <- rebuilt_items(v, asked$items)
  cells <- stack_rows(lapply(items$item, function(one) {
    there <- !is.na(v$answers[[one]])
    tibble::tibble(item = one, answer = v$answers[[one]][there], rebuilt = v$rebuilt[[one]][there])
  }))
  few <- max(tapply(cells$answer, cells$item, function(x) length(unique(x)))) <= 12L
  label <- sprintf("%s: %s kept", items$item, format_share(items$share))
  said <- keyed_wording(items$wording, items$reversed)
  label <- ifelse(asked$wording & nzchar(said), paste0(label, "\n", clip_text(said, 28L)), label)
  cells$item <- factor(cells$item, items$item, label)
  ggplot2::ggplot(cells, ggplot2::aes(.data$answer, .data$rebuilt)) +
    ggplot2::geom_abline(slope = 1, colour = sieve_colour("other"), linetype = "22") +
    rebuilt_layers(cells, few) +
    ggplot2::facet_wrap(~item) +
    ggplot2::coord_cartesian(xlim = range(cells$answer) + c(-0.3, 0.3),
      ylim = range(cells$answer) + c(-0.3, 0.3)) +
    ggplot2::labs(title = "Answers and what is left of them", x = "Answer as it was given",
      y = "Rebuilt answer",
      subtitle = wrap_subtitle("Kept: %s. %sDashed: nothing lost.%s", kept_words(object$settings),
        if (few) "Points: medians; thick: the middle half; thin: the middle 80 %. " else "",
        if (is.null(asked$items) && nrow(v$items) > nrow(items)) {
          sprintf(" The %d items of %d that are kept least.", nrow(items), nrow(v$items))
        } else {
          ""
        })) +
    theme_sieve()
}

rebuilt_items <- function(v, asked) {
  if (is.null(asked)) return(utils::head(v$items[order(v$items$share), ], MOST_REBUILT))
  unknown <- setdiff(asked, v$items$item)
  if (!length(unknown) && length(asked) <= MOST_REBUILT) {
    return(v$items[match(asked, v$items$item), ])
  }
  stop_input("argument",
    sprintf("`items` must name up to %d items.", MOST_REBUILT),
    got = if (length(unknown)) {
      sprintf("No items: %s.", name_culprits(unknown))
    } else {
      sprintf("%d came.", length(asked))
    },
    todo = if (length(unknown)) hint_nearest(unknown[1L], v$items$item) else character())
}

# Of few different answers their spread, of many the points.
rebuilt_layers <- function(cells, few) {
  if (!few) return(ggplot2::geom_bin_2d(bins = 40L, fill = sieve_colour("kept"), alpha = 0.5))
  alike <- split(cells, list(cells$item, cells$answer), drop = TRUE)
  spread <- stack_rows(lapply(alike, function(one) {
    tibble::tibble(one[1L, c("item", "answer")], percentiles_of(one$rebuilt))
  }))
  bar <- function(from, to, width) {
    ggplot2::geom_linerange(ggplot2::aes(y = .data$p50, ymin = .data[[from]], ymax = .data[[to]]),
      spread, colour = sieve_colour("kept"), linewidth = width)
  }
  list(bar("p10", "p90", 0.6), bar("p25", "p75", 2.4),
    ggplot2::geom_point(ggplot2::aes(y = .data$p50), spread, shape = 21, size = 2.6,
      fill = sieve_colour("paper"), colour = sieve_colour("ink")))
}
