#' Form scales
#'
#' Says which items make up which scale: from a factor solution (each item goes to the factor it
#' loads on most), from the codebook's `scale` column, or from a named list. Nothing is
#' reverse-scored here: an item that works against its scale is named by [assess_reliability()].
#'
#' @param x A `factor_solution`, a [questionnaire()] whose codebook names scales, or a named list of
#'   item names, for example `list(thrift = c("t1", "t2", "t3"))`.
#' @param salient For a solution: items whose largest loading is smaller are weak.
#' @param cross_loading For a solution: what happens to items with two salient loadings:
#'   `"leave_out"`, or `"highest"` to give them to the factor they load on most. (A second loading
#'   that is near the first but not salient, which [pattern_table()] marks too, does not count
#'   here.)
#' @param weak For a solution: what happens to items without a salient loading: the same choice.
#' @param standardise Does each item count by its standardised values (less its mean, over its
#'   standard deviation among these people, both kept in `values$standardised`, and counted
#'   negatively where it loads so)? `NULL`: where a scale's items are measurements
#'   ([questionnaire()]), whose units nothing has in common; not of answers.
#' @param moved Items that belong to another scale than the one they load on most, whatever they
#'   load: names of scales by item, for example `c(o2 = "thrift")` (of a solution: what its factor
#'   is called, or F1, F2, ...).
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `scale_set` ([softsieve-result]); `values$scales` is a tibble with one
#'   row for each item of a scale: `scale`, `item`, `wording`, `reversed` (was it reverse-scored by
#'   its key?), `values$key` is how the answers behind them were keyed (as in
#'   [softsieve-factor-solution]), or `NULL`, and `values$precision` what scores of new people rest
#'   on, of the people of the questionnaire or solution (tibble: `scale`, `people`, `sd` and `sem`
#'   of the mean of its items, `reliability`, and the `coefficient` that it is; `NULL` of a list, of
#'   counts and of a matrix).
#' @section Errors: `softsieve_error_scales` (no names, an item in two scales, no scale at all),
#'   `softsieve_error_class`.
#' @section Findings: `weak_items_left_out`, `cross_loading_items_left_out`, `loads_negatively` (an
#'   item that its factor counts against: is it reversed and not keyed? It is not turned),
#'   `counts_negatively` (the same of standardised columns, which are).
#' @family scales
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' form_scales(motives)
#' form_scales(factor_solution(motives, seed = 1))
#' @export
form_scales <- function(x, salient = cutoff("salient_loading"),
    cross_loading = c("leave_out", "highest"), weak = c("leave_out", "highest"), standardise = NULL,
    moved = NULL, ...) {
  check_dots_empty(...)
  asked <- settle_arguments(SCALES_TAKE)
  if (is_result(x, "softsieve_scale_set")) return(x)
  if (is_result(x, "factor_solution")) {
    formed <- scales_of_solution(x, asked, match.call())
    formed$settings <- c(formed$settings, asked[names(asked) != "standardise"])
    return(with_precision(formed, x$values$item_correlations))
  }
  if (is_questionnaire(x)) {
    scales <- move_items(scales_of_codebook(x$values$items), x$values$items, asked$moved)
    formed <- new_scale_set(scales, "codebook", NULL, x$source, match.call(), key_of(x))
    return(with_precision(with_units(formed, units_of_answers(x), standardise), x))
  }
  if (length(moved)) {
    stop_input("argument", "`moved` is of a solution or a codebook.", got = "`x` is a list.",
      todo = "Put the item into its scale there.")
  }
  formed <- new_scale_set(scales_of_list(x), "list that was given", NULL, NULL, match.call())
  formed$settings$standardise <- standardise
  formed
}

scales_of_codebook <- function(items) {
  named <- items[!is.na(items$scale) & nzchar(items$scale), ]
  tibble_of(scale = named$scale, item = named$item, wording = named$wording,
    reversed = named$reversed)
}

scales_of_list <- function(x) {
  if (!is.list(x) || is.object(x)) {
    stop_input("class",
      "`x` must be a factor solution, a questionnaire or a named list of item names.",
      got = describe_value(x))
  }
  if (!checkmate::test_list(x, types = "character", min.len = 1L, names = "unique")) {
    stop_input("scales",
      "A list of scales must have a name of its own for each scale, and item names in each.",
      got = describe_value(names(x)),
      todo = "For example list(thrift = c(\"t1\", \"t2\", \"t3\")).")
  }
  tibble_of(scale = rep(names(x), lengths(x)), item = unlist(x, use.names = FALSE),
    wording = NA_character_, reversed = NA)
}

# Scales of a codebook with items put into others of them.
move_items <- function(scales, items, moved) {
  check_moved(moved, items$item, unique(scales$scale))
  rows <- items[match(names(moved), items$item), ]
  added <- tibble_of(scale = unname(moved), item = rows$item, wording = rows$wording,
    reversed = rows$reversed)
  all <- rbind(scales[!scales$item %in% names(moved), ], added)
  all[order(match(all$scale, scales$scale)), ]
}

