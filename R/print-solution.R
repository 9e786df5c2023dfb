# Prints of factor solutions and what follows from them.

#' @export
print.factor_solution <- function(x, ..., pattern = pattern_table(x)) {
  check_class(pattern, "pattern", "pattern_table", "pattern_table()")
  v <- x$values
  s <- x$settings
  k <- ncol(v$loadings)
  one <- one_of_model(s)
  verdict <- sprintf("%s %s %s of the variance of %s (%s).", count_of(k, one),
    if (k == 1L) "explains" else "explain", format_share(sum(v$variance$share)),
    count_of(nrow(v$items), "item"), n_of_people(v))
  worst <- v$residual_pairs[1L, ]
  about <- c(
    sprintf("Extraction: %s, of %s; rotation: %s%s.", EXTRACTIONS[[s$method]]$label,
      what_was_analysed(x),
      ROTATIONS[[s$rotation]]$label,
      if (is.null(v$search)) {
        ""
      } else {
        sprintf(", best of %s (%s ended there)", count_of(s$starts, "start"),
          if (v$search$share[1L] == 1) "all" else format_share(v$search$share[1L]))
      }),
    if (!identical(s$factors_by, "given") && !is.null(s$factors_by)) {
      sprintf("Number of %ss: %s.", one, s$factors_by)
    },
    sprintf("Residual correlations: root mean square %s, largest %s (%s with %s).",
      format_unit(v$fit$rmsr, 3L), format_unit(worst$residual), worst$item, worst$with),
    fit_line(v$fit))
  oblique <- k > 1L && any(abs(v$factor_correlations[upper.tri(v$factor_correlations)]) > 1e-8)
  between <- if (oblique) between_lines(v$factor_correlations, one)
  show_result(x, verdict, about, table_text(pattern),
    below = c(shares_line(v), paste(table_of(pattern)$note, collapse = "; "), between),
    findings = bind_findings(x$findings, pattern$findings),
    next_step = after_solution(x, s$rotation == "none" && k > 1L, one))
}

what_was_analysed <- function(x) {
  items <- x$values$items
  if (x$settings$analysed == "correlations") return("correlations")
  sprintf("covariances (loadings shown for items of variance 1; %s alone has %s of all variance)",
    items$item[which.max(items$sd)], format_share(max(items$sd^2) / sum(items$sd^2)))
}

# What each component is made of, in per cent of its squared loadings: "C1: 31 % flow, 24 % depth
# and 3 smaller; against them 12 % noise." Shares below 5 %, and all but the four largest of a side,
# are counted only.
SHARE_TOLD <- 0.05
SHARES_TOLD <- 4L

component_sentences <- function(loadings) {
  vapply(colnames(loadings), function(name) {
    l <- loadings[, name]
    if (!has_variance(l)) return(sprintf("%s: no variance.", name))
    share <- l^2 / sum(l^2)
    side <- function(at) {
      at <- at[order(-share[at])]
      told <- utils::head(at[share[at] >= SHARE_TOLD], SHARES_TOLD)
      rest <- length(at) - length(told)
      each <- sprintf("%s %s", format_share(share[told]), rownames(loadings)[told])
      join_words(c(each, if (rest) sprintf("%d smaller", rest)))
    }
    for_it <- which(l >= 0)
    against <- which(l < 0)
    if (sum(share[against]) > sum(share[for_it])) {
      return(sprintf("%s: against %s%s.", name, side(against),
        if (length(for_it)) paste("; with", side(for_it)) else ""))
    }
    sprintf("%s: %s%s.", name, side(for_it),
      if (length(against)) paste("; against", side(against)) else "")
  }, "", USE.NAMES = FALSE)
}

# The shares of the factors, of all together, and of a first component by chance.
shares_line <- function(v) {
  each <- paste(v$variance$factor, format_share(v$variance$share), collapse = ", ")
  chance <- v$fit[["first_by_chance"]]
  said <- sprintf("Shares of the variance: %s", each)
  if (nrow(v$variance) > 1L) {
    said <- sprintf("%s; together %s", said, format_share(sum(v$variance$share)))
  }
  if (!isTRUE(is.finite(chance))) return(paste0(said, "."))
  if (is.null(v$search)) {
    return(sprintf("%s. Chance would give the first %s.", said, format_share(chance)))
  }
  sprintf("%s. Unrotated the first has %s; chance would give it %s.", said,
    format_share(v$variance_unrotated$share[1L]), format_share(chance))
}

