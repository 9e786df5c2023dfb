# The report's sections, in the order people work. A section is a spec whose name starts with
# SECTION_ (base-registry.R): name, label (its title), order and `make`, function(study) of a study
# that has been run, giving tags. Numbers and verdicts come from the results.

SECTION_SHORT <- spec(name = "short", label = "In short", order = 1, make = function(study) {
  t <- tags()
  v <- study$values
  asked <- v$questionnaire$values$answers
  f <- v$factorability$values
  extracted <- ncol(v$solution$values$loadings)
  counted <- table(factor(study$findings$severity, SEVERITIES))
  t$div(
    class = "short",
    t$ul(
      t$li(sprintf(
        "%s answered %s; %s of the answers are missing.",
        count_of(nrow(asked), "person", "people"),
        count_of(ncol(asked), "item"),
        format_share(mean(is.na(asked)), 1L)
      )),
      t$li(sprintf(
        "Sampling adequacy is %s (good from %s); Bartlett's test of sphericity: %s.",
        format_unit(f$adequacy),
        format_unit(v$factorability$settings$good),
        format_p(f$sphericity$p)
      )),
      t$li(sprintf(
        "Parallel analysis suggests %s; %s extracted, explaining %s of the variance.",
        count_of(v$count$values$suggested, "factor"),
        if (extracted == 1L) "1 was" else paste(extracted, "were"),
        format_share(sum(v$solution$values$variance$share))
      )),
      lapply(reliability_verdict(v$reliability), t$li),
      t$li(sprintf(
        "To look at: %s, %s, %s.",
        count_of(counted[["serious"]], "serious finding"),
        count_of(counted[["caution"]], "caution"),
        count_of(counted[["note"]], "note")
      ))
    )
  )
})

SECTION_FINDINGS <- spec(name = "findings", label = "To look at", order = 2, make = function(
  study
) {
  html_section("To look at", html_findings(study$findings))
})

SECTION_ANSWERS <- spec(name = "answers", label = "Answers", order = 3, make = function(study) {
  t <- tags()
  v <- study$values
  q <- v$questionnaire$values
  codes <- tapply(q$missing_codes$people, q$missing_codes$code, sum)
  reversed <- q$items[q$items$reversed, ]
  flagged <- v$people$values$people
  html_section(
    "Answers",
    t$p(
      sprintf(
        "%s of %s answers are missing (%s).",
        format_count(sum(is.na(q$answers))),
        format_count(length(q$answers)),
        format_share(mean(is.na(q$answers)), 1L)
      ),
      if (length(codes)) {
        sprintf(
          " Codes for \"no answer\": %s.",
          paste(sprintf("%s (%d times)", names(codes), codes), collapse = ", ")
        )
      }
    ),
    if (nrow(reversed)) {
      t$p(sprintf(
        paste(
          "%s were turned round before anything was computed: %s. They are marked",
          "(reversed) below."
        ),
        count_of(nrow(reversed), "item"),
        name_culprits(reversed$item, 30L)
      ))
    },
    t$p(sprintf(
      "%s show signs of careless answers or stand far from all others; nobody was removed.",
      count_of(sum(nzchar(flagged$flags)), "person", "people")
    )),
    html_figure(v$items),
    html_table(v$items)
  )
})

SECTION_FACTORABILITY <- spec(
  name = "factorability",
  label = "Can the items be factored?",
  order = 4,
  make = function(study) {
    t <- tags()
    f <- study$values$factorability
    x <- f$values
    s <- f$settings
    html_section(
      "Can the items be factored?",
      t$p(
        class = "verdict",
        sprintf(
          "Sampling adequacy is %s; Bartlett's chi-square = %s, df = %d, %s.",
          format_unit(x$adequacy),
          format_number(x$sphericity$statistic, 1L),
          x$sphericity$df,
          format_p(x$sphericity$p)
        )
      ),
      t$p(sprintf(
        paste(
          "Adequacy is near 1 when what two items share they share with the others too.",
          "Items below %s should not be factored, from %s it is acceptable, from %s good:",
          "%s. The test used n = %s%s."
        ),
        format_unit(s$least),
        format_unit(s$acceptable),
        format_unit(s$good),
        cutoff_source("adequacy_least"),
        format_count(x$n),
        if (s$missing == "pairwise") {
          ", the smallest number of people behind any pair of items"
        } else {
          ""
        }
      )),
      html_figure(f),
      html_table(f, "items")
    )
  }
)

