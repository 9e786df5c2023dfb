# Figures: variance explained, before and after rotation and as it adds up; and what is left of the
# correlations.

explained <- function(object) {
  v <- object$values
  turned <- object$settings$rotation != "none"
  one <- function(table, when) {
    tibble_of(when = when, place = seq_len(nrow(table)), factor = table$factor, share = table$share,
      cumulative_share = table$cumulative_share)
  }
  if (!turned) return(one(v$variance, "as extracted"))
  rbind(one(v$variance_unrotated, "before rotation"), one(v$variance, "after rotation"))
}

draw_variance <- function(object) {
  shares <- explained(object)
  shares$when <- factor(shares$when, unique(shares$when))
  name <- one_of_model(object$settings)
  ggplot2::ggplot(shares, ggplot2::aes(.data$place, .data$share)) +
    ggplot2::geom_col(ggplot2::aes(fill = .data$when), width = 0.62, colour = sieve_colour("kept"),
      linewidth = 0.7) +
    ggplot2::geom_text(ggplot2::aes(label = format_share(.data$share)), vjust = -0.5, size = 4.4,
      colour = sieve_colour("ink")) +
    ggplot2::geom_text(ggplot2::aes(y = 0, label = named_after(.data$factor, .data$when)),
      vjust = 1.3, size = 4, lineheight = 0.9, colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(~when) +
    # (few bars are not slabs)
    ggplot2::expand_limits(x = mean(range(shares$place)) + c(-2.3, 2.3)) +
    ggplot2::scale_fill_manual(values = c("before rotation" = sieve_colour("chance"),
      "after rotation" = sieve_colour("kept"), "as extracted" = sieve_colour("kept"))) +
    ggplot2::scale_y_continuous(labels = function(x) format_share(x),
      expand = ggplot2::expansion(mult = c(0.12, 0.12))) +
    ggplot2::labs(
      title = sprintf("%s of the variance is explained by %s",
        format_share(sum(object$values$variance$share)),
        count_of(nrow(object$values$variance), name)),
      x = NULL, y = "Share of all variance",
      subtitle = if (nlevels(shares$when) > 1L) {
        wrap_subtitle(
          "%s. Rotation divides it again: the sum stays, and a %s before is not the same one after",
          rotation_said(object), name)
      }) +
    theme_sieve() +
    ggplot2::theme(axis.text.x = ggplot2::element_blank(),
      strip.text = ggplot2::element_text(face = "bold", size = 14))
}

# Before rotation factors have no names: they are the first, the second, ...
named_after <- function(factor, when) {
  place <- stats::ave(seq_along(factor), when, FUN = seq_along)
  ifelse(when == "before rotation", as.character(place), wrap_names(factor, 12L))
}

draw_cumulative <- function(object) {
  shares <- explained(object)
  shares$when <- factor(shares$when, unique(shares$when))
  last <- shares[shares$place == max(shares$place), ][1L, ]
  ggplot2::ggplot(shares, ggplot2::aes(.data$place, .data$cumulative_share)) +
    ggplot2::geom_line(ggplot2::aes(linetype = .data$when), colour = sieve_colour("kept")) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$when), size = 3.4, fill = sieve_colour("paper"),
      colour = sieve_colour("kept")) +
    ggplot2::annotate("text", x = last$place, y = last$cumulative_share,
      label = format_share(last$cumulative_share), vjust = -1, size = 4.6, fontface = "bold",
      colour = sieve_colour("ink")) +
    ggplot2::scale_shape_manual(values = c("before rotation" = 21L, "after rotation" = 16L,
      "as extracted" = 16L)) +
    ggplot2::scale_linetype_manual(values = c("before rotation" = "22", "after rotation" = "solid",
      "as extracted" = "solid")) +
    ggplot2::scale_x_continuous(breaks = rank_breaks(max(shares$place)), minor_breaks = NULL) +
    ggplot2::scale_y_continuous(limits = c(0, NA), labels = function(x) format_share(x),
      expand = ggplot2::expansion(mult = c(0, 0.12))) +
    ggplot2::labs(title = "How the explained variance adds up",
      x = sprintf("Number of %ss", one_of_model(object$settings)),
      y = "Cumulative share of all variance", subtitle = rotation_said(object)) +
    theme_sieve() +
    ggplot2::theme(legend.position = if (nlevels(shares$when) > 1L) "top" else "none",
      legend.title = ggplot2::element_blank())
}

