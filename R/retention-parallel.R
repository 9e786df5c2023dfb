#' How many factors exceed chance
#'
#' Unrelated items, too, give some eigenvalues above 1, the more so the fewer people there are.
#' Parallel analysis draws such chance eigenvalues many times, for as many people and items as there
#' are, and keeps the factors whose eigenvalues exceed what chance gives at the same rank.
#'
#' Replicate i depends on `seed` and i alone, so the result does not depend on the number of
#' threads. A run that was interrupted goes on where it stopped when the same call, with the same
#' `seed`, is made again in the same session.
#'
#' @inheritParams assess_factorability
#' @param ... Passed on to [correlate_items()] when `x` is not correlated yet: `kind`, `missing`,
#' `n`.
#' @param basis Whose eigenvalues are compared:
#'   * `"components"`: of the correlation matrix itself;
#'   * `"factors"`: of the matrix with squared multiple correlations on its diagonal;
#'   * `"minimum_rank"`: of the matrix with the communalities that leave the least common variance;
#'     here shares of the common variance are compared, and chance levels are shown as such a share
#'     of the observed common variance.
#' @param chance What the chance data are:
#'   * `"normal"`: unrelated normal items. No people are drawn (Bartlett's decomposition), so that
#'     the cost does not grow with `n`; polychoric and mixed correlations lie further from 0 by what
#'     each item's categories leave untold; with weights people of about the same weight (24 parts),
#'     and with clusters what is within and what is between them, are drawn apart and added up, as
#'     a few who count for much raise the first eigenvalues (of the `"components"` basis, where
#'     answers are at hand; else fewer people stand for it);
#'   * `"shifted"` (the default where rows have an `order`, see [questionnaire()]): each column as
#'     it is, shifted in a circle by a random number of rows within its series, so that every column
#'     keeps its dependence and none goes with another; of columns without trend and season only
#'     (of 8 unrelated series of 96 rows a factor is found in 5, 7 and 11 per cent at neighbours'
#'     correlations of .5, .8 and .9; of 60 rows at .9 in 28; the price is power: of three factors
#'     in 96 such rows of .8 all are found in 26 per cent, `bench/series.csv`);
#'   * `"resampled"`: each item's own answers, shuffled among those who answered it: category
#'     shares, missing places and weights stay as they are; correlated as the observed answers were;
#'   * `"ordinal"`: for polychoric and mixed correlations, n people who answer each category as
#'     often as its share, correlated by the same method; continuous items are normal.
#'
#'   `NULL` is `"ordinal"` for polychoric and mixed correlations of up to 2,000 people, and
#'   `"normal"` for all others (of 24 items with two to four answers the levels of the two then
#'   differ by .006 at most: `bench/chance.csv`).
#' @param reference What an eigenvalue must exceed: `"upper"`, the upper percentile of the chance
#'   eigenvalues of its rank, or `"mean"`, their mean. Both are shown.
#' @param percentile The upper percentile, from 50 to 100 (the largest drawn).
#' @param sequential Draw the chance data for rank k from a population with the k - 1 factors kept
#'   so far (with `chance = "normal"` only)? Without it all ranks are compared with unrelated items,
#'   which asks too much of the factors after a strong first one.
#' @param replicates Number of chance matrices, at least 20; or `"enough"`: 500, and then more until
#'   every eigenvalue on which the decision hangs is further from its limit than three Monte Carlo
#'   standard errors, or 20,000 are drawn and the decision is called uncertain.
#' @param by Group columns, bare or in quotes: the same for each group as well. Needs a
#'   questionnaire.
#' @param seed A whole number; drawn from R's generator when `NULL`, so that [set.seed()] settles
#' it.
#' @param threads Number of threads; all processors, but never more than eight, when `NULL`.
#' @details The arguments are the choices that papers on parallel analysis differ in: which
#'   eigenvalues, which chance data, which level, how many sets.
#' @return An object of class `parallel_analysis` ([softsieve-result]); `values` holds `eigenvalues`
#'   (tibble, one row for each rank: `rank`, `eigenvalue`, `share` of the variance (of the common
#'   variance unless the basis is components), `cumulative_share`, `chance_mean`, `chance_upper`,
#'   `above_chance`, `mean_error` and `upper_error`, the Monte Carlo standard errors of the two
#'   levels), `suggested` (how many to keep: the leading ranks above the reference, up to the first
#'   that is not), `uncertain` (is a decisive eigenvalue within three standard errors of its
#'   limit?), `n`, `replicates` (drawn) and `groups` (tibble, one row for each group: `group`,
#'   `people`, `n`, `suggested`, `uncertain`, `why` it was not judged).
#' @section Errors: `softsieve_error_argument`, `softsieve_error_chance` (chance data that do not go
#'   with the correlations), those of [correlate_items()], and for the bases other than components
#'   `softsieve_error_identical_items`, `softsieve_error_too_few_people`,
#'   `softsieve_error_singular`.
#' @section Findings: those of [correlate_items()], `no_factor`, `shifted_not_used` (rows in an
#'   order with a trend or a season), `eigenvalue_one_differs`,
#'   `close_call`, `uncertain`, `group_not_judged`, `few_people_in_group`, `group_uncertain`.
#' @section Formulas:
#' Standard error of a mean level, with \eqn{s} the standard deviation over \eqn{b} replicates
#' \deqn{s / \sqrt{b}}{s / sqrt(b)}
#' Of a percentile: half the distance between the order statistics one binomial standard deviation
#' below and above it; of the largest drawn there is none.
#' @eval describe_papers("Horn (1965)", "Buja & Eyuboglu (1992)", "Bartlett (1933)",
#'   "Green et al. (2012)", "Timmerman & Lorenzo-Seva (2011)")
#' @seealso [count_factors()] shows it with other evidence.
#' @family the number of factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' parallel_analysis(motives, seed = 1)
#' parallel_analysis(motives, basis = "factors", chance = "resampled", replicates = 200, seed = 1)
#' @concept scree plot eigenvalues
#' @export
parallel_analysis <- function(x, ..., basis = c("components", "factors", "minimum_rank"),
    chance = NULL, reference = c("upper", "mean"), percentile = 95, sequential = FALSE, by = NULL,
    replicates = 1000L, seed = NULL, threads = NULL) {
  by <- settle_by(rlang::enquo(by), x)
  asked <- settle_arguments(CHANCE_TAKES)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  chance <- if (is.null(asked$chance) && asked$sequential) "normal" else asked$chance
  plan <- plan_chance(x, chance, asked$basis, seed, threads, ...)
  if (asked$sequential && plan$kind != "normal") {
    stop_input("chance",
      "Sequential chance data are drawn from a normal population with the factors kept so far.",
      got = sprintf("chance = \"%s\" came.", plan$kind),
      todo = "Give chance = \"normal\", or sequential = FALSE.")
  }
  settings <- c(plan$correlations$settings, asked, list(by = by, seed = seed))
  settings$chance <- plan$kind
  if (is.null(chance) && length(settings$order) && plan$kind != "shifted") {
    settings$not_shifted <- why_not_shifted(plan$correlations$values$questionnaire)
  }
  found <- hold_against_chance(plan, settings, asked$replicates)
  grouped <- if (!is.null(by)) {
    same <- c(asked, list(seed = seed, threads = threads))
    call_with(parallel_by_group, c(list(plan$correlations, by), same))
  }
  found$groups <- grouped$groups
  settings$replicates <- found$replicates
  new_result("parallel_analysis", found, settings,
    bind_findings(plan$correlations$findings, find_in_parallel(found, settings), grouped$findings),
    plan$correlations$source, match.call())
}

