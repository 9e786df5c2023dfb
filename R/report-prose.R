# Methods and results in plain prose, from the numbers of a study, in its language
# (report-language-en.R). Nothing here is evaluated: sentences are templates whose braces are
# filled with text.

prose_of <- function(study) {
  tongue <- spec_of("language", study$settings$language)
  list(
    headings = tongue$headings,
    methods = paste(methods_prose(study, tongue), collapse = " "),
    results = paste(results_prose(study, tongue), collapse = " ")
  )
}

methods_prose <- function(study, tongue) {
  v <- study$values
  one <- function(name, ...) sentence(tongue, name, ...)
  factors <- tongue$words[[paste0(one_of_model(v$solution$settings), "s")]]
  tidy_prose(c(
    prose_of_answers(study, tongue),
    one(
      "correlations",
      kind = called(tongue, "kind", v$correlations$settings$kind),
      cite = cite("kind", v$correlations$settings$kind)
    ),
    one("factorability", cite = sphericity_cite(study$values$factorability)),
    prose_of_number(study, tongue, factors),
    prose_of_sifting(study, tongue),
    prose_of_solving(study, tongue, factors),
    prose_of_scales(study, tongue, factors),
    prose_of_decisions(study, tongue),
    one("further", settings = further_settings(study)),
    one(
      "software",
      version = utils::packageVersion("softsieve"),
      r = getRversion(),
      seed = study$settings$seed
    )
  ))
}

prose_of_answers <- function(study, tongue) {
  v <- study$values
  q <- v$questionnaire$values
  s <- v$questionnaire$settings
  one <- function(name, ...) sentence(tongue, name, ...)
  missing <- v$correlations$settings$missing
  gaps <- mean(is.na(q$answers))
  reversed <- q$items$item[q$items$reversed]
  c(
    one("answers", people = nrow(q$answers), items = ncol(q$answers)),
    if (length(s$kept)) {
      one("filtered", conditions = paste(s$kept, collapse = "; "))
    },
    if (gaps > 0) {
      one(
        "missing",
        share = in_share(tongue, gaps),
        missing = called(tongue, "missing", missing),
        cite = cite("missing", missing)
      )
    } else {
      one("complete")
    },
    if (length(s$weight)) one("weighted", column = s$weight),
    if (length(reversed)) one("reversed", items = in_words(tongue, reversed))
  )
}

prose_of_number <- function(study, tongue, factors) {
  x <- study$values$count
  s <- x$settings
  asked <- settings_in_force(study$settings)$factors$number
  one <- function(name, ...) sentence(tongue, name, factors = factors, ...)
  chance <- called(tongue, "chance", s$chance)
  if (identical(asked, "probable")) {
    v <- x$values
    off <- v$discounted[v$discounted$counts, ]
    said <- if (startsWith(v$taken_by, "parallel")) {
      prose_of_parallel(s, tongue, factors)
    } else {
      key <- if (length(v$outside)) "number_sequential_rule" else "number_probable"
      one(key, replicates = s$replicates, chance = chance)
    }
    return(c(
      said,
      if (NROW(off)) one("number_discounted", items = paste(off$items, collapse = "; "))
    ))
  }
  if (is.numeric(asked)) {
    why <- Filter(function(d) !is.null(d$number) && !is.null(d$why), study$settings$decisions)
    why <- if (length(why)) sprintf(" (%s)", why[[length(why)]]$why) else ""
    return(one(
      "number_given", number = asked, why = why, replicates = s$replicates, chance = chance
    ))
  }
  if (asked != "parallel") {
    label <- method_label("rule", asked)
    return(one("number_rule", rule = label, cite = cite("rule", asked)))
  }
  prose_of_parallel(s, tongue, factors)
}

prose_of_parallel <- function(s, tongue, factors) {
  one <- function(name, ...) sentence(tongue, name, factors = factors, ...)
  upper <- s$reference == "upper"
  c(
    one(
      "number_parallel",
      basis = called(tongue, "basis", s$basis),
      reference = tongue$words[[if (upper) "percentile" else "mean"]],
      level = if (upper) format(s$percentile) else "",
      replicates = s$replicates,
      chance = called(tongue, "chance", s$chance),
      cite = cite("chance", s$chance)
    ),
    if (isTRUE(s$sequential)) one("number_sequential")
  )
}

prose_of_sifting <- function(study, tongue) {
  x <- study$values$sift
  if (is.null(x)) return(NULL)
  rules <- x$values$rules$values$table
  rules <- rules[rules$on & !is.na(rules$limit), ]
  named <- vapply(rules$rule, function(rule) called(tongue, "sifting", rule), "")
  sign <- ifelse(rules$breaks == "below", "<", ">")
  limits <- vapply(rules$limit, function(x) {
    if (x == round(x)) format(x) else in_unit(tongue, x)
  }, "")
  sentence(tongue, "sift", rules = paste(named, sign, limits, collapse = "; "))
}

