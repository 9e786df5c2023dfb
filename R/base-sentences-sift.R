# What sifting notices. base-findings.R has the fields of a finding.

FINDING_PINNED_OFFENDS <- spec(
  name = "pinned_offends",
  label = "%s is kept although it breaks a rule (%s).",
  order = 110,
  stage = "sift",
  severity = "caution",
  meaning = paste(
    "An item that was pinned for its content breaks a rule of sifting: say in the report why",
    "it is kept."
  )
)

FINDING_FEWER_CARRIED <- spec(
  name = "fewer_carried",
  label = "In pass %s the items left could not carry the number of factors: %d at the end.",
  order = 111,
  stage = "sift",
  severity = "caution",
  meaning = paste(
    "So few items were left that fewer factors were taken than asked for: sift less, or ask",
    "for fewer."
  )
)

FINDING_SIFT_ENDED_EARLY <- spec(
  name = "sift_ended_early",
  label = "Sifting ended because %s; these still break a rule: %s.",
  order = 112,
  stage = "sift",
  severity = "caution",
  meaning = "Items that break a rule are still there: go on, change rules, or say why they stay."
)

FINDING_PAIR_APART <- spec(
  name = "pair_apart",
  label = paste(
    "%s went, although it and %s share only with each other: decide on the two together, as a pair",
    "to drop or the beginning of a scale."
  ),
  order = 112.5,
  stage = "sift",
  severity = "caution",
  meaning = paste(
    "Two items that share only with each other are a pair: dropping one and then the other, or",
    "writing more items like them, is a question of content."
  )
)

FINDING_END_FLATTERS <- spec(
  name = "end_flatters",
  label = paste(
    "%s went by what these people answered: reliability and fit of the rest look better than",
    "they will with other people. sift_paths() tells how much."
  ),
  order = 113,
  stage = "sift",
  severity = "note",
  meaning = paste(
    "Items chosen on people fit these people best: judge the result on people who had no part",
    "in the choice."
  )
)

FINDING_PATHS_UNSOLVED <- spec(
  name = "paths_unsolved",
  label = "%d of %d paths cannot be walked and are left out: %s",
  order = 113.7,
  stage = "sift",
  severity = "note",
  meaning = paste(
    "With other people or another number of factors these items may have no solution. Shares are",
    "of the other paths."
  )
)

FINDING_FEWER_DRAWS <- spec(
  name = "fewer_draws",
  label = "People were drawn %d times, not %d, as each time takes long: draws = 400 takes longer.",
  order = 113.5,
  stage = "sift",
  severity = "note",
  meaning = paste(
    "With many items, polychoric correlations or a number found anew in each pass a sifting takes",
    "long, and is repeated on fewer samples. Shares of 20 draws are known to about 20 per cent."
  )
)

FINDING_TOSS_UPS <- spec(
  name = "toss_ups",
  label = "Toss-ups, which stay on some paths and go on others: %s. Decide by their content.",
  order = 114,
  stage = "sift",
  severity = "caution",
  meaning = paste(
    "Whether such an item stays hangs on limits, the order of rules and on who was asked: let",
    "its content decide, and say so."
  )
)