# The eigenvalues beside their chance levels, and what follows.
hold_against_chance <- function(plan, settings, replicates) {
  r <- plan$correlations$values$correlations
  observed <- cpp_spectrum(r, plan$basis)
  basis <- BASES[[plan$basis]]
  variance <- basis$variance(r)
  if (basis$shares) { # told on the scale of the eigenvalues
    observed <- observed * variance
    draw <- plan$draw
    plan$draw <- function(...) draw(...) * variance
  }
  reference <- REFERENCE_LEVELS[[settings$reference]]
  limit_of <- function(levels) levels[[reference$level]]
  error_of <- function(levels) levels[[reference$error]]
  doubtful <- function(chance) {
    levels <- core_chance_levels(chance, settings$percentile)
    decisive_doubt(observed, limit_of(levels), error_of(levels))
  }
  levels <- if (settings$sequential) {
    step_by_step(plan, observed, settings, replicates, doubtful, limit_of)
  } else {
    chance <- draw_chance(plan, replicates, doubtful)
    c(core_chance_levels(chance, settings$percentile), list(replicates = ncol(chance)))
  }
  limit <- limit_of(levels)
  eigenvalues <- tibble_of(rank = seq_len(plan$p), eigenvalue = observed,
    share = observed / variance, cumulative_share = cumsum(observed) / variance,
    chance_mean = levels$mean, chance_upper = levels$upper, above_chance = observed > limit,
    mean_error = levels$mean_error, upper_error = levels$upper_error)
  list(eigenvalues = eigenvalues, suggested = core_leading_above(observed, limit),
    uncertain = decisive_doubt(observed, limit, error_of(levels)), n = plan$correlations$values$n,
    people = plan$correlations$values$people, replicates = levels$replicates)
}

# Is an eigenvalue on which the decision hangs (the kept ones and the first that is not) too near
# its limit for the number of replicates? The largest drawn has no standard error: never in doubt.
decisive_doubt <- function(observed, limit, error) {
  decisive <- seq_len(min(core_leading_above(observed, limit) + 1L, length(observed)))
  any(abs(observed - limit)[decisive] < ENOUGH$doubt * error[decisive], na.rm = TRUE)
}

