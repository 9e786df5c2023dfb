#' How far loadings can be trusted
#'
#' Draws the people behind a solution again, many times, finds the solution of each draw as the
#' solution was found, and matches its factors: how sure each loading is, how often each item stays
#' with its factor, how often each number of factors would have been chosen, and whether two halves
#' of the people give the same factors.
#'
#' @param solution A `factor_solution` that came from answers.
#' @param clusters,strata Names of id or group columns of the questionnaire: whole clusters (cafes,
#'   schools) are drawn instead of people; draws are made within each stratum, as many as it has.
#' @param level Of the limits, from 0.5 to 0.999.
#' @param halves How many times people are split into halves, from 0 on.
#' @param starts Starts of the rotation in each draw, the first from where the solution's loadings
#'   are nearest, the others random.
#' @param replicates How many draws, from 20 on.
#' @inheritParams parallel_analysis
#' @return An object of class `loading_stability` ([softsieve-result]); `values` holds
#'   * `loadings`: tibble, one row for each item and factor: `item`, `factor`, `loading`,
#'     `standard_error`, `lower`, `upper`, `home` (is it the item's largest?), `wording`,
#'     `reversed`;
#'   * `factor_correlations`: tibble: `factor`, `with`, `correlation`, `standard_error`, `bias` (the
#'     draws' mean less the correlation), `lower`, `upper` (no rows for orthogonal rotations or one
#'     factor);
#'   * `items`: tibble: `item`, `factor` (its home), `stays` (share of draws in which its largest
#'     loading is there), `elsewhere` (where it is most often otherwise, or `NA`), `communality`,
#'     `standard_error`, `lower`, `upper` (of the communality), `wording`, `reversed`;
#'   * `numbers`: tibble: `factors`, `share` of draws for which parallel analysis suggests so many;
#'   * `halves`: tibble, one row for each factor: `factor`, `congruence` (the median over splits of
#'     that between the two halves' loadings), `lowest` (its 5 % point), `equal` and `similar`
#'     (shares of splits in which it is .95 or more, .85 or more), or `NULL`;
#'   * `draws`: what each draw gave: `loadings` (p x k x draws), `factor_correlations` (k x k x
#'     draws), `communalities` (p x draws), `congruences` with the solution's factors (k x draws);
#'   * `people`, `units` (what was drawn: people, clusters or parts), `solved` (draws that have a
#'     solution), `improper` (share of draws with a uniqueness at its bound).
#' @section Draws: n people are drawn with replacement (with their weights). Each draw is
#'   correlated, extracted and rotated in the solution's way, from the solution's uniquenesses and
#'   loadings and the usual start, and from more where that ends at a bound; its factors are matched
#'   with the solution's so that congruences add up to most, and reflected. Nothing else is done to
#'   make them alike: draws in which factors change places widen the limits. Standard errors are the
#'   draws' standard deviations, limits their percentiles (Efron & Tibshirani 1993; for loadings
#'   Zhang 2014). Of more than 2,500 people (or 1,000 clusters), 500 random parts of equal size are
#'   drawn.
#'
#'   Correlations of rotated factors are biased, mostly towards 0, the more the fewer people there
#'   are, and draws are biased of the sample as the sample is of the population. Their limits are
#'   about the corrected correlation, 2r less the draws' mean, plus and minus the normal quantile
#'   times the root mean square of the draws about r.
#'
#'   In simulations (bench/coverage.R: 20 items, 4 factors, normal and five-category answers of 200
#'   and 500 people) limits of 95 % held the population's loadings in 94.7 to 97.2 % of cases, its
#'   communalities in 93.9 to 94.8 % and its factor correlations in 90.4 to 93.8 %, the least with
#'   200 people.
#'
#'   A draw has the noise of about half as many people, as some are drawn more than once. Parallel
#'   analysis of each draw therefore takes its chance levels from one random half of the people.
#'   Weak factors, that all people together show, may be missed by it.
#' @section Errors: `softsieve_error_no_answers`, `softsieve_error_argument`,
#'   `softsieve_error_stability` (too few draws have a solution), `softsieve_error_class`.
#' @section Findings: `item_moves` (an item with a salient loading that stays in fewer than 80 % of
#'   draws),
#'   `factor_not_replicated` (median congruence of halves below .85), `number_differs` (another
#'   number of factors is chosen most often), `draws_unsolved`, `improper_draws`, `few_units`
#'   (fewer than 30 clusters), `stratum_of_one`, `parts_drawn`.
#' @eval describe_papers("Efron & Tibshirani (1993)", "Zhang (2014)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, factors = 4, seed = 1)
#' loading_stability(solution, replicates = 200, seed = 1)
#' @export
loading_stability <- function(solution, clusters = NULL, strata = NULL, level = 0.95, halves = 100L,
    starts = 10L, replicates = 1000L, seed = NULL, threads = NULL) {
  check_class(solution, "solution", "factor_solution", "factor_solution()")
  check_number(level, "level", 0.5, 0.999)
  halves <- check_whole(halves, "halves", 0L, 1e5L)
  starts <- check_whole(starts, "starts", 1L, 1e4L)
  replicates <- check_whole(replicates, "replicates", 20L, 1e6L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  answers <- answers_behind(solution, counts = TRUE)
  units <- units_of_people(answers, clusters, strata)
  drawn <- draw_solutions(solution, answers, units, replicates, halves, starts, seed, threads)
  solved <- is.finite(drawn$communalities[1L, ])
  check_solved(solved, replicates)
  kept <- which(solved[seq_len(replicates)])
  limit <- chance_of_half(solution, answers, units, seed, threads)
  values <- c(stability_tables(solution, drawn, kept, level),
    list(numbers = numbers_chosen(drawn$eigenvalues[, kept, drop = FALSE], limit),
      halves = if (halves) halves_alike(drawn$loadings, replicates, halves),
      draws = list(loadings = drawn$loadings[, , kept, drop = FALSE],
        factor_correlations = drawn$factor_correlations[, , kept, drop = FALSE],
        communalities = drawn$communalities[, kept, drop = FALSE],
        congruences = drawn$congruences[, kept, drop = FALSE]),
      people = if (is_item_tables(answers)) {
        answers$source$people
      } else {
        nrow(answers$values$answers)
      },
      units = units$units, solved = length(kept), improper = mean(drawn$improper[kept])))
  own <- list(clusters = clusters, strata = strata, level = level, halves = halves,
    draw_starts = starts, from_counts = is_item_tables(answers), replicates = replicates,
    seed = seed)
  new_result("loading_stability", values, c(solution$settings, own),
    bind_findings(findings_that_travel(solution$findings), drawn$findings,
      find_in_stability(values, own, ncol(solution$values$loadings)),
      find_in_units_drawn(values, own, units)),
    solution$source, match.call())
}

check_solved <- function(solved, replicates) {
  there <- sum(solved[seq_len(replicates)])
  if (there >= 20L) return(invisible())
  stop_input("stability", "At least 20 draws must have a solution.",
    got = sprintf("%s of %s have one.", format_count(there), format_count(replicates)),
    todo = "Look at items that few people answer otherwise; take fewer factors, or minres.")
}

find_in_stability <- function(values, settings, k) {
  home <- values$loadings[values$loadings$home, ]
  salient <- home$item[abs(home$loading) >= cutoff("salient_loading")]
  moving <- values$items[values$items$stays < cutoff("item_stays"), ]
  moving <- moving[moving$item %in% salient, ]
  halves <- values$halves
  weak <- halves[which(halves$congruence < cutoff("factor_similar")), ]
  numbers <- values$numbers
  most <- numbers$factors[which.max(numbers$share)]
  bind_findings(
    if (nrow(moving)) {
      new_finding("item_moves", moving$item, moving$factor, format_share(moving$stays),
        moving$elsewhere, item = moving$item, value = moving$stays, limit = cutoff("item_stays"))
    },
    if (NROW(weak)) {
      new_finding("factor_not_replicated", weak$factor, format_unit(weak$congruence),
        value = weak$congruence, limit = cutoff("factor_similar"))
    },
    if (length(most) && most != k) {
      new_finding("number_differs", most, format_share(max(numbers$share)), k,
        format_share(sum(numbers$share[numbers$factors == k])), value = most, limit = k)
    })
}

find_in_units_drawn <- function(values, settings, units) {
  lost <- settings$replicates - values$solved
  many <- values$people > DRAWN_SINGLY && values$units > 2L * DRAWN_PARTS
  bind_findings(
    if (lost) {
      new_finding("draws_unsolved", format_count(lost), format_count(settings$replicates),
        severity = if (lost > 0.05 * settings$replicates) "serious" else "caution", value = lost)
    },
    if (values$improper > cutoff("improper_draws")) {
      new_finding("improper_draws", format_share(values$improper), value = values$improper,
        limit = cutoff("improper_draws"))
    },
    if (!is.null(settings$clusters) && values$units < 30L) {
      new_finding("few_units", count_of(values$units, "cluster"), value = values$units, limit = 30)
    },
    if (length(units$alone)) {
      new_finding("stratum_of_one", name_culprits(units$alone), value = length(units$alone))
    },
    if (many) new_finding("parts_drawn", format_count(DRAWN_PARTS), value = DRAWN_PARTS))
}

#' @exportS3Method tibble::as_tibble
as_tibble.loading_stability <- function(x, ...) x$values$loadings

#' @export
glance.loading_stability <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble_of(replicates = x$settings$replicates, solved = v$solved, improper = v$improper,
    people = v$people, units = v$units, least_stays = min(v$items$stays),
    least_congruence = if (is.null(v$halves)) NA_real_ else min(v$halves$congruence),
    seed = x$settings$seed)
}

