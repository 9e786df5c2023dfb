# Eigenvalues against 1, and against what sampling error and the larger eigenvalues leave.

judge_empirical_kaiser <- function(e) {
  table <- tibble_of(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
    reference = core_empirical_kaiser(e$eigenvalues, e$n))
  k <- core_leading_above(table$eigenvalue, table$reference)
  at <- min(k + 1L, e$p)
  list(suggested = k, table = table,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(table$eigenvalue[at], table$reference[at])))
}

judge_eigenvalue_one <- function(e) {
  k <- sum(e$eigenvalues > 1)
  list(suggested = k,
    table = tibble_of(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
      above_one = e$eigenvalues > 1),
    reason = sprintf("eigenvalue %d: %s", min(k + 1L, e$p),
      format_number(e$eigenvalues[min(k + 1L, e$p)])))
}

# Parallel analysis as Horn wrote it: against the mean of chance.
judge_parallel_mean <- function(e) {
  table <- e$parallel$values$eigenvalues[c("rank", "eigenvalue", "chance_mean")]
  k <- core_leading_above(table$eigenvalue, table$chance_mean)
  at <- min(k + 1L, nrow(table))
  list(suggested = k, table = table,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(table$eigenvalue[at], table$chance_mean[at])))
}

# The headline: parallel analysis as it was asked for.
judge_parallel <- function(e) {
  v <- e$parallel$values
  k <- v$suggested
  limit <- limit_column(e$parallel$settings)
  at <- min(k + 1L, nrow(v$eigenvalues))
  list(suggested = k, table = v$eigenvalues,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(v$eigenvalues$eigenvalue[at], v$eigenvalues[[limit]][at])))
}

# Velicer's minimum average partial: how many components leave the smallest partial correlations.

judge_partials <- function(e, averages, power) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  k <- which.min(averages[-e$p]) - 1L
  list(suggested = k,
    table = tibble_of(components = seq_len(e$p - 1L) - 1L, average = averages[-e$p]),
    reason = sprintf("partials to the %s smallest: %s", power, format_unit(averages[k + 1L], 4L)))
}

# The shape of the scree plot, and the variance accounted for.

judge_elbow <- function(e) {
  table <- tibble_of(rank = seq_len(e$p), eigenvalue = e$eigenvalues,
    bend = core_bends(e$eigenvalues))
  if (e$p < 3L) return(list(suggested = NA_integer_, reason = "needs three items", table = table))
  at <- which.max(table$bend)
  list(suggested = at - 1L, table = table, reason = sprintf("sharpest bend at rank %d", at))
}

judge_cumulative_share <- function(e) {
  share <- cumsum(e$eigenvalues) / e$p
  k <- which(share >= e$settings$share - 1e-12)[1L]
  list(suggested = k,
    table = tibble_of(rank = seq_len(e$p), eigenvalue = e$eigenvalues, cumulative_share = share,
      reaches_80 = share >= 0.8, reaches_90 = share >= 0.9),
    reason = sprintf("first %s %s (target %s)", if (k == 1L) "reaches" else sprintf("%d reach", k),
      format_share(share[k]), format_share(e$settings$share)))
}

# Parallel analysis in which the chance data hold the factors kept so far (Green et al. 2012), and
# the same on the eigenvalues of the whole matrix, known as the next eigenvalue sufficiency test
# (Achim 2017).

judge_step_by_step <- function(e, basis) {
  if (!is.null(refused <- needs_fits(e))) return(refused)
  s <- e$settings
  plan <- plan_chance(e$correlations, "normal", basis, s$seed, s$threads)
  plan$most <- e$most
  plan$usual <- e$parallel$values$suggested + 2L
  found <- hold_against_chance(plan,
    list(percentile = 95, sequential = TRUE, reference = "upper"), step_draws(s$replicates, e$p))
  table <- found$eigenvalues[c("rank", "eigenvalue", "chance_mean", "chance_upper", "above_chance")]
  # (where no step was the last one, ranks beyond are held against levels of too few factors)
  if (found$suggested > e$most) {
    return(list(suggested = NA_integer_, table = table,
      reason = sprintf("above chance up to %d factors", e$most)))
  }
  at <- min(found$suggested + 1L, nrow(table))
  list(suggested = found$suggested, table = table,
    reason = sprintf("eigenvalue %d: %s", at,
      format_against(table$eigenvalue[at], table$chance_upper[at])))
}

