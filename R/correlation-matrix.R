# Correlations that were computed elsewhere: matrices as people have them.

#' @rdname correlate_items
#' @param means,sds For a matrix: the items' means and standard deviations, p numbers each, or
#'   `NULL` (unknown). With `sds` a correlation matrix serves where covariances are needed; of a
#'   covariance matrix they are known.
#' @export
correlate_items.matrix <- function(x, n = NULL, repair = TRUE, kind = "given", means = NULL,
    sds = NULL, ...) {
  check_dots_empty(...)
  check_flag(repair, "repair")
  kind <- check_choice(kind, "kind", c("given", names(KINDS)))
  whole <- mirror_triangle(x)
  x <- whole$matrix
  covariances <- if (kind == "covariance") check_covariance_matrix(x)
  if (kind == "covariance") x <- core_standardised(x)
  check_correlation_matrix(x, n)
  if (is.null(colnames(x))) {
    colnames(x) <- if (is.null(rownames(x))) paste0("item", seq_len(ncol(x))) else rownames(x)
  }
  rownames(x) <- colnames(x)
  sds <- if (kind == "covariance") {
    unname(sqrt(diag(covariances)))
  } else {
    check_moments(sds, "sds", ncol(x))
  }
  means <- check_moments(means, "means", ncol(x))
  if (kind != "covariance" && !anyNA(sds)) covariances <- x * (sds %o% sds)
  if (!is.null(covariances)) dimnames(covariances) <- dimnames(x)
  items <- tibble_of(item = colnames(x), wording = NA_character_, scale = NA_character_,
    reversed = FALSE, mean = means, sd = sds, skewness = NA_real_, categories = NA_integer_)
  n_pair <- matrix(as.numeric(n), nrow(x), ncol(x), dimnames = dimnames(x))
  fixed <- settle_definite(x, repair)
  found <- list(correlations = fixed$correlations, covariances = covariances, n_pair = n_pair,
    standard_errors = if (kind_is(kind, "core") == "pearson") {
      core_pearson_error(x, n_pair, "pearson")
    } else {
      n_pair + NA
    })
  settings <- list(kind = kind, missing = "given", repair = repair, weighted = FALSE)
  new_item_correlations(found, n, 1, items, settings, bind_findings(whole$finding, fixed$finding),
    source = list(fingerprint = rlang::hash(list(unname(x), n)), items = colnames(x), people = n),
    call = match.call())
}

#' @rdname correlate_items
#' @export
correlate_items.data.frame <- function(x, ...) {
  matrix <- matrix_in_frame(x)
  if (!is.null(matrix)) {
    dots <- list(...)
    dots$threads <- NULL # a matrix is there already
    return(call_with(correlate_items, c(list(matrix), dots)))
  }
  correlate_items(questionnaire(x), ...)
}

# A data frame that holds a correlation matrix (as a file of one is read: perhaps with the items'
# names in its first column, perhaps a triangle alone), as a matrix; NULL for answers. Ones down the
# diagonal and nothing beyond 1: answers do not look so.
matrix_in_frame <- function(x) {
  if (ncol(x) < 3L || !nrow(x) %in% (ncol(x) - 0:1)) return(NULL)
  names <- colnames(x)
  if (nrow(x) < ncol(x)) { # the first column must hold the names
    if (is.numeric(x[[1L]])) return(NULL)
    names <- as.character(x[[1L]])
    x <- x[-1L]
  }
  if (ncol(x) < 3L || !all(vapply(x, holds_numbers, NA))) return(NULL)
  matrix <- as.matrix(x)
  storage.mode(matrix) <- "double"
  if (!is_correlation_matrix(mirror_triangle(matrix)$matrix)) return(NULL)
  dimnames(matrix) <- list(names, colnames(x))
  matrix
}

holds_numbers <- function(column) is.numeric(column) || all(is.na(column))

is_correlation_matrix <- function(r) {
  !anyNA(r) && all(abs(diag(r) - 1) < 1e-8) && all(abs(r) <= 1 + 1e-8) && max(abs(r - t(r))) < 1e-6
}

