# The rules of sifting. An entry has a label, its paper and
#
#   stage      what it looks at: "correlations", "factors", "rotation" or "scales"
#   limit      what it holds a measure against; a function(components) where that depends on
#              the model
#   lowest, highest  what the limit may be
#   breaks     "below" or "above": on which side of the limit an item breaks the rule
#   measure    function(state, asked): a number for each item, NA where the rule is not about it
#              (sift-state.R says what a state holds; `asked` are the parameters)
#   parameters what else it can be asked (base-families.R)
#   error      function(state): standard errors of the measure, or NULL where there are none
#   digits     with how many decimals the measure is shown

SIFTING_RULES <- family(
  adequacy = spec(label = "sampling adequacy", reference = "Kaiser & Rice (1974)",
    stage = "correlations", limit = cutoff("adequacy_least"), lowest = 0, highest = 1,
    breaks = "below", measure = function(state, asked) state$adequacy$items, parameters = list(),
    digits = 2L),
  communality = spec(label = "communality", reference = "Child (2006)", stage = "factors",
    limit = function(components) if (components) 0.50 else cutoff("low_communality"),
    error = function(state) state$errors$communality, lowest = 0, highest = 1, breaks = "below",
    measure = function(state, asked) state$communalities, parameters = list(), digits = 2L),
  loading = spec(label = "largest loading", reference = NA_character_, stage = "rotation",
    limit = cutoff("salient_loading"), error = function(state) state$errors$first, lowest = 0,
    highest = 1, breaks = "below",
    measure = function(state, asked) apply(abs(state$loadings), 1L, max), parameters = list(),
    digits = 2L),
  cross_loading = spec(label = "second loading of an item that crosses",
    reference = "Howard (2016)",
    stage = "rotation", limit = cutoff("second_loading"),
    error = function(state) state$errors$second, lowest = 0, highest = 1, breaks = "above",
    measure = function(state, asked) {
      if (ncol(state$loadings) < 2L) return(rep(NA_real_, nrow(state$loadings)))
      size <- t(apply(abs(state$loadings), 1L, sort, decreasing = TRUE))
      crosses <- size[, 2L] >= asked$from | size[, 1L] - size[, 2L] < asked$within
      ifelse(crosses, size[, 2L], NA_real_)
    },
    parameters = list(
      from = parameter("number", "second loadings from here on cross", 0, 1,
        cutoff("salient_loading")),
      within = parameter("number", "so do those within this of the first", 0, 1,
        cutoff("cross_loading_distance"))),
    digits = 2L),
  small_factor = spec(label = "items of its factor", reference = NA_character_, stage = "rotation",
    limit = 3, lowest = 1, highest = 100, breaks = "below",
    measure = function(state, asked) as.numeric(table(state$home)[as.character(state$home)]),
    parameters = list(), digits = 0L),
  reliability = spec(label = "gain of its scale's omega without it", reference = "McDonald (1999)",
    stage = "scales", limit = cutoff("high_alpha_gain"), lowest = 0, highest = 1, breaks = "above",
    measure = function(state, asked) state$gains, parameters = list(), digits = 3L))