check_moved <- function(moved, items, scales) {
  strange <- setdiff(names(moved), items)
  unknown <- setdiff(moved, scales)
  if (!length(strange) && !length(unknown)) return(invisible())
  stop_input("scales", "`moved` must name items that are there, and scales that there are.",
    got = sprintf("Not there: %s.", name_culprits(c(strange, unknown))),
    todo = sprintf("Scales are: %s.", name_culprits(scales)))
}

check_moves <- function(value, name) {
  words <- unlist(value)
  good <- checkmate::test_character(words, any.missing = FALSE, min.chars = 1L, names = "unique")
  if (good) return(words)
  stop_input("argument", sprintf("`%s` must be names of scales, by item.", name),
    got = describe_value(value), todo = "For example moved = c(o2 = \"thrift\").")
}

SCALES_TAKE <- list(salient = a_number("Loadings of this size count", 0, 1),
  cross_loading = a_text("What becomes of items with two loadings", c("leave_out", "highest")),
  weak = a_text("What becomes of items without a loading", c("leave_out", "highest")),
  standardise = a_flag("Items count by standardised values; measurements do when left out"),
  moved = a_text("Items that belong to another scale than the one they load on most, each with it",
    mapped = TRUE, check = check_moves))

scales_of_solution <- function(x, asked, made_by) {
  salient <- asked$salient
  loadings <- x$values$loadings
  names <- rownames(loadings)
  home <- home_factor(loadings, 0)
  moved <- moves_on(asked$moved, x)
  at <- names %in% names(moved)
  home[at] <- match(moved[names[at]], colnames(loadings))
  low <- names[is.na(home_factor(loadings, salient))]
  across <- setdiff(cross_loading_items(loadings, salient), names(moved))
  low <- setdiff(low, names(moved))
  keep <- (asked$weak == "highest" | !names %in% low) &
    (asked$cross_loading == "highest" | !names %in% across)
  items <- x$values$items[keep, ]
  scales <- tibble_of(scale = colnames(loadings)[home[keep]], item = items$item,
    wording = items$wording, reversed = items$reversed)
  scales <- scales[order(home[keep]), ]
  sign <- ifelse(loadings[cbind(seq_along(home), home)] < 0, -1, 1)
  against <- names[keep & sign < 0]
  units <- tibble::tibble(x$values$items[c("item", "mean", "sd")], sign = sign)
  alike <- isTRUE(asked$standardise) || is.null(asked$standardise) && length(x$source$measured)
  negative <- if (alike) "counts_negatively" else "loads_negatively"
  left <- function(items, code) {
    if (!length(items)) return(NULL)
    value <- length(items)
    new_finding(code, name_culprits(items), format_unit(salient), value = value, limit = salient)
  }
  findings <- bind_findings(if (length(against)) new_finding(negative, against, item = against),
    if (asked$weak == "leave_out") left(low, "weak_items_left_out"),
    if (asked$cross_loading == "leave_out") left(across, "cross_loading_items_left_out"))
  formed <- new_scale_set(scales, "factor solution", findings, x$source, made_by, x$values$key)
  with_units(formed, units, asked$standardise)
}

# Moved items, each with what the factor is called now.
moves_on <- function(moved, x) {
  own <- x$settings$factor_names
  by_plain <- moved %in% names(own) & !moved %in% factor_names(x)
  moved[by_plain] <- own[moved[by_plain]]
  check_moved(moved, rownames(x$values$loadings), factor_names(x))
  moved
}

new_scale_set <- function(scales, by, findings, source, made_by, key = NULL) {
  if (!nrow(scales)) {
    stop_input("scales", "There must be at least one scale with items.",
      got = sprintf("None came of the %s.", by),
      todo = "Name scales in the codebook's `scale` column, or give a list.")
  }
  twice <- unique(scales$item[duplicated(scales$item)])
  if (length(twice)) {
    stop_input("scales", "An item must belong to one scale.",
      got = sprintf("In two or more: %s.", name_culprits(twice)))
  }
  new_result("softsieve_scale_set", list(scales = scales, key = key), list(by = by),
    if (is.null(findings)) no_findings() else findings, source, made_by)
}

#' @exportS3Method tibble::as_tibble
as_tibble.softsieve_scale_set <- function(x, ...) x$values$scales

#' @export
glance.softsieve_scale_set <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scales
  tibble_of(scales = length(unique(s$scale)), items = nrow(s), by = x$settings$by)
}

# With what is known of the scales' scores from the people behind them.
with_precision <- function(formed, data) {
  parts <- unclass(formed)
  answers <- if (is_questionnaire(data)) data else data$values$questionnaire
  if (!is.null(answers)) parts$values$precision <- precision_of_scales(formed, answers)
  structure(parts, class = oldClass(formed))
}