# A matrix of which only one triangle was written (zeros or gaps in the other), whole.
mirror_triangle <- function(x) {
  whole <- list(matrix = x, finding = NULL)
  if (!is.numeric(x) || nrow(x) != ncol(x) || nrow(x) < 2L) return(whole)
  blank <- function(part) all(is.na(part) | part == 0)
  lower <- x[lower.tri(x)]
  upper <- x[upper.tri(x)]
  if (blank(lower) == blank(upper)) return(whole)
  given <- if (blank(upper)) x else t(x)
  given[upper.tri(given)] <- t(given)[upper.tri(given)]
  dimnames(given) <- dimnames(x)
  list(matrix = given,
    finding = new_finding("triangle_mirrored", if (blank(upper)) "lower" else "upper"))
}

check_moments <- function(x, name, p) {
  if (is.null(x)) return(rep(NA_real_, p))
  lower <- if (name == "sds") .Machine$double.xmin else -Inf
  if (checkmate::test_numeric(x, lower, finite = TRUE, any.missing = FALSE, len = p)) {
    return(as.numeric(x))
  }
  stop_input("argument",
    sprintf("`%s` must be one number for each item%s.", name,
      if (name == "sds") ", above 0" else ""),
    got = describe_value(x),
    todo = sprintf("There are %s.", count_of(p, "item")))
}

# What each pair of items has in common, answer by answer: the data of the figure of pairs.

MOST_PLAIN_ANSWERS <- 11L # items with more different answers are put into bins

# bubbles: how many gave which two answers; bars: how often each answer was given; numbers: the
# pairs' Pearson correlations, with the corner (`x`) that the bubbles leave free; ends: what the
# lowest and highest answers are; binned: are some items in bins? Places are from 0 to 1.
describe_pairs <- function(object) {
  answers <- object$values$answers
  items <- colnames(answers)
  r <- correlate_items(object)$values$correlations
  placed <- lapply(stats::setNames(items, items), function(item) place_answers(answers[, item]))
  place <- function(d) {
    d[c("row", "column")] <- lapply(d[c("row", "column")], factor, levels = items)
    d
  }
  pairs <- utils::combn(items, 2L, simplify = FALSE)
  bubbles <- place(do.call(rbind,
    lapply(pairs, function(pair) pair_bubbles(placed[[pair[1L]]], placed[[pair[2L]]], pair))))
  bars <- place(do.call(rbind, lapply(items, function(item) answer_bars(placed[[item]], item))))
  corner <- vapply(pairs, function(pair) if (r[pair[1L], pair[2L]] > 0) 0.02 else 0.98, 0)
  numbers <- place(data.frame(row = vapply(pairs, `[`, "", 2L), column = vapply(pairs, `[`, "", 1L),
    x = corner, size = abs(r[t(simplify2array(pairs))]), r = r[t(simplify2array(pairs))]))
  # where the axis ends: the answers at the ends, in every item's own units
  ends <- place(do.call(rbind, lapply(items, function(item) {
    data.frame(row = item, column = item, x = c(0.02, 0.98), label = placed[[item]]$ends,
      side = c(0, 1))
  })))
  list(bubbles = bubbles, bars = bars, numbers = numbers, ends = ends,
    binned = any(vapply(placed, `[[`, NA, "binned")))
}

# The order of items that puts those that go together beside each other: average linkage of one less
# the size of their correlations.
related_order <- function(r) {
  if (ncol(r) < 3L) return(seq_len(ncol(r)))
  stats::hclust(stats::as.dist(1 - abs(r)), "average")$order
}

# Answers as places from 0 to 1: those of few different answers as they are, of many in ten bins.
place_answers <- function(x) {
  values <- sort(unique(x[!is.na(x)]))
  ends <- range(values)
  span <- max(diff(ends), 1e-9)
  binned <- length(values) > MOST_PLAIN_ANSWERS
  steps <- if (binned) 10 else max(1, length(values))
  at <- if (binned) {
    (pmin(floor((x - ends[1L]) / span * 10), 9) + 0.5) / 10
  } else {
    0.08 + 0.84 * (x - ends[1L]) / span
  }
  half <- min(0.40 / steps, 0.08) # few answers: up to the frame, not beyond
  list(at = at, ends = format(ends, trim = TRUE, digits = 3L), half = half, binned = binned)
}

