# Figure: eigenvalues over the reach of chance.

#' @rdname softsieve-figures
#' @exportS3Method ggplot2::autoplot
autoplot.parallel_analysis <- function(object, ...) {
  e <- object$values$eigenvalues
  k <- object$values$suggested
  e$kept <- e$rank <= k
  limit <- if (object$settings$reference == "upper") "chance_upper" else "chance_mean"
  e$limit <- e[[limit]]
  e$label <- ifelse(e$rank <= k, format_number(e$eigenvalue), "")
  kept <- e[e$kept, ]
  divider <- if (k) list(
    ggplot2::geom_segment(ggplot2::aes(xend = .data$rank, y = .data$limit, yend = .data$eigenvalue), kept,
                          colour = sieve_colour("kept"), linewidth = 1.6),
    ggplot2::annotate("segment", x = k + 0.5, xend = k + 0.5, y = 0, yend = max(e$eigenvalue), linetype = "22",
                      colour = sieve_colour("other")),
    ggplot2::annotate("text", x = k + 0.6, y = max(e$eigenvalue), hjust = 0, vjust = 1, lineheight = 1,
                      colour = sieve_colour("kept"), size = 4.6, fontface = "bold",
                      label = sprintf("left of here: %s\nabove chance", count_of(k, "factor")))
  )
  at <- e[max(1L, ceiling(nrow(e) * 0.7)), ]
  ggplot2::ggplot(e, ggplot2::aes(.data$rank, .data$eigenvalue)) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = 0, ymax = .data$chance_upper), fill = sieve_colour("chance")) +
    ggplot2::geom_line(ggplot2::aes(y = .data$chance_mean), colour = sieve_colour("chance_line"), linewidth = 0.5) +
    ggplot2::geom_line(ggplot2::aes(y = .data$chance_upper), colour = sieve_colour("chance_line"), linewidth = 0.9) +
    divider +
    ggplot2::geom_line(colour = sieve_colour("other"), linewidth = 0.4) +
    ggplot2::geom_point(ggplot2::aes(fill = .data$kept), shape = 21, size = 3.6, stroke = 0.9,
                        colour = sieve_colour("kept")) +
    ggplot2::geom_text(ggplot2::aes(label = .data$label), vjust = -1.1, hjust = -0.1, size = 3.9,
                       colour = sieve_colour("ink")) +
    ggplot2::annotate("text", x = at$rank, y = at$chance_mean * 0.35, label = "within the reach of chance",
                      size = 4.4, colour = "#6d624b") +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"), "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_x_continuous(breaks = rank_breaks(nrow(e)), expand = ggplot2::expansion(add = c(0.4, 0.8))) +
    ggplot2::scale_y_continuous(limits = c(0, NA), expand = ggplot2::expansion(mult = c(0, 0.08))) +
    ggplot2::labs(
      title = eigenvalue_title(k, sum(e$eigenvalue > 1)), x = "Rank", y = "Eigenvalue",
      subtitle = wrap_subtitle("Shaded: what %s matrices of unrelated items gave (n = %s): thin line the mean, edge percentile %s",
                         format_count(object$settings$replicates), format_count(object$values$n), format(object$settings$percentile))
    ) +
    theme_sieve()
}

eigenvalue_title <- function(k, above_one) {
  said <- if (k == 0L) "No factor stands above chance" else sprintf("%s above chance",
                                                                    if (k == 1L) "1 factor stands" else paste(k,
                                                                        "factors stand"))
  if (above_one == k) return(said)
  sprintf("%s; %s above 1", said, if (above_one == 1L) "1 eigenvalue is" else paste(above_one, "eigenvalues are"))
}

rank_breaks <- function(p) if (p <= 30L) seq_len(p) else unique(c(1L, pretty(seq_len(p), 12L)[-1L]))
