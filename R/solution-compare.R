#' Compare solutions
#'
#' Holds two or more solutions against each other: numbers of factors, rotations, extractions, kinds
#' of correlation, samples or waves. Factors are matched in order and sign, and items that differ
#' are named.
#'
#' @param ... Two or more of what [factor_solution()], [extract_factors()], [extract_components()]
#'   or [rotate_factors()] returned, by names for the tables if you like (`three = ..., four =
#'   ...`), or one list of them; or a solution and what [read_loadings()] read: then an object of
#'   class `printed_comparison` says which of the printed cells are not reproduced (`values`:
#'   `factors`, `cells`, `compared`, `largest` difference, `limit`, half of the last decimal).
#' @param against `"first"`: each against the first; `"before"`: each against the one before it.
#'   When left out: `"before"` where all have different numbers of factors, otherwise `"first"`.
#' @param salient A loading of this size or more is salient, from 0 to 1.
#' @return An object of class `solution_comparison` ([softsieve-result]); `values` holds
#'   * `solutions`: tibble, one row for each: `solution`, `factors`, `items`, `n`, `kind`, `method`,
#'     `rotation`, `share` (of the variance, explained), `rmsr`, `rmsea`, `cfi`, `bic` (`NA` where
#'     the method has none), `smallest` (how many items the factor with the fewest has), `weak`
#'     (items without a salient loading) and `cross_loading` (items with two or more);
#'   * `factors`: tibble, one row for each factor of each solution but the one they are compared
#'     with: `solution`, `against`, `factor`, `with` (the factor there that it stands for, `NA`:
#'     none is left), `sign` (-1: they run against each other), `congruence` (from 0 to 1),
#'     `rms_difference` (root mean square of the differences of their loadings) and `likeness`
#'     (`"very similar"` from .95, `"similar"` from .85, else `"different"`; `"none"`);
#'   * `items`: tibble, one row for each shared item of each of these pairs: `solution`, `against`,
#'     `item`, `factor` and `before` (where its largest loading is, if salient: here, and there in
#'     the words of here), `moved` (are these two other factors?), `difference` (the largest of its
#'     loadings' differences between matched factors, with its sign), `on` (the factor of that
#'     difference), `wording` and `reversed`;
#'   * `congruences`: a list of matrices, for each pair the congruence of all factors with all;
#'   * `verdict`: one sentence for each pair.
#' @section Formulas: For the loadings a and b of the shared items on two factors, the coefficient
#'   of congruence and the root mean square difference
#'   \deqn{\phi = a'b / \sqrt{a'a\, b'b}, \quad \sqrt{\sum (a - b)^2 / p}}{
#'     phi = a'b / sqrt(a'a b'b), sqrt(sum (a - b)^2 / p)}
#'   Factors are matched so that the congruences' sizes add up to the most (the assignment problem;
#'   Munkres 1957), and reflected where theirs is negative.
#' @section Errors: `softsieve_error_solutions` (fewer than two; something else than a solution;
#'   names that repeat), `softsieve_error_other_items` (fewer than three shared items),
#'   `softsieve_error_argument`.
#' @section Findings: `compared_on_shared` (the solutions do not have the same items),
#'   `tiny_factor` (a factor with fewer than three items).
#' @eval describe_papers("Tucker (1951)", "Lorenzo-Seva & ten Berge (2006)", "Munkres (1957)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' three <- factor_solution(motives, factors = 3, seed = 1)
#' four <- factor_solution(motives, factors = 4, seed = 1)
#' compare_solutions(three, four)
#' compare_solutions(oblimin = four, geomin = rotate_factors(four, "geomin", seed = 1))
#' @export
compare_solutions <- function(..., against = NULL, salient = cutoff("salient_loading")) {
  printed <- vapply(list(...), is_result, NA, class = "printed_loadings")
  if (any(printed)) return(compare_printed(list(...), printed, match.call()))
  solutions <- settle_solutions(list(...))
  check_number(salient, "salient", 0, 1)
  number <- vapply(solutions, function(x) ncol(x$values$loadings), 0L)
  if (is.null(against)) against <- if (anyDuplicated(number)) "first" else "before"
  against <- check_choice(against, "against", c("first", "before"))
  others <- seq_along(solutions)[-1L]
  held <- if (against == "first") rep(1L, length(others)) else others - 1L
  pairs <- Map(function(i, j) compare_two(solutions[c(i, j)], salient), others, held)
  values <- list(solutions = stack_rows(Map(side_by_side, names(solutions), solutions, salient)),
    factors = stack_rows(lapply(pairs, `[[`, "factors")),
    items = stack_rows(lapply(pairs, `[[`, "items")),
    congruences = stats::setNames(lapply(pairs, `[[`, "congruences"),
      paste(names(solutions)[others], "with", names(solutions)[held])),
    verdict = vapply(pairs, `[[`, "", "verdict"))
  new_result("solution_comparison", values, list(against = against, salient = salient),
    find_in_comparison(solutions, values),
    list(fingerprint = rlang::hash(lapply(solutions, function(x) x$source$fingerprint)),
      items = Reduce(union, lapply(solutions, function(x) x$source$items)),
      people = solutions[[1L]]$source$people, called = solutions[[1L]]$source$called),
    match.call())
}

