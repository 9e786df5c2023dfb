# Tables of what scores are for.

OUTCOME_TABLES <- list(
  predictive_number = family(
    table = spec(label = "Errors in rows left out", file = "outcome", columns = function(x) {
      t <- x$values$table
      list(predictors = words(model_words(t$model, x$settings$of)), error = numbers(t$error, 3L),
        "standard error" = numbers(t$se, 3L), explained = shares(t$explained),
        hits = if (!all(is.na(t$hits))) shares(t$hits),
        " " = words(ifelse(t$number %in% x$values$chosen, "taken",
          ifelse(t$number %in% x$values$best, "least", ""))))
    })),
  score_groups = family(
    scores = spec(label = "How far groups lie apart", file = "score_groups",
      data = function(x) x$values$scores, columns = function(x) {
        s <- x$values$scores
        list(score = words(s$score), "eta squared" = with_limits(s$eta_squared, s$lower, s$upper),
          p = p_values(s$p), overlap = units(s$least_overlap))
      }),
    groups = spec(label = "Means", data = function(x) x$values$groups, file = "score_means",
      columns = function(x) {
        g <- x$values$groups
        wide <- lapply(unique(g$score), function(name) numbers(g$mean[g$score == name]))
        one <- g[g$score == g$score[1L], ]
        c(list(group = words(one$group), rows = counts(one$rows)),
          stats::setNames(wide, unique(g$score)))
      })),
  score_parts = family(
    parts = spec(label = "%s", parts = function(x) x$values$scores$score, most = 8L,
      rest = function(count) sprintf("and %s with smaller parts", count_of(count, "item")),
      columns = function(x, part) {
        p <- x$values$parts[x$values$parts$score == part, ]
        list(item = words(p$item), value = numbers(p$value), mean = numbers(p$mean),
          part = numbers(p$part), wording = words(ifelse(is.na(p$wording), "", p$wording)))
      })))

# "3 components", "all columns": what a model predicts by.
model_words <- function(model, of) {
  one <- sub("s$", "", of)
  number <- suppressWarnings(as.integer(model))
  ifelse(is.na(number), c(none = "none (the mean)", all = "all items",
    "best single" = "the best single item")[model],
    paste(model, ifelse(number == 1L, one, of)))
}
