# The verdict: how probable each number is, where parallel analysis stands, and what to do when the
# two disagree. Words for the result; faces only lay them out.

reach_verdict <- function(e, rules, weighed, pearson, taken) {
  k <- as.integer(e$parallel$values$suggested)
  v <- list(taken = taken$k, taken_by = taken$by, discounted = taken$discounted, suggested = k,
    probable = k, probability = NA_real_, agree = TRUE, hidden = NA_real_, hides = FALSE,
    plausible = c(NA_integer_, NA_integer_), compare = integer(), disputed = NA_integer_,
    outside = weighed$why)
  if (length(v$outside)) {
    trusted <- trusted_numbers(k, rules)
    v$plausible <- range(trusted)
    other <- if (!is.null(pearson)) c(pearson$suggested, pearson$probable)
    v$compare <- sort(unique(c(taken$k, trusted, other)))
    if (length(v$compare) == 1L && k > 0L) v$compare <- c(k - 1L, k, k + 1L)
  } else {
    p <- weighed$probabilities$probability
    v$probable <- which.max(p) - 1L
    v$probability <- max(p)
    v$agree <- taken$k == k
    v$plausible <- core_plausible_range(p, weighed$mass)
    v$hidden <- weighed$hidden
    v$hides <- v$hidden >= retention_model()$hidden$limit
    # a factor that hides is one more than shows
    if (v$hides) v$plausible[2L] <- max(v$plausible[2L], v$probable + 1L)
    v$compare <- sort(unique(c(k, taken$k, v$probable, which(p >= cutoff("number_compare")) - 1L)))
    if (!v$agree) v$disputed <- min(k + 1L, max(k, taken$k))
  }
  # a solution can be looked at where there is a factor, and degrees of freedom are left
  v$compare <- v$compare[v$compare > 0L & v$compare <= core_most_factors(e$p)]
  v$sentences <- c(verdict_sentence(v, weighed$probabilities), discounted_sentences(v, taken),
    parallel_sentence(v, e), pearson_sentence(pearson), compare_sentence(v), hidden_sentence(v, e))
  v
}

# Without probabilities: what the rules that allow for sampling error suggest, where they may be
# used.
trusted_numbers <- function(k, rules) {
  trusted <- rules$rule %in% c("parallel", "sequential", "next_eigenvalue", "empirical_kaiser") &
    rules$holds
  sort(unique(c(k, stats::na.omit(rules$suggested[trusted]))))
}

# What the same answers say as Pearson correlations, which the model knows.
pearson_sentence <- function(pearson) {
  if (is.null(pearson)) return(character())
  from <- "Pearson correlations of the same answers:"
  if (length(pearson$outside)) {
    return(sprintf("%s parallel analysis suggests %s.", from,
      count_of(pearson$suggested, "factor")))
  }
  sprintf("%s parallel analysis suggests %s, and %d is most probable (%s).", from,
    count_of(pearson$suggested, "factor"), pearson$probable,
    format_probability(pearson$probability))
}

# By what the number is taken, and parallel analysis's where that is something else.
said_taken_by <- function(v) {
  if (v$taken_by == "parallel analysis") return(v$taken_by)
  sprintf("%s; parallel analysis suggests %d", v$taken_by, v$suggested)
}

# What so few people could not show.
hidden_sentence <- function(v, e) {
  if (!v$hides) return(character())
  sprintf(paste(
    "%d, or more that %s cannot show: in %s of simulated sets that looked like this one",
    "the last factor was too small, or too like another, to be seen."),
  v$probable, count_of(e$n, "person", "people"), format_share(v$hidden))
}

