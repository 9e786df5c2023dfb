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
  slopes <- cpp_times_slopes(diag(ncol(moved)), free$loadings)[, free$free, drop = FALSE]
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
