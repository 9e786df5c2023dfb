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
