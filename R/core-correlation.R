# Core: correlations of answers with missing values. `x` is a numeric matrix, people in rows, NA
# where an answer is missing; `weights` one number of at least 0 for each person, with mean 1, or
# NULL.
#
# Every way returns: correlations, covariances (or NULL), n_pair (people who answered both, p x p),
# means, sds, people (how many entered), standard_errors (p x p, or NULL), empty_cells and status
# (p x p, or NULL) and thresholds (a list, or NULL).

# `kind` is "pearson", "spearman", "polychoric" or "mixed"; `missing` is "pairwise",
# "complete" or "em". `ordered` shows which columns count as ordered categories under "mixed".
core_correlate <- function(x, kind, missing, weights, ordered, threads, progress = NULL) {
  if (missing == "complete") {
    whole <- stats::complete.cases(x)
    if (!all(whole)) {
      x <- x[whole, , drop = FALSE]
      weights <- weights[whole]
    }
  }
  if (length(weights) == 0L) weights <- NULL
  found <- if (missing == "em") {
    core_correlate_em(x, weights)
  } else if (kind == "mixed") {
    core_correlate_mixed(x, weights, ordered, threads, progress)
  } else {
    core_correlate_pairs(x, kind, weights, threads, progress)
  }
  if (is.null(found$people)) found$people <- sum(rowSums(!is.na(x)) > 0)
  core_dress(found, kind, colnames(x))
}

# Names for matrices, and standard errors where none came.
core_dress <- function(found, kind, items) {
  if (is.null(found$correlations)) return(found)
  if (kind == "pearson" && is.null(found[["em"]])) {
    diag(found$covariances) <- found$sds^2
  } else if (is.null(found[["em"]])) {
    found$covariances <- NULL
  }
  if (!kind %in% c("polychoric", "mixed")) {
    found[c("standard_errors", "empty_cells", "status", "thresholds")] <- NULL
  }
  for (part in c("correlations", "covariances", "n_pair", "standard_errors", "empty_cells",
    "status", "chi_square", "chi_df")) {
    if (!is.null(found[[part]])) dimnames(found[[part]]) <- list(items, items)
  }
  if (is.null(found$standard_errors)) {
    found$standard_errors <- core_pearson_error(found$correlations, found$n_pair, kind)
  }
  found
}

# By the pairwise tables where every item has at most 16 categories, by cross-products otherwise.
core_correlate_pairs <- function(x, kind, weights, threads, progress) {
  found <- cpp_table_correlations(x, kind, weights, TRUE, threads, progress)
  if (is.null(found$too_many)) return(c(found, core_table_moments(found$values, found$counts)))
  if (kind == "spearman") {
    found <- list(correlations = stats::cor(x, method = "spearman", use = "pairwise.complete.obs"),
      n_pair = crossprod(!is.na(x)))
    return(c(found, core_plain_moments(x, weights)))
  }
  counted <- core_sum_answers(x, weights, threads)
  moments <- core_sums_moments(counted)
  moments$categories <- apply(x, 2L, function(v) length(unique(v[!is.na(v)])))
  c(core_correlate_numbers(x, weights, counted$sums), moments)
}

# By sums; a value far from all others leaves no digit in the sums of pairs that it is outside of:
# these come from the answers.
core_correlate_numbers <- function(x, weights, sums) {
  found <- core_sums_correlations(sums)
  lost <- is.nan(found$correlations) & upper.tri(found$correlations) & found$n_pair > 1
  lost <- utils::head(which(lost, arr.ind = TRUE), 1e4L)
  for (i in seq_len(nrow(lost))) {
    two <- x[, lost[i, ]]
    w <- stats::complete.cases(two) * if (is.null(weights)) 1 else weights
    by <- colSums(w * two, na.rm = TRUE) / sum(w)
    two <- sweep(two, 2L, by)
    two[is.na(two)] <- 0
    s <- crossprod(two, w * two)
    at <- rbind(lost[i, ], rev(lost[i, ]))
    found$correlations[at] <- s[1L, 2L] / sqrt(s[1L, 1L] * s[2L, 2L])
    found$covariances[at] <- s[1L, 2L] / (sum(w) - 1)
  }
  found
}

# Mean, standard deviation (n - 1), skewness and number of categories of each item, from its
# distinct values and how many people (or what weight of them) gave each.
core_table_moments <- function(values, counts) {
  one <- function(v, w) {
    n <- sum(w)
    mean <- sum(w * v) / n
    c(mean, sqrt(sum(w * (v - mean)^2) / (n - 1)), core_skewness(v, w), length(v))
  }
  core_name_moments(mapply(one, values, counts))
}

