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
    judge = judge_parallel),
  parallel_mean = spec(label = "parallel analysis (mean)", reference = "Horn (1965)",
    pearson = FALSE,
    misleads = "Too many factors: half of all chance eigenvalues exceed their mean.",
    judge = judge_parallel_mean),
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
    judge = judge_comparison),
  empirical_kaiser = spec(label = "empirical Kaiser criterion",
    reference = "Braeken & van Assen (2017)", pearson = TRUE,
    misleads = paste("Too few factors when there are fewer than about 10 people for each item or",
      "factors correlate highly; its reference never falls below 1."),
    judge = judge_empirical_kaiser),
  average_partial = spec(label = "minimum average partial", reference = "Velicer (1976)",
    pearson = FALSE, misleads = "Too few factors when loadings are low or a factor has few items.",
    judge = function(e) judge_partials(e, e$partial_squares, "square")),
  average_partial_fourth = spec(label = "minimum average partial (4th)",
    reference = "Velicer, Eaton & Fava (2000)", pearson = FALSE,
    misleads = "As its elder, but a little less inclined to too few.",
    judge = function(e) judge_partials(e, e$partial_fourths, "4th")),
  hull = spec(label = "hull", reference = "Lorenzo-Seva, Timmerman & Kiers (2011)", pearson = FALSE,
    misleads = "Blind to factors that add little to fit; cannot suggest 0.", judge = judge_hull),
  likelihood_ratio = spec(label = "sequential test of fit", reference = "Lawley (1940)",
    pearson = FALSE,
    misleads = "Too many factors with many people: it asks for a model that holds exactly.",
    judge = judge_likelihood_ratio),
  rmsea_lower = spec(label = "RMSEA lower limit",
    reference = "Preacher, Zhang, Kim & Mels (2013)", pearson = FALSE,
    misleads = paste(
      "Too few factors when the factors left out are small: close fit is not exact fit.",
      "In small samples the limit is low whatever the number."),
    judge = judge_rmsea_lower),
  bic = spec(label = "BIC", reference = "Schwarz (1978)", pearson = TRUE,
    misleads = paste("Too few factors in small samples, too many in very large ones when the model",
      "only nears the population."),
    judge = judge_bic),
  eigenvalue_one = spec(label = "eigenvalue above 1", reference = "Kaiser (1960)",
    pearson = FALSE,
    misleads = paste(
      "Too many factors nearly always: in samples, unrelated items too have eigenvalues",
      "above 1, about half of them. Here for comparison only."),
    judge = judge_eigenvalue_one),
  elbow = spec(label = "scree elbow", reference = "Cattell (1966)", pearson = FALSE,
    misleads = paste(
      "Nearly always 1 when the first eigenvalue is far larger than the rest; chance",
      "plays no part in it."),
    judge = judge_elbow),
  cumulative_share = spec(label = "share of variance", reference = "Jolliffe (2002)",
    pearson = FALSE,
    misleads = paste(
      "Meant for components that stand in for the items; it grows with the number of",
      "items, says nothing of common factors and takes up noise."),
    judge = judge_cumulative_share))
