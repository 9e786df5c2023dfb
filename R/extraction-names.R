# What factors are called, and which of two solutions' factors are the same: names are kept when a
# solution is computed again.

# What a factor of another solution must be like to take over its name.
NAME_FROM <- function() cutoff("factor_similar")

# F1, F2, ... or C1, C2, ...: what factors are called as long as nobody names them.
plain_names <- function(k, settings) {
  paste0(upper(substr(one_of_model(settings), 1L, 1L)), seq_len(k))
}

factor_names <- function(solution) colnames(solution$values$loadings)

# Has anybody named its factors?
is_named <- function(solution) length(solution$settings$factor_names) > 0L

# The solution with other words for its factors. Names stand wherever loadings have columns: every
# later stage takes them from there.
rename_factors <- function(solution, names) {
  v <- solution$values
  k <- length(names)
  for (part in c("loadings", "structure", "raw_loadings", "transformation")) {
    if (!is.null(v[[part]])) colnames(v[[part]]) <- names
  }
  dimnames(v$factor_correlations) <- list(names, names)
  v$variance$factor <- names
  plain <- plain_names(k, solution$settings)
  parts <- unclass(solution)
  parts$values <- v
  parts$settings$factor_names <- if (!identical(names, plain)) stats::setNames(names, plain)
  structure(parts, class = oldClass(solution))
}

# Names of an earlier solution of much the same items, for the factors that match: those whose
# congruence over the shared items is high enough. The others keep their plain names, and findings
# say which is which.
keep_names <- function(solution, earlier) {
  if (!is_named(earlier)) return(solution)
  matched <- match_factors(solution, earlier)
  before <- factor_names(earlier)
  named <- setdiff(before, plain_names(length(before), earlier$settings))
  rows <- matched[matched$with %in% named, ]
  sure <- !is.na(rows$congruence) & abs(rows$congruence) >= NAME_FROM()
  names <- factor_names(solution)
  names[match(rows$factor[sure], names)] <- rows$with[sure]
  told <- function(row) {
    sprintf("%s (%s, congruence %s)", row$with, row$factor, format_unit(abs(row$congruence)))
  }
  kept <- rename_factors(solution, names)
  kept$findings <- bind_findings(solution$findings, if (any(sure)) {
    new_finding("names_kept", join_words(told(rows[sure, ])), value = sum(sure),
      limit = NAME_FROM())
  }, if (!all(sure)) {
    new_finding("names_lost", join_words(rows$with[!sure]), format_unit(NAME_FROM()),
      value = sum(!sure), limit = NAME_FROM())
  })
  kept
}

# The least number of shared items over which factors can be matched.
LEAST_SHARED <- 3L

shared_items <- function(a, b) intersect(a$values$items$item, b$values$items$item)

# One row for each factor of `a`: factor, with (that of `b` which stands for it, NA where none is
# left), sign (-1 where they run against each other), congruence (at least 0) and rms_difference of
# the loadings after reflection, over the items they share.
match_factors <- function(a, b) {
  shared <- shared_items(a, b)
  check_shared(shared)
  first <- a$values$loadings[shared, , drop = FALSE]
  second <- b$values$loadings[shared, , drop = FALSE]
  aligned <- core_aligned(second, first)
  difference <- first - aligned$loadings
  tibble::tibble(factor = colnames(first), with = colnames(second)[aligned$column],
    sign = ifelse(is.na(aligned$column), NA_real_, aligned$sign), congruence = aligned$congruence,
    rms_difference = unname(apply(difference, 2L, core_root_mean_square)))
}

check_shared <- function(shared) {
  if (length(shared) >= LEAST_SHARED) return(invisible())
  stop_input("other_items",
    sprintf("Solutions must share at least %d items to be compared.", LEAST_SHARED),
    got = if (length(shared)) {
      sprintf("They share %s: %s.", count_of(length(shared), "item"), name_culprits(shared))
    } else {
      "They share none."
    },
    todo = "Compare solutions of the same questionnaire.")
}

# How alike two factors are, in a word.
likeness <- function(congruence) {
  ifelse(is.na(congruence), "none",
    ifelse(congruence >= cutoff("factor_equal"), "very similar",
      ifelse(congruence >= cutoff("factor_similar"), "similar", "different")))
}
