# Pieces of the HTML report. htmltools escapes every text that is put into a tag, so that wording,
# names and file names cannot become markup.

tags <- function() htmltools::tags

# A table of a result, with its title and notes; nothing where the result does not have it.
html_table <- function(x, what = NULL, part = NULL) {
  if (!is.null(what) && !has_table(x, what)) return(NULL)
  t <- tags()
  table <- table_of(x, what, part)
  cells <- table_cells(table, roomy = TRUE)
  side <- ifelse(cells$right, "number", "words")
  rows <- length(cells$text[[1L]])
  shown <- if (table$cut) min(rows, table$most) else rows
  head <- function(name, class) t$th(class = class, scope = "col", name)
  row <- function(i) {
    t$tr(unname(Map(function(text, class) t$td(class = class, text[[i]]), cells$text, side)))
  }
  list(
    t$div(
      class = "scroll",
      t$table(
        t$caption(table$title),
        t$thead(t$tr(unname(Map(head, names(cells$text), side)))),
        t$tbody(lapply(seq_len(shown), row))
      )
    ),
    if (shown < rows) t$p(class = "note", paste0(capitalise(table$rest(rows - shown)), ".")),
    lapply(table$note, function(note) t$p(class = "note", paste0(sub("[.]$", "", note), ".")))
  )
}

# One table for each part.
html_tables <- function(x, what) {
  lapply(parts_of(x, what), function(part) html_table(x, what, part))
}

# A figure of a result as a picture inside the page; nothing where there is nothing to draw.
html_figure <- function(x, what = NULL) {
  spec <- figure_spec(x, what)
  if (!has_figure(spec, x)) return(NULL)
  file <- tempfile(fileext = ".png")
  on.exit(unlink(file), add = TRUE)
  save_figure(draw_spec(spec, x), file, height = figure_height(spec, x))
  bytes <- jsonlite::base64_enc(readBin(file, "raw", file.size(file)))
  t <- tags()
  t$figure(t$img(
    src = paste0("data:image/png;base64,", gsub("\n", "", bytes, fixed = TRUE)),
    alt = figure_alt(spec, x)
  ))
}

html_section <- function(title, ...) {
  t <- tags()
  t$section(id = gsub("[^a-z]+", "-", tolower(title)), t$h2(title), ...)
}

html_findings <- function(findings) {
  t <- tags()
  if (!nrow(findings)) return(t$p("Nothing."))
  findings <- findings[order(-match(findings$severity, SEVERITIES)), ]
  t$ul(
    class = "findings",
    lapply(seq_len(nrow(findings)), function(i) {
      t$li(
        class = findings$severity[i],
        t$span(class = "severity", findings$severity[i]),
        " ",
        findings$text[i]
      )
    })
  )
}

html_page <- function(title, ...) {
  t <- tags()
  style <- paste(
    readLines(system.file("report", "report.css", package = "softsieve")),
    collapse = "\n"
  )
  page <- t$html(
    lang = "en",
    t$head(
      t$meta(charset = "utf-8"),
      t$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
      t$title(title),
      t$style(htmltools::HTML(style))
    ),
    t$body(t$main(...))
  )
  # as.character() would take the head out and leave it behind
  paste0("<!DOCTYPE html>\n", htmltools::doRenderTags(page))
}
