# Core: correlations from counts that were added up over people. `counted` holds, for p items:
#
#   values    list, each item's categories, rising; NULL where it has more than can be counted
#   cells     tables of all pairs and each item's own counts (cpp_tally_read()), or sums of weights
#   sums      p x p x 5: people, weight, sum, square, product; NULL where not kept
#   cubes     each item's third powers, or NULL; origins: what was taken from answers before
#   people    people, answering, whole, weight, weight_square
#   weighted  are people weighed?

# Weights with a mean of 1.
core_scaled_counts <- function(counted) {
  if (!counted$weighted) return(counted)
  by <- counted$people[["people"]] / counted$people[["weight"]]
  counted$cells <- counted$cells * by
  counted$sums[, , -1L] <- counted$sums[, , -1L] * by
  counted$cubes <- counted$cubes * by
  counted
}

# What core_correlate() returns; `ordered` as there.
core_correlate_counted <- function(counted, kind, ordered, threads, progress = NULL) {
  counted <- core_scaled_counts(counted)
  found <- if (kind == "mixed") {
    core_mixed_counted(counted, ordered, threads, progress)
  } else if (any(vapply(counted$values, is.null, NA))) {
    c(core_sums_correlations(counted$sums), core_sums_moments(counted))
  } else {
    one <- core_counted_tables(counted, kind, threads, progress)
    c(one, core_table_moments(one$values, one$counts))
  }
  found$people <- counted$people[["answering"]]
  core_dress(found, kind, names(counted$values))
}

core_counted_tables <- function(counted, kind, threads, progress = NULL) {
  pairs <- if (counted$weighted) matrix(counted$sums[, , 1L], length(counted$values))
  cpp_counted_correlations(counted$cells, unname(counted$values), kind, pairs,
    counted$people[["answering"]], TRUE, threads, progress)
}

# Every item has a table here: polychoric between ordered items, Pearson between others, polyserial
# across, where the cells of a table stand for its people.
core_mixed_counted <- function(counted, ordered, threads, progress) {
  latent <- core_counted_tables(counted, "polychoric", threads, progress)
  plain <- core_counted_tables(counted, "pearson", threads)
  moments <- core_table_moments(plain$values, plain$counts)
  o <- which(ordered)
  k <- which(!ordered)
  found <- c(
    latent[c("correlations", "n_pair", "standard_errors", "empty_cells", "status", "thresholds")],
    moments)
  found$thresholds[k] <- list(NULL)
  found$category_values <- counted$values
  error <- core_pearson_error(plain$correlations, plain$n_pair, "pearson")
  found$correlations[k, k] <- plain$correlations[k, k]
  found$standard_errors[k, k] <- error[k, k]
  found$empty_cells[k, ] <- found$empty_cells[, k] <- 0
  found$status[k, ] <- found$status[, k] <- 0
  for (i in k) {
    for (j in o) {
      cell <- core_pair_cells(counted, i, j)
      z <- (cell$first - moments$means[i]) / moments$sds[i]
      one <- cpp_polyserial(matrix(z), matrix(cell$second), cell$count, threads)
      found$correlations[i, j] <- found$correlations[j, i] <- one$correlations[1L]
      found$standard_errors[i, j] <- found$standard_errors[j, i] <- one$standard_errors[1L]
      found$status[i, j] <- found$status[j, i] <- one$status[1L]
    }
  }
  found
}

# Where tables begin (less 1): p x p for pairs i < j, and of each item's own counts.
core_places <- function(sizes) {
  p <- length(sizes)
  area <- t(sizes %o% sizes) # row by row
  area[!lower.tri(area)] <- 0
  starts <- matrix(cumsum(c(0, area))[seq_along(area)], p)
  pairs <- t(starts)
  list(pairs = pairs, own = sum(area) + cumsum(c(0, sizes))[seq_len(p)])
}

# The rows of `cells` that hold the tables of the items `at`, in their order.
core_rows_of_items <- function(sizes, at) {
  places <- core_places(sizes)
  pairs <- utils::combn(at, 2L)
  of_pair <- function(i, j) {
    low <- min(i, j)
    high <- max(i, j)
    cells <- matrix(places$pairs[low, high] + seq_len(sizes[low] * sizes[high]), sizes[low],
      byrow = TRUE)
    as.vector(if (i < j) t(cells) else cells)
  }
  c(
    unlist(lapply(seq_len(ncol(pairs)), function(k) of_pair(pairs[1L, k], pairs[2L, k]))),
    unlist(lapply(at, function(i) places$own[i] + seq_len(sizes[i]))))
}

# The cells of a pair's table that anybody is in: the two answers, and how many gave them.
core_pair_cells <- function(counted, i, j) {
  sizes <- lengths(counted$values)
  rows <- core_rows_of_items(sizes, c(i, j))[seq_len(sizes[i] * sizes[j])]
  cell <- list(first = rep(counted$values[[i]], each = sizes[j]),
    second = rep(counted$values[[j]], sizes[i]), count = counted$cells[rows])
  lapply(cell, `[`, cell$count > 0)
}

# Each item's own counts, by category.
core_own_counts <- function(values, cells) {
  sizes <- lengths(values)
  own <- utils::tail(cells, sum(sizes))
  unname(split(own, factor(rep(seq_along(sizes), sizes), levels = seq_along(sizes))))
}

# Answers as a matrix, people x items, from a list of columns.
core_join_columns <- function(columns) {
  whole <- all(vapply(columns, typeof, "") == "integer")
  answers <- if (whole) cpp_join_columns(columns) else unlist(columns, use.names = FALSE)
  # (matrix() would copy it)
  dim(answers) <- c(if (length(columns)) length(columns[[1L]]) else 0L, length(columns))
  dimnames(answers) <- list(NULL, names(columns))
  answers
}

# Whole numbers from bytes: 0 is missing, 1 is `lowest`.
core_widen_bytes <- function(bytes, lowest) cpp_widen_bytes(bytes, as.integer(lowest))
