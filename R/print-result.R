# How every result prints: a verdict, one table, what was noticed, and where to go next.
# Nothing is computed here; numbers come from the result, words from its findings.

show_result <- function(x, verdict, about = character(), table = NULL, below = character(),
    next_step = character(), findings = x$findings, rest_in = "the result's `findings`") {
  asked <- tryCatch(eval(quote(list(...)), parent.frame()), error = function(e) list())
  if (!is.null(FACE$next_step)) next_step <- FACE$next_step
  if (!is.null(FACE$rest_in)) rest_in <- FACE$rest_in
  said <- function(text) in_called(visible_text(text), x$source)
  # (some prints look once more themselves)
  if (nrow(findings)) findings$text <- in_called(of_model(findings, x$settings), x$source)
  verdict <- said(verdict)
  about <- said(about)
  below <- said(below)
  next_step <- said(next_step)
  own <- OWN_STAGES[[class(x)[1L]]]
  parts <- list(top = c(cli::style_bold(wrap_lines(verdict)), wrap_lines(about, "  ", "  ")),
    table = if (!is.null(table)) c("", table),
    below = if (length(below)) wrap_lines(below, "  ", "  "),
    findings = findings_lines(findings, rest_in, not_told(findings, own, x$source), x = x),
    next_step = if (length(next_step)) c("", wrap_lines(paste("Next:", next_step), "", "      ")))
  most <- if (checkmate::test_number(asked$lines, lower = 1)) asked$lines else MOST_LINES
  over <- sum(lengths(parts)) - most
  if (over > 0) {
    told <- not_told(findings, own, x$source)
    parts$findings <- findings_lines(findings, rest_in, told, most = 3L, x = x)
    more <- if (is.null(FACE$rest_in)) "print(x, lines = 999)" else "--format markdown"
    parts$table <- shortened(parts$table, sum(lengths(parts)) - most, more)
  }
  cat(unlist(parts, use.names = FALSE), sep = "\n")
  remember_told(findings, x$source)
  invisible(x)
}

# What fits on a screen; print(x, lines = 999) shows all.
MOST_LINES <- 50L
FEWEST_ROWS <- 6L

# A table with so many lines less: taken from the end of its longest parts, or else its last parts
# go.
shortened <- function(table, over, more) {
  said <- function(gone) sprintf("  ... %d more lines: %s", gone, more)
  while (over > 0) {
    part <- cumsum(!nzchar(trimws(table)))
    rows <- which(part == which.max(tabulate(part)) & nzchar(trimws(table)))
    gone <- min(over + 1L, length(rows) - FEWEST_ROWS)
    if (gone < 2L || any(startsWith(table[rows], "  ... "))) break
    at <- utils::tail(rows, gone)
    table[at[1L]] <- said(gone)
    table <- table[-at[-1L]]
    over <- over - gone + 1L
  }
  if (over <= 0) return(table)
  part <- cumsum(!nzchar(trimws(table)))
  first <- Find(function(p) sum(part >= p) > over, rev(unique(part)[-1L]))
  if (is.null(first)) return(table)
  c(table[part < first], "", said(sum(part >= first)))
}

# Where one is, when it is not R: what the command says to do next, where it has the rest, and in
# whose words it gives advice (`place`: "study" or "option").
FACE <- new.env(parent = emptyenv())

with_face <- function(next_step, rest_in, place, code) {
  old <- mget(c("next_step", "rest_in", "place"), envir = FACE, ifnotfound = list(NULL))
  on.exit(list2env(old, envir = FACE))
  list2env(list(next_step = next_step, rest_in = rest_in, place = place), envir = FACE)
  force(code)
}

SEVERITY_MARKS <- c(note = "-", caution = "!", serious = "!!")

# What this session has told of which answers: a finding of an earlier stage is told once. (The
# command tells all, as each of its verbs stands alone.)
TOLD <- new.env(parent = emptyenv())

keys_told <- function(findings, source) paste(source$people, findings$stage, findings$text)

remember_told <- function(findings, source) {
  # (a file that is read is only tried)
  if (isTRUE(getOption("softsieve.tries"))) return(invisible())
  for (key in keys_told(findings, source)) assign(key, TRUE, envir = TOLD)
}