prose_of_solving <- function(study, tongue, factors) {
  s <- study$values$solution$settings
  one <- function(name, ...) sentence(tongue, name, factors = factors, ...)
  own <- names(spec_of("rotation", s$rotation)$parameters)
  parameters <- s[intersect(own, names(s))]
  parameters <- parameters[vapply(parameters, function(p) is.numeric(p) && length(p) == 1L, NA)]
  options <- if (!is.null(s$lowest_uniqueness) && s$method != "components") {
    sprintf("; uniqueness >= %s", in_number(tongue, s$lowest_uniqueness, 3L))
  } else {
    ""
  }
  said <- if (length(parameters)) {
    values <- vapply(parameters, function(p) {
      sub(".", tongue$decimal, format(p), fixed = TRUE)
    }, "")
    sprintf("; %s", paste(names(parameters), "=", values, collapse = ", "))
  } else {
    ""
  }
  rows <- if (identical(s$row_weights, "none") || is.null(s$row_weights)) {
    ""
  } else {
    sprintf(" (%s)", called(tongue, "rows", s$row_weights))
  }
  c(
    one(
      "extraction",
      method = called(tongue, "extraction", s$method),
      cite = cite("extraction", s$method),
      options = options
    ),
    if (s$rotation == "none") {
      one("unrotated")
    } else {
      one(
        "rotation",
        rotation = called(tongue, "rotation", s$rotation),
        cite = cite("rotation", s$rotation),
        parameters = said,
        starts = s$starts,
        rows = rows
      )
    }
  )
}

prose_of_scales <- function(study, tongue, factors) {
  v <- study$values
  s <- study$settings$scales
  one <- function(name, ...) sentence(tongue, name, factors = factors, ...)
  intervals <- if (s$replicates > 0) {
    one("intervals", level = in_share(tongue, s$level, 0L), draws = s$replicates)
  } else {
    ""
  }
  c(
    if (s$by == "codebook") {
      one("codebook_scales")
    } else {
      one(
        "salient",
        salient = in_unit(tongue, s$salient),
        marks = sub("^(.*) \\((.*)\\)$", "\\1, \\2", cutoff_source("salient_loading"))
      )
    },
    one("reliability", intervals = intervals),
    one(
      "scores",
      method = called(tongue, "score", v$scores$settings$score),
      cite = cite("score", v$scores$settings$score),
      scales = called(tongue, "score", v$scale_scores$settings$score)
    )
  )
}

# What the sentences before have said already, of these sections.
SAID_IN_PROSE <- c(
  "correlations.kind", "correlations.missing", "factors.number", "factors.basis",
  "factors.chance", "factors.sequential", "factors.reference", "factors.percentile",
  "factors.replicates", "factors.method", "factors.rotation", "factors.lowest_uniqueness",
  "factors.row_weights", "factors.starts", "factors.names", "scales.by", "scales.salient",
  "scales.replicates", "scales.level", "scores.method", "scale_scores.method"
)

further_settings <- function(study) {
  trail <- study$values$trail
  others <- trail[
    trail$stage %in% c("correlations", "factors", "scales", "scores", "scale_scores") &
      grepl(".", trail$decision, fixed = TRUE) &
      !trail$decision %in% c(SAID_IN_PROSE, paste0("factors.", names(parameters_of("rotation")))),
  ]
  paste(others$decision, "=", others$choice, collapse = ", ")
}

prose_of_decisions <- function(study, tongue) {
  drops <- Filter(function(d) !is.null(d$drop), study$settings$decisions)
  others <- Filter(function(d) is.null(d$drop) && is.null(d$number), study$settings$decisions)
  said <- vapply(others, function(d) {
    row <- trail_of_decision(d)
    why <- if (nzchar(row$why)) sprintf(" (%s)", row$why) else ""
    sprintf("%s %s%s", row$decision, row$choice, why)
  }, "")
  c(
    vapply(drops, function(d) {
      sentence(tongue, "decided_drop", why = why_of(d), items = in_words(tongue, d$drop))
    }, ""),
    if (length(said)) sentence(tongue, "decided_other", decisions = paste(said, collapse = "; "))
  )
}

# The paper of the test of sphericity that was used.
sphericity_cite <- function(x) {
  if (identical(x$values$sphericity$form, "bartlett")) return("(Bartlett, 1951)")
  if (identical(x$values$sphericity$form, "adjusted")) return("(Satorra & Bentler, 1994)")
  "(Pitman, 1937)"
}
