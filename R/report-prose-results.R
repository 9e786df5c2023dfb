# The results (report-prose.R has the methods, and how sentences are filled): whether and how many
# factors, what they are, and the scales, a paragraph each.

results_prose <- function(study, tongue) {
  v <- study$values
  unit <- function(x, digits = 2L) in_unit(tongue, x, digits)
  asked <- settings_in_force(study$settings)$factors$number
  paste(
    paragraph(results_of_number(v, asked, tongue, unit), results_of_sifting(v$sift, tongue)),
    paragraph(results_of_solution(v, tongue, unit)),
    paragraph(results_of_scales(v$reliability, tongue, unit)), sep = "\n\n")
}

results_of_number <- function(v, asked, tongue, unit) {
  f <- v$factorability$values
  one <- function(name, ...) sentence(tongue, name, ...)
  tested <- isTRUE(!is.na(f$sphericity$p))
  count <- v$count$values
  off <- count$discounted
  off <- if (identical(asked, "probable")) off[off$counts, ]
  c(
    if (!is.null(f)) {
      one(if (tested) "adequacy" else "adequacy_alone", adequacy = unit(f$adequacy),
        least = unit(min(f$items$adequacy, na.rm = TRUE)),
        most = unit(max(f$items$adequacy, na.rm = TRUE)),
        chi = in_number(tongue, f$sphericity$statistic, 1L), df = f$sphericity$df,
        size = in_count(tongue, v$correlations$values$n),
        p = if (tested) in_p(tongue, f$sphericity$p) else "")
    },
    one("suggested", number = number_said(tongue, count$suggested, "factor")),
    if (!is.null(count$probability) && !is.na(count$probability)) {
      number <- number_alone(tongue, count$probable)
      one("probable", number = number, probability = unit(count$probability))
    },
    vapply(seq_len(NROW(off)), function(i) {
      make <- called_make(tongue, off$make[i])
      items <- strsplit(off$items[i], ", | and ")[[1L]]
      known <- all(items %in% v$correlations$values$items$item)
      one("discounted", make = make, items = in_words(tongue, if (known) items else off$items[i]))
    }, ""))
}

called_make <- function(tongue, make) {
  key <- paste0("make.", make)
  if (key %in% names(tongue$methods)) tongue$methods[[key]] else ""
}

# "four factors", "1 component": small numbers in words where the language has them
# (`small_numbers`).
number_said <- function(tongue, number, model) {
  key <- if (model == "component") {
    if (number == 1L) "one_component" else "several_components"
  } else if (number == 1L) {
    "one_of"
  } else {
    "several_of"
  }
  words <- tongue$small_numbers
  sentence(tongue, key, number = if (number %in% seq_along(words)) words[number] else number)
}

# "four", "12"
number_alone <- function(tongue, number) {
  if (number == 1L) return(tongue$words[["one"]])
  if (number %in% seq_along(tongue$small_numbers)) tongue$small_numbers[number] else number
}

# What went, before and after, and by which rules.
results_of_sifting <- function(sift, tongue) {
  if (is.null(sift)) return(NULL)
  gone <- setdiff(sift$values$items$item, sift$values$left)
  if (!length(gone)) return(sentence(tongue, "sifted_none"))
  trail <- sift$values$trail
  adequacy <- stats::na.omit(trail$adequacy)
  went <- trail[!is.na(trail$rule) & trail$item %in% gone, ]
  by_rule <- vapply(unique(went$rule), function(rule) {
    own <- went[went$rule == rule, ]
    table <- rules_in_force(sift)
    said <- rule_said(tongue, table[table$rule == rule, ])
    sentence(tongue, "sifted_rule", items = in_words(tongue, own$item), rule = said)
  }, "")
  said <- sentence(tongue, "sifted", out = length(gone),
    items = if (length(by_rule)) paste(by_rule, collapse = "; ") else in_words(tongue, gone),
    all = nrow(sift$values$items), before = in_unit(tongue, adequacy[1L]),
    after = in_unit(tongue, adequacy[length(adequacy)]))
  c(sentence(tongue, "of_all_items", all = nrow(sift$values$items)), said)
}

