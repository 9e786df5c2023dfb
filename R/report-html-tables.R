# Tables of the HTML report.

# A table with its caption and notes. Cells know their numbers, by which the page's script sorts.
html_table <- function(block, context) {
  t <- tags()
  laid <- laid_table(block)
  html_framed(laid, context,
    t$table(html_caption(laid, context), t$thead(t$tr(html_heads(laid))),
      t$tbody(lapply(seq_along(laid$text[[1L]]), html_row, laid = laid, context = context))))
}

# What scrolls sideways can be reached by the keyboard.
html_framed <- function(laid, context, table, ...) {
  t <- tags()
  label <- sprintf("Table %d", context$counts[["table"]])
  list(...,
    t$div(class = "scroll", tabindex = "0", role = "region", `aria-label` = label, table),
    lapply(laid$notes, function(note) t$p(class = "note", note)))
}

html_caption <- function(laid, context) {
  t <- tags()
  t$caption(t$b(sprintf("Table %d.", count_on(context, "table"))), paste0(" ", laid$title))
}

html_heads <- function(laid) {
  t <- tags()
  unname(Map(
    function(name, right) t$th(class = if (right) "number" else "words", scope = "col", name),
    names(laid$text), laid$right))
}

html_row <- function(i, laid, context, extra = NULL, cell = html_cell) {
  t <- tags()
  cells <- lapply(seq_along(laid$text), function(j) cell(i, j, laid, context))
  do.call(t$tr, c(unname(cells), extra))
}

html_cell <- function(i, j, laid, context) {
  t <- tags()
  text <- laid$text[[j]][i]
  raw <- laid$raw[[j]][i]
  number <- is.numeric(raw) && !is.na(raw)
  shown <- if (names(laid$text)[j] %in% c("item", "with")) html_item(text, context) else text
  # the first cell names its row
  tag <- if (j == 1L) t$th else t$td
  tag(class = if (laid$right[j]) "number" else "words", scope = if (j == 1L) "row",
    `data-value` = if (number) format(raw, digits = 15L), shown)
}

# An item's name, with its wording on hover, tap and focus.
html_item <- function(name, context) {
  t <- tags()
  wording <- if (name %in% names(context$wording)) context$wording[[name]]
  if (is.null(wording)) return(name)
  id <- sprintf("tip-%s-%d", context$prefix, count_on(context, "tip"))
  t$span(class = "item", tabindex = "0", `aria-describedby` = id, name,
    t$span(class = "tip", role = "tooltip", id = id, wording))
}

# The pattern, with all loadings: those that are small are hidden, and the page's script lets the
# reader choose how small.
html_pattern <- function(block, context) {
  t <- tags()
  laid <- laid_table(block)
  x <- block$x
  factors <- x$values$factors
  loadings <- x$values$loadings[as.character(laid$raw$item), , drop = FALSE]
  hide <- x$settings$hide_below
  cell <- function(i, j, laid, context) {
    name <- names(laid$text)[j]
    if (!name %in% factors) return(html_cell(i, j, laid, context))
    value <- loadings[i, name]
    t$td(class = paste("number loading", if (abs(value) < hide) "small"),
      `data-value` = format(value, digits = 15L), `data-factor` = match(name, factors),
      t$span(format_unit(value)))
  }
  laid$notes <- laid$notes[!grepl("not shown", laid$notes)]
  number <- context$counts[["table"]] + 1L
  slider <- sprintf("hide-%s-%d", context$prefix, number)
  controls <- t$div(class = "controls", id = paste0("c-", slider), hidden = NA,
    t$label(`for` = slider, "Hide loadings smaller than"),
    t$input(type = "range", id = slider, min = "0", max = "0.9", step = "0.05",
      value = format(hide)),
    t$output(`for` = slider, `aria-live` = "polite", format_unit(hide)),
    t$button(type = "button", class = "by-factor", "Sort by factor"))
  caption <- html_caption(laid, context)
  rows <- lapply(seq_len(nrow(loadings)), html_row, laid = laid, context = context, cell = cell)
  html_framed(laid, context,
    t$table(class = "pattern", `data-weak` = x$settings$weak_below, caption,
      t$thead(t$tr(html_heads(laid))), t$tbody(rows)),
    controls,
    t$p(class = "note count",
      sprintf("%d of %d loadings smaller than %s in size are not shown.", sum(abs(loadings) < hide),
        length(loadings), format_unit(hide))))
}

tags <- function() htmltools::tags
