# Methods and results in plain prose, from the numbers of a study, in its language
# (inst/catalogue/language-en.yml). Nothing here is evaluated: sentences are templates whose braces
# are filled with text.

# `marked`: with the signs between which statistics stand in italics (report-sentences.R)?
prose_of <- function(study, marked = FALSE) {
  tongue <- languages()[[study$settings$language]]
  source <- source_of_study(study$values)
  done <- function(x) {
    in_called(if (marked) x else without_italics(x), source, study$settings$language)
  }
  list(headings = tongue$headings, methods = done(methods_prose(study, tongue)),
    results = done(results_prose(study, tongue)))
}

# Who and what, and how that was analysed: a paragraph each.
methods_prose <- function(study, tongue) {
  v <- study$values
  one <- function(name, ...) sentence(tongue, name, ...)
  factors <- tongue$words[[paste0(one_of_model(v$solution$settings), "s")]]
  analysis <- paragraph(
    one("correlations", kind = called(tongue, "kind", v$correlations$settings$kind),
      cite = cite("kind", v$correlations$settings$kind)),
    if (!is.null(v$factorability)) {
      one("factorability", cite = sphericity_cite(v$factorability))
    },
    prose_of_number(study, tongue, factors), prose_of_sifting(study, tongue),
    prose_of_solving(study, tongue, factors), prose_of_scales(study, tongue, factors),
    one("software", version = utils::packageVersion("softsieve"), r = getRversion()))
  paste(paragraph(prose_of_answers(study, tongue)), analysis, sep = "\n\n")
}

prose_of_answers <- function(study, tongue) {
  v <- study$values
  q <- v$questionnaire$values
  s <- v$questionnaire$settings
  one <- function(name, ...) sentence(tongue, name, ...)
  reversed <- q$items$item[q$items$reversed]
  c(
    one("answers", people = in_count(tongue, nrow(q$answers)),
      items = in_count(tongue, ncol(q$answers))),
    prose_of_exclusions(study, tongue), prose_of_gaps(v, tongue),
    if (v$correlations$values$n < v$correlations$values$people) {
      one("tests_n", size = in_count(tongue, v$correlations$values$n))
    },
    if (length(s$weight)) one("weighted", column = from_outside(s$weight)),
    if (length(s$cluster)) one("clustered", column = from_outside(s$cluster)),
    vapply(sort(as.character(s$remove), decreasing = TRUE), function(what) {
      one(paste0("removed_", what))
    }, ""),
    if (length(s$order) && v$correlations$values$design_effect > 1) {
      one("in_order", column = from_outside(paste(s$order, collapse = ", ")))
    },
    if (length(reversed)) one("reversed", items = in_words(tongue, reversed)),
    prose_of_decisions(study, tongue))
}

# Who was left out, from the first file to the correlations (study-resume.R).
prose_of_exclusions <- function(study, tongue) {
  steps <- people_left(study)
  steps <- steps[!is.na(steps$out) & steps$out > 0L & steps$why %in% names(tongue$sentences), ]
  vapply(seq_len(nrow(steps)), function(i) {
    step <- steps[i, ]
    sentence(tongue, step$why, left = in_count(tongue, step$left),
      all = in_count(tongue, step$left + step$out), out = people_said(tongue, step$out),
      conditions = from_outside(step$conditions))
  }, "")
}

prose_of_gaps <- function(v, tongue) {
  gaps <- mean(is.na(v$questionnaire$values$answers))
  if (!gaps) return(sentence(tongue, "complete"))
  missing <- v$correlations$settings$missing
  pair <- v$correlations$values$n_pair
  pair <- range(pair[upper.tri(pair)])
  sentence(tongue, paste0("missing_", missing), share = in_share(tongue, gaps),
    cite = cite("missing", missing), low = in_count(tongue, pair[1L]),
    high = in_count(tongue, pair[2L]))
}

prose_of_number <- function(study, tongue, factors) {
  x <- study$values$count
  s <- x$settings
  asked <- settings_in_force(study$settings)$factors$number
  one <- function(name, ...) {
    chance <- called(tongue, "chance", s$chance)
    sets <- in_count(tongue, s$replicates)
    sentence(tongue, name, factors = factors, chance = chance, replicates = sets, ...)
  }
  if (is.numeric(asked)) {
    why <- Filter(function(d) !is.null(d$number) && !is.null(d$why), study$settings$decisions)
    why <- if (length(why)) sprintf(" (%s)", from_outside(why[[length(why)]]$why)) else ""
    return(one("number_given", number = number_alone(tongue, asked), why = why))
  }
  if (!asked %in% c("parallel", "probable")) {
    return(one("number_rule", rule = called(tongue, "rule", asked), cite = cite("rule", asked)))
  }
  by_parallel <- asked == "parallel" || startsWith(x$values$taken_by, "parallel")
  if (!by_parallel) {
    return(one(if (length(x$values$outside)) "number_sequential_rule" else "number_probable"))
  }
  upper <- s$reference == "upper"
  c(
    one("number_parallel", basis = called(tongue, "basis", s$basis),
      reference = sub("{level}", format(s$percentile),
        tongue$words[[if (upper) "percentile" else "mean"]], fixed = TRUE),
      cite = cite("chance", s$chance)),
    if (isTRUE(s$sequential)) one("number_sequential"))
}

