# How well an extraction fits: the measures of so many factors (correlation-fit.R) for methods that
# fit a model, whichever it is.
test_of_fit <- function(x, k, method, threads) {
  if (!EXTRACTIONS[[method]]$tested) return(list())
  fit_of_factors(x, k, threads)
}
