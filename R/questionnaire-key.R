# How answers are keyed, and how new answers are brought to the same key.

# A codebook of the items of a questionnaire (or of counts of answers), and where the ends of their
# scales come from.
key_of <- function(questionnaire) {
  if (is.null(questionnaire)) return(NULL)
  items <- questionnaire$values$items
  key <- items[c("item", "wording", "lowest", "highest", "reversed", "labels", "missing_codes")]
  key$ends_by <- questionnaire$settings$ends_by
  key
}

# What correlations came from that knows the items' key: a questionnaire, counts of answers, or
# NULL.
items_behind <- function(correlations) {
  v <- correlations$values
  if (is.null(v$questionnaire)) v$tables else v$questionnaire
}

# New answers as a questionnaire of the key's items, in their order: raw ones (a data frame) are
# keyed by it, those of a questionnaire must have been keyed alike. Items that are absent are gaps,
# and told. `key` may be NULL (nothing is known of it: then data are taken as they are); `items` are
# the names wanted, `of` what was made of them ("solution": a questionnaire must have no others).
answers_by_key <- function(data, key, items, of = "solution") {
  if (!is_questionnaire(data) && !is.data.frame(data)) {
    stop_input("class", "`data` must be a questionnaire, or a data frame of answers.",
      got = describe_value(data))
  }
  if (is_questionnaire(data)) {
    if (of == "solution") check_no_extra_items(data, items)
    check_keyed_alike(data, key)
  }
  has <- if (is_questionnaire(data)) data$values$items$item else names(data)
  there <- intersect(items, has)
  if (length(there) < min(2L, length(items))) {
    stop_input("other_items",
      sprintf("The data must have the items that the %s was made of.", of),
      got = c(if (length(there)) sprintf("Of these the data have only %s.", there),
        sprintf("Not in the data: %s.", name_culprits(setdiff(items, there)))),
      todo = sprintf("Score with a %s of these items.", of))
  }
  if (!is_questionnaire(data)) {
    # (a questionnaire is of two items at least)
    with <- if (length(there) < 2L) utils::head(setdiff(intersect(key$item, has), there), 1L)
    data <- key_raw_answers(data, key, c(there, with))
  }
  answers <- columns_with_gaps(data$values$answers, items, there)
  absent <- setdiff(items, there)
  findings <- bind_findings(findings_that_travel(data$findings), find_absent(absent),
    find_beyond(answers, key))
  list(answers = answers, people = data$values$people, key = key_of(data), source = data$source,
    findings = findings)
}

# These columns, those that are absent as gaps; no copy where they are what there is.
columns_with_gaps <- function(answers, items, there) {
  if (identical(colnames(answers), items)) return(answers)
  if (identical(there, items)) return(answers[, items, drop = FALSE])
  all <- matrix(answers[NA_integer_], nrow(answers), length(items), dimnames = list(NULL, items))
  all[, there] <- answers[, there]
  all
}

# Only a key from a codebook says what is no answer: ends that come from answers are no limits for
# other people.
key_raw_answers <- function(data, key, there, silent = TRUE) {
  none <- rlang::quo(NULL)
  selected <- list(id = none, group = none, weight = none, reversed = none, categories = none)
  selected$items <- rlang::quo(tidyselect::all_of(!!there))
  build_questionnaire(data, selected, if (!is.null(key)) codebook_of_key(key, there),
    out_of_range = "stop", missing_codes = NULL, ends = NULL, made_by = NULL, silent = silent)
}

check_no_extra_items <- function(data, items) {
  extra <- setdiff(data$values$items$item, items)
  if (!length(extra)) return(invisible())
  stop_input("other_items", "The data must have the items that the solution was made of.",
    got = sprintf("Not in the solution: %s.", name_culprits(extra)),
    todo = "Score with a solution of these items, or choose the items with keep_items().")
}

check_keyed_alike <- function(data, key) {
  if (is.null(key)) return(invisible())
  own <- data$values$items
  shared <- intersect(own$item, key$item)
  own <- own[match(shared, own$item), ]
  wanted <- key[match(shared, key$item), ]
  turned <- own$reversed != wanted$reversed
  apart <- wanted$ends_by == "codebook" &
    data$settings$ends_by == "codebook" &
    (!same_or_na(own$lowest, wanted$lowest) | !same_or_na(own$highest, wanted$highest))
  if (!any(turned | apart)) return(invisible())
  stop_input("other_key",
    "The answers must be keyed as those that the solution came from.",
    got = c(if (any(turned)) {
      sprintf("Reverse-scored in one of the two only: %s.", name_culprits(shared[turned]))
    }, if (any(apart)) {
      sprintf("With other ends of the answer scale: %s.", name_culprits(shared[apart]))
    }),
    todo = paste("Use the same codebook for both, or give the data frame itself: it is keyed as",
      "the solution's answers were."), items = shared[turned | apart])
}

same_or_na <- function(a, b) is.na(a) | is.na(b) | a == b

find_absent <- function(absent) {
  if (!length(absent)) return(NULL)
  new_finding("items_absent", absent, item = absent)
}

# Answers beyond those that the solution's people gave, where no codebook gives the ends.
find_beyond <- function(answers, key) {
  if (is.null(key) || key$ends_by[1L] == "codebook") return(NULL)
  counts <- vapply(seq_len(nrow(key)), function(i) {
    x <- answers[, key$item[i]]
    sum(x < key$lowest[i] | x > key$highest[i], na.rm = TRUE)
  }, 0L)
  hit <- which(counts > 0)
  if (!length(hit)) return(NULL)
  new_finding("beyond_earlier_answers", key$item[hit],
    vapply(counts[hit], count_of, "", one = "answer"), format(key$lowest[hit], trim = TRUE),
    format(key$highest[hit], trim = TRUE), item = key$item[hit], value = counts[hit])
}

# Items whose correlations with the others run against those known of them: reverse-scored already,
# or never.
find_against_key <- function(answers, correlations, least = 30L, most = 20000L) {
  if (nrow(answers) < least || ncol(answers) < 2L) return(NULL)
  # a share of very many people tells as well
  if (nrow(answers) > most) {
    answers <- answers[round(seq(1, nrow(answers), length.out = most)), ]
  }
  r <- suppressWarnings(stats::cor(answers, use = "pairwise.complete.obs"))
  shown <- colnames(answers)
  known <- correlations[shown, shown]
  diag(r) <- diag(known) <- 0
  agreement <- rowSums(r * known, na.rm = TRUE) /
    sqrt(rowSums(known^2) * rowSums(r^2, na.rm = TRUE))
  hit <- which(agreement < -0.3)
  if (!length(hit)) return(NULL)
  new_finding("against_key", shown[hit], item = shown[hit], value = agreement[hit], limit = -0.3)
}
