# The catalogue of findings (base-findings.R): those of profiles of items and people.

FINDING_NO_VARIANCE <- spec(
  name = "no_variance",
  label = "%s%s has the same answer from all: it cannot be correlated.",
  many = "%s have the same answer from all: they cannot be correlated.",
  order = 26,
  stage = "profile",
  severity = "serious",
  meaning = "Everybody gave the same answer: leave the item out."
)

FINDING_ONE_ANSWER <- spec(
  name = "one_answer",
  label = "%s%s has one answer from %s of the people: it hardly tells them apart.",
  many = "%s have one answer from nearly all people: they hardly tell them apart.",
  order = 27,
  stage = "profile",
  severity = "caution",
  meaning = paste(
    "Nearly everybody gave the same answer: the item tells few people apart, and its",
    "correlations hang on a few."
  )
)

FINDING_UNUSED_CATEGORY <- spec(
  name = "unused_category",
  label = "%s%s has an answer that nobody gave.",
  many = "%s have an answer that nobody gave.",
  order = 28,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "An answer that nobody gave. Harmless for Pearson correlations; polychoric ones",
    "have a threshold less."
  )
)

FINDING_SPARSE_CATEGORY <- spec(
  name = "sparse_category",
  label = "%s%s has an answer that fewer than %d people gave.",
  many = "%s have an answer that hardly anybody gave.",
  order = 29,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "An answer that very few gave. Polychoric correlations get unsure: join it with its",
    "neighbour."
  )
)

FINDING_FLOOR <- spec(
  name = "floor",
  label = "%s%s has %s of its answers at the lowest there is (floor).",
  many = "%s have half of their answers or more at the lowest there is (floor).",
  order = 30,
  stage = "profile",
  severity = "caution",
  meaning = paste(
    "Most people stand at the lowest answer: the item cannot tell them apart there, and",
    "correlations come out too small."
  )
)

FINDING_CEILING <- spec(
  name = "ceiling",
  label = "%s%s has %s of its answers at the highest there is (ceiling).",
  many = "%s have half of their answers or more at the highest there is (ceiling).",
  order = 31,
  stage = "profile",
  severity = "caution",
  meaning = paste(
    "Most people stand at the highest answer: the item cannot tell them apart there,",
    "and correlations come out too small."
  )
)

FINDING_NOT_INTERVAL <- spec(
  name = "not_interval",
  label = paste(
    "%s%s has %s, skewness %s: its distances should not be taken as equal; see kind =",
    "\"polychoric\"."
  ),
  many = paste(
    "%s have few different answers, or skewed or peaked ones: their distances should not be",
    "taken as equal; see kind = \"polychoric\"."
  ),
  order = 32,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "Few or skewed answers: equal distances between them should not be taken for",
    "granted. Compare with polychoric correlations."
  )
)

FINDING_MEAN_FAR_OFF <- spec(
  name = "mean_far_off",
  label = "%s%s has its mean (%s) near the end of the scale.",
  many = "%s have their means near an end of the scale.",
  order = 33,
  stage = "profile",
  severity = "note",
  meaning = "The mean is near an end of the scale: there is little room on that side."
)

FINDING_NO_DISTANCE <- spec(
  name = "no_distance",
  label = paste(
    "No distances: the items' correlations cannot be inverted (an item that does not",
    "vary, or follows from others)."
  ),
  order = 34,
  stage = "profile",
  severity = "caution",
  meaning = paste(
    "Distances need a matrix that can be inverted. Take out the item that does not vary",
    "or follows from others."
  )
)

FINDING_SAME_ANSWER <- spec(
  name = "same_answer",
  label = "%s the same answer throughout: %s.",
  order = 35,
  stage = "profile",
  severity = "caution",
  meaning = paste(
    "The same answer throughout, reversed items too, cannot be meant. Consider",
    "keep_people()."
  )
)

FINDING_LONG_RUNS <- spec(
  name = "long_runs",
  label = "%s the same answer to %d items or more in a row: %s.",
  order = 36,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "Long runs of one answer may be carelessness. Look for other signs before leaving",
    "anybody out."
  )
)

FINDING_FAR_FROM_ALL <- spec(
  name = "far_from_all",
  label = "%s answers far from all others' (p < %s): %s.",
  order = 37,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "A pattern of answers that is rare among these people. It may be care as well as",
    "carelessness: look at it."
  )
)

FINDING_INCONSISTENT <- spec(
  name = "inconsistent",
  label = "%s answers inconsistent between halves of scales (even-odd below %s): %s.",
  order = 38,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "The two halves of a person's scales do not agree. Look for other signs before",
    "leaving anybody out."
  )
)

FINDING_CONTRADICTING <- spec(
  name = "contradicting",
  label = "%s %d contradictions or more between an item and a reversed one: %s.",
  order = 39,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "Agreement with an item and with its opposite. Look for other signs before leaving",
    "anybody out."
  )
)

FINDING_HARDLY_ANSWERED <- spec(
  name = "hardly_answered",
  label = "%s fewer than half of the items answered: %s.",
  order = 40,
  stage = "profile",
  severity = "note",
  meaning = paste(
    "So few answers say little of a person. Look whether they stopped, or were not",
    "asked."
  )
)
