# Another solution found as a given one was: of other people, another number of factors, or a draw.

# `correlations`: item_correlations; `k`: how many factors (those of the solution when left out);
# `starts`, `extraction_starts`: others than the solution's.
solve_alike <- function(
  correlations,
  solution,
  k = ncol(solution$values$loadings),
  seed = NULL,
  threads = NULL,
  starts = solution$settings$starts,
  extraction_starts = solution$settings$extraction_starts
) {
  s <- solution$settings
  extracted <- if (one_of_model(s) == "component") {
    extract_components(correlations, k, analyse = s$analysed)
  } else {
    extract_factors(
      correlations,
      k,
      method = s$method,
      analyse = s$analysed,
      lowest_uniqueness = s$lowest_uniqueness,
      starts = extraction_starts
    )
  }
  turn_alike(extracted, s, seed, threads, starts)
}

# Rotated as the settings of another solution say.
turn_alike <- function(extracted, settings, seed, threads, starts = settings$starts) {
  if (settings$rotation == "none") return(extracted)
  own <- names(spec_of("rotation", settings$rotation)$parameters)
  asked <- c(
    settings[intersect(c("oblique", "row_weights", own), names(settings))],
    list(starts = if (is.null(starts)) 1L else starts, seed = seed, threads = threads)
  )
  call_with(rotate_factors, c(list(extracted, settings$rotation), asked))
}

# The answers behind a solution (or counts of them, where these will do), or an error that says why
# there are none.
answers_behind <- function(solution, call, counts = FALSE) {
  behind <- solution$values$item_correlations
  answers <- if (counts) items_behind(behind) else behind$values$questionnaire
  if (!is.null(answers)) return(answers)
  counted <- !is.null(behind$values$tables)
  stop_input(
    "no_answers",
    "The solution must come from answers: people are drawn from them.",
    got = sprintf("It comes from %s alone.", if (counted) "counts" else "a correlation matrix"),
    todo = if (counted) {
      "Take a sample of people, sample_people(), and start from its questionnaire."
    } else {
      "Start with factor_solution(questionnaire(...))."
    },
    call = call
  )
}
