# The trail of a study as a table.

# What a study says of itself is not a decision about its numbers.
ABOUT_STUDY <- c("title", "author", "date", "language", "answers.file", "answers.database",
  "answers.table", "codebook")

STUDY_TABLES <- list(
  softsieve_study = family(
    decisions = spec(label = "What was decided, and by whom", file = "decisions",
      data = function(x) x$values$trail, there = function(x) length(x$values) > 0L,
      columns = function(x) {
        t <- x$values$trail
        # what nobody decided stands in the study below, and in decisions.csv
        t <- t[t$by != "default" & !t$decision %in% ABOUT_STUDY, ]
        list(decision = words(t$decision), choice = words(t$choice),
          by = words(ifelse(nzchar(t$who), t$who, t$by)),
          when = if (any(nzchar(t$when))) words(t$when),
          numbers = if (any(nzchar(t$numbers))) words(t$numbers), why = words(t$why))
      }),
    people_left = spec(label = "From the file to the tests", file = "people_left",
      data = function(x) people_left(x)[c("step", "out", "left", "conditions")],
      there = function(x) !is.null(x$values$questionnaire),
      columns = function(x) {
        p <- people_left(x)
        list(step = words(p$step), `left out` = counts(p$out), people = counts(p$left))
      })))
