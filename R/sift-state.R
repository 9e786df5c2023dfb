# One pass: everything that rules look at, of the items that are left. Correlations are taken from
# those of all items (correlation-class.R), never from the answers again.

# What a pass knows of its items: a list of items, table (tibble), correlations, n, adequacy
# (overall, items), sphericity, number, number_by, stepped, communalities, loadings, home (which
# factor), errors (sift-state.R, or NULL), share (of the variance, explained), rmsr, gains, scales
# (tibble: scale, items, omega). The numbers are those of the stages; what these wrap around them is
# left out.
sift_state <- function(all, items, how) {
  part <- correlations_of_some(all, items)
  v <- part$values
  r <- v$correlations
  check_invertible(part)
  found <- number_of_pass(part, how)
  fit <- fit_pass(part, found$number, how)
  # a factor that explains nothing is more than the items carry
  while (is.null(fit)) {
    found$number <- found$number - 1L
    found$stepped <- TRUE
    fit <- fit_pass(part, found$number, how)
  }
  home <- home_factor(fit$loadings, 0)
  scales <- scales_of_pass(v, home, colnames(fit$loadings))
  c(
    list(items = items, table = v$items, correlations = r, n = v$n,
      adequacy = core_sampling_adequacy(r), sphericity = sphericity_of(part), number = found$number,
      number_by = found$by, stepped = found$stepped, home = home,
      errors = if (!isFALSE(how$by_limits)) errors_of_pass(part, fit, how), gains = scales$gains,
      scales = scales$table),
    fit)
}

# NULL where a factor is empty, else loadings (p x k, rotated), communalities, share explained and
# root mean square residual.
fit_pass <- function(part, k, how) {
  r <- part$values$correlations
  found <- if (how$components) {
    core_components(r, k)
  } else {
    weights <- if (EXTRACTIONS[[how$method]]$weights) {
      weights_of_correlations(part, "correlations")
    }
    # the last solution is searched from more places
    extract_by(how$method, r, k, 0.005, 2L, weights)
  }
  if (k > 1L && any(colSums(found$loadings^2) < 1e-10)) return(NULL)
  identity <- diag(k)
  turned <- core_order_and_reflect(found$loadings, identity, identity)
  left <- r - core_reproduced(turned$loadings, identity, 1 - rowSums(turned$loadings^2))
  communalities <- rowSums(turned$loadings^2)
  unrotated <- turned$loadings
  if (k > 1L && how$rotation != "none") {
    turned <- turn_loadings(turned$loadings, ROTATIONS[[how$rotation]], how$turning)$turned
  }
  loadings <- turned$loadings
  dimnames(loadings) <- list(colnames(r), plain_names(k, list(method = how$method)))
  list(loadings = loadings, communalities = unname(communalities),
    share = sum(communalities) / nrow(r), rmsr = core_residual_sizes(left)$rmsr,
    reproduced = r - left, unrotated = unrotated, transformation = turned$transformation)
}

# How many factors this pass takes: the number that is fixed, or what the rule finds in these
# items; never more than they can carry.
number_of_pass <- function(part, how) {
  p <- ncol(part$values$correlations)
  most <- if (how$components) p - 1L else core_most_factors(p)
  if (most < 1L) {
    stop_input("items", "Sifting needs at least three items that are left.",
      got = sprintf("%s came.", name_culprits(part$values$items$item)))
  }
  if (is.numeric(how$factors)) {
    wanted <- as.integer(how$factors)
    by <- "fixed"
  } else {
    found <- number_by_rule_of_pass(part, how)
    wanted <- max(1L, found$k)
    by <- found$by
  }
  list(number = min(wanted, most), by = by, stepped = wanted > most)
}

number_by_rule_of_pass <- function(part, how) {
  if (identical(how$factors, "probable")) {
    return(number_by_default(part, how$seed, how$threads, how$replicates))
  }
  asked <- list(part, seed = how$seed, threads = how$threads, replicates = how$replicates)
  list(k = call_with(parallel_analysis, asked)$values$suggested, by = "parallel analysis")
}

