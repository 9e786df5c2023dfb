# The catalogue of findings (base-findings.R): those of scales, reliability and scores.

FINDING_WEAK_ITEMS_LEFT_OUT <- spec(
  name = "weak_items_left_out",
  label = "In no scale: %s, with no loading of %s or more.",
  order = 87,
  stage = "scales",
  severity = "note",
  meaning = paste(
    "Items without a loading worth reading are in no scale. Give weak = \"highest\" to",
    "put them where they load most."
  )
)

FINDING_CROSSING_ITEMS_LEFT_OUT <- spec(
  name = "crossing_items_left_out",
  label = "In no scale: %s, with more than one loading of %s or more.",
  order = 88,
  stage = "scales",
  severity = "note",
  meaning = paste(
    "Items with several loadings are in no scale. Give crossing = \"highest\" to put them",
    "where they load most."
  )
)

FINDING_LOADS_NEGATIVELY <- spec(
  name = "loads_negatively",
  label = paste(
    "%s loads negatively on its factor: is it worded in reverse and not keyed? It is",
    "not turned here; say so in the codebook."
  ),
  many = paste(
    "%s load negatively on their factors: are they worded in reverse and not keyed? They are",
    "not turned here; say so in the codebook."
  ),
  order = 89,
  stage = "scales",
  severity = "caution",
  meaning = paste(
    "An item that loads negatively lowers its scale's sum where it should raise it. Say",
    "in the codebook that it is reversed."
  )
)

FINDING_NO_BOOTSTRAP <- spec(
  name = "no_bootstrap",
  label = "No intervals but those of alpha: %s.",
  order = 90,
  stage = "reliability",
  severity = "note",
  meaning = "Limits by drawing people need the answers. Those of alpha come from its formula."
)

FINDING_AGAINST_SCALE <- spec(
  name = "against_scale",
  label = "%s runs against the rest of its scale %s (correlation with the rest %s)%s",
  many = "%s run against the rest of their scales: were they worded in reverse and not keyed?",
  order = 91,
  stage = "reliability",
  severity = "serious",
  meaning = paste(
    "The item runs against its scale, most likely for want of a key. Mend the key",
    "before reading any coefficient."
  )
)

FINDING_NEGATIVE_ALPHA <- spec(
  name = "negative_alpha",
  label = paste(
    "%s has a negative alpha (%s): its items are, on average, negatively related. That",
    "is no low reliability but a wrong key, or no scale."
  ),
  order = 92,
  stage = "reliability",
  severity = "serious",
  meaning = "Items that run against each other make no scale. Look for a wrong key."
)

FINDING_ALPHA_RISES_WITHOUT <- spec(
  name = "alpha_rises_without",
  label = "%s: without %s alpha would be %s instead of %s.",
  order = 93,
  stage = "reliability",
  severity = "note",
  meaning = paste(
    "The scale would be more reliable without the item. Weigh that against what the",
    "item is there for."
  )
)

FINDING_NEARLY_REDUNDANT <- spec(
  name = "nearly_redundant",
  label = paste(
    "%s: %s nearly repeat each other; they raise reliability without adding to what is",
    "measured."
  ),
  order = 94,
  stage = "reliability",
  severity = "caution",
  meaning = "Asking the same twice raises reliability without measuring more."
)

FINDING_FEW_ITEMS <- spec(
  name = "few_items",
  label = "%s has %s: %s.",
  order = 95,
  stage = "reliability",
  severity = "caution",
  meaning = "One or two items allow no check of whether they measure one thing."
)

FINDING_FEW_PEOPLE_FOR_SCALE <- spec(
  name = "few_people_for_scale",
  label = "%s: %s for %s; nothing here can be trusted.",
  order = 96,
  stage = "reliability",
  severity = "serious",
  meaning = "Fewer people than items: no coefficient can be trusted."
)

FINDING_DIFFERENT_RANGES <- spec(
  name = "different_ranges",
  label = paste(
    "%s adds items with different ranges (%s): those with the wider one weigh more.",
    "Bring them to one range, or read standardised alpha."
  ),
  order = 97,
  stage = "reliability",
  severity = "caution",
  meaning = paste(
    "Items with a wider range weigh more in the sum. Bring them to one range, or read",
    "standardised alpha."
  )
)

FINDING_SEVERAL_FACTORS <- spec(
  name = "several_factors",
  label = paste(
    "%s: parallel analysis finds %d factors among its items. One number hides that;",
    "look for two scales in it."
  ),
  order = 98,
  stage = "reliability",
  severity = "caution",
  meaning = paste(
    "The items of one scale make several factors: one coefficient hides that. Look for",
    "two scales."
  )
)

FINDING_ONE_FACTOR_IMPROPER <- spec(
  name = "one_factor_improper",
  label = paste(
    "%s: the one-factor model puts the uniqueness of %s at its bound; read omega with",
    "care."
  ),
  order = 99,
  stage = "reliability",
  severity = "caution",
  meaning = paste(
    "The one-factor model explains an item wholly: omega hangs on it. Look for a near",
    "copy."
  )
)

FINDING_SPLIT_SAMPLED <- spec(
  name = "split_sampled",
  label = paste(
    "%s: with more than 24 items the greatest split half is the best of 200 searches,",
    "not surely the greatest."
  ),
  order = 100,
  stage = "reliability",
  severity = "note",
  meaning = paste(
    "Of many items not all splits can be tried: the greatest found may not be the",
    "greatest there is."
  )
)

FINDING_SCALES_OVERLAP <- spec(
  name = "scales_overlap",
  label = "%s and %s are hard to tell apart: %s.",
  order = 101,
  stage = "reliability",
  severity = "caution",
  meaning = paste(
    "Two scales that are hard to tell apart may be one. Look at the items of both, or",
    "make one scale of them."
  )
)

FINDING_NO_TOTAL <- spec(
  name = "no_total",
  label = paste(
    "A total over all items would be %s general (omega hierarchical %s): score the",
    "scales, not the total."
  ),
  order = 102,
  stage = "reliability",
  severity = "note",
  meaning = "A total over all items would mix different things: score the scales."
)

FINDING_BIFACTOR_COLLAPSES <- spec(
  name = "bifactor_collapses",
  label = "The bifactor form %s: do not rely on its omegas.",
  order = 102.5,
  stage = "reliability",
  severity = "caution",
  meaning = paste(
    "Exploratory bifactor rotations easily let a group factor vanish (Mansolf & Reise 2016). Rely",
    "on the Schmid-Leiman form, or test a bifactor model that theory names."
  )
)

FINDING_ALPHAS_DIFFER <- spec(
  name = "alphas_differ",
  label = "%s: alpha differs between groups (%s): report it for each.",
  order = 103,
  stage = "reliability",
  severity = "caution",
  meaning = paste(
    "Reliability differs between groups: report it for each, and compare scores with",
    "care."
  )
)
