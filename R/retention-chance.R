# What parallel_analysis() takes; count_factors() takes it too.

CHANCE_TAKES <- list(
  basis = a_text("Which eigenvalues are compared with chance", function() names(BASES)),
  chance = a_text("Where chance eigenvalues come from; normal, or ordinal for ordinal correlations",
    function() names(CHANCE_DATA), check = NULL),
  sequential = a_flag("Draw chance data with the factors kept so far"),
  reference = a_text("Which level of chance an eigenvalue must pass",
    function() names(REFERENCE_LEVELS)),
  percentile = a_number("The percentile of chance", 50, 100),
  replicates = a_whole("How many sets of chance data, or enough to be sure", 20, 1e6,
    words = "enough", check = function(x, name) check_replicates(x)))

check_replicates <- function(x) {
  if (identical(x, "enough")) return(x)
  if (checkmate::test_int(x, lower = 20, upper = 1e6, tol = 0)) return(as.integer(x))
  stop_input("argument",
    "`replicates` must be a whole number from 20 to 1,000,000, or \"enough\".",
    got = describe_value(x),
    todo = c(
      "A chance level is a percentile over replicates: from fewer than 20 there is none to be had.",
      "Give 1000, or \"enough\" to go on until the decision is clear."))
}

# Where chance eigenvalues come from, and how many are drawn.

# A spec of chance has, beside what all have:
#
#   refuses  function(correlations, x): why it cannot be had (must, got, todo), or NULL
#   draw     function(correlations, basis, seed, threads), giving the function that draws

# What is needed to draw: correlations, and for shuffled answers the answers themselves.
# `draw(first, count, progress, root)` gives a ranks x count matrix.
plan_chance <- function(x, chance, basis, seed, threads, ...) {
  correlations <- as_correlations(x, ..., threads = threads)
  kind <- settle_chance(chance, correlations, x)
  if (BASES[[basis]]$inverse) check_invertible(correlations)
  n <- as.integer(correlations$values$n)
  p <- ncol(correlations$values$correlations)
  list(correlations = correlations, kind = kind, basis = basis, n = n, p = p,
    draw = CHANCE_DATA[[kind]]$draw(correlations, basis, seed, threads),
    key = list(correlations$source, correlations$settings,
      correlations$values[c("correlations", "n_pair", "cluster")], kind, basis, n, p, seed))
}

# Ordered categories of more people are compared with what the normal draws make of them, which then
# comes to the same (bench/chance.R) and does not cost more with more people.
PEOPLE_WITH_CATEGORIES <- 2000L

# As asked, where it can be had; else ordered categories are compared with ordered categories, and
# everything else with normal answers.
settle_chance <- function(kind, correlations, x) {
  if (is.null(kind)) {
    categories <- is.null(CHANCE_DATA$ordinal$refuses(correlations, x)) &&
      correlations$values$n <= PEOPLE_WITH_CATEGORIES
    questionnaire <- correlations$values$questionnaire
    shifted <- length(correlations$settings$order) &&
      is.null(CHANCE_DATA$shifted$refuses(correlations, x)) &&
      is.null(why_not_shifted(questionnaire))
    return(if (shifted) "shifted" else if (categories) "ordinal" else "normal")
  }
  kind <- check_choice(kind, "chance", names(CHANCE_DATA))
  refused <- CHANCE_DATA[[kind]]$refuses(correlations, x)
  if (length(refused)) {
    stop_input("chance", refused$must, got = refused$got, todo = refused$todo)
  }
  kind
}

