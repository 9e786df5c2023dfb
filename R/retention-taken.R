# The number of factors that is taken when nobody names a rule: the most probable one; where nothing
# is known of probabilities, that of sequential parallel analysis. A further factor that is made of
# the wording of items, of neighbours in the questionnaire, or of two items alone, is not counted.

# An item counts towards a factor's make when its loading is at least this, and this share of the
# factor's largest.
MAKE_LOADING <- 0.15
MAKE_SHARE <- 0.40
# Items of which the factors explain less belong nowhere.
MAKE_COMMON <- 0.10
# Loadings on other factors from here on tell an item's topic.
TOPIC_LOADING <- 0.25

# k, by (words), unsure (is there another number to compare?), discounted (tibble: factors, make,
# items, text), parallel and probable (numbers, or NA), probability (of k and of what was not
# counted on top of it, or NA).
number_taken <- function(correlations, parallel, weighed, settings) {
  p <- weighed$probabilities$probability
  silent <- is.null(p)
  k <- if (silent) sequential_number(correlations, parallel, settings) else which.max(p) - 1L
  by <- if (silent) attr(k, "by") else "the most probable number"
  found <- discount_factors(correlations, as.integer(k), settings)
  taken <- found$k
  list(k = taken, by = if (taken < k) paste(by, "less what is not a topic") else by,
    discounted = found$discounted, parallel = as.integer(parallel$values$suggested),
    probable = if (silent) NA_integer_ else as.integer(k),
    probability = if (silent) NA_real_ else sum(p[(taken:k) + 1L]))
}

# Sequential parallel analysis where the matrix can be inverted and has the errors of Pearson
# correlations, on which its draws rest; else parallel analysis as it came.
sequential_number <- function(correlations, parallel, settings) {
  v <- correlations$values
  plain <- structure(as.integer(parallel$values$suggested), by = "parallel analysis")
  p <- ncol(v$correlations)
  blunt <- v$smallest_eigenvalue < 1e-10 || v$n < p + 1 || core_most_factors(p) < 1L
  if (blunt || kind_is(correlations$settings$kind, "core") != "pearson") return(plain)
  found <- parallel_analysis(correlations, basis = "factors", chance = "normal", sequential = TRUE,
    replicates = step_draws(settings$replicates, p), seed = settings$seed,
    threads = settings$threads)
  structure(as.integer(found$values$suggested), by = "sequential parallel analysis")
}

# (what two measurements share is no less than what three share)
discount_factors <- function(correlations, k, settings) {
  measured <- correlations$values$items$item %in% correlations$source$measured
  if (all(measured)) return(list(k = k, discounted = NULL))
  told <- list()
  repeat {
    one <- if (k > 1L && k <= core_most_factors(ncol(correlations$values$correlations))) {
      factor_without_topic(correlations, k, settings)
    }
    if (is.null(one)) break
    told <- c(told, list(one))
    if (!one$counts) break
    k <- k - 1L
  }
  list(k = k, discounted = if (length(told)) do.call(rbind, lapply(told, tibble::as_tibble)))
}

# The first of k factors, from the smallest on, that is made of wording, neighbours or a pair; NULL
# where none is. `counts`: is it taken off the number?
factor_without_topic <- function(correlations, k, settings) {
  v <- correlations$values
  r <- v$correlations
  turned <- turned_for_make(r, k, settings)
  loadings <- turned$loadings
  common <- core_communalities(loadings, turned$correlations)
  for (j in order(colSums(loadings^2))) {
    own <- abs(loadings[, j])
    made <- which(own >= max(MAKE_LOADING, MAKE_SHARE * max(own)) & common >= MAKE_COMMON)
    found <- make_of_factor(made, j, loadings, v$items)
    if (is.null(found)) next
    items <- v$items$item[made[order(-own[made])]]
    return(list(factors = k, make = found$make, items = join_words(items), counts = found$counts,
      text = sprintf(found$text, ordinal(k), join_words(items))))
  }
}

# Unrotated factors of minimum residuals, turned by oblimin: those of factor_solution(), from fewer
# starts.
turned_for_make <- function(r, k, settings) {
  found <- core_search_surely(r, k, "minres", rep(0.005, ncol(r)), 2L, 4L)
  if (k == 1L) return(list(loadings = found$loadings, correlations = diag(1)))
  core_rotate_weighted(found$loadings, "oblique", core_request("oblimin", 0), rep(1, ncol(r)), 10L,
    settings$seed, settings$threads)$best
}

