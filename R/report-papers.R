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