# How correlations of unrelated items vary unlike those of n whole normal variables that all
# answered; NULL where they do not.
#
# Pairwise deletion gives each an error of its own: with n_i people behind an item and n_ij behind a
# pair they have variance 1 / n_ij, but three of them vary together as those of root(n_i n_ij)
# people do (harmonic means). So many are drawn, and the rest of the variance is added.
#
# A polychoric correlation is, to the first order, that of the items' normal scores over the root of
# what both items' categories tell: it lies further from 0, the more so the fewer and the more
# unequal the answers.
#
# Weights and clusters make a few people or places count for much, and the largest eigenvalue with
# them, by more than as many fewer people would: parts are drawn that count unlike.
unlike_chance <- function(correlations) {
  v <- correlations$values
  gaps <- correlations$settings$missing == "pairwise" && !all_answered(correlations)
  parts <- parts_of_people(correlations)
  if (!gaps && is.null(v$thresholds) && is.null(parts)) return(NULL)
  n <- v$n
  error <- matrix(0, 0L, 0L)
  if (gaps) {
    harmonic <- function(x) length(x) / sum(1 / x)
    off <- upper.tri(v$n_pair)
    ratio <- n / harmonic(v$n_pair[off]) # what weights and clusters leave
    n <- floor(ratio * sqrt(harmonic(diag(v$n_pair)) * harmonic(v$n_pair[off])))
    error <- unname(sqrt(pmax(1 / (ratio * v$n_pair) - 1 / n, 0)))
  }
  told <- vapply(v$thresholds, core_threshold_information, 0)
  people <- integer()
  scales <- matrix(0, 0L, 0L)
  if (!is.null(parts)) {
    scales <- parts$scales
    alone <- sum(parts$people * colMeans(scales))^2 / sum(parts$people * colMeans(scales^2))
    people <- as.integer(pmax(1, round(parts$people * n / alone)))
  }
  list(n = as.integer(max(n, 2)), error = error, further = as.numeric(1 / sqrt(told)),
    parts = people, scales = scales)
}

CHANCE_DATA <- family(
  normal = spec(label = "unrelated normal items", reference = "Bartlett (1933)",
    refuses = function(correlations, x) NULL,
    draw = function(correlations, basis, seed, threads) {
      v <- correlations$values
      # cut variables tell less of their correlation than whole ones
      told <- if (is.null(v$thresholds)) 1 else core_mean_information(v$thresholds)
      n <- max(2L, as.integer(floor(v$n * told)))
      p <- ncol(v$correlations)
      unlike <- if (basis == "components") unlike_chance(correlations)
      function(first, count, progress, root = matrix(0, 0L, 0L)) {
        if (!is.null(unlike) && !length(root)) {
          return(cpp_unlike_eigenvalues(unlike$n, p, unlike$error, unlike$further, unlike$parts,
            unlike$scales, first, count, seed, threads, progress))
        }
        cpp_sample_eigenvalues(n, p, root, basis, first, count, seed, threads, progress)
      }
    }),
  resampled = spec(label = "the items' own answers, shuffled",
    reference = "Buja & Eyuboglu (1992)",
    refuses = function(correlations, x) {
      if (is.null(correlations$values$questionnaire)) {
        return(list(must = "chance = \"resampled\" needs the answers, to shuffle them.",
          got = describe_value(x),
          todo = "Give the questionnaire itself, or what correlate_items() made of it."))
      }
      if (correlations$settings$missing == "em") {
        list(must = "Shuffled answers are correlated on the people who answered, not by EM.",
          got = "missing = \"em\" came.",
          todo = "Give chance = \"normal\", or missing = \"pairwise\".")
      }
    },
    draw = function(correlations, basis, seed, threads) {
      held <- chance_answers(correlations$values$questionnaire, correlations)
      draw_held(held, FALSE, basis, seed, threads)
    }),
  shifted = spec(label = "the items' own answers, each shifted in a circle along the order",
    reference = NA_character_,
    refuses = function(correlations, x) {
      s <- correlations$settings
      q <- correlations$values$questionnaire
      must <- "chance = \"shifted\" needs rows in an order, and Pearson correlations of them."
      if (is.null(q) || !length(q$settings$order)) {
        return(list(must = must, got = "The rows have no order.",
          todo = "Name it: questionnaire(data, order = day)."))
      }
      plain <- kind_is(s$kind, "core") == "pearson" && s$missing == "pairwise" && !s$weighted
      if (!plain) {
        list(must = must, got = "These are weighted, of another kind or of whole rows only.",
          todo = "Give chance = \"normal\".")
      }
    },
    draw = function(...) draw_shifted(...)),
  ordinal = spec(label = "answers with the same category shares",
    reference = "Timmerman & Lorenzo-Seva (2011)",
    refuses = function(correlations, x) {
      if (!kind_is(correlations$settings$kind, "ordinal")) {
        list(
          must = paste(
            "chance = \"ordinal\" goes with polychoric or mixed correlations: it draws from",
            "their category shares."),
          got = sprintf("These are of kind \"%s\".", correlations$settings$kind),
          todo = "Give chance = \"resampled\" to shuffle the answers, or kind = \"polychoric\".")
      } else if (correlations$settings$missing == "given") {
        list(must = "chance = \"ordinal\" needs answers: it draws from their category shares.",
          got = "The correlations came as a matrix.", todo = "Give chance = \"normal\".")
      }
    },
    draw = function(correlations, basis, seed, threads) {
      draw_held(chance_from_shares(correlations), TRUE, basis, seed, threads)
    }))