# Rank k against a population with the k - 1 factors before it (Green et al. 2012), until one is not
# above; ranks below that are compared with the same population. `plan$most`: no more factors than
# that; `plan$usual`: steps beyond this many factors, which are hopeless as a rule, take few draws.
step_by_step <- function(plan, observed, settings, replicates, doubtful, limit_of) {
  r <- plan$correlations$values$correlations
  most <- min(core_most_factors(plan$p), plan$most)
  kept <- NULL
  drawn <- 0L
  for (k in 0:most) {
    root <- if (k) core_population_root(kept_loadings(r, k))
    few <- is.numeric(replicates) && !is.null(plan$usual) && k > plan$usual
    chance <- draw_chance(plan, if (few) min(replicates, STEP_DRAWS) else replicates, doubtful,
      root, step = k)
    drawn <- max(drawn, ncol(chance))
    levels <- core_chance_levels(chance, settings$percentile)
    if (is.null(kept)) kept <- levels
    rest <- seq_len(plan$p) > k
    for (part in names(kept)) kept[[part]][rest] <- levels[[part]][rest]
    if (observed[k + 1L] <= limit_of(kept)[k + 1L] || k + 1L == plan$p) break
  }
  c(kept, list(replicates = drawn))
}

# Every step draws again, and a draw costs as the cube of the items: of more than 36 items there are
# fewer, 240 with 59 and 100 from 80 on.
step_draws <- function(replicates, items) {
  if (!is.numeric(replicates)) return(replicates)
  as.integer(min(replicates, max(STEP_DRAWS, STEP_COST / items^3)))
}
STEP_DRAWS <- 100
STEP_COST <- 5e7

# Loadings of k factors by minimum residuals: no communality is above .995, so that there is a
# population that has them.
kept_loadings <- function(r, k) {
  searches <- if (ncol(r) > 40L) 5L else 20L # (one takes as the cube of the items)
  cpp_search_uniquenesses(r, k, "minres", 0.005, 2L, TRUE, searches, 1e-6, 200L)$loadings
}

# One row for each group. A group that cannot be judged says why, and the others go on.
parallel_by_group <- function(whole, by, ...) {
  judged <- judge_groups(whole$values$questionnaire, by, "retention", function(part) {
    v <- parallel_analysis(correlate_alike(part, whole), ...)$values
    tibble_of(n = v$n, suggested = v$suggested, uncertain = v$uncertain)
  }, tibble_of(n = NA_real_, suggested = NA_real_, uncertain = NA))
  add_unsure_groups(judged, ncol(whole$values$correlations))
}

#' @exportS3Method tibble::as_tibble
as_tibble.parallel_analysis <- function(x, ...) x$values$eigenvalues

#' @export
glance.parallel_analysis <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(suggested = x$values$suggested, uncertain = x$values$uncertain,
    above_one = sum(x$values$eigenvalues$eigenvalue > 1), n = x$values$n, basis = x$settings$basis,
    chance = x$settings$chance, replicates = x$values$replicates, seed = x$settings$seed)
}

# What parallel analysis says of groups, and what it notices.

# Groups whose number depends on the draw, or on fewer people than items.
add_unsure_groups <- function(judged, items) {
  g <- judged$groups[is.na(judged$groups$why), ]
  few <- g$n <= items
  finding <- function(code, rows) {
    if (!nrow(rows)) return(NULL)
    people <- vapply(rows$n, count_of, "", one = "person", many = "people")
    new_finding(code, rows$group, people, value = rows$n)
  }
  judged$findings <- bind_findings(judged$findings, finding("few_people_in_group", g[few, ]),
    finding("group_uncertain", g[!few & g$uncertain, ]))
  judged
}

find_in_parallel <- function(values, settings) {
  k <- values$suggested
  table <- values$eigenvalues
  e <- table$eigenvalue
  limit <- table[[limit_column(settings)]]
  above_one <- sum(e > 1)
  gap <- abs(e - limit)[seq_len(min(k + 1L, length(e)))]
  near <- which.min(gap)
  bind_findings(if (k == 0L) new_finding("no_factor", value = 0),
    if (!is.null(settings$not_shifted)) new_finding("shifted_not_used", settings$not_shifted),
    if (above_one != k && settings$basis == "components") {
      new_finding("eigenvalue_one_differs",
        if (above_one == 1) "1 eigenvalue is" else paste(above_one, "eigenvalues are"),
        format_number(table$chance_mean[1L]), value = above_one, limit = k)
    },
    if (values$uncertain) {
      new_finding("uncertain", near, format_number(e[near], 3L), format_number(limit[near], 3L),
        format_count(values$replicates),
        if (values$replicates < ENOUGH$most) {
          "give replicates = \"enough\""
        } else {
          "the decision is uncertain"
        },
        value = e[near], limit = limit[near])
    },
    if (gap[near] < 0.02) {
      new_finding("close_call", near, format_number(e[near], 3L), format_number(limit[near], 3L),
        if (near == 1L) {
          "whether there is any factor is open"
        } else {
          sprintf("compare solutions with %d and %d factors", near - 1L, near)
        },
        value = e[near], limit = limit[near])
    })
}
