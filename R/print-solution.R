# Prints of factor solutions and what follows from them.

#' @export
print.factor_solution <- function(x, ...) {
  v <- x$values
  s <- x$settings
  k <- ncol(v$loadings)
  one <- if (s$method == "components") "component" else "factor"
  verdict <- sprintf(
    "%s %s %s of the variance of %s (%s).",
    count_of(k, one),
    if (k == 1L) "explains" else "explain",
    format_share(sum(v$variance$share)),
    count_of(nrow(v$items), "item"),
    n_of_people(v)
  )
  worst <- v$residual_pairs[1L, ]
  about <- c(
    sprintf(
      "Extraction: %s%s; rotation: %s%s.",
      method_label("extraction", s$method),
      if (s$analysed == "covariances") {
        ", of covariances (loadings shown for items of variance 1)"
      } else {
        ""
      },
      method_label("rotation", s$rotation),
      if (is.null(v$search)) {
        ""
      } else {
        sprintf(
          ", best of %s (%s ended there)",
          count_of(s$starts, "start"),
          if (v$search$share[1L] == 1) "all" else format_share(v$search$share[1L])
        )
      }
    ),
    sprintf(
      "Residual correlations: root mean square %s, largest %s (%s with %s)%s.",
      format_unit(v$fit$rmsr, 3L),
      format_unit(worst$residual),
      worst$item,
      worst$with,
      if (is.na(v$fit$df)) "" else sprintf("; df = %s", format(v$fit$df))
    ),
    fit_line(v$fit)
  )
  pattern <- pattern_table(x)
  oblique <- k > 1L && any(abs(v$factor_correlations[upper.tri(v$factor_correlations)]) > 1e-8)
  between <- if (oblique) {
    c(
      "",
      sprintf("  Correlations of the %ss:", one),
      table_lines(factor_correlation_columns(v$factor_correlations), c(FALSE, rep(TRUE, k)))
    )
  }
  show_result(
    x,
    verdict,
    about,
    c(pattern_lines(pattern), hidden_line(pattern), between),
    findings = bind_findings(x$findings, pattern$findings),
    next_step = if (s$rotation == "none" && k > 1L) {
      sprintf("rotate_factors() turns the %ss to where they can be read.", one)
    } else {
      sprintf("name the %ss by their items; then form_scales() and assess_reliability().", one)
    }
  )
}

# A measure that the method does not have is left out.
fit_line <- function(fit) {
  if (!"chi_square" %in% names(fit)) return(character())
  parts <- c(
    sprintf(
      "Fit: chi-square = %s%s, df = %s, %s",
      format_number(fit$chi_square, 1L),
      if ("corrected" %in% names(fit)) {
        sprintf(" (corrected %s)", format_number(fit$corrected, 1L))
      } else {
        " (adjusted)"
      },
      format(fit$df),
      if (is.na(fit$p)) "no test" else format_p(fit$p)
    ),
    if (!is.na(fit$rmsea)) {
      sprintf(
        "RMSEA %s [%s, %s]",
        format_unit(fit$rmsea, 3L),
        format_unit(fit$rmsea_lower, 3L),
        format_unit(fit$rmsea_upper, 3L)
      )
    },
    sprintf("CFI %s", format_unit(fit$cfi, 3L)),
    if ("bic" %in% names(fit)) sprintf("BIC %s", format_number(fit$bic, 0L))
  )
  paste0(paste(parts, collapse = "; "), ".")
}

pattern_lines <- function(pattern, width = console_width()) {
  t <- pattern$values$table
  loadings <- lapply(t[pattern$values$factors], format_unit)
  columns <- c(
    list(item = t$item),
    loadings,
    list(communality = format_unit(t$communality), uniqueness = format_unit(t$uniqueness)),
    list(wording = keyed_wording(t$wording, t$reversed))
  )
  table_lines(columns, c(FALSE, rep(TRUE, length(loadings) + 2L), FALSE), width)
}

# "n = 612 of 840 people": why they differ is a finding.
n_of_people <- function(v) {
  if (is.null(v$people) || v$n >= v$people) return(sprintf("n = %s", format_count(v$n)))
  sprintf("n = %s of %s", format_count(v$n), count_of(v$people, "person", "people"))
}

hidden_line <- function(pattern) {
  note <- hidden_note(pattern)
  if (length(note)) paste0("  ", note)
}

hidden_note <- function(pattern) {
  if (!pattern$values$hidden) return(character())
  sprintf(
    "%s smaller than %s in size not shown",
    count_of(pattern$values$hidden, "loading"),
    format_unit(pattern$settings$hide_below)
  )
}

#' @export
summary.factor_solution <- function(object, ...) {
  structure(list(solution = object), class = "summary_factor_solution")
}

