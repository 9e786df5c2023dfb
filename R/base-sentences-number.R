# The catalogue of findings (base-findings.R): those of the number of factors.

FINDING_NO_FACTOR <- spec(
  name = "no_factor",
  label = paste(
    "No eigenvalue stands above chance: these items look unrelated, and there is",
    "nothing to extract."
  ),
  order = 60,
  stage = "retention",
  severity = "serious",
  meaning = paste(
    "Nothing stands above chance: there is nothing to extract. Look at keys and at the",
    "answers."
  )
)

FINDING_EIGENVALUE_ONE_DIFFERS <- spec(
  name = "eigenvalue_one_differs",
  label = paste(
    "%s above 1, but unrelated items give such values too (the largest by chance is",
    "about %s)."
  ),
  order = 61,
  stage = "retention",
  severity = "note",
  meaning = paste(
    "In samples, unrelated items have eigenvalues above 1 too: the rule of 1 gives too",
    "many factors."
  )
)

FINDING_TOSS_UP <- spec(
  name = "toss_up",
  label = "Eigenvalue %d (%s) cannot be told from its chance level (%s) by %s replicates: %s.",
  order = 62,
  stage = "retention",
  severity = "caution",
  meaning = paste(
    "The eigenvalue on which the number hangs cannot be told from chance with so many",
    "draws. Give replicates = \"enough\"."
  )
)

FINDING_CLOSE_CALL <- spec(
  name = "close_call",
  label = "Eigenvalue %d (%s) is within .02 of its chance level (%s): %s.",
  order = 63,
  stage = "retention",
  severity = "caution",
  meaning = "The number hangs on a hair. Compare the solutions on both sides."
)

FINDING_FEW_PEOPLE_IN_GROUP <- spec(
  name = "few_people_in_group",
  label = "%s (n: %s): fewer people than items; its number of factors means little.",
  order = 64,
  stage = "retention",
  severity = "caution",
  meaning = "Fewer people than items: the number of factors of this group means little."
)

FINDING_GROUP_TOSS_UP <- spec(
  name = "group_toss_up",
  label = "%s (n: %s): its number hangs on the draw; give replicates = \"enough\".",
  order = 65,
  stage = "retention",
  severity = "caution",
  meaning = "The number of this group hangs on the draw. Give replicates = \"enough\"."
)

FINDING_OUTSIDE_TRAINING <- spec(
  name = "outside_training",
  label = "No probabilities: %s. Parallel analysis stands alone.",
  order = 66,
  stage = "retention",
  severity = "note",
  meaning = paste(
    "The probabilities come from a network that has never seen such data: it says",
    "nothing. The rules stand alone."
  )
)

FINDING_NUMBERS_DISAGREE <- spec(
  name = "numbers_disagree",
  label = "%s Compare the solutions before choosing.",
  order = 67,
  stage = "retention",
  severity = "caution",
  meaning = paste(
    "Parallel analysis and the probabilities name different numbers. Compare the",
    "solutions: content decides."
  )
)

FINDING_FACTOR_WITHOUT_TOPIC <- spec(
  name = "factor_without_topic",
  label = "%s",
  order = 67.5,
  stage = "retention",
  severity = c("note", "caution"),
  meaning = paste(
    "A further factor is made of how items are worded, of neighbours in the questionnaire, or of",
    "two items: it is no topic and is not counted. wording_factor() models wording beside the",
    "topics. Where all its items are of one topic, nobody can tell which it is."
  )
)

FINDING_NUMBER_UNSURE <- spec(
  name = "number_unsure",
  label = paste(
    "No number of factors stands out: the most probable one has %s. Let content and",
    "comparison decide."
  ),
  order = 68,
  stage = "retention",
  severity = "caution",
  meaning = "No number is probable enough to stand out. Compare the solutions: content decides."
)

FINDING_RULE_SILENT <- spec(
  name = "rule_silent",
  label = "No suggestion by %s: %s.",
  order = 69,
  stage = "retention",
  severity = "note",
  meaning = paste(
    "A rule could not judge; the reason stands beside it. The others are not touched by",
    "it."
  )
)
