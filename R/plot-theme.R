# One look for all figures. ggplot2 is loaded only when something is drawn.

# Colours that differ in lightness first, so that they hold up in grey and for colour-blind readers.
SIEVE_COLOURS <- c(ink = "#1e2a2f", kept = "#145c66", other = "#7c8a8c", turned = "#b5521b",
  chance = "#e3dccd", chance_line = "#a2957a", paper = "#fffefb")

sieve_colour <- function(name) SIEVE_COLOURS[[match.arg(name, names(SIEVE_COLOURS))]]

# Answers from low to high: two hues that meet in a light middle, darker towards the ends, so that
# the ends stay apart in grey by their place and the middle by its lightness.
answer_colours <- function(k) {
  grDevices::colorRampPalette(c("#8a3d12", "#dca57c", "#eeeae0", "#7fb0ae", "#145c66"))(k)
}

# `grid`: "x" or "y", the axis whose values have lines, or "none".
theme_sieve <- function(grid = "y") {
  line <- ggplot2::element_line(colour = "#e9e6df", linewidth = 0.4)
  blank <- ggplot2::element_blank()
  ggplot2::theme_minimal(base_size = 14) +
    ggplot2::theme(text = ggplot2::element_text(colour = sieve_colour("ink")),
      axis.text = ggplot2::element_text(colour = sieve_colour("ink"), size = ggplot2::rel(0.85)),
      panel.grid.minor = blank, panel.grid.major.x = if (grid == "x") line else blank,
      panel.grid.major.y = if (grid == "y") line else blank,
      strip.text = ggplot2::element_text(face = "bold"),
      plot.background = ggplot2::element_rect(fill = sieve_colour("paper"), colour = NA),
      plot.title = ggplot2::element_text(face = "bold", size = ggplot2::rel(1.2)),
      plot.title.position = "plot",
      plot.subtitle = ggplot2::element_text(colour = "#4d5a5e", margin = ggplot2::margin(b = 12)),
      plot.caption = ggplot2::element_text(colour = "#4d5a5e", hjust = 0),
      plot.caption.position = "plot", plot.margin = ggplot2::margin(16, 20, 12, 16),
      legend.position = "none")
}

# Saves a figure as PNG (width and height in pixels) or SVG, whole or not at all. `times` draws it
# with so many times the pixels, for print.
save_figure <- function(figure, file, width = 1280, height = 800, times = 1) {
  device <- lower(tools::file_ext(file))
  if (device == "png" && requireNamespace("ragg", quietly = TRUE)) device <- ragg::agg_png
  write_whole(file, function(path) {
    ggplot2::ggsave(path, figure, device = device, width = width / 110, height = height / 110,
      dpi = 110 * times, units = "in", bg = sieve_colour("paper"))
  })
}

# sprintf() whose outcome is broken where a figure of the usual width ends.
wrap_subtitle <- function(format, ..., width = 104L) {
  paste(strwrap(if (...length()) sprintf(format, ...) else format, width), collapse = "\n")
}

# Where axes have one unit, a figure does not fill its width.
SQUARE_SUBTITLE <- 84L
