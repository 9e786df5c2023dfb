# The sections of the report of a plan.

PLAN_SECTIONS <- family(
  short = spec(label = "In short", make = function(plan) {
    v <- plan$values
    verdict(say_plan(v$measures, v$needed))
  }),
  text = spec(label = "Text to paste", make = function(plan) text_of_plan(plan)),
  assumed = spec(label = "What was assumed", make = function(plan) {
    c(points(say_design(plan$values$design)),
      say(sprintf("Analysed by %s, minimum residuals and oblimin; %s samples of each size; %s.",
        KINDS[[plan$settings$kind]]$label, say_samples(plan$values$measures),
        paste("seed", format(plan$settings$seed, scientific = FALSE)))))
  }),
  needed = spec(label = "The wishes", needs = "needed", make = function(plan) {
    c(show_table(plan, "needed"), show_table(plan, "alternatives"))
  }),
  sizes = spec(label = "What so many people would give", make = function(plan) {
    c(show_figure(plan, "sizes"), tables_of_plan(plan, c("measures", "tests", "errors", "biases")),
      aside(paste("Errors are root mean squares from what 50,000 people of the design show, and",
        "biases the mean of the same; the Monte Carlo error of each measure is in as_tibble().")))
  }),
  rules = spec(label = "Rules about the number of factors", make = function(plan) {
    c(show_figure(plan, "rules"), show_table(plan, "rules"))
  }),
  covered = spec(label = "Limits", make = function(plan) {
    if (has_table(plan, "covered")) c(say(sprintf("By %s resamples of each sample's people.",
      format_count(plan$settings$resamples))), show_table(plan, "covered"))
  }),
  hidden = spec(label = "What so many people could not show", needs = "hidden",
    make = function(plan) {
      c(points(say_hidden_plan(plan$values$hidden)), show_table(plan, "hidden"))
    }),
  items = spec(label = "Items", make = function(plan) show_table(plan, "items")),
  "repeat" = spec(label = "Supplement: how to repeat it", make = function(plan) {
    c(say(paste("Saved as design.yml, `softsieve plan design.yml` gives the same numbers (items",
      "and factors are numbered there).")),
      code_lines(lines_of_plan(plan)))
  }),
  references = spec(label = "References", make = function(plan) {
    list(list(kind = "references", lines = reference_text(references_of_plan(plan))))
  }),
  glossary = spec(label = "Words and numbers",
    make = function(plan) on_screen(terms(glossary_plain()))))

tables_of_plan <- function(plan, names) {
  unlist(lapply(names, function(name) show_table(plan, name)), recursive = FALSE)
}

# In every language of reports.
text_of_plan <- function(plan) {
  each <- lapply(names(languages()), function(language) {
    c(heading(languages()[[language]]$label),
      list(list(kind = "prose", text = plan_text(plan, language), language = language)))
  })
  c(aside("Made from the numbers below. Read it before you use it."),
    unlist(each, recursive = FALSE))
}

# The design and the question as a design file, loadings in full.
lines_of_plan <- function(plan) {
  d <- plan$values$design
  s <- plan$settings
  about <- c(list(pattern = unname(d$loadings)),
    if (ncol(d$loadings) > 1L) list(correlations = d$factor_correlations),
    d[c("answers", "lean", "missing", "careless")],
    lapply(Filter(Negate(is.null), d[c("clusters", "blocks")]), as.list))
  needed <- plan$values$needed
  asked <- if (is.null(needed)) {
    c(list(people = s$people), if (!is.null(plan$values$hidden)) list(hidden = "yes"),
      if (length(s$rules)) list(rules = s$rules),
      if (s$resamples > 0L) list(resamples = s$resamples))
  } else {
    c(
      list(wishes = as.list(stats::setNames(needed$wish, needed$measure)), most = s$most),
      if (!is.null(plan$values$alternatives)) list(alternatives = "yes"))
  }
  written <- function(x) jsonlite::toJSON(x, auto_unbox = TRUE, digits = NA)
  entries <- c(about, asked, s[c("replicates", "kind", "seed")])
  unlist(Map(function(x, name) {
    if (!is.matrix(x)) return(sprintf("%s: %s", name, written(x)))
    c(paste0(name, ":"), apply(x, 1L, function(row) sprintf("  - %s", written(I(row)))))
  }, entries, names(entries)), use.names = FALSE)
}

references_of_plan <- function(plan) {
  s <- plan$settings
  found <- c(KINDS[[s$kind]]$reference, EXTRACTIONS$minres$reference, ROTATIONS$oblimin$reference,
    spec_field(RULES, "reference", c("parallel", s$rules)), "Goretzko & Buhner (2020)",
    COEFFICIENTS$omega$reference, if (s$resamples > 0L) "Efron & Tibshirani (1993)")
  intersect(unique(unname(found)), names(paper_specs()))
}