# One solution and one printed table.
compare_printed <- function(given, printed, made_by) {
  solution <- given[!printed]
  fine <- length(given) == 2L && length(solution) == 1L
  if (!fine || !is_result(solution[[1L]], "factor_solution")) {
    stop_input("solutions", "Printed loadings are compared with one solution.",
      got = sprintf("%s came.", count_of(length(given), "thing")),
      todo = "compare_solutions(solution, read_loadings(file)).")
  }
  compare_with_printed(solution[[1L]], given[[which(printed)]], made_by)
}

# The solutions, each with a name of its own.
settle_solutions <- function(given) {
  if (length(given) == 1L && !is_result(given[[1L]], "factor_solution") && is.list(given[[1L]])) {
    given <- given[[1L]]
  }
  fine <- vapply(given, inherits, NA, what = "factor_solution")
  if (length(given) < 2L || !all(fine)) {
    stop_input("solutions",
      "There must be two factor solutions or more.",
      got = if (all(fine)) {
        sprintf("%s came.", count_of(length(given), "solution"))
      } else {
        describe_value(given[[which(!fine)[1L]]])
      },
      todo = "For example compare_solutions(three = factor_solution(x, 3), four = ...).")
  }
  names <- if (is.null(names(given))) rep("", length(given)) else names(given)
  blank <- !nzchar(names)
  names[blank] <- telling_names(given)[blank]
  if (anyDuplicated(names)) {
    stop_input("solutions", "Every solution must have a name of its own.",
      got = sprintf("Twice: %s.", name_culprits(unique(names[duplicated(names)]))))
  }
  stats::setNames(given, names)
}

# What tells solutions apart: the first of their settings that differs for all of them.
telling_names <- function(solutions) {
  words <- list(
    vapply(solutions, function(x) count_of(ncol(x$values$loadings), one_of_model(x$settings)), ""),
    vapply(solutions, function(x) x$settings$rotation, ""),
    vapply(solutions, function(x) x$settings$method, ""),
    vapply(solutions, function(x) x$settings$kind, ""))
  telling <- Filter(function(x) !anyDuplicated(x), words)
  if (length(telling)) unname(telling[[1L]]) else paste("solution", seq_along(solutions))
}

side_by_side <- function(name, solution, salient) {
  v <- solution$values
  s <- solution$settings
  home <- home_factor(v$loadings, salient)
  measure <- function(what) if (is.null(v$fit[[what]])) NA_real_ else v$fit[[what]]
  tibble_of(solution = name, factors = ncol(v$loadings), items = nrow(v$loadings), n = v$n,
    kind = s$kind, method = s$method, rotation = s$rotation, share = sum(v$variance$share),
    rmsr = measure("rmsr"), rmsea = measure("rmsea"), cfi = measure("cfi"), bic = measure("bic"),
    smallest = min(tabulate(home, ncol(v$loadings))), weak = sum(is.na(home)),
    cross_loading = length(cross_loading_items(v$loadings, salient)))
}