# What people resampled say: tables of loadings, factor correlations, items, numbers of factors
# and halves.

# Loadings, correlations of factors, and items, with what the draws say of each.
stability_tables <- function(solution, drawn, kept, level) {
  v <- solution$values
  items <- v$items
  p <- nrow(v$loadings)
  k <- ncol(v$loadings)
  flat <- matrix(drawn$loadings[, , kept], p * k)
  found <- core_drawn_limits(flat, level)
  home <- max.col(abs(v$loadings), ties.method = "first")
  loadings <- tibble_of(item = rep(items$item, k), factor = rep(colnames(v$loadings), each = p),
    loading = as.numeric(v$loadings), standard_error = found$error, lower = found$lower,
    upper = found$upper, home = as.logical(col(v$loadings) == home),
    wording = rep(items$wording, k), reversed = rep(items$reversed, k))
  list(loadings = loadings,
    factor_correlations = between_factors(v$factor_correlations, drawn, kept, level),
    items = items_of_draws(items, v$loadings, home, drawn, kept, level))
}

between_factors <- function(r, drawn, kept, level) {
  pair <- which(upper.tri(r) & abs(r) > 1e-8, arr.ind = TRUE)
  k <- ncol(r)
  flat <- matrix(drawn$factor_correlations[, , kept], k * k)
  rows <- flat[(pair[, 2L] - 1L) * k + pair[, 1L], , drop = FALSE]
  found <- core_corrected_limits(rows, r[pair], level)
  tibble_of(factor = rownames(r)[pair[, 1L]], with = colnames(r)[pair[, 2L]], correlation = r[pair],
    standard_error = found$error, bias = found$bias, lower = found$lower, upper = found$upper)
}

