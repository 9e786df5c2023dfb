# The end of the report: what was decided, text to paste, how to repeat it, references, glossary.

section_decisions <- function(study) {
  c(
    say(paste(
      "What people decided, what rules found, and what the study file asks for. All else are",
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