# The solution by the stages themselves: of the last pass.
solve_pass <- function(part, number, how) {
  common <- list(part, number, seed = how$seed, threads = how$threads)
  extracted <- if (how$components) {
    call_with(extract_components, common)
  } else {
    call_with(extract_factors, c(common, list(method = how$method)))
  }
  turning <- how$turning[c("oblique", "normalization", "seed", "threads")]
  asked <- c(list(extracted, how$rotation, starts = 100L), turning, how$turning$asked)
  call_with(rotate_factors, asked)
}

# Omega of each factor's items as a scale, and what each item would add to it by going.
scales_of_pass <- function(v, home, names) {
  sd <- ifelse(is.na(v$items$sd), 1, v$items$sd)
  s <- v$correlations * (sd %o% sd)
  gains <- rep(NA_real_, length(home))
  omega <- vapply(seq_along(names), function(j) {
    at <- which(home == j)
    if (length(at) < 2L) return(NA_real_)
    own <- s[at, at, drop = FALSE]
    omegas <- cpp_one_factor_omegas(own, length(at) > 3L)
    if (length(at) > 3L) gains[at] <<- omegas[-1L] - omegas[1L]
    omegas[1L]
  }, 0)
  table <- tibble::new_tibble(
    list(scale = names, items = tabulate(home, length(names)), omega = omega), nrow = length(names))
  list(gains = gains, table = table)
}

# How many standard errors a measure must lie beyond its limit: a one-sided limit of 95 %.
SURE <- 1.645

# Every item that breaks a rule, in the order of the rules, the worst of each first: rule, item,
# value, limit. Ties: the item with the smaller communality, then the later in the questionnaire.
offenders <- function(state, rules, components, by_limits = TRUE) {
  found <- lapply(rules, function(one) {
    if (!one$on) return(NULL)
    limit <- if (is.function(one$limit)) one$limit(components) else one$limit
    value <- as.numeric(one$measure(state, one$asked))
    stopifnot(length(value) == length(state$items))
    # as close as rounding comes is not a breach, nor is what the limits of the measure do not
    # settle
    error <- if (by_limits && !is.null(one$error)) one$error(state)
    reach <- if (is.null(error)) 0 else SURE * replace(error, is.na(error), 0)
    away <- if (one$breaks == "below") limit - value - reach else value - reach - limit
    hit <- which(away > 1e-9)
    hit <- hit[order(-round(away[hit], 9L), round(state$communalities[hit], 9L), -hit)]
    same <- function(x) rep(x, length(hit))
    list(rule = same(one$name), label = same(one$label), item = state$items[hit],
      value = value[hit], limit = same(limit), breaks = same(one$breaks), digits = same(one$digits))
  })
  found <- found[!vapply(found, is.null, NA)]
  columns <- c("rule", "label", "item", "value", "limit", "breaks", "digits")
  joined <- lapply(stats::setNames(nm = columns), function(name) {
    unlist(lapply(found, `[[`, name), use.names = FALSE)
  })
  if (!length(joined$item)) return(NULL)
  tibble::new_tibble(joined, nrow = length(joined$item))
}

# A measure as people read it.
show_measure <- function(value, digits) {
  if (digits == 0L) format_count(value) else format_unit(value, digits)
}

# How sure the measures of a pass are: standard errors of communalities and of the two largest
# loadings of each item.

# Samples that the errors rest on.
ERROR_DRAWS <- 60L

