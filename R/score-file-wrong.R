# What is looked at in a solution file before anything is made of it.

# What is not as a solution must be, in words, or nothing.
wrong_in_solution <- function(x) {
  if (!inherits(x, c("factor_solution", "softsieve_scale_set"))) return("it holds no solution")
  parts <- c("values", "settings", "findings", "source")
  absent <- setdiff(parts, names(unclass(x)))
  if (length(absent)) return(sprintf("it has no %s", absent[1L]))
  told <- is.data.frame(x$findings) && all(names(no_findings()) %in% names(x$findings))
  if (!told) return("its findings are not a table")
  behind <- if (is.list(x$values)) x$values[["item_correlations"]]
  wrong <- c(wrong_in_settings(x$settings), if (is.list(behind)) wrong_in_settings(behind$settings))
  if (length(wrong)) return(wrong[1L])
  if (is_result(x, "factor_solution")) return(wrong_in_loadings(x$values))
  scales <- x$values$scales
  named <- is.data.frame(scales) && all(c("scale", "item") %in% names(scales))
  if (!named) "its scales are not a table of scales and items"
}

# Words that choose methods; kinds of correlations are looked up by them.
wrong_in_settings <- function(s) {
  if (!is.list(s)) return("its settings are not a list")
  for (name in intersect(c("kind", "missing", "method", "rotation", "normalization"), names(s))) {
    word <- s[[name]]
    if (!is.null(word) && !checkmate::test_string(word)) {
      return(sprintf("`settings.%s` is not one word", name))
    }
  }
  if (!is.null(s$kind) && !s$kind %in% c("given", names(KINDS))) {
    return("`settings.kind` is no kind of correlation")
  }
}

wrong_in_loadings <- function(v) {
  is_numbers <- function(x) is.matrix(x) && is.numeric(x) && all(is.finite(x))
  if (!is_numbers(v$loadings)) return("its loadings are not a matrix of numbers")
  between <- v$factor_correlations
  square <- is_numbers(between) && all(dim(between) == ncol(v$loadings))
  if (!square) return("its factor correlations do not go with its loadings")
  named <- is.data.frame(v$items) &&
    identical(as.character(v$items$item), rownames(v$loadings))
  if (!named) "its items do not go with its loadings"
}

# Numbers that no solution has, by their place in the file.
wrong_in_numbers <- function(v) {
  at <- function(place, says) sprintf("`values.%s` %s", place, says)
  for (name in names(v)) {
    x <- v[[name]]
    if (!is.matrix(x) || !is.numeric(x)) next
    if (any(!is.finite(x))) return(at(name, "has gaps or infinite numbers"))
    # (raw loadings are in the items' units)
    if (name != "raw_loadings" && any(abs(x) > 1e3)) {
      return(at(name, "has numbers beyond what a solution has"))
    }
    twice <- anyDuplicated(rownames(x)) || anyDuplicated(colnames(x))
    if (twice) return(at(name, "has names twice"))
  }
  for (name in intersect(c("correlations", "factor_correlations"), names(v))) {
    r <- v[[name]]
    if (is.null(r)) next
    square <- is.matrix(r) && nrow(r) == ncol(r)
    if (!square || !isSymmetric(unname(r), tol = 1e-6)) return(at(name, "is not symmetric"))
    if (any(abs(r) > 1 + 1e-6) || any(abs(diag(r) - 1) > 1e-6)) {
      return(at(name, "holds no correlations"))
    }
    least <- min(eigen(r, symmetric = TRUE, only.values = TRUE)$values)
    if (name == "factor_correlations" && least <= 0) return(at(name, "is not positive definite"))
  }
  items <- v$items
  tables <- intersect(c("items", "key"), names(v))
  tables <- Filter(function(name) !is.null(v[[name]]), tables)
  for (name in tables) {
    whole <- is.data.frame(v[[name]]) && "item" %in% names(v[[name]])
    if (!whole) return(at(name, "is no table of items"))
  }
  for (name in intersect(c("mean", "sd"), names(items))) {
    if (!is.numeric(items[[name]])) return(at(paste0("items.", name), "holds no numbers"))
  }
  sd <- items[["sd"]]
  # (solutions of a correlation matrix alone know none)
  if (any(is.finite(sd) & sd <= 0) || any(is.infinite(sd))) {
    return(at("items.sd", "must be above 0"))
  }
}
