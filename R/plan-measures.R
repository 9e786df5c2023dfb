# Samples of a plan, and what is measured of each by the kernels of the stages.

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
