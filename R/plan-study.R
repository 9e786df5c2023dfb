#' How many people are needed: before anybody has answered
#'
#' Simulates answers of so many people from a design, and sends each set through the stages that
#' real answers go through: Pearson correlations, the number of factors, minimum residuals, oblimin.
#' `plan_study()` says what so many people give; `people_needed()` searches the fewest who give what
#' is asked for.
#'
#' @param design From [planned_factors()].
#' @param people How many people, one or several numbers from 50 on.
#' @param replicates How many samples of each size, from 20 on; or `"enough"`: until shares are
#'   known to a Monte Carlo standard error of .01 and errors to one of 2.5 % (for
#'   `people_needed()`: until every wish is met or missed by two of its standard errors, or known
#'   as well as that), 5,000 at most.
#' @param seed,threads As in [parallel_analysis()].
#' @return An object of class `study_plan` ([softsieve-result]); `values` holds
#'   * `measures`: tibble, one row for each number of people and measure: `people`, `measure`,
#'     `value`, `error` (Monte Carlo standard error), `label`. Shares of samples: `right_number`
#'     (the most probable number of [count_factors()] is the designed one; `NA` where its
#'     probabilities do not apply), `right_parallel` (the same of parallel analysis against the 95th
#'     percentile of 500 sets of unrelated normal items), `factors_found` (every factor has a
#'     congruence of .95 or more with its own), `improper` (an item without anything of its own, or
#'     no end of the search). Root mean squares over items or factors: `loading_error`,
#'     `communality_error`, `correlation_error` (factor correlations), `omega_error` (of the scales
#'     that items form by their largest loading), `determinacy_error` (the correlation of each
#'     factor with its regression scores). `astray`: the share of items that load most on another
#'     factor. `omega_width`: how wide 95 % limits of omega are, 3.92 times its standard deviation
#'     over samples (mean over scales). `samples`: how many were drawn.
#'     `people_needed()` adds `wish`, and `enough`: is it the number needed?;
#'   * `needed` (`people_needed()`): tibble, one row for each wish: `measure`, `wish`, `value` and
#'     `error` at that many people, `binds` (does it fail at the next smaller number tried?), and
#'     `people`; `lower` and `upper` are the largest number tried that misses, and the smallest that
#'     meets, all wishes by more than two Monte Carlo standard errors (`NA`: none was tried);
#'   * `alternatives` (`people_needed(alternatives = TRUE)`): tibble, one row for each design:
#'     `design` (in words), `items`, `people` (needed for the same wishes; `NA`: `most` are too few)
#'     and `saved` (people fewer than by the design as it is);
#'   * `design`, `target` (loadings, factor correlations, determinacies and omega that 50,000 people
#'     of the design give: what errors are measured against) and `sentences`.
#' @section What is compared: Answers with few categories correlate less than what is behind them,
#'   and careless people make all correlations smaller, so the design's loadings are not what many
#'   people would show. Errors are from what 50,000 people of the same design show, to within about
#'   .005.
#' @section Errors: `softsieve_error_plan` (the design, or wishes that no number of people meets).
#' @family planning
#' @examples
#' design <- planned_factors(factors = 2, items = 5, loadings = c(0.5, 0.7))
#' plan_study(design, people = c(100, 300), replicates = 20, seed = 1)
#' @export
plan_study <- function(design, people = c(100, 200, 400, 800), replicates = 500L, seed = NULL,
    threads = NULL) {
  how <- settle_plan(design, people, replicates, seed, threads)
  measures <- with_progress("Samples", length(how$people) * how$replicates, function(progress) {
    stack_rows(lapply(seq_along(how$people), function(i) {
      before <- (i - 1) * how$replicates
      measure_size(how, how$people[i], function(done) progress(before + done))
    }))
  })
  new_plan(how, measures, NULL, match.call())
}

settle_plan <- function(design, people, replicates, seed, threads) {
  design <- check_planned(design)
  if (!checkmate::test_integerish(people, lower = 50, upper = 1e5, any.missing = FALSE,
    min.len = 1L, max.len = 50L)) {
    stop_input("argument", "`people` must be whole numbers from 50 to 100,000.",
      got = describe_value(people))
  }
  enough <- identical(replicates, "enough")
  how <- list(design = design, people = sort(unique(as.integer(people))), replicates = if (enough) {
    MOST_SAMPLES
  } else {
    check_whole(replicates, "replicates", 20L, 1e5)
  }, enough = enough, seed = settle_seed(seed), threads = settle_threads(threads))
  too_few <- how$people <= nrow(design$loadings)
  if (any(too_few)) {
    stop_input("plan", "There must be more people than items.",
      got = sprintf("%s for %s.", count_of(how$people[1L], "person", "people"),
        count_of(nrow(design$loadings), "item")))
  }
  how$target <- target_of(how)
  how
}

