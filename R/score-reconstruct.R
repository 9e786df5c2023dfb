#' Back from components to answers
#'
#' What the answers look like when only the first components (or factors) are kept, how much of each
#' item and each person is kept by them, and what each further one adds, down to the answers
#' themselves with all components.
#'
#' @param x A `factor_solution` of components or factors.
#' @param data Answers, as in [score_respondents()]; left out, those of the solution's people.
#' @param factors How many to keep: a number, the first of them as they were extracted (of
#'   components up to the number of items), or names of those of the solution as it was rotated.
#'   Left out, all of the solution's.
#' @param target Share to reach: the result says how many it takes, from 0 to 1.
#' @inheritParams score_respondents
#' @return An object of class `rebuilt_answers` ([softsieve-result]). `values` holds `rebuilt`
#'   (tibble: the id and group columns and each item, on the scale on which answers were given),
#'   `answers` (the same of the answers there are), `items` (tibble: `item`, `wording`, `reversed`,
#'   `share` kept, `typical` (root mean square of answer minus rebuilt answer, in points)), `people`
#'   (tibble: the id and group columns, `answered`, `share` kept), `curve` (tibble: `kept`, `share`,
#'   `added`), `share` (of all), `enough` (how many reach the target, or `NA`). Shares are of the
#'   squared deviations from the means, in the units that were analysed, over the answers there are.
#' @section Formula: With z the standardised answers (deviations, where covariances were analysed)
#'   and f the scores W'z on what is kept, rebuilt answers are the best linear prediction of z from
#'   f, z' W (W'RW)^{-1} W'R; of the first k components that is z'VV' with V their eigenvectors.
#'   Shares are 1 - sum (z - rebuilt)^2 / sum z^2. A gap is filled by the best prediction from the
#'   person's other answers first, and not counted. Of common factors, not even all rebuild the
#'   answers: what is an item's own is left out on purpose. A share can come out below 0 for a
#'   person who is not at all like what was kept.
#' @section Errors: `softsieve_error_factors`, `softsieve_error_method`, `softsieve_error_class`,
#'   and those of [score_respondents()].
#' @eval describe_papers("Eckart & Young (1936)")
#' @family scores
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' components <- extract_components(correlate_items(motives), 4)
#' back <- reconstruct_responses(components)
#' back
#' plot(back)
#' all <- reconstruct_responses(components, factors = ncol(motives$values$answers))
#' all$values$share
#' @export
reconstruct_responses <- function(x, data = NULL, factors = NULL, target = 0.90, units = NULL,
    threads = NULL) {
  check_class(x, "x", "factor_solution", "factor_solution()")
  check_number(target, "target", 0, 1)
  threads <- settle_threads(threads)
  if (is.null(data)) data <- x$values$item_correlations$values$questionnaire
  v <- x$values
  space <- space_of(x, factors)
  given <- answers_by_key(data, v$key, v$items$item)
  items <- v$items[c("item", "wording", "reversed", "mean", "sd")]
  units <- settle_units(list(of = "factors", items = items), units, given$answers)
  found <- rebuild_people(x, given$answers, space, units, threads)
  key <- key_for(v$key, items$item)
  as_given <- function(keyed) {
    colnames(keyed) <- items$item
    tibble::as_tibble(cbind(given$people, as.data.frame(unkey_answers(keyed, items, key))))
  }
  # what one unit analysed is in points of the answers
  points <- if (x$settings$analysed == "covariances") 1 else units$sd
  curve <- curve_of(found$left, sum(found$whole))
  enough <- curve$kept[curve$share >= target - 1e-12][1L]
  new_result("rebuilt_answers",
    list(rebuilt = as_given(found$rebuilt), answers = as_given(given$answers + 0),
      items = tibble::tibble(items[c("item", "wording", "reversed")],
        share = unname(1 - found$missed / found$whole),
        typical = unname(sqrt(found$missed / colSums(!is.na(given$answers)))) * points),
      people = tibble::tibble(given$people, answered = as.integer(rowSums(!is.na(given$answers))),
        share = found$people),
      curve = curve,
      share = 1 - sum(found$missed) / sum(found$whole),
      enough = enough,
      steps = c(space$steps, list(mean = units$mean, sd = units$sd,
        scale = if (x$settings$analysed == "covariances") units$sd else rep(1, nrow(items))))),
    c(x$settings, list(kept = space$asked, target = target, norms = units$by)),
    bind_findings(findings_that_travel(x$findings), given$findings,
      if (units$by == "these people") new_finding("own_norms")),
    given$source, match.call())
}

