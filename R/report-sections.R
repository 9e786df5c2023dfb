# The report's sections, in the order people work. Each takes a study that has been run and gives
# tags; numbers and verdicts come from the results.

section_short <- function(v, findings) {
  t <- tags()
  asked <- v$questionnaire$values$answers
  f <- v$factorability$values
  counts <- table(factor(findings$severity, FINDING_SEVERITIES))
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
        if (ncol(v$solution$values$loadings) == 1L) {
          "1 was"
        } else {
          paste(ncol(v$solution$values$loadings), "were")
        },
        format_share(sum(v$solution$values$variance$share))
      )),
      lapply(reliability_verdict(v$reliability), t$li),
      t$li(sprintf(
        "To look at: %s, %s, %s.",
        count_of(counts[["serious"]], "serious finding"),
        count_of(counts[["caution"]], "caution"),
        count_of(counts[["note"]], "note")
      ))
    )
  )
}

section_answers <- function(v) {
  t <- tags()
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
        "%s were turned round before anything was computed: %s. They are marked (reversed) below.",
        count_of(nrow(reversed), "item"),
        name_culprits(reversed$item, 30L)
      ))
    },
    t$p(sprintf(
      "%s show signs of careless answers or stand far from all others; nobody was removed.",
      count_of(sum(nzchar(flagged$flags)), "person", "people")
    )),
    if (nrow(v$items$values$counts)) {
      html_figure(
        ggplot2::autoplot(v$items),
        "Shares of the answers to each item, low answers left, high ones right",
        loadings_height(ncol(q$answers))
      )
    },
    html_items(v$items$values$items)
  )
}

html_items <- function(i) {
  html_table(
    list(
      item = i$item,
      missing = format_share(i$missing_share, 1L),
      mean = format_number(i$mean),
      sd = format_number(i$sd),
      skewness = format_number(i$skewness, 1L),
      kurtosis = format_number(i$excess_kurtosis, 1L),
      floor = format_share(i$floor_share),
      ceiling = format_share(i$ceiling_share),
      wording = keyed_wording(i$wording, i$reversed)
    ),
    c(FALSE, rep(TRUE, 7L), FALSE),
    "Items (kurtosis in excess of a normal distribution's)"
  )
}

section_factorability <- function(v) {
  t <- tags()
  x <- v$factorability$values
  s <- v$factorability$settings
  i <- x$items
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
    html_figure(
      ggplot2::autoplot(v$factorability),
      "Sampling adequacy of each item, lowest first",
      loadings_height(nrow(i))
    ),
    html_table(
      list(
        item = i$item,
        adequacy = format_unit(i$adequacy),
        "squared multiple correlation" = format_unit(i$squared_multiple),
        wording = keyed_wording(i$wording, i$reversed)
      ),
      c(FALSE, TRUE, TRUE, FALSE),
      "Items, lowest adequacy first"
    )
  )
}

section_number <- function(v) {
  t <- tags()
  x <- v$count
  e <- x$values$eigenvalues
  e <- e[seq_len(min(nrow(e), x$values$suggested + 5L)), ]
  rules <- x$values$rules
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
    html_figure(
      ggplot2::autoplot(x),
      sprintf(
        "Eigenvalues by rank over the reach of chance, %s above it, and what other rules suggest",
        count_of(x$values$suggested, "factor")
      )
    ),
    html_table(
      list(
        rank = e$rank,
        eigenvalue = format_number(e$eigenvalue),
        share = format_share(e$share, 1L),
        "running share" = format_share(e$running_share, 1L),
        "chance mean" = format_number(e$chance_mean),
        "chance upper" = format_number(e$chance_upper),
        "above chance" = ifelse(e$above_chance, "yes", "no")
      ),
      c(rep(TRUE, 6L), FALSE)
    ),
    html_table(
      list(
        rule = rules$label,
        factors = suggested_text(rules),
        reason = rules$reason,
        "when it misleads" = rules$misleads,
        paper = rules$reference
      ),
      c(FALSE, TRUE, FALSE, FALSE, FALSE),
      "What each rule suggests"
    ),
    if (!is.null(x$values$fits)) {
      html_figure(ggplot2::autoplot(x, "fit"), "Fit of each number of factors")
    }
  )
}

section_factors <- function(v) {
  t <- tags()
  x <- v$solution$values
  p <- v$pattern$values
  k <- length(p$factors)
  one <- if (v$solution$settings$method == "components") "component" else "factor"
  loadings <- lapply(p$table[p$factors], format_unit)
  html_section(
    sprintf("The %ss", one),
    html_figure(
      ggplot2::autoplot(v$pattern),
      sprintf("Loadings of the items on the %ss", one),
      loadings_height(nrow(p$table))
    ),
    html_table(
      c(
        list(item = p$table$item),
        loadings,
        list(
          communality = format_unit(p$table$communality),
          uniqueness = format_unit(p$table$uniqueness),
          complexity = format_number(p$table$complexity, 1L),
          wording = keyed_wording(p$table$wording, p$table$reversed)
        )
      ),
      c(FALSE, rep(TRUE, k + 3L), FALSE),
      sprintf("Pattern: loadings by the %s each item loads on most", one)
    ),
    t$p(
      class = "note",
      sprintf(
        paste(
          "%s. Communality: the share of an item's variance that the factors explain;",
          "uniqueness: the rest. Complexity: on how many factors the item loads, in effect.",
          "The sign of a factor is arbitrary."
        ),
        hidden_note(v$pattern)
      )
    ),
    html_table(
      list(
        factor = x$variance$factor,
        "sum of squares" = format_number(x$variance$sum_of_squares),
        share = format_share(x$variance$share, 1L),
        "running share" = format_share(x$variance$running_share, 1L),
        "share of common" = format_share(x$variance$share_of_common, 1L)
      ),
      c(FALSE, TRUE, TRUE, TRUE, TRUE),
      "Variance explained"
    ),
    if (k > 1L) {
      html_table(
        factor_correlation_columns(x$factor_correlations),
        c(FALSE, rep(TRUE, k)),
        sprintf("Correlations of the %ss", one)
      )
    },
    t$p(sprintf(
      "Residual correlations: root mean square %s, largest %s (%s with %s); df = %s.",
      format_unit(x$fit$rmsr, 3L),
      format_unit(x$residual_pairs$residual[1L]),
      x$residual_pairs$item[1L],
      x$residual_pairs$with[1L],
      format(x$fit$df)
    ))
  )
}

