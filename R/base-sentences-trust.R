# The catalogue of findings (base-findings.R): those of naming, comparing and drawing people again.

FINDING_NAMES_KEPT <- spec(
  name = "names_kept",
  label = "Names kept by matching factors with the earlier solution: %s.",
  order = 86.1,
  stage = "solution",
  severity = "note",
  meaning = paste(
    "The solution was computed again, and factors that are like those that had names",
    "have them still. Look whether they fit."
  )
)

FINDING_NAMES_LOST <- spec(
  name = "names_lost",
  label = "No factor here is like %s (congruence %s or more): give names anew.",
  order = 86.2,
  stage = "solution",
  severity = "caution",
  meaning = "A factor that had a name has no counterpart any more: read its items and name it anew."
)

FINDING_NO_WORDINGS <- spec(
  name = "no_wordings",
  label = "The items have no wording: give a codebook with a column `wording` to name by.",
  order = 86.3,
  stage = "solution",
  severity = "note",
  meaning = "Factors are named by what their items say; without wordings there are only item names."
)

FINDING_AGAINST_WORDING <- spec(
  name = "against_wording",
  label = paste(
    "%s runs against its factor as it is keyed (%s): should it be turned round, or not",
    "have been?"
  ),
  order = 86.4,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "An item loads negatively on its own factor: as keyed, it says the opposite of the",
    "factor's other items. Look at its wording and its key."
  )
)

FINDING_COMPARED_ON_SHARED <- spec(
  name = "compared_on_shared",
  label = "The solutions have not the same items: without %s they are compared on what they share.",
  order = 86.5,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "Congruences are over the shared items alone. Fit measures of different items cannot",
    "be compared."
  )
)

FINDING_TINY_FACTOR <- spec(
  name = "tiny_factor",
  label = "%s: its smallest factor has %s; fewer than 3 do not make a factor that can be trusted.",
  order = 86.6,
  stage = "solution",
  severity = "caution",
  meaning = "A factor on which fewer than three items load most is likely to be one too many."
)

FINDING_GROUP_LEFT_OUT <- spec(
  name = "group_left_out",
  label = "Group %s has no solution: %s",
  order = 86.7,
  stage = "solution",
  severity = "serious",
  meaning = "The group is too small, or its answers cannot be factored. Put groups together."
)

FINDING_SMALL_GROUP_DRAWS <- spec(
  name = "small_group_draws",
  label = paste(
    "Fewer than five people for each of the %2$d items in %1$s: expect differences that",
    "mean nothing."
  ),
  order = 86.8,
  stage = "solution",
  severity = "caution",
  meaning = "Loadings of small groups are unsure: low congruences there may be chance."
)

FINDING_GROUPS_DIFFER <- spec(
  name = "groups_differ",
  label = paste(
    "%s is another factor in some groups (lowest congruence %s): do not compare scores",
    "on it."
  ),
  order = 86.9,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "A factor is not the same in all groups. Scores on it do not mean the same: find the",
    "items that differ."
  )
)

FINDING_ITEM_MOVES <- spec(
  name = "item_moves",
  label = "%s stays with %s in only %s of draws; otherwise it is with %s most often.",
  order = 86.91,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "With other people the item would belong elsewhere: think twice before it joins a",
    "scale."
  )
)

FINDING_FACTOR_NOT_REPLICATED <- spec(
  name = "factor_not_replicated",
  label = "%s is not found alike in two halves of the people (congruence %s in the middle).",
  order = 86.92,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "Half as many people do not give the same factor: fewer factors, or more people, may",
    "settle it."
  )
)

FINDING_NUMBER_DIFFERS <- spec(
  name = "number_differs",
  label = paste(
    "Parallel analysis of the draws suggests %d factors most often (%s); the %d of the",
    "solution in %s."
  ),
  order = 86.93,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "Draws have the noise of half as many people: a smaller number says that a factor is",
    "weak, a larger one that there may be more."
  )
)

FINDING_DRAWS_UNSOLVED <- spec(
  name = "draws_unsolved",
  label = "%s of %s draws have no solution, and are left out.",
  order = 86.94,
  stage = "solution",
  severity = c("caution", "serious"),
  meaning = paste(
    "In some draws an item does not vary or the search does not end: limits leave these",
    "out."
  )
)

FINDING_IMPROPER_DRAWS <- spec(
  name = "improper_draws",
  label = "In %s of draws a uniqueness is at its bound.",
  order = 86.95,
  stage = "solution",
  severity = "caution",
  meaning = paste(
    "With other people the solution would often be improper: mostly too many factors, or",
    "too few people."
  )
)

FINDING_FEW_UNITS <- spec(
  name = "few_units",
  label = "Only %s are drawn: standard errors from so few are too small.",
  order = 86.96,
  stage = "solution",
  severity = "caution",
  meaning = "With fewer than about 30 clusters, drawing them again understates how much they vary."
)

FINDING_STRATUM_OF_ONE <- spec(
  name = "stratum_of_one",
  label = "Strata with one unit, which is in every draw: %s. Put them together with others.",
  order = 86.97,
  stage = "solution",
  severity = "caution",
  meaning = "What is alone in its stratum never varies: standard errors are too small."
)

FINDING_PARTS_DRAWN <- spec(
  name = "parts_drawn",
  label = "People are many: %s random parts of them were drawn instead of single ones.",
  order = 86.98,
  stage = "solution",
  severity = "note",
  meaning = "Standard errors from 500 parts differ from those of single people by some 3 %."
)

FINDING_WORKERS_DIFFER <- spec(
  name = "workers_differ",
  label = "%s came from workers whose processors reckon otherwise in the last digits.",
  order = 90,
  stage = "workers",
  severity = "note",
  meaning = paste(
    "Numbers agree with those of one machine to some twelve digits, but not to the last bit.",
    "Nothing is to be done, unless every bit must come again: then use machines of one kind."
  )
)
