#' Short forms of scales
#'
#' Finds, for each scale, the items of a given number that make the best short form: of all subsets,
#' exactly (branch and bound). Says what is lost, which sets come next, and how the choice holds up
#' with people who had no part in it.
#'
#' @param scales What [form_scales()] takes or returned.
#' @param data The answers: a [questionnaire()], or a data frame, as in [assess_reliability()].
#' @param size How many items each short form has; numbers named by scale for different ones.
#' @param keep Items that must be in.
#' @param criterion `"omega"` (reliability of the short form's score), or `"fidelity"` (its
#'   correlation with the long score of another occasion: corrected for the errors that shared items
#'   share).
#' @param least_per_facet How many items of each facet of the scale (the codebook's column `facet`)
#'   must be in, where facets are known.
#' @param best How many sets are listed.
#' @param replicates How many bootstrap samples of the people are drawn, to choose in these and to
#'   judge in those left out; 0 for none.
#' @inheritParams parallel_analysis
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `short_forms` ([softsieve-result]); `values` holds `scales` (tibble:
#'   `scale`, `items` and `kept` (how many), `omega`, `omega_short`, `fidelity` of the short form),
#'   `sets` (tibble: `scale`, `rank`, `set` (item names), `omega`, `fidelity`), `items` (tibble:
#'   `scale`, `item`, `wording`, `reversed`, `facet`, `chosen`, `often` (share of draws in which it
#'   was chosen)), `lengths` (tibble: `scale`, `kept`, `omega`, `fidelity` of the best set of every
#'   length), `outside` (`NULL` without draws, or tibble: `scale`, `inside`, `outside`, `optimism`:
#'   means of the measure over draws, of the set chosen in the draw) and `short` (a scale set, for
#'   [score_respondents()] and [assess_reliability()]).
#' @section Formulas: Of one minres factor of the whole scale, with loadings l and uniquenesses u in
#'   the items' units: omega of a set is (sum l)^2 / ((sum l)^2 + sum u) over it (McDonald 1999).
#'   Fidelity: with C the covariances and C* the same with each variance replaced by its common part
#'   l^2, sum over the set of C* 1, over the root of 1_S' C 1_S 1'C 1 (Levy 1967). Both take the
#'   factor of the whole scale for known, so that a choice does not fit itself.
#' @section Errors: `softsieve_error_scales`, `softsieve_error_items` (more items than a scale has,
#'   more pinned than wanted, facets that do not fit in), `softsieve_error_class`, those of
#'   [assess_reliability()].
#' @section Findings: `end_flatters`, `against_scale` (an item against its factor: it should have
#'   been reverse-scored).
#' @eval describe_papers("Levy (1967)", "McDonald (1999)")
#' @family sifting
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' short <- shorten_scales(motives, size = 4, replicates = 20, seed = 1)
#' short
#' score_respondents(short$values$short, motives)
#' @export
shorten_scales <- function(scales, data = NULL, size = 4L, keep = NULL,
    criterion = c("omega", "fidelity"), least_per_facet = 1L, best = 5L, replicates = 100L,
    seed = NULL, threads = NULL, ...) {
  check_dots_empty(...)
  criterion <- check_choice(criterion, "criterion", c("omega", "fidelity"))
  best <- check_whole(best, "best", 1L, 100L)
  replicates <- check_whole(replicates, "replicates", 0L, 1e5L)
  least_per_facet <- check_whole(least_per_facet, "least_per_facet", 0L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  if (is.null(data)) data <- scales
  known <- if (is_result(scales, c("factor_solution", "softsieve_scale_set"))) scales$values$key
  if (is.data.frame(data)) data <- raw_answers(data, known)
  check_class(data, "data", "questionnaire", "questionnaire()")
  check_keyed_alike(data, known)
  scales <- form_scales(scales)
  given <- gather_reliability(scales, data, threads)
  pinned <- settle_named_items(rlang::enquo(keep), "keep", given$items$item)
  sizes <- sizes_wanted(size, given)
  names <- names(given$members)
  parts <- stats::setNames(lapply(names, function(name) {
    shorten_one(given, name, sizes[[name]], pinned, least_per_facet, criterion, best, data)
  }), names)
  drawn <- if (replicates) shorten_draws(parts, given, criterion, replicates, seed, 1L)
  new_result("short_forms", values_of_short(parts, given, drawn, criterion),
    c(given$correlations$settings, list(size = sizes, keep = pinned, criterion = criterion,
      least_per_facet = least_per_facet, best = best, replicates = replicates, seed = seed)),
    bind_findings(findings_that_travel(given$correlations$findings), scales$findings,
      new_finding("end_flatters", count_of(sum(lengths(given$members)) - sum(sizes), "item"))),
    given$correlations$source, match.call())
}

sizes_wanted <- function(size, given) {
  names <- names(given$members)
  have <- lengths(given$members)
  good <- checkmate::test_integerish(size, lower = 1, any.missing = FALSE) &&
    (is.null(names(size)) && length(size) == 1L || setequal(names(size), names))
  if (!good) {
    stop_input("argument", "`size` must be one number, or one for each scale, by name.",
      got = describe_value(size), todo = sprintf("Scales: %s.", name_culprits(names)))
  }
  sizes <- if (is.null(names(size))) rep(size, length(names)) else size[names]
  sizes <- stats::setNames(as.integer(sizes), names)
  short <- names[sizes > have]
  if (length(short)) {
    stop_input("items", "A short form must not have more items than its scale.",
      got = sprintf("%s: %d of %d.", short, sizes[short], have[short]))
  }
  long <- names[have > 30L]
  if (length(long)) {
    stop_input("items", "A scale to be shortened must have at most 30 items.",
      got = sprintf("%s has %d.", long, have[long]), todo = "Sift it first: sift_items().")
  }
  sizes
}

# What is known of a scale, its best sets of the size, and the best of every length.
shorten_one <- function(given, name, size, pinned, least, by, best, data) {
  at <- which(given$scale_of == match(name, names(given$members)))
  items <- given$items$item[at]
  known <- data$values$items
  facets <- known[["facet"]][match(items, known$item)]
  if (is.null(facets)) facets <- rep(NA_character_, length(items))
  plan <- list(items = items, covariances = given$covariances[at, at, drop = FALSE],
    forced = items %in% pinned, facet = match(facets, unique(facets[!is.na(facets)])),
    facets = facets, least = least, by = by)
  held <- length(unique(facets[!is.na(facets)])) * least
  if (sum(plan$forced) > size || held > size) {
    stop_input("items",
      "The items that must be in must fit into the short form.",
      got = c(if (sum(plan$forced) > size) {
        sprintf("%s: %d are kept, %d wanted.", name, sum(plan$forced), size)
      }, if (held > size) sprintf("%s: its facets hold %d, %d wanted.", name, held, size)),
      todo = "Ask for more items, or hold fewer.")
  }
  factor <- one_factor_of(plan$covariances)
  sets <- subsets_of(plan, factor, size, best)
  from <- max(2L, sum(plan$forced), held)
  lengths <- stack_rows(lapply(seq(from, max(from, length(items))), function(m) {
    found <- subsets_of(plan, factor, min(m, length(items)), 1L)
    tibble::tibble(scale = name, kept = min(m, length(items)),
      measures_of_set(plan$covariances, factor, found$sets[1L, ]))
  }))
  list(name = name, plan = plan, factor = factor, sets = sets, lengths = lengths, size = size)
}

# Loadings and uniquenesses of one minres factor, in the items' units; of two items the ones that
# reproduce their covariance alike.
one_factor_of <- function(covariances) {
  sd <- sqrt(diag(covariances))
  r <- covariances / (sd %o% sd)
  l <- if (ncol(r) < 3L) {
    rep(sqrt(max(r[upper.tri(r)], 0)), ncol(r))
  } else {
    start <- core_start_uniquenesses(r)
    as.numeric(cpp_fit_uniquenesses(r, 1L, "minres", start, 0.005, 1e-8, 200L)$loadings)
  }
  if (sum(l) < 0) l <- -l
  list(loadings = l * sd, uniquenesses = pmax(1 - l^2, 0.005) * sd^2)
}

subsets_of <- function(plan, factor, size, best) {
  cpp_best_subsets(plan$covariances, factor$loadings, factor$uniquenesses, size, plan$by,
    plan$forced, plan$facet, plan$least, best)
}

# Sets chosen in people drawn, and the measure inside and outside.
shorten_draws <- function(parts, given, by, draws, seed, threads) {
  payload <- list(parts = parts, answers = given$answers$values$answers, by = by, seed = seed)
  run_ranges(sets_in_range, draws, payload, threads, "Choosing in other people")$value
}

sets_in_range <- function(first, count, payload, threads, progress) {
  x <- payload$answers
  by <- payload$by
  n <- nrow(x)
  lapply(seq_len(count), function(i) {
    rows <- drawn_rows(n, payload$seed, first + i)
    out <- setdiff(seq_len(n), rows)
    found <- lapply(payload$parts, function(part) {
      inside <- pairwise_covariances(x[rows, part$plan$items, drop = FALSE])
      outside <- pairwise_covariances(x[out, part$plan$items, drop = FALSE])
      if (anyNA(inside) || anyNA(outside)) return(NULL)
      plan <- part$plan
      plan$covariances <- inside
      factor <- one_factor_of(inside)
      set <- subsets_of(plan, factor, part$size, 1L)$sets[1L, ]
      list(set = set, inside = measures_of_set(inside, factor, set)[[by]],
        outside = measures_of_set(outside, one_factor_of(outside), set)[[by]])
    })
    progress(i)
    found
  })
}

# As correlations are made elsewhere: over pairs, times standard deviations over all who answered.
pairwise_covariances <- function(x) {
  r <- suppressWarnings(stats::cor(x, use = "pairwise.complete.obs"))
  sd <- column_sds(x)
  r * (sd %o% sd)
}

# What short forms hold: scales, sets, items, every length, people left out.

values_of_short <- function(parts, given, drawn, by) {
  chosen <- lapply(parts, function(part) part$plan$items[part$sets$sets[1L, ]])
  key <- key_of(given$answers)
  each <- function(f) stack_rows(lapply(parts, f))
  list(
    scales = each(function(part) {
      p <- part$plan
      short <- measures_of_set(p$covariances, part$factor, part$sets$sets[1L, ])
      tibble::tibble(scale = part$name, items = length(p$items), kept = part$size,
        omega = measures_of_set(p$covariances, part$factor, seq_along(p$items))$omega,
        omega_short = short$omega, fidelity = short$fidelity)
    }),
    sets = each(function(part) {
      stack_rows(lapply(seq_len(nrow(part$sets$sets)), function(i) {
        at <- part$sets$sets[i, ]
        tibble::tibble(scale = part$name, rank = i,
          set = paste(part$plan$items[at], collapse = ", "),
          measures_of_set(part$plan$covariances, part$factor, at))
      }))
    }),
    items = each(function(part) items_of_short(part, given, drawn)),
    lengths = each(function(part) part$lengths),
    outside = if (!is.null(drawn)) each(function(part) outside_of_short(part$name, drawn)),
    short = new_scale_set(
      tibble::tibble(scale = rep(names(chosen), lengths(chosen)),
        item = unlist(chosen, use.names = FALSE),
        wording = key$wording[match(unlist(chosen), key$item)],
        reversed = key$reversed[match(unlist(chosen), key$item)]),
      "short forms", NULL, given$correlations$source, NULL, key))
}

items_of_short <- function(part, given, drawn) {
  p <- part$plan
  row <- given$items[match(p$items, given$items$item), ]
  often <- if (is.null(drawn)) {
    NA_real_
  } else {
    sets <- Filter(Negate(is.null), lapply(drawn, function(one) one[[part$name]]$set))
    tabulate(unlist(sets), length(p$items)) / length(sets)
  }
  tibble::tibble(scale = part$name, row[c("item", "wording", "reversed")], facet = p$facets,
    chosen = seq_along(p$items) %in% part$sets$sets[1L, ], often = often)
}

outside_of_short <- function(name, drawn) {
  mean_of <- function(side) {
    mean(unlist(lapply(drawn, function(one) one[[name]][[side]])), na.rm = TRUE)
  }
  inside <- mean_of("inside")
  outside <- mean_of("outside")
  tibble::tibble(scale = name, inside = inside, outside = outside, optimism = inside - outside)
}

#' @exportS3Method tibble::as_tibble
as_tibble.short_forms <- function(x, ...) x$values$scales

#' @export
tidy.short_forms <- function(x, ...) {
  check_dots_empty(...)
  x$values$items
}

#' @export
glance.short_forms <- function(x, ...) {
  check_dots_empty(...)
  s <- x$values$scales
  tibble_of(scales = nrow(s), items = sum(s$items), kept = sum(s$kept),
    lowest_omega = min(s$omega_short), lowest_fidelity = min(s$fidelity))
}

# Omega and fidelity of the items `set` (numbers) of a scale.
measures_of_set <- function(covariances, factor, set) {
  common <- sum(factor$loadings[set])^2
  corrected <- covariances
  diag(corrected) <- factor$loadings^2
  spread <- sqrt(sum(covariances[set, set]) * sum(covariances))
  tibble_of(omega = common / (common + sum(factor$uniquenesses[set])),
    fidelity = sum(corrected[set, ]) / spread)
}
