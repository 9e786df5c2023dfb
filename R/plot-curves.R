# How much each level of a factor is known: information and conditional error.

draw_information <- function(object) {
  c <- object$values$curves
  panels <- c("Information", "Error of a person's score")
  factors <- unique(c$factor)
  long <- tibble::tibble(factor = factor(rep(c$factor, 2L), factors), level = rep(c$level, 2L),
    value = c(c$information, pmin(c$error, 2)), panel = factor(rep(panels, each = nrow(c)), panels))
  kinds <- rep_len(c("solid", "22", "42", "12", "4212", "62"), length(factors))
  ggplot2::ggplot(long, ggplot2::aes(.data$level, .data$value, linetype = .data$factor)) +
    ggplot2::geom_line(colour = sieve_colour("kept"), linewidth = 0.8) +
    ggplot2::scale_linetype_manual(values = stats::setNames(kinds, factors)) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), ncol = 1L, scales = "free_y") +
    ggplot2::labs(x = "Level of the factor, in standard deviations from the mean", y = NULL,
      linetype = NULL, title = "Where on each factor people are known best",
      subtitle = wrap_subtitle(paste(
        "Above: information of the items that load on the factor most. Below: the error of a",
        "person's score there, 1 over the root of the information (cut off at 2)."))) +
    theme_sieve() +
    ggplot2::theme(legend.position = "top", legend.key.width = ggplot2::unit(2.2, "lines"),
      strip.text = ggplot2::element_text(hjust = 0, face = "bold"))
}