section_scales <- function(v) {
  t <- tags()
  r <- v$reliability$values
  s <- r$scales
  html_section(
    "Scales and their reliability",
    lapply(reliability_verdict(v$reliability), function(line) t$p(class = "verdict", line)),
    lapply(report_reasons(r), t$p),
    html_table(
      list(
        scale = s$scale,
        items = s$items,
        alpha = interval_text(r, "alpha"),
        omega = interval_text(r, "omega"),
        "greatest lower bound" = interval_text(r, "greatest_lower_bound"),
        "mean correlation" = format_unit(s$mean_correlation),
        "error of score" = format_number(s$sem),
        people = format_count(s$n)
      ),
      c(FALSE, rep(TRUE, 7L))
    ),
    lapply(bracket_note(v$reliability), t$p),
    if (any(s$items > 1L)) {
      html_figure(ggplot2::autoplot(v$reliability), "Coefficients of each scale with their limits")
    },
    if (!is.null(r$hierarchy)) {
      html_table(
        hierarchy_columns(r$hierarchy),
        c(FALSE, TRUE, TRUE, TRUE),
        "How much of a sum's variance is general, of groups of items, and both"
      )
    },
    if (!is.null(r$pairs)) {
      html_table(pair_columns(r$pairs), c(FALSE, FALSE, rep(TRUE, 4L)), "Scales beside each other")
    },
    if (!is.null(r$pairs)) {
      t$p(sprintf(
        paste(
          "%s; rel. of difference: reliability of one score less the other; heterotrait:",
          "size of correlations between the two scales beside those within, above %s they",
          "may be one."
        ),
        "r without error: corrected for unreliability",
        format_unit(cutoff("heterotrait"))
      ))
    },
    lapply(unique(s$scale), function(scale) {
      i <- r$items[r$items$scale == scale, ]
      html_table(
        list(
          item = i$item,
          mean = format_number(i$mean),
          sd = format_number(i$sd),
          "correlation with the rest" = format_unit(i$item_rest),
          loading = format_unit(i$loading),
          "alpha without" = format_unit(i$alpha_without),
          "omega without" = format_unit(i$omega_without),
          wording = keyed_wording(i$wording, i$reversed)
        ),
        c(FALSE, rep(TRUE, 6L), FALSE),
        paste("Scale", scale)
      )
    })
  )
}

section_scores <- function(v) {
  t <- tags()
  f <- v$scores$values$factors
  one <- if (v$solution$settings$method == "components") "component" else "factor"
  html_section(
    "Scores",
    t$p(sprintf(
      paste(
        "%s, in standard deviations of the %s. Determinacy is the correlation of a score",
        "with its %s when nothing is missing."
      ),
      if (one == "component") "Component scores" else "Regression scores",
      one,
      one
    )),
    html_table(
      list(
        factor = f$factor,
        determinacy = format_unit(f$determinacy),
        "sd of scores" = format_number(f$sd)
      ),
      c(FALSE, TRUE, TRUE)
    )
  )
}

section_method <- function(study) {
  t <- tags()
  v <- study$values
  s <- v$solution$settings
  references <- unique(stats::na.omit(c(
    method_reference("correlation", s$kind),
    cutoff_source("sphericity_p"),
    cutoff_source("adequacy_least"),
    method_reference("missing", s$missing),
    v$count$values$rules$reference,
    if (!is.null(v$count$values$probabilities)) "Goretzko & Buhner (2020)",
    method_reference("basis", v$count$settings$basis),
    method_reference("chance", v$count$settings$chance),
    method_reference("reference", v$count$settings$reference),
    method_reference("extraction", s$method),
    method_reference("rotation", s$rotation),
    "Cronbach (1951)",
    "McDonald (1999)",
    method_reference("score", "regression")
  )))
  html_section(
    "How it was done, and how to repeat it",
    t$p(sprintf(
      "%s on %s; %s; rotation: %s%s. Reliability by alpha and omega total%s.",
      capitalise(method_label("correlation", s$kind)),
      method_label("missing", s$missing),
      method_label("extraction", s$method),
      method_label("rotation", s$rotation),
      if (is.null(v$solution$values$search)) {
        ""
      } else {
        sprintf(", from %s", count_of(s$starts, "start"))
      },
      if (s$method == "components") "" else "; scores by regression"
    )),
    t$p(
      "The study below has every default and the seed filled in. ",
      "Saved as a file, it is run again with ",
      t$code("softsieve run"),
      " and gives the same numbers."
    ),
    t$pre(paste(study_lines(study), collapse = "\n")),
    t$h3("References"),
    t$ul(class = "references", lapply(reference_text(references), t$li))
  )
}
