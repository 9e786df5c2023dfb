# The catalogue of findings (base-findings.R): those of correlations and factorability.

FINDING_IDENTICAL_ITEMS <- spec(
  name = "identical_items",
  label = "%s and %s agree throughout (r = %s): one of them must go before factoring.",
  order = 41,
  stage = "correlation",
  severity = "serious",
  meaning = paste(
    "Two items say the same of everybody: one was copied. Leave one out; nothing can be",
    "factored with both."
  )
)

FINDING_FEWER_PEOPLE_THAN_ITEMS <- spec(
  name = "fewer_people_than_items",
  label = "%s for %s: the matrix cannot be inverted, and no factor can be trusted.",
  order = 42,
  stage = "correlation",
  severity = "serious",
  meaning = paste(
    "With so few people the matrix has no inverse and every result is chance. Ask more",
    "people, or fewer items."
  )
)

FINDING_NOT_POSITIVE_DEFINITE <- spec(
  name = "not_positive_definite",
  label = "The matrix is singular: some items follow exactly from others.",
  order = 43,
  stage = "correlation",
  severity = "serious",
  meaning = "An item follows from others, as a sum does from its parts. Leave it out."
)

FINDING_N_OF_TESTS <- spec(
  name = "n_of_tests",
  label = "Chance levels use n = %s instead of %s: %s.",
  order = 44,
  stage = "correlation",
  severity = "note",
  meaning = paste(
    "With missing answers, weights or clusters, people tell less than as many drawn one by one.",
    "Chance levels of eigenvalues use the smaller number; tests of fit use the answers themselves."
  )
)

FINDING_FEW_CLUSTERS <- spec(
  name = "few_clusters",
  label = paste(
    "%s of %s: too few to tell how much they vary (at least %d). No test of fit is shown, and",
    "errors may be too small."
  ),
  order = 44.5,
  stage = "correlation",
  severity = "caution",
  meaning = paste(
    "Errors under clusters come from how much the clusters differ, which a few clusters do not",
    "show. Give no test, and say how people were sampled."
  )
)

FINDING_FEW_PAIRS <- spec(
  name = "few_pairs",
  label = "The scarcest pair of items rests on %s, the fullest on %s.",
  order = 45,
  stage = "correlation",
  severity = "caution",
  meaning = paste(
    "Some items were hardly answered together. Look at which, and whether they were",
    "given to all."
  )
)

FINDING_CORRELATION_AT_BOUND <- spec(
  name = "correlation_at_bound",
  label = paste(
    "%s as near to -1 or 1 as can be: %s. Their tables have too few people off the",
    "diagonal."
  ),
  order = 46,
  stage = "correlation",
  severity = "serious",
  meaning = paste(
    "A polychoric correlation as near to 1 as can be says that its table is too empty.",
    "Join categories, or take Pearson correlations."
  )
)

FINDING_HALF_ADDED <- spec(
  name = "half_added",
  label = "1/2 was added to every cell of %s with an empty cell: %s.",
  order = 47,
  stage = "correlation",
  severity = "caution",
  meaning = paste(
    "A half was added to each cell of a 2 x 2 table with an empty one, as is usual; its",
    "correlation is unsure."
  )
)

FINDING_EMPTY_CELLS <- spec(
  name = "empty_cells",
  label = paste(
    "%s of answers have empty cells, most of all %s; sparse categories make polychoric",
    "correlations unsure."
  ),
  order = 48,
  stage = "correlation",
  severity = "note",
  meaning = paste(
    "Combinations that nobody gave make polychoric correlations unsure. Join sparse",
    "categories."
  )
)

FINDING_CATEGORIES_AS_NUMBERS <- spec(
  name = "categories_as_numbers",
  label = "%s four answers or fewer (%s), taken as numbers. %s%s",
  order = 49,
  stage = "correlation",
  severity = c("note", "caution"),
  meaning = paste(
    "Few answers lower Pearson correlations. Polychoric ones are recommended where they change the",
    "number of factors or a loading by .10, and for two or three answers of 200 people and more."
  )
)

FINDING_SKEWED_AS_NUMBERS <- spec(
  name = "skewed_as_numbers",
  label = paste(
    "%s skewed answers (%s): Pearson correlations come out too small; compare with",
    "kind = \"polychoric\" where there are few different answers."
  ),
  order = 49.5,
  stage = "correlation",
  severity = c("note", "caution"),
  meaning = paste(
    "Skewed answers lower Pearson correlations and may give factors of items with the same",
    "skewness."
  )
)

