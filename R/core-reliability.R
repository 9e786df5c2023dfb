# Core: reliability of sums. Coefficients of a covariance matrix are the compiled core's
# (core_reliability.h); here are intervals, items, tests and what follows from two scales or two
# waves.

# Each item against the others of its scale, from covariances (k x k): correlation with the sum of
# the others (corrected for overlap), and its squared multiple correlation with them.
core_item_rest <- function(covariances) {
  variances <- diag(covariances)
  with_rest <- rowSums(covariances) - variances
  rest_variance <- sum(covariances) - 2 * rowSums(covariances) + variances
  with_rest / sqrt(variances * rest_variance)
}

core_item_smc <- function(covariances) {
  root <- tryCatch(chol(covariances), error = function(e) NULL)
  if (is.null(root)) {
    rep(NA_real_, ncol(covariances))
  } else {
    1 - 1 / (diag(chol2inv(root)) * diag(covariances))
  }
}

# Alpha and omega without each item.
core_without_each <- function(covariances) {
  k <- ncol(covariances)
  if (k < 3L) return(list(alpha = rep(NA_real_, k), omega = rep(NA_real_, k)))
  without <- vapply(seq_len(k), function(i) {
    rest <- covariances[-i, -i, drop = FALSE]
    cpp_measure_covariances(rest, rep(1L, k - 1L))[c("alpha", "omega")]
  }, numeric(2L))
  list(alpha = unname(without["alpha", ]), omega = unname(without["omega", ]))
}

# Intervals of alpha. Feldt (1965, Psychometrika 30, 357-370): (1 - alpha) over 1 - its estimate is
# F with n - 1 and (n - 1)(k - 1) degrees of freedom. Bonett (2002, J. Educ. Behav. Stat. 27,
# 335-340): ln(1 - alpha) is normal with variance 2k / ((k - 1)(n - 2)). Delta (van Zyl, Neudecker &
# Nel 2000, Psychometrika 65, 271-280): normal answers, any covariances.
core_alpha_intervals <- function(alpha, covariances, n, level) {
  k <- ncol(covariances)
  tail <- (1 - level) / 2
  z <- stats::qnorm(1 - tail)
  feldt <- 1 - (1 - alpha) * stats::qf(c(1 - tail, tail), n - 1, (n - 1) * (k - 1))
  spread <- sqrt(2 * k / ((k - 1) * (n - 2)))
  bonett <- 1 - exp(log(1 - alpha) + c(1, -1) * z * spread)
  total <- sum(covariances)
  trace <- sum(diag(covariances))
  square <- covariances %*% covariances
  variance <- 2 * k^2 / (k - 1)^2 / total^3 *
    (total * (sum(diag(square)) + trace^2) - 2 * trace * sum(square)) / n
  rbind(feldt = feldt, bonett = bonett, delta = alpha + c(-1, 1) * z * sqrt(variance))
}

# Percentile and bias-corrected accelerated limits (Efron 1987, J. Am. Stat. Assoc. 82, 171-185) of
# each estimate, from its row of draws and of estimates without parts of the people; NA where fewer
# than 20 draws have a value.
core_bootstrap_limits <- function(estimates, draws, without, level) {
  tail <- c((1 - level) / 2, (1 + level) / 2)
  none <- list(error = NA_real_, percentile = c(NA_real_, NA_real_), bca = c(NA_real_, NA_real_))
  one <- function(estimate, draws, without) {
    draws <- draws[is.finite(draws)]
    b <- length(draws)
    if (b < 20L || !is.finite(estimate)) return(none)
    below <- (sum(draws < estimate) + sum(draws == estimate) / 2) / b
    bias <- stats::qnorm(min(max(below, 1 / (b + 1)), b / (b + 1)))
    away <- mean(without, na.rm = TRUE) - without[is.finite(without)]
    acceleration <- if (sum(away^2) > 0) sum(away^3) / (6 * sum(away^2)^1.5) else 0
    z <- stats::qnorm(tail)
    shifted <- stats::pnorm(bias + (bias + z) / (1 - acceleration * (bias + z)))
    list(error = stats::sd(draws), percentile = stats::quantile(draws, tail, names = FALSE),
      bca = stats::quantile(draws, shifted, names = FALSE))
  }
  lapply(stats::setNames(nm = names(estimates)), function(name) {
    if (!name %in% rownames(draws)) return(none)
    one(estimates[[name]], draws[name, ], without[name, ])
  })
}