# Samples where they are to be enough: at most, and after how many it is looked.
MOST_SAMPLES <- 5000L
LOOK_AGAIN <- 96L

# The design, looked at again: it may have been edited.
check_planned <- function(design) {
  if (!inherits(design, "planned_factors")) {
    stop_input("class", "`design` must come from planned_factors().", got = describe_value(design))
  }
  d <- unclass(design)
  call_with(planned_factors, c(list(pattern = d$loadings, correlations = d$factor_correlations),
    d[c("answers", "lean", "missing", "careless")]))
}

# What 50,000 people of the design show.
target_of <- function(how) {
  design <- how$design
  known <- list(loadings = design$loadings)
  x <- simulate_answers(design, PEOPLE_OF_TARGET, how$seed, 0L)
  r <- stats::cor(x, use = "pairwise.complete.obs")
  known <- solve_samples(list(r), known, how)[[1L]]
  if (is.null(known)) {
    stop_input("plan", "The design must have a solution with its own number of factors.",
      got = "Fifty thousand simulated people had none.")
  }
  home <- home_factor(known$loadings, 0)
  known$home <- home
  known$omega <- omegas_of(r, home, ncol(known$loadings))
  known$determinacy <- determinacies_of(known, r)
  known
}

PEOPLE_OF_TARGET <- 50000L

# Answers of n people; the stream is that of (seed, n, replicate), and R's own goes on as if nothing
# had been drawn.
simulate_answers <- function(design, n, seed, replicate) {
  kept <- globalenv()$.Random.seed
  kind <- RNGkind()
  on.exit({
    RNGkind(kind[1L], kind[2L], kind[3L])
    if (is.null(kept)) {
      rm(".Random.seed", envir = globalenv())
    } else {
      assign(".Random.seed", kept, envir = globalenv())
    }
  })
  set.seed((seed * 1000003 + n * 7919 + replicate * 104729) %% .Machine$integer.max,
    "Mersenne-Twister", "Inversion", "Rejection")
  l <- design$loadings
  p <- nrow(l)
  common <- matrix(stats::rnorm(n * ncol(l)), n) %*% chol(design$factor_correlations)
  own <- sqrt(1 - core_communalities(l, design$factor_correlations))
  x <- tcrossprod(common, l) + matrix(stats::rnorm(n * p), n) * rep(own, each = n)
  at_random <- which(stats::runif(n) < design$careless)
  if (design$answers > 0L) {
    cuts <- seq(-1.5, 1.5, length.out = design$answers - 1L)
    if (design$answers == 2L) cuts <- 0
    x[] <- findInterval(x + design$lean, cuts) + 1
    x[at_random, ] <- sample.int(design$answers, length(at_random) * p, replace = TRUE)
  } else {
    x[at_random, ] <- stats::rnorm(length(at_random) * p)
  }
  if (design$missing > 0) x[stats::runif(n * p) < design$missing] <- NA
  x
}

# All measures of one number of people. Where samples are to be enough they end when `wishes` are
# decided, or everything is known.
measure_size <- function(how, n, progress, wishes = NULL) {
  chance <- chance_limits(n, nrow(how$design$loadings), how)
  done <- 0L
  each <- list()
  repeat {
    some <- seq(done + 1L, min(how$replicates, done + SAMPLES_AT_ONCE))
    each <- c(each, measure_samples(how, n, some, chance))
    done <- max(some)
    progress(done)
    looks <- how$enough && done %% LOOK_AGAIN == 0L
    measures <- if (looks || done == how$replicates) sum_up(each, n)
    if (done == how$replicates || (looks && is_enough(measures, wishes))) return(measures)
  }
}

is_enough <- function(measures, wishes) {
  of_share <- !grepl("_error$|_width$", measures$measure)
  known <- measures$error <= ifelse(of_share, 0.01, 0.025 * measures$value)
  decided <- rep(FALSE, length(known))
  if (length(wishes)) {
    at <- match(names(wishes), measures$measure)
    known <- known[at]
    decided <- abs(measures$value[at] - wishes) > 2 * measures$error[at]
  }
  all(known | decided | is.na(known))
}

