# What a plan measures only when it is asked to: what each rule about the number of factors says,
# and how often limits by resampling hold what many people would show.

COVERED <- c(loadings_covered = "95 % limits of loadings that hold them",
  communalities_covered = "95 % limits of communalities that hold them",
  correlations_covered = "95 % limits of factor correlations that hold them")

# Names and labels of the further measures; all are shares.
asked_measures <- function(how) {
  of_rules <- spec_field(RULES, "label", how$rules)
  c(if (length(how$rules)) {
    c(right_taken = "the number that is taken: right number",
      stats::setNames(sprintf("%s: right number", of_rules), paste0("right.", how$rules)))
  }, if (how$resamples > 0L) COVERED)
}

# Which rows of measures are of rules, and what a row's rule is called.
rules_of_plan <- function(m) m$measure == "right_taken" | startsWith(m$measure, "right.")
named_rule <- function(label) sub(": right number$", "", label)

settle_plan_rules <- function(rules) {
  if (is.null(rules)) return(character())
  setdiff(names(choose_rules(rules)), "parallel")
}

# Of one sample, by the stages themselves.
measures_asked <- function(x, k, how) {
  correlations <- correlations_of_sample(x, how)
  if (is.null(correlations)) return(NULL)
  c(if (length(how$rules)) judged_by_rules(correlations, k, how),
    if (how$resamples > 0L) covered_by_limits(correlations, k, how))
}

# Which rules name the right number. (One that says nothing does not.)
judged_by_rules <- function(correlations, k, how) {
  found <- tryCatch(
    count_factors(correlations, rules = how$rules, replicates = CHANCE_SETS_OF_PLANS,
      seed = how$seed, threads = how$threads)$values,
    softsieve_error = function(e) list(taken = NA_integer_))
  said <- found$rules$suggested[match(how$rules, found$rules$rule)]
  c(right_taken = as.numeric(found$taken %in% k),
    stats::setNames(as.numeric((said == k) %in% TRUE), paste0("right.", how$rules)))
}

CHANCE_SETS_OF_PLANS <- 200L

# The shares of limits of loading_stability() that hold what the target has; none where there is no
# solution, or too few draws have one.
covered_by_limits <- function(correlations, k, how) {
  target <- how$target
  limits <- tryCatch({
    solution <- factor_solution(correlations, k, seed = how$seed, threads = how$threads)
    loading_stability(solution, halves = 0L, replicates = how$resamples, seed = how$seed,
      threads = how$threads)$values
  }, softsieve_error = function(e) NULL)
  if (is.null(limits)) return(NULL)
  own <- solution$values$loadings
  found <- core_aligned(unname(own), target$loadings)
  # the target in the order and the direction of the sample's factors
  place <- order(found$column)
  truth <- t(t(target$loadings[, place, drop = FALSE]) * found$sign[place])
  between <- (target$between * (found$sign %o% found$sign))[place, place, drop = FALSE]
  holds <- function(table, truth) mean(table$lower <= truth & truth <= table$upper)
  pairs <- limits$factor_correlations
  at <- cbind(match(pairs$factor, colnames(own)), match(pairs$with, colnames(own)))
  stats::setNames(
    c(holds(limits$loadings, as.vector(truth)),
      holds(limits$items, core_communalities(target$loadings, target$between)),
      if (nrow(at)) holds(pairs, between[at]) else NA_real_),
    names(COVERED))
}
