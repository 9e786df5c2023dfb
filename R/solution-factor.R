#' Factor a questionnaire in one call
#'
#' Chains [correlate_items()], [extract_factors()] (or [extract_components()]), which finds the
#' number of factors where a rule is named, and [rotate_factors()], and nothing else: the same calls
#' by hand, with the same seed, give the same numbers.
#'
#' @inheritParams extract_factors
#' @param method As in [extract_factors()], or `"components"`.
#' @param ... Passed on, by their names: to [correlate_items()] `kind`, `missing`, `repair`,
#'   `continuous_from`, `n`; to the extraction `analyse`, `lowest_uniqueness` and
#'   `extraction_starts` (its `starts`); to [rotate_factors()] `oblique`, `gamma`, `kappa`, `delta`,
#'   `power`, `zeros`, `target`, `normalization`, `optimum`.
#' @param rotation,starts Passed on to [rotate_factors()].
#' @param by Group columns, bare or in quotes: then there is a solution for each
#'   group, aligned to that of everybody ([softsieve-group-solutions]).
#' @param replicates With `by`: how many times people are resampled in each group for limits, from
#'   20 on, or 0 for none.
#' @param seed A whole number; the rule for the number of factors and the rotation both use it.
#' @param threads Number of threads.
#' @return An object of class `factor_solution` ([softsieve-factor-solution]); with `by` one of
#'   class `group_solutions` ([softsieve-group-solutions]).
#' @section Errors: `softsieve_error_argument` (a name that no stage knows), and those of the
#' stages.
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' factor_solution(motives, seed = 1)
#' factor_solution(motives, 4, kind = "polychoric", rotation = "geomin", delta = 0.001, seed = 1)
#' factor_solution(motives, 4, by = cafe, replicates = 100, seed = 1)
#' @export
factor_solution <- function(x,
    factors = if (identical(method, "components")) "parallel" else "probable", ...,
    method = "minres", rotation = "oblimin", starts = 100L, by = NULL, replicates = 500L,
    seed = NULL, threads = NULL) {
  by <- settle_by(rlang::enquo(by), x)
  if (!identical(replicates, 0L) && !identical(replicates, 0)) {
    replicates <- check_whole(replicates, "replicates", 20L, 1e6L)
  }
  seed <- settle_seed(seed)
  asked <- sort_by_stage(list(...), x, method)
  drawn <- list(seed = seed, threads = threads)
  correlations <- call_with(as_correlations, c(list(x, threads = threads), asked$correlate))
  first <- c(list(correlations, factors), drawn)
  extracted <- if (identical(method, "components")) {
    call_with(extract_components, c(first, asked$extract))
  } else {
    call_with(extract_factors, c(first, list(method = method), asked$extract))
  }
  solution <- call_with(rotate_factors,
    c(list(extracted, rotation, starts = starts), drawn, asked$rotate))
  solution$call <- match.call()
  if (is.null(by)) return(solution)
  solve_groups(solution, by, replicates, seed, threads, match.call())
}

# Which stage each further argument is for, by the stages' own arguments.
sort_by_stage <- function(dots, x, method) {
  own <- c("x", "...", "solution", "factors", "components", "method", "rotation", "starts", "seed",
    "threads", "by", "replicates")
  known <- function(f) setdiff(names(formals(f)), own)
  matrix <- !is_questionnaire(x) && (!is.data.frame(x) || !is.null(matrix_in_frame(x)))
  stages <- list(
    correlate = known(if (matrix) correlate_items.matrix else correlate_items.questionnaire),
    extract = c(
      known(if (identical(method, "components")) extract_components else extract_factors),
      if (!identical(method, "components")) "extraction_starts"),
    rotate = c(known(rotate_factors), names(parameters_of(ROTATIONS))))
  all <- unlist(stages, use.names = FALSE)
  wrong <- if (is.null(names(dots))) {
    rep("an argument without a name", length(dots))
  } else {
    setdiff(names(dots), all)
  }
  if (length(wrong)) {
    stop_input("argument", "Every argument must be one that a stage knows.",
      got = sprintf("Not known here: %s.", name_culprits(wrong)),
      todo = c(hint_nearest(wrong[1L], all), sprintf("Known: %s.", paste(all, collapse = ", "))))
  }
  sorted <- lapply(stages, function(names) dots[intersect(names, names(dots))])
  names(sorted$extract) <- sub("^extraction_starts$", "starts", names(sorted$extract))
  sorted
}