# "Correlations of the factors: F1 with F2 .40, F3 .32; F2 with F3 .21."
between_lines <- function(r, one) {
  each <- vapply(seq_len(ncol(r) - 1L), function(j) {
    others <- seq(j + 1L, ncol(r))
    shown <- paste(colnames(r)[others], format_unit(r[others, j]), collapse = ", ")
    sprintf("%s with %s", colnames(r)[j], shown)
  }, "")
  sprintf("Correlations of the %ss: %s.", one, paste(each, collapse = "; "))
}

after_solution <- function(x, unrotated, one) {
  if (one == "component") {
    return(paste(
      "score_respondents() gives scores, score_formula() their formula; component_layers() shows",
      "what each component keeps, reconstruct_responses() rebuilds the answers from them;",
      if (unrotated) {
        "rotate_factors() turns them where items are to be told apart."
      } else {
        "name_factors() helps to name them, form_scales() makes scales."
      }))
  }
  if (unrotated) return("rotate_factors() turns the factors to where they can be read.")
  paste(if (!is_named(x)) sprintf("name_factors() helps to name the %ss;", one),
    "loading_stability() shows how sure they are; then form_scales() and assess_reliability().")
}

# What is not known is left out.
fit_line <- function(fit) {
  if (!isTRUE(is.finite(fit[["chi_square"]]))) return(character())
  parts <- c(
    sprintf("Fit of so many factors: chi-square%s = %s, df = %s, %s",
      if (identical(fit$rests, "people")) " (adjusted)" else "", format_number(fit$chi_square, 1L),
      format(fit$df), format_p(fit$p)),
    sprintf("RMSEA %s [%s, %s]", format_unit(fit$rmsea, 3L), format_unit(fit$rmsea_lower, 3L),
      format_unit(fit$rmsea_upper, 3L)),
    sprintf("CFI %s", format_unit(fit$cfi, 3L)),
    if (!is.na(fit$bic)) sprintf("BIC %s", format_number(fit$bic, 0L)))
  paste0(paste(parts, collapse = "; "), ".")
}

# The table, and how many loadings it hides.
pattern_lines <- function(pattern) {
  note <- table_of(pattern)$note
  c(table_text(pattern), if (length(note)) wrap_lines(note, "  ", "  "))
}

# "n = 612 of 840 people": why they differ is a finding.
n_of_people <- function(v) {
  if (is.null(v$people) || v$n >= v$people) return(sprintf("n = %s", format_count(v$n)))
  sprintf("n = %s of %s", format_count(v$n), count_of(v$people, "person", "people"))
}

#' @export
summary.factor_solution <- function(object, ...) {
  structure(list(solution = object), class = "summary_factor_solution")
}

#' @export
print.summary_factor_solution <- function(x, ...) {
  print(x$solution, lines = 999)
  if (one_of_model(x$solution$settings) == "component") {
    told <- component_sentences(x$solution$values$loadings)
    cat("", "What each is made of, in per cent of its squared loadings:",
      wrap_lines(visible_text(told), "  ", "    "), sep = "\n")
  }
  for (name in c("variance", "variance_unrotated", "residuals")) {
    cat(table_text(x$solution, name, titled = TRUE), sep = "\n")
  }
  invisible(x)
}

#' @export
print.pattern_table <- function(x, ...) {
  one <- one_of_model(x$settings)
  show_result(x,
    sprintf("Pattern of %s on %s.", count_of(nrow(x$values$table), "item"),
      count_of(length(x$values$factors), one)),
    table = pattern_lines(x),
    next_step = paste(
      "form_scales() makes scales of these; assess_reliability() shows how far each can",
      "be trusted."))
}

#' @export
print.softsieve_scale_set <- function(x, ...) {
  number <- length(unique(x$values$scales$scale))
  show_result(x, sprintf("%s, from the %s.", count_of(number, "scale"), x$settings$by),
    if (isTRUE(x$settings$standardise)) {
      "Each item counts by its standardised values: less its mean, over its standard deviation."
    },
    table = table_text(x), next_step = "assess_reliability() shows how far each can be trusted.")
}
