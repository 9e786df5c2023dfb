# The report as a Word document, as manuscripts of social-science journals are set: numbered tables
# with three lines, their number in bold and their title in italics above, notes below; figures of
# 300 dots to the inch of print; double spacing; the running text in one serif letter.

WORD_DPI <- 300
WORD_SPACING <- 1.15
# (a figure of a page of its own is for the page in the browser)
TALLEST_IN_WORD <- 4.2

word_report <- function(studies, path) {
  doc <- officer::read_docx()
  set_word_headings(doc)
  page <- officer::prop_section(page_size = officer::page_size(width = 8.5, height = 11),
    page_margins = officer::page_mar(bottom = 1, top = 1, right = 1, left = 1, gutter = 0))
  doc <- officer::body_set_default_section(doc, page)
  context <- new.env(parent = emptyenv())
  context$counts <- new_counts()
  context$folder <- tempfile("softsieve-word-")
  dir.create(context$folder)
  on.exit(unlink(context$folder, recursive = TRUE, expand = FALSE), add = TRUE)
  title <- paste(unique(vapply(studies, title_of_study, "")), collapse = " / ")
  byline <- paste(unique(vapply(studies, byline_of, "")), collapse = " / ")
  doc <- word_text(doc, title, bold = TRUE, size = 16, align = "center")
  doc <- word_text(doc, byline, align = "center")
  for (section in printed_sections(studies)) {
    doc <- officer::body_add_par(doc, section$title, style = "heading 1")
    for (part in section$parts) {
      if (!is.null(part$name)) doc <- officer::body_add_par(doc, part$name, style = "heading 2")
      for (block in part$blocks) doc <- WORD_BLOCKS[[block$kind]](doc, block, context)
    }
  }
  print(doc, target = path)
}

printed_sections <- function(studies) {
  sections <- lapply(paper_sections(studies), function(section) {
    section$parts <- lapply(section$parts, function(part) {
      part$blocks <- Filter(function(block) !isTRUE(block$screen), part$blocks)
      part
    })
    section$parts <- Filter(function(part) length(part$blocks) > 0L, section$parts)
    section
  })
  Filter(function(section) length(section$parts) > 0L, sections)
}

# Headings as manuscripts have them: bold, in the letter of the text, without numbers or lines, the
# first level in the middle.
set_word_headings <- function(doc) {
  file <- file.path(doc$package_dir, "word", "styles.xml")
  styles <- xml2::read_xml(file)
  for (level in 1:2) {
    style <- xml2::xml_find_first(styles, sprintf("//w:style[w:name/@w:val='heading %d']", level))
    xml2::xml_remove(xml2::xml_find_all(style, ".//w:numPr | .//w:pBdr | ./w:rPr"))
    place <- xml2::xml_find_first(style, "./w:pPr/w:outlineLvl")
    side <- if (level == 1L) "center" else "left"
    xml2::xml_add_sibling(place, "w:jc", "w:val" = side, .where = "before")
    letter <- xml2::xml_add_child(style, "w:rPr")
    xml2::xml_add_child(letter, "w:rFonts", "w:ascii" = WORD_FONT, "w:hAnsi" = WORD_FONT)
    xml2::xml_add_child(letter, "w:b")
    xml2::xml_add_child(letter, "w:sz", "w:val" = "24")
  }
  xml2::write_xml(styles, file)
}

word_text <- function(doc, text, bold = FALSE, italic = FALSE, size = 12, align = "left",
    spacing = WORD_SPACING, keep = FALSE) {
  letter <- officer::fp_text(font.size = size, bold = bold, italic = italic,
    font.family = WORD_FONT)
  paragraph <- officer::fp_par(text.align = align, line_spacing = spacing, keep_with_next = keep)
  run <- officer::ftext(text, letter)
  officer::body_add_fpar(doc, officer::fpar(run, fp_p = paragraph))
}

# A paragraph of the text to paste, its statistics in italics.
word_runs <- function(doc, runs) {
  letters <- lapply(c(FALSE, TRUE), function(italic) {
    officer::fp_text(font.size = 12, font.family = WORD_FONT, italic = italic)
  })
  made <- Map(function(text, italic) officer::ftext(text, letters[[italic + 1L]]), runs$text,
    runs$italic)
  form <- list(fp_p = officer::fp_par(line_spacing = 1.5, padding.bottom = 6))
  officer::body_add_fpar(doc, do.call(officer::fpar, c(unname(made), form)))
}

