# What scoring, formulas and the way back notice. base-findings.R has the fields of a finding.

FINDING_NOT_SCORED <- spec(
  name = "not_scored",
  label = "Not scored: %s (%s).",
  order = 104,
  stage = "score",
  severity = "note",
  meaning = paste(
    "People who answered too few items have no score. `answered_share`, `answered_least`",
    "and `gaps` say how many are needed."
  )
)

FINDING_LOW_DETERMINACY <- spec(
  name = "low_determinacy",
  label = paste(
    "Scores on %s correlate only %s with the factor, and two equally good sets of scores",
    "might correlate only %s: too little to use them."
  ),
  order = 105,
  stage = "score",
  severity = "caution",
  meaning = "Many very different scores would fit equally well: use a scale of the factor's items."
)

FINDING_DETERMINACY_FOR_GROUPS <- spec(
  name = "determinacy_for_groups",
  label = paste(
    "Scores on %s correlate %s with the factor: enough for groups of people, not to decide about",
    "one (.90 and more)."
  ),
  many = paste(
    "Scores on %s correlate by less than %s with their factors: enough for groups of people,",
    "not to decide about one."
  ),
  order = 105.5,
  stage = "score",
  severity = "note",
  meaning = "Below .90 scores of single people are too unsure to decide about them (Gorsuch 1983)."
)

FINDING_DETERMINACY_BY_MODEL <- spec(
  name = "determinacy_by_model",
  label = paste(
    "The observed correlations could not come together with these factors: determinacy",
    "is reckoned from the correlations that the model reproduces. Fewer factors, or",
    "more people, would settle it."
  ),
  order = 106,
  stage = "score",
  severity = "caution",
  meaning = paste(
    "The observed correlations contradict the factors, so that determinacy could pass",
    "1. Fewer factors, or more people, settle it."
  )
)

FINDING_OWN_NORMS <- spec(
  name = "own_norms",
  label = paste(
    "The solution came from a correlation matrix: answers were standardised by these",
    "people's own means and deviations."
  ),
  order = 107,
  stage = "score",
  severity = "note",
  meaning = paste(
    "Scores are relative to these people, not to those of the solution, whose means are",
    "not known."
  )
)

FINDING_SCORED_WITH_GAPS <- spec(
  name = "scored_with_gaps",
  label = "Scored with gaps: %s (%s).",
  order = 107.1,
  stage = "score",
  severity = "note",
  meaning = paste(
    "Scores of people who left answers out are less sure: `errors = TRUE` tells how sure.",
    "`gaps` and `answered_share` say how they are scored, or whether."
  )
)

FINDING_IMPROPER_SCORES <- spec(
  name = "improper_scores",
  label = paste(
    "The solution is improper: scores take %s to be explained wholly, and follow it more",
    "than they should. Settle that first."
  ),
  order = 107.2,
  stage = "score",
  severity = "serious",
  meaning = paste(
    "An item with its uniqueness at the bound is taken for nearly free of error, and rules",
    "the scores. Take fewer factors, or leave the item out."
  )
)

FINDING_SCORES_UNCORRELATED <- spec(
  name = "scores_uncorrelated",
  label = paste(
    "Anderson-Rubin scores are made not to correlate, and the factors do: for scores that",
    "correlate as they do take method = \"correlation_preserving\"."
  ),
  order = 107.3,
  stage = "score",
  severity = "caution",
  meaning = "These scores hide that the factors correlate; each of them mixes several factors."
)

FINDING_SCORES_OF_GIVEN_ANSWERS <- spec(
  name = "scores_of_given_answers",
  label = paste(
    "The solution rests on %s, but scores are of the answers as given: determinacy and errors are",
    "only about right."
  ),
  order = 107.4,
  stage = "score",
  severity = "note",
  meaning = paste(
    "Weights come from the correlations that were analysed and are applied to the answers: the",
    "order of people hardly suffers, determinacy and errors do."
  )
)

