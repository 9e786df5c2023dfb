# The results paragraph (report-prose.R has the methods, and how sentences are filled).

results_prose <- function(study, tongue) {
  v <- study$values
  f <- v$factorability$values
  one <- function(name, ...) sentence(tongue, name, ...)
  unit <- function(x, digits = 2L) in_unit(tongue, x, digits)
  tested <- !is.na(f$sphericity$p)
  p <- if (!tested) {
    ""
  } else if (f$sphericity$p < 0.001) {
    tongue$words[["p_small"]]
  } else {
    sentence(tongue, "p", p = unit(f$sphericity$p, 3L), from = tongue$words)
  }
  tidy_prose(c(
    one(
      if (tested) "adequacy" else "adequacy_alone",
      adequacy = unit(f$adequacy),
      least = unit(min(f$items$adequacy, na.rm = TRUE)),
      most = unit(max(f$items$adequacy, na.rm = TRUE)),
      chi = in_number(tongue, f$sphericity$statistic, 1L),
      df = f$sphericity$df,
      p = p
    ),
    one("suggested", number = number_said(tongue, v$count$values$suggested, "factor")),
    if (!is.null(v$count$values$probability) && !is.na(v$count$values$probability)) {
      one(
        "probable",
        number = v$count$values$probable,
        probability = unit(v$count$values$probability)
      )
    },
    results_of_sifting(v$sift, tongue),
    results_of_solution(v, tongue, unit),
    results_of_scales(v$reliability$values$scales, tongue, unit)
  ))
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

results_of_sifting <- function(sift, tongue) {
  if (is.null(sift)) return(NULL)
  gone <- setdiff(sift$values$items$item, sift$values$left)
  if (!length(gone)) return(sentence(tongue, "sifted_none"))
  adequacy <- stats::na.omit(sift$values$trail$adequacy)
  sentence(
    tongue,
    "sifted",
    items = in_words(tongue, gone),
    out = length(gone),
    all = nrow(sift$values$items),
    before = in_unit(tongue, adequacy[1L]),
    after = in_unit(tongue, adequacy[length(adequacy)])
  )
}

results_of_solution <- function(v, tongue, unit) {
  x <- v$solution$values
  model <- one_of_model(v$solution$settings)
  factors <- tongue$words[[paste0(model, "s")]]
  one <- function(name, ...) sentence(tongue, name, ...)
  largest <- apply(abs(x$loadings), 1L, max)
  between <- x$factor_correlations[lower.tri(x$factor_correlations)]
  uncorrelated <- !length(between) || all(abs(between) < 1e-12)
  marks <- v$pattern$values$marks
  c(
    capitalise(one(
      "variance",
      extracted = number_said(tongue, ncol(x$loadings), model),
      share = in_share(tongue, sum(x$variance$share)),
      each = paste(x$variance$factor, in_share(tongue, x$variance$share), collapse = ", ")
    )),
    one(
      "loadings",
      low = unit(min(largest)),
      high = unit(max(largest)),
      least = unit(min(x$items$communality)),
      most = unit(max(x$items$communality))
    ),
    vapply(unique(marks$mark), function(mark) {
      items <- in_words(tongue, marks$item[marks$mark == mark])
      key <- paste0("mark.", mark)
      name <- if (key %in% names(tongue$methods)) tongue$methods[[key]] else mark
      one("mark", mark = name, items = items)
    }, ""),
    if (!uncorrelated) {
      if (length(between) == 1L) {
        one("between_one", factors = factors, r = unit(between))
      } else {
        one("between", factors = factors, low = unit(min(between)), high = unit(max(between)))
      }
    },
    one("residuals", rmsr = unit(x$fit$rmsr, 3L))
  )
}

results_of_scales <- function(scales, tongue, unit) {
  vapply(seq_len(nrow(scales)), function(i) {
    s <- scales[i, ]
    limits <- if (is.na(s$lower)) {
      ""
    } else {
      sentence(tongue, "limits", lower = unit(s$lower), upper = unit(s$upper))
    }
    known <- !is.na(c(s$omega, s$alpha))
    sentence(
      tongue,
      if (known[1L]) "scale" else if (known[2L]) "scale_alpha" else "scale_none",
      scale = s$scale,
      items = s$items,
      alpha = unit(s$alpha),
      omega = unit(s$omega),
      limits = if (identical(s$report, "omega")) limits else ""
    )
  }, "")
}
