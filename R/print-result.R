# How every result prints: a verdict, one table, what was noticed, and where to go next.
# Nothing is computed here; numbers come from the result, words from its findings.

show_result <- function(
  x,
  verdict,
  about = character(),
  table = NULL,
  below = character(),
  next_step = character(),
  findings = x$findings,
  rest_in = "the result's `findings`"
) {
  verdict <- visible_text(verdict)
  about <- visible_text(about)
  below <- visible_text(below)
  if (!is.null(FACE$next_step)) next_step <- FACE$next_step
  if (!is.null(FACE$rest_in)) rest_in <- FACE$rest_in
  next_step <- visible_text(next_step)
  lines <- c(cli::style_bold(wrap_lines(verdict)), wrap_lines(about, "  ", "  "))
  if (!is.null(table)) lines <- c(lines, "", table)
  lines <- c(lines, if (length(below)) wrap_lines(below, "  ", "  "))
  lines <- c(lines, findings_lines(findings, rest_in))
  if (length(next_step)) lines <- c(lines, "", wrap_lines(paste("Next:", next_step), "", "      "))
  cat(lines, sep = "\n")
  invisible(x)
}

# Where one is, when it is not R: what the command says to do next, and where it has the rest.
FACE <- new.env(parent = emptyenv())

with_face <- function(next_step, rest_in, code) {
  old <- mget(c("next_step", "rest_in"), envir = FACE, ifnotfound = list(NULL))
  on.exit(list2env(old, envir = FACE))
  list2env(list(next_step = next_step, rest_in = rest_in), envir = FACE)
  force(code)
}

SEVERITY_MARKS <- c(note = "-", caution = "!", serious = "!!")

# The first `most`, and where the rest of them are.
findings_lines <- function(findings, rest_in, most = 8L) {
  if (!nrow(findings)) return(character())
  findings <- grouped_findings(findings)
  findings <- findings[order(-match(findings$severity, SEVERITIES)), ]
  shown <- utils::head(findings, most)
  marks <- format(unname(SEVERITY_MARKS[shown$severity]), width = 2L)
  lines <- unlist(
    Map(function(mark, text) wrap_lines(text, paste0("  ", mark, " "), "     "), marks, shown$text),
    use.names = FALSE
  )
  rest <- nrow(findings) - nrow(shown)
  c(
    "",
    "To look at:",
    lines,
    if (rest) sprintf("     and %d more in %s", rest, rest_in)
  )
}

#' @export
print.questionnaire <- function(x, ...) {
  answers <- x$values$answers
  items <- x$values$items
  gaps <- sum(is.na(answers))
  coded <- x$values$missing_codes
  ends <- unique(stats::na.omit(cbind(items$lowest, items$highest)))
  from <- if (nrow(ends) == 1L) {
    sprintf("Answers from %s to %s", format(ends[1L]), format(ends[2L]))
  } else {
    sprintf(
      "Answers from %s to %s",
      format(min(answers, na.rm = TRUE)),
      format(max(answers, na.rm = TRUE))
    )
  }
  codes <- tapply(coded$people, coded$code, sum)
  about <- c(
    sprintf(
      "%s; %s missing (%s of %s)%s.",
      from,
      format_share(gaps / length(answers), 1L),
      format_count(gaps),
      format_count(length(answers)),
      if (length(codes)) {
        paste0(
          ", among them ",
          paste(sprintf("code %s %d times", names(codes), codes), collapse = ", ")
        )
      } else {
        ""
      }
    ),
    if (any(items$reversed)) {
      sprintf("Reversed items turned round: %s.", name_culprits(items$item[items$reversed]))
    },
    if (length(x$settings$id) || length(x$settings$group) || length(x$settings$weight)) {
      sprintf(
        "Kept apart: %s.",
        name_culprits(c(x$settings$id, x$settings$group, x$settings$weight))
      )
    }
  )
  show_result(
    x,
    sprintf(
      "Questionnaire of %s, answered by %s.",
      count_of(nrow(items), "item"),
      count_of(nrow(answers), "person", "people")
    ),
    about,
    next_step = paste(
      "profile_items() and profile_respondents() look at each; assess_factorability()",
      "tells whether the items can be factored."
    )
  )
}

#' @export
print.item_correlations <- function(x, ...) {
  v <- x$values
  pairs <- as_tibble(x)
  range <- range(v$n_pair)
  show_result(
    x,
    sprintf(
      "Correlations of %s over %s.",
      count_of(nrow(v$items), "item"),
      count_of(v$people, "person", "people")
    ),
    c(
      if (x$settings$missing != "given") {
        sprintf(
          "%s; %s.",
          capitalise(method_label("kind", x$settings$kind)),
          method_label("missing", x$settings$missing)
        )
      },
      sprintf(
        "Each rests on %s people; size of r is %s on average, %s at most.",
        if (range[1L] == range[2L]) {
          format_count(range[1L])
        } else {
          paste(format_count(range[1L]), "to", format_count(range[2L]))
        },
        format_unit(mean(abs(pairs$correlation))),
        format_unit(max(abs(pairs$correlation)))
      )
    ),
    table = table_text(x, "strongest", titled = TRUE)[-1L],
    next_step = "assess_factorability() tells whether these items can be factored."
  )
}