# Items in the pattern's order, so that what a factor leaves stands together.
draw_residuals <- function(object, asked) {
  v <- object$values
  unit <- observed_units(v$items, object$settings)
  left <- stats::residuals(object) / (unit %o% unit)
  order <- pattern_table(object)$values$table$item
  left <- left[order, order]
  items <- v$items[match(order, v$items$item), ]
  pair <- which(lower.tri(left), arr.ind = TRUE)
  cells <- tibble_of(item = factor(order[pair[, 1L]], rev(order)),
    with = factor(order[pair[, 2L]], order), residual = left[pair])
  cells$dark <- abs(cells$residual) > 0.7 * max(abs(cells$residual), 0.1)
  largest <- cells[utils::head(order(-abs(cells$residual)), 10L), ]
  reach <- max(abs(cells$residual), 0.1)
  ggplot2::ggplot(cells, ggplot2::aes(.data$with, .data$item)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$residual), colour = sieve_colour("paper"),
      linewidth = 0.5) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$residual), colour = .data$dark),
      largest, size = 3.1, fontface = "bold") +
    ggplot2::scale_colour_manual(values = c("TRUE" = "white", "FALSE" = sieve_colour("ink"))) +
    ggplot2::scale_fill_gradientn(colours = answer_colours(9L), limits = c(-reach, reach)) +
    ggplot2::scale_x_discrete(drop = FALSE) +
    ggplot2::scale_y_discrete(drop = FALSE,
      labels = stats::setNames(item_labels(items, asked$wording, 44L), order)) +
    ggplot2::labs(
      title = sprintf("What the %ss leave of the correlations", one_of_model(object$settings)),
      x = NULL, y = NULL,
      subtitle = wrap_subtitle(
        paste(
          "Observed less reproduced correlations, the ten largest in numbers; root mean square %s.",
          "Green: more in common than the %ss say; brown: less"),
        format_unit(v$fit$rmsr, 3L), one_of_model(object$settings))) +
    theme_sieve("none") +
    ggplot2::theme(axis.text.x = ggplot2::element_text(angle = 90, vjust = 0.5, hjust = 1))
}

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
    tibble_of(item = one, answer = v$answers[[one]][there], rebuilt = v$rebuilt[[one]][there])
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

# The table as heat maps: as it was, rebuilt from so many components, and the difference, in
# standard deviations of each column. Of many rows as many as can be told apart, evenly spaced.
GRID_ROWS <- 120L

draw_grid <- function(object, kept) {
  v <- object$values
  kept <- settle_grid(kept, object)
  answers <- as.matrix(as.data.frame(v$answers)[v$items$item])
  rows <- unique(round(seq(1, nrow(answers), length.out = min(nrow(answers), GRID_ROWS))))
  z <- sweep(sweep(answers[rows, , drop = FALSE], 2L, v$steps$mean), 2L, v$steps$sd, "/")
  z[is.na(z)] <- 0
  cells <- lapply(kept, function(k) {
    at <- seq_len(k)
    back <- core_rebuild(sweep(z, 2L, v$steps$scale, "*"),
      list(take = v$steps$take[, at, drop = FALSE], give = v$steps$give[, at, drop = FALSE]))
    back <- sweep(back, 2L, v$steps$scale, "/")
    shown <- list("as it was" = z, rebuilt = back, difference = z - back)
    stack_rows(Map(function(one, what) grid_cells(one, what, k, v$items$item), shown, names(shown)))
  })
  cells <- stack_rows(cells)
  share <- v$curve$share[kept]
  from <- sprintf("from %d (%s)", kept, format_share(share))
  cells$kept <- factor(cells$kept, kept, from)
  ggplot2::ggplot(cells, ggplot2::aes(.data$column, .data$row, fill = .data$value)) +
    ggplot2::geom_raster() +
    ggplot2::facet_grid(kept ~ what, switch = "y") +
    ggplot2::scale_fill_gradientn(colours = answer_colours(11L), limits = c(-3, 3),
      oob = scale_squish, name = "standard\ndeviations") +
    ggplot2::scale_y_reverse() +
    ggplot2::labs(title = "The table, and what few components keep of it", x = NULL,
      y = sprintf("Rows, in their order (%d of %s)", length(rows), format_count(nrow(answers))),
      subtitle = wrap_subtitle(
        "The difference is what is lost; in brackets the share of variance kept.")) +
    theme_sieve("none") +
    ggplot2::theme(axis.text.x = ggplot2::element_text(angle = 60, hjust = 1),
      axis.text.y = ggplot2::element_blank(), legend.position = "right")
}

grid_cells <- function(z, what, kept, columns) {
  tibble_of(value = as.vector(z), row = rep(seq_len(nrow(z)), ncol(z)),
    column = factor(rep(columns, each = nrow(z)), columns),
    what = factor(what, c("as it was", "rebuilt", "difference")), kept = kept)
}

settle_grid <- function(kept, object) {
  most <- ncol(object$values$steps$take)
  own <- object$settings$kept
  if (is.null(kept)) kept <- unique(c(1L, if (is.numeric(own)) own, object$values$enough))
  kept <- kept[!is.na(kept)]
  fine <- checkmate::test_integerish(kept, lower = 1, upper = most, min.len = 1L, max.len = 4L,
    unique = TRUE)
  if (fine) return(sort(as.integer(kept)))
  stop_input("argument", sprintf("`kept` must be up to four numbers from 1 to %d.", most),
    got = describe_value(kept))
}
