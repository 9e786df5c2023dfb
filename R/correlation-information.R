# What is known of the sampling errors of correlations. One place decides, for every stage, on what
# a test, an error or a chance level may rest: on the answers themselves, on normal theory, or on
# nothing.

# An information has
#
#   basis  "answers": from how much each person (or cluster) moves each correlation; "normal": what
#          complete normal answers would have; "none"
#   why    why it does not rest on the answers, a part of a sentence; character() where it does
#   gamma  the covariances of root n times the correlations above the diagonal (q x q), or NULL
#   rows   what some of the units move correlations by, scaled so that the mean square is gamma's
#          diagonal; 0 x q under "normal"
#   units  how many people or clusters there are; Inf under "normal"
#   n      how many people gamma goes with
#   filled what gaps leave to few people: the mean over people of the share of their answers that is
#          missing times how many items they answered, for each person there is
#   told   does a finding of the correlations say why already?
#
# More items have too many pairs, and of more people so many are enough.
ITEMS_WITH_GAMMA <- 70L
UNITS_FOR_GAMMA <- 5000L
CLUSTERS_FOR_TESTS <- 30L

# Made once for the same correlations, and kept for the stages that follow in the session.
KNOWN_INFORMATION <- new.env(parent = emptyenv())

information_of <- function(x, threads = NULL) {
  if (isTRUE(KNOWN_INFORMATION$later)) {
    return(list(basis = "none", why = character(), told = TRUE))
  }
  within <- x$values$part_of
  if (!is.null(within)) return(information_of_some(information_of(within, threads), x, within))
  v <- x$values
  key <- rlang::hash(list(x$source$fingerprint, x$settings, v$cluster, v$n, v$correlations))
  if (!identical(KNOWN_INFORMATION$key, key)) {
    KNOWN_INFORMATION$information <- gather_information(x, settle_threads(threads))
    KNOWN_INFORMATION$key <- key
  }
  KNOWN_INFORMATION$information
}

# Estimates alone: tests, which take most of the time of many people, are asked for later.
without_tests <- function(code) {
  KNOWN_INFORMATION$later <- TRUE
  on.exit(KNOWN_INFORMATION$later <- FALSE)
  code
}

gather_information <- function(x, threads) {
  if (length(why <- not_from_answers(x))) return(information_without(x, why))
  used <- answers_of_information(x, UNITS_FOR_GAMMA)
  units <- max(used$unit) + 1L
  found <- influences_of(x, used, "covariances", threads)
  if (is.null(found)) {
    return(information_without(x, "the information of some correlations is singular"))
  }
  clustered <- if (is.null(x$values$cluster)) 1 else units / (units - 1)
  list(basis = "answers", why = character(), gamma = found$gamma * clustered,
    rows = found$rows * sqrt(clustered), units = found$units, n = found$people,
    filled = core_filled(used$answers, x$values$people))
}

# People from first to last; under polychoric correlations somebody with each answer to each item,
# too.
spread_over <- function(answers, most, categories) {
  some <- unique(as.integer(seq(1, nrow(answers), length.out = most)))
  if (!categories) return(some)
  with_each <- function(v) which(!duplicated(v) & !is.na(v))
  sort(unique(c(some, unlist(lapply(seq_len(ncol(answers)), function(i) with_each(answers[, i]))))))
}

# Why tests cannot rest on the answers.
not_from_answers <- function(x) {
  v <- x$values
  if (is.null(v$questionnaire)) {
    return(if (is.null(v$tables)) {
      "only correlations were given, not the answers"
    } else {
      "only counts of pairs of items are known, not each person's answers"
    })
  }
  if (!kind_is(x$settings$kind, "influence")) {
    return(sprintf("the sampling errors of %s are not worked out here",
      KINDS[[x$settings$kind]]$label))
  }
  if (ncol(v$correlations) > ITEMS_WITH_GAMMA) {
    return(sprintf("there are more than %d items", ITEMS_WITH_GAMMA))
  }
  if (few_clusters(x)) {
    return(sprintf("%s are too few to show how much they vary (at least %d)",
      count_of(length(unique(v$cluster)), "cluster"), CLUSTERS_FOR_TESTS))
  }
  character()
}