# Rules about the number of factors, in the order in which they are shown. An entry has, beside what
# all have (base-families.R):
#
#   misleads   a sentence: when not to trust it
#   pearson    does it rest on normal theory, or on the sampling error of Pearson correlations?
#              Then what it says of other kinds is marked
#   slow       is it asked only by name?
#   judge      function(e) of the evidence (retention-evidence.R), giving list(suggested (whole
#              number, or NA when it has nothing to say), reason (a few words), table (tibble, the
#              evidence))

RULES <- family(
  parallel = spec(label = "parallel analysis", reference = "Horn (1965)", pearson = FALSE,
    misleads = paste(
      "Too few factors when a strong first one leaves little for the others, or factors",
      "correlate highly; too many with the mean of chance and many items."),
    judge = function(e) judge_parallel(e)),
  parallel_mean = spec(label = "parallel analysis (mean)", reference = "Horn (1965)",
    pearson = FALSE,
    misleads = "Too many factors: half of all chance eigenvalues exceed their mean.",
    judge = function(e) judge_parallel_mean(e)),
  sequential = spec(label = "sequential parallel analysis", reference = "Green et al. (2012)",
    pearson = TRUE,
    misleads = paste("Too many factors when the model only nears the population: with many people",
      "every small departure counts."),
    judge = function(e) judge_step_by_step(e, "factors")),
  next_eigenvalue = spec(label = "next eigenvalue sufficiency", reference = "Achim (2017)",
    pearson = TRUE,
    misleads = paste(
      "Too few factors in small samples with highly correlated factors; too many with",
      "minor factors and many people."),
    judge = function(e) judge_step_by_step(e, "components")),
  comparison = spec(label = "comparison data", reference = "Ruscio & Roche (2012)",
    pearson = TRUE, slow = TRUE,
    misleads = paste(
      "Too few factors when factors have few items; too many when answers came about in",
      "another way than normal variables cut into categories."),
    judge = function(e) judge_comparison(e)),
  empirical_kaiser = spec(label = "empirical Kaiser criterion",
    reference = "Braeken & van Assen (2017)", pearson = TRUE,
    misleads = paste("Too few factors when there are fewer than about 10 people for each item or",
      "factors correlate highly; its reference never falls below 1."),
    judge = function(e) judge_empirical_kaiser(e)),
  average_partial = spec(label = "minimum average partial", reference = "Velicer (1976)",
    pearson = FALSE, misleads = "Too few factors when loadings are low or a factor has few items.",
    judge = function(e) judge_partials(e, e$partial_squares, "square")),
  average_partial_fourth = spec(label = "minimum average partial (4th)",
    reference = "Velicer, Eaton & Fava (2000)", pearson = FALSE,
    misleads = "As its elder, but a little less inclined to too few.",
    judge = function(e) judge_partials(e, e$partial_fourths, "4th")),
  hull = spec(label = "hull", reference = "Lorenzo-Seva, Timmerman & Kiers (2011)", pearson = FALSE,
    misleads = "Blind to factors that add little to fit; cannot suggest 0.",
    judge = function(e) judge_hull(e)),
  likelihood_ratio = spec(label = "sequential test of fit", reference = "Lawley (1940)",
    pearson = FALSE,
    misleads = "Too many factors with many people: it asks for a model that holds exactly.",
    judge = function(e) judge_likelihood_ratio(e)),
  rmsea_lower = spec(label = "RMSEA lower limit",
    reference = "Preacher, Zhang, Kim & Mels (2013)", pearson = FALSE,
    misleads = paste(
      "Too few factors when the factors left out are small: close fit is not exact fit.",
      "In small samples the limit is low whatever the number."),
    judge = function(e) judge_rmsea_lower(e)),
  bic = spec(label = "BIC", reference = "Schwarz (1978)", pearson = TRUE,
    misleads = paste("Too few factors in small samples, too many in very large ones when the model",
      "only nears the population."),
    judge = function(e) judge_bic(e)),
  eigenvalue_one = spec(label = "eigenvalue above 1", reference = "Kaiser (1960)",
    pearson = FALSE,
    misleads = paste(
      "Too many factors nearly always: in samples, unrelated items too have eigenvalues",
      "above 1, about half of them. Here for comparison only."),
    judge = function(e) judge_eigenvalue_one(e)),
  elbow = spec(label = "scree elbow", reference = "Cattell (1966)", pearson = FALSE,
    misleads = paste(
      "Nearly always 1 when the first eigenvalue is far larger than the rest; chance",
      "plays no part in it."),
    judge = function(e) judge_elbow(e)),
  cumulative_share = spec(label = "share of variance", reference = "Jolliffe (2002)",
    pearson = FALSE,
    misleads = paste(
      "Meant for components that stand in for the items; it grows with the number of",
      "items, says nothing of common factors and takes up noise."),
    judge = function(e) judge_cumulative_share(e)))