# Each column turned in a circle by so many of these steps of rows, within its series.
SHIFT_STEPS <- 1024L

draw_shifted <- function(correlations, basis, seed, threads) {
  v <- correlations$values
  q <- v$questionnaire
  series <- series_of(q$values$people, q$settings$order)
  z <- scale(q$values$answers[series$rows, , drop = FALSE] + 0)
  site <- series$site[series$rows]
  rows <- split(seq_along(site), site)
  held <- lapply(rows, function(at) {
    core_shifted_products(z[at, , drop = FALSE], min(length(at), SHIFT_STEPS))
  })
  steps <- vapply(held, function(one) dim(one$products)[1L], 0L)
  p <- ncol(z)
  function(first, count, progress, root = matrix(0, 0L, 0L)) {
    # with factors kept before, normal answers of as many independent rows
    if (length(root)) {
      n <- as.integer(v$n)
      return(cpp_sample_eigenvalues(n, p, root, basis, first, count, seed, threads, progress))
    }
    drawn <- cpp_normal_deviates(length(held) * p, seed, first, count)
    drawn <- matrix(stats::pnorm(as.vector(drawn)), length(held) * p)
    vapply(seq_len(count), function(i) {
      offsets <- matrix(floor(drawn[, i] * steps), length(held))
      progress(i)
      cpp_spectrum(core_shifted_correlations(held, offsets), basis)
    }, numeric(p))
  }
}

# `redraw`: from the shares of categories instead of shuffling.
draw_held <- function(held, redraw, basis, seed, threads) {
  payload <- list(held = held, redraw = redraw, basis = basis, seed = seed)
  function(first, count, progress, root = NULL) {
    if (workers_there() < 2L) return(held_in_range(first, count, payload, threads, progress))
    run_ranges(held_in_range, count, payload, threads, "Chance eigenvalues", first)$value
  }
}

held_in_range <- function(first, count, payload, threads, progress) {
  held <- payload$held
  cpp_resampled_eigenvalues(held$coded, held$at_coded, held$plain, held$at_plain, held$kind,
    held$weights, payload$redraw, payload$basis, as.integer(first), as.integer(count), payload$seed,
    threads, progress)
}

# The answers in the form that the core shuffles: items with tables, and plain numbers.
chance_answers <- function(x, correlations) {
  settings <- correlations$settings
  answers <- x$values$answers + 0
  weights <- scaled_weights(x)
  if (settings$missing == "complete") {
    whole <- stats::complete.cases(answers)
    answers <- answers[whole, , drop = FALSE]
    weights <- weights[whole]
  }
  coded <- if (settings$kind == "mixed") {
    correlations$values$items$ordered
  } else {
    rep(!any(vapply(cpp_categories(answers, NULL, 1L)$values, is.null, NA)), ncol(answers))
  }
  kind <- kind_is(settings$kind, "core")
  if (kind == "mixed") kind <- "polychoric" # of its items with tables
  plain <- answers[, !coded, drop = FALSE]
  if (kind == "spearman" && ncol(plain)) plain <- apply(plain, 2L, rank, na.last = "keep")
  plain[is.na(plain)] <- NaN
  held <- answers[, coded, drop = FALSE]
  held[is.na(held)] <- NaN
  list(coded = held, at_coded = which(coded) - 1L, plain = plain, at_plain = which(!coded) - 1L,
    kind = kind, weights = if (is.null(weights)) numeric() else weights)
}

# Answers of n people who give each category as often as its share, for items with thresholds;
# normal ones for the others. The core redraws them; here they only carry the shares.
chance_from_shares <- function(correlations) {
  v <- correlations$values
  n <- v$n
  at <- (seq_len(n) - 0.5) / n
  made <- lapply(v$thresholds, function(t) {
    if (is.null(t)) stats::qnorm(at) else findInterval(at, stats::pnorm(t)) + 0
  })
  coded <- !vapply(v$thresholds, is.null, NA)
  pick <- function(which) matrix(as.numeric(unlist(made[which])), n, sum(which))
  list(coded = pick(coded), at_coded = which(coded) - 1L, plain = pick(!coded),
    at_plain = which(!coded) - 1L, kind = "polychoric", weights = numeric())
}

