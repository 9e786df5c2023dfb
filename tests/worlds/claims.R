# What sentences say of counts, names, exclusions, before and after, compared with the answers by a
# plain road of its own: nothing here calls what made the sentences.

# The answers as numbers, reversed items reverse-scored, as a world's user would do it by hand.
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
    n <- pair_counts(x)
    list(words = c(format(n[1L]), sprintf("%d people", n[2L])))
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
  },
  one_answer = function(x, row, world) {
    most <- most_alike(x)
    list(items = colnames(x)[most >= 0.9 & most < 1])
  },
  floor = function(x, row, world) {
    list(items = colnames(x)[at_end(x, world, 1L) >= 0.5 & most_alike(x) < 0.9])
  },
  ceiling = function(x, row, world) {
    list(items = colnames(x)[at_end(x, world, 2L) >= 0.5 & most_alike(x) < 0.9])
  },
  unused_category = function(x, row, world) list(items = given_by(x, world, function(n) n == 0)),
  sparse_category = function(x, row, world) {
    list(items = given_by(x, world, function(n) n > 0 & n < 5))
  },
  weighted = function(x, row, world) {
    w <- world$answers[[world$how$weight]][rowSums(!is.na(x)) > 0]
    list(words = per_cent(sum(w)^2 / sum(w^2) / length(w)))
  },
  small_group = function(x, row, world) {
    counted <- table(world$answers[[world$how$group]])
    list(words = names(counted)[counted < row$limit[1L]])
  },
  no_group = function(x, row, world) {
    none <- sum(is.na(world$answers[[world$how$group]]))
    list(words = sprintf("%d %s", none, if (none == 1L) "person is" else "people are"))
  },
  # (asked of six items and more, in the words as they were given)
  same_answer = function(x, row, world) {
    raw <- as.matrix(world$answers[colnames(x)])
    alike <- apply(raw, 1L, function(v) length(unique(v[!is.na(v)])) == 1L & sum(!is.na(v)) > 5L)
    list(words = sprintf("%d %s", sum(alike), if (sum(alike) == 1L) "person" else "people"))
  })

most_alike <- function(x) apply(x, 2L, function(v) max(table(v)) / sum(!is.na(v)))
ends_by_hand <- function(x, world) {
  book <- world$how$codebook
  if (!is.null(book$lowest)) return(rbind(book$lowest, book$highest))
  apply(x, 2L, range, na.rm = TRUE)
}
at_end <- function(x, world, end) {
  ends <- ends_by_hand(x, world)
  vapply(seq_len(ncol(x)), function(j) mean(x[, j] == ends[end, j], na.rm = TRUE), 0)
}
given_by <- function(x, world, odd) {
  ends <- ends_by_hand(x, world)
  hit <- vapply(seq_len(ncol(x)), function(j) {
    any(odd(tabulate(x[, j] - ends[1L, j] + 1, ends[2L, j] - ends[1L, j] + 1)))
  }, NA)
  colnames(x)[hit]
}

# What prints say of the answers, by class: function(x, result), words that must be there.
PRINTS <- list(
  factorability = function(x, result) {
    r <- stats::cor(x, use = "pairwise.complete.obs")
    r <- r[upper.tri(r)]
    c(sprintf("%.1f people for each item", sum(rowSums(!is.na(x)) > 0) / ncol(x)),
      sprintf("%s of the correlations are above .30", per_cent(mean(abs(r) > 0.3))))
  },
  item_correlations = function(x, result) {
    r <- stats::cor(x, use = "pairwise.complete.obs")
    there <- sum(rowSums(!is.na(x)) > 0)
    n <- pair_counts(x)
    c(sprintf("of %d items over %d people", ncol(x), there),
      if (n[1L] < n[2L]) sprintf("rests on %d to %d people", n[1L], n[2L]),
      sprintf("is %s on average", unit_of(mean(abs(r[upper.tri(r)])))),
      sprintf("%s at most", unit_of(max(abs(r[upper.tri(r)])))))
  },
  parallel_analysis = function(x, result) {
    l <- eigen(stats::cor(x, use = "pairwise.complete.obs"), TRUE, TRUE)$values[1L]
    sprintf("1 %.2f %s", l, per_cent(l / ncol(x), 1L))
  },
  item_profile = function(x, result) {
    shown <- c(sprintf("%d items", ncol(x)), sprintf("%s %s %.2f %.2f", colnames(x),
      per_cent(colMeans(is.na(x)), 1L), colMeans(x, na.rm = TRUE),
      apply(x, 2L, stats::sd, na.rm = TRUE)))
    shown[c(TRUE, apply(x, 2L, stats::sd, na.rm = TRUE) > 0 & grepl("^[a-z0-9]+$", colnames(x)))]
  },
  respondent_profile = function(x, result) sprintf("%d people", nrow(x)),
  respondent_scores = function(x, result) {
    some <- sum(rowMeans(!is.na(x)) >= 0.5)
    of <- if (some < nrow(x)) sprintf(" of %d", nrow(x)) else ""
    sprintf("%d%s people scored", some, of)
  },
  item_sift = function(x, result) {
    left <- ncol(result$values$solution$values$correlations)
    sprintf("%d of %d items out, %d left", ncol(x) - left, ncol(x), left)
  },
  item_tables = function(x, result) {
    sprintf("%d answered something, %d everything", sum(rowSums(!is.na(x)) > 0),
      sum(rowSums(is.na(x)) == 0))
  })