items_of_draws <- function(items, loadings, home, drawn, kept, level) {
  p <- nrow(loadings)
  # one row for each item of each draw
  flat <- aperm(drawn$loadings[, , kept, drop = FALSE], c(1L, 3L, 2L))
  size <- abs(matrix(flat, ncol = ncol(loadings)))
  homes <- matrix(max.col(size, ties.method = "first"), p)
  stays <- rowMeans(homes == home)
  elsewhere <- vapply(seq_len(p), function(i) {
    other <- homes[i, homes[i, ] != home[i]]
    if (length(other)) colnames(loadings)[which.max(tabulate(other))] else NA_character_
  }, "")
  found <- core_drawn_limits(drawn$communalities[, kept, drop = FALSE], level)
  tibble_of(item = items$item, factor = colnames(loadings)[home], stays = stays,
    elsewhere = elsewhere, communality = items$communality, standard_error = unname(found$error),
    lower = unname(found$lower), upper = unname(found$upper), wording = items$wording,
    reversed = items$reversed)
}

# Chance levels for the noise that a draw has: those of one random half of the people.
chance_of_half <- function(solution, answers, units, seed, threads) {
  half <- cpp_draw_people(units$unit_of, units$stratum_of, seed, 0, TRUE) > 0
  found <- tryCatch({
    behind <- solution$values$item_correlations
    correlations <- correlate_times(answers, as.numeric(half), behind, threads)
    parallel_analysis(correlations, seed = seed, threads = threads)
  }, softsieve_error = function(e) NULL)
  found$values$eigenvalues$chance_upper
}

numbers_chosen <- function(eigenvalues, limit) {
  if (is.null(limit)) return(tibble_of(factors = integer(), share = numeric()))
  number <- apply(eigenvalues, 2L, core_leading_above, levels = limit)
  count <- table(number)
  tibble_of(factors = as.integer(names(count)), share = as.numeric(count) / length(number))
}

# Two halves' factors, each matched with those of everybody.
halves_alike <- function(loadings, replicates, halves) {
  between <- vapply(seq_len(halves), function(i) {
    first <- replicates + 2L * i - 1L
    a <- matrix(loadings[, , first], dim(loadings)[1L])
    b <- matrix(loadings[, , first + 1L], dim(loadings)[1L])
    diag(core_congruences(a, b))
  }, numeric(dim(loadings)[2L]))
  between <- matrix(between, dim(loadings)[2L])
  share <- function(from) rowMeans(between >= from, na.rm = TRUE)
  tibble_of(factor = dimnames(loadings)[[2L]],
    congruence = apply(between, 1L, stats::median, na.rm = TRUE),
    lowest = apply(between, 1L, stats::quantile, 0.05, na.rm = TRUE, names = FALSE),
    equal = share(cutoff("factor_equal")), similar = share(cutoff("factor_similar")))
}
