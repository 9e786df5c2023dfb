# What a rotated solution leaves between reverse-worded items.

# Do reverse-worded items that load on different factors share more than these explain? Their mean
# residual, where it is more than three standard errors above 0 and above .03.
find_wording_left <- function(solution, turned) {
  v <- solution$values
  x <- v$item_correlations
  loadings <- turned$loadings
  reversed <- v$items$reversed %in% TRUE
  if (is.null(x) || !can_show_wording(solution, reversed)) return(NULL)
  residuals <- v$correlations - loadings %*% turned$correlations %*% t(loadings)
  home <- max.col(abs(loadings), ties.method = "first")
  apart <- upper.tri(residuals) & (reversed %o% reversed) & outer(home, home, "!=")
  if (sum(apart) < 3L) return(NULL)
  mean <- mean(residuals[apart])
  error <- sqrt(mean(x$values$standard_errors[apart]^2) / sum(apart))
  if (mean < max(0.03, 3 * error)) return(NULL)
  new_finding("wording_in_residuals", format_unit(mean), value = mean, limit = 0.03)
}

# Some items are reversed, others not, and there are factors.
can_show_wording <- function(solution, reversed) {
  one_of_model(solution$settings) == "factor" &&
    ncol(solution$values$loadings) > 1L &&
    sum(reversed) >= 3L &&
    !all(reversed)
}