SECTION_NUMBER <- spec(name = "number", label = "How many factors?", order = 5, make = function(
  study
) {
  t <- tags()
  x <- study$values$count
  against <- if (x$settings$reference == "upper") {
    sprintf("percentile %s", format(x$settings$percentile))
  } else {
    "the mean"
  }
  html_section(
    "How many factors?",
    t$p(class = "verdict", x$values$sentences[1L]),
    lapply(c(x$values$sentences[-1L], probability_lines(x$values$probabilities)), t$p),
    t$p(sprintf(
      paste(
        "Unrelated items, too, give some eigenvalues above 1. Parallel analysis keeps the",
        "leading factors whose eigenvalues stand above %s of %s draws of %s, for as many",
        "people and items. The probabilities come from a network trained on simulated",
        "answers with a known number of factors."
      ),
      against,
      format_count(x$settings$replicates),
      method_label("chance", x$settings$chance)
    )),
    html_figure(x, "evidence"),
    html_table(x, "eigenvalues"),
    html_table(x, "rules"),
    html_figure(x, "fit")
  )
})

SECTION_SIFT <- spec(name = "sift", label = "Items taken out", order = 5.5, make = function(study) {
  x <- study$values$sift
  if (is.null(x)) return(NULL)
  t <- tags()
  html_section(
    "Items taken out",
    t$p(
      class = "verdict",
      sprintf(
        "%d of %s out: %s.",
        nrow(x$values$items) - length(x$values$left),
        count_of(nrow(x$values$items), "item"),
        ENDS[[x$values$ended]]
      )
    ),
    html_table(x, "story"),
    html_table(x, "facets"),
    html_figure(x, "tiles")
  )
})

SECTION_FACTORS <- spec(name = "factors", label = "The factors", order = 6, make = function(study) {
  t <- tags()
  v <- study$values
  x <- v$solution$values
  worst <- x$residual_pairs[1L, ]
  html_section(
    sprintf("The %ss", one_of_model(v$solution$settings)),
    html_figure(v$pattern),
    html_table(v$pattern),
    t$p(
      class = "note",
      paste(
        "Communality: the share of an item's variance that the factors explain; uniqueness:",
        "the rest. Complexity: on how many factors the item loads, in effect. The sign of a",
        "factor is arbitrary."
      )
    ),
    html_table(v$solution, "variance"),
    html_table(v$solution, "factor_correlations"),
    t$p(sprintf(
      "Residual correlations: root mean square %s, largest %s (%s with %s); df = %s.",
      format_unit(x$fit$rmsr, 3L),
      format_unit(worst$residual),
      worst$item,
      worst$with,
      format(x$fit$df)
    ))
  )
})

SECTION_SCALES <- spec(
  name = "scales",
  label = "Scales and their reliability",
  order = 7,
  make = function(study) {
    t <- tags()
    x <- study$values$reliability
    html_section(
      "Scales and their reliability",
      lapply(reliability_verdict(x), function(line) t$p(class = "verdict", line)),
      lapply(report_reasons(x$values), t$p),
      html_table(x, "scales"),
      lapply(bracket_note(x), t$p),
      html_figure(x, "coefficients"),
      html_table(x, "hierarchy"),
      html_table(x, "pairs"),
      html_tables(x, "items")
    )
  }
)

SECTION_SCORES <- spec(name = "scores", label = "Scores", order = 8, make = function(study) {
  t <- tags()
  x <- study$values$scores
  scales <- study$values$scale_scores
  html_section(
    "Scores",
    t$p(sprintf("On %s, by %s.", x$settings$of, method_label("score", x$settings$score))),
    lapply(scores_about(x, scored_one(x)), t$p),
    html_table(x, "factors"),
    html_table(x, "correlations"),
    t$p(sprintf("On scales: %s.", method_label("score", scales$settings$score))),
    lapply(scores_about(scales, "scale"), t$p),
    html_table(scales, "factors"),
    html_table(scales, "norms"),
    html_figure(scales, "spread")
  )
})