# One scale: its coefficients from covariances and from tables of categories, its items, what can be
# assumed of it, and its split halves.
assess_scale <- function(given, name, level, seed, threads) {
  at <- which(given$scale_of == match(name, names(given$members)))
  s <- given$covariances[at, at, drop = FALSE]
  items <- given$items[at, ]
  k <- length(at)
  split <- if (k > 1L) {
    cpp_greatest_split(s, seed)
  } else {
    list(value = NA_real_, signs = integer(), exact = TRUE)
  }
  n <- pairs_n(given$correlations$values$n_pair, items$item, share_of_tests(given$correlations))
  list(name = name, items = items, at = at, covariances = s, n = n, split = split,
    measured = measure_scale(s, split$signs, ordinal_measures(given, at, threads)),
    rows = item_rows(given, name, at, s),
    against = items$item[core_running_against(core_standardised(s))],
    assumptions = check_assumptions(given, at, n, seed, threads),
    halves = if (k > 2L) cpp_split_halves(s, 100000L, seed))
}

# Categorical omega and ordinal alpha from the tables of the answers; NA without answers, or with
# too many categories.
ordinal_measures <- function(given, at, threads) {
  none <- c(categorical_omega = NA_real_, ordinal_alpha = NA_real_)
  if (length(at) < 2L || given$correlations$settings$missing == "em") return(none)
  found <- if (!is.null(given$tables)) {
    latent_of_counts(keep_counted(given$tables, given$items$item[at]), threads)
  } else if (!is.null(given$answers)) {
    x <- answers_used(given)[, at, drop = FALSE]
    cpp_table_correlations(x, "polychoric", weights_used(given), TRUE, threads, NULL)
  }
  if (is.null(found$correlations) || anyNA(found$correlations)) return(none)
  cpp_measure_ordinal(found$correlations, found$thresholds, lapply(found$values, diff))
}

# NULL where of an item only sums were kept.
latent_of_counts <- function(tables, threads) {
  counted <- counted_of(tables)
  if (any(vapply(counted$values, is.null, NA))) return(NULL)
  core_counted_tables(core_scaled_counts(counted), "polychoric", threads)
}

item_rows <- function(given, name, at, s) {
  items <- given$items[at, ]
  k <- length(at)
  without <- core_without_each(s)
  single <- k < 2L
  tibble_of(scale = name, item = items$item, wording = items$wording,
    reversed = items$reversed, mean = items$mean, sd = items$sd,
    item_rest = if (single) NA_real_ else unname(core_item_rest(s)),
    squared_multiple = if (single) NA_real_ else unname(core_item_smc(s)),
    loading = one_factor_loadings(s), alpha_without = without$alpha, omega_without = without$omega,
    discrimination = if (single || is.null(given$answers)) {
      NA_real_
    } else {
      cpp_discrimination(answers_used(given)[, at, drop = FALSE] + 0, cutoff("outer_parts"))
    })
}

one_factor_loadings <- function(s) {
  k <- ncol(s)
  if (k < 3L) return(rep(NA_real_, k))
  l <- as.numeric(
    cpp_search_uniquenesses(core_standardised(s), 1L, "minres", 0.005, 5L, TRUE, 0L, 1e-9,
      200L)$loadings)
  if (sum(l) < 0) -l else l
}

# The spread of the scales' scores (means of their items), their reliability and standard error of
# measurement: scale, people, sd, sem, reliability, coefficient; NA where people are too few.
precision_of_scales <- function(scales, data) {
  names <- unique(scales$values$scales$scale)
  unknown <- tibble_of(scale = names, people = NA_real_, sd = NA_real_, sem = NA_real_,
    reliability = NA_real_, coefficient = NA_character_)
  given <- tryCatch(gather_reliability(scales, data, 1L), softsieve_error = function(e) NULL)
  if (is.null(given)) return(unknown)
  rows <- lapply(seq_along(names), function(j) {
    at <- which(given$scale_of == j)
    s <- given$covariances[at, at, drop = FALSE]
    k <- length(at)
    sd <- sqrt(sum(s)) / k
    if (k == 1L) {
      own <- list(coefficient = NA_character_, reliability = NA_real_)
    } else {
      own <- reported_alone(given, at, s)
    }
    tibble::tibble(scale = names[j], people = given$correlations$values$people, sd = sd,
      sem = sd * sqrt(max(1 - own$reliability, 0)), reliability = own$reliability,
      coefficient = own$coefficient)
  })
  do.call(rbind, rows)
}

# The coefficient that assess_reliability() reports of a scale that nothing is compared with.
reported_alone <- function(given, at, s) {
  items <- given$items[at, ]
  measured <- c(
    cpp_measure_covariances(s, rep(1L, length(at)))[c("alpha", "standardised_alpha", "omega")],
    ordinal_measures(given, at, 1L))
  coarse <- any(items$categories <= 4L | abs(items$skewness) > cutoff("interval_skewness"),
    na.rm = TRUE)
  part <- list(items = items, measured = measured,
    assumptions = list(factors = NA, rmsea = NA, equal_p = NA, coarse = coarse))
  chosen <- choose_coefficient(part)$report
  list(coefficient = chosen, reliability = na_if_nan(measured[[chosen]]))
}
