# The verb `page` of the command: the page can be taken out with its files, and leaves no trace.

verb_page <- function(target, options) {
  check_file(target)
  open_page(target, port = options$port, browser = !isTRUE(options[["no-browser"]]),
    results = options$out)
  NULL
}

VERBS$page <- family(
  page = spec(label = "a study on a page in the browser, to sift, name and decide on",
    target = "STUDY.yml", needed = TRUE, options = c("port", "no-browser", "out"),
    own = list(port = cli_option("port", "numeric", "N", "the port; a free one when left out"),
      "no-browser" = cli_option("no-browser", "flag", "", "do not open the browser")),
    entries = FALSE,
    about = paste(
      "Each click becomes a line of the study file; `softsieve run` then gives the same numbers.",
      "Given a file of answers in the place of a study, the page begins one. Ctrl-C ends it.",
      "--out DIR is where results are written (results beside the study, when left out)."),
    example = "softsieve page --help", run = verb_page))$page