# Equal loadings: one factor by maximum likelihood with all of them free and with one loading for
# all, S = l^2 11' + Psi. The difference of the chi-squares tests whether items are tau-equivalent
# (Joreskog 1971, Psychometrika 36, 109-133).
core_equal_loadings <- function(covariances, n) {
  k <- ncol(covariances)
  s <- covariances / mean(diag(covariances))
  free <- core_search_surely(core_standardised(s), 1L, "ml", rep(0.005, k), 5L)
  log_determinant <- as.numeric(determinant(s)$modulus)
  parts <- function(x) {
    sigma <- exp(x[1L]) + diag(exp(x[-1L]), k)
    inverse <- chol2inv(chol(sigma))
    list(sigma = sigma, inverse = inverse,
      value = as.numeric(determinant(sigma)$modulus) - log_determinant + sum(inverse * s) - k)
  }
  gradient <- function(x) {
    p <- parts(x)
    inner <- p$inverse - p$inverse %*% s %*% p$inverse
    c(sum(inner) * exp(x[1L]), diag(inner) * exp(x[-1L]))
  }
  common <- max(mean(s[upper.tri(s)]), 0.01)
  end <- stats::optim(c(log(common), log(pmax(diag(s) - common, 0.05))), function(x) parts(x)$value,
    gradient, method = "BFGS", control = list(maxit = 500L, reltol = 1e-13))
  df <- k * (k + 1) / 2 - k - 1
  chi <- (n - 1) * end$value
  free_chi <- (n - 1) * free$discrepancy
  difference <- max(chi - free_chi, 0)
  list(chi_square = chi, df = df, rmsea = sqrt(max(chi - df, 0) / (df * (n - 1))),
    free_chi_square = free_chi, free_df = df - (k - 1), difference = difference,
    difference_df = k - 1L, p = stats::pchisq(difference, k - 1L, lower.tail = FALSE))
}

# Equal alphas in independent groups: two by Feldt (1969, Psychometrika 34, 363-373). Of one group
# (1 - alpha) over 1 - its estimate is F with n - 1 and (n - 1)(k - 1) degrees of freedom (Feldt
# 1965), so that W = (1 - alpha_2)/(1 - alpha_1) of the estimates is the ratio of two such. More by
# Hakstian & Whalen (1976, Psychometrika 41, 219-231): (1 - alpha)^(-1/3) is about normal with
# variance 18 k (n - 1) / ((k - 1) (9n - 11)^2 (1 - alpha)^(2/3)), and its weighted squared
# deviations a chi-square.
core_equal_alphas <- function(alpha, n, k) {
  if (length(alpha) == 2L) {
    w <- (1 - alpha[2L]) / (1 - alpha[1L])
    below <- core_ratio_below(w, n - 1, (n - 1) * (k - 1))
    p <- min(2 * below, 2 - 2 * below, 1)
    return(list(statistic = w, df = n[1L] - 1, df2 = n[2L] - 1, p = p))
  }
  root <- (1 - alpha)^(-1 / 3)
  weight <- (k - 1) * (9 * n - 11)^2 * (1 - alpha)^(2 / 3) / (18 * k * (n - 1))
  statistic <- sum(weight * (root - sum(weight * root) / sum(weight))^2)
  list(statistic = statistic, df = length(alpha) - 1, df2 = NA_real_,
    p = stats::pchisq(statistic, length(alpha) - 1, lower.tail = FALSE))
}

# P(F_1 / F_2 <= w) of independent F with df[1], df2[1] and df[2], df2[2] degrees of freedom, over
# the quantiles of the second.
core_ratio_below <- function(w, df, df2) {
  inner <- function(u) stats::pf(w * stats::qf(u, df[2L], df2[2L]), df[1L], df2[1L])
  stats::integrate(inner, 0, 1, rel.tol = 1e-8)$value
}

# Equal loadings from what each unit's people do to them: `moves` (units x k, mean square n times
# the variance) of the loadings, n people, by Hotelling's (1931, Ann. Math. Stat. 2, 360-378) T^2 of
# the differences to one of them. F with k - 1 and units - k + 1 degrees of freedom. (T^2 is the
# same whichever one it is, and whatever the differences' units: so that no digits are lost it is
# the one that moves least, and each difference counts by its spread.) NA where differences follow
# from each other.
core_equal_by_moves <- function(loadings, moves, n) {
  k <- length(loadings)
  units <- nrow(moves)
  about <- which.min(apply(moves, 2L, stats::var))
  moved <- moves[, -about, drop = FALSE] - moves[, about]
  unit <- apply(moved, 2L, stats::sd)
  apart <- (loadings[-about] - loadings[about]) / unit
  square <- tryCatch(n * sum(apart * solve(stats::cor(moved), apart)), error = function(e) NA_real_)
  df <- k - 1L
  f <- square * (units - df) / (df * (units - 1))
  list(difference = square, difference_df = df,
    p = stats::pf(f, df, units - df, lower.tail = FALSE))
}