# The samples' measures as rows of a table.
sum_up <- function(each, n) {
  all <- do.call(rbind, each)
  omegas <- all[, startsWith(colnames(all), "omega."), drop = FALSE]
  rows <- lapply(setdiff(names(PLAN_MEASURES), "omega_width"), function(name) {
    known <- mean_and_error(all[!is.na(all[, name]), name], squared = grepl("_error$", name))
    tibble_of(people = n, measure = name, value = known[1L], error = known[2L],
      label = PLAN_MEASURES[[name]], samples = nrow(all))
  })
  width <- 2 * stats::qnorm(0.975) * mean(apply(omegas, 2L, stats::sd, na.rm = TRUE), na.rm = TRUE)
  if (is.nan(width)) width <- NA_real_
  # (the standard error of a standard deviation, over each scale as if alone)
  stack_rows(c(rows, list(tibble_of(people = n, measure = "omega_width", value = width,
    error = width / sqrt(2 * (nrow(all) - 1)), label = PLAN_MEASURES[["omega_width"]],
    samples = nrow(all)))))
}

# A share or a root mean square over samples, and its Monte Carlo standard error.
mean_and_error <- function(x, squared) {
  if (!length(x)) return(c(NA_real_, NA_real_))
  value <- mean(x)
  error <- if (length(x) > 1L) stats::sd(x) / sqrt(length(x)) else NA_real_
  if (squared) {
    # (squares were kept: the error of a root is that of the square over twice the root)
    value <- sqrt(value)
    return(c(value, if (value > 0) error / (2 * value) else 0))
  }
  if (isTRUE(error == 0)) {
    # (what all samples agree on is not known for sure: two more of each kind, Agresti & Coull
    # 1998, Am. Stat. 52, 119-126)
    near <- (sum(x) + 2) / (length(x) + 4)
    error <- sqrt(near * (1 - near) / (length(x) + 4))
  }
  c(value, error)
}

SAMPLES_AT_ONCE <- 24L

PLAN_MEASURES <- c(right_number = "the most probable number of factors is right",
  right_parallel = "parallel analysis finds the number of factors",
  factors_found = "every factor is found (congruence .95)", improper = "a solution is improper",
  loading_error = "error of loadings", communality_error = "error of communalities",
  correlation_error = "error of factor correlations", omega_error = "error of omega",
  determinacy_error = "error of determinacies", astray = "items that load most on another factor",
  omega_width = "width of 95 % limits of omega")

# What parallel analysis compares with.
chance_limits <- function(n, p, how) {
  drawn <- cpp_sample_eigenvalues(n, p, matrix(0, 0L, 0L), "components", 0L, 500L, how$seed,
    how$threads, NULL)
  apply(drawn, 1L, stats::quantile, 0.95, names = FALSE)
}

measure_samples <- function(how, n, replicates, chance) {
  target <- how$target
  k <- ncol(target$loadings)
  answers <- lapply(replicates, function(i) simulate_answers(how$design, n, how$seed, i))
  each <- lapply(answers, function(x) suppressWarnings(stats::cor(x, use = "pairwise")))
  fine <- vapply(each, function(r) {
    all(is.finite(r)) && min(eigen(r, symmetric = TRUE, only.values = TRUE)$values) > 1e-10
  }, NA)
  people <- vapply(answers[fine], people_for_tests, 0)
  numbers <- probable_numbers(each[fine], people, how)
  solved <- solve_samples(each[fine], target, how)
  names <- c(setdiff(names(PLAN_MEASURES), "omega_width"), paste0("omega.", seq_len(k)))
  found <- Map(function(r, number, one) {
    above <- eigen(r, symmetric = TRUE, only.values = TRUE)$values > chance
    by_parallel <- match(FALSE, above, nomatch = length(above) + 1L) - 1L
    got <- c(right_number = as.numeric(number == k), right_parallel = as.numeric(by_parallel == k),
      measures_of_solution(one, r, target))
    stats::setNames(got[names], names)
  }, each[fine], numbers, solved)
  # (where nothing can be analysed, nothing is found)
  none <- stats::setNames(rep(NA_real_, length(names)), names)
  none[c("right_parallel", "factors_found", "improper")] <- c(0, 0, 1)
  if (probabilities_apply(n, nrow(target$loadings))) none["right_number"] <- 0
  c(found, rep(list(none), sum(!fine)))
}

# How many people's complete answers would say as much: n_of_tests() of item correlations.
people_for_tests <- function(x) {
  if (!anyNA(x)) return(nrow(x))
  pair <- crossprod(!is.na(x))
  pair <- pair[upper.tri(pair)]
  floor(length(pair) / sum(1 / pair) + 1e-9)
}

