# One scale: its coefficients from covariances and from tables of categories, its items, what can be
# assumed of it, and its split halves.
assess_scale <- function(given, name, level, seed, threads) {
  at <- which(given$scale_of == match(name, names(given$members)))
  s <- given$covariances[at, at, drop = FALSE]
  items <- given$items[at, ]
  k <- length(at)
  split <- if (k > 1L) {
    cpp_greatest_split(s, seed)
  } else {
    list(value = NA_real_, signs = integer(), exact = TRUE)
  }
  n <- pairs_n(given$correlations$values$n_pair, items$item,
    given$correlations$values$effective_share)
  list(name = name, items = items, at = at, covariances = s, n = n, split = split,
    measured = measure_scale(s, split$signs, ordinal_measures(given, at, threads)),
    rows = item_rows(given, name, at, s),
    against = items$item[core_running_against(core_standardised(s))],
    assumptions = check_assumptions(given, at, n, seed, threads),
    halves = if (k > 2L) cpp_split_halves(s, 100000L, seed))
}

# Categorical omega and ordinal alpha from the tables of the answers; NA without answers, or with
# too many categories.
ordinal_measures <- function(given, at, threads) {
  none <- c(categorical_omega = NA_real_, ordinal_alpha = NA_real_)
  if (length(at) < 2L || given$correlations$settings$missing == "em") return(none)
  found <- if (!is.null(given$tables)) {
    latent_of_counts(keep_counted(given$tables, given$items$item[at]), threads)
  } else if (!is.null(given$answers)) {
    x <- answers_used(given)[, at, drop = FALSE]
    cpp_table_correlations(x, "polychoric", weights_used(given), TRUE, threads, NULL)
  }
  if (is.null(found$correlations) || anyNA(found$correlations)) return(none)
  cpp_measure_ordinal(found$correlations, found$thresholds, lapply(found$values, diff))
}

# NULL where of an item only sums were kept.
latent_of_counts <- function(tables, threads) {
  counted <- counted_of(tables)
  if (any(vapply(counted$values, is.null, NA))) return(NULL)
  core_counted_tables(core_scaled_counts(counted), "polychoric", threads)
}

item_rows <- function(given, name, at, s) {
  items <- given$items[at, ]
  k <- length(at)
  without <- core_without_each(s)
  single <- k < 2L
  tibble::tibble(scale = name, item = items$item, wording = items$wording,
    reversed = items$reversed, mean = items$mean, sd = items$sd,
    item_rest = if (single) NA_real_ else unname(core_item_rest(s)),
    squared_multiple = if (single) NA_real_ else unname(core_item_smc(s)),
    loading = one_factor_loadings(s), alpha_without = without$alpha, omega_without = without$omega,
    discrimination = if (single || is.null(given$answers)) {
      NA_real_
    } else {
      cpp_discrimination(answers_used(given)[, at, drop = FALSE] + 0, cutoff("outer_parts"))
    })
}

one_factor_loadings <- function(s) {
  k <- ncol(s)
  if (k < 3L) return(rep(NA_real_, k))
  l <- as.numeric(
    cpp_search_uniquenesses(core_standardised(s), 1L, "minres", 0.005, 5L, TRUE, 0L, 1e-9,
      200L)$loadings)
  if (sum(l) < 0) -l else l
}

# The spread of the scales' scores (means of their items), their reliability and standard error of
# measurement: scale, people, sd, sem, reliability, coefficient; NA where people are too few.
precision_of_scales <- function(scales, data) {
  names <- unique(scales$values$scales$scale)
  unknown <- tibble::tibble(scale = names, people = NA_real_, sd = NA_real_, sem = NA_real_,
    reliability = NA_real_, coefficient = NA_character_)
  given <- tryCatch(gather_reliability(scales, data, 1L), softsieve_error = function(e) NULL)
  if (is.null(given)) return(unknown)
  rows <- lapply(seq_along(names), function(j) {
    at <- which(given$scale_of == j)
    s <- given$covariances[at, at, drop = FALSE]
    k <- length(at)
    sd <- sqrt(sum(s)) / k
    if (k == 1L) {
      own <- list(coefficient = NA_character_, reliability = NA_real_)
    } else {
      own <- reported_alone(given, at, s)
    }
    tibble::tibble(scale = names[j], people = given$correlations$values$people, sd = sd,
      sem = sd * sqrt(max(1 - own$reliability, 0)), reliability = own$reliability,
      coefficient = own$coefficient)
  })
  do.call(rbind, rows)
}

# The coefficient that assess_reliability() reports of a scale that nothing is compared with.
reported_alone <- function(given, at, s) {
  items <- given$items[at, ]
  measured <- c(
    cpp_measure_covariances(s, rep(1L, length(at)))[c("alpha", "standardised_alpha", "omega")],
    ordinal_measures(given, at, 1L))
  coarse <- any(items$categories <= 4L | abs(items$skewness) > cutoff("interval_skewness"),
    na.rm = TRUE)
  part <- list(items = items, measured = measured,
    assumptions = list(factors = NA, rmsea = NA, equal_p = NA, coarse = coarse))
  chosen <- choose_coefficient(part)$report
  list(coefficient = chosen, reliability = na_if_nan(measured[[chosen]]))
}
