# The results that a change of the house must not move: one call each, on the demo data and the
# fixtures, with fixed seeds. `fixtures/held.json` holds what they gave in version 0.6.0;
# `fixtures/held.R` writes it anew, to be done only when a number is meant to change.

held_calls <- function() {
  q <- motives()
  items <- q$values$items$item[1:12]
  small <- keep_items(q, tidyselect::all_of(items))
  plain <- correlate_items(q)
  unrotated <- extract_factors(plain, 4, starts = 2, seed = 1)
  whole <- factor_solution(plain, 4, starts = 10, seed = 1)
  sheet <- file.path("fixtures", "mending.xlsx")
  calls <- list(profile_items = function() profile_items(q),
    profile_items_by = function() profile_items(small, by = "cafe"),
    profile_respondents = function() profile_respondents(q),
    em = function() correlate_items(small, missing = "em"),
    complete = function() correlate_items(small, missing = "complete"),
    factorability = function() assess_factorability(q, anti_image = TRUE),
    count = function() count_factors(q, replicates = 50, seed = 1),
    components = function() extract_components(plain, 4, seed = 1),
    layers = function() component_layers(extract_components(plain, 4, seed = 1)),
    covariances = function() {
      extract_factors(correlate_items(small, kind = "covariance"), 3, seed = 1)
    },
    hierarchical = function() hierarchical_form(whole),
    pattern = function() pattern_table(whole),
    scores = function() score_respondents(whole, q),
    scales = function() form_scales(whole),
    reliability = function() assess_reliability(form_scales(whole), q, replicates = 50, seed = 1),
    reliability_by = function() {
      assess_reliability(form_scales(whole), q, by = "cafe", replicates = 20, seed = 1)
    },
    sheet = function() {
      book <- read_codebook(sheet, sheet = "codebook")
      answers <- suppressWarnings(read_responses(sheet, sheet = "answers"))
      factor_solution(questionnaire(answers, codebook = book), 1, seed = 1)
    })
  add <- function(stem, words, call) {
    for (word in words) {
      local({
        word <- word
        calls[[paste(stem, word)]] <<- function() call(word)
      })
    }
  }
  kinds <- c("pearson", "covariance", "spearman", "polychoric", "mixed")
  add("correlate", kinds, function(kind) correlate_items(small, kind = kind))
  add("chance", c("normal", "resampled"), function(chance) {
    parallel_analysis(small, chance = chance, replicates = 50, seed = 1)
  })
  add("basis", c("components", "factors", "minimum_rank"), function(basis) {
    parallel_analysis(small, basis = basis, replicates = 20, seed = 1)
  })
  methods <- c("minres", "ml", "gls", "wls", "principal_axis", "principal_axis_once", "alpha",
    "image", "minimum_rank")
  add("extract", methods, function(method) extract_factors(plain, 4, method = method, seed = 1))
  rotations <- c("oblimin", "quartimin", "covarimin", "geomin", "promax", "simplimax",
    "pattern_simplicity", "varimax", "quartimax", "equamax", "parsimax", "factor_parsimony",
    "crawford_ferguson", "infomax", "entropy", "oblimax", "bifactor_quartimin", "bifactor_geomin",
    "target", "procrustes", "none")
  aim <- unrotated$values$loadings
  add("rotate", rotations, function(rotation) {
    own <- list(kappa = if (rotation == "crawford_ferguson") 0.1,
      target = if (rotation %in% c("target", "procrustes")) sign(aim) * abs(aim)^2)
    do.call(rotate_factors, c(list(unrotated, rotation, starts = 5, seed = 1), own))
  })
  calls
}

# A vector as it is kept: long ones by their sums and their beginning.
held_numbers <- function(x) {
  x <- as.numeric(x)
  spread <- c(sum(x, na.rm = TRUE), sum(x^2, na.rm = TRUE), sum(is.na(x)), length(x))
  signif(if (length(x) > 40L) c(spread, x[1:10]) else x, 10)
}
held_words <- function(x) {
  x[is.na(x)] <- "(none)"
  if (length(x) > 15L) x[1:15] else x
}

# All numbers and words of a result's values, flat and named. Long vectors by their sums.
held_form <- function(x) {
  flat <- list()
  walk <- function(x, path) {
    if (is.data.frame(x)) x <- as.list(x)
    if (is.list(x)) {
      x$questionnaire <- NULL
      keys <- if (is.null(names(x))) seq_along(x) else names(x)
      for (i in seq_along(x)) walk(x[[i]], paste(c(path, keys[i]), collapse = "/"))
    } else if (is.character(x)) {
      flat[[path]] <<- held_words(x)
    } else if (is.atomic(x) && !is.null(x) && !grepl("gradient|iterations", path)) {
      # how far a search had come when it stopped differs from machine to machine
      flat[[path]] <<- held_numbers(x)
    }
  }
  values <- unclass(x)
  if (inherits(x, "data.frame")) walk(values, "table") else walk(values$values, "values")
  findings <- x$findings
  if (is.data.frame(findings)) walk(findings[c("code", "severity", "item")], "findings")
  flat
}