# What keeps normal theory from holding, beside the kind of correlation.
against_normal_theory <- function(x) {
  v <- x$values
  if (!kind_is(x$settings$kind, "influence") || few_clusters(x)) return(NULL)
  gaps <- !x$settings$missing %in% c("given", "complete") && min(v$n_pair) < max(v$n_pair)
  c(if (isTRUE(x$settings$weighted)) "people are weighted",
    if (!is.null(v$cluster)) "people come in clusters", if (gaps) "answers are missing")
}

few_clusters <- function(x) {
  !is.null(x$values$cluster) && length(unique(x$values$cluster)) < CLUSTERS_FOR_TESTS
}

# What normal theory gives: where correlations are Pearson's, and nothing is known against it.
information_without <- function(x, why) {
  v <- x$values
  against <- against_normal_theory(x)
  r <- v$correlations
  normal <- kind_is(x$settings$kind, "core") == "pearson" && !few_clusters(x) && !length(against) &&
    v$smallest_eigenvalue > 1e-10
  list(basis = if (normal) "normal" else "none",
    why = if (normal) why else paste(c(why, against), collapse = ", and "),
    gamma = if (normal && ncol(r) <= ITEMS_WITH_GAMMA) core_normal_gamma(r),
    rows = matrix(0, 0L, ncol(r) * (ncol(r) - 1L) / 2), units = Inf, n = v$n, filled = 0,
    told = few_clusters(x))
}

# The answers that correlations came from, people of a cluster together: answers, weights (mean 1,
# or none), the unit of each person, from 0, and how many people there are in all: of very many,
# about `most` are taken where there are no clusters.
answers_of_information <- function(x, most = Inf) {
  answers <- x$values$questionnaire$values$answers
  weights <- scaled_weights(x$values$questionnaire)
  cluster <- x$values$cluster
  if (is.null(cluster) && nrow(answers) > most) {
    rows <- spread_over(answers, most, kind_is(x$settings$kind, "ordinal"))
    answers <- answers[rows, , drop = FALSE]
    weights <- weights[rows]
  }
  answers <- answers + 0
  keep <- if (x$settings$missing == "complete") {
    stats::complete.cases(answers)
  } else {
    rowSums(!is.na(answers)) > 0
  }
  unit <- if (is.null(cluster)) seq_len(nrow(answers)) else match(cluster, unique(cluster))
  rows <- which(keep)[order(unit[keep])]
  weights <- weights[rows]
  list(answers = answers[rows, , drop = FALSE],
    weights = if (length(weights)) weights / mean(weights) else numeric(),
    unit = match(unit[rows], unique(unit[rows])) - 1L, people = x$values$people)
}

# How many units' rows are kept: enough for a mean of their squared sizes.
rows_kept <- function(units, q) min(units, max(150L, min(400L, as.integer(2e5 / q))))

# gamma and rows; with "squares" gamma's diagonal alone.
influences_of <- function(x, used, wanted, threads) {
  v <- x$values
  units <- max(used$unit) + 1L
  q <- ncol(v$correlations) * (ncol(v$correlations) - 1L) / 2
  some <- unique(as.integer(seq(0, units - 1L, length.out = rows_kept(units, q))))
  here <- nrow(used$answers)
  if (x$settings$missing == "em") {
    if (here < 2L) return(NULL)
    em <- cpp_likelihood_influences(used$answers, v$em$means, v$em$covariances, used$weights,
      used$unit, some, threads, NULL)
    if (is.null(em)) return(NULL)
    carried <- cpp_multiply(em$sums, em$carried, threads)
    if (wanted == "squares") return(colSums(em$carried * carried) / here)
    gamma <- cpp_multiply(t(em$carried), carried, threads) / here
    rows <- em$rows %*% em$carried
  } else {
    core <- influence_of_kind(x, used, threads)
    if (wanted == "squares") return(core("squares", integer()) / here)
    gamma <- core("covariances", integer()) / here
    rows <- core("rows", some)
  }
  list(gamma = gamma, rows = rows * sqrt(units / here), units = units, people = used$people)
}

influence_of_kind <- function(x, used, threads) {
  if (kind_is(x$settings$kind, "core") == "pearson") {
    return(function(wanted, chosen) {
      cpp_pearson_influences(used$answers, used$weights, used$unit, wanted, chosen, threads, NULL)
    })
  }
  function(wanted, chosen) {
    cpp_polychoric_influences(used$answers, unname(x$values$correlations),
      unname(x$values$thresholds), used$weights, used$unit, wanted, chosen, threads, NULL)
  }
}

