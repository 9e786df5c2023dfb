# The report as one HTML page. htmltools escapes every text that is put into a tag, so that wording,
# names and file names cannot become markup. The page works without its script, which lets tables
# be sorted and loadings be hidden by size (inst/web/report.js).

# What the blocks of a page share: the items' wording, and numbers of tables and figures so far.
html_context <- function(study, prefix, counts) {
  items <- items_of_study(study)
  context <- new.env(parent = emptyenv())
  context$prefix <- prefix
  wording <- keyed_wording(items$wording, items$reversed)
  context$wording <- stats::setNames(wording, items$item)[!is.na(items$wording)]
  context$counts <- counts
  context
}

html_report <- function(studies) {
  t <- tags()
  counts <- new_counts()
  contexts <- Map(html_context, studies, letters[seq_along(studies)], list(counts))
  several <- length(studies) > 1L
  sections <- lapply(studies, sections_of)
  known <- section_names(studies)
  known <- known[known %in% unlist(lapply(sections, names))]
  made <- lapply(known, function(name) {
    held <- lapply(sections, `[[`, name)
    title <- Find(Negate(is.null), held)$title
    inside <- if (several) {
      # what is the same of both stands once
      if (name == "glossary") held[-1L] <- list(NULL)
      html_side_by_side(held, contexts, names(studies))
    } else {
      lapply(held[[1L]]$blocks, html_block, context = contexts[[1L]])
    }
    one <- list(list(title = title, id = paste0("s-", name), inside = inside))
    if (several && name == "short") c(one, html_comparison(studies, contexts[[1L]])) else one
  })
  made <- unlist(made, recursive = FALSE)
  title <- paste(unique(vapply(studies, title_of_study, "")), collapse = " / ")
  html_page(title,
    t$a(class = "skip", href = "#content", "To the text"),
    html_contents(made),
    t$main(id = "content",
      t$header(t$h1(title),
        t$p(class = "byline", paste(unique(vapply(studies, byline_of, "")), collapse = " / "))),
      lapply(made, function(one) {
        t$section(id = one$id, class = one$id, t$h2(one$title), one$inside)
      })))
}

html_contents <- function(made) {
  t <- tags()
  t$nav(class = "contents", `aria-label` = "Contents",
    t$details(open = NA, t$summary("Contents"),
      t$ol(lapply(made, function(one) t$li(t$a(href = paste0("#", one$id), one$title))))))
}

html_side_by_side <- function(held, contexts, names) {
  t <- tags()
  t$div(class = "beside",
    unname(Map(function(section, context, name) {
      if (is.null(section)) return(NULL)
      t$div(t$h3(class = "whose", name), lapply(section$blocks, html_block, context = context))
    }, held, contexts, names)))
}

# How the factors of the first two studies match.
html_comparison <- function(studies, context) {
  blocks <- comparison_blocks(studies)
  if (is.null(blocks)) return(NULL)
  list(list(title = "How the two agree", id = "s-agree",
    inside = lapply(blocks, html_block, context = context)))
}

html_block <- function(block, context) HTML_BLOCKS[[block$kind]](block, context)

HTML_BLOCKS <- list(
  text = function(block, context) {
    tags()$p(class = if (block$style != "plain") block$style, block$text)
  },
  prose = function(block, context) {
    t <- tags()
    lapply(runs_of(block$text), function(runs) {
      said <- Map(function(text, italic) if (italic) t$em(text, .noWS = "outside") else text,
        runs$text, runs$italic)
      t$p(class = "prose", lang = block$language, unname(said))
    })
  },
  heading = function(block, context) tags()$h3(block$text),
  points = function(block, context) tags()$ul(class = "points", lapply(block$lines, tags()$li)),
  code = function(block, context) tags()$pre(tabindex = "0", paste(block$lines, collapse = "\n")),
  terms = function(block, context) {
    t <- tags()
    t$dl(Map(function(term, meaning) list(t$dt(term), t$dd(meaning)), block$terms, block$meanings))
  },
  references = function(block, context) {
    tags()$ul(class = "references", lapply(block$lines, tags()$li))
  },
  findings = function(block, context) html_findings(block$findings),
  figure = function(block, context) html_figure(block, context),
  table = function(block, context) html_table(block, context),
  pattern = function(block, context) html_pattern(block, context))

html_findings <- function(findings) {
  t <- tags()
  if (!nrow(findings)) return(t$p("Nothing."))
  t$ul(class = "findings", lapply(seq_len(nrow(findings)), function(i) {
    t$li(class = findings$severity[i], t$span(class = "severity", findings$severity[i]),
      t$span(findings$text[i]), if (nzchar(findings$line[i])) t$code(findings$line[i]))
  }))
}

html_figure <- function(block, context) {
  t <- tags()
  file <- tempfile(fileext = ".png")
  on.exit(unlink(file, expand = FALSE), add = TRUE)
  height <- figure_file(block, file)
  bytes <- jsonlite::base64_enc(readBin(file, "raw", file.size(file)))
  t$figure(
    t$img(src = paste0("data:image/png;base64,", gsub("\n", "", bytes, fixed = TRUE)),
      alt = figure_alt(block$spec, block$x), width = 1280, height = round(height)),
    t$figcaption(t$b(sprintf("Figure %d.", count_on(context, "figure"))),
      paste0(" ", capitalise(in_called(block$spec$label, block$x$source)), ".")))
}

html_page <- function(title, ...) {
  t <- tags()
  own <- function(file) htmltools::HTML(paste(packed_files("web")[[file]], collapse = "\n"))
  page <- t$html(lang = "en",
    t$head(t$meta(charset = "utf-8"),
      t$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
      t$meta(name = "color-scheme", content = "light dark"), t$title(title),
      t$style(own("report.css"))),
    t$body(..., t$script(own("report.js"))))
  # as.character() would take the head out and leave it behind
  paste0("<!DOCTYPE html>\n", htmltools::doRenderTags(page))
}

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
  force(table) # (its caption counts it)
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
    `data-value` = if (number) format(raw, digits = 15L, decimal.mark = "."), shown)
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
      `data-value` = format(value, digits = 15L, decimal.mark = "."),
      `data-factor` = match(name, factors), t$span(format_unit(value)))
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