pair_bubbles <- function(first, second, pair) {
  counts <- as.data.frame(table(x = first$at, y = second$at), stringsAsFactors = FALSE)
  data.frame(row = pair[2L], column = pair[1L], x = as.numeric(counts$x),
    y = 0.06 + 0.76 * as.numeric(counts$y), share = counts$Freq / sum(counts$Freq))
}

answer_bars <- function(placed, item) {
  counts <- table(placed$at)
  data.frame(row = item, column = item, x = as.numeric(names(counts)),
    height = as.numeric(counts) / max(counts), half = placed$half)
}

# Correlations from counts that were added up block by block.

#' @rdname correlate_items
#' @export
correlate_items.item_tables <- function(x, kind = "pearson", repair = TRUE, continuous_from = 11L,
    threads = NULL, ...) {
  check_class(x, "x", "item_tables", "tabulate_items()")
  check_dots_empty(...)
  kind <- check_choice(kind, "kind", names(KINDS))
  check_flag(repair, "repair")
  continuous_from <- check_whole(continuous_from, "continuous_from", 3L, 17L)
  threads <- settle_threads(threads)
  correlate_counts(x, counted_of(x), kind, repair, continuous_from, threads)
}

# The counts of `x`, or of random groups drawn from it, as correlations.
correlate_counts <- function(x, counted, kind, repair, continuous_from, threads) {
  people <- counted$people
  complete <- x$settings$missing == "complete"
  used <- people[[if (complete) "whole" else "people"]]
  check_enough_people(used, people[["people"]], x$settings$missing)
  check_counted_kind(counted, kind)
  mixed <- kind_is(kind, "core") == "mixed"
  ordered <- if (mixed) lengths(chosen_categories(counted)) < continuous_from
  found <- with_progress("Correlations", length(counted$values), function(progress) {
    core_correlate_counted(counted, kind_is(kind, "core"), ordered, threads, progress)
  })
  check_varying(stats::setNames(found$sds, names(counted$values)))
  check_pairs_met(found$correlations)
  fixed <- settle_definite(found$correlations, repair)
  found$correlations <- fixed$correlations
  items <- x$values$items[c("item", "wording", "scale", "reversed")]
  items[c("mean", "sd", "skewness", "categories")] <- list(unname(found$means), unname(found$sds),
    unname(found$skewness), as.integer(found$categories))
  if (!is.null(ordered)) items$ordered <- unname(ordered)
  if (!is.null(found$covariances)) found$covariances <- found$correlations * (items$sd %o% items$sd)
  share <- if (counted$weighted) {
    people[["weight"]]^2 / (people[["people"]] * people[["weight_square"]])
  } else {
    1
  }
  settings <- list(kind = kind, missing = x$settings$missing, repair = repair,
    continuous_from = continuous_from, weighted = counted$weighted)
  new_item_correlations(found, found$people, share, items, settings,
    bind_findings(findings_that_travel(x$findings), fixed$finding,
      find_in_method(found, items, settings, share)),
    x$source,
    match.call(sys.function(-1L), sys.call(-1L)),
    tables = x)
}

# Each item's categories that somebody chose.
chosen_categories <- function(counted) {
  own <- core_own_counts(counted$values, counted$cells)
  Map(function(values, n) values[n > 0], counted$values, own)
}

# Of items of many values sums are kept, and these tell Pearson correlations alone.
check_counted_kind <- function(counted, kind) {
  many <- names(counted$values)[vapply(counted$values, is.null, NA)]
  if (!length(many) || kind_is(kind, "core") == "pearson") return(invisible())
  stop_input("many_categories",
    sprintf("Every item must have at most 16 categories for %s correlations of counts.", kind),
    got = sprintf("Only sums were kept of %s.", name_culprits(many)),
    todo = paste("Leave these items out, give kind = \"pearson\", or take a sample of people:",
      "sample_people()."))
}
