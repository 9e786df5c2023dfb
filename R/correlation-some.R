# Correlations of some of the items; without the questionnaire, which stays with all of them.
correlations_of_some <- function(all, items) {
  v <- all$values
  at <- match(items, v$items$item)
  square <- c("correlations", "covariances", "standard_errors", "n_pair", "empty_cells",
    "chi_square", "chi_df")
  for (name in square) if (!is.null(v[[name]])) v[[name]] <- v[[name]][at, at, drop = FALSE]
  if (!is.null(v$thresholds)) v$thresholds <- v$thresholds[at]
  v$items <- v$items[at, ]
  v$n <- n_of_tests(v, all$settings)
  if (is.null(v$part_of)) v$part_of <- all # of a part: what that is a part of
  v$smallest_eigenvalue <- core_smallest_eigenvalue(v$correlations)
  v["questionnaire"] <- list(NULL)
  if (!is.null(v$tables)) v$tables <- keep_counted(v$tables, items)
  parts <- unclass(all)
  parts$values <- v
  parts$source$items <- items
  structure(parts, class = class(all))
}