core_plain_moments <- function(x, weights) {
  one <- function(i) {
    seen <- !is.na(x[, i])
    w <- if (is.null(weights)) rep(1, sum(seen)) else weights[seen]
    v <- x[seen, i]
    mean <- sum(w * v) / sum(w)
    c(mean, sqrt(sum(w * (v - mean)^2) / (sum(w) - 1)), core_skewness(v, w), length(unique(v)))
  }
  core_name_moments(vapply(seq_len(ncol(x)), one, numeric(4L)))
}

core_name_moments <- function(m) {
  list(means = m[1L, ], sds = m[2L, ], skewness = m[3L, ], categories = m[4L, ])
}

# The third standardised moment, sum w (v - mean)^3 / n over the 3/2 power of the second.
core_skewness <- function(v, w) {
  n <- sum(w)
  away <- v - sum(w * v) / n
  spread <- sum(w * away^2) / n
  if (isTRUE(spread > 0)) sum(w * away^3) / n / spread^1.5 else NA_real_
}

core_correlate_em <- function(x, weights) {
  fit <- cpp_em(x + 0, weights, 1e-8, 5000L)
  moments <- core_plain_moments(x, weights)
  if (fit$singular) return(c(list(correlations = NULL), moments))
  n <- sum(rowSums(!is.na(x)) > 0)
  covariances <- fit$covariances * n / (n - 1)
  sds <- sqrt(diag(covariances))
  list(correlations = covariances / (sds %o% sds), covariances = covariances,
    n_pair = crossprod(!is.na(x)), means = fit$means, sds = sds, skewness = moments$skewness,
    categories = moments$categories,
    em = fit[c("log_likelihood", "iterations", "converged", "means", "covariances")])
}

# Pearson between continuous items, polychoric between ordered ones, polyserial across.
core_correlate_mixed <- function(x, weights, ordered, threads, progress) {
  p <- ncol(x)
  items <- core_plain_moments(x, weights)
  blank <- matrix(NA_real_, p, p)
  found <- list(correlations = diag(p), n_pair = crossprod(!is.na(x)), standard_errors = blank,
    empty_cells = 0 * diag(p), status = 0 * diag(p), thresholds = vector("list", p),
    means = items$means, sds = items$sds, skewness = items$skewness, categories = items$categories)
  put <- function(rows, columns, part) {
    for (name in intersect(names(part),
      c("correlations", "standard_errors", "empty_cells", "status"))) {
      found[[name]][rows, columns] <<- part[[name]]
      found[[name]][columns, rows] <<- t(part[[name]])
    }
  }
  o <- which(ordered)
  k <- which(!ordered)
  found$category_values <- lapply(seq_len(p), function(i) if (ordered[i]) sort(unique(x[, i])))
  if (length(k) > 1L) {
    numbers <- x[, k, drop = FALSE]
    plain <- core_correlate_numbers(numbers, weights,
      core_sum_answers(numbers, weights, threads)$sums)
    put(k, k,
      c(plain["correlations"],
        list(standard_errors = core_pearson_error(plain$correlations, plain$n_pair, "pearson"))))
  }
  if (length(o) > 1L) {
    latent <- cpp_table_correlations(x[, o, drop = FALSE], "polychoric", weights, TRUE, threads,
      progress)
    put(o, o, latent)
    found$thresholds[o] <- latent$thresholds
  }
  if (length(o) && length(k)) {
    z <- sweep(sweep(x[, k, drop = FALSE], 2L, items$means[k]), 2L, items$sds[k], "/")
    z[is.na(z)] <- NaN
    across <- cpp_polyserial(z, x[, o, drop = FALSE], weights, threads)
    put(k, o, across)
    found$thresholds[o] <- across$thresholds
  }
  diag(found$correlations) <- 1
  found
}

# Large-sample standard errors: Pearson (1 - r^2) / sqrt(n - 1); Spearman the same times
# sqrt(1 + r^2 / 2) (Bonett & Wright 2000, Psychometrika 65, 23-28).
core_pearson_error <- function(correlations, n_pair, kind) {
  if (is.null(correlations)) return(NULL)
  error <- (1 - correlations^2) / sqrt(pmax(n_pair - 1, 0))
  if (kind == "spearman") error <- error * sqrt(1 + correlations^2 / 2)
  error
}

# Kish's (1965) effective share of the people when they count unequally: (sum w)^2 / (n sum w^2).
core_effective_share <- function(weights) {
  if (is.null(weights)) 1 else sum(weights)^2 / (length(weights) * sum(weights^2))
}

# Pairs of items (a matrix of two columns of indices) that agree up to `slack`.
core_identical_pairs <- function(correlations, slack = 1e-10) {
  which(abs(correlations) > 1 - slack & upper.tri(correlations), arr.ind = TRUE)
}

# Items that take part in a sum which does not vary: those with weight in an eigenvector of (nearly)
# 0.
core_dependent_items <- function(correlations, slack = 1e-8) {
  e <- eigen(correlations, symmetric = TRUE)
  which(rowSums(e$vectors[, e$values < slack, drop = FALSE]^2) > 1e-6)
}

