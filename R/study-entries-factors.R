# What a study file may say of correlations and factors. study-entries.R has the fields of an entry.
# The parameters of rotations are entries of `factors` too: they come from the rotations themselves.

ENTRY_CORRELATIONS_KIND <- spec(
  name = "correlations.kind",
  label = "The kind of correlation",
  order = 21,
  type = "string",
  choices = function() names_of("kind"),
  default = "pearson",
  stage = "correlate",
  argument = "kind"
)

ENTRY_CORRELATIONS_MISSING <- spec(
  name = "correlations.missing",
  label = "What is done about missing answers",
  order = 22,
  type = "string",
  choices = function() names_of("missing"),
  default = "pairwise",
  stage = "correlate",
  argument = "missing"
)

ENTRY_CORRELATIONS_CONTINUOUS_FROM <- spec(
  name = "correlations.continuous_from",
  label = "For mixed: items with so many different answers are continuous",
  order = 23,
  type = "integer",
  lowest = 3,
  highest = 17,
  default = 11,
  stage = "correlate",
  argument = "continuous_from"
)

ENTRY_CORRELATIONS_REPAIR <- spec(
  name = "correlations.repair",
  label = "Replace a matrix with negative eigenvalues by the nearest correlation matrix",
  order = 24,
  type = "boolean",
  default = TRUE,
  stage = "correlate",
  argument = "repair"
)

ENTRY_FACTORS_NUMBER <- spec(
  name = "factors.number",
  label = paste(
    "A whole number, \"probable\" (what count_factors() takes: the most probable number, less what",
    "is no topic) or \"parallel\" (parallel analysis)"
  ),
  order = 25,
  type = c("integer", "string"),
  choices = function() c("probable", "parallel", setdiff(names_of("rule"), "parallel")),
  lowest = 1,
  default = "probable",
  stage = "number",
  argument = "number"
)

ENTRY_FACTORS_BASIS <- spec(
  name = "factors.basis",
  label = "Which eigenvalues are compared with chance",
  order = 26,
  type = "string",
  choices = function() names_of("basis"),
  default = "components",
  stage = "count",
  argument = "basis"
)

ENTRY_FACTORS_CHANCE <- spec(
  name = "factors.chance",
  label = paste("Where chance eigenvalues come from; normal, or ordinal for ordinal correlations"),
  order = 27,
  type = "string",
  choices = function() names_of("chance"),
  stage = "count",
  argument = "chance"
)

ENTRY_FACTORS_SEQUENTIAL <- spec(
  name = "factors.sequential",
  label = "Draw chance data with the factors kept so far",
  order = 28,
  type = "boolean",
  default = FALSE,
  stage = "count",
  argument = "sequential"
)

ENTRY_FACTORS_REFERENCE <- spec(
  name = "factors.reference",
  label = "Which level of chance an eigenvalue must pass",
  order = 29,
  type = "string",
  choices = function() names_of("reference"),
  default = "upper",
  stage = "count",
  argument = "reference"
)

ENTRY_FACTORS_PERCENTILE <- spec(
  name = "factors.percentile",
  label = "The percentile of chance",
  order = 30,
  type = "number",
  lowest = 50,
  highest = 100,
  default = 95,
  stage = "count",
  argument = "percentile"
)

ENTRY_FACTORS_REPLICATES <- spec(
  name = "factors.replicates",
  label = "How many sets of chance data, or enough to be sure",
  order = 31,
  type = c("integer", "string"),
  choices = function() c("enough"),
  lowest = 20,
  highest = 1000000,
  default = 1000,
  stage = "count",
  argument = "replicates"
)

ENTRY_FACTORS_METHOD <- spec(
  name = "factors.method",
  label = "How factors are extracted",
  order = 32,
  type = "string",
  choices = function() names_of("extraction"),
  default = "minres",
  stage = "extract",
  argument = "method"
)

ENTRY_FACTORS_ROTATION <- spec(
  name = "factors.rotation",
  label = "How factors are turned",
  order = 33,
  type = "string",
  choices = function() rotations_of_studies(),
  default = "oblimin",
  stage = "rotate",
  argument = "rotation"
)

ENTRY_FACTORS_ANALYSE <- spec(
  name = "factors.analyse",
  label = "Correlations, or covariances of the items",
  order = 34,
  type = "string",
  choices = function() c("correlations", "covariances"),
  stage = "extract",
  argument = "analyse"
)

ENTRY_FACTORS_LOWEST_UNIQUENESS <- spec(
  name = "factors.lowest_uniqueness",
  label = "The least share of an item that is its own",
  order = 35,
  type = "number",
  lowest = 0,
  highest = 0.5,
  default = 0.005,
  stage = "extract",
  argument = "lowest_uniqueness"
)

ENTRY_FACTORS_EXTRACTION_STARTS <- spec(
  name = "factors.extraction_starts",
  label = "Random starts of the extraction",
  order = 36,
  type = "integer",
  lowest = 0,
  highest = 100,
  default = 5,
  stage = "extract",
  argument = "starts"
)

ENTRY_FACTORS_OBLIQUE <- spec(
  name = "factors.oblique",
  label = "For rotations that can be either",
  order = 37,
  type = "boolean",
  stage = "rotate",
  argument = "oblique"
)

ENTRY_FACTORS_ROW_WEIGHTS <- spec(
  name = "factors.row_weights",
  label = "How much each item counts in rotation",
  order = 43,
  type = "string",
  choices = function() names_of("rows"),
  default = "none",
  stage = "rotate",
  argument = "row_weights"
)

ENTRY_FACTORS_OPTIMUM <- spec(
  name = "factors.optimum",
  label = "1 for the best rotation found, 2 for the second best",
  order = 44,
  type = "integer",
  lowest = 1,
  highest = 2,
  default = 1,
  stage = "rotate",
  argument = "optimum"
)

ENTRY_FACTORS_STARTS <- spec(
  name = "factors.starts",
  label = "Random starts of the rotation",
  order = 45,
  type = "integer",
  lowest = 1,
  highest = 100000,
  default = 100,
  stage = "rotate",
  argument = "starts"
)

ENTRY_FACTORS_NAMES <- spec(
  name = "factors.names",
  label = "What factors are called, by F1, F2, ... (of components C1, C2, ...)",
  order = 45.5,
  type = "string",
  mapped = TRUE,
  stage = "name",
  argument = "names"
)