probabilities_apply <- function(n, p) {
  limits <- retention_model()$limits
  n >= limits$people[1L] & n <= limits$people[2L] & n > p & p >= limits$items[1L] &
    p <= limits$items[2L]
}

# What the networks of count_factors() find most probable, of each with so many people; NA where
# they do not apply.
probable_numbers <- function(each, n, how) {
  p <- nrow(how$design$loadings)
  out <- rep(NA_integer_, length(each))
  apply <- which(probabilities_apply(n, p))
  if (!length(apply)) return(out)
  model <- retention_model()
  most <- min(model$limits$factors - 1L, core_most_factors(p) - 1L, p - 3L)
  features <- cpp_features(unlist(each[apply]), p, as.integer(n[apply]), FALSE, most,
    min(most + 2L, core_most_factors(p)), how$threads)
  z <- core_held_features(features, model)
  logits <- matrix(core_network_logits(z, model$members), most + 1L)
  far <- matrix(core_feature_distance(z, model), most + 1L)
  out[apply] <- vapply(seq_along(apply), function(i) {
    unlike <- core_unlikeness(logits[, i], far[, i])
    if (!is.finite(unlike) || unlike > model$unlike) return(NA_integer_)
    which.max(core_temper(logits[, i], unlike, model$temper)) - 1L
  }, 0L)
  out
}

# Minimum residuals and oblimin, as factor_solution() has them by default from fewer starts, the
# factors in the target's order; NULL where there is no solution.
solve_samples <- function(each, target, how) {
  k <- ncol(target$loadings)
  extracted <- lapply(each, function(r) {
    tryCatch(extract_by("minres", r, k, 0.005), error = function(e) NULL)
  })
  fine <- vapply(extracted, function(one) {
    !is.null(one) && all(is.finite(one$loadings)) && all(colSums(one$loadings^2) > 1e-10)
  }, NA)
  out <- vector("list", length(each))
  if (!any(fine)) return(out)
  loadings <- lapply(extracted[fine], `[[`, "loadings")
  turned <- if (k == 1L) {
    lapply(loadings, function(l) list(loadings = l, correlations = diag(1)))
  } else {
    turning <- settle_turning("oblimin", list(), 4L, how$seed, how$threads)
    lapply(turn_each(loadings, ROTATIONS$oblimin, turning, 1), `[[`, "turned")
  }
  out[fine] <- Map(function(one, e) {
    found <- core_aligned(one$loadings, target$loadings)
    between <- one$correlations[found$column, found$column, drop = FALSE] *
      (found$sign %o% found$sign)
    list(loadings = found$loadings, between = between, congruence = found$congruence,
      improper = !e$converged || min(e$uniquenesses) <= 0.005 + 1e-6)
  }, turned, extracted[fine])
  out
}

measures_of_solution <- function(one, r, target) {
  if (is.null(one)) return(c(factors_found = 0, improper = 1))
  above <- upper.tri(target$between)
  common <- function(x) core_communalities(x$loadings, x$between)
  home <- home_factor(one$loadings, 0)
  omega <- omegas_of(r, target$home, ncol(target$loadings))
  square <- function(x, y) if (all(is.na(x - y))) NA_real_ else mean((x - y)^2, na.rm = TRUE)
  found <- min(one$congruence) >= cutoff("factor_equal")
  c(factors_found = as.numeric(found), improper = as.numeric(one$improper),
    loading_error = square(one$loadings, target$loadings),
    communality_error = square(common(one), common(target)),
    correlation_error = square(one$between[above], target$between[above]),
    omega_error = square(omega, target$omega),
    determinacy_error = square(determinacies_of(one, r), target$determinacy),
    astray = mean(home != target$home), stats::setNames(omega, paste0("omega.", seq_along(omega))))
}

# The correlation of each factor with its regression scores: sqrt(diag(P L' R^-1 L P)); 1 at most.
determinacies_of <- function(one, r) {
  structure <- one$loadings %*% one$between
  pmin(1, sqrt(colSums(structure * solve(r, structure))))
}

# Of the scale of each factor's items; NA for fewer than three.
omegas_of <- function(r, home, k) {
  vapply(seq_len(k), function(f) {
    at <- which(home == f)
    if (length(at) < 3L) return(NA_real_)
    cpp_measure_covariances(r[at, at], rep(1L, length(at)))[["omega"]]
  }, 0)
}
