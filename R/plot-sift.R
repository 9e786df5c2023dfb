# Figures of sifting.

draw_sift_tiles <- function(object, asked) {
  v <- object$values
  order <- c(which(v$items$state == "in"), rev(order(v$items$pass)[seq_len(sum(
    v$items$state == "out"))]))
  items <- v$items[order, ]
  labels <- item_labels(items, asked$wording, 44L)
  tiles <- v$tiles
  tiles$label <- factor(labels[match(tiles$item, items$item)], rev(labels))
  rules <- intersect(v$rules$values$table$rule, tiles$rule)
  shades <- stats::setNames(rep_len(c(FACTOR_SHADES, "#cc7a8b"), length(rules)), rules)
  risky <- tiles[tiles$state %in% c("at risk", "goes"), ]
  risky$rule <- factor(risky$rule, rules)
  ggplot2::ggplot(tiles, ggplot2::aes(.data$pass, .data$label)) +
    ggplot2::geom_tile(data = tiles[tiles$state != "out", ], fill = "#e6eae6",
      colour = sieve_colour("paper"), linewidth = 0.8) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$rule), risky[risky$state == "at risk", ],
      alpha = 0.45, colour = sieve_colour("paper"), linewidth = 0.8) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$rule), risky[risky$state == "goes", ],
      colour = sieve_colour("ink"), linewidth = 0.8) +
    ggplot2::geom_text(ggplot2::aes(label = "\u00d7"), tiles[tiles$state == "goes", ], size = 5,
      fontface = "bold", colour = sieve_colour("paper")) +
    ggplot2::scale_fill_manual(values = shades, drop = FALSE, labels = hyphened) +
    ggplot2::scale_x_continuous(breaks = function(x) unique(round(pretty(x))),
      expand = ggplot2::expansion(add = 0.1)) +
    ggplot2::labs(title = sprintf("%d of %d items out", sum(items$state == "out"), nrow(items)),
      x = "Pass", y = NULL, fill = "breaks the rule",
      subtitle = wrap_subtitle(
        "Light: in; pale shade: breaks a rule and stays for now; cross: goes in this pass. %s",
        capitalise(paste0(ENDS[[v$ended]], ".")))) +
    theme_sieve("none") +
    ggplot2::theme(legend.position = "right")
}

draw_sift_passes <- function(object) {
  t <- object$values$trail
  t <- t[!duplicated(t$pass, fromLast = TRUE), ]
  measures <- c(adequacy = "sampling adequacy", share = "variance explained",
    rmsr = "root mean square residual", lowest_omega = "lowest omega")
  drawn <- stack_rows(lapply(names(measures), function(name) {
    tibble_of(pass = t$pass, measure = measures[[name]], value = t[[name]], items = t$items)
  }))
  drawn$measure <- factor(drawn$measure, measures)
  drawn <- drawn[!is.na(drawn$value), ]
  ends <- drawn[drawn$pass %in% range(drawn$pass), ]
  ggplot2::ggplot(drawn, ggplot2::aes(.data$pass, .data$value)) +
    ggplot2::geom_line(colour = sieve_colour("kept"), linewidth = 0.8) +
    ggplot2::geom_point(shape = 21, size = 2.6, fill = sieve_colour("paper"),
      colour = sieve_colour("kept")) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$value, 3L)), ends, vjust = -1,
      size = 4, colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(~measure, scales = "free_y") +
    ggplot2::scale_y_continuous(
      labels = function(x) ifelse(is.na(x) | x > 1 | x < 0, "", format_unit(x, 3L)),
      expand = ggplot2::expansion(mult = c(0.1, 0.25))) +
    ggplot2::scale_x_continuous(breaks = function(x) unique(round(pretty(x)))) +
    ggplot2::labs(title = "What changed over the passes", x = "Pass", y = NULL,
      subtitle = wrap_subtitle("From %s to %s. %s", count_of(max(t$items), "item"),
        format_count(min(t$items)),
        if (max(t$items) > min(t$items)) {
          "Choosing items on the same people makes these numbers too good."
        } else {
          "No item went."
        })) +
    theme_sieve()
}

