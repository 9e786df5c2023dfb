# The report's sections from the solution on (report-sections.R says what a section is).

section_factors <- function(study) {
  v <- study$values
  x <- v$solution$values
  worst <- x$residual_pairs[1L, ]
  c(show_figure(v$pattern), show_pattern(v$pattern),
    aside(paste(
      "Communality: the share of an item's variance that the factors explain; uniqueness:",
      "the rest. Complexity: on how many factors the item loads, in effect. The sign of a",
      "factor is arbitrary.")),
    if (is_named(v$solution)) say(names_said(v$solution$settings)),
    show_table(v$solution, "variance"),
    if (one_of_model(v$solution$settings) == "component") {
      say(shares_line(x), component_sentences(x$loadings))
    },
    show_table(v$solution, "factor_correlations"),
    say(sprintf("Residual correlations: root mean square %s, largest %s (%s with %s)%s.",
      format_unit(x$fit$rmsr, 3L), format_unit(worst$residual), worst$item, worst$with,
      if (is.na(x$fit$df)) "" else sprintf("; df = %s", format(x$fit$df)))))
}

# Who called the factors what they are called.
names_said <- function(settings) {
  given <- settings$factor_names[settings$factor_names != names(settings$factor_names)]
  sprintf("The %ss were named by people, after their items: %s.", one_of_model(settings),
    paste(names(given), "is", given, collapse = ", "))
}

section_scales <- function(study) {
  x <- study$values$reliability
  c(verdict(reliability_verdict(x)), say(report_reasons(x$values)), show_table(x, "scales"),
    say(bracket_note(x)), show_figure(x, "coefficients"), show_table(x, "hierarchy"),
    show_table(x, "pairs"), show_table(x, "items"))
}

section_scores <- function(study) {
  x <- study$values$scores
  scales <- study$values$scale_scores
  c(
    say(sprintf("On %s, by %s.", x$settings$of, SCORE_METHODS[[x$settings$score]]$label)),
    say(scores_about(x, scored_one(x))), show_table(x, "factors"),
    on_screen(show_table(x, "correlations")),
    say(sprintf("On scales: %s.", SCORE_METHODS[[scales$settings$score]]$label)),
    say(scores_about(scales, "scale")), show_table(scales, "factors"), show_table(scales, "norms"),
    on_screen(show_figure(scales, "spread")))
}

# The end of the report: what was decided, text to paste, how to repeat it, references, glossary.

section_decisions <- function(study) {
  c(
    say(paste(
      "What was decided by hand, what rules found, and what the study file asks for. All else are",
      "defaults.")),
    show_table(study, "decisions"))
}

section_text <- function(study) {
  prose <- prose_of(study, marked = TRUE)
  c(
    aside(sprintf("Made from the numbers below, in %s. Read it before you use it.",
      languages()[[study$settings$language]]$label)),
    heading(prose$headings[["methods"]]),
    list(list(kind = "prose", text = prose$methods, language = study$settings$language)),
    heading(prose$headings[["results"]]),
    list(list(kind = "prose", text = prose$results, language = study$settings$language)))
}

section_repeat <- function(study) {
  c(
    say(paste(
      "The study below has every default and the seed filled in. Saved as study.yml next to the",
      "answers, it is run again with `softsieve run study.yml` and gives the same numbers.")),
    code_lines(study_lines(study)))
}

section_references <- function(study) {
  list(list(kind = "references", lines = reference_text(references_of(study))))
}

# Under which settings of a result the choice of a registered method stands.
SETTING_KINDS <- c(kind = "kind", missing = "missing", basis = "basis", chance = "chance",
  reference = "reference", method = "extraction", rotation = "rotation", normalization = "rows",
  score = "score")

# The papers behind everything that a study used: methods by its results' settings, rules,
# coefficients that the report shows, and the cut-offs that it names.
references_of <- function(study) {
  v <- study$values
  stages <- c("correlations", "count", "solution", "scores", "scale_scores")
  chosen <- lapply(v[stages], function(result) {
    s <- result$settings
    unlist(lapply(intersect(names(SETTING_KINDS), names(s)), function(setting) {
      method_families()[[SETTING_KINDS[[setting]]]][[s[[setting]]]]$reference
    }))
  })
  shown <- spec_field(COEFFICIENTS, "reference", c("alpha", "omega", "greatest_lower_bound"))
  found <- c(unlist(chosen), v$count$values$rules$reference,
    if (!is.null(v$count$values$probabilities)) "Goretzko & Buhner (2020)",
    if (!is.null(v$reliability)) shown,
    setdiff(v$pattern$values$marks$source, "convention of this package"),
    if (!is.null(v$sift)) spec_field(SIFTING_RULES, "reference"), if (!is.null(v$factorability)) {
      c(cutoff_source("sphericity_p"), cutoff_source("adequacy_least"))
    }, if (!is.null(v$solution)) cutoff_source("salient_loading"))
  found <- unique(unname(found[!is.na(found)]))
  intersect(found, names(paper_specs()))
}