# Of some of the items.
information_of_some <- function(whole, part, all) {
  at <- match(part$values$items$item, all$values$items$item)
  if (is.null(whole$gamma)) return(whole)
  p <- nrow(all$values$items)
  place <- matrix(0L, p, p)
  place[upper.tri(place)] <- seq_len(p * (p - 1L) / 2)
  pairs <- (place + t(place))[at, at]
  pairs <- pairs[upper.tri(pairs)]
  whole$gamma <- whole$gamma[pairs, pairs]
  whole$rows <- whole$rows[, pairs, drop = FALSE]
  # EM filled in from all items, also what is looked at in some
  if (whole$basis == "answers" && all$settings$missing != "em") {
    answers <- answers_of_information(all, UNITS_FOR_GAMMA)$answers
    whole$filled <- core_filled(answers[, at, drop = FALSE], whole$n)
  }
  whole
}

# The standard errors of the correlations and the n that goes with what rests on neither: values
# with `standard_errors` (from the answers where these tell them), `design_effect` (how much more
# the correlations vary in clusters than people drawn one by one would make them) and `n`.
settle_errors <- function(values, settings, source, threads) {
  x <- list(values = values, settings = settings, source = source)
  values$design_effect <- 1
  told <- !is.null(values$questionnaire) && kind_is(settings$kind, "influence")
  em <- settings$missing == "em"
  if (told && !(em && ncol(values$correlations) > ITEMS_WITH_GAMMA)) {
    squares <- squares_of_errors(x, threads)
    if (!is.null(squares)) {
      error <- 0 * values$correlations
      error[upper.tri(error)] <- sqrt(squares$own)
      values$standard_errors <- error + t(error)
      # (of items that are one another nobody moves a correlation)
      values$design_effect <- max(1, sum(squares$own) / sum(squares$alone), na.rm = TRUE)
    }
    if (length(settings$order)) values$design_effect <- series_effect(values$questionnaire)
  } else {
    values$standard_errors <- values$standard_errors / sqrt(values$effective_share)
  }
  values$n <- n_of_tests(values, settings)
  values
}

# Variances of the correlations: as people were drawn, and as if they had been drawn one by one.
squares_of_errors <- function(x, threads) {
  used <- answers_of_information(x, UNITS_FOR_GAMMA)
  clustered <- !is.null(x$values$cluster)
  of_units <- function() {
    found <- influences_of(x, used, "squares", threads)
    if (!is.null(found)) found / used$people
  }
  own <- of_units()
  if (is.null(own)) return(NULL)
  used$unit <- seq_len(nrow(used$answers)) - 1L
  list(own = own, alone = if (clustered) of_units() else own)
}

# How many people with all answers, drawn one by one and counting alike, would tell as much about
# unrelated items: the harmonic mean of the people behind each pair, times the effective share of
# the weights, over the design effect of the clusters.
n_of_tests <- function(values, settings) {
  pair <- values$n_pair[upper.tri(values$n_pair)]
  n <- length(pair) / sum(1 / pair)
  floor(n * values$effective_share / values$design_effect + 1e-9)
}

# What tests of several models share (core_robust_parts()), made once: "squares" weighs all
# residuals alike; "likelihood" as maximum likelihood does, at correlations that as many factors as
# may be there reproduce, no uniqueness being below a fifth.
parts_of_information <- function(known, which, x, threads) {
  key <- rlang::hash(list(known$gamma, which))
  held <- KNOWN_INFORMATION$parts
  if (!is.null(held[[key]])) return(held[[key]])
  weight <- if (which == "likelihood") {
    r <- x$values$correlations
    k <- min(10L, max(1L, ncol(r) %/% 3L), core_most_factors(ncol(r)))
    near <- if (k > 0L) {
      tcrossprod(core_search_surely(r, k, "minres", rep(0.2, ncol(r)), 0L, 1L)$loadings)
    } else {
      r
    }
    diag(near) <- 1
    core_normal_weight(near)
  }
  made <- core_robust_parts(known$gamma, weight, known$rows, known$units, threads)
  # two of the same correlations at a time
  KNOWN_INFORMATION$parts <- utils::tail(c(held, stats::setNames(list(made), key)), 2L)
  made
}
