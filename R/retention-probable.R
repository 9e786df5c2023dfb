# How probable each number of factors is: the network that data-raw/retention_training/ trained on
# simulated answers with a known number, its limits, and what it says of one matrix.

MODEL <- new.env(parent = emptyenv())

# The weights, read once: a list of centre, scale, most (standardised features are held within it),
# features (their names), lowest, highest (of each in training), members (networks), and limits.
retention_model <- function() {
  if (is.null(MODEL$model)) {
    file <- system.file("retention", "model.json", package = "softsieve", mustWork = TRUE)
    MODEL$model <- jsonlite::fromJSON(file, simplifyDataFrame = FALSE)
  }
  MODEL$model
}

# The probabilities of 0, 1, ... factors, or why there are none.
weigh_numbers <- function(e) {
  model <- retention_model()
  why <- outside_training(e, model$limits)
  if (length(why)) return(list(probabilities = NULL, why = why))
  p <- e$p
  # a factor more than j is asked for j = 0..most; the features look at ranks up to j + 3
  most <- min(model$limits$factors, core_most_factors(p) - 1L, p - 3L)
  chance <- lapply(c("components", "factors"), function(basis) {
    rowMeans(cpp_sample_eigenvalues(
      as.integer(e$n),
      p,
      matrix(0, 0L, 0L),
      basis,
      0L,
      200L,
      e$settings$seed,
      e$settings$threads,
      NULL
    ))
  })
  features <- cpp_features(
    e$r,
    as.integer(e$n),
    chance[[1L]],
    chance[[2L]],
    most,
    min(most + 2L, core_most_factors(p))
  )
  stopifnot(identical(colnames(features), model$features))
  strange <- features_outside(features, model)
  if (length(strange)) return(list(probabilities = NULL, why = strange))
  probabilities <- core_hazards_to_probabilities(core_network_hazards(features, model))
  list(
    probabilities = tibble::tibble(
      factors = seq_along(probabilities) - 1L,
      probability = probabilities
    ),
    why = character()
  )
}

# In words, everything about n, p and the matrix that training did not cover.
outside_training <- function(e, limits) {
  kind <- e$correlations$settings$kind
  beyond <- function(x, range, what) {
    if (x < range[1L] || x > range[2L]) {
      sprintf("%s (trained on %s to %s)", what, format_count(range[1L]), format_count(range[2L]))
    }
  }
  c(
    if (is.null(e$fits)) "a singular matrix",
    if (!kind_is(kind, "like_pearson")) {
      sprintf("%s (trained on Pearson correlations)", method_label("kind", kind))
    },
    beyond(e$n, limits$people, count_of(e$n, "person", "people")),
    beyond(e$p, limits$items, count_of(e$p, "item")),
    if (e$parallel$values$suggested > limits$factors) {
      sprintf("more than %d factors by parallel analysis", limits$factors)
    }
  )
}

# Features that lie further out than any of the simulated sets had them, by a twentieth of their
# range.
features_outside <- function(features, model) {
  margin <- 0.05 * (model$highest - model$lowest)
  out <- !is.finite(t(features)) |
    t(features) < model$lowest - margin |
    t(features) > model$highest + margin
  if (!any(out)) return(character())
  sprintf(
    "a matrix unlike any it was trained on (beyond their range: %s)",
    name_culprits(gsub("_", " ", model$features[rowSums(out) > 0]), 3L)
  )
}