# What is taken leads, with parallel analysis's number beside it.
verdict_sentence <- function(v, probabilities) {
  beside <- sprintf("parallel analysis suggests %d", v$suggested)
  number <- count_of(v$taken, "factor")
  if (length(v$outside)) {
    return(sprintf("Taken: %s, by %s. The probabilities do not apply here: %s.", number,
      said_taken_by(v), join_words(v$outside)))
  }
  second <- probabilities[order(-probabilities$probability), ][2L, ]
  most <- sprintf("%s%s", format_probability(v$probability), if (second$probability >= 0.05) {
    sprintf("; next %d, %s", second$factors, format_probability(second$probability))
  } else {
    ""
  })
  if (v$taken == v$probable) {
    return(sprintf("Taken: %s, the most probable number (%s); %s.", number, most, beside))
  }
  sprintf("Taken: %s, the most probable number (%d, %s) less what is not a topic; %s.", number,
    v$probable, most, beside)
}

# What further factors are made of.
discounted_sentences <- function(v, taken) {
  if (is.null(v$discounted)) return(character())
  c(v$discounted$text, if (any(v$discounted$counts) && !is.na(taken$probability)) {
    sprintf("With that, %s: %s.", count_of(v$taken, "factor"),
      format_probability(taken$probability))
  })
}

# Parallel analysis's row says which of its forms sees more here.
say_what_sees_better <- function(rules, taken) {
  own <- rules$rule == "parallel"
  if (taken <= rules$suggested[own]) return(rules)
  forms <- rules[rules$rule %in% c("sequential", "next_eigenvalue"), ]
  more <- forms[which(forms$suggested > rules$suggested[own]), ]
  if (!nrow(more)) return(rules)
  rules$reason[own] <- sprintf("%s; blind after strong or correlated factors: %s",
    rules$reason[own], join_words(sprintf("%s sees %d", more$label, more$suggested)))
  rules
}

# Where parallel analysis stands; over which eigenvalue they disagree, and why.
parallel_sentence <- function(v, e) {
  if (length(v$outside)) return(character())
  if (v$agree) return(character())
  at <- e$parallel$values$eigenvalues[v$disputed, ]
  why <- if (v$taken > v$suggested) {
    "Chance levels from unrelated items can be too high after strong factors; the fit gains by more"
  } else {
    "What it stands for may be small: items that share a little more, or a departure from the model"
  }
  sprintf("Parallel analysis suggests %d: eigenvalue %d, %s, is %s its chance level of %s. %s.",
    v$suggested, v$disputed, format_number(at$eigenvalue),
    if (at$above_chance) "above" else "not above",
    format_number(at[[limit_column(e$parallel$settings)]]), why)
}

compare_sentence <- function(v) {
  if (!length(v$compare)) return(character())
  range <- if (v$plausible[1L] == v$plausible[2L]) {
    sprintf("%d", v$plausible[1L])
  } else {
    paste(v$plausible, collapse = " to ")
  }
  said <- if (!length(v$outside)) {
    sprintf("Plausible: %s.", range)
  } else if (v$plausible[1L] < v$plausible[2L]) {
    sprintf("Rules that allow for sampling error suggest %s.", range)
  } else {
    character()
  }
  if (!length(said)) {
    return(if (length(v$compare) > 1L) {
      sprintf("Compare the solutions with %s factors.", join_words(v$compare))
    } else {
      character()
    })
  }
  if (length(v$compare) == 1L) return(said)
  sprintf("%s Compare the solutions with %s factors.", said, join_words(v$compare))
}

# A probability in words that promise no more than it holds: never 0 % or 100 %.
format_probability <- function(p) {
  if (p > 0.99) return("more than 99 %")
  if (p < 0.01) return("less than 1 %")
  format_share(p)
}

find_in_count <- function(values, rules) {
  silent <- rules[is.na(rules$suggested), ]
  bind_findings(
    if (length(values$outside)) new_finding("outside_training", join_words(values$outside)),
    if (!values$agree) {
      new_finding("numbers_disagree",
        grep("^Parallel analysis suggests", values$sentences, value = TRUE)[1L],
        value = values$probable, limit = values$suggested)
    },
    if (!is.null(values$discounted)) {
      new_finding("factor_without_topic", values$discounted$text, value = values$discounted$factors,
        severity = ifelse(values$discounted$counts, "note", "caution"))
    },
    if (isTRUE(values$probability < cutoff("number_unsure") && values$taken == values$probable)) {
      new_finding("number_unsure", format_probability(values$probability),
        value = values$probability, limit = cutoff("number_unsure"))
    },
    if (nrow(silent)) find_silent(silent))
}