# Those that are told here: of the result's own stages (`own`; NULL: all), serious, or new.
not_told <- function(findings, own, source) {
  if (is.null(own) || !is.null(FACE$rest_in)) return(rep(TRUE, nrow(findings)))
  new <- !keys_told(findings, source) %in% ls(TOLD, all.names = TRUE)
  findings$stage %in% own | findings$severity == "serious" | new
}

# The stages whose findings arise with a result.
OWN_STAGES <- list(item_correlations = "correlation", factorability = "factorability",
  parallel_analysis = "retention", factor_count = "retention", item_sift = "sift",
  sift_paths = "sift", sift_replay = "sift", solution_ladder = "solution",
  hidden_factors = "solution", study_plan = "plan",
  solution_comparison = "solution", component_layers = "extraction", loading_stability = "solution",
  rebuilt_answers = "score", predictive_number = "score", score_groups = "score",
  score_parts = "score", score_formula = "score",
  factor_solution = c("extraction", "rotation", "solution", "pattern", "groups", "edit"),
  pattern_table = "pattern", softsieve_scale_set = "scales",
  softsieve_reliability = c("scales", "reliability"),
  respondent_scores = c("questionnaire", "answers", "score"))

# The first `most` of those that are told `here`, and where the rest of them are.
findings_lines <- function(findings, rest_in, here, most = 8L, x = NULL) {
  if (!nrow(findings)) return(character())
  earlier <- nrow(grouped_findings(findings[!here, ]))
  place <- if (is.null(FACE$place)) "r" else FACE$place
  findings <- grouped_findings(findings[here, ], x, place)
  findings <- findings[order(-match(findings$severity, SEVERITIES)), ]
  shown <- utils::head(findings, most)
  marks <- format(unname(SEVERITY_MARKS[shown$severity]), width = 2L)
  lines <- unlist(
    Map(function(mark, text, line) {
      c(wrap_lines(text, paste0("  ", mark, " "), "     "),
        if (nzchar(line)) wrap_lines(visible_text(line), "     -> ", "        "))
    }, marks, shown$text, shown$line),
    use.names = FALSE)
  rest <- nrow(findings) - nrow(shown)
  said <- c(if (rest) sprintf("%d more", rest), if (earlier) count_of(earlier, "earlier finding"))
  if (!nrow(shown)) return(c("", sprintf("Nothing new to look at; %s in %s.", said, rest_in)))
  c("", "To look at:", lines,
    if (length(said)) sprintf("     and %s in %s", join_words(said), rest_in))
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
    sprintf("Answers from %s to %s", format(min(answers, na.rm = TRUE), digits = 4L),
      format(max(answers, na.rm = TRUE), digits = 4L))
  }
  codes <- tapply(coded$people, coded$code, sum)
  about <- c(
    sprintf("%s; %s missing (%s of %s)%s.", from, format_share(gaps / length(answers), 1L),
      format_count(gaps), format_count(length(answers)),
      if (length(codes)) {
        paste0(", among them ",
          paste(sprintf("code %s %d times", names(codes), codes), collapse = ", "))
      } else {
        ""
      }),
    if (any(items$reversed)) {
      sprintf("Reversed items reverse-scored: %s.", name_culprits(items$item[items$reversed]))
    },
    if (length(x$settings$id) || length(x$settings$group) || length(x$settings$weight)) {
      sprintf("Kept apart: %s.",
        name_culprits(c(x$settings$id, x$settings$group, x$settings$weight)))
    })
  show_result(x,
    sprintf("Questionnaire of %s, answered by %s.", count_of(nrow(items), "item"),
      count_of(nrow(answers), "person", "people")),
    about,
    next_step = paste(
      "profile_items() and profile_respondents() look at each; assess_factorability()",
      "shows whether the items can be factored."))
}

#' @export
print.item_correlations <- function(x, ...) {
  v <- x$values
  pairs <- as_tibble(x)
  range <- range(v$n_pair[upper.tri(v$n_pair)])
  show_result(x,
    sprintf("Correlations of %s over %s.", count_of(nrow(v$items), "item"),
      count_of(v$people, "person", "people")),
    c(
      if (x$settings$missing != "given") {
        sprintf("%s; %s.", capitalise(KINDS[[x$settings$kind]]$label),
          MISSING_METHODS[[x$settings$missing]]$label)
      } else if (x$settings$kind != "given") {
        sprintf("Given as %s.", KINDS[[x$settings$kind]]$label)
      },
      sprintf("Each rests on %s people; size of r is %s on average, %s at most.",
        if (range[1L] == range[2L]) {
          format_count(range[1L])
        } else {
          paste(format_count(range[1L]), "to", format_count(range[2L]))
        },
        format_unit(mean(abs(pairs$correlation))), format_unit(max(abs(pairs$correlation))))),
    table = correlations_shown(x),
    next_step = "assess_factorability() shows whether these items can be factored.")
}

