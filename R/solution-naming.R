# Help with naming factors: their strongest items, the words that tell them apart, and what speaks
# against.

naming_help <- function(solution, most, call) {
  loadings <- solution$values$loadings
  items <- solution$values$items
  salient <- cutoff("salient_loading")
  home <- home_factor(loadings, salient)
  each <- seq_len(ncol(loadings))
  said <- word_table(items$wording)
  words <- lapply(each, words_of, colnames(loadings), said, home)
  against <- lapply(each, function(j) {
    own <- said[words[[j]]$word, , drop = FALSE]
    against_of(j, loadings, items, own, salient, most)
  })
  values <- list(
    strongest = stack_rows(lapply(each, strongest_of, loadings, items, salient, most)),
    words = stack_rows(words), against = stack_rows(against), factors = colnames(loadings))
  new_result("naming_help", values, c(solution$settings, list(items = most)),
    if (all(is.na(items$wording))) new_finding("no_wordings") else no_findings(), solution$source,
    call)
}

rows_about <- function(factor, at, loading, items, ...) {
  tibble::tibble(factor = rep(factor, length(at)), ..., item = items$item[at],
    loading = unname(loading[at]), wording = items$wording[at], reversed = items$reversed[at])
}

# The items with the largest salient loadings of either sign.
strongest_of <- function(j, loadings, items, salient, most) {
  loading <- loadings[, j]
  towards <- function(sign, direction) {
    at <- order(-sign * loading)
    at <- utils::head(at[sign * loading[at] >= salient], most)
    rows_about(
      colnames(loadings)[j],
      at,
      loading,
      items,
      direction = rep(direction, length(at)),
      # the wording of an item that was reverse-scored says the opposite of its loading
      agree = unname(loading[at] > 0) != (items$reversed[at] %in% TRUE))
  }
  rbind(towards(1, "high"), towards(-1, "low"))
}

# Items that load here, but more on another factor; and items that have several of the factor's
# words and do not load on it.
against_of <- function(j, loadings, items, said, salient, most) {
  size <- abs(loadings)
  largest <- max.col(size, ties.method = "first")
  elsewhere <- which(size[, j] >= salient & largest != j)
  alone <- which(size[, j] < salient & colSums(said) >= min(2L, max(nrow(said), 1L)))
  at <- c(elsewhere, alone)
  why <- rep(c("elsewhere", "words alone"), c(length(elsewhere), length(alone)))
  keep <- utils::head(order(match(why, c("elsewhere", "words alone")), -size[at, j]), most)
  rows_about(colnames(loadings)[j], at[keep], loadings[, j], items, why = why[keep])
}

MOST_WORDS <- 6L

# Words in several of a factor's items, and hardly in those of the others.
words_of <- function(j, names, said, home) {
  own <- which(home == j)
  others <- which(home != j)
  inside <- rowSums(said[, own, drop = FALSE])
  outside <- rowSums(said[, others, drop = FALSE])
  share <- inside / max(length(own), 1L)
  share_outside <- outside / max(length(others), 1L)
  telling <- which(inside >= 2 & share >= 3 * share_outside)
  telling <- utils::head(telling[order(-(share - share_outside)[telling])], MOST_WORDS)
  tibble::tibble(factor = rep(names[j], length(telling)),
    word = as.character(rownames(said)[telling]), own = as.integer(inside[telling]),
    others = as.integer(outside[telling]), own_share = unname(share[telling]),
    others_share = unname(share_outside[telling]))
}

# Shorter words join others, mostly, and say nothing of their own.
LEAST_LETTERS <- 4L

# Which word stands in which wording: words x items, TRUE or FALSE. Words are runs of letters of any
# script; forms of a word are one row, named by the shortest.
word_table <- function(wording) {
  wording[is.na(wording)] <- ""
  said <- lapply(strsplit(lower(wording), "[^[:alpha:]]+"), function(x) {
    unique(x[nchar(x) >= LEAST_LETTERS])
  })
  stems <- shortest_forms(sort(unique(unlist(said))))
  words <- unique(unname(stems))
  out <- vapply(said, function(one) words %in% stems[one], logical(length(words)))
  matrix(out, length(words), length(wording), dimnames = list(words, NULL))
}

# For each word, in sorted order, the one it is a form of: words that begin alike stand in a row.
shortest_forms <- function(words) {
  form <- words
  for (i in seq_along(words)[-1L]) {
    before <- form[i - 1L]
    more <- nchar(words[i]) - nchar(before)
    longer <- more <= 3L && startsWith(words[i], before)
    if (longer && nchar(before) >= LEAST_LETTERS) form[i] <- before
  }
  stats::setNames(form, words)
}

#' @exportS3Method tibble::as_tibble
as_tibble.naming_help <- function(x, ...) x$values$strongest

#' @export
glance.naming_help <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble::tibble(factors = length(v$factors), items = length(unique(v$strongest$item)),
    words = nrow(v$words), against = nrow(v$against))
}