#' How sure a number is, from counts
#'
#' Draws or leaves out the random groups of people that [tabulate_items()] counted apart, and works
#' out a number again each time: standard errors and limits of anything that follows from
#' correlations, at any number of people, without them.
#'
#' @param tables Counts, an object of class `item_tables` with at least 20 random groups.
#' @param statistic A function of item correlations ([correlate_items()]) that gives numbers, always
#'   as many, named or not: for example `function(r) r$values$correlations["m1", "m2"]`.
#' @param how `"leave_out"`: each random group is left out once (delete-a-group jackknife);
#'   `"draw"`: random groups are drawn with replacement, `replicates` times.
#' @param kind,repair As in [correlate_items()].
#' @param level Of the limits, from 0.5 to 0.999.
#' @param replicates How many draws, from 20 on; for `"draw"`.
#' @inheritParams parallel_analysis
#' @return A tibble, one row for each number: `name`, `estimate`, `standard_error`, `lower`, `upper`
#'   and `failed` (replicates for which it is missing).
#' @section Formulas: With G random groups and \eqn{t_{(g)}}{t(g)} the number without random group
#'   g, the jackknife's standard error is
#'   \deqn{\sqrt{\frac{G - 1}{G} \sum_g (t_{(g)} - \bar t)^2}}{sqrt((G - 1)/G sum (t(g) - mean)^2)}
#'   and limits are the number plus and minus it times the quantile of t with G - 1 degrees of
#'   freedom (Kott 2001). Of draws they are the standard deviation and the percentiles.
#' @section Errors: `softsieve_error_class`, `softsieve_error_argument`,
#'   `softsieve_error_statistic`.
#' @eval describe_papers("Kott (2001)")
#' @family large data
#' @examples
#' tables <- tabulate_items(repair_cafe, codebook = repair_cafe_codebook)
#' first_eigenvalues <- function(r) eigen(r$values$correlations)$values[1:4]
#' draw_tables(tables, first_eigenvalues)
#' @export
draw_tables <- function(tables, statistic, how = c("leave_out", "draw"), kind = "pearson",
    repair = TRUE, level = 0.95, replicates = 500L, seed = NULL, threads = NULL) {
  check_class(tables, "tables", "item_tables", "tabulate_items()")
  check_function(statistic, "statistic")
  statistic <- theirs(statistic, "statistic")
  how <- check_choice(how, "how", c("leave_out", "draw"))
  kind <- check_choice(kind, "kind", names(KINDS))
  check_flag(repair, "repair")
  check_number(level, "level", 0.5, 0.999)
  replicates <- check_whole(replicates, "replicates", 20L, 1e6L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  check_random_groups(tables)
  random_groups <- ncol(tables$values$cells)
  of <- function(often) {
    r <- correlate_counts(tables, counted_of(tables, often), kind, repair, 11L, threads)
    told_number(statistic(r))
  }
  estimate <- of(rep(1, random_groups))
  columns <- if (how == "draw") replicates else random_groups
  drawn <- with_progress("Random groups drawn", columns, function(progress) {
    vapply(seq_len(columns), function(column) {
      progress(column)
      often <- if (how == "leave_out") {
        replace(rep(1, random_groups), column, 0)
      } else {
        cpp_draw_people(seq_len(random_groups) - 1L, integer(random_groups), seed, column - 1,
          FALSE)
      }
      found <- tryCatch(of(often), softsieve_error = function(e) NULL)
      if (length(found) == length(estimate)) found + 0 else rep(NA_real_, length(estimate))
    }, numeric(length(estimate)))
  })
  drawn <- matrix(drawn, length(estimate))
  limits <- if (how == "draw") {
    drawn_limits(drawn, level)
  } else {
    left_out_limits(estimate, drawn, level)
  }
  tibble_of(
    name = if (is.null(names(estimate))) as.character(seq_along(estimate)) else names(estimate),
    estimate = unname(estimate), standard_error = limits$error, lower = limits$lower,
    upper = limits$upper, failed = as.integer(rowSums(is.na(drawn))))
}

told_number <- function(x) {
  if (is.numeric(x) && length(x) && is.null(dim(x))) return(x)
  stop_input("statistic", "`statistic` must give numbers.", got = describe_value(x),
    todo = "For example function(r) eigen(r$values$correlations)$values.")
}

drawn_limits <- function(drawn, level) {
  at <- c(1 - level, 1 + level) / 2
  q <- apply(drawn, 1L, stats::quantile, probs = at, na.rm = TRUE)
  list(error = apply(drawn, 1L, stats::sd, na.rm = TRUE), lower = q[1L, ], upper = q[2L, ])
}

left_out_limits <- function(estimate, drawn, level) {
  random_groups <- rowSums(!is.na(drawn))
  away <- drawn - rowMeans(drawn, na.rm = TRUE)
  error <- sqrt((random_groups - 1) / random_groups * rowSums(away^2, na.rm = TRUE))
  far <- stats::qt((1 + level) / 2, random_groups - 1) * error
  list(error = error, lower = unname(estimate - far), upper = unname(estimate + far))
}