# Lines of one paragraph: a paragraph for each would take the writer seconds.
word_lines <- function(doc, lines, size = 12, spacing = WORD_SPACING, font = WORD_FONT) {
  letter <- officer::fp_text(font.size = size, font.family = font)
  runs <- lapply(lines, function(line) {
    list(officer::ftext(if (nzchar(line)) line else " ", letter), officer::run_linebreak())
  })
  paragraph <- officer::fp_par(line_spacing = spacing)
  runs <- utils::head(do.call(c, runs), -1L)
  officer::body_add_fpar(doc, do.call(officer::fpar, c(runs, list(fp_p = paragraph))))
}

WORD_BLOCKS <- list(
  text = function(doc, block, context) {
    note <- block$style == "note"
    word_text(doc, block$text, bold = block$style == "verdict", italic = note,
      size = if (note) 10 else 12, spacing = if (note) 1 else WORD_SPACING)
  },
  prose = function(doc, block, context) {
    for (runs in runs_of(block$text)) doc <- word_runs(doc, runs)
    doc
  },
  heading = function(doc, block, context) {
    officer::body_add_par(doc, block$text, style = "heading 2")
  },
  points = function(doc, block, context) word_lines(doc, paste0("\u2022 ", block$lines)),
  code = function(doc, block, context) {
    word_lines(doc, block$lines, size = 7, spacing = 1, font = "Courier New")
  },
  terms = function(doc, block, context) {
    word_lines(doc, paste0(block$terms, ": ", block$meanings), size = 9, spacing = 1)
  },
  references = function(doc, block, context) word_references(doc, block$lines),
  findings = function(doc, block, context) {
    f <- block$findings
    if (!nrow(f)) return(word_text(doc, "Nothing."))
    line <- ifelse(nzchar(f$line), paste0(" (", f$line, ")"), "")
    word_lines(doc, sprintf("\u2022 %s: %s%s", capitalise(f$severity), f$text, line))
  },
  figure = function(doc, block, context) word_figure(doc, block, context),
  table = function(doc, block, context) word_numbered_table(doc, block, context),
  pattern = function(doc, block, context) word_numbered_table(doc, block, context))

# With a hanging indent.
word_references <- function(doc, lines) {
  letter <- officer::fp_text(font.size = 11, font.family = WORD_FONT)
  hanging <- officer::fp_par(line_spacing = 1, padding.left = 36, padding.bottom = 3)
  for (line in lines) {
    doc <- officer::body_add_fpar(doc, officer::fpar(officer::ftext(line, letter), fp_p = hanging))
  }
  doc
}

# A figure's pixels are so many that its print has 300 to the inch.
word_figure <- function(doc, block, context) {
  number <- count_on(context, "figure")
  file <- file.path(context$folder, sprintf("figure-%d.png", number))
  height <- figure_file(block, file, times = WORD_WIDTH * WORD_DPI / 1280)
  doc <- word_text(doc, sprintf("Figure %d", number), bold = TRUE, keep = TRUE)
  label <- capitalise(in_called(block$spec$label, block$x$source))
  doc <- word_text(doc, label, italic = TRUE, keep = TRUE)
  printed <- WORD_WIDTH * c(1, height / 1280)
  if (printed[2L] > TALLEST_IN_WORD) printed <- printed * TALLEST_IN_WORD / printed[2L]
  alt <- figure_alt(block$spec, block$x)
  picture <- officer::external_img(file, width = printed[1L], height = printed[2L], alt = alt)
  middle <- officer::fp_par(text.align = "center", padding.bottom = 12)
  officer::body_add_fpar(doc, officer::fpar(picture, fp_p = middle))
}

without_wording <- function(cells) {
  at <- which(names(cells$frame) == "wording")
  if (!length(at) || length(cells$frame) < 3L) return(cells)
  cells$frame <- cells$frame[-at]
  cells$right <- cells$right[-at]
  if (length(cells$faint)) cells$faint <- cells$faint[-at]
  cells
}

word_numbered_table <- function(doc, block, context) {
  laid <- laid_table(block)
  number <- count_on(context, "table")
  doc <- word_text(doc, sprintf("Table %d", number), bold = TRUE, keep = TRUE)
  doc <- word_text(doc, laid$title, italic = TRUE, keep = TRUE, spacing = 1.15)
  cells <- laid$word
  # wording stands once, with the loadings
  if (block$what != "pattern") cells <- without_wording(cells)
  cut <- nrow(cells$frame) > MOST_WORD_ROWS
  if (cut) cells <- head_of_cells(cells, MOST_WORD_ROWS)
  doc <- flextable::body_add_flextable(doc, word_layout(cells), align = "left")
  notes <- c(cells$note, if (cut) sprintf("The first %d rows are shown.", MOST_WORD_ROWS))
  notes <- if (length(notes)) paste("Note.", paste(notes, collapse = " ")) else " "
  word_text(doc, notes, italic = FALSE, size = 10, spacing = 1)
}