draw_paths <- function(object, asked) {
  t <- object$values$items
  t <- t[order(t$stays), ]
  labels <- item_labels(t, asked$wording, 44L)
  t$label <- factor(labels, labels)
  uncertain <- object$settings$uncertain
  kinds <- c("limits", "orders", "numbers", "draws")
  each <- stack_rows(lapply(kinds, function(name) {
    tibble_of(label = t$label, share = t[[name]], kind = name)
  }))
  each <- each[!is.na(each$share), ]
  ggplot2::ggplot(t, ggplot2::aes(.data$stays, .data$label)) +
    ggplot2::annotate("rect", xmin = uncertain[1L], xmax = uncertain[2L], ymin = -Inf, ymax = Inf,
      fill = sieve_colour("chance"), alpha = 0.6) +
    ggplot2::geom_segment(ggplot2::aes(x = 0, xend = .data$stays, yend = .data$label),
      colour = "#9fb3b1", linewidth = 2.2) +
    ggplot2::geom_point(ggplot2::aes(.data$share, shape = .data$kind), each, size = 1.9,
      colour = sieve_colour("turned")) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$state), shape = 21, size = 3.6,
      colour = sieve_colour("ink")) +
    ggplot2::scale_fill_manual(values = c("in" = sieve_colour("kept"), out = sieve_colour("paper")),
      name = "in this sifting") +
    ggplot2::scale_shape_manual(values = c(limits = 4, orders = 3, numbers = 2, draws = 5),
      name = "share by") +
    ggplot2::scale_x_continuous(limits = c(0, 1), labels = format_share) +
    ggplot2::labs(
      title = sprintf("Which items stay on %s", count_of(nrow(object$values$paths), "path")),
      x = "Share of paths on which the item stays", y = NULL,
      subtitle = wrap_subtitle(
        "Shaded: uncertain items. Large points: all paths; small marks: one kind of change alone.",
        width = SQUARE_SUBTITLE)) +
    theme_sieve() +
    ggplot2::theme(legend.position = "right")
}

draw_lengths <- function(object) {
  v <- object$values
  drawn <- stack_rows(lapply(c("omega", "fidelity"), function(name) {
    tibble::tibble(v$lengths[c("scale", "kept")], measure = name, value = v$lengths[[name]])
  }))
  drawn$scale <- factor(drawn$scale, v$scales$scale)
  asked <- drawn[drawn$kept == v$scales$kept[match(drawn$scale, v$scales$scale)], ]
  ggplot2::ggplot(drawn, ggplot2::aes(.data$kept, .data$value, linetype = .data$measure)) +
    ggplot2::geom_line(colour = sieve_colour("kept"), linewidth = 0.8) +
    ggplot2::geom_point(shape = 21, size = 2.4, fill = sieve_colour("paper"),
      colour = sieve_colour("kept")) +
    ggplot2::geom_point(data = asked, shape = 21, size = 3.6, fill = sieve_colour("kept"),
      colour = sieve_colour("ink")) +
    ggplot2::geom_text(
      ggplot2::aes(label = format_unit(.data$value),
        vjust = ifelse(.data$measure == "omega", 2, -1)),
      asked, size = 3.8, colour = sieve_colour("ink")) +
    ggplot2::facet_wrap(~scale, labeller = ggplot2::label_wrap_gen(24L)) +
    ggplot2::scale_linetype_manual(values = c(omega = "solid", fidelity = "42"), name = NULL) +
    ggplot2::scale_x_continuous(breaks = function(x) unique(round(pretty(x)))) +
    ggplot2::scale_y_continuous(labels = function(x) ifelse(is.na(x), "", format_unit(x)),
      expand = ggplot2::expansion(mult = c(0.05, 0.15))) +
    ggplot2::labs(title = "What short forms lose", x = "Items kept", y = NULL,
      subtitle = wrap_subtitle(
        paste(
          "The best set of every length; filled: the length that was asked for. Omega: reliability",
          "of the score; fidelity: its correlation with the long score of another occasion."))) +
    theme_sieve() +
    ggplot2::theme(legend.position = "top")
}
