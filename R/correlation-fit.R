# The test of k factors and the measures of fit: one of each for the same correlations, whatever the
# method of extraction, in every stage that shows them.

# measures: a list of
#   chi_square, p    of k factors; rests: on "people" (their answers) or "normal" theory
#   rmsea, rmsea_lower, rmsea_upper (90 %), close_p (of an RMSEA up to .05), cfi, tli
#   aic, bic         NA unless there is a likelihood: Pearson correlations of complete answers
# all NA without degrees of freedom, or where nothing is known to rest a test on; then `finding`
# says why. `finding` also shows where normal theory stands in for answers that are not there.
# `fits`: what fits_for_tests() gives for k, where that is there.
fit_of_factors <- function(x, k, threads = 1L, fits = NULL) {
  r <- x$values$correlations
  p <- ncol(r)
  df <- core_degrees_of_freedom(p, k)
  known <- information_for(x, df, threads)
  blank <- no_measures()
  if (known$basis == "none") {
    told <- if (!isTRUE(known$told)) new_finding("no_test", known$why)
    return(list(measures = blank, finding = told))
  }
  normal <- known$basis == "normal"
  finding <- if (normal) new_finding("normal_theory", known$why)
  if (df <= 0) return(list(measures = blank, finding = finding))
  if (is.null(fits)) fits <- fits_for_tests(x, k, known$basis, threads)[[1L]]
  discrepancy <- fits$ml$discrepancy
  measures <- if (normal) {
    core_likelihood_fit(discrepancy, core_no_factor(r), p, k, known$n)
  } else {
    robust_measures(x, k, fits, known, df, threads)
  }
  if (is.na(measures$chi_square)) {
    finding <- new_finding("no_test", NOT_KNOWN_HOW_IT_VARIES)
  } else {
    measures$rests <- if (normal) "normal" else "people"
  }
  measures[c("aic", "bic")] <- likelihood_criteria(x, discrepancy, df)
  list(measures = measures[names(blank)], finding = finding)
}

# What is known, for a test of so many degrees of freedom: nothing of singular matrices, nor of
# fewer clusters than that.
information_for <- function(x, df, threads) {
  known <- information_of(x, threads)
  why <- if (x$values$smallest_eigenvalue < 1e-8) {
    "the matrix is singular"
  } else if (known$basis == "answers" && x_clustered(x) && known$units <= df) {
    sprintf("%s for %s", count_of(known$units, "cluster"), degrees_of(df))
  }
  if (!is.null(why)) known[c("basis", "why")] <- list("none", why)
  known
}

likelihood_criteria <- function(x, discrepancy, df) {
  if (!has_likelihood(x)) return(list(NA_real_, NA_real_))
  chi <- (x$values$people - 1) * discrepancy
  list(chi - 2 * df, chi - df * log(x$values$people))
}

NOT_KNOWN_HOW_IT_VARIES <- "how it varies from sample to sample cannot be told from these answers"

no_measures <- function() {
  list(chi_square = NA_real_, p = NA_real_, rests = NA_character_, rmsea = NA_real_,
    rmsea_lower = NA_real_, rmsea_upper = NA_real_, close_p = NA_real_, cfi = NA_real_,
    tli = NA_real_, aic = NA_real_, bic = NA_real_)
}

degrees_of <- function(df) sprintf("%s of freedom", count_of(df, "degree"))

x_clustered <- function(x) !is.null(x$values$cluster)

has_likelihood <- function(x) {
  kind_is(x$settings$kind, "core") == "pearson" &&
    !isTRUE(x$settings$weighted) &&
    !x_clustered(x) &&
    min(x$values$n_pair) == max(x$values$n_pair)
}

# Maximum likelihood with each number of factors, and least squares where the test is by these.
fits_for_tests <- function(x, factors, basis, threads) {
  methods <- c(if (basis == "answers") "minres", "ml")
  core_fits_for_tests(x$values$correlations, factors, methods, threads)
}

# The test: least squares, n times the sum of squared residual correlations, adjusted in mean and
# variance. What estimates the population's misfit: the likelihood's discrepancy less its mean.
robust_measures <- function(x, k, fits, known, df, threads) {
  r <- x$values$correlations
  n <- known$n
  ml <- fits$ml
  residuals <- (r - tcrossprod(fits$minres$loadings))[upper.tri(r)]
  of_squares <- traces_of(known, "squares", x, fits$minres$loadings, threads)
  # (of unrelated items both weigh all pairs alike)
  weighs <- if (k) "likelihood" else "squares"
  of_likelihood <- traces_of(known, weighs, x, ml$loadings, threads)
  if (is.null(of_squares) || is.null(of_likelihood)) return(no_measures())
  # least squares need about a quarter of what Bartlett takes off, the likelihood of polychoric
  # correlations twice as much, with weights and clusters once more for the people that they leave;
  # gaps of few people make both larger than the influences know: as samples of known populations
  # show (bench/tests.R, on others)
  by <- 1 + known$filled * if (x$settings$missing == "em") c(4, 5.5) else c(0, 2.5)
  squares <- n * sum(residuals^2) * (3 + core_bartlett_factor(n, ncol(r), k)) / 4 / by[1L]
  tested <- core_adjusted(squares, df, of_squares)
  corrected <- function(discrepancy, k) {
    small <- core_bartlett_factor(n, ncol(r), k)
    if (kind_is(x$settings$kind, "ordinal")) small <- small^2
    unlike <- isTRUE(x$settings$weighted) || x_clustered(x)
    if (unlike) small <- small * core_bartlett_factor(x$values$n, ncol(r), k)
    n * discrepancy * small / by[2L]
  }
  misfit <- core_adjusted(corrected(ml$discrepancy, k), df, of_likelihood)
  none <- corrected(core_no_factor(r), 0L) - sum(diag(known$gamma))
  c(list(chi_square = tested$chi_square, p = tested$p),
    core_robust_measures(misfit, df, none, ncol(r) * (ncol(r) - 1) / 2, n))
}

