# What a study file may say of the pattern, scales, scores and the seed. study-entries.R has the
# fields of an entry.

ENTRY_PATTERN_HIDE_BELOW <- spec(
  name = "pattern.hide_below",
  label = "Smaller loadings are not shown",
  order = 46,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.3,
  stage = "pattern",
  argument = "hide_below"
)

ENTRY_PATTERN_SORT <- spec(
  name = "pattern.sort",
  label = "In which order items stand",
  order = 46.1,
  type = "string",
  choices = function() names(PATTERN_ORDERS),
  default = "factor",
  stage = "pattern",
  argument = "sort"
)

ENTRY_PATTERN_STRUCTURE <- spec(
  name = "pattern.structure",
  label = "Show the correlations of items with factors beside the loadings",
  order = 46.2,
  type = "boolean",
  default = FALSE,
  stage = "pattern",
  argument = "structure"
)

ENTRY_PATTERN_WEAK_BELOW <- spec(
  name = "pattern.weak_below",
  label = "An item whose loadings are all smaller is marked weak",
  order = 46.3,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.3,
  stage = "pattern",
  argument = "weak_below"
)

ENTRY_PATTERN_CROSSING_FROM <- spec(
  name = "pattern.crossing_from",
  label = "An item whose second loading is as large is marked crossing",
  order = 46.4,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.3,
  stage = "pattern",
  argument = "crossing_from"
)

ENTRY_PATTERN_CROSSING_WITHIN <- spec(
  name = "pattern.crossing_within",
  label = "An item whose second loading is as near the first is marked crossing",
  order = 46.5,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.2,
  stage = "pattern",
  argument = "crossing_within"
)

ENTRY_PATTERN_COMMUNALITY_BELOW <- spec(
  name = "pattern.communality_below",
  label = "An item whose communality is smaller is marked low",
  order = 46.6,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.2,
  stage = "pattern",
  argument = "communality_below"
)

ENTRY_SCALES_BY <- spec(
  name = "scales.by",
  label = "Scales by what items load on, or as the codebook names them",
  order = 47,
  type = "string",
  choices = function() c("solution", "codebook"),
  default = "solution",
  stage = "by",
  argument = "by"
)

ENTRY_SCALES_SALIENT <- spec(
  name = "scales.salient",
  label = "Loadings of this size count",
  order = 48,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.3,
  stage = "form",
  argument = "salient"
)

ENTRY_SCALES_CROSSING <- spec(
  name = "scales.crossing",
  label = "What becomes of items with two loadings",
  order = 49,
  type = "string",
  choices = function() c("leave_out", "highest"),
  default = "leave_out",
  stage = "form",
  argument = "crossing"
)

ENTRY_SCALES_WEAK <- spec(
  name = "scales.weak",
  label = "What becomes of items without a loading",
  order = 50,
  type = "string",
  choices = function() c("leave_out", "highest"),
  default = "leave_out",
  stage = "form",
  argument = "weak"
)

ENTRY_SCALES_REPLICATES <- spec(
  name = "scales.replicates",
  label = "Draws of the people for intervals of reliability",
  order = 51,
  type = "integer",
  lowest = 0,
  highest = 100000,
  default = 1000,
  stage = "trust",
  argument = "replicates"
)

ENTRY_SCALES_WISHED <- spec(
  name = "scales.wished",
  label = "The reliability that scales should have",
  order = 52,
  type = "number",
  lowest = 0.5,
  highest = 0.99,
  default = 0.8,
  stage = "trust",
  argument = "wished"
)

ENTRY_SCALES_LEVEL <- spec(
  name = "scales.level",
  label = "Of the intervals of reliability",
  order = 53,
  type = "number",
  lowest = 0.5,
  highest = 0.999,
  default = 0.95,
  stage = "trust",
  argument = "level"
)

ENTRY_SCORES_METHOD <- spec(
  name = "scores.method",
  label = "How scores are made",
  order = 54,
  type = "string",
  choices = function() setdiff(names_of("score"), score_methods_of("scales")),
  stage = "score",
  argument = "method"
)

ENTRY_SCORES_GAPS <- spec(
  name = "scores.gaps",
  label = "How people with gaps are scored",
  order = 54.1,
  type = "string",
  choices = function() names(GAPS),
  stage = "score",
  argument = "gaps"
)

ENTRY_SCORES_ANSWERED_SHARE <- spec(
  name = "scores.answered_share",
  label = "The share of the items a person must have answered",
  order = 54.2,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.5,
  stage = "score",
  argument = "answered_share"
)

ENTRY_SCORES_ERRORS <- spec(
  name = "scores.errors",
  label = "Give standard errors and limits beside scores",
  order = 54.3,
  type = "boolean",
  default = FALSE,
  stage = "score",
  argument = "errors"
)

ENTRY_SCORES_LEVEL <- spec(
  name = "scores.level",
  label = "Of the limits of scores",
  order = 54.4,
  type = "number",
  lowest = 0.5,
  highest = 0.999,
  default = 0.95,
  stage = "score",
  argument = "level"
)

ENTRY_SCALE_SCORES_METHOD <- spec(
  name = "scale_scores.method",
  label = "How scores are made",
  order = 54.5,
  type = "string",
  choices = function() score_methods_of("scales"),
  default = "mean",
  stage = "score_scales",
  argument = "method"
)

ENTRY_SCALE_SCORES_GAPS <- spec(
  name = "scale_scores.gaps",
  label = "How people with gaps are scored",
  order = 54.6,
  type = "string",
  choices = function() names(GAPS),
  stage = "score_scales",
  argument = "gaps"
)

ENTRY_SCALE_SCORES_ANSWERED_SHARE <- spec(
  name = "scale_scores.answered_share",
  label = "The share of the items a person must have answered",
  order = 54.7,
  type = "number",
  lowest = 0,
  highest = 1,
  default = 0.5,
  stage = "score_scales",
  argument = "answered_share"
)

ENTRY_SCALE_SCORES_ERRORS <- spec(
  name = "scale_scores.errors",
  label = "Give standard errors and limits beside scores",
  order = 54.8,
  type = "boolean",
  default = FALSE,
  stage = "score_scales",
  argument = "errors"
)

ENTRY_SCALE_SCORES_LEVEL <- spec(
  name = "scale_scores.level",
  label = "Of the limits of scores",
  order = 54.9,
  type = "number",
  lowest = 0.5,
  highest = 0.999,
  default = 0.95,
  stage = "score_scales",
  argument = "level"
)

ENTRY_SCALE_SCORES_ALSO <- spec(
  name = "scale_scores.also",
  label = "Further forms of scale scores",
  order = 54.95,
  type = "string",
  several = TRUE,
  choices = function() FORMS,
  stage = "score_scales",
  argument = "also"
)

ENTRY_SCALE_SCORES_BY <- spec(
  name = "scale_scores.by",
  label = "Group columns within which people are compared",
  order = 54.97,
  type = "string",
  several = TRUE,
  stage = "score_scales",
  argument = "by"
)

ENTRY_SEED <- spec(
  name = "seed",
  label = "Drawn, and written into the results, when left out",
  order = 55,
  type = "integer",
  lowest = 0,
  highest = 2147483647
)
