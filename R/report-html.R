# Pieces of the HTML report. htmltools escapes every text that is put into a tag, so that wording,
# names and file names cannot become markup.

tags <- function() htmltools::tags

# A table from a list of columns of text; numbers to the right.
html_table <- function(columns, right, caption = NULL) {
  t <- tags()
  side <- ifelse(right, "number", "words")
  heads <- Map(function(name, class) t$th(class = class, scope = "col", name), names(columns), side)
  rows <- lapply(seq_along(columns[[1L]]), function(i) {
    t$tr(unname(Map(function(column, class) t$td(class = class, column[[i]]), columns, side)))
  })
  t$div(
    class = "scroll",
    t$table(if (!is.null(caption)) t$caption(caption), t$thead(t$tr(unname(heads))), t$tbody(rows))
  )
}

# A ggplot as a picture inside the page.
html_figure <- function(figure, alt, height = 800) {
  file <- tempfile(fileext = ".png")
  on.exit(unlink(file), add = TRUE)
  save_figure(figure, file, height = height)
  bytes <- jsonlite::base64_enc(readBin(file, "raw", file.size(file)))
  t <- tags()
  t$figure(t$img(
    src = paste0("data:image/png;base64,", gsub("\n", "", bytes, fixed = TRUE)),
    alt = alt
  ))
}

html_section <- function(title, ...) {
  t <- tags()
  t$section(id = gsub("[^a-z]+", "-", tolower(title)), t$h2(title), ...)
}

html_findings <- function(findings) {
  t <- tags()
  if (!nrow(findings)) return(t$p("Nothing."))
  findings <- findings[order(-match(findings$severity, FINDING_SEVERITIES)), ]
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
