# What sentences say of counts, names, exclusions, before and after, held against the answers by a
# plain road of its own: nothing here calls what made the sentences.

# The answers as numbers, reversed items turned round, as a world's user would do it by hand.
by_hand <- function(world) {
  roles <- unlist(world$how[c("id", "group", "weight", "cluster")])
  book <- world$how$codebook
  items <- if (is.null(book)) setdiff(names(world$answers), roles) else book$item
  x <- world$answers[items]
  if (is.null(book)) return(as.matrix(x))
  for (i in seq_along(items)) {
    if (is.character(x[[i]])) {
      said <- trimws(sub("^[^=]*=", "", strsplit(book$labels[i], "|", fixed = TRUE)[[1L]]))
      x[[i]] <- match(x[[i]], said)
    }
    if (isTRUE(book$reversed[i])) x[[i]] <- book$lowest[i] + book$highest[i] - x[[i]]
  }
  as.matrix(x)
}

per_cent <- function(share, digits = 0L) sprintf("%.*f %%", digits, 100 * share)
pair_counts <- function(x) {
  n <- crossprod(!is.na(x))
  range(n[upper.tri(n)])
}
share_at <- function(x, end) apply(x, 2L, function(v) mean(v == end(v, na.rm = TRUE), na.rm = TRUE))
listed <- function(x) {
  if (length(x) < 2L) return(paste(x, collapse = ""))
  paste(paste(x[-length(x)], collapse = ", "), "and", x[length(x)])
}

# By the code of a finding: function(x, row, world), what its sentence must hold (words), or which
# items must have it (`items`, of all with that code).
CLAIMS <- list(
  fewer_people_than_items = function(x, row, world) {
    list(words = c(sprintf("%d people", sum(rowSums(!is.na(x)) > 0)), sprintf("%d items", ncol(x))))
  },
  few_pairs = function(x, row, world) {
    n <- crossprod(!is.na(x))
    list(words = c(format(min(n)), sprintf("%d people", max(n))))
  },
  n_of_tests = function(x, row, world) {
    n <- pair_counts(x)
    gaps <- if (n[1L] < n[2L]) sprintf("%d to %d people", n[1L], n[2L])
    there <- sum(rowSums(!is.na(x)) > 0)
    list(words = c(sprintf("instead of %d", there), if (is.null(world$how$weight)) gaps))
  },
  columns_left_out = function(x, row, world) {
    used <- c(colnames(x), unlist(world$how[c("id", "group", "weight", "cluster")]))
    list(words = listed(setdiff(names(world$answers), used)))
  },
  no_variance = function(x, row, world) {
    list(items = colnames(x)[apply(x, 2L, function(v) length(unique(stats::na.omit(v))) == 1L)])
  },
  hardly_answered = function(x, row, world) {
    few <- sum(rowMeans(!is.na(x)) < 0.5)
    list(words = sprintf("%d %s", few, if (few == 1L) "person" else "people"))
  },
  not_scored = function(x, row, world) list(words = "(person|people)"),
  people_kept = function(x, row, world) list(words = sprintf("of %d people", nrow(x))),
  low_item_adequacy = function(x, row, world) {
    r <- stats::cor(x, use = "pairwise.complete.obs")
    q <- -stats::cov2cor(solve(r))
    diag(q) <- diag(r) <- 0
    list(items = names(which(rowSums(r^2) / (rowSums(r^2) + rowSums(q^2)) < 0.5)))
  }
)

claims_hold <- function(pool, world, log) {
  if (is.null(pool$questionnaire) || is.null(world$answers)) return(invisible())
  x <- by_hand(world)
  log$claims <- 0L
  q <- pool$questionnaire
  same <- isTRUE(all.equal(unname(q$values$answers + 0), unname(x + 0), check.attributes = FALSE))
  if (!same) wrong(log, "claims", "answers are not keyed as by hand")
  printed <- paste(utils::capture.output(print(q)), collapse = " ")
  must_hold(printed, c(sprintf("%d people", nrow(x)), sprintf("%d items", ncol(x))), "print", log)
  if (anyNA(x)) must_hold(printed, per_cent(mean(is.na(x)), 1L), "print", log)
  for (of in names(pool)) findings_hold(pool[[of]], of, x, world, log)
  if (is.null(world$how)) prose_holds(world, x, log)
}

must_hold <- function(text, words, what, log) {
  log$claims <- log$claims + length(words)
  for (word in words) {
    there <- grepl(word, text, fixed = !grepl("[(]", word))
    if (!there) wrong(log, what, c("should say", word, "but says", substr(text, 1L, 160L)))
  }
}

# (results of other people, such as a solution that was read back, say nothing of these)
findings_hold <- function(result, of, x, world, log) {
  f <- result$findings
  people <- result$source$people
  others <- !is.null(world$solution) || !is.null(people) && people != nrow(x)
  if (!NROW(f) || others) return(invisible())
  for (code in intersect(unique(f$code), names(CLAIMS))) {
    rows <- f[f$code == code, ]
    one_holds(CLAIMS[[code]](x, rows, world), rows, sprintf("<%s> %s", of, code), log)
  }
}

one_holds <- function(claim, rows, what, log) {
  must_hold(paste(rows$text, collapse = " "), claim$words, what, log)
  if (is.null(claim$items)) return(invisible())
  log$claims <- log$claims + 1L
  if (!setequal(claim$items, rows$item)) wrong(log, what, c("should be of", claim$items))
}

# The text to paste of a study of these answers, sifted: who, how many, what went, before and after.
prose_holds <- function(world, x, log) {
  study <- tryCatch(
    suppressWarnings(studied(world$answers, "sift: {run: true}", "factors: {number: 1}")),
    softsieve_error = function(e) NULL
  )
  v <- study$values
  if (is.null(v$scores) || is.null(v$reliability)) return(invisible())
  said <- paste(unlist(softsieve:::prose_of(study)[c("methods", "results")]), collapse = " ")
  left <- rownames(v$solution$values$loadings)
  one <- if (ncol(v$solution$values$loadings) == 1L) "The factor extracted" else "factors extracted"
  words <- c(
    sprintf("answers of %d people to %d items", nrow(x), ncol(x)),
    gaps_by_hand(x),
    went_by_hand(x, left),
    one
  )
  must_hold(said, words, "prose", log)
}

gaps_by_hand <- function(x) {
  if (!anyNA(x)) return("No answers were missing")
  pair <- pair_counts(x)
  c(
    sprintf("%.1f%% were missing", 100 * mean(is.na(x))),
    sprintf("%d to %d people", pair[1L], pair[2L])
  )
}

went_by_hand <- function(x, left) {
  gone <- setdiff(colnames(x), left)
  if (!length(gone)) return("removed no item")
  c(
    gone,
    sprintf("removed %d of %d items", length(gone), ncol(x)),
    sprintf("was %s before and %s after", adequacy_of(x), adequacy_of(x[, left]))
  )
}

adequacy_of <- function(x) {
  r <- stats::cor(x, use = "pairwise.complete.obs")
  q <- -stats::cov2cor(solve(r))
  diag(q) <- diag(r) <- 0
  sub("^0", "", sprintf("%.2f", sum(r^2) / (sum(r^2) + sum(q^2))))
}
