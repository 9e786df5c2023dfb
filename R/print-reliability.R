# Prints of reliability.

#' @export
print.softsieve_reliability <- function(x, ...) {
  v <- x$values
  entered <- if (x$settings$missing == "given") {
    "n: people behind the correlations given."
  } else {
    sprintf("n: the fewest people behind a pair of a scale's items (%s).",
      MISSING_METHODS[[x$settings$missing]]$label)
  }
  show_result(x, reliability_verdict(x), report_reasons(v),
    c(table_text(x, "scales"), unlist(lapply(v$scales$scale, function(scale) {
      table_text(x, "items", scale, titled = TRUE, indent = "    ")
    }))),
    below = c(bracket_note(x), entered,
      if (isTRUE(x$settings$standardise)) "Of standardised values: each item counts alike.",
      "Error of score: standard error of measurement of the mean of the items."),
    next_step = paste(
      "summary() shows every coefficient, split halves, pairs of scales and what is",
      "general; score_respondents() gives each person's scores."))
}

# What stands on top, a line for each scale: the coefficient to report, and the item it loses by.
reliability_verdict <- function(x) {
  s <- x$values$scales
  lines <- vapply(
    seq_len(nrow(s)),
    function(i) {
      if (is.na(s$report[i])) return(sprintf("%s, 1 item: not known", s$scale[i]))
      if (!is.na(s$wrong_key[i])) {
        return(sprintf(
          "%s, %s: %s against the others; no coefficient means anything until the key is right",
          s$scale[i], count_of(s$items[i], "item"),
          paste(s$wrong_key[i], if (grepl(" and ", s$wrong_key[i])) "run" else "runs")))
      }
      said <- sprintf("%s, %s: %s %s%s", s$scale[i], count_of(s$items[i], "item"),
        coefficient_label(s$report[i]), format_unit(s$reliability[i]),
        bracket(s$lower[i], s$upper[i]))
      rows <- x$values$items[x$values$items$scale == s$scale[i], ]
      best <- which.max(rows$alpha_without)
      # (a negative alpha is a wrong key, not an item too many)
      gains <- length(best) && isTRUE(s$alpha[i] > 0) && !spreads_differ(rows$sd) &&
        isTRUE(rows$alpha_without[best] - s$alpha[i] > cutoff("high_alpha_gain"))
      if (gains) {
        paste0(said,
          sprintf("; without %s alpha would be %s, not %s", rows$item[best],
            format_unit(rows$alpha_without[best]), format_unit(s$alpha[i])))
      } else {
        said
      }
    },
    "")
  paste0(lines, ".")
}

bracket_note <- function(x) {
  kinds <- stats::na.omit(unique(x$values$coefficients$interval))
  if (!length(kinds)) return(character())
  how <- c(
    bca = sprintf("bias-corrected accelerated, %s draws of the people",
      format_count(x$settings$replicates)),
    feldt = "Feldt, of alpha")
  sprintf("In brackets: %s limits (%s).", format_share(x$settings$level),
    paste(how[kinds], collapse = "; "))
}

# Why the coefficient in the verdict is the one: the same reason once for all its scales.
report_reasons <- function(v) {
  a <- v$assumptions[is.na(v$scales$wrong_key), ]
  why <- sub(" \\(p [=<].*?\\)", "", a$why)
  vapply(unique(why),
    function(reason) sprintf("%s: %s.", join_words(a$scale[why == reason]), reason), "",
    USE.NAMES = FALSE)
}

#' @export
summary.softsieve_reliability <- function(object, ...) {
  structure(list(reliability = object), class = "summary_softsieve_reliability")
}

#' @export
print.summary_softsieve_reliability <- function(x, ...) {
  r <- x$reliability
  v <- r$values
  print(r)
  show <- function(name, part = NULL) table_text(r, name, part, titled = TRUE)
  cat(unlist(lapply(v$scales$scale, show, name = "coefficients")), sep = "\n")
  cat("\nWhat each takes for granted:", unlist(lapply(COEFFICIENTS, function(one) {
    wrap_lines(sprintf("%s: %s.", one$label, one$assumes), "  ", "    ")
  })), sep = "\n")
  cat(show("hierarchy"), show("pairs"), noted(r, "pairs"), sep = "\n")
  if (!is.null(v$total)) {
    cat(sprintf("\nSum over all scales: stratified alpha %s (alpha of all items %s).\n",
      format_unit(v$total$stratified_alpha), format_unit(v$total$alpha)))
  }
  cat("",
    wrap_lines(sprintf(
      "Items of this kind that a reliability of %s needs, and the %s margin of one person's score:",
      format_unit(r$settings$target), format_share(r$settings$level))),
    table_text(r, "needed"), sep = "\n")
  for (name in c("splits", "groups", "stability")) cat(show(name), noted(r, name), sep = "\n")
  invisible(x)
}

# The lines that explain a table, where there is one.
noted <- function(x, name) if (has_table(x, name)) wrap_lines(table_of(x, name)$note, "  ", "    ")
