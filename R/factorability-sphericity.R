# The test of whether the items are unrelated at all, by whichever form holds for these
# correlations.

# statistic, df, p (NA where there is no test), form ("bartlett", "squares", "adjusted" or "none")
# and why there is none.
#
#   bartlett  complete Pearson correlations: Bartlett (1951)
#   squares   sum of (n_ij - 1) s_ij^2: whatever the answers' distribution, each term is 1 on
#             average when the answers of unrelated items are shuffled (Pitman 1937, J. R. Stat.
#             Soc. Suppl. 4, 225-232). s_ij: correlations of the answers, their ranks, or under
#             polychoric their normal scores, on the people of each pair
#   adjusted  weights and clusters: n times the sum of squared correlations, adjusted in mean and
#             variance as the test of k factors is
sphericity_of <- function(x, threads = 1L) {
  r <- x$values$correlations
  p <- ncol(r)
  df <- p * (p - 1) / 2
  weighed <- isTRUE(x$settings$weighted) || !is.null(x$values$cluster)
  if (weighed) return(adjusted_sphericity(x, df, threads))
  if (kind_is(x$settings$kind, "core") == "pearson" && all_answered(x)) {
    found <- core_sphericity(r, x$values$n)
    return(c(found[c("statistic", "df", "p")], list(form = "bartlett", why = character())))
  }
  s <- scores_correlated(x)
  statistic <- sum((s$n - 1) * s$squares)
  list(statistic = statistic, df = df, p = stats::pchisq(statistic, df, lower.tail = FALSE),
    form = "squares", why = character())
}

all_answered <- function(x) {
  x$settings$missing %in% c("given", "complete") || min(x$values$n_pair) == max(x$values$n_pair)
}

adjusted_sphericity <- function(x, df, threads) {
  known <- information_of(x, threads)
  none <- function(why, told = FALSE) {
    list(statistic = NA_real_, df = df, p = NA_real_, form = "none", why = why, told = told)
  }
  if (known$basis != "answers") return(none(known$why, isTRUE(known$told)))
  if (!is.null(x$values$cluster) && known$units <= df) {
    return(none(sprintf("%s for %s", count_of(known$units, "cluster"), degrees_of(df))))
  }
  r <- x$values$correlations
  traces <- core_robust_traces(parts_of_information(known, "squares", x, threads))
  found <- core_adjusted((known$n - 1) * sum(r[upper.tri(r)]^2), df, traces)
  list(statistic = found$chi_square, df = df, p = found$p, form = "adjusted", why = character())
}

# For each pair: how many answered both, and the squared correlation of what stands for the answers.
scores_correlated <- function(x) {
  v <- x$values
  whole <- if (is.null(v$part_of)) x else v$part_of
  items <- match(v$items$item, whole$values$items$item)
  known <- scores_of_all(whole)
  pick <- function(m) m[items, items][upper.tri(diag(length(items)))]
  list(n = pick(known$n), squares = pick(known$squares))
}

scores_of_all <- function(x) {
  v <- x$values
  if (!kind_is(x$settings$kind, "ordinal") && x$settings$missing != "em") {
    return(list(n = v$n_pair, squares = v$correlations^2))
  }
  if (is.null(v$questionnaire)) {
    # of counts: the polychoric correlations over their variance when items are unrelated
    told <- vapply(v$thresholds, core_threshold_information, 0)
    return(list(n = v$n_pair, squares = v$correlations^2 * (told %o% told)))
  }
  answers <- v$questionnaire$values$answers + 0
  if (x$settings$missing == "complete") {
    answers <- answers[stats::complete.cases(answers), , drop = FALSE]
  }
  scores <- lapply(seq_len(ncol(answers)), function(i) {
    core_normal_scores(answers[, i], v$thresholds[[i]])
  })
  scores <- do.call(cbind, scores)
  list(n = crossprod(!is.na(scores)), squares = stats::cor(scores, use = "pairwise.complete.obs")^2)
}

# In words, for prints and reports.
say_sphericity <- function(sphericity) {
  if (is.na(sphericity$p)) return(sprintf("No test of sphericity: %s", sphericity$why))
  sprintf("Sphericity (%s): chi-square = %s, df = %d, %s",
    switch(sphericity$form, bartlett = "Bartlett's test", squares = "sum of squared correlations",
      adjusted = "adjusted for how people were sampled"),
    format_number(sphericity$statistic, 1L), sphericity$df, format_p(sphericity$p))
}