# Covariances as correlations.
core_standardised <- function(covariances) {
  sd <- sqrt(diag(covariances))
  r <- covariances / (sd %o% sd)
  diag(r) <- 1
  r
}

core_smallest_eigenvalue <- function(correlations) {
  min(eigen(correlations, symmetric = TRUE, only.values = TRUE)$values)
}

# Core: the nearest correlation matrix.

# Higham (2002, IMA Journal of Numerical Analysis 22, 329-343): alternating projections, with
# Dykstra's correction, onto the positive semidefinite matrices and those with ones on the diagonal.
# Eigenvalues below `floor` times the largest are lifted to it at the end, so that the result can be
# inverted. Returns correlations, distance (Frobenius), largest_change, iterations, converged.
core_nearest_correlation <- function(correlations, floor = 1e-6, tolerance = 1e-9,
    max_iterations = 1000L) {
  y <- correlations
  correction <- 0 * y
  for (iteration in seq_len(max_iterations)) {
    before <- y
    shifted <- y - correction
    e <- eigen(shifted, symmetric = TRUE)
    x <- e$vectors %*% (pmax(e$values, 0) * t(e$vectors))
    correction <- x - shifted
    y <- (x + t(x)) / 2
    diag(y) <- 1
    if (max(abs(y - before)) < tolerance) break
  }
  e <- eigen(y, symmetric = TRUE)
  if (min(e$values) < floor * e$values[1L]) {
    y <- e$vectors %*% (pmax(e$values, floor * e$values[1L]) * t(e$vectors))
    y <- y / sqrt(diag(y) %o% diag(y))
  }
  dimnames(y) <- dimnames(correlations)
  change <- y - correlations
  list(correlations = (y + t(y)) / 2, distance = sqrt(sum(change^2)),
    largest_change = max(abs(change)), iterations = iteration,
    converged = iteration < max_iterations)
}

# Core: sums over the people who answered both items of a pair, and what follows from them.
# `counted` is what core-tally.R says, of which values (for their names), sums, cubes and origins
# matter here.

# The sums that correlations of many values follow from, of answers that are at hand.
core_sum_answers <- function(x, weights, threads) {
  p <- ncol(x)
  origins <- round(colMeans(x, na.rm = TRUE))
  origins[!is.finite(origins)] <- 0
  tally <- cpp_tally(integer(p), 1L, !is.null(weights), FALSE)
  cpp_tally_add(tally, x, vector("list", p), origins, weights, 0, threads)
  read <- cpp_tally_read(tally, threads)
  list(values = vector("list", p), sums = array(read$sums, c(p, p, 5L)), cubes = read$cubes[, 1L],
    origins = origins)
}

# Pearson correlations and covariances of pairs from their sums. They are moved to whole numbers
# near the means first, which leaves sums of whole numbers exact and takes nothing from the digits.
core_sums_correlations <- function(sums) {
  s <- core_moved_sums(sums)
  squares <- s$square - s$sum^2 / s$weight
  # (of a spread of less than this nothing is left of the digits)
  squares[squares < 1e-9 * c(sums[, , 4L])] <- NaN
  products <- s$product - s$sum * t(s$sum) / s$weight
  list(correlations = products / sqrt(squares * t(squares)),
    covariances = products / (s$weight - 1), n_pair = s$people)
}

core_moved_sums <- function(sums) {
  p <- dim(sums)[1L]
  parts <- lapply(1:5, function(part) matrix(sums[, , part], p))
  names(parts) <- c("people", "weight", "sum", "square", "product")
  s <- parts
  by <- round(s$sum / s$weight)
  by[!is.finite(by)] <- 0
  s$sum <- parts$sum - by * s$weight
  s$square <- parts$square - 2 * by * parts$sum + by^2 * s$weight
  s$product <- parts$product - by * t(parts$sum) - t(by) * parts$sum + by * t(by) * s$weight
  s$moved <- by
  s
}

core_sums_moments <- function(counted) {
  s <- core_moved_sums(counted$sums)
  n <- diag(s$weight)
  mean <- diag(s$sum) / n
  moved <- diag(s$moved)
  square <- diag(s$square) / n - mean^2
  # the third power about the mean, from that about the origin
  raw <- counted$sums[cbind(seq_along(n), seq_along(n), 3L)] / n
  raw_square <- counted$sums[cbind(seq_along(n), seq_along(n), 4L)] / n
  cube <- counted$cubes / n - 3 * raw * raw_square + 2 * raw^3
  list(means = mean + moved + counted$origins, sds = sqrt(pmax(0, square) * n / (n - 1)),
    skewness = ifelse(square > 0, cube / square^1.5, NA_real_),
    categories = vapply(counted$values, function(v) if (is.null(v)) NA_integer_ else length(v), 0L,
      USE.NAMES = FALSE))
}
