# What the sections of a report are made of.
#
# A block says what is shown, not how: the papers (report-html.R, report-word.R,
# report-markdown.R) lay each out. A table or figure that a result does not have is left out.

say <- function(..., style = "plain") {
  text <- unlist(list(...))
  lapply(text[nzchar(text)], function(one) list(kind = "text", text = one, style = style))
}

verdict <- function(...) say(..., style = "verdict")
aside <- function(...) say(..., style = "note")
heading <- function(text) list(list(kind = "heading", text = text))
points <- function(lines) if (length(lines)) list(list(kind = "points", lines = lines))
code_lines <- function(lines) list(list(kind = "code", lines = lines))
terms <- function(x) list(list(kind = "terms", terms = names(x), meanings = unname(x)))
# Of a study: what is to be done is said in the words of its file. The most severe stand first.
findings_list <- function(study) {
  f <- grouped_findings(study$findings, study, "study")
  list(list(kind = "findings", findings = f[order(-match(f$severity, SEVERITIES)), ]))
}

show_table <- function(x, what = NULL) {
  if (is.null(x)) return(NULL)
  if (is.null(what)) what <- names(tables_of(x))[1L]
  if (is.na(what) || !has_table(x, what)) return(NULL)
  lapply(parts_of(x, what), function(part) list(kind = "table", x = x, what = what, part = part))
}

# What a printed manuscript does without: shown in the browser and in Markdown only.
on_screen <- function(blocks) lapply(blocks, function(block) c(block, list(screen = TRUE)))

show_pattern <- function(x) list(list(kind = "pattern", x = x, what = "pattern", part = NULL))

show_figure <- function(x, what = NULL) {
  if (is.null(x)) return(NULL)
  spec <- figure_spec(x, what)
  if (!has_figure(spec, x)) return(NULL)
  list(list(kind = "figure", x = x, spec = spec))
}

# What a table block holds, ready to be laid out: title, text of its columns, which stand to the
# right, their numbers, and notes.
laid_table <- function(block) {
  table <- table_of(block$x, block$what, block$part)
  cells <- table_cells(table, roomy = TRUE)
  rows <- length(cells$text[[1L]])
  shown <- if (table$cut) min(rows, table$most) else rows
  word <- word_cells(table)
  notes <- function(lines) {
    c(if (shown < rows) paste0(capitalise(table$rest(rows - shown)), "."),
      if (length(lines)) paste0(sub("[.]$", "", lines), "."))
  }
  word$note <- notes(word$note)
  list(title = sub(":$", "", table$title), text = lapply(cells$text, utils::head, shown),
    right = unname(cells$right),
    raw = lapply(table$columns[names(cells$text)], function(one) utils::head(one$raw, shown)),
    word = if (shown < rows) head_of_cells(word, shown) else word, notes = notes(table$note))
}

# Figures that have been saved and are needed again while results are written: lists of `spec`, `x`
# and `path`. write_results() fills it, and empties it when it is done.
DRAWN <- new.env(parent = emptyenv())

# (not told by a hash: what is stored differently but the same, as rows' names may be, is one
# result)
path_of_drawn <- function(spec, x) {
  for (drawn in DRAWN$figures) {
    if (identical(drawn$spec$name, spec$name) && identical(drawn$x, x)) return(drawn$path)
  }
  NULL
}

# A figure block's picture as a file, with `times` as many pixels as on a screen.
figure_file <- function(block, file, times = 1) {
  height <- figure_height(block$spec, block$x)
  known <- if (times == 1) path_of_drawn(block$spec, block$x)
  if (!is.null(known) && file.copy(known, file, overwrite = TRUE)) return(height)
  save_figure(draw_spec(block$spec, block$x), file, height = height, times = times)
  height
}

title_of_study <- function(study) {
  if (is_result(study, "study_plan")) return("How many people are needed")
  if (is.null(study$settings$title)) "Factor analysis of a questionnaire" else study$settings$title
}

byline_of <- function(study) {
  paste(
    c(study$settings$author, study$settings$date,
      sprintf("softsieve %s", utils::packageVersion("softsieve"))),
    collapse = ", ")
}

# Tables and figures are counted through the whole page.
new_counts <- function() list2env(list(table = 0L, figure = 0L, tip = 0L))

count_on <- function(context, what) {
  context$counts[[what]] <- context$counts[[what]] + 1L
  context$counts[[what]]
}

# How the factors of the first two studies match, where they have items in common.
comparison_blocks <- function(studies) {
  solutions <- lapply(studies, function(study) study$values$solution)
  solutions <- solutions[!vapply(solutions, is.null, NA)]
  if (length(solutions) < 2L) return(NULL)
  compared <- tryCatch(call_with(compare_solutions, solutions[1:2]),
    softsieve_error = function(e) NULL)
  if (is.null(compared)) {
    return(say("They have too few items in common to compare their factors."))
  }
  c(
    say(sprintf("The first is %s, the second %s.", names(studies)[1L], names(studies)[2L])),
    unlist(lapply(names(tables_of(compared)), function(what) show_table(compared, what)), FALSE))
}