# Every rule that was in force, and what kept items.
prose_of_sifting <- function(study, tongue) {
  x <- study$values$sift
  if (is.null(x)) return(NULL)
  one <- function(name, ...) sentence(tongue, name, ...)
  rules <- rules_in_force(x)
  rules <- rules[rules$on, ]
  s <- x$values$rules$settings
  kept <- intersect(x$settings$keep, x$values$items$item)
  c(one("sift", rules = paste(rule_said(tongue, rules), collapse = "; ")),
    if (isTRUE(s$by_limits)) one("sift_errors"),
    one("sift_holds", loss = in_unit(tongue, s$most_omega_loss), least = s$least_per_factor),
    if (length(kept)) one("sift_kept", items = in_words(tongue, kept)))
}

prose_of_solving <- function(study, tongue, factors) {
  s <- study$values$solution$settings
  one <- function(name, ...) sentence(tongue, name, ...)
  single <- ncol(study$values$solution$values$loadings) == 1L
  extraction <- one(if (single) "extraction_one" else "extraction",
    factor = tongue$words[[one_of_model(s)]], Factors = capitalise(factors),
    method = called(tongue, "extraction", s$method), cite = cite("extraction", s$method))
  if (single) return(extraction)
  if (s$rotation == "none") return(paste0(extraction, one("unrotated")))
  own <- names(ROTATIONS[[s$rotation]]$parameters)
  parameters <- s[intersect(own, names(s))]
  parameters <- parameters[vapply(parameters, function(p) is.numeric(p) && length(p) == 1L, NA)]
  values <- vapply(parameters, function(p) sub(".", tongue$decimal, format(p), fixed = TRUE), "")
  weighted <- !is.null(s$normalization) && s$normalization != "none"
  paste0(extraction, one("rotation",
    way = tongue$words[[if (isTRUE(s$oblique)) "oblique" else "orthogonal"]],
    rotation = sub(" \\([a-z]+\\)$", "", called(tongue, "rotation", s$rotation)),
    cite = cite("rotation", s$rotation),
    parameters = if (length(values)) paste0(", ", paste(names(values), "=", values)) else "",
    rows = if (weighted) paste0(", ", called(tongue, "rows", s$normalization)) else ""))
}

prose_of_scales <- function(study, tongue, factors) {
  v <- study$values
  s <- study$settings$scales
  single <- ncol(v$solution$values$loadings) == 1L
  if (single) factors <- tongue$words[[one_of_model(v$solution$settings)]]
  one <- function(name, ...) sentence(tongue, name, factors = factors, ...)
  intervals <- if (s$replicates > 0) {
    level <- in_share(tongue, s$level, 0L)
    one("intervals", level = level, draws = in_count(tongue, s$replicates))
  } else {
    ""
  }
  c(
    if (s$defined_by == "codebook") {
      one("codebook_scales")
    } else {
      one(if (single) "salient_one" else "salient", salient = in_unit(tongue, s$salient),
        cross_loading = if (s$cross_loading == "leave_out") one("salient_cross_loading") else "",
        marks = sub("^(.*) \\((.*)\\)$", "\\1, \\2", cutoff_source("salient_loading")))
    },
    one("reliability", intervals = intervals),
    if (isTRUE(v$scales$settings$standardise)) one("standardised_scales"),
    one("scores", method = called(tongue, "score", v$scores$settings$score),
      cite = cite("score", v$scores$settings$score),
      scales = called(tongue, "score", v$scale_scores$settings$score)))
}

prose_of_decisions <- function(study, tongue) {
  drops <- Filter(function(d) !is.null(d$drop), study$settings$decisions)
  others <- Filter(function(d) is.null(d$drop) && is.null(d$number), study$settings$decisions)
  said <- vapply(others, function(d) {
    row <- trail_of_decision(d)
    why <- if (nzchar(row$why)) sprintf(" (%s)", row$why) else ""
    from_outside(sprintf("%s %s%s", row$decision, row$choice, why))
  }, "")
  c(
    vapply(drops, function(d) {
      were <- tongue$words[[if (length(d$drop) == 1L) "was" else "were"]]
      why <- from_outside(why_of(d))
      sentence(tongue, "decided_drop", why = why, were = were, items = in_words(tongue, d$drop))
    }, ""),
    if (length(said)) sentence(tongue, "decided_other", decisions = paste(said, collapse = "; ")))
}

# The paper of the test of sphericity that was used.
sphericity_cite <- function(x) {
  if (identical(x$values$sphericity$form, "bartlett")) return("(Bartlett, 1951)")
  if (identical(x$values$sphericity$form, "adjusted")) return("(Satorra & Bentler, 1994)")
  "(Pitman, 1937)"
}
