# The catalogue of findings (base-findings.R): those of groups of people, of answers to be scored,
# and of results that were edited.

FINDING_SMALL_GROUP <- spec(
  name = "small_group",
  label = "Left out, with fewer than %s: %s.",
  order = 20,
  stage = "groups",
  severity = "caution",
  meaning = "Groups with so few people cannot be judged and were left out."
)

FINDING_NO_GROUP <- spec(
  name = "no_group",
  label = "%s in no group, as %s is missing.",
  order = 21,
  stage = "groups",
  severity = "note",
  meaning = paste(
    "People without a value in the group column are in no group; they count in the",
    "whole."
  )
)

FINDING_GROUP_NOT_JUDGED <- spec(
  name = "group_not_judged",
  label = "%s (%s) cannot be judged: %s",
  order = 22,
  stage = "groups",
  severity = "caution",
  meaning = paste(
    "A stage could not be run for this group; the reason stands beside it. The other",
    "groups are judged."
  )
)

FINDING_ITEMS_ABSENT <- spec(
  name = "items_absent",
  label = "The data have no item %s: everybody counts as having left it out.",
  many = "The data have no items %s: everybody counts as having left them out.",
  order = 23,
  stage = "answers",
  severity = "caution",
  meaning = paste(
    "The data do not have an item of the solution. Scores are worked out from the",
    "others, and are less sure."
  )
)

FINDING_BEYOND_EARLIER_ANSWERS <- spec(
  name = "beyond_earlier_answers",
  label = paste(
    "%s has %s outside %s to %s, all that the solution's people gave: a missing code,",
    "or another answer scale?"
  ),
  order = 24,
  stage = "answers",
  severity = "caution",
  meaning = paste(
    "Answers that nobody gave where the solution comes from. Look for missing codes and",
    "for another answer scale."
  )
)

FINDING_AGAINST_KEY <- spec(
  name = "against_key",
  label = paste(
    "%s runs against the others here, unlike in the solution: was it turned round",
    "already, or keyed otherwise? Its scores would be wrong."
  ),
  order = 25,
  stage = "answers",
  severity = "serious",
  meaning = paste(
    "An item runs the other way than in the solution. It was probably turned round",
    "twice, or not at all: mend the key before scoring."
  )
)

FINDING_EDITED_BY_HAND <- spec(
  name = "edited_by_hand",
  label = "This %s was edited by hand: it is no longer what the stage found.",
  order = 0,
  stage = "edit",
  severity = "caution",
  meaning = paste(
    "Its numbers are those that somebody wrote. Other results of the same people do not go with it",
    "any more."
  )
)
