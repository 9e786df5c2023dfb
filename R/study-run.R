#' Run a study
#'
#' Runs all stages as the study file says and people decided, in order, and keeps every result. It
#' only chains the exported stages: the same calls by hand, with the same seed, give the same
#' numbers. At the first stage that cannot go on it stops, keeps what is done, and says why.
#'
#' @param study What [read_study()], [decide()] or [study_of()] returns, or the path of a study
#' file.
#' @param threads Number of threads ([count_factors()]).
#' @param watch A function of one line of text, called as each stage begins, or `NULL`: in an
#'   interactive session the lines are then shown as messages.
#' @param folder A folder of results in which stages are stored as they are done (in `stages`), and
#'   from which those are taken whose answers, settings and earlier stages have not changed; `NULL`
#'   stores nothing. Stored are numbers, never the answers.
#' @return An object of class `softsieve_study`; `values` holds `questionnaire`, `items` and
#' `people`
#'   (their profiles), `correlations`, `factorability`, `count`, `sift` (where it was asked for),
#'   `solution`, `pattern`, `scales`, `reliability`, `scores` (on factors), `scale_scores`, and
#'   `trail`: a tibble, one row for each decision: `stage`, `decision`, `choice`, `by` (`"default"`,
#'   `"person"` or `"rule"`), `who`, `when`, `numbers`, `why`. `settings` is the study with the seed
#'   that was used; `findings` those of all stages. Where the study stopped, what came after is not
#'   there, and a finding `study_stopped` says why.
#' @section Errors: Those of reading and keying the answers.
#' @section Warnings: `softsieve_warning_stopped` when a later stage could not go on.
#' @family studies
#' @examples
#' file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
#' study <- run_study(file)
#' study$values$solution
#' study$values$trail
#' @export
run_study <- function(study, threads = NULL, watch = NULL, folder = NULL) {
  if (is.character(study)) study <- read_study(study)
  check_class(study, "study", "softsieve_study", "read_study()")
  if (!is.null(folder)) check_text(folder, "folder")
  threads <- settle_threads(threads)
  if (!is.null(watch)) watch <- theirs(check_function(watch, "watch"), "watch")
  if (is.null(watch)) watch <- if (interactive()) message else function(line) NULL
  done <- run_stages(study, names(STAGES), threads, watch, folder)
  done$call <- match.call()
  if (!is.null(done$settings$stopped)) {
    rlang::warn(done$findings$text[done$findings$code == "study_stopped"],
      class = c("softsieve_warning_stopped", "softsieve_warning"))
  }
  done
}

# Runs the stages that the results `wanted` need, each with what the study says to it, but for those
# of which the result is there already (`had`).
run_stages <- function(study, wanted, threads, watch, folder = NULL, store = stage_store(folder),
    had = list()) {
  settings <- study$settings
  settings$seed <- settle_seed(settings$seed)
  settings$stopped <- NULL
  s <- settings_in_force(settings)
  values <- had
  for (stage in stages_for(wanted, s)) {
    if (stage$name %in% names(had)) next
    asked <- is.null(stage[["when"]]) || identical(wanted, stage$name)
    if (!asked && !stage$when(s, values)) next
    if (nzchar(stage$label)) watch(paste(stage$label, "..."))
    result <- tryCatch(run_stage(stage, s, values, threads, store), softsieve_error = function(e) e)
    if (inherits(result, "softsieve_error")) {
      # without answers there is nothing to keep
      if (!length(values)) rlang::cnd_signal(result)
      settings$stopped <- list(stage = stage$name, why = said_shortly(result))
      break
    }
    values[[stage$name]] <- result
  }
  findings <- do.call(bind_findings, lapply(unname(values), `[[`, "findings"))
  # of items that were sifted out, their stage's own result and the trail tell
  gone <- setdiff(values$sift$values$items$item, values$sift$values$left)
  findings <- findings[!(findings$item %in% gone & findings$stage != "sift"), ]
  if (!is.null(settings$stopped)) {
    why <- settings$stopped
    told <- new_finding("study_stopped", stage_title(why$stage), why$why)
    findings <- bind_findings(told, findings)
  }
  if (!is.null(values$solution) && is.null(values$factorability)) {
    findings <- bind_findings(findings, new_finding("adequacy_left_out"))
  }
  values$trail <- trail_of_study(settings, s, values)
  # later stages repeat what they were told by earlier ones (numbers may differ by rounding)
  findings <- findings[!duplicated(findings[c("stage", "code", "severity", "item", "text")]), ]
  new_study(values, settings, findings, source_of_study(values), quote(run_study()))
}

source_of_study <- function(values) {
  if (is.null(values$questionnaire)) values$correlations$source else values$questionnaire$source
}

# What an error says, in one line.
said_shortly <- function(e) {
  lines <- c(e$message, unlist(e$body))
  paste(trimws(lines), collapse = " ")
}

# What a stage is called: its own label, or that of the one before it.
stage_title <- function(name) {
  labels <- vapply(STAGES, `[[`, "", "label")
  upto <- labels[seq_len(match(name, names(labels)))]
  lower(utils::tail(upto[nzchar(upto)], 1L))
}

#' @exportS3Method tibble::as_tibble
as_tibble.softsieve_study <- function(x, ...) x$findings

#' @export
glance.softsieve_study <- function(x, ...) {
  check_dots_empty(...)
  run <- length(x$values) > 0L
  solution <- x$values$solution$values
  solved <- !is.null(solution)
  tibble::tibble(run = run,
    people = if (run) as.integer(source_of_study(x$values)$people) else NA_integer_,
    items = if (solved) nrow(solution$items) else NA_integer_,
    factors = if (solved) ncol(solution$loadings) else NA_integer_,
    serious = sum(x$findings$severity == "serious"),
    cautions = sum(x$findings$severity == "caution"),
    seed = if (is.null(x$settings$seed)) NA_integer_ else x$settings$seed)
}

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
    switch(word, name = sprintf("%s is %s", choice, decision$as),
      move = sprintf("%s to %s", choice, decision$to), choice), "person", said("who"),
    said("when"), said("numbers"), said("why"))
}
