# The catalogue of findings (base-findings.R): those of extraction, rotation and solutions.

FINDING_NO_TEST <- spec(
  name = "no_test",
  label = "No test of fit is shown: %s. The residuals tell how well it fits.",
  order = 70,
  stage = "extraction",
  severity = "note",
  meaning = paste(
    "A chi-square, its p and RMSEA are shown only where it is known how they vary from sample to",
    "sample. The residuals, and loading_stability(), tell what can be told."
  )
)

FINDING_NORMAL_THEORY <- spec(
  name = "normal_theory",
  label = "The test of fit takes the answers for normal and complete: %s.",
  order = 70.5,
  stage = "extraction",
  severity = "note",
  meaning = paste(
    "Without the answers nobody can see whether they are skewed or missing: then true models are",
    "rejected too often. Give the answers, where you have them."
  )
)

FINDING_NOT_CONVERGED <- spec(
  name = "not_converged",
  label = paste(
    "Extraction stopped after %s with a gradient of %s: do not trust this solution; try",
    "fewer factors."
  ),
  order = 71,
  stage = "extraction",
  severity = "serious",
  meaning = "The search did not settle: loadings are not those of the method. Try fewer factors."
)

FINDING_STARTS_APART <- spec(
  name = "starts_apart",
  label = paste(
    "%d of %d searches ended elsewhere, with a worse fit: the best is shown. Fewer",
    "factors may be settled better."
  ),
  order = 72,
  stage = "extraction",
  severity = "caution",
  meaning = paste(
    "Different starts ended in different solutions; the best is shown. Fewer factors",
    "may be settled better."
  )
)

FINDING_IMPROPER_SOLUTION <- spec(
  name = "improper_solution",
  label = paste(
    "%s has its uniqueness at the bound (%s). Try one factor fewer; look for a near",
    "copy of the item and leave one out; use more people; or see whether another method",
    "(minimum_rank, alpha) agrees."
  ),
  order = 73,
  stage = "extraction",
  severity = "serious",
  meaning = paste(
    "An item would be explained wholly: mostly too many factors, too few people, or a",
    "near copy of the item (a Heywood case)."
  )
)

FINDING_FITTED_VARIANCE <- spec(
  name = "fitted_variance",
  label = paste(
    "%s has a fitted variance of %s times the observed one: its loadings are those of",
    "an item with the fitted variance."
  ),
  order = 74,
  stage = "extraction",
  severity = "caution",
  meaning = paste(
    "Under the bound the model fits another variance to the item than it has: read its",
    "loadings with that."
  )
)

FINDING_DIFFERENT_UNITS <- spec(
  name = "different_units",
  label = paste(
    "Covariances of items in different units: the standard deviation of %s is %s times",
    "that of %s, and it pulls that much harder. Is analyse = \"correlations\" meant?"
  ),
  order = 75,
  stage = "extraction",
  severity = "caution",
  meaning = paste(
    "Covariances let items with large units lead. Use correlations unless the units",
    "mean something."
  )
)

FINDING_ONE_FACTOR <- spec(
  name = "one_factor",
  label = "One factor has nothing to be turned against: it stays as extracted.",
  order = 76,
  stage = "rotation",
  severity = "note",
  meaning = "One factor cannot be rotated."
)

FINDING_ROTATION_NOT_CONVERGED <- spec(
  name = "rotation_not_converged",
  label = "Rotation stopped with a gradient of %s.",
  order = 77,
  stage = "rotation",
  severity = "caution",
  meaning = "The rotation did not settle. Give more starts, or another criterion."
)

FINDING_SECOND_OPTIMUM <- spec(
  name = "second_optimum",
  label = "The second best rotation is shown (criterion %s; the best has %s).",
  order = 78,
  stage = "rotation",
  severity = "caution",
  meaning = "What is shown is not the best rotation, as was asked."
)

