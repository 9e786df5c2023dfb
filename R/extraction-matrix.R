# What is analysed: correlations or covariances, and the weights that least squares may give them.

# "correlations" or "covariances": as asked, or as the kind of correlations says.
settle_analysed <- function(asked, x) {
  if (is.null(asked)) asked <- kind_is(x$settings$kind, "analysed")
  asked <- check_choice(asked, "analyse", c("correlations", "covariances"))
  like_pearson <- kind_is(x$settings$kind, "like_pearson")
  if (asked == "covariances" && (!like_pearson || anyNA(x$values$items$sd))) {
    stop_input("argument",
      paste("Covariances can be analysed where the items' standard deviations are known and",
        "the correlations are Pearson's."),
      got = sprintf("The correlations are of kind \"%s\"%s.", x$settings$kind,
        if (anyNA(x$values$items$sd)) ", without standard deviations" else ""),
      todo = paste("Give answers with kind = \"covariance\", a covariance matrix with n and kind =",
        "\"covariance\", or a correlation matrix with `sds`."))
  }
  asked
}

# The matrix to factor, in the units analysed: correlations times the items' standard deviations.
analysed_matrix <- function(x, analysed) {
  r <- x$values$correlations
  if (analysed == "correlations") return(r)
  r * (x$values$items$sd %o% x$values$items$sd)
}

# One over the squared standard errors of the correlations.
weights_of_correlations <- function(x, analysed) {
  error <- x$values$standard_errors
  known <- !is.null(error) && all(is.finite(error) & error > 0 | row(error) >= col(error))
  wrong <- if (analysed == "covariances") {
    "Covariances are analysed."
  } else if (!known) {
    "Some standard errors are not known."
  }
  if (length(wrong)) {
    stop_input("argument", "Weighted least squares need correlations with standard errors.",
      got = wrong,
      todo = "Give method = \"minres\", or correlations of kind \"polychoric\" or \"pearson\".")
  }
  weights <- 1 / error^2
  diag(weights) <- 0
  weights
}

# Items in units of their own weigh as their variances do when covariances are analysed. `answers`:
# the questionnaire, whose codebook may tell the ends of each scale, or NULL.
find_in_units <- function(items, analysed, answers, method) {
  if (analysed == "correlations" || EXTRACTIONS[[method]]$scale_free) return(NULL)
  ratio <- max(items$sd) / min(items$sd)
  ends <- if (!is.null(answers) && answers$settings$ends_by == "codebook") {
    unique(stats::na.omit(answers$values$items[c("lowest", "highest")]))
  }
  if (ratio <= cutoff("sd_ratio") && NROW(ends) < 2L) return(NULL)
  new_finding("different_units", items$item[which.max(items$sd)], format_number(ratio, 1L),
    items$item[which.min(items$sd)], value = ratio, limit = cutoff("sd_ratio"))
}
