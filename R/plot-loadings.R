# Figure: the loadings, one row for each item and one column for each factor.

# A disc's area is the squared loading: the share of the item's variance, when factors are
# uncorrelated. Negative loadings are rings. Small ones are dots without a number.
draw_loadings <- function(object, asked) {
  table <- object$values$table
  loadings <- object$values$loadings
  hide_below <- object$settings$hide_below
  factors <- colnames(loadings)
  order <- table$item
  long <- data.frame(item = rep(rownames(loadings), length(factors)),
    factor = rep(factors, each = nrow(loadings)), loading = as.numeric(loadings))
  long$item <- factor(long$item, rev(order))
  long$factor <- factor(long$factor, factors)
  long$salient <- abs(long$loading) >= hide_below
  salient <- long[long$salient, ]
  rows <- rev(item_labels(table, asked$wording, 72L))
  ggplot2::ggplot(long, ggplot2::aes(.data$factor, .data$item)) +
    ggplot2::geom_point(data = long[!long$salient, ], size = 0.8, colour = "#c3c6c3") +
    ggplot2::geom_point(
      ggplot2::aes(size = .data$loading^2, fill = .data$loading > 0, colour = .data$loading > 0),
      salient, shape = 21, stroke = 1.3) +
    ggplot2::geom_text(ggplot2::aes(label = format_unit(.data$loading)), salient, hjust = 0,
      nudge_x = 0.17, size = 3.9, colour = sieve_colour("ink")) +
    ggplot2::scale_size_area(max_size = 9, limits = c(0, 1), oob = scale_squish) +
    ggplot2::scale_fill_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("paper"))) +
    ggplot2::scale_colour_manual(values = c("TRUE" = sieve_colour("kept"),
      "FALSE" = sieve_colour("turned"))) +
    ggplot2::scale_x_discrete(position = "top", drop = FALSE,
      labels = function(x) wrap_names(x, max(8L, 60L %/% length(x)))) +
    ggplot2::scale_y_discrete(labels = stats::setNames(rows, rev(order)), drop = FALSE,
      expand = ggplot2::expansion(add = 0.9)) +
    ggplot2::labs(title = sprintf("Which items load on which %s", one_of_model(object$settings)),
      x = NULL, y = NULL,
      subtitle = wrap_subtitle(
        "Rotation: %s. Size shows the squared loading; %sloadings under %s are dots",
        ROTATIONS[[object$settings$rotation]]$label,
        if (any(salient$loading < 0)) "rings are negative; " else "", format_unit(hide_below))) +
    theme_sieve() +
    ggplot2::theme(panel.grid.major.y = ggplot2::element_line(colour = "#f0ede6"),
      axis.text.x.top = ggplot2::element_text(face = "bold", size = 14))
}

scale_squish <- function(x, range = c(0, 1), ...) pmin(pmax(x, range[1L]), range[2L])

# Pixels that a figure of so many rows needs to be legible.
rows_height <- function(items) max(800, 150 + 26 * items)