FINDING_OWN_PRECISION <- spec(
  name = "own_precision",
  label = paste(
    "Errors rest on the %s of the %s scored here: the same person would have another error among",
    "others."
  ),
  order = 107.6,
  stage = "score",
  severity = "caution",
  meaning = paste(
    "The scales came from a list and know nobody's answers. Form them on a questionnaire or a",
    "solution, or give what assess_reliability() returned of others as `reliability`."
  )
)

FINDING_EARLIER_PRECISION <- spec(
  name = "earlier_precision",
  label = "Errors rest on the %s of the %s on whom the scales were formed.",
  order = 107.7,
  stage = "score",
  severity = "note",
  meaning = "They hold for people like those: assess the scales again where these are others."
)

FINDING_NO_ERRORS <- spec(
  name = "no_errors",
  label = paste(
    "Nothing is known of the scales' spread or reliability, and these people are too few to tell:",
    "errors are missing."
  ),
  order = 107.8,
  stage = "score",
  severity = "caution",
  meaning = "Form the scales on answers, or give `reliability` from assess_reliability()."
)

FINDING_RANGES_MIXED <- spec(
  name = "ranges_mixed",
  label = paste(
    "%s puts items with different ranges together: those with the wider one weigh more.",
    "Bring them to one range."
  ),
  order = 107.5,
  stage = "score",
  severity = "caution",
  meaning = "Items with a wider range weigh more in means and sums: bring them to one range first."
)

FINDING_SMALL_NORMS <- spec(
  name = "small_norms",
  label = "Norms of few people: %s. Below %d, ranks jump from one person to the next.",
  order = 107.6,
  stage = "score",
  severity = "caution",
  meaning = paste(
    "In a group of n people one person moves a percentile rank by 100/n: take a larger",
    "group of people as norms."
  )
)

FINDING_NO_NORMS <- spec(
  name = "no_norms",
  label = "%s of %s: no standardised scores or ranks for them.",
  order = 107.7,
  stage = "score",
  severity = "caution",
  meaning = "There is nobody to compare these people with: leave `by` out, or give other norms."
)

FINDING_NOT_CHECKED <- spec(
  name = "not_checked",
  label = "Predictions were not compared: give the answers (data) to check them.",
  order = 107.8,
  stage = "score",
  severity = "note",
  meaning = "Coefficients of items follow by algebra; with the answers at hand they are tried out."
)

FINDING_PREDICTIONS_DIFFER <- spec(
  name = "predictions_differ",
  label = paste(
    "Predictions from items and from scores differ by up to %s: the scores were made by",
    "other weights, or of answers keyed otherwise. Do not use these coefficients."
  ),
  order = 107.9,
  stage = "score",
  severity = "serious",
  meaning = "Items do not predict what the fit does: look at where its scores came from."
)

FINDING_OTHER_SCORES_IN_FIT <- spec(
  name = "other_scores_in_fit",
  label = paste(
    "Scores in the fit are not those of `x` (up to %s apart): it was fitted on other scores",
    "of the same names. Give what they came from."
  ),
  order = 107.95,
  stage = "score",
  severity = "serious",
  meaning = "Coefficients of other scores cannot be carried back by these weights."
)

FINDING_KEY_UNKNOWN <- spec(
  name = "key_unknown",
  label = paste(
    "It is not known which items are reversed: the formula is of keyed answers. Score people",
    "first, and take the formula of their scores."
  ),
  order = 107.97,
  stage = "score",
  severity = "caution",
  meaning = paste(
    "Scales listed by hand, and matrices, come without a key: answers must be keyed before the",
    "formula is applied. The formula of what score_respondents() returned has the data's key."
  )
)

FINDING_WEIGHTS_AS_KNOWN <- spec(
  name = "weights_as_known",
  label = "Errors take the weights of the scores as known, and are too small: %s.",
  order = 109.9,
  stage = "score",
  severity = "note",
  meaning = paste(
    "The weights come from a sample, too. Give the solution itself, with its answers, and a fit on",
    "its scores: then people are drawn again."
  )
)
