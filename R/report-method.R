# The report's last section: what was done, how to repeat it, and the papers it rests on.

SECTION_METHOD <- spec(
  name = "method",
  label = "How it was done, and how to repeat it",
  order = 9,
  make = function(study) {
    t <- tags()
    v <- study$values
    s <- v$solution$settings
    searched <- if (is.null(v$solution$values$search)) {
      ""
    } else {
      sprintf(", from %s", count_of(s$starts, "start"))
    }
    html_section(
      "How it was done, and how to repeat it",
      t$p(sprintf(
        "%s on %s; %s; rotation: %s%s. Reliability by alpha and omega total%s.",
        capitalise(method_label("kind", s$kind)),
        method_label("missing", s$missing),
        method_label("extraction", s$method),
        method_label("rotation", s$rotation),
        searched,
        sprintf("; %s", method_label("score", v$scores$settings$score))
      )),
      if (is_named(v$solution)) t$p(names_said(s)),
      t$p(
        "The study below has every default and the seed filled in. ",
        "Saved as a file, it is run again with ",
        t$code("softsieve run"),
        " and gives the same numbers."
      ),
      t$pre(paste(study_lines(study), collapse = "\n")),
      t$h3("References"),
      t$ul(class = "references", lapply(reference_text(references_of(study)), t$li))
    )
  }
)

# Who called the factors what they are called.
names_said <- function(settings) {
  given <- settings$factor_names[settings$factor_names != names(settings$factor_names)]
  sprintf(
    "The %ss were named by people, after their items: %s.",
    one_of_model(settings),
    paste(names(given), "is", given, collapse = ", ")
  )
}

# Under which settings of a result the choice of a registered method stands.
SETTING_KINDS <- c(
  kind = "kind",
  missing = "missing",
  basis = "basis",
  chance = "chance",
  reference = "reference",
  method = "extraction",
  rotation = "rotation",
  row_weights = "rows",
  score = "score"
)

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
  found <- c(
    unlist(chosen),
    v$count$values$rules$reference,
    if (!is.null(v$count$values$probabilities)) "Goretzko & Buhner (2020)",
    shown,
    setdiff(v$pattern$values$marks$source, "convention of this package"),
    cutoff_source("sphericity_p"),
    cutoff_source("adequacy_least")
  )
  unique(unname(found[!is.na(found)]))
}

spec_or_null <- function(kind, name) if (name %in% names_of(kind)) spec_of(kind, name)
