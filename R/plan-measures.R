# Samples of a plan, and what is measured of each by the kernels of the stages.

# What 50,000 people of the design show.
target_of <- function(how) {
  # (what clusters and blocks cost is an error, and none of the target's)
  design <- utils::modifyList(how$design, list(clusters = NULL, blocks = NULL))
  known <- list(loadings = design$loadings)
  r <- correlate_sample(simulate_answers(design, PEOPLE_OF_TARGET, how$seed, 0L), how)
  known <- solve_samples(list(r), known, how)[[1L]]
  if (is.null(known)) {
    stop_input("plan", "The design must have a solution with its own number of factors.",
      got = "Fifty thousand simulated people had none.")
  }
  home <- home_factor(known$loadings, 0)
  known$home <- home
  dimnames(known$loadings) <- dimnames(design$loadings)
  known$omega <- omegas_of(r, home, ncol(known$loadings))
  known$determinacy <- determinacies_of(known, r)
  known$crossings <- crossings_of(known, how)
  known$breaks <- broken_rules(looked_at(known$loadings, known$between))[, 1L]
  known
}

PEOPLE_OF_TARGET <- 50000L

# A cross-loading of each factor's median item on each other factor: `slope` is how much of it the
# rotation leaves there (it turns towards what crosses, the more the fewer items a factor has).
CROSSING <- 0.2
crossings_of <- function(known, how) {
  l <- known$loadings
  asked <- expand.grid(item = median_items(l, known$home), factor = seq_len(ncol(l)))
  asked <- asked[asked$factor != known$home[asked$item], ]
  at <- as.matrix(asked)
  each <- lapply(seq_len(nrow(at)), function(i) {
    l[at[i, , drop = FALSE]] <- l[at[i, , drop = FALSE]] + CROSSING
    r <- l %*% known$between %*% t(l)
    if (max(diag(r)) < 0.98) `diag<-`(r, 1) else NULL
  })
  fine <- which(lengths(each) > 0L)
  slope <- rep(NA_real_, nrow(at))
  slope[fine] <- unlist(Map(function(one, i) {
    if (is.null(one)) return(NA_real_)
    (one$loadings[at[i, , drop = FALSE]] - l[at[i, , drop = FALSE]]) / CROSSING
  }, solve_samples(each[fine], known, how), fine))
  list(at = at, slope = ifelse(slope > 0.1, slope, NA_real_))
}

# Shares of samples (or of items, mean over samples), and errors.
PLAN_SHARES <- c(right_number = "the most probable number of factors is right",
  right_parallel = "parallel analysis finds the number of factors",
  factors_found = "every factor is found (congruence .95)", improper = "a solution is improper",
  astray = "items that load most on another factor",
  sifted_wrongly = "good items that break a rule of sifting",
  weak_kept = "weak items that break no rule of sifting",
  sphericity = "the items are seen to be related (sphericity)",
  close_fit = "close fit of the designed factors is not rejected",
  fewer_rejected = "close fit of one factor fewer is rejected")
PLAN_ERRORS <- c(loading_error = "error of loadings", communality_error = "error of communalities",
  correlation_error = "error of factor correlations", omega_error = "error of omega",
  determinacy_error = "error of determinacies",
  cross_loading = "cross-loading that 8 of 10 samples tell from 0",
  omega_width = "width of 95 % limits of omega")
# Means over samples.
PLAN_MEANS <- c(congruence = "congruence of factors with their own",
  loading_bias = "bias of each item's largest loading", communality_bias = "bias of communalities",
  correlation_bias = "bias of factor correlations", omega_bias = "bias of omega")
PLAN_MEASURES <- c(PLAN_SHARES, PLAN_ERRORS, PLAN_MEANS)

