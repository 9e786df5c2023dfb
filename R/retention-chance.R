# Where chance eigenvalues come from, and how many are drawn.

# What is needed to draw: correlations, and for shuffled or redrawn answers the answers themselves.
# `draw(first, count, progress, root)` gives a ranks x count matrix.
plan_chance <- function(x, chance, basis, seed, threads, call, ...) {
  correlations <- as_correlations(x, ..., threads = threads, call = call)
  answers <- correlations$values$questionnaire
  kind <- settle_chance(chance, correlations, !is.null(answers), x, call)
  if (basis != "components") check_invertible(correlations, call)
  n <- as.integer(correlations$values$n)
  p <- ncol(correlations$values$correlations)
  no_root <- matrix(0, 0L, 0L)
  draw <- if (kind == "normal") {
    function(first, count, progress, root = no_root) {
      core_sample_eigenvalues(n, p, root, basis, first, count, seed, threads, progress)
    }
  } else {
    held <- if (kind == "resampled") {
      chance_answers(answers, correlations)
    } else {
      chance_from_shares(correlations)
    }
    function(first, count, progress, root = NULL) {
      core_resampled_eigenvalues(
        held$coded,
        held$at_coded,
        held$plain,
        held$at_plain,
        held$kind,
        held$weights,
        kind == "ordinal",
        basis,
        first,
        count,
        seed,
        threads,
        progress
      )
    }
  }
  list(
    correlations = correlations,
    kind = kind,
    basis = basis,
    n = n,
    p = p,
    draw = draw,
    key = list(correlations$source, correlations$settings, kind, basis, n, p, seed)
  )
}

# Ordered categories are compared with ordered categories, everything else with normal answers.
settle_chance <- function(kind, correlations, has_answers, x, call) {
  settings <- correlations$settings
  ordered <- settings$kind %in% c("polychoric", "mixed")
  if (is.null(kind)) return(if (ordered) "ordinal" else "normal")
  kind <- check_choice(kind, "chance", methods_of("chance"), call = call)
  refuse <- function(must, got, todo) {
    stop_input("chance", must, got = got, todo = todo, call = call)
  }
  if (kind == "ordinal" && !ordered) {
    refuse(
      paste(
        "chance = \"ordinal\" goes with polychoric or mixed correlations: it draws from",
        "their category shares."
      ),
      sprintf("These are of kind \"%s\".", settings$kind),
      "Give chance = \"resampled\" to shuffle the answers, or kind = \"polychoric\"."
    )
  }
  if (kind == "resampled" && !has_answers) {
    refuse(
      "chance = \"resampled\" needs the answers, to shuffle them.",
      describe_value(x),
      "Give the questionnaire itself, or what correlate_items() made of it."
    )
  }
  if (kind == "resampled" && settings$missing == "em") {
    refuse(
      "Shuffled answers are correlated on the people who answered, not by EM.",
      "missing = \"em\" came.",
      "Give chance = \"normal\", or missing = \"pairwise\"."
    )
  }
  kind
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
    rep(!any(vapply(core_categories(answers, NULL, 1L)$values, is.null, NA)), ncol(answers))
  }
  kind <- c(covariance = "pearson", mixed = "polychoric")[settings$kind]
  kind <- if (is.na(kind)) settings$kind else kind[[1L]]
  plain <- answers[, !coded, drop = FALSE]
  if (kind == "spearman" && ncol(plain)) plain <- apply(plain, 2L, rank, na.last = "keep")
  plain[is.na(plain)] <- NaN
  held <- answers[, coded, drop = FALSE]
  held[is.na(held)] <- NaN
  list(
    coded = held,
    at_coded = which(coded) - 1L,
    plain = plain,
    at_plain = which(!coded) - 1L,
    kind = kind,
    weights = if (is.null(weights)) numeric() else weights
  )
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
  list(
    coded = pick(coded),
    at_coded = which(coded) - 1L,
    plain = pick(!coded),
    at_plain = which(!coded) - 1L,
    kind = "polychoric",
    weights = numeric()
  )
}

ENOUGH <- list(first = 500L, more = 500L, most = 20000L, doubt = 3)

# Draws `replicates`, or under "enough" as many as it takes until `doubtful(chance)` is FALSE. In
# pieces: what an interrupted run had is taken up by the next with the same key.
draw_chance <- function(plan, replicates, doubtful, root = NULL, step = 0L) {
  key <- rlang::hash(list(plan$key, step))
  pieces <- unfinished_pieces(key)
  enough <- identical(replicates, "enough")
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
  chance
}