make_of_factor <- function(made, j, loadings, items) {
  topics <- topics_beside(made, j, loadings)
  if (length(made) == 2L) return(MAKES$pair)
  by_wording <- make_by_wording(made, j, loadings, items$reversed %in% TRUE, topics)
  if (!is.null(by_wording)) return(by_wording)
  if (are_neighbours(made) && topics$number > 1L && topics$with >= length(made) / 2) {
    MAKES$neighbours
  }
}

# All of the items are reversed, some others are not: `reversed` by the key, without one by what
# loadings show.
make_by_wording <- function(made, j, loadings, reversed, topics) {
  keyed <- any(reversed)
  if (!keyed) reversed <- runs_against(j, loadings)
  if (length(made) < 3L || !all(reversed[made]) || all(reversed)) return(NULL)
  if (topics$number > 1L) return(make_of_wording(if (keyed) "wording" else "against", topics))
  if (keyed && topics$number == 1L) MAKES$unclear # of no topic: one of its own
}

# Without a key: which items load on their topic, beside factor j, the other way round than most of
# its items.
runs_against <- function(j, loadings) {
  others <- loadings[, -j, drop = FALSE]
  home <- max.col(abs(others), ties.method = "first")
  own <- others[cbind(seq_along(home), home)]
  most <- vapply(seq_len(ncol(others)), function(f) sum(sign(own[home == f])), 0)
  abs(own) >= TOPIC_LOADING & own * most[home] < 0
}

make_of_wording <- function(which, topics) {
  found <- MAKES[[which]]
  found$text <- sub("TOPICS", topics$number, found$text, fixed = TRUE)
  found
}

are_neighbours <- function(made) length(made) <= 5L && diff(range(made)) == length(made) - 1L

# What a further factor may be made of: is it taken off the number, and what is said of it (which
# factor, its items).
MAKES <- list(
  pair = list(make = "pair", counts = TRUE,
    text = "The %s factor is a pair of items (%s), not a topic: it is not counted."),
  wording = list(make = "wording", counts = TRUE,
    text = paste(
      "The %s factor holds reverse-worded items of TOPICS topics (%s): probably wording, not a",
      "topic. It is not counted.")),
  against = list(make = "wording", counts = TRUE,
    text = paste(
      "The %s factor holds items that run against the others of their TOPICS topics (%s): probably",
      "wording in reverse, not a topic. It is not counted.")),
  unclear = list(make = "wording or topic", counts = FALSE,
    text = paste(
      "The %s factor holds reverse-worded items of one topic (%s): wording and topic cannot be",
      "told apart here.")),
  neighbours = list(make = "neighbours", counts = TRUE,
    text = paste(
      "The %s factor holds neighbours in the questionnaire (%s) from different topics: probably",
      "their place, not a topic. It is not counted.")))

# How many other factors the items belong to as well, and how many of the items belong to another
# one more than to this.
topics_beside <- function(made, j, loadings) {
  others <- abs(loadings[made, -j, drop = FALSE])
  home <- max.col(others, ties.method = "first")
  largest <- others[cbind(seq_along(made), home)]
  there <- largest >= TOPIC_LOADING
  list(number = length(unique(home[there])), with = sum(there & largest >= abs(loadings[made, j])))
}

# "fourth"
ordinal <- function(k) {
  words <- c("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth",
    "tenth", "eleventh", "twelfth")
  if (k <= length(words)) words[k] else sprintf("%d.", k)
}

# The same of correlations alone, without asking any rule.
number_by_default <- function(correlations, seed, threads, replicates = 1000L) {
  parallel <- parallel_analysis(correlations, replicates = replicates, seed = seed,
    threads = threads)
  v <- correlations$values
  singular <- v$smallest_eigenvalue < 1e-10 || v$n < ncol(v$correlations) + 1
  e <- list(correlations = correlations, r = v$correlations, n = v$n, p = ncol(v$correlations),
    parallel = parallel, fits = if (!singular) list(), settings = list(plausible = 0.95))
  settings <- list(seed = parallel$settings$seed, threads = threads, replicates = replicates)
  number_taken(correlations, parallel, weigh_numbers(e), settings)
}

# How a number came about, in a few words: for prints of what was extracted with it.
say_taken <- function(taken) {
  paste0(taken$by,
    if (!is.na(taken$probability)) sprintf(" (%s)", format_probability(taken$probability)) else "",
    sprintf("; parallel analysis suggests %d", taken$parallel))
}
