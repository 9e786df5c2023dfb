# Another solution found as a given one was: of other people, another number of factors, or a draw.

# `correlations`: item_correlations; `k`: how many factors (those of the solution when left out);
# `starts`, `extraction_starts`: others than the solution's; `tested`: with the test of fit?
solve_alike <- function(correlations, solution, k = ncol(solution$values$loadings), seed = NULL,
    threads = NULL, starts = solution$settings$starts,
    extraction_starts = solution$settings$extraction_starts, tested = TRUE) {
  s <- solution$settings
  p <- ncol(correlations$values$correlations)
  extracted <- if (one_of_model(s) == "component") {
    extract_components(correlations, k, analyse = s$analysed)
  } else {
    check_invertible(correlations)
    extract_number(correlations,
      list(k = check_number_of(k, core_most_factors(p), p, "factors"), by = "given"), s$method,
      s$analysed, s$lowest_uniqueness, extraction_starts,
      if (tested) settle_threads(threads) else 0L)
  }
  turn_alike(extracted, s, seed, threads, starts)
}

# Rotated as the settings of another solution say.
turn_alike <- function(extracted, settings, seed, threads, starts = settings$starts) {
  if (settings$rotation == "none") return(extracted)
  own <- names(ROTATIONS[[settings$rotation]]$parameters)
  asked <- c(settings[intersect(c("oblique", "normalization", own), names(settings))],
    list(starts = if (is.null(starts)) 1L else starts, seed = seed, threads = threads))
  call_with(rotate_factors, c(list(extracted, settings$rotation), asked))
}

# The answers behind a solution (or counts of them, where these will do), or an error that says why
# there are none.
answers_behind <- function(solution, counts = FALSE) {
  behind <- solution$values$item_correlations
  answers <- if (counts) items_behind(behind) else behind$values$questionnaire
  if (!is.null(answers)) return(answers)
  counted <- !is.null(behind$values$tables)
  stop_input("no_answers",
    "The solution must come from answers: people are drawn from them.",
    got = sprintf("It comes from %s alone.", if (counted) "counts" else "a correlation matrix"),
    todo = if (counted) {
      "Take a sample of people, sample_people(), and start from its questionnaire."
    } else {
      "Start with factor_solution(questionnaire(...))."
    })
}