# Traces under the model, from parts that are made once for these correlations.
traces_of <- function(known, which, x, loadings, threads) {
  parts <- parts_of_information(known, which, x, threads)
  core_robust_traces(parts, if (ncol(loadings)) loadings, threads)
}

# What taking few answers for numbers changes: told once, where correlations are made.

# The least people at which polychoric correlations of two or three answers are recommended, and the
# change of a loading from which they are whatever the number of answers.
PEOPLE_FOR_POLYCHORIC <- 200L
LOADING_CHANGED <- 0.10
COARSE_DRAWS <- 100L

# Of Pearson correlations of items with four answers or fewer: the number of factors by sequential
# parallel analysis, and the loading that changes most, as polychoric correlations have them.
find_coarse <- function(answers, x, threads) {
  v <- x$values
  categories <- v$items$categories
  few <- which(!is.na(categories) & categories <= 4L & !v$items$item %in% x$source$measured)
  if (kind_is(x$settings$kind, "core") != "pearson" || !length(few)) return(NULL)
  compared <- compare_coarse(answers, x, threads)
  advised <- !is.null(compared) && is_advised(compared, min(categories[few]), v$n)
  new_finding("categories_as_numbers",
    if (length(few) == 1L) "1 item has" else paste(length(few), "items have"),
    name_culprits(v$items$item[few]), say_coarse(compared),
    if (advised) " Polychoric correlations are recommended: kind = \"polychoric\"." else "",
    severity = if (advised) "caution" else "note", value = length(few))
}

is_advised <- function(compared, least, n) {
  compared$pearson != compared$polychoric ||
    abs(compared$change) >= LOADING_CHANGED ||
    (least <= 3L && n >= PEOPLE_FOR_POLYCHORIC)
}

# NULL where polychoric correlations cannot be had, or factored.
compare_coarse <- function(answers, x, threads) {
  v <- x$values
  r <- v$correlations
  p <- ncol(r)
  found <- latent_of_answers(answers, x, threads)
  if (is.null(found)) return(NULL)
  latent <- found$correlations
  count <- function(r, n) core_sequential_number(r, n, COARSE_DRAWS, 1, threads)
  pearson <- count(r, v$n)
  polychoric <- count(latent, max(p + 1, floor(v$n * core_mean_information(found$thresholds))))
  k <- max(1L, min(pearson, polychoric))
  changed <- core_largest_change(r, latent, k, 1, threads)
  list(pearson = pearson, polychoric = polychoric, change = changed$change,
    item = v$items$item[changed$item], factors = k)
}

# Polychoric correlations of the same people, where they can be had and factored.
latent_of_answers <- function(answers, x, threads) {
  v <- x$values
  if (!can_be_compared(v)) return(NULL)
  weights <- scaled_weights(v$questionnaire)
  if (x$settings$missing == "complete") {
    answers <- answers[stats::complete.cases(answers), , drop = FALSE]
    weights <- NULL
  }
  found <- cpp_table_correlations(answers, "polychoric", weights, TRUE, threads, NULL)
  latent <- found$correlations
  usable <- !is.null(latent) && !anyNA(latent) && core_smallest_eigenvalue(latent) > 1e-6
  if (usable) found
}

can_be_compared <- function(v) {
  p <- ncol(v$correlations)
  categories <- v$items$categories
  tabled <- !anyNA(categories) && all(categories <= 16L)
  tabled && p > 3L && v$n > p && v$smallest_eigenvalue > 1e-8
}

say_coarse <- function(compared) {
  if (is.null(compared)) {
    return("Polychoric correlations of these cannot be factored, so that nothing is compared.")
  }
  number <- if (compared$pearson == compared$polychoric) {
    sprintf("the number of factors stays (%d by sequential parallel analysis)", compared$pearson)
  } else {
    sprintf("the number of factors changes from %d to %d (sequential parallel analysis)",
      compared$pearson, compared$polychoric)
  }
  sprintf(
    "As polychoric correlations %s, and the loading that changes most (%s, of %s) does so by %s.",
    number, compared$item, count_of(compared$factors, "factor"), format_unit(compared$change))
}