# Rules that say nothing, together where they have the same reason.
find_silent <- function(silent) {
  why <- unique(silent$reason)
  who <- vapply(why, function(one) join_words(silent$label[silent$reason == one]), "")
  new_finding("rule_silent", unname(who), why)
}

# How probable each number of factors is: the network that data-raw/retention_training/ trained on
# simulated answers with a known number, its limits, and what it says of one matrix.

MODEL <- new.env(parent = emptyenv())

# The weights, read once: centre and scale of features, most (standardised features are held within
# it), features (their names), members (networks), middle and inverse (of covariances, of
# standardised features), temper, unlike and coverage (core_temper(), below), and limits.
retention_model <- function() {
  if (is.null(MODEL$model)) {
    file <- system.file("retention", "model.json.xz", package = "softsieve", mustWork = TRUE)
    packed <- gzfile(file)
    on.exit(close(packed))
    model <- jsonlite::fromJSON(readLines(packed, warn = FALSE), simplifyDataFrame = FALSE)
    # (it holds one half of what is symmetric)
    inverse <- diag(length(model$features))
    inverse[upper.tri(inverse, diag = TRUE)] <- model$inverse
    model$inverse <- inverse + t(inverse) - diag(diag(inverse))
    MODEL$model <- model
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
    cpp_features(e$r, e$p, as.integer(e$n), latent, most, min(most + 2L, core_most_factors(e$p)),
      1L)
  })
  stopifnot(identical(colnames(seen[[1L]]), model$features))
  said <- lapply(seen, numbers_by_network, model, e$n, e$p, e$settings$plausible)
  tell_numbers(said, model)
}

# A matrix that was handed over may be of Pearson or of polychoric correlations: it is seen as both.
seen_as <- function(e) {
  kind <- e$correlations$settings$kind
  if (kind == "given") return(c(FALSE, TRUE))
  KINDS[[kind]]$ordinal
}

# What the networks say of features: probabilities of 0, 1, ..., how unlike they are to those that
# the networks were trained on, how much mass a range must hold, and how probable it is that a
# factor hides.
numbers_by_network <- function(features, model, people, items, share) {
  z <- core_held_features(features, model)
  logits <- core_network_logits(z, model$members)
  unlike <- core_unlikeness(logits, core_feature_distance(z, model))
  sight <- matrix(core_sight_of_next(z, logits), 1L)
  list(probabilities = core_temper(logits, unlike, model$temper), unlike = unlike,
    hidden = stats::plogis(core_network_logits(sight, model$hidden$members)),
    mass = core_mass_for(share, model$coverage, people, items, z[[1L, "first_share"]]))
}

# One matrix seen in one or two ways: each way counts the same.
tell_numbers <- function(said, model) {
  unlike <- min(vapply(said, `[[`, 0, "unlike"))
  if (!is.finite(unlike) || unlike > model$unlike) {
    why <- "a matrix unlike any it was trained on"
    return(list(probabilities = NULL, why = why))
  }
  p <- Reduce(`+`, lapply(said, `[[`, "probabilities")) / length(said)
  each <- function(part) vapply(said, `[[`, 0, part)
  list(probabilities = tibble_of(factors = seq_along(p) - 1L, probability = p), why = character(),
    hidden = mean(each("hidden")), mass = max(each("mass")))
}

# In words, everything about n, p and the matrix that training did not cover.
outside_training <- function(e, limits) {
  kind <- e$correlations$settings$kind
  beyond <- function(x, range, what) {
    if (x < range[1L] || x > range[2L]) {
      sprintf("%s (trained on %s to %s)", what, format_count(range[1L]), format_count(range[2L]))
    }
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
