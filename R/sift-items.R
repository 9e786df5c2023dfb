#' Sift items, one at a time
#'
#' Runs passes. In each, everything is computed again on the items that are left; the first rule
#' that an item breaks names the worst by that rule; that one goes, and the next pass begins. It
#' ends when nothing breaks a rule, when no more items may go, or when only pinned items offend.
#' Every pass stands in the trail, with the numbers behind it.
#'
#' @param x What [correlate_items()] takes, or an earlier sifting, which goes on from where it is.
#' @param rules What [sift_rules()] returned.
#' @param factors The number of factors in every pass; or, of the items left in each pass again,
#'   `"probable"` (what [count_factors()] takes) or `"parallel"` (parallel analysis).
#' @param ... Passed on to [correlate_items()] (`kind`, `missing`, `n`, ...) and [rotate_factors()]
#'   (parameters of the rotation).
#' @param keep Items that never go, whatever rules they break.
#' @param drop_first Items that go before the first pass, as reasons named by item, for example
#'   `c(o2 = "about travel")`.
#' @param passes At most so many items go.
#' @param method As in [extract_factors()], or `"components"`.
#' @param rotation,starts As in [rotate_factors()]; the last solution is turned from 100 starts.
#' @param if_too_few_items What happens when the items left cannot carry the number of factors:
#'   `"step_down"` takes as many as they can, with a finding; `"stop"` ends the sifting.
#' @param ask `FALSE`; `TRUE`, at a terminal, to be asked in each pass; or a function of the
#'   question (a list: `item`, `wording`, `rule`, `value`, `limit`, `text`, `others` (tibble of the
#'   runners-up), `items` (all that are left)) that answers `"yes"`, `"no"` (pins the item),
#'   `"stop"` or the name of another item that goes in its place.
#' @param replicates Of parallel analysis.
#' @inheritParams parallel_analysis
#' @details Rules have an object of their own ([sift_rules()]); the other arguments say how each
#'   pass fits factors, as in [factor_solution()], and what a person wants of the sifting.
#' @return An object of class `item_sift` ([softsieve-item-sift]).
#' @section Errors: `softsieve_error_items` (pins or drops that name no item, fewer than three items
#'   left), `softsieve_error_argument` (a sifting that goes on is told what only a new one takes),
#'   `softsieve_error_factors`, `softsieve_error_rules`, `softsieve_error_facets`, and those of the
#'   stages.
#' @section Findings: those that travel from the correlations, `pinned_offends`, `fewer_carried`,
#'   `sift_ended_early`, `end_flatters`.
#' @section Ties: Between two items that break a rule equally (to nine decimals) the one with the
#'   smaller communality goes, then the one that stands later in the questionnaire.
#' @section Speed: Correlations of the items left are taken from those of all items: no pass reads
#'   the answers. With missing answers, pairwise correlations do not depend on the other items;
#'   complete cases stay those of all items.
#' @family sifting
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' sifted <- sift_items(motives, factors = 4, keep = "p6", seed = 1)
#' sifted
#' sifted$values$solution
#' # one pass at a time
#' one <- sift_items(motives, factors = 4, passes = 1, seed = 1)
#' sift_items(one, passes = 1)
#' @export
sift_items <- function(x, rules = sift_rules(),
    factors = if (identical(method, "components")) "parallel" else "probable", ..., keep = NULL,
    drop_first = NULL, passes = Inf, method = "minres", rotation = "oblimin", starts = 10L,
    if_too_few_items = c("step_down", "stop"), ask = FALSE, replicates = 1000L, seed = NULL,
    threads = NULL) {
  check_class(rules, "rules", "sift_rules", "sift_rules()")
  given <- settle_arguments(SIFT_TAKES)
  if (is_result(x, "item_sift")) {
    refuse_in_going_on(match.call())
    again <- list(rules = if (!missing(rules)) rules,
      factors = if (!missing(factors)) settle_sift_number(factors),
      keep = settle_named_items(rlang::enquo(keep), "keep", x$values$left))
    return(go_on(x, again, given$passes, settle_asker(ask), threads, match.call()))
  }
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  method <- check_choice(method, "method", c(factor_methods(), "components"))
  factors <- settle_sift_number(factors)
  asked <- sort_by_stage(list(...), x, method)
  all <- call_with(as_correlations, c(list(x, threads = threads), asked$correlate))
  how <- list(factors = factors, components = identical(method, "components"), method = method,
    rotation = check_choice(rotation, "rotation", names(ROTATIONS)),
    turning = settle_turning(rotation, asked$rotate, starts, seed, threads),
    if_too_few_items = given$if_too_few_items, replicates = replicates, seed = seed,
    threads = threads)
  items <- all$values$items$item
  start <- list(all = all, left = items, rules = rules, how = how,
    pinned = settle_named_items(rlang::enquo(keep), "keep", items), facets = facets_of(all, rules),
    passes = list(), events = list())
  start <- drop_by_hand(start, drop_first)
  run_sift(start, given$passes, settle_asker(ask), match.call())
}