# What parallel analysis compares each sample with: drawn once, for answers like those of the first.
chance_limits <- function(n, how) {
  correlations <- correlations_of_sample(simulate_answers(how$design, n, how$seed, 0L), how)
  if (is.null(correlations)) return(rep(Inf, nrow(how$design$loadings)))
  parallel_analysis(correlations, replicates = 500L, seed = how$seed,
    threads = how$threads)$values$eigenvalues$chance_upper
}

# Samples first + 1, ... of a plan's payload: of each its `measures` (a named vector), and of its
# solution, where it has one, the loadings and what rules of sifting look at.
measured_in_range <- function(first, count, payload, threads, progress) {
  how <- c(payload$how, list(threads = threads))
  done <- 0L
  each <- list()
  while (done < count) {
    some <- seq(first + done + 1L, first + min(count, done + SAMPLES_AT_ONCE))
    each <- c(each, measure_samples(how, payload$n, some, payload$chance))
    done <- length(each)
    progress(done)
  }
  each
}

SAMPLES_AT_ONCE <- 24L

measure_samples <- function(how, n, replicates, chance) {
  target <- how$target
  k <- ncol(target$loadings)
  answers <- lapply(replicates, function(i) simulate_answers(how$design, n, how$seed, i))
  each <- lapply(answers, correlate_sample, how)
  fine <- vapply(each, function(r) all(is.finite(r)), NA)
  people <- vapply(answers, people_for_tests, 0)
  numbers <- probable_numbers(each[fine], people[fine], how)
  solved <- solve_samples(each[fine], target, how)
  asked <- asked_measures(how)
  names <- c(setdiff(names(PLAN_MEASURES), OF_ALL_SAMPLES), names(asked),
    paste0("omega.", seq_len(k)))
  # (where nothing can be analysed, nothing is found)
  none <- stats::setNames(rep(NA_real_, length(names)), names)
  never <- c("right_parallel", "factors_found", if (how$kind == "pearson") TESTS_OF_PLANS,
    setdiff(names(asked), names(COVERED)))
  none[never] <- 0
  none["improper"] <- 1
  apply <- probabilities_apply(people, nrow(target$loadings))
  out <- lapply(apply, function(known) {
    list(measures = replace(none, "right_number", if (known) 0 else NA_real_))
  })
  out[fine] <- Map(function(x, r, n, number, one) {
    above <- eigen(r, symmetric = TRUE, only.values = TRUE)$values > chance
    by_parallel <- match(FALSE, above, nomatch = length(above) + 1L) - 1L
    got <- c(right_number = as.numeric(number == k), right_parallel = as.numeric(by_parallel == k),
      if (how$kind == "pearson") tests_of(r, k, n), measures_of_solution(one, r, target),
      if (length(asked)) measures_asked(x, k, how))
    list(measures = stats::setNames(got[names], names), loadings = one$loadings,
      looks = if (!is.null(one)) looked_at(one$loadings, one$between))
  }, answers[fine], each[fine], people[fine], numbers, solved)
  out
}

# Measures that take all samples.
OF_ALL_SAMPLES <- c("omega_width", "cross_loading", "sifted_wrongly", "weak_kept")

