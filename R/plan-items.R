# What a plan says of items: rules of sifting that they break, cross-loadings that are seen.

# Of each factor the item in the middle of those that load most on it.
median_items <- function(l, home) {
  unlist(lapply(sort(unique(home)), function(f) {
    own <- which(home == f)
    own[order(abs(l[own, f]))][ceiling(length(own) / 2)]
  }))
}

# What rules of sifting look at in loadings: items x rules, and beside them the second loading,
# whether the item crosses or not (whose errors those of a crossing are).
RULES_OF_LOADINGS <- c("communality", "loading", "cross_loading")
looked_at <- function(loadings, between) {
  state <- list(loadings = loadings, communalities = core_communalities(loadings, between))
  looks <- vapply(SIFTING_RULES[RULES_OF_LOADINGS], function(rule) {
    as.numeric(rule$measure(state, lapply(rule$parameters, `[[`, "default")))
  }, numeric(nrow(loadings)))
  cbind(looks, second = two_largest_sizes(loadings)$second)
}

# Which items (rows) of which samples (columns) break a rule, by more than 1.645 standard errors of
# their measures (items x rules).
broken_rules <- function(looks, errors = NULL) {
  all <- array(looks, c(dim(looks), 1L)[1:3])
  if (is.null(errors)) errors <- array(0, dim(all)[1:2])
  broken <- lapply(seq_along(RULES_OF_LOADINGS), function(i) {
    rule <- SIFTING_RULES[[RULES_OF_LOADINGS[i]]]
    limit <- if (is.function(rule$limit)) rule$limit(FALSE) else rule$limit
    by <- (all[, i, ] - limit) * if (rule$breaks == "above") 1 else -1
    (by > stats::qnorm(0.95) * errors[, i]) %in% TRUE
  })
  matrix(Reduce(`|`, broken), dim(all)[1L])
}

# `out`: which items (rows) of which samples the rules take out at the first look of sifting;
# `errors` of what they look at, which are those that the samples have.
sift_samples <- function(solved, target) {
  if (length(solved) < 2L) return(NULL)
  all <- simplify2array(lapply(solved, `[[`, "looks"))
  errors <- apply(all, 1:2, stats::sd, na.rm = TRUE)
  errors[, "cross_loading"] <- errors[, "second"]
  list(out = broken_rules(all, errors), errors = errors)
}

# Power .8 of a two-sided test at .05, in standard errors.
SEEN_IN_MOST <- stats::qnorm(0.975) + stats::qnorm(0.8)

# The cross-loading of a median item that is told from 0 with a power of .8.
crossing_seen <- function(solved, crossings) {
  if (!nrow(crossings$at) || length(solved) < 2L) return(NA_real_)
  found <- vapply(solved, function(one) one$loadings[crossings$at], numeric(nrow(crossings$at)))
  errors <- apply(matrix(found, nrow(crossings$at)), 1L, stats::sd)
  stats::median(SEEN_IN_MOST * errors / crossings$slope, na.rm = TRUE)
}