results_of_solution <- function(v, tongue, unit) {
  x <- v$solution$values
  model <- one_of_model(v$solution$settings)
  one <- function(name, ...) sentence(tongue, name, ...)
  largest <- apply(abs(x$loadings), 1L, max)
  marks <- v$pattern$values$marks
  k <- ncol(x$loadings)
  c(
    one(if (k == 1L) "variance_one" else "variance", extracted = number_said(tongue, k, model),
      factor = tongue$words[[model]], share = in_share(tongue, sum(x$variance$share))),
    results_of_fit(v$solution, tongue, unit, number_said(tongue, k, model)),
    vapply(seq_len(k), function(j) strongest_said(x, j, tongue, unit), ""),
    one("loadings", low = unit(min(largest)), high = unit(max(largest)),
      least = unit(min(x$items$communality)), most = unit(max(x$items$communality))),
    if (NROW(marks)) one("marked", items = marks_said(marks, tongue)),
    results_between(x, tongue, unit, tongue$words[[paste0(model, "s")]]))
}

# "o1 and o2 (no salient loading) and p6 (loadings on two factors)"
marks_said <- function(marks, tongue) {
  said <- vapply(unique(marks$mark), function(mark) {
    key <- paste0("mark.", mark)
    name <- if (key %in% names(tongue$methods)) tongue$methods[[key]] else mark
    sprintf("%s (%s)", in_words(tongue, marks$item[marks$mark == mark]), name)
  }, "")
  in_words(tongue, said)
}

# The test of the model and its fit, where they hold; what is left in any case.
results_of_fit <- function(solution, tongue, unit, number) {
  fit <- solution$values$fit
  one <- function(name, ...) sentence(tongue, name, ...)
  residuals <- one("residuals", rmsr = unit(fit$rmsr, 3L))
  if (!isTRUE(is.finite(fit[["p"]]))) return(residuals)
  limits <- if (is.na(fit$rmsea_lower)) {
    ""
  } else {
    lower <- unit(fit$rmsea_lower, 3L)
    one("rmsea_limits", lower = lower, upper = unit(fit$rmsea_upper, 3L))
  }
  c(
    one("fit", number = number, df = fit$df, size = in_count(tongue, solution$values$n),
      chi = in_number(tongue, fit$chi_square, 1L), p = in_p(tongue, fit$p),
      rmsea = unit(fit$rmsea, 3L), limits = limits, cfi = unit(fit$cfi)),
    residuals)
}

# A factor's items of the largest loadings, with their wording where that is short.
MOST_STRONG <- 3L
LONGEST_QUOTE <- 60L
strongest_said <- function(x, j, tongue, unit) {
  loadings <- x$loadings[, j]
  top <- utils::head(order(-abs(loadings)), MOST_STRONG)
  top <- top[abs(loadings[top]) >= min(cutoff("salient_loading"), max(abs(loadings)))]
  wording <- x$items$wording[match(rownames(x$loadings)[top], x$items$item)]
  turned <- x$items$reversed[match(rownames(x$loadings)[top], x$items$item)]
  quoted <- !is.na(wording) & nzchar(wording) & nchar(wording) <= LONGEST_QUOTE & !turned %in% TRUE
  said <- vapply(seq_along(top), function(i) {
    loading <- unit(loadings[top[i]])
    name <- from_outside(rownames(x$loadings)[top[i]])
    if (!quoted[i]) return(sprintf("%s (%s)", name, loading))
    text <- from_outside(sub("[.]$", "", wording[i]))
    quote <- sentence(tongue, "quoted", text = text, from = tongue$words)
    sprintf("%s (%s; %s)", name, quote, loading)
  }, "")
  sentence(tongue, "strongest", factor = from_outside(colnames(x$loadings)[j]),
    share = in_share(tongue, x$variance$share[j]), items = in_words(tongue, said))
}

results_between <- function(x, tongue, unit, factors) {
  between <- x$factor_correlations[lower.tri(x$factor_correlations)]
  if (!length(between) || all(abs(between) < 1e-12)) return(NULL)
  one <- function(name, ...) sentence(tongue, name, factors = factors, ...)
  if (length(between) == 1L) return(one("between_one", r = unit(between)))
  one("between", low = unit(min(between)), high = unit(max(between)))
}

results_of_scales <- function(reliability, tongue, unit) {
  scales <- reliability$values$scales
  level <- in_share(tongue, reliability$settings$level, 0L)
  vapply(seq_len(nrow(scales)), function(i) {
    s <- scales[i, ]
    limits <- if (is.na(s$lower) || !identical(s$report, "omega")) {
      ""
    } else {
      sentence(tongue, "limits", level = level, lower = unit(s$lower), upper = unit(s$upper))
    }
    known <- !is.na(c(s$omega, s$alpha))
    sentence(tongue, if (known[1L]) "scale" else if (known[2L]) "scale_alpha" else "scale_none",
      scale = from_outside(s$scale), items = s$items, alpha = unit(s$alpha), omega = unit(s$omega),
      limits = limits)
  }, "")
}