unit_of <- function(x) sub("^0", "", sprintf("%.2f", x))

# (weights, clusters, other correlations and matrices have their own numbers)
prints_hold <- function(pool, x, world, log) {
  own <- list(world$how$weight, world$missing, world$solution, world$start)
  if (!all(vapply(own, is.null, NA))) return(invisible())
  for (of in intersect(names(pool), names(PRINTS))) {
    # (what was made of the bare data frame knows no codebook)
    if (pool[[of]]$source$fingerprint != pool$questionnaire$source$fingerprint) next
    said <- paste(utils::capture.output(print(pool[[of]], lines = 999)), collapse = " ")
    for (word in PRINTS[[of]](x, pool[[of]])) {
      log$claims <- log$claims + 1L
      if (grepl(gsub(" ", " +", word), said)) next
      heard <- substr(said, 1L, 200L)
      wrong(log, sprintf("print(<%s>)", of), c("should say", word, "but says", heard))
    }
  }
}

claims_hold <- function(pool, world, log) {
  if (is.null(pool$questionnaire) || is.null(world$answers)) return(invisible())
  # (of measurements nothing is said of people and items: test-base-called.R)
  if (isTRUE(world$how$measured)) return(invisible())
  x <- by_hand(world)
  log$claims <- 0L
  q <- pool$questionnaire
  same <- isTRUE(all.equal(unname(q$values$answers + 0), unname(x + 0), check.attributes = FALSE))
  if (!same) wrong(log, "claims", "answers are not keyed as by hand")
  printed <- paste(utils::capture.output(print(q)), collapse = " ")
  must_hold(printed, c(sprintf("%d people", nrow(x)), sprintf("%d items", ncol(x))), "print", log)
  if (anyNA(x)) must_hold(printed, per_cent(mean(is.na(x)), 1L), "print", log)
  for (of in names(pool)) findings_hold(pool[[of]], of, x, world, log)
  prints_hold(pool, x, world, log)
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
  others <- !is.null(world$solution) || !is.null(people) && people != nrow(x) ||
    !setequal(result$source$items, colnames(x))
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
    softsieve_error = function(e) NULL)
  v <- study$values
  if (is.null(v$scores) || is.null(v$reliability)) return(invisible())
  said <- paste(unlist(softsieve:::prose_of(study)[c("methods", "results")]), collapse = " ")
  left <- rownames(v$solution$values$loadings)
  one <- if (ncol(v$solution$values$loadings) == 1L) "The factor extracted" else "factors extracted"
  words <- c(sprintf("answers of %d people to %d items", nrow(x), ncol(x)), gaps_by_hand(x),
    went_by_hand(x, left), one)
  must_hold(said, words, "prose", log)
}

gaps_by_hand <- function(x) {
  if (!anyNA(x)) return("No answers were missing")
  pair <- pair_counts(x)
  c(sprintf("%.1f%% were missing", 100 * mean(is.na(x))),
    sprintf("%d to %d people", pair[1L], pair[2L]))
}

went_by_hand <- function(x, left) {
  gone <- setdiff(colnames(x), left)
  if (!length(gone)) return("removed no item")
  c(gone, sprintf("removed %d of %d items", length(gone), ncol(x)),
    sprintf("was %s before and %s after", adequacy_of(x), adequacy_of(x[, left])))
}

adequacy_of <- function(x) {
  r <- stats::cor(x, use = "pairwise.complete.obs")
  q <- -stats::cov2cor(solve(r))
  diag(q) <- diag(r) <- 0
  sub("^0", "", sprintf("%.2f", sum(r^2) / (sum(r^2) + sum(q^2))))
}
