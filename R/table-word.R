# How tables look in Word, in files of their own and in the report.

WORD_FONT <- "Times New Roman"
WORD_WIDTH <- 6.5 # inches between the margins of a letter page
FAINT_INK <- "#8a8a8a"

# Lines above and below the heads and at the end, no others; wording takes what room is left.
word_layout <- function(cells) {
  frame <- cells$frame
  right <- cells$right
  line <- officer::fp_border(width = 1)
  widest <- vapply(seq_along(frame), function(j) {
    max(nchar(c(unlist(strsplit(names(frame)[j], " ")), frame[[j]])), 3L)
  }, 0)
  size <- if (sum(pmin(widest, 30L)) > 95L) 8 else if (sum(pmin(widest, 30L)) > 75L) 9 else 10
  room <- pmin(widest, 52L) + 2
  table <- flextable::flextable(frame)
  table <- flextable::border_remove(table)
  table <- flextable::hline_top(table, part = "header", border = line)
  table <- flextable::hline_bottom(table, part = "header", border = line)
  table <- flextable::hline_bottom(table, part = "body", border = line)
  table <- flextable::font(table, fontname = WORD_FONT, part = "all")
  table <- flextable::fontsize(table, size = size, part = "all")
  table <- flextable::padding(table, padding = 1.5, part = "all")
  table <- flextable::line_spacing(table, space = 1, part = "all")
  table <- flextable::height_all(table, height = 1.2 * size / 72)
  # words that follow numbers keep away from them
  after <- which(!right & c(FALSE, utils::head(right, -1L)))
  if (length(after)) table <- flextable::padding(table, j = after, padding.left = 9, part = "all")
  if (any(right)) table <- flextable::align(table, j = which(right), align = "right", part = "all")
  if (any(!right)) table <- flextable::align(table, j = which(!right), align = "left", part = "all")
  for (j in which(lengths(cells$faint) > 0L)) {
    table <- flextable::color(table, i = cells$faint[[j]], j = j, color = FAINT_INK)
  }
  table <- flextable::width(table, j = seq_along(room), width = WORD_WIDTH * room / sum(room))
  flextable::set_table_properties(table, layout = "fixed", opts_word = list(split = FALSE))
}