FINDING_SEVERAL_OPTIMA <- spec(
  name = "several_optima",
  label = paste(
    "The starts ended in %d different places; %s met the best, which is shown. See the",
    "next with optimum = 2."
  ),
  order = 79,
  stage = "rotation",
  severity = c("note", "caution"),
  meaning = paste(
    "The criterion has several minima. The best is shown; where few starts met it, look",
    "at the next with optimum = 2."
  )
)

FINDING_HIGH_FACTOR_CORRELATION <- spec(
  name = "high_factor_correlation",
  label = "Two factors correlate %s: they may be one. Compare a solution with one factor fewer.",
  order = 80,
  stage = "rotation",
  severity = "caution",
  meaning = paste(
    "Two factors that correlate so highly may be one. Compare a solution with one",
    "factor fewer."
  )
)

FINDING_NO_SALIENT_LOADING <- spec(
  name = "no_salient_loading",
  label = "%s loads on no factor (all below %s): a candidate to leave out.",
  many = "%s load on no factor (all below %s): candidates to leave out.",
  order = 81,
  stage = "pattern",
  severity = "caution",
  meaning = "The item belongs to no factor: a candidate to leave out."
)

FINDING_CROSSING_ITEM <- spec(
  name = "crossing_item",
  label = "%s loads on more than one factor (second loading %s): it cannot tell them apart.",
  many = "%s load on more than one factor: they cannot tell these apart.",
  order = 82,
  stage = "pattern",
  severity = "caution",
  meaning = paste(
    "The item belongs to several factors and cannot tell them apart: a candidate to",
    "leave out, or to word anew."
  )
)

FINDING_LOW_COMMUNALITY <- spec(
  name = "low_communality",
  label = "%s shares only %s of its variance with the factors.",
  many = "%s share little of their variance with the factors (below %s).",
  order = 83,
  stage = "pattern",
  severity = "note",
  meaning = "Most of the item is its own: it says little of the factors."
)

FINDING_TWO_FACTORS <- spec(
  name = "two_factors",
  label = paste(
    "Two factors cannot tell their loadings on a general factor apart: they are taken",
    "as equal."
  ),
  order = 84,
  stage = "solution",
  severity = "note",
  meaning = paste(
    "With two factors only the size of their correlation is known: both get the same",
    "loading on what is general."
  )
)

FINDING_WHOLLY_GENERAL <- spec(
  name = "wholly_general",
  label = paste(
    "%s is wholly general: nothing of its own is left. Take one factor fewer, or",
    "another rotation."
  ),
  order = 85,
  stage = "solution",
  severity = "serious",
  meaning = paste(
    "A factor without anything of its own is the general factor itself. Take one factor",
    "fewer, or another rotation."
  )
)

FINDING_WEAK_GENERAL <- spec(
  name = "weak_general",
  label = paste(
    "Only %s of the common variance is general: read the factors, and think twice",
    "before a total score."
  ),
  order = 86,
  stage = "solution",
  severity = "note",
  meaning = "Little is common to all: a total score would mix different things."
)

FINDING_WORDING_NOT_SETTLED <- spec(
  name = "wording_not_settled",
  label = "The wording factor did not settle: do not read it.",
  order = 89.1,
  stage = "solution",
  severity = "serious",
  meaning = "Topics and wording cannot be told apart by these items: take fewer topics."
)

FINDING_WORDING_SLIGHT <- spec(
  name = "wording_slight",
  label = "Fewer than three items load on wording by .20 (at most %s): there is little of it here.",
  order = 89.2,
  stage = "solution",
  severity = "note",
  meaning = "These items share hardly anything beside the topics: no wording factor is needed."
)

FINDING_WORDING_IN_RESIDUALS <- spec(
  name = "wording_in_residuals",
  label = paste(
    "Reverse-worded items of different factors share %s more than the factors explain (mean",
    "residual): wording_factor() models it."
  ),
  order = 89.3,
  stage = "solution",
  severity = "note",
  meaning = paste(
    "What is left between reverse-worded items of different topics is likely to be their wording."
  )
)