FINDING_EM_NOT_CONVERGED <- spec(
  name = "em_not_converged",
  label = "EM stopped after %s iterations: too much is missing.",
  order = 50,
  stage = "correlation",
  severity = "serious",
  meaning = paste(
    "So much is missing that the search did not settle. Use missing = \"pairwise\", or",
    "fewer items."
  )
)

FINDING_WEIGHTED <- spec(
  name = "weighted",
  label = "People are weighted: they count as %s of their number in tests.",
  order = 51,
  stage = "correlation",
  severity = "note",
  meaning = paste(
    "Unequal weights cost precision: tests use the effective number of people (Kish",
    "1965)."
  )
)

FINDING_REPAIRED <- spec(
  name = "repaired",
  label = paste(
    "The matrix had a negative eigenvalue (%s) and was replaced by the nearest",
    "correlation matrix: the largest change is %s, at %s with %s."
  ),
  order = 52,
  stage = "correlation",
  severity = c("caution", "serious"),
  meaning = paste(
    "Correlations that were made pair by pair need not fit together. The nearest matrix",
    "that does was taken; a large change means that results hang on it."
  )
)

FINDING_TRIANGLE_MIRRORED <- spec(
  name = "triangle_mirrored",
  label = "Only the %s triangle was given: the other was filled in from it.",
  order = 53,
  stage = "correlation",
  severity = "note",
  meaning = "Half of the matrix was empty and was filled in from the other half."
)

FINDING_UNRELATED_ITEMS <- spec(
  name = "unrelated_items",
  label = paste(
    "The test of sphericity does not tell these items from unrelated ones: there may be",
    "nothing to factor."
  ),
  order = 54,
  stage = "factorability",
  severity = "serious",
  meaning = "The items may share nothing. Look at the answers before going on."
)

FINDING_NO_SPHERICITY <- spec(
  name = "no_sphericity",
  label = "No test of sphericity is shown: %s.",
  order = 54.5,
  stage = "factorability",
  severity = "note",
  meaning = "How such correlations of unrelated items vary is not known: adequacy stands alone."
)

FINDING_ADEQUACY_UNDEFINED <- spec(
  name = "adequacy_undefined",
  label = "%s: sampling adequacy is not defined.",
  order = 55,
  stage = "factorability",
  severity = "serious",
  meaning = "An item that correlates with no other cannot be factored: leave it out."
)

FINDING_LOW_ADEQUACY <- spec(
  name = "low_adequacy",
  label = paste(
    "Overall sampling adequacy is %s, below %s: the items do not share enough to be",
    "factored."
  ),
  order = 56,
  stage = "factorability",
  severity = "serious",
  meaning = paste(
    "What pairs of items share they do not share with the others: there are no common",
    "factors to find. Leave out the weakest item, and look again."
  )
)

FINDING_LOW_ITEM_ADEQUACY <- spec(
  name = "low_item_adequacy",
  label = paste(
    "%s has adequacy %s, below %s: leave out the lowest, and run again before judging",
    "the next."
  ),
  many = "%s have adequacy below %s: leave out the lowest, and run again before judging the next.",
  order = 57,
  stage = "factorability",
  severity = "caution",
  meaning = paste(
    "What this item shares with another it shares with no third. Leave out the lowest,",
    "run again, and judge the next then."
  )
)

FINDING_COLLINEAR_PAIR <- spec(
  name = "collinear_pair",
  label = "%s and %s nearly repeat each other (r = %s): one of them may go.",
  order = 58,
  stage = "factorability",
  severity = "caution",
  meaning = paste(
    "Two items that nearly repeat each other make a factor of their own. Keep the",
    "better worded one."
  )
)

FINDING_FEW_PEOPLE <- spec(
  name = "few_people",
  label = paste(
    "%s, and the items predict %s of each other on average: loadings will vary much from sample",
    "to sample (about %s people are wanted)."
  ),
  order = 59,
  stage = "factorability",
  severity = "caution",
  meaning = paste(
    "How many people are enough depends on how much items share and how many load on each factor,",
    "not on their number (MacCallum et al. 1999): with communalities of .60 and more 100 people",
    "may do, about .50 200, and below that 300 and more, with four good items or more a factor."
  )
)