# Two waves of one score (n x 2, without missing answers): correlation, intraclass correlations of
# agreement and of consistency, single and mean of both, with intervals, and what one person must
# change by (McGraw & Wong 1996, Psychological Methods 1, 30-46; Bland & Altman 1996).
core_stability <- function(y, level) {
  n <- nrow(y)
  tail <- (1 - level) / 2
  rows <- rowMeans(y)
  columns <- colMeans(y)
  msr <- 2 * stats::var(rows)
  msc <- n * stats::var(columns)
  mse <- sum((y - outer(rows, columns, "+") + mean(y))^2) / (n - 1)
  r <- stats::cor(y[, 1L], y[, 2L])
  f <- msr / mse
  low <- f / stats::qf(1 - tail, n - 1, n - 1)
  high <- f * stats::qf(1 - tail, n - 1, n - 1)
  single <- (msr - mse) / (msr + mse + 2 / n * (msc - mse))
  both <- (msr - mse) / (msr + (msc - mse) / n)
  # degrees of freedom of the agreement form, by the single measure's a and b or the mean's
  satterthwaite <- function(a, b) (a * msc + b * mse)^2 / ((a * msc)^2 + (b * mse)^2 / (n - 1))
  v1 <- satterthwaite(2 * single / (n * (1 - single)),
    1 + 2 * single * (n - 1) / (n * (1 - single)))
  v2 <- satterthwaite(both / (n * (1 - both)), 1 + both * (n - 1) / (n * (1 - both)))
  agree_single <- function(v) {
    a <- stats::qf(1 - tail, n - 1, v)
    b <- stats::qf(1 - tail, v, n - 1)
    rest <- 2 * msc + (2 * n - 2 - n) * mse
    c(n * (msr - a * mse) / (a * rest + n * msr), n * (b * msr - mse) / (rest + n * b * msr))
  }
  agree_both <- function(v) {
    a <- stats::qf(1 - tail, n - 1, v)
    b <- stats::qf(1 - tail, v, n - 1)
    c(n * (msr - a * mse) / (a * (msc - mse) + n * msr),
      n * (b * msr - mse) / (msc - mse + n * b * msr))
  }
  estimate <- c(r, single, both, (msr - mse) / (msr + mse), (msr - mse) / msr)
  limits <- rbind(tanh(atanh(r) + c(-1, 1) * stats::qnorm(1 - tail) / sqrt(n - 3)),
    agree_single(v1), agree_both(v2), c((low - 1) / (low + 1), (high - 1) / (high + 1)),
    c(1 - 1 / low, 1 - 1 / high))
  sem <- sqrt(mse + max(msc - mse, 0) / n)
  list(
    coefficient = c("test_retest", "agreement_single", "agreement_mean", "consistency_single",
      "consistency_mean"),
    estimate = estimate, lower = limits[, 1L], upper = limits[, 2L], sem = sem,
    smallest_change = stats::qnorm(1 - tail) * sqrt(2) * sem, shift = diff(columns))
}

# How many times as many items a target reliability needs (Spearman 1910; Brown 1910).
core_lengthening <- function(reliability, target) {
  target * (1 - reliability) / (reliability * (1 - target))
}

# Of two scales' scores with standard deviations s, reliabilities rel and correlation r: the
# reliability of their difference (Lord 1963, in Harris, Problems in measuring change), and r
# without error (Spearman 1904).
core_difference <- function(s, rel, r) {
  product <- r * s[1L] * s[2L]
  (sum(s^2 * rel) - 2 * product) / (sum(s^2) - 2 * product)
}

# Which items run against the others of their scale: those whose reversal makes every item go with
# the rest. They are the fewer of the two signs in the first principal component, and only named
# when each of them correlates negatively with the others on average (below -.1), and when,
# reverse-scored, no item is left with a negative correlation with the rest. Indices; none where no
# such set is smaller than the others.
core_running_against <- function(r) {
  k <- ncol(r)
  if (k < 3L || anyNA(r)) return(integer())
  first <- eigen(r, symmetric = TRUE)$vectors[, 1L]
  fewer <- if (sum(first < 0) < k / 2) which(first < 0) else which(first > 0)
  if (!length(fewer) || length(fewer) >= k / 2) return(integer())
  sign <- replace(rep(1, k), fewer, -1)
  with_others <- rowMeans(r[fewer, -fewer, drop = FALSE])
  if (any(with_others > -0.1) || any(core_item_rest(r * (sign %o% sign)) <= 0)) integer() else fewer
}
