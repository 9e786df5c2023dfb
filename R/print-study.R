#' @export
print.softsieve_study <- function(x, ...) {
  show_study(x, "write_report() writes it up, write_results() saves everything.")
}

# The command shows a study too, but has other steps and places to name.
show_study <- function(x, next_step, rest_in = "the result's `findings`") {
  s <- x$settings
  title <- if (is.null(s$title)) "A study" else s$title
  if (!length(x$values)) {
    return(show_result(x, sprintf("%s (not run yet).", title),
      c(sprintf("Answers: %s.", answers_words(s)), decided_lines(s)),
      next_step = paste(
        "run_study() runs all stages; write_study() writes what was decided into the file.")))
  }
  v <- x$values
  solved <- !is.null(v$solution)
  verdict <- if (solved) {
    sprintf("%s: %s of %s%s.", title,
      count_of(ncol(v$solution$values$loadings), one_of_model(v$solution$settings)),
      count_of(nrow(v$solution$values$items), "item"), sifted_said(v$sift))
  } else {
    sprintf("%s: stopped at %s.", title, stage_title(s$stopped$stage))
  }
  show_result(x, verdict,
    c(study_about(v, s), count_said(v), reliability_said(v), decided_lines(s)),
    next_step = if (solved) next_step else "mend what is named, and run the study again.",
    rest_in = rest_in)
}

# How many items went, or "".
sifted_said <- function(sift) {
  if (is.null(sift)) return("")
  out <- nrow(sift$values$items) - length(sift$values$left)
  if (out) sprintf(", %d of %d sifted out", out, nrow(sift$values$items)) else ""
}

study_about <- function(v, s) {
  adequacy <- if (!is.null(v$factorability)) {
    of <- if (nzchar(sifted_said(v$sift))) {
      last <- utils::tail(v$sift$values$trail, 1L)
      sprintf(" of all items, %s of those left", format_unit(last$adequacy))
    }
    paste0("; sampling adequacy ", format_unit(v$factorability$values$adequacy), of)
  }
  sprintf("%s%s; seed %d.", count_of(source_of_study(v)$people, "person", "people"),
    if (is.null(adequacy)) "" else adequacy, s$seed)
}

# The headline, and parallel analysis's number where it is another.
# A number that a person gave was not taken from the count.
count_said <- function(v) {
  if (is.null(v$count)) return(NULL)
  said <- v$count$values$sentences[1L]
  if (!identical(v$solution$settings$factors_by, "given")) return(said)
  sub("^Taken: ", "The number was given; without it would be taken: ", said)
}

reliability_said <- function(v) if (!is.null(v$reliability)) reliability_verdict(v$reliability)

# What people decided, each in a line.
decided_lines <- function(s) {
  vapply(s$decisions, function(one) {
    row <- trail_of_decision(one)
    beside <- paste0(if (nzchar(row$who)) sprintf(" (%s)", row$who) else "",
      if (nzchar(row$why)) sprintf(": %s", row$why) else "")
    sprintf("Decided: %s %s%s.", row$decision, row$choice, sub("[.]$", "", beside))
  }, "")
}
