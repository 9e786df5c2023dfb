# Correlations from counts that were added up block by block.

#' @rdname correlate_items
#' @export
correlate_items.item_tables <- function(x, kind = "pearson", repair = TRUE, continuous_from = 11L,
    threads = NULL, ...) {
  check_class(x, "x", "item_tables", "tabulate_items()")
  check_dots_empty(...)
  kind <- check_choice(kind, "kind", names(KINDS))
  check_flag(repair, "repair")
  continuous_from <- check_whole(continuous_from, "continuous_from", 3L, 17L)
  threads <- settle_threads(threads)
  correlate_counts(x, counted_of(x), kind, repair, continuous_from, threads)
}

# The counts of `x`, or of random groups drawn from it, as correlations.
correlate_counts <- function(x, counted, kind, repair, continuous_from, threads) {
  people <- counted$people
  complete <- x$settings$missing == "complete"
  used <- people[[if (complete) "whole" else "people"]]
  check_enough_people(used, people[["people"]], x$settings$missing)
  check_counted_kind(counted, kind)
  mixed <- kind_is(kind, "core") == "mixed"
  ordered <- if (mixed) lengths(chosen_categories(counted)) < continuous_from
  found <- with_progress("Correlations", length(counted$values), function(progress) {
    core_correlate_counted(counted, kind_is(kind, "core"), ordered, threads, progress)
  })
  check_varying(stats::setNames(found$sds, names(counted$values)))
  check_pairs_met(found$correlations)
  fixed <- settle_definite(found$correlations, repair)
  found$correlations <- fixed$correlations
  items <- x$values$items[c("item", "wording", "scale", "reversed")]
  items[c("mean", "sd", "skewness", "categories")] <- list(unname(found$means), unname(found$sds),
    unname(found$skewness), as.integer(found$categories))
  if (!is.null(ordered)) items$ordered <- unname(ordered)
  if (!is.null(found$covariances)) found$covariances <- found$correlations * (items$sd %o% items$sd)
  share <- if (counted$weighted) {
    people[["weight"]]^2 / (people[["people"]] * people[["weight_square"]])
  } else {
    1
  }
  settings <- list(kind = kind, missing = x$settings$missing, repair = repair,
    continuous_from = continuous_from, weighted = counted$weighted)
  new_item_correlations(found, found$people, share, items, settings,
    bind_findings(findings_that_travel(x$findings), fixed$finding,
      find_in_method(found, items, settings, share)),
    x$source,
    match.call(sys.function(-1L), sys.call(-1L)),
    tables = x)
}

# Each item's categories that somebody chose.
chosen_categories <- function(counted) {
  own <- core_own_counts(counted$values, counted$cells)
  Map(function(values, n) values[n > 0], counted$values, own)
}

# Of items of many values sums are kept, and these tell Pearson correlations alone.
check_counted_kind <- function(counted, kind) {
  many <- names(counted$values)[vapply(counted$values, is.null, NA)]
  if (!length(many) || kind_is(kind, "core") == "pearson") return(invisible())
  stop_input("many_categories",
    sprintf("Every item must have at most 16 categories for %s correlations of counts.", kind),
    got = sprintf("Only sums were kept of %s.", name_culprits(many)),
    todo = paste("Leave these items out, give kind = \"pearson\", or take a sample of people:",
      "sample_people()."))
}
