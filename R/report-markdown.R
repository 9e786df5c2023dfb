# The report as Markdown, with its figures in a folder beside it.

write_markdown_report <- function(studies, path, file) {
  folder <- figures_folder(file)
  check_place(folder, "folder")
  made <- place_beside(folder)
  if (!dir.create(made, showWarnings = FALSE)) check_writable(made)
  on.exit(unlink(made, recursive = TRUE, expand = FALSE), add = TRUE)
  write_text(markdown_report(studies, made, basename(folder)), path)
  if (length(list.files(made))) put_in_place(made, folder)
}

figures_folder <- function(file) paste0(tools::file_path_sans_ext(file), "_figures")

markdown_report <- function(studies, made, folder) {
  context <- new.env(parent = emptyenv())
  context$counts <- new_counts()
  context$made <- made
  context$folder <- folder
  title <- paste(unique(vapply(studies, title_of_study, "")), collapse = " / ")
  byline <- paste(unique(vapply(studies, byline_of, "")), collapse = " / ")
  body <- lapply(paper_sections(studies), function(section) {
    parts <- lapply(section$parts, function(part) {
      c(if (!is.null(part$name)) c(paste("###", markdown_text(part$name)), ""),
        unlist(lapply(part$blocks, function(block) {
          c(MARKDOWN_BLOCKS[[block$kind]](block, context), "")
        })))
    })
    c(paste("##", markdown_text(section$title)), "", unlist(parts))
  })
  c(paste("#", markdown_text(title)), "", markdown_text(byline), "", unlist(body))
}

# Text that is shown as it is: nothing in it is markup, HTML or the beginning of a list.
markdown_text <- function(x) {
  x <- gsub("\\s*[\r\n]+\\s*", " ", x)
  x <- gsub("([\\\\`*_{}\\[\\]<>|#~$!&])", "\\\\\\1", x, perl = TRUE)
  sub("^(\\s*)([-+]|[0-9]+[.)])(\\s)", "\\1\\\\\\2\\3", x)
}

MARKDOWN_BLOCKS <- list(
  text = function(block, context) {
    around <- c(plain = "", verdict = "**", note = "*")[[block$style]]
    paste0(around, markdown_text(block$text), around)
  },
  prose = function(block, context) {
    vapply(runs_of(block$text), function(runs) {
      text <- markdown_text(runs$text)
      paste0(ifelse(runs$italic, paste0("*", text, "*"), text), collapse = "")
    }, "")
  },
  heading = function(block, context) paste("###", markdown_text(block$text)),
  points = function(block, context) paste("-", markdown_text(block$lines)),
  code = function(block, context) paste0("    ", block$lines),
  terms = function(block, context) {
    sprintf("- **%s**: %s", markdown_text(block$terms), markdown_text(block$meanings))
  },
  references = function(block, context) paste("-", markdown_text(block$lines)),
  findings = function(block, context) {
    f <- block$findings
    if (!nrow(f)) return("Nothing.")
    line <- ifelse(nzchar(f$line), paste0(" (", markdown_text(f$line), ")"), "")
    sprintf("- %s: %s%s", f$severity, markdown_text(f$text), line)
  },
  figure = function(block, context) markdown_figure(block, context),
  table = function(block, context) markdown_block_table(block, context),
  pattern = function(block, context) markdown_block_table(block, context))

markdown_figure <- function(block, context) {
  number <- count_on(context, "figure")
  name <- sprintf("figure-%d.png", number)
  figure_file(block, file.path(context$made, name))
  c(
    sprintf("![%s](<%s/%s>)", markdown_text(figure_alt(block$spec, block$x)),
      gsub("[<>]", "", context$folder), name),
    "", sprintf("Figure %d. %s.", number,
      markdown_text(capitalise(in_called(block$spec$label, block$x$source)))))
}

markdown_block_table <- function(block, context) {
  laid <- laid_table(block)
  number <- count_on(context, "table")
  c(sprintf("Table %d. %s", number, markdown_text(laid$title)), "",
    markdown_table(laid$text, laid$right), if (length(laid$notes)) c("", markdown_text(laid$notes)))
}

# Columns of text as the lines of a table.
markdown_table <- function(text, right) {
  cells <- lapply(text, markdown_text)
  row <- function(parts) paste0("| ", paste(parts, collapse = " | "), " |")
  c(row(markdown_text(names(text))), row(ifelse(right, "---:", ":---")),
    vapply(seq_along(cells[[1L]]), function(i) row(vapply(cells, `[[`, "", i)), ""))
}

# The forms in which a report is written, by the ending of its file. An entry has a label and
#
#   package  what it needs beside softsieve, or NULL
#   beside   are there files beside it?
#   write    function(studies, path, file): writes it to `path`, to be put in place of `file`

PAPERS <- family(
  html = spec(label = "one HTML page that needs no other file and no network",
    package = "htmltools",
    write = function(studies, path, file) write_text(html_report(studies), path)),
  htm = spec(label = "the same, by the shorter ending", package = "htmltools",
    write = function(studies, path, file) write_text(html_report(studies), path)),
  docx = spec(label = "a Word document with real tables and figures of 300 dpi",
    package = c("officer", "flextable", "xml2"),
    write = function(studies, path, file) word_report(studies, path)),
  md = spec(label = "Markdown, with figures in a folder beside it", package = NULL, beside = TRUE,
    write = write_markdown_report))