# Small matrices whole, where the screen has room.
correlations_shown <- function(x) {
  whole <- table_text(x, "whole")
  fits <- length(whole) && max(nchar(whole)) <= console_width() &&
    length(whole) == ncol(x$values$correlations) + 1L
  if (fits) whole else table_text(x, "strongest", titled = TRUE)[-1L]
}

# Prints of counts, and of scores that were written.

#' @export
print.item_tables <- function(x, ...) {
  v <- x$values
  counted <- sum(lengths(v$categories) > 0)
  people <- rowSums(v$people)
  show_result(x,
    sprintf("%s, %s counted pair by pair.", count_of(people[["people"]], "person", "people"),
      count_of(nrow(v$items), "item")),
    c(
      sprintf("%s answered something, %s everything.", format_count(people[["answering"]]),
        format_count(people[["whole"]])),
      if (counted < nrow(v$items)) {
        sprintf("Of %s only sums are kept: more than 16 categories.",
          count_of(nrow(v$items) - counted, "item"))
      },
      if (length(v$groups)) sprintf("Counted apart too: %s.", name_culprits(names(v$groups)))),
    next_step = paste(
      "profile_items(), correlate_items() and all that take these; sample_people() where answers",
      "of people are needed."))
}

#' @export
print.written_scores <- function(x, ...) {
  v <- x$values
  show_result(x,
    sprintf("%s, %s scored, written to %s.", count_of(v$people, "person", "people"),
      format_count(v$scored), v$into),
    if (v$resumed > 0) {
      sprintf("The first %s an earlier run had written.", format_count(v$resumed))
    },
    next_step = "read_responses() reads them again.")
}

# Prints of the profiles of items and of people.

#' @export
print.item_profile <- function(x, ...) {
  i <- x$values$items
  grouped <- "group" %in% names(i)
  flagged <- sum(nzchar(i$flags))
  verdict <- sprintf("%s%s: %s flagged.", count_of(length(unique(i$item)), "item"),
    if (grouped) sprintf(" in %s", count_of(length(unique(i$group)), "group")) else "",
    if (flagged) format_count(flagged) else "none")
  show_result(x, verdict,
    c(
      paste("Kurtosis is in excess of a normal distribution's. Floor and ceiling: share at",
        "the lowest and the highest answer."),
      if (x$settings$weighted) "Weighted."),
    table_text(x),
    next_step = paste(
      "profile_respondents() looks at the people; assess_factorability() at the items",
      "together."))
}

#' @export
print.respondent_profile <- function(x, ...) {
  p <- x$values$people
  flagged <- p[nzchar(p$flags), ]
  show_result(x,
    sprintf("%s: %s flagged, none removed.", count_of(nrow(p), "person", "people"),
      if (nrow(flagged)) format_count(nrow(flagged)) else "none"),
    "One flag is not proof of careless answers: look for several together.",
    table_text(x, "people"),
    next_step = "plot() shows distances and runs; keep_people() keeps those you want, and says so.")
}

#' @export
print.grouped_correlations <- function(x, ...) {
  v <- x$values
  d <- v$differences
  show_result(x,
    sprintf("Correlations of %s in %s: %s of %s differ beyond chance.",
      count_of(length(unique(c(d$item, d$with))), "item"), count_of(nrow(v$groups), "group"),
      if (any(d$differs)) format_count(sum(d$differs)) else "none",
      count_of(nrow(d), "difference")),
    c(
      sprintf("Groups: %s.", join_words(sprintf("%s (%s)", v$groups$group,
        format_count(v$groups$rows)))),
      sprintf("Limits of differences are for all of them together (%s, Bonferroni).",
        format_share(x$settings$level))),
    table_text(x, "differences"),
    next_step = "plot() shows each group's correlations; tidy() gives them with limits.")
}