#' @export
print.summary_factor_solution <- function(x, ...) {
  print(x$solution)
  v <- x$solution$values
  rotated <- x$solution$settings$rotation != "none"
  cat(if (rotated) "\nVariance after rotation:\n" else "\nVariance:\n")
  cat(variance_lines(v$variance), sep = "\n")
  if (rotated) cat("\nVariance before rotation:", variance_lines(v$variance_unrotated), sep = "\n")
  pairs <- utils::head(v$residual_pairs, 5L)
  cat(
    "\nThe largest residual correlations:",
    table_lines(
      list(
        item = pairs$item,
        with = pairs$with,
        observed = format_unit(pairs$observed),
        reproduced = format_unit(pairs$reproduced),
        residual = format_unit(pairs$residual)
      ),
      c(FALSE, FALSE, TRUE, TRUE, TRUE)
    ),
    sep = "\n"
  )
  invisible(x)
}

variance_lines <- function(t) {
  table_lines(
    list(
      factor = t$factor,
      sum_of_squares = format_number(t$sum_of_squares),
      share = format_share(t$share, 1L),
      running_share = format_share(t$running_share, 1L),
      share_of_common = format_share(t$share_of_common, 1L)
    ),
    c(FALSE, TRUE, TRUE, TRUE, TRUE)
  )
}

# The lower triangle with ones, as text columns.
factor_correlation_columns <- function(correlations) {
  shown <- format_unit(correlations)
  shown[upper.tri(correlations)] <- ""
  diag(shown) <- "1"
  columns <- lapply(seq_len(ncol(correlations)), function(j) shown[, j])
  c(list(factor = colnames(correlations)), stats::setNames(columns, colnames(correlations)))
}

#' @export
print.pattern_table <- function(x, ...) {
  one <- if (x$settings$method == "components") "component" else "factor"
  show_result(
    x,
    sprintf(
      "Pattern of %s on %s.",
      count_of(nrow(x$values$table), "item"),
      count_of(length(x$values$factors), one)
    ),
    table = pattern_lines(x),
    below = hidden_note(x),
    next_step = paste(
      "form_scales() makes scales of these; assess_reliability() tells how far each can",
      "be trusted."
    )
  )
}

#' @export
print.scale_set <- function(x, ...) {
  members <- split(
    x$values$scales$item,
    factor(x$values$scales$scale, unique(x$values$scales$scale))
  )
  columns <- list(
    scale = names(members),
    items = as.character(lengths(members)),
    which = vapply(members, paste, "", collapse = ", ")
  )
  show_result(
    x,
    sprintf("%s, from the %s.", count_of(length(members), "scale"), x$settings$by),
    table = table_lines(columns, c(FALSE, TRUE, FALSE)),
    next_step = "assess_reliability() tells how far each can be trusted."
  )
}

#' @export
print.respondent_scores <- function(x, ...) {
  v <- x$values
  scored <- sum(!is.na(v$scores[[v$factors$factor[1L]]]))
  columns <- list(
    factor = v$factors$factor,
    determinacy = format_unit(v$factors$determinacy),
    "sd of scores" = format_number(v$factors$sd)
  )
  if (identical(x$settings$method, "components")) names(columns)[1L] <- "component"
  first <- utils::head(v$scores, 5L)
  factors <- v$factors$factor
  rows <- lapply(first, function(column) {
    if (is.numeric(column)) format(column) else as.character(column)
  })
  rows[factors] <- lapply(first[factors], format_number)
  components <- identical(x$settings$method, "components")
  one <- if (components) "component" else "factor"
  show_result(
    x,
    sprintf(
      "%s scored on %s%s.",
      count_of(scored, "person", "people"),
      count_of(length(factors), one),
      if (components) "" else " by regression"
    ),
    sprintf(
      paste(
        "In standard deviations of the %s, from the mean. Determinacy is how well the",
        "score stands for the %s (1 is best)."
      ),
      one,
      one
    ),
    c(
      table_lines(columns, c(FALSE, TRUE, TRUE)),
      "",
      "  The first people:",
      table_lines(rows, vapply(first, is.numeric, NA))
    ),
    next_step = "as_tibble() gives the table, write_table() saves it."
  )
}

#' @export
print.study <- function(x, ...) {
  show_study(x, "write_report() writes it up, write_results() saves everything.")
}

# The command shows a study too, but has other steps to name.
show_study <- function(x, next_step) {
  s <- x$settings
  title <- if (is.null(s$title)) "A study" else s$title
  if (!length(x$values)) {
    return(show_result(
      x,
      sprintf("%s (not run yet).", title),
      sprintf("Answers: %s.", s$answers$file),
      next_step = "run_study() runs all stages."
    ))
  }
  v <- x$values
  show_result(
    x,
    sprintf(
      "%s: %s of %s.",
      title,
      count_of(ncol(v$solution$values$loadings), "factor"),
      count_of(nrow(v$solution$values$items), "item")
    ),
    c(
      sprintf(
        "%s; sampling adequacy %s; seed %d.",
        count_of(nrow(v$questionnaire$values$answers), "person", "people"),
        format_unit(v$factorability$values$adequacy),
        s$seed
      ),
      v$count$values$sentences[1L],
      reliability_verdict(v$reliability)
    ),
    next_step = next_step
  )
}