# What is kept: `steps` of the curve and those that are `kept` (core_rebuilding_steps()), in the
# units analysed; `kept_names`; `points`, what one unit is in points of the answers, for each item.
space_of <- function(x, factors) {
  v <- x$values
  k <- ncol(v$loadings)
  components <- one_of_model(x$settings) == "component"
  unit <- observed_units(v$items, x$settings)
  s <- v$correlations * (unit %o% unit)
  in_units <- function(structure) core_score_weights(v$correlations, structure) / unit
  steps <- if (components) {
    vectors <- eigen(s, symmetric = TRUE)$vectors
    list(take = vectors, give = vectors)
  } else {
    core_rebuilding_steps(in_units(v$unrotated), s)
  }
  wanted <- settle_kept(factors, colnames(v$loadings), ncol(steps$take), k)
  kept <- if (is.character(wanted)) {
    core_rebuilding_steps(in_units(v$structure[, wanted, drop = FALSE]), s)
  } else {
    lapply(steps, function(one) one[, seq_len(wanted), drop = FALSE])
  }
  list(steps = steps, kept = kept, asked = wanted)
}

settle_kept <- function(factors, names, most, k) {
  if (is.null(factors)) return(k)
  if (is.character(factors) && length(factors) && all(factors %in% names)) return(unique(factors))
  if (checkmate::test_int(factors, lower = 1, upper = most, tol = 0)) return(as.integer(factors))
  stop_input("factors",
    sprintf("`factors` must be a number from 1 to %d, or names of the solution's.", most),
    got = describe_value(factors), todo = sprintf("They are called: %s.", name_culprits(names)))
}

# People in blocks. rebuilt (n x p, keyed answers), people (share kept), and in the units analysed
# the squares over the answers there are: whole (p), missed (p, by what is kept), left (by each
# step).
rebuild_people <- function(x, answers, space, units, threads) {
  r <- x$values$correlations
  p <- ncol(answers)
  scale <- if (x$settings$analysed == "covariances") units$sd else rep(1, p)
  blocks <- in_blocks("Rebuilding answers", nrow(answers), p, function(rows) {
    z <- sweep(sweep(answers[rows, , drop = FALSE], 2L, units$mean), 2L, units$sd, "/")
    there <- !is.na(z)
    if (!all(there)) z[!there] <- cpp_predict_from_answers(z, r, r, threads)[!there]
    y <- sweep(z, 2L, scale, "*")
    back <- core_rebuild(y, space$kept)
    square <- ifelse(there, y^2, 0)
    apart <- ifelse(there, (y - back)^2, 0)
    list(rebuilt = sweep(sweep(back, 2L, units$sd / scale, "*"), 2L, units$mean, "+"),
      people = ifelse(rowSums(there) > 0, 1 - rowSums(apart) / rowSums(square), NA),
      whole = colSums(square), missed = colSums(apart),
      left = core_left_after(y, there, space$steps))
  })
  together <- function(part, how) do.call(how, unname(lapply(blocks, `[[`, part)))
  list(rebuilt = together("rebuilt", rbind), people = unname(together("people", c)),
    whole = colSums(together("whole", rbind)), missed = colSums(together("missed", rbind)),
    left = colSums(together("left", rbind)))
}

curve_of <- function(left, whole) {
  share <- 1 - left / whole
  tibble::tibble(kept = seq_along(share), share = share, added = diff(c(0, share)))
}

#' @exportS3Method tibble::as_tibble
as_tibble.rebuilt_answers <- function(x, ...) x$values$rebuilt

#' @export
tidy.rebuilt_answers <- function(x, ...) {
  check_dots_empty(...)
  x$values$items
}

#' @export
glance.rebuilt_answers <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(people = nrow(x$values$rebuilt), items = nrow(x$values$items), share = x$values$share,
    target = x$settings$target, enough = x$values$enough)
}