# The sections of a report, in their order. An entry has a label (its title) and
#
#   title   function(study): its title, where that depends on the study
#   needs   names of the study's results without which it is left out
#   make    function(study): a list of blocks

SECTIONS <- family(short = spec(label = "In short", make = function(study) section_short(study)),
  text = spec(label = "Text to paste", needs = c("solution", "reliability", "scores"),
    make = function(study) section_text(study)),
  findings = spec(label = "To look at", make = function(study) section_findings(study)),
  asked = spec(label = "What was asked", make = function(study) section_asked(study)),
  sample = spec(label = "The sample", make = function(study) section_sample(study)),
  items = spec(label = "The items", needs = "items", make = function(study) section_items(study)),
  factorability = spec(label = "Can the items be factored?", needs = "factorability",
    make = function(study) section_factorability(study)),
  number = spec(label = "How many factors?", needs = "count",
    make = function(study) section_number(study)),
  sift = spec(label = "Items taken out", needs = "sift",
    make = function(study) section_sift(study)),
  factors = spec(label = "The factors",
    title = function(study) sprintf("The %ss", one_of_model(study$values$solution$settings)),
    needs = c("solution", "pattern"), make = function(study) section_factors(study)),
  scales = spec(label = "Scales and their reliability", needs = "reliability",
    make = function(study) section_scales(study)),
  scores = spec(label = "Scores", needs = c("scores", "scale_scores"),
    make = function(study) section_scores(study)),
  decisions = spec(label = "What was decided", make = function(study) section_decisions(study)),
  "repeat" = spec(label = "Supplement: how to repeat it",
    make = function(study) section_repeat(study)),
  references = spec(label = "References", make = function(study) section_references(study)),
  glossary = spec(label = "Words and numbers",
    make = function(study) on_screen(terms(glossary_plain()))))

# Those of a study or of a plan, in their order.
sections_for <- function(x) if (is_result(x, "study_plan")) PLAN_SECTIONS else SECTIONS
section_names <- function(studies) {
  unique(unlist(lapply(studies, function(x) names(sections_for(x)))))
}

# The sections of a study or a plan, each with its title and blocks; those without anything to say
# left out.
sections_of <- function(study) {
  made <- lapply(sections_for(study), function(section) {
    if (any(vapply(study$values[section[["needs"]]], is.null, NA))) return(NULL)
    blocks <- section$make(study)
    if (!length(blocks)) return(NULL)
    title <- if (is.null(section[["title"]])) section$label else section[["title"]](study)
    source <- source_of_study(study$values)
    list(name = section$name, title = in_called(title, source),
      blocks = lapply(blocks, block_in_called, source))
  })
  made[!vapply(made, is.null, NA)]
}

# A block in the words of what was measured; what is to be pasted is already, in its language, and
# tables and figures have doors of their own.
block_in_called <- function(block, source) {
  for (part in intersect(c("text", "lines", "meanings"), names(block))) {
    if (!block$kind %in% c("code", "references", "paste")) {
      block[[part]] <- in_called(block[[part]], source)
    }
  }
  block
}

# The sections of one study or of several, for papers that are read from top to bottom: in each, the
# studies one after the other, by name.
paper_sections <- function(studies) {
  sections <- lapply(studies, sections_of)
  several <- length(studies) > 1L
  known <- section_names(studies)
  made <- lapply(known[known %in% unlist(lapply(sections, names))], function(name) {
    held <- lapply(sections, `[[`, name)
    if (name == "glossary") held[-1L] <- list(NULL)
    there <- which(!vapply(held, is.null, NA))
    list(title = held[[there[1L]]]$title, parts = lapply(there, function(i) {
      named <- several && name != "glossary"
      list(name = if (named) names(studies)[i], blocks = held[[i]]$blocks)
    }))
  })
  agree <- if (several) comparison_blocks(studies)
  if (is.null(agree)) return(made)
  agree <- list(title = "How the two agree", parts = list(list(name = NULL, blocks = agree)))
  c(made[1L], list(agree), made[-1L])
}
