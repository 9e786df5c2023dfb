# The trail of a study: every decision with its reason: a default, a person or a rule.

# `settings` as in the file, `s` with people's decisions in force, `values` of the stages that ran.
trail_of_study <- function(settings, s, values) {
  stack_rows(c(trail_of_entries(settings, s), trail_of_number(s, values$count, values$solution),
    trail_of_sift(values$sift), lapply(settings$decisions, trail_of_decision)))
}

decision_row <- function(stage, decision, choice, by, who = "", when = "", numbers = "", why = "") {
  tibble::new_tibble(
    list(stage = stage, decision = decision, choice = choice, by = by, who = who, when = when,
      numbers = numbers, why = why),
    nrow = 1L)
}

# What the file says, and what it leaves to defaults; parameters of what is not used are left out.
trail_of_entries <- function(settings, s) {
  rotation <- names(ROTATIONS[[s$factors$rotation]]$parameters)
  others <- paste0("factors.", setdiff(names(parameters_of(ROTATIONS)), rotation))
  sifting <- if (!s$sift$run) paste0("sift.", setdiff(names(settings$sift), "run"))
  lapply(study_entries(), function(entry) {
    if (entry$name %in% c("decisions", others, sifting)) return(NULL)
    row_of_entry(entry, settings)
  })
}

row_of_entry <- function(entry, settings) {
  way <- strsplit(entry$name, ".", fixed = TRUE)[[1L]]
  held <- if (length(way) == 1L) settings[[way]] else settings[[way[1L]]][[way[2L]]]
  if (!length(held)) return(NULL)
  person <- entry$name %in% settings$written
  if (entry$name == "seed" && !person) return(seed_row(held))
  decision_row(way[1L], entry$name, choice_text(held), if (person) "person" else "default",
    why = entry$label)
}

seed_row <- function(seed) {
  decision_row("seed", "seed", format(seed), "rule", why = "Drawn, as the study gives none")
}

choice_text <- function(x) {
  if (is.logical(x)) x <- ifelse(x, "yes", "no")
  named <- !is.null(names(x))
  text <- if (is.numeric(x)) format(x, trim = TRUE, digits = 10L) else as.character(unlist(x))
  paste(if (named) paste(names(x), "is", text) else text, collapse = ", ")
}

# The number of factors, where a rule has found it.
trail_of_number <- function(s, count, solution) {
  asked <- s$factors$number
  if (is.numeric(asked) || is.null(count) || is.null(solution)) return(NULL)
  found <- ncol(solution$values$loadings)
  why <- if (asked == "parallel") {
    sprintf("Parallel analysis suggests %d.", count$values$suggested)
  } else if (asked == "probable") {
    paste0(capitalise(said_taken_by(count$values)), ".")
  } else {
    sprintf("%s finds it.", capitalise(RULES[[asked]]$label))
  }
  list(decision_row("factors", "number of factors", format(found), "rule", why = why))
}

# What rules and people took out.
trail_of_sift <- function(sift) {
  t <- sift$values$trail
  lapply(which(t$step != "end"), function(i) {
    by_rule <- !is.na(t$rule[i])
    decision_row("sift",
      sprintf("%s (pass %d)", t$step[i], t$pass[i]),
      t$item[i], if (by_rule) "rule" else "person",
      numbers = if (by_rule) {
        sprintf("%s, limit %s", format_unit(t$value[i]), format_unit(t$limit[i]))
      } else {
        ""
      },
      why = if (by_rule) sprintf("The rule %s", t$rule[i]) else t$why[i])
  })
}

trail_of_decision <- function(decision) {
  word <- word_of(decision)
  said <- function(key) if (is.null(decision[[key]])) "" else decision[[key]]
  choice <- choice_text(decision[[word]])
  decision_row(DECISIONS[[word]]$stage, word,
    if (word == "name") sprintf("%s is %s", choice, decision$as) else choice, "person", said("who"),
    said("when"), said("numbers"), said("why"))
}
