# How probable each number of factors is: the network that data-raw/retention_training/ trained on
# simulated answers with a known number, its limits, and what it says of one matrix.

MODEL <- new.env(parent = emptyenv())

# The weights, read once: centre and scale of features, most (standardised features are held within
# it), features (their names), members (networks), middle and inverse (of covariances, of
# standardised features), temper, unlike and coverage (core_temper(), below), and limits.
retention_model <- function() {
  if (is.null(MODEL$model)) {
    file <- system.file("retention", "model.json.gz", package = "softsieve", mustWork = TRUE)
    packed <- gzfile(file)
    on.exit(close(packed))
    MODEL$model <- jsonlite::fromJSON(readLines(packed, warn = FALSE), simplifyDataFrame = FALSE)
  }
  MODEL$model
}

# The probabilities of 0, 1, ... factors, or why there are none.
weigh_numbers <- function(e) {
  model <- retention_model()
  why <- outside_training(e, model$limits)
  if (length(why)) return(list(probabilities = NULL, why = why))
  # a factor more than j is asked for j = 0..most; the features look at ranks up to j + 3
  most <- min(model$limits$factors - 1L, core_most_factors(e$p) - 1L, e$p - 3L)
  seen <- lapply(seen_as(e), function(latent) {
    cpp_features(e$r, as.integer(e$n), latent, most, min(most + 2L, core_most_factors(e$p)))
  })
  stopifnot(identical(colnames(seen[[1L]]), model$features))
  said <- lapply(seen, numbers_by_network, model)
  tell_numbers(said, model)
}

# A matrix that was handed over may be of Pearson or of polychoric correlations: it is seen as both.
seen_as <- function(e) {
  kind <- e$correlations$settings$kind
  if (kind == "given") return(c(FALSE, TRUE))
  KINDS[[kind]]$ordinal
}

# What the networks say of features: probabilities of 0, 1, ..., and how unlike they are to those
# that the networks were trained on.
numbers_by_network <- function(features, model) {
  z <- core_held_features(features, model)
  logits <- core_network_logits(z, model$members)
  unlike <- core_unlikeness(logits, core_feature_distance(z, model))
  list(probabilities = core_temper(logits, unlike, model$temper), unlike = unlike)
}

# One matrix seen in one or two ways: each way counts the same.
tell_numbers <- function(said, model) {
  unlike <- min(vapply(said, `[[`, 0, "unlike"))
  if (!is.finite(unlike) || unlike > model$unlike) {
    why <- "a matrix unlike any it was trained on"
    return(list(probabilities = NULL, why = why))
  }
  p <- Reduce(`+`, lapply(said, `[[`, "probabilities")) / length(said)
  list(probabilities = tibble::tibble(factors = seq_along(p) - 1L, probability = p),
    why = character())
}

# The mass of probabilities that a range must hold so that it holds the truth in `share` of
# simulated sets of makes that were not trained on (split conformal: Vovk, Gammerman & Shafer 2005).
mass_for <- function(share, coverage) {
  stats::approx(coverage$asked, coverage$mass, share, rule = 2)$y
}

# In words, everything about n, p and the matrix that training did not cover.
outside_training <- function(e, limits) {
  kind <- e$correlations$settings$kind
  beyond <- function(x, range, what) if (x < range[1L] || x > range[2L]) {
    sprintf("%s (trained on %s to %s)", what, format_count(range[1L]), format_count(range[2L]))
  }
  c(if (is.null(e$fits)) "a singular matrix",
    if (!kind_is(kind, "weighed")) {
      sprintf("%s (trained on Pearson and polychoric ones)", KINDS[[kind]]$label)
    },
    beyond(e$n, limits$people, count_of(e$n, "person", "people")),
    beyond(e$p, limits$items, count_of(e$p, "item")),
    if (e$parallel$values$suggested > limits$factors) {
      sprintf("more than %d factors by parallel analysis", limits$factors)
    })
}
