# The end of the report: what was decided, text to paste, how to repeat it, references, glossary.

SECTION_DECISIONS <- spec(name = "decisions", label = "What was decided", order = 12,
  make = function(study) {
    c(
      say(paste(
        "What people decided, what rules found, and what the study file asks for. All else are",
        "defaults.")),
      show_table(study, "decisions"))
  })

SECTION_PROSE <- spec(name = "text", label = "Text to paste", order = 1.5,
  needs = c("solution", "reliability", "scores"),
  make = function(study) {
    prose <- prose_of(study, marked = TRUE)
    c(
      aside(sprintf("Made from the numbers below, in %s. Read it before you use it.",
        method_label("language", study$settings$language))),
      heading(prose$headings[["methods"]]),
      list(list(kind = "prose", text = prose$methods, language = study$settings$language)),
      heading(prose$headings[["results"]]),
      list(list(kind = "prose", text = prose$results, language = study$settings$language)))
  })

SECTION_REPEAT <- spec(name = "repeat", label = "Supplement: how to repeat it", order = 14,
  make = function(study) {
    c(
      say(paste(
        "The study below has every default and the seed filled in. Saved as study.yml beside the",
        "answers, it is run again with `softsieve run study.yml` and gives the same numbers.")),
      code_lines(study_lines(study)))
  })

SECTION_REFERENCES <- spec(name = "references", label = "References", order = 15,
  make = function(study) {
    list(list(kind = "references", lines = reference_text(references_of(study))))
  })

SECTION_GLOSSARY <- spec(name = "glossary", label = "Words and numbers", order = 16,
  make = function(study) on_screen(terms(glossary_plain())))

# Under which settings of a result the choice of a registered method stands.
SETTING_KINDS <- c(kind = "kind", missing = "missing", basis = "basis", chance = "chance",
  reference = "reference", method = "extraction", rotation = "rotation", row_weights = "rows",
  score = "score")

# The papers behind everything that a study used: methods by its results' settings, rules,
# coefficients that the report shows, and the cut-offs that it names.
references_of <- function(study) {
  v <- study$values
  stages <- c("correlations", "count", "solution", "scores", "scale_scores")
  chosen <- lapply(v[stages], function(result) {
    s <- result$settings
    unlist(lapply(intersect(names(SETTING_KINDS), names(s)), function(setting) {
      known <- spec_or_null(SETTING_KINDS[[setting]], s[[setting]])
      known$reference
    }))
  })
  shown <- spec_field("coefficient", "reference", c("alpha", "omega", "greatest_lower_bound"))
  found <- c(unlist(chosen), v$count$values$rules$reference,
    if (!is.null(v$count$values$probabilities)) "Goretzko & Buhner (2020)",
    if (!is.null(v$reliability)) shown,
    setdiff(v$pattern$values$marks$source, "convention of this package"),
    if (!is.null(v$sift)) spec_field("sifting", "reference"),
    cutoff_source("sphericity_p"), cutoff_source("adequacy_least"),
    if (!is.null(v$solution)) cutoff_source("salient_loading"))
  found <- unique(unname(found[!is.na(found)]))
  found[found %in% names(catalogue("references"))]
}

spec_or_null <- function(kind, name) if (name %in% names_of(kind)) spec_of(kind, name)
