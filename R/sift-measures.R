# The rules of sifting. A rule is a spec whose name starts with SIFTING_ (base-registry.R): name,
# label, order, reference and
#
#   stage      what it looks at: "correlations", "factors", "rotation" or "scales"
#   limit      what it holds a measure against; a function(components) where that hangs on the model
#   lowest, highest  what the limit may be
#   breaks     "below" or "above": on which side of the limit an item breaks the rule
#   measure    function(state, asked): a number for each item, NA where the rule is not about it
#              (sift-state.R says what a state holds; `asked` are the parameters)
#   parameters what else it can be asked (base-registry.R)
#   digits     with how many decimals the measure is shown

SIFTING_ADEQUACY <- spec(
  name = "adequacy",
  label = "sampling adequacy",
  order = 1,
  reference = "Kaiser & Rice (1974)",
  stage = "correlations",
  limit = cutoff("adequacy_least"),
  lowest = 0,
  highest = 1,
  breaks = "below",
  measure = function(state, asked) state$adequacy$items,
  parameters = list(),
  digits = 2L
)

SIFTING_COMMUNALITY <- spec(
  name = "communality",
  label = "communality",
  order = 2,
  reference = NA_character_,
  stage = "factors",
  limit = function(components) if (components) 0.50 else 0.30,
  lowest = 0,
  highest = 1,
  breaks = "below",
  measure = function(state, asked) state$communalities,
  parameters = list(),
  digits = 2L
)

SIFTING_LOADING <- spec(
  name = "loading",
  label = "largest loading",
  order = 3,
  reference = NA_character_,
  stage = "rotation",
  limit = 0.40,
  lowest = 0,
  highest = 1,
  breaks = "below",
  measure = function(state, asked) apply(abs(state$loadings), 1L, max),
  parameters = list(),
  digits = 2L
)

SIFTING_CROSSING <- spec(
  name = "crossing",
  label = "distance of the second loading from the first",
  order = 4,
  reference = "Howard (2016)",
  stage = "rotation",
  limit = 0.20,
  lowest = 0,
  highest = 1,
  breaks = "below",
  measure = function(state, asked) {
    size <- t(apply(abs(state$loadings), 1L, sort, decreasing = TRUE))
    if (ncol(state$loadings) < 2L) return(rep(NA_real_, nrow(state$loadings)))
    ifelse(size[, 2L] > asked$from, size[, 1L] - size[, 2L], NA_real_)
  },
  parameters = list(
    from = parameter("number", "second loadings above this count", 0, 1, 0.30)
  ),
  digits = 2L
)

SIFTING_SMALL_FACTOR <- spec(
  name = "small_factor",
  label = "items of its factor",
  order = 5,
  reference = NA_character_,
  stage = "rotation",
  limit = 3,
  lowest = 1,
  highest = 100,
  breaks = "below",
  measure = function(state, asked) as.numeric(table(state$home)[as.character(state$home)]),
  parameters = list(),
  digits = 0L
)

SIFTING_RELIABILITY <- spec(
  name = "reliability",
  label = "gain of its scale's omega without it",
  order = 6,
  reference = "McDonald (1999)",
  stage = "scales",
  limit = cutoff("high_alpha_gain"),
  lowest = 0,
  highest = 1,
  breaks = "above",
  measure = function(state, asked) state$gains,
  parameters = list(),
  digits = 3L
)