# A list of communality, first and second (p each), or NULL where nothing is known of the sampling
# errors. Correlations are drawn about those of the pass (from what people move them by, or of
# normal answers), loadings follow to the first order, and are turned again from where they are.
errors_of_pass <- function(part, fit, how) {
  if (how$components) return(NULL)
  moved <- drawn_correlations(part, how)
  if (is.null(moved)) return(NULL)
  k <- ncol(fit$unrotated)
  base <- fit$unrotated
  if (k > 1L && how$rotation != "none") base <- base %*% nearest_turn(fit$transformation)
  free <- core_free_loadings(base)
  slopes <- cpp_times_slopes(diag(ncol(moved)), free$loadings, 1L)[, free$free, drop = FALSE]
  root <- tryCatch(chol(crossprod(slopes)), error = function(e) NULL)
  if (is.null(root)) return(NULL)
  steps <- (moved %*% slopes) %*% chol2inv(root)
  # back to where the factors were
  back <- crossprod(free$loadings, base) # both of the same space
  back <- solve(crossprod(free$loadings), back)
  places <- two_largest(fit$loadings)
  places$loadings <- fit$loadings
  drawn <- lapply(seq_len(nrow(steps)), function(i) {
    away <- numeric(length(free$free))
    away[free$free] <- steps[i, ]
    (free$loadings + matrix(away, ncol = k, byrow = TRUE)) %*% back
  })
  drawn <- measures_of_draws(drawn, places, how)
  spread <- function(name) {
    values <- vapply(drawn, `[[`, numeric(nrow(base)), name)
    sqrt(rowMeans((values - rowMeans(values))^2) * ncol(values) / (ncol(values) - 1))
  }
  list(communality = spread("communality"), first = spread("first"),
    second = if (k > 1L) spread("second") else rep(NA_real_, nrow(base)))
}

measures_of_draws <- function(drawn, places, how) {
  turned <- drawn
  if (ncol(drawn[[1L]]) > 1L && how$rotation != "none") {
    turning <- utils::modifyList(how$turning, list(starts = 1L, threads = 1L))
    turned <- lapply(turn_each(drawn, ROTATIONS[[how$rotation]], turning, 1), function(one) {
      l <- one$shown$loadings
      # factors in the order of the pass
      l[, max.col(abs(crossprod(places$loadings, l)), ties.method = "first"), drop = FALSE]
    })
  }
  rows <- seq_len(nrow(drawn[[1L]]))
  Map(function(l, turned) {
    list(communality = rowSums(l^2), first = abs(turned[cbind(rows, places$first)]),
      second = if (ncol(l) > 1L) abs(turned[cbind(rows, places$second)]) else rows * NA_real_)
  }, drawn, turned)
}

# Where each item's largest loading in size is, and the second.
two_largest <- function(loadings) {
  size <- abs(loadings)
  first <- max.col(size, ties.method = "first")
  size[cbind(seq_len(nrow(size)), first)] <- -1
  list(first = first, second = max.col(size, ties.method = "first"))
}

# Their sizes; of one factor there is no second.
two_largest_sizes <- function(loadings) {
  size <- abs(loadings)
  rows <- seq_len(nrow(size))
  at <- two_largest(loadings)
  list(first = size[cbind(rows, at$first)],
    second = if (ncol(size) > 1L) size[cbind(rows, at$second)] else rows * NA_real_)
}

# Draws x q: how far correlations would be from those of the pass in other samples.
drawn_correlations <- function(part, how) {
  known <- information_of(part, how$threads)
  if (known$basis == "none") return(NULL)
  r <- part$values$correlations
  seed <- how$seed
  if (known$basis == "answers") {
    m <- nrow(known$rows)
    z <- cpp_normal_deviates(m, seed, 1L, ERROR_DRAWS)
    return(crossprod(z, known$rows) / sqrt(m * known$n))
  }
  root <- t(chol(r))
  n <- as.integer(known$n)
  t(vapply(seq_len(ERROR_DRAWS),
    function(i) (cpp_sample_correlations(n, root, seed, i) - r)[upper.tri(r)],
    numeric(sum(upper.tri(r)))))
}

# The orthogonal matrix that is nearest to a transformation.
nearest_turn <- function(transformation) {
  parts <- svd(transformation)
  parts$u %*% t(parts$v)
}
