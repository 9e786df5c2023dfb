#' How far each scale can be trusted
#'
#' For each scale: alpha, omega total, and what each item does for it. Alpha takes all items to
#' measure equally well; omega, from a one-factor model, does not. Where they differ, report omega.
#'
#' @param x A [questionnaire()], a data frame of answers, or what [correlate_items()] takes.
#' @param scales What [form_scales()] takes; left out, the codebook's scales.
#' @param ... Passed on to [correlate_items()].
#' @return An object of class `reliability` ([softsieve-result]); `values` holds `scales` (tibble, one
#'   row for each scale: `scale`, `items`, `alpha`, `omega`, `mean_correlation` between its items, `n`)
#'   and `items` (tibble: `scale`, `item`, `wording`, `reversed`, `mean`, `sd`, `item_rest` (the correlation with
#'   the sum of the others), `loading` on the one factor, `alpha_without`). Omega is `NA` with fewer
#'   than three items.
#' @section Errors: `softsieve_error_scales` (items that are not there), and those of
#'   [correlate_items()].
#' @section Findings: `against_scale` (negative correlation with the rest: probably a reversed item
#'   that was not keyed), `alpha_rises_without`, `few_items`, `negative_alpha`, `one_factor_improper`.
#' @section Formulas: Alpha = k/(k - 1) (1 - sum of item variances / variance of the sum). Omega total
#'   = (sum l)^2 / ((sum l)^2 + sum u), l and u being loadings and uniquenesses of a one-factor minres
#'   model in the items' units. Covariances are correlations times standard deviations. From a bare
#'   correlation matrix all items count as having standard deviation 1 (standardised alpha).
#' @references Cronbach, L. J. (1951). Coefficient alpha and the internal structure of tests.
#'   *Psychometrika*, 16, 297-334.
#'
#'   McDonald, R. P. (1999). *Test theory: A unified treatment*. Erlbaum.
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' assess_reliability(motives, factor_solution(motives, seed = 1))
#' @export
assess_reliability <- function(x, scales = NULL, ...) {
  call <- environment()
  if (is.data.frame(x)) x <- in_name_of(call, questionnaire(x))
  if (is.null(scales)) {
    check_class(x, "x", "questionnaire", "questionnaire() when no `scales` are given")
    scales <- x
  }
  scales <- in_name_of(call, form_scales(scales))
  correlations <- in_name_of(call, correlate_items(x, ...))
  members <- split(scales$values$scales$item, factor(scales$values$scales$scale, unique(scales$values$scales$scale)))
  check_scale_items(unlist(members), correlations$values$items$item, call)
  parts <- Map(function(name, items) assess_scale(correlations, name, items), names(members), members)
  together <- function(field) do.call(rbind, lapply(unname(parts), `[[`, field))
  findings <- do.call(bind_findings, c(list(scales$findings), lapply(unname(parts), `[[`, "findings")))
  new_result("reliability", list(scales = together("scale"), items = together("items")),
             c(correlations$settings,
               list(scales_by = scales$settings$by)), findings, correlations$source, match.call())
}

#' @export
as_tibble.reliability <- function(x, ...) x$values$scales

#' @export
tidy.reliability <- function(x, ...) x$values$items

check_scale_items <- function(items, available, call) {
  absent <- setdiff(items, available)
  if (!length(absent)) return(invisible())
  stop_input("scales", "Every item of a scale must be among the answers.",
             got = sprintf("Not there: %s.", name_culprits(absent)),
             todo = hint_nearest(absent[1L], available), call = call)
}

# One scale: a row for it, a row for each item, and findings.
assess_scale <- function(correlations, name, items) {
  about <- correlations$values$items[match(items, correlations$values$items$item), ]
  r <- correlations$values$correlations[items, items, drop = FALSE]
  sds <- ifelse(is.na(about$sd), 1, about$sd)
  covariances <- r * (sds %o% sds)
  k <- length(items)
  model <- if (k >= 3L) core_fit_uniquenesses(r, 1L, "minres", rep(0.5, k), 0.005, 1e-9, 200L)
  loadings <- if (is.null(model)) rep(NA_real_, k) else as.numeric(model$loadings)
  if (isTRUE(sum(loadings) < 0)) loadings <- -loadings
  omega <- if (is.null(model)) NA_real_ else core_omega(loadings * sds, model$uniquenesses * sds^2)
  scale <- tibble::tibble(
    scale = name, items = k, alpha = core_alpha(covariances), omega = omega,
    mean_correlation = if (k > 1L) mean(r[upper.tri(r)]) else NA_real_, n = min(correlations$values$n_pair[items,
        items])
  )
  rows <- tibble::tibble(
    scale = name, item = items, wording = about$wording, reversed = about$reversed, mean = about$mean, sd = about$sd,
    item_rest = if (k > 1L) unname(core_item_rest(covariances)) else NA_real_, loading = loadings,
    alpha_without = core_alpha_without(covariances)
  )
  list(scale = scale, items = rows, findings = find_in_scale(scale, rows, model))
}

find_in_scale <- function(scale, items, model) {
  against <- items[!is.na(items$item_rest) & items$item_rest < 0, ]
  gain <- items$alpha_without - scale$alpha
  better <- items[!is.na(gain) & gain > cutoff("high_alpha_gain"), ]
  finding <- function(code, severity, text, ...) new_finding("reliability", code, severity, text, ...)
  bind_findings(
    if (nrow(against)) finding("against_scale", "serious", item = against$item, value = against$item_rest, limit = 0,
                               text = sprintf("%s works against its scale %s (correlation with the rest %s): was it worded in reverse and not keyed?",
                                              against$item, scale$scale, format_unit(against$item_rest))),
    if (isTRUE(scale$alpha < 0)) finding("negative_alpha", "serious", value = scale$alpha, limit = 0,
                                         text = sprintf("%s has a negative alpha: its items are, on average, negatively related.", scale$scale)),
    if (nrow(better)) finding("alpha_rises_without", "note", item = better$item, value = better$alpha_without,
                              limit = scale$alpha,
                              text = sprintf("%s: without %s alpha would be %s instead of %s.", scale$scale,
                                             better$item,
                                             format_unit(better$alpha_without), format_unit(scale$alpha))),
    if (scale$items < 3L) finding("few_items", "caution", value = scale$items, limit = 3,
                                  text = sprintf("%s has %s: omega needs three, and alpha says little.", scale$scale,
                                                 count_of(scale$items, "item"))),
    if (!is.null(model) && any(model$uniquenesses <= 0.005 + 1e-8)) {
      finding("one_factor_improper", "caution", item = items$item[model$uniquenesses <= 0.005 + 1e-8], limit = 0.005,
              text = sprintf("%s: the one-factor model puts a uniqueness at its bound; read omega with care.",
                             scale$scale))
    }
  )
}
