#' A wording factor in addition to the topics
#'
#' Reverse-worded items often share something that no topic explains: people who agree with
#' everything, or who overlook a "not". `wording_factor()` fits the topics and, in addition, one
#' factor of these items alone that correlates with no topic, and shows what it takes away from
#' scales.
#'
#' @param x What [correlate_items()] takes.
#' @param factors How many topics: a whole number, or a rule, as in [extract_factors()].
#' @param ... Passed on to [correlate_items()] when `x` is not correlated yet.
#' @param items The items (bare names or words) that share their wording: at least three, and not
#'   all. Left out: those that the codebook calls reversed.
#' @param rotation,starts Of the topics, as in [rotate_factors()].
#' @inheritParams parallel_analysis
#' @return An object of class `wording_form` ([softsieve-result]); `values` holds
#'   * `loadings`: p x (k + 1), the topics' pattern and last `wording` (0 for items without);
#'     `factor_correlations`: k x k, of the topics;
#'   * `table`: tibble, one row for each item: `item`, a column for each loading, `communality`
#'     (both together), `wording_share` (of the communality that is wording), `text`, `reversed`;
#'   * `scales`: tibble, one row for each topic: `factor`, `items` (that load on it most, by .30 or
#'     more), `omega` (share of their sum's variance that is the topic), `with_wording` (topic and
#'     wording together: what omega is when wording is taken for the topic), `wording` (the
#'     difference);
#'   * `share`: of the common variance that is wording, `rmsr` and `rmsr_without` (root mean square
#'     residual with and without the wording factor), `n`.
#' @section Formulas: The sum over pairs of items of \eqn{(r_{ij} - (LL')_{ij} - w_i w_j)^2}{(r_ij -
#'   (LL')_ij - w_i w_j)^2}, with w 0 for all other items, is made as small as possible: topics by
#'   minimum residuals given w, and w given them, in turn until no loading moves by 1e-7.
#' @section Errors: `softsieve_error_items`, and those of [extract_factors()] and
#'   [rotate_factors()].
#' @section Findings: `wording_not_settled`, `wording_slight`.
#' @eval describe_papers("Marsh (1996)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' wording_factor(motives, factors = 4, seed = 1)
#' @export
wording_factor <- function(x, factors = "probable", ..., items = NULL, rotation = "oblimin",
    starts = 30L, seed = NULL, threads = NULL) {
  rotation <- check_choice(rotation, "rotation", names(ROTATIONS))
  starts <- check_whole(starts, "starts", 1L, 1e5L)
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  x <- as_correlations(x, ...)
  turned <- wording_items(settle_named_items(rlang::enquo(items), "items", x$values$items$item),
    x$values$items)
  plain <- extract_factors(x, factors, seed = seed, threads = threads)
  k <- ncol(plain$values$loadings)
  r <- x$values$correlations
  fit <- core_wording_fit(unname(r), k, turned)
  topics <- turn_topics(fit$loadings, rotation, starts, seed, threads)
  names <- colnames(plain$values$loadings)
  loadings <- cbind(topics$loadings, fit$wording)
  dimnames(loadings) <- list(rownames(r), c(names, "wording"))
  between <- topics$correlations
  dimnames(between) <- list(names, names)
  values <- wording_values(x, loadings, between, plain)
  new_result("wording_form", values,
    c(x$settings,
      list(factors = k, factors_by = plain$settings$factors_by, items = rownames(r)[turned],
        rotation = rotation, starts = starts, seed = seed)),
    bind_findings(findings_that_travel(x$findings), find_in_wording(values, fit)),
    x$source, match.call())
}

# Which items share their wording.
wording_items <- function(asked, items) {
  turned <- if (length(asked)) items$item %in% asked else items$reversed %in% TRUE
  wrong <- if (sum(turned) < 3L || all(turned)) {
    sprintf("%s of %d.", count_of(sum(turned), "item"), length(turned))
  }
  if (is.null(wrong)) return(which(turned))
  stop_input("items",
    "A wording factor needs three items or more that share their wording, and others that do not.",
    got = wrong, todo = "Name them in `items`, or mark reversed items in the codebook.")
}

turn_topics <- function(loadings, rotation, starts, seed, threads) {
  k <- ncol(loadings)
  identity <- diag(k)
  turned <- core_order_and_reflect(loadings, identity, identity)
  if (k < 2L || rotation == "none") return(turned)
  spec <- ROTATIONS[[rotation]]
  turning <- list(asked = settle_parameters(ROTATIONS, rotation, list()),
    oblique = settle_oblique(NULL, spec), normalization = "none", starts = starts, optimum = 1L,
    seed = seed, threads = threads)
  turn_loadings(turned$loadings, spec, turning)$turned
}

wording_values <- function(x, loadings, between, plain) {
  k <- ncol(between)
  items <- x$values$items
  r <- x$values$correlations
  topics <- loadings[, seq_len(k), drop = FALSE]
  wording <- loadings[, k + 1L]
  common <- core_communalities(topics, between)
  left <- r - topics %*% between %*% t(topics) - wording %o% wording
  table <- tibble::as_tibble(cbind(items["item"], as.data.frame(loadings),
    communality = common + wording^2, wording_share = wording^2 / (common + wording^2),
    text = items$wording, reversed = items$reversed))
  home <- home_factor(topics, cutoff("salient_loading"))
  table <- table[order(home, -apply(abs(topics), 1L, max)), ]
  list(loadings = loadings, factor_correlations = between, table = table,
    scales = wording_scales(topics, between, wording, home),
    share = sum(wording^2) / sum(common + wording^2), rmsr = sqrt(mean(left[upper.tri(left)]^2)),
    rmsr_without = plain$values$fit$rmsr, n = x$values$n, people = x$values$people)
}

# What a sum of each topic's items is made of, of standardised items.
wording_scales <- function(topics, between, wording, home) {
  rows <- lapply(seq_len(ncol(topics)), function(j) {
    at <- which(home == j)
    if (length(at) < 2L) return(NULL)
    own <- colSums(topics[at, , drop = FALSE])
    common <- drop(own %*% between %*% own)
    method <- sum(wording[at])^2
    unique <- sum(1 - core_communalities(topics[at, , drop = FALSE], between) - wording[at]^2)
    total <- common + method + unique
    topic <- drop((between %*% own)[j])^2
    tibble_of(factor = colnames(topics)[j], items = length(at), omega = topic / total,
      with_wording = (topic + method) / total, wording = method / total)
  })
  stack_rows(Filter(Negate(is.null), rows))
}

find_in_wording <- function(values, fit) {
  sizes <- abs(values$loadings[, ncol(values$loadings)])
  bind_findings(if (!fit$converged) new_finding("wording_not_settled", value = fit$change),
    if (sum(sizes >= 0.20) < 3L) {
      new_finding("wording_slight", format_unit(max(sizes)), value = max(sizes), limit = 0.20)
    })
}

#' @exportS3Method tibble::as_tibble
as_tibble.wording_form <- function(x, ...) x$values$table

#' @rdname wording_factor
#' @param object A `wording_form`.
#' @export
coef.wording_form <- function(object, ...) {
  check_dots_empty(...)
  object$values$loadings
}

#' @export
glance.wording_form <- function(x, ...) {
  check_dots_empty(...)
  tibble::tibble(items = nrow(x$values$table), factors = x$settings$factors,
    wording_items = length(x$settings$items), share = x$values$share, rmsr = x$values$rmsr,
    rmsr_without = x$values$rmsr_without)
}
