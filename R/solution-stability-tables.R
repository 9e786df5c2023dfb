# What people resampled say: tables of loadings, factor correlations, items, numbers of factors
# and halves.

# Loadings, correlations of factors, and items, with what the draws say of each.
stability_tables <- function(solution, drawn, kept, level) {
  v <- solution$values
  items <- v$items
  p <- nrow(v$loadings)
  k <- ncol(v$loadings)
  flat <- matrix(drawn$loadings[, , kept], p * k)
  found <- core_drawn_limits(flat, level)
  home <- max.col(abs(v$loadings), ties.method = "first")
  loadings <- tibble::tibble(item = rep(items$item, k),
    factor = rep(colnames(v$loadings), each = p), loading = as.numeric(v$loadings),
    standard_error = found$error, lower = found$lower, upper = found$upper,
    home = as.logical(col(v$loadings) == home), wording = rep(items$wording, k),
    reversed = rep(items$reversed, k))
  list(loadings = loadings,
    factor_correlations = between_factors(v$factor_correlations, drawn, kept, level),
    items = items_of_draws(items, v$loadings, home, drawn, kept, level))
}

between_factors <- function(r, drawn, kept, level) {
  pair <- which(upper.tri(r) & abs(r) > 1e-8, arr.ind = TRUE)
  k <- ncol(r)
  flat <- matrix(drawn$factor_correlations[, , kept], k * k)
  rows <- flat[(pair[, 2L] - 1L) * k + pair[, 1L], , drop = FALSE]
  found <- core_corrected_limits(rows, r[pair], level)
  tibble::tibble(factor = rownames(r)[pair[, 1L]], with = colnames(r)[pair[, 2L]],
    correlation = r[pair], standard_error = found$error, bias = found$bias, lower = found$lower,
    upper = found$upper)
}

items_of_draws <- function(items, loadings, home, drawn, kept, level) {
  p <- nrow(loadings)
  # one row for each item of each draw
  flat <- aperm(drawn$loadings[, , kept, drop = FALSE], c(1L, 3L, 2L))
  size <- abs(matrix(flat, ncol = ncol(loadings)))
  homes <- matrix(max.col(size, ties.method = "first"), p)
  stays <- rowMeans(homes == home)
  elsewhere <- vapply(seq_len(p), function(i) {
    other <- homes[i, homes[i, ] != home[i]]
    if (length(other)) colnames(loadings)[which.max(tabulate(other))] else NA_character_
  }, "")
  found <- core_drawn_limits(drawn$communalities[, kept, drop = FALSE], level)
  tibble::tibble(item = items$item, factor = colnames(loadings)[home], stays = stays,
    elsewhere = elsewhere, communality = items$communality, standard_error = unname(found$error),
    lower = unname(found$lower), upper = unname(found$upper), wording = items$wording,
    reversed = items$reversed)
}

# Chance levels for the noise that a draw has: those of one random half of the people.
chance_of_half <- function(solution, answers, units, seed, threads) {
  half <- cpp_draw_people(units$unit_of, units$stratum_of, seed, 0, TRUE) > 0
  found <- tryCatch({
    behind <- solution$values$item_correlations
    correlations <- correlate_times(answers, as.numeric(half), behind, threads)
    parallel_analysis(correlations, seed = seed, threads = threads)
  }, softsieve_error = function(e) NULL)
  found$values$eigenvalues$chance_upper
}

numbers_chosen <- function(eigenvalues, limit) {
  if (is.null(limit)) return(tibble::tibble(factors = integer(), share = numeric()))
  number <- apply(eigenvalues, 2L, core_leading_above, levels = limit)
  count <- table(number)
  tibble::tibble(factors = as.integer(names(count)), share = as.numeric(count) / length(number))
}

# Two halves' factors, each matched with those of everybody.
halves_alike <- function(loadings, replicates, halves) {
  between <- vapply(seq_len(halves), function(i) {
    first <- replicates + 2L * i - 1L
    a <- matrix(loadings[, , first], dim(loadings)[1L])
    b <- matrix(loadings[, , first + 1L], dim(loadings)[1L])
    diag(core_congruences(a, b))
  }, numeric(dim(loadings)[2L]))
  between <- matrix(between, dim(loadings)[2L])
  share <- function(from) rowMeans(between >= from, na.rm = TRUE)
  tibble::tibble(factor = dimnames(loadings)[[2L]],
    congruence = apply(between, 1L, stats::median, na.rm = TRUE),
    lowest = apply(between, 1L, stats::quantile, 0.05, na.rm = TRUE, names = FALSE),
    equal = share(cutoff("factor_equal")), similar = share(cutoff("factor_similar")))
}