ENOUGH <- list(first = 500L, more = 500L, most = 20000L, doubt = 3)

# What was drawn last of unrelated items: rules that go step by step begin with the same.
LAST_CHANCE <- new.env(parent = emptyenv())

# Draws `replicates`, or under "enough" as many as it takes until `doubtful(chance)` is FALSE. In
# pieces: what an interrupted run had is taken up by the next with the same key.
draw_chance <- function(plan, replicates, doubtful, root = NULL, step = 0L) {
  key <- rlang::hash(list(plan$key, step))
  enough <- identical(replicates, "enough")
  if (!enough && identical(LAST_CHANCE$key, key) && ncol(LAST_CHANCE$chance) == replicates) {
    return(LAST_CHANCE$chance)
  }
  pieces <- unfinished_pieces(key)
  goal <- if (enough) ENOUGH$first else replicates
  drawn <- function() sum(vapply(pieces, ncol, 1L))
  repeat {
    with_progress("Chance eigenvalues", goal, function(progress) {
      while ((done <- drawn()) < goal) {
        count <- min(goal - done, max(100L, goal %/% 3L + 1L))
        go_on <- function(now) progress(done + now)
        piece <- if (is.null(root)) {
          plan$draw(done, count, go_on)
        } else {
          plan$draw(done, count, go_on, root)
        }
        pieces[[length(pieces) + 1L]] <<- piece
        keep_unfinished(key, pieces)
      }
    })
    chance <- do.call(cbind, pieces)[, seq_len(goal), drop = FALSE]
    if (!enough || goal >= ENOUGH$most || !doubtful(chance)) break
    goal <- min(goal + max(ENOUGH$more, goal %/% 2L), ENOUGH$most)
  }
  forget_unfinished()
  if (step == 0L) list2env(list(key = key, chance = chance), envir = LAST_CHANCE)
  chance
}

# People who count unlike, for chance levels: weighted ones, and those of clusters.

# People of about the same weight are taken together: so many parts, of the same sum of squares.
PARTS_OF_WEIGHTS <- 24L
PARTS_OF_CLUSTERS <- 12L

# NULL where all count alike or their answers are not at hand; else `people` of each part, and
# `scales`, items x parts: how much their cross-products count.
parts_of_people <- function(correlations) {
  v <- correlations$values
  whole <- if (is.null(v$part_of)) v else v$part_of$values
  if (is.null(whole$questionnaire)) return(NULL)
  weights <- scaled_weights(whole$questionnaire)
  p <- ncol(v$correlations)
  if (!is.null(v$cluster)) {
    answers <- whole$questionnaire$values$answers[, v$items$item, drop = FALSE]
    return(parts_of_clusters(answers, v$cluster, weights))
  }
  if (!length(weights) || !isTRUE(correlations$settings$weighted)) return(NULL)
  w <- sort(weights[weights > 0], decreasing = TRUE)
  part <- ceiling(cumsum(w^2) / sum(w^2) * PARTS_OF_WEIGHTS - 1e-9)
  list(people = as.integer(table(part)),
    scales = rep(1, p) %o% sqrt(as.vector(tapply(w^2, part, mean))))
}

# Within a cluster people vary by what it leaves of the variance; a cluster's mean counts as often
# as it has people, and varies by what they share besides.
parts_of_clusters <- function(answers, cluster, weights) {
  if (!length(weights)) weights <- rep(1, nrow(answers))
  shared <- vapply(seq_len(ncol(answers)), function(j) core_shared_within(answers[, j], cluster), 0)
  size <- as.vector(rowsum(weights, cluster))
  squares <- as.vector(rowsum(weights^2, cluster))
  parts <- min(PARTS_OF_CLUSTERS, length(size))
  part <- cut(rank(size, ties.method = "first"), parts, labels = FALSE)
  mean_of <- function(x) as.vector(tapply(x, part, mean))
  between <- shared %o% mean_of(size) + (1 - shared) %o% mean_of(squares / size)
  list(people = c(length(weights) - length(size), as.integer(table(part))),
    scales = cbind((1 - shared) * sqrt(mean(weights^2)), between, deparse.level = 0))
}