# `two`: a solution and the one it is compared with, named.
compare_two <- function(two, salient) {
  here <- two[[1L]]
  there <- two[[2L]]
  matched <- match_factors(here, there)
  shared <- shared_items(here, there)
  first <- here$values$loadings[shared, , drop = FALSE]
  second <- there$values$loadings[shared, , drop = FALSE]
  at <- match(matched$with, colnames(second))
  items <- items_of_two(first, second, at, matched, salient)
  known <- match(shared, here$values$items$item)
  items[c("wording", "reversed")] <- here$values$items[known, c("wording", "reversed")]
  label <- function(table) {
    tibble::add_column(table, solution = names(two)[1L], against = names(two)[2L], .before = 1L)
  }
  factors <- tibble::add_column(matched, likeness = likeness(matched$congruence))
  list(factors = label(factors), items = label(items),
    congruences = core_congruences(first, second), verdict = say_of_two(two, factors, items))
}

items_of_two <- function(first, second, at, matched, salient) {
  home <- home_factor(first, salient)
  before <- home_factor(second, salient)
  # factors there in the words of here; those that no factor here stands for keep theirs
  here <- match(seq_len(ncol(second)), at)
  words <- ifelse(is.na(here), paste(colnames(second), "(before)"), colnames(first)[here])
  found <- !is.na(at)
  turned <- second[, at[found], drop = FALSE] * rep(matched$sign[found], each = nrow(second))
  difference <- first[, found, drop = FALSE] - turned
  largest <- max.col(abs(difference), ties.method = "first")
  on <- colnames(difference)[largest]
  now <- colnames(first)[home]
  then <- words[before]
  tibble_of(item = rownames(first), factor = now, before = then,
    moved = !is.na(now) & !is.na(then) & now != then,
    difference = difference[cbind(seq_along(largest), largest)], on = on)
}

# What the comparison of two comes to.
say_of_two <- function(two, factors, items) {
  k <- nrow(factors)
  before <- ncol(two[[2L]]$values$loadings)
  kept <- factors[factors$likeness %in% c("very similar", "similar"), ]
  other <- factors[!factors$likeness %in% c("very similar", "similar"), ]
  range <- if (nrow(kept)) {
    between <- unique(format_unit(range(kept$congruence)))
    sprintf(" (congruence %s)", paste(between, collapse = " to "))
  } else {
    ""
  }
  found <- if (nrow(kept) == k && k == before) {
    all <- if (k == 1L) "the factor is" else sprintf("all %d factors are", k)
    sprintf("%s found again%s", all, range)
  } else {
    sprintf("%d of %s found again%s", nrow(kept), count_of(k, "factor is", "factors are"), range)
  }
  moved <- items[items$moved, ]
  sprintf("%s against %s: %s%s; %s.", names(two)[1L], names(two)[2L], found,
    paste(sprintf("; %s", origin_of(other, items)), collapse = ""),
    if (nrow(moved)) {
      sprintf("%s: %s", count_of(nrow(moved), "item moves", "items move"),
        name_culprits(moved$item, 6L))
    } else {
      "no item moves"
    })
}

# Where the items of a factor that is not found again come from.
origin_of <- function(factors, items) {
  vapply(seq_len(nrow(factors)), function(i) {
    own <- items[items$factor %in% factors$factor[i], ]
    from <- sort(table(own$before), decreasing = TRUE)
    sprintf("%s is not%s", factors$factor[i], if (!is.na(factors$congruence[i])) {
      sprintf(" (%s at most)", format_unit(factors$congruence[i]))
    } else if (length(from)) {
      sprintf(", its items come from %s", join_words(names(from)))
    } else {
      ""
    })
  }, "")
}

find_in_comparison <- function(solutions, values) {
  sets <- lapply(solutions, function(x) x$values$items$item)
  all <- Reduce(union, sets)
  alone <- setdiff(all, Reduce(intersect, sets))
  tiny <- values$solutions[values$solutions$smallest < 3L, ]
  bind_findings(if (length(alone)) {
    new_finding("compared_on_shared", name_culprits(alone), value = length(alone))
  }, if (nrow(tiny)) {
    new_finding("tiny_factor", tiny$solution, vapply(tiny$smallest, count_of, "", one = "item"),
      value = tiny$smallest, limit = 3)
  })
}

#' @exportS3Method tibble::as_tibble
as_tibble.solution_comparison <- function(x, ...) x$values$factors

#' @export
glance.solution_comparison <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  found <- v$factors$congruence
  tibble_of(solutions = nrow(v$solutions), pairs = length(v$verdict),
    lowest_congruence = if (all(is.na(found))) NA_real_ else min(found, na.rm = TRUE),
    moved = sum(v$items$moved))
}

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