# Sphericity, and close fit of k factors and of one fewer by maximum likelihood and normal theory,
# as of a Pearson matrix from so many people; none of one that had to be repaired.
TESTS_OF_PLANS <- c("sphericity", "close_fit", "fewer_rejected")
tests_of <- function(r, k, n) {
  if (core_smallest_eigenvalue(r) < 1e-5) return(NULL)
  close_p <- function(k) {
    if (core_degrees_of_freedom(ncol(r), k) <= 0) return(NA_real_)
    f <- if (k == 0L) core_no_factor(r) else tryCatch(extract_by("ml", r, k, 0.005)$discrepancy,
      error = function(e) NA_real_)
    core_close_p(f, ncol(r), k, n)
  }
  c(sphericity = as.numeric(core_sphericity(r, n)$p < 0.05),
    close_fit = as.numeric(close_p(k) >= 0.05), fewer_rejected = as.numeric(close_p(k - 1L) < 0.05))
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
  apply <- which(probabilities_apply(n, p) & vapply(each, core_smallest_eigenvalue, 0) > 1e-10)
  if (!length(apply)) return(out)
  model <- retention_model()
  most <- min(model$limits$factors - 1L, core_most_factors(p) - 1L, p - 3L)
  features <- cpp_features(unlist(each[apply]), p, as.integer(n[apply]),
    kind_is(how$kind, "ordinal"), most, min(most + 2L, core_most_factors(p)), how$threads)
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
  average <- function(x) if (all(is.na(x))) NA_real_ else mean(x, na.rm = TRUE)
  square <- function(x, y) average((x - y)^2)
  # (above 0: further from 0 than it is)
  beyond <- function(x, y) average(sign(y) * (x - y))
  largest <- cbind(seq_along(home), target$home)
  found <- min(one$congruence) >= cutoff("factor_equal")
  c(factors_found = as.numeric(found), improper = as.numeric(one$improper),
    loading_error = square(one$loadings, target$loadings),
    communality_error = square(common(one), common(target)),
    correlation_error = square(one$between[above], target$between[above]),
    omega_error = square(omega, target$omega),
    determinacy_error = square(determinacies_of(one, r), target$determinacy),
    congruence = mean(one$congruence),
    loading_bias = beyond(one$loadings[largest], target$loadings[largest]),
    communality_bias = mean(common(one) - common(target)),
    correlation_bias = beyond(one$between[above], target$between[above]),
    omega_bias = average(omega - target$omega), astray = mean(home != target$home),
    stats::setNames(omega, paste0("omega.", seq_along(omega))))
}

# The correlation of each factor with its regression scores: sqrt(diag(P L' R^-1 L P)); 1 at most.
determinacies_of <- function(one, r) {
  structure <- one$loadings %*% one$between
  pmin(1, sqrt(colSums(structure * core_score_weights(r, structure))))
}

# Of the scale of each factor's items; NA for fewer than three.
omegas_of <- function(r, home, k) {
  vapply(seq_len(k), function(f) {
    at <- which(home == f)
    if (length(at) < 3L) return(NA_real_)
    cpp_measure_covariances(r[at, at], rep(1L, length(at)))[["omega"]]
  }, 0)
}

# What so many people could not show of the design, for each number of people.
plan_hidden <- function(how) {
  target <- how$target
  l <- target$loadings
  named <- list(factor = colnames(how$design$loadings), item = rownames(how$design$loadings))
  stack_rows(lapply(how$people, function(n) {
    # (products of two items go together within clusters by the square of what an item does)
    alike <- how$design$clusters
    of_clusters <- if (is.null(alike)) 1 else 1 + (alike[["size"]] - 1) * alike[["intraclass"]]^2
    answers <- simulate_answers(how$design, n, how$seed, 0L)
    noise <- people_for_tests(answers)
    if (how$kind != "pearson") {
      correlations <- correlations_of_sample(answers, how)
      noise <- if (is.null(correlations)) 0 else noise_of(correlations, noise)
    }
    noise <- as.integer(noise / of_clusters)
    none <- tibble_of(people = n, factor = named$factor, items = tabulate(target$home, ncol(l)),
      hides_from = NA_real_, further = NA_real_, known = FALSE)
    if (length(beyond_the_probabilities(n, noise, nrow(l), ncol(l)))) return(none)
    asked <- list(people = n, noise = noise, latent = kind_is(how$kind, "ordinal"), share = 0.8,
      items = 4L, loadings = c(0.4, 0.5, 0.6), samples = 60L, seed = how$seed,
      threads = how$threads)
    found <- look_for_hidden(l, target$between, core_communalities(l, target$between), target$home,
      asked, named)
    none$hides_from <- found$splits$hides_from
    none$further <- c(found$further$loading[found$further$shown >= asked$share], NA_real_)[1L]
    none$known <- TRUE
    none
  }))
}
