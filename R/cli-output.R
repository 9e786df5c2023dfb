# What a verb shows: a result as a table for people, CSV, JSON or Markdown, on the screen or in a
# file.

FORMATS <- c("table", "csv", "json", "markdown")

# `--format`, or what the ending of `--out` says.
settle_format <- function(options) {
  if (!is.null(options$format)) return(check_choice(options$format, "--format", FORMATS))
  ending <- if (is.null(options$out)) "" else lower(tools::file_ext(options$out))
  switch(ending, csv = "csv", json = "json", md = "markdown", "table")
}

# What is asked for is known to be possible before anything is computed.
TEXT_ENDINGS <- c("", "txt", "csv", "json", "md")

check_out <- function(options) {
  settle_format(options)
  if (is.null(options$out)) return(invisible())
  ending <- lower(tools::file_ext(options$out))
  if (!ending %in% TEXT_ENDINGS) {
    stop_input("ending",
      "`--out` must end in .csv, .json, .md or .txt here.",
      got = sprintf("\"%s\" came.", options$out),
      todo = c(
        "Figures and Word tables: softsieve run draws all of them, softsieve report writes .docx.",
        "One of them: plot() and write_table() in R."))
  }
  check_writable(folder_of(options$out))
}

# Shows results; findings are told on stderr where the form has no place for them. `...`: what their
# prints take.
put_results <- function(results, options, what = NULL, findings = NULL, ...) {
  form <- settle_format(options)
  if (!is.null(options$out)) {
    lines <- utils::capture.output(put_form(results, form, what, ...))
    write_whole(options$out, function(path) write_text(lines, path))
    if (!isTRUE(options$quiet)) say_aside("Written: ", options$out)
  } else {
    put_form(results, form, what, ...)
  }
  if (form != "table" && !isTRUE(options$quiet) && !is.null(findings)) {
    told <- grouped_findings(findings[findings$severity != "note", ])
    for (i in seq_len(nrow(told))) say_aside(told$severity[i], ": ", told$text[i])
  }
  invisible()
}

put_form <- function(results, form, what, ...) {
  for (i in seq_along(results)) {
    # (on a terminal as it prints itself, with what is bold)
    shown <- !tells_stdout()
    if (i > 1L) to_stdout("\n")
    if (shown) {
      tryCatch(put_one(results[[i]], form, what, ...), error = function(e) {
        # (who stops reading may)
        if (grepl("SIGPIPE", conditionMessage(e), fixed = TRUE)) {
          rlang::abort("closed", class = "closed_pipe")
        }
        rlang::cnd_signal(e)
      })
    } else {
      lines <- utils::capture.output(put_one(results[[i]], form, what, ...))
      to_stdout(paste0(lines, "\n"))
    }
  }
}

put_one <- function(x, form, what, ...) {
  switch(form, table = print(x, ...),
    csv = cat(delimited_text(tidy_for_sheet(table_data(x, what)))),
    json = cat(json_of(if (is_result(x, "softsieve_result")) x else as.list(x)), "\n", sep = ""),
    markdown = cat(markdown_tables(x), sep = "\n"))
}

# All tables of a result, each with its title.
markdown_tables <- function(x) {
  if (!length(tables_of(x))) {
    frame <- plain_text(x)
    return(markdown_table(as.list(frame), vapply(as_tibble(x), is.numeric, NA)))
  }
  unlist(lapply(names(tables_of(x)), function(what) {
    lapply(show_table(x, what), function(block) {
      laid <- laid_table(block)
      c(paste("###", markdown_text(laid$title)), "", markdown_table(laid$text, laid$right),
        if (length(laid$notes)) c("", markdown_text(laid$notes)), "")
    })
  }))
}

# A name as a shell takes it.
shell_word <- function(x) if (grepl("[^[:alnum:]_./-]", x)) shQuote(x) else x
