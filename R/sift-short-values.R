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
    sets = each(function(part) stack_rows(lapply(seq_len(nrow(part$sets$sets)), function(i) {
      at <- part$sets$sets[i, ]
      tibble::tibble(scale = part$name, rank = i, set = paste(part$plan$items[at], collapse = ", "),
        measures_of_set(part$plan$covariances, part$factor, at))
    }))),
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
  tibble::tibble(scales = nrow(s), items = sum(s$items), kept = sum(s$kept),
    lowest_omega = min(s$omega_short), lowest_fidelity = min(s$fidelity))
}

# Omega and fidelity of the items `set` (numbers) of a scale.
measures_of_set <- function(covariances, factor, set) {
  common <- sum(factor$loadings[set])^2
  corrected <- covariances
  diag(corrected) <- factor$loadings^2
  spread <- sqrt(sum(covariances[set, set]) * sum(covariances))
  tibble::tibble(omega = common / (common + sum(factor$uniquenesses[set])),
    fidelity = sum(corrected[set, ]) / spread)
}
