# The methods of extraction. A spec has, beside what all have:
#
#   model      "factors" or "components"
#   solve      function(s, k, start, lowest, asked): what the core finds in the matrix s (variances
#              of about 1; `start`: communalities to begin with, `lowest`: the least unique
#              variances, `asked`: share, starts, weights, most), as core-extraction.R returns it
#   power      by which power of the variances' size its discrepancy grows
#   scale_free does it find the same factors whatever the items' units?
#   fits_variance  may the variance that it fits to an item differ from the observed one?
#   weights    does it weigh correlations by their standard errors?
#   tested     does it fit a model, whose test is that of so many factors?

EXTRACTIONS <- family(
  minres = spec(label = "minimum residuals (unweighted least squares)",
    reference = "Harman & Jones (1966)", model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_search_surely(s, k, "minres", lowest, asked$starts, asked$most)
    },
    power = 2, scale_free = FALSE, fits_variance = FALSE, weights = FALSE, tested = TRUE),
  ml = spec(label = "maximum likelihood", reference = "Joreskog (1967)", model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_search_surely(s, k, "ml", lowest, asked$starts, asked$most)
    },
    power = 0, scale_free = TRUE, fits_variance = TRUE, weights = FALSE, tested = TRUE),
  gls = spec(label = "generalised least squares", reference = "Joreskog & Goldberger (1972)",
    model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_search_surely(s, k, "gls", lowest, asked$starts, asked$most)
    },
    power = 0, scale_free = TRUE, fits_variance = TRUE, weights = FALSE, tested = TRUE),
  wls = spec(label = "least squares weighted by standard errors", reference = "Muthen (1984)",
    model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_search_weights(s, k, asked$weights, lowest, asked$starts)
    },
    power = 0, scale_free = FALSE, fits_variance = FALSE, weights = TRUE, tested = TRUE),
  principal_axis = spec(label = "principal axes, repeated until communalities settle",
    reference = "Thurstone (1935)", model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_settle_communalities(s, k, start, asked$share, core_axis_step, core_end_in_minres)
    },
    power = 0, scale_free = FALSE, fits_variance = FALSE, weights = FALSE, tested = TRUE),
  principal_axis_once = spec(label = "principal axes, with squared multiple correlations",
    reference = "Thurstone (1935)", model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_one_step(s, core_shorten(s, core_axis_step(s, k, start), lowest)$loadings)
    },
    power = 0, scale_free = FALSE, fits_variance = FALSE, weights = FALSE, tested = FALSE),
  alpha = spec(label = "alpha factoring", reference = "Kaiser & Caffrey (1965)",
    model = "factors",
    solve = function(s, k, start, lowest, asked) {
      core_settle_communalities(s, k, start, asked$share, core_alpha_step, core_shorten)
    },
    power = 0, scale_free = TRUE, fits_variance = FALSE, weights = FALSE, tested = FALSE),
  image = spec(label = "image factoring", reference = "Guttman (1953)", model = "factors",
    solve = function(s, k, start, lowest, asked) core_one_step(s, core_image(s, k)), power = 0,
    scale_free = TRUE, fits_variance = FALSE, weights = FALSE, tested = FALSE),
  minimum_rank = spec(label = "minimum rank", reference = "ten Berge & Kiers (1991)",
    model = "factors", solve = function(s, k, start, lowest, asked) core_minimum_rank_factors(s, k),
    power = 1, scale_free = FALSE, fits_variance = FALSE, weights = FALSE, tested = FALSE),
  components = spec(label = "principal components", reference = "Hotelling (1933)",
    model = "components", solve = function(s, k, start, lowest, asked) core_components(s, k),
    power = 0, scale_free = FALSE, fits_variance = FALSE, weights = FALSE, tested = FALSE))

# k factors of the correlation or covariance matrix `s`, by the method of that name: what
# core-extraction.R says, in the matrix's units. `lowest` is the least share of an item's variance
# that may be unique; `weights` (p x p) is for methods that take them; `starts` random starts are
# made beside those that differ in kind (core_search.h), 0 for the usual start alone; `most` is how
# many searches may be made, 0 for as many as the number of items allows.
extract_by <- function(method, s, k, lowest, starts = 0L, weights = NULL, most = 0L) {
  spec <- EXTRACTIONS[[method]]
  if (is.null(spec)) stop("no extraction is called ", method, call. = FALSE)
  size <- mean(diag(s)) # tolerances are meant for variances of about 1
  s <- s / size
  v <- diag(s)
  begin <- core_start_uniquenesses(s / sqrt(v %o% v)) * v
  asked <- list(share = lowest, starts = starts, weights = weights, most = most)
  found <- spec$solve(s, k, v - begin, lowest * v, asked)
  if (is.null(found$starts)) found[c("starts", "apart")] <- c(1L, 0L)
  found$loadings <- found$loadings * sqrt(size)
  found$uniquenesses <- found$uniquenesses * size
  found$discrepancy <- found$discrepancy * size^spec$power
  found
}

# The methods that extract factors, not components.
factor_methods <- function() {
  names <- names(EXTRACTIONS)
  names[spec_field(EXTRACTIONS, "model") == "factors"]
}

# "factor" or "component": what a method's results are called.
one_of_model <- function(settings) sub("s$", "", EXTRACTIONS[[settings$method]]$model)
