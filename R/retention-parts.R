# People who count unlike, for chance levels: weighted ones, and those of clusters.

# People of about the same weight are taken together: so many parts, of the same sum of squares.
PARTS_OF_WEIGHTS <- 24L
PARTS_OF_CLUSTERS <- 12L

# NULL where all count alike or their answers are not at hand; else `people` of each part, and
# `scales`, items x parts: how much their cross-products count.
parts_of_people <- function(correlations) {
  v <- correlations$values
  whole <- if (is.null(v$part_of)) v else v$part_of$values
  if (is.null(whole$questionnaire)) return(NULL)
  weights <- scaled_weights(whole$questionnaire)
  p <- ncol(v$correlations)
  if (!is.null(v$cluster)) {
    answers <- whole$questionnaire$values$answers[, v$items$item, drop = FALSE]
    return(parts_of_clusters(answers, v$cluster, weights))
  }
  if (!length(weights) || !isTRUE(correlations$settings$weighted)) return(NULL)
  w <- sort(weights[weights > 0], decreasing = TRUE)
  part <- ceiling(cumsum(w^2) / sum(w^2) * PARTS_OF_WEIGHTS - 1e-9)
  list(people = as.integer(table(part)),
    scales = rep(1, p) %o% sqrt(as.vector(tapply(w^2, part, mean))))
}

# Within a cluster people vary by what it leaves of the variance; a cluster's mean counts as often
# as it has people, and varies by what they share besides.
parts_of_clusters <- function(answers, cluster, weights) {
  if (!length(weights)) weights <- rep(1, nrow(answers))
  shared <- vapply(seq_len(ncol(answers)), function(j) core_shared_within(answers[, j], cluster), 0)
  size <- as.vector(rowsum(weights, cluster))
  squares <- as.vector(rowsum(weights^2, cluster))
  parts <- min(PARTS_OF_CLUSTERS, length(size))
  part <- cut(rank(size, ties.method = "first"), parts, labels = FALSE)
  mean_of <- function(x) as.vector(tapply(x, part, mean))
  between <- shared %o% mean_of(size) + (1 - shared) %o% mean_of(squares / size)
  list(people = c(length(weights) - length(size), as.integer(table(part))),
    scales = cbind((1 - shared) * sqrt(mean(weights^2)), between, deparse.level = 0))
}