SIFT_TAKES <- list(keep = a_text("Items that never go", several = TRUE, lazy = TRUE),
  drop_first = a_text("Items that go before the first pass, each with the reason", mapped = TRUE,
    check = NULL),
  passes = a_whole("At most so many items go; any number when left out", 0,
    check = function(x, name) if (identical(x, Inf)) x else check_whole(x, name, 0L)),
  if_too_few_items = a_text(
    "When the items left are too few for so many factors: fewer, or the end",
    c("step_down", "stop")),
  starts = a_whole("Random starts of the rotation in each pass", 1, 1e5),
  replicates = a_whole("How many sets of chance data in each pass, where it has its own number", 20,
    1e6, check = NULL))

# What a sifting that goes on may be told again; all else it has from its beginning.
ANEW_IN_GOING_ON <- c("x", "rules", "factors", "keep", "passes", "ask", "threads")

refuse_in_going_on <- function(asked) {
  given <- names(asked)[-1L]
  strange <- setdiff(given, ANEW_IN_GOING_ON)
  if (!length(strange)) return(invisible())
  strange <- ifelse(nzchar(strange), sprintf("`%s`", strange), "an argument without a name")
  stop_input("argument",
    sprintf("A sifting goes on as it began: it may be given %s.",
      join_words(sprintf("`%s`", ANEW_IN_GOING_ON[-1L]))),
    got = sprintf("%s came, too.", capitalise(name_culprits(strange))),
    todo = "To sift in another way, begin again with the questionnaire.")
}

# How loadings are turned in every pass.
settle_turning <- function(rotation, asked, starts, seed, threads) {
  spec <- ROTATIONS[[rotation]]
  own <- asked[setdiff(names(asked), c("oblique", "normalization", "optimum"))]
  weights <- if (is.null(asked$normalization)) "none" else asked$normalization
  list(asked = settle_parameters(ROTATIONS, rotation, own),
    oblique = settle_oblique(asked$oblique, spec),
    normalization = check_choice(weights, "normalization", names(NORMALIZATIONS)),
    starts = check_whole(starts, "starts", 1L), optimum = 1L, seed = seed, threads = threads)
}

settle_sift_number <- function(factors) {
  if (is.character(factors) && length(factors) == 1L && factors %in% c("probable", "parallel")) {
    return(factors)
  }
  if (checkmate::test_int(factors, lower = 1)) return(as.integer(factors))
  stop_input("factors", "`factors` must be a whole number from 1 on, \"probable\" or \"parallel\".",
    got = describe_value(factors))
}

# Facets of the items, where a rule holds their least number.
facets_of <- function(all, rules) {
  least <- rules$settings$least_per_facet
  known <- all$values$questionnaire$values$items
  facets <- known[["facet"]][match(all$values$items$item, known$item)]
  if (is.null(least)) return(facets)
  if (!is.null(facets) && !all(is.na(facets))) return(facets)
  stop_input("facets", "Facets must be known where `least_per_facet` holds them.",
    got = "The codebook has no column `facet`.",
    todo = "Add it to the codebook, or leave `least_per_facet` out.")
}

drop_by_hand <- function(start, reasons) {
  if (is.null(reasons)) return(start)
  good <- checkmate::test_character(reasons, min.chars = 1L, names = "unique", any.missing = FALSE)
  if (!good) {
    stop_input("argument", "`drop_first` must be reasons, named by item.",
      got = describe_value(reasons), todo = "For example c(o2 = \"about travel, not motives\").")
  }
  check_sift_items(names(reasons), "drop_first", start$left)
  both <- intersect(names(reasons), start$pinned)
  if (length(both)) {
    stop_input("items", "An item must be kept or dropped first, not both.",
      got = sprintf("Both: %s.", name_culprits(both)))
  }
  for (item in names(reasons)) {
    start$events <- c(start$events, list(hand_event("removed", item, reasons[[item]])))
  }
  start$left <- setdiff(start$left, names(reasons))
  check_enough_left(start$left)
  start
}

hand_event <- function(what, item, why) list(what = what, item = item, why = why)

check_enough_left <- function(left) {
  if (length(left) >= 3L) return(invisible())
  stop_input("items", "At least three items must be left.",
    got = sprintf("%s would be.", count_of(length(left), "item")))
}
