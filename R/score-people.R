# The driver of scoring: people in blocks, so that memory does not grow with how many there are.

# Answers of so many cells are standardised at once.
BLOCK_CELLS <- 2e6

# scores and errors (n x k; errors NULL where not asked), answered (n), and of each score how many
# people: too_few (items answered), unanswered (none of a factor's), impossible (enough, and still
# no score), with_gaps (scored).
score_people <- function(scoring, answers, least, errors, threads) {
  one <- if (scoring$of == "scales") score_scale_block else score_factor_block
  blocks <- in_blocks("Scoring people", nrow(answers), ncol(answers), function(rows) {
    block <- one(scoring, answers[rows, , drop = FALSE], least, errors, threads)
    if (is.null(block$unanswered)) block$unanswered <- !block$enough & FALSE
    block$scores[!block$enough | block$unanswered] <- NA_real_
    none <- is.na(block$scores)
    if (errors) {
      block$errors[none] <- NA_real_
      if (!is.null(block$centres)) block$centres[none] <- NA_real_
    }
    list(scores = block$scores, errors = if (errors) block$errors,
      centres = if (errors) block$centres, answered = as.integer(block$answered),
      too_few = colSums(!block$enough), unanswered = colSums(block$unanswered),
      impossible = colSums(none & block$enough & !block$unanswered),
      with_missing = colSums(block$missing & !none))
  })
  together <- function(part, how) do.call(how, unname(lapply(blocks, `[[`, part)))
  added <- function(part) colSums(together(part, rbind))
  scores <- together("scores", rbind)
  colnames(scores) <- scoring$names
  list(scores = scores, errors = together("errors", rbind), centres = together("centres", rbind),
    answered = together("answered", c), too_few = added("too_few"),
    unanswered = added("unanswered"), impossible = added("impossible"),
    with_missing = added("with_missing"))
}

# What work(rows) gives of each block of the n people, with a bar when it takes long.
in_blocks <- function(label, n, items, work) {
  size <- max(1L, as.integer(BLOCK_CELLS / items))
  with_progress(label, n, function(progress) {
    lapply(seq(1L, max(n, 1L), by = size), function(start) {
      rows <- start - 1L + seq_len(min(size, n - start + 1L))
      done <- work(rows)
      progress(start - 1L + length(rows))
      done
    })
  })
}

score_factor_block <- function(scoring, answers, least, errors, threads) {
  p <- ncol(answers)
  k <- length(scoring$names)
  z <- sweep(sweep(answers, 2L, scoring$units$mean), 2L, scoring$units$sd, "/")
  answered <- rowSums(!is.na(z))
  enough <- enough_answered(answered, p, scoring$missing, least)
  used <- which(enough)
  scores <- apart <- centres <- matrix(NA_real_, nrow(z), k)
  found <- score_standardised(scoring, z[used, , drop = FALSE], errors, threads)
  scores[used, ] <- found$scores
  own <- if (isTRUE(scoring$own_items)) {
    answered_own_items(z, scoring$model$loadings)
  } else {
    matrix(TRUE, nrow(z), k)
  }
  if (errors) {
    apart[used, ] <- found$errors
    centres[used, ] <- found$centres
  }
  list(scores = scores, errors = apart, centres = centres, answered = answered,
    enough = matrix(enough, nrow(z), k), unanswered = enough & !own,
    missing = matrix(answered < p, nrow(z), k))
}

# Did a person answer any item that loads on a factor? Else what is known of it is other factors'.
# (A factor without salient loadings is of all items.)
answered_own_items <- function(z, loadings) {
  own <- abs(loadings) >= cutoff("salient_loading")
  own[, !colSums(own)] <- TRUE
  (!is.na(z)) %*% own > 0
}

# The weights of the items that are there, as a function of which these are.
weights_by_answered <- function(scoring) {
  model <- scoring$model
  home <- home_factor(model$loadings, 0)
  sign <- ifelse(model$loadings[cbind(seq_along(home), home)] < 0, -1, 1)
  function(has) {
    if (all(has)) return(scoring$weights)
    if (scoring$missing == "own_mean") {
      return(core_own_mean_weights(scoring$weights, has, home, sign))
    }
    scoring$spec$weights(core_part_of_model(model, has))
  }
}

# The core makes the weights it knows for each pattern of gaps; of others R does, one by one.
score_standardised <- function(scoring, z, errors, threads) {
  model <- scoring$model
  best <- scoring$missing != "own_mean"
  if (!errors && best && scoring$spec$rebuilds) {
    return(list(scores = cpp_predict_from_answers(z, model$correlations, model$structure, threads)))
  }
  weigh <- weights_by_answered(scoring)
  unbiased <- isTRUE(scoring$spec$unbiased)
  found <- core_scores_by_pattern(z, ncol(model$loadings), weigh, if (errors) model, unbiased)
  if (!errors || !isTRUE(scoring$spec[["roots"]])) return(found)
  # errors and centres are of components of variance one
  told <- c("errors", "centres")
  found[told] <- lapply(found[told], sweep, 2L, model$roots, "*")
  found
}

score_scale_block <- function(scoring, answers, least, errors, threads) {
  sizes <- colSums(scoring$members)
  found <- core_scale_means(in_units(answers + 0, scoring$scale_units), scoring$members)
  enough <- vapply(seq_along(sizes),
    function(j) enough_answered(found$count[, j], sizes[j], scoring$missing, least),
    logical(nrow(answers)))
  list(scores = scoring$spec$combine(found$means, sizes),
    errors = if (errors) sqrt(sweep(1 / found$count, 2L, sizes, "*")),
    answered = rowSums(found$count), enough = matrix(enough, nrow(answers), length(sizes)),
    missing = sweep(found$count, 2L, sizes, "<"))
}

enough_answered <- function(answered, items, missing, least) {
  if (missing == "none") return(answered == items)
  # a share of a number may miss it by rounding
  answered >= max(1L, least$number, least$share * items - 1e-9)
}

# The scales' errors: `found$errors` holds what gaps make of them, sqrt(k / m). They rest on what
# was given, else on the people that the scales were formed on, else on those who are scored.
with_measurement_errors <- function(found, scoring, reliability, x, data, source) {
  if (scoring$of != "scales") {
    if (is.null(reliability)) return(found)
    stop_input("argument", "`reliability` must be left out for factor scores.",
      got = "Their errors follow from the solution.")
  }
  held <- x$values$precision
  if (is.null(found$errors) && is.null(reliability) && is.null(held)) return(found)
  known <- precision_known(reliability, held, scoring, found, x, data)
  check_all_scales(scoring$names, known$scale)
  at <- match(scoring$names, known$scale)
  found$reliability <- known$reliability[at]
  if (is.null(found$errors)) return(found)
  # that of the mean of the items; weights of a sum add up to their number
  found$errors <- sweep(found$errors, 2L, known$sem[at] * colSums(scoring$weights), "*")
  if (!is_result(reliability, "softsieve_reliability")) {
    whose <- if (is.null(reliability)) "spread and reliability" else "spread"
    found$findings <- find_precision(held, known[at, ], whose, x, source, nrow(found$scores))
  }
  found
}

# As given, as the scales hold it, or of the people who are scored.
precision_known <- function(reliability, held, scoring, found, x, data) {
  if (is_result(reliability, "softsieve_reliability")) return(reliability$values$scales)
  if (!is.null(reliability)) return(reliability_given(reliability, held, scoring, found))
  if (!is.null(held)) return(held)
  precision_of_scales(x, own_answers(scoring, data))
}

own_answers <- function(scoring, data) {
  if (is.data.frame(data)) data[intersect(scoring$items$item, names(data))] else data
}

# Numbers named by scale, with the spread of the people that the scales were formed on, or of these.
reliability_given <- function(reliability, held, scoring, found) {
  good <- checkmate::test_numeric(reliability, 0, 1, any.missing = FALSE, names = "unique")
  if (!good) {
    stop_input("argument",
      "`reliability` must be what assess_reliability() returned, or numbers named by scale.",
      got = describe_value(reliability))
  }
  check_all_scales(scoring$names, names(reliability))
  given <- unname(reliability[scoring$names])
  spread <- if (is.null(held)) {
    column_sds(found$scores) / colSums(scoring$weights)
  } else {
    held$sd[match(scoring$names, held$scale)]
  }
  tibble_of(scale = scoring$names, sem = spread * sqrt(1 - given), reliability = given,
    people = NA_real_)
}

# Whose spread and reliability errors rest on, where they are not these people's as assessed.
find_precision <- function(held, known, whose, x, source, people) {
  if (anyNA(known$sem)) return(new_finding("no_errors"))
  if (is.null(held)) {
    those <- count_of(people, "person", "people")
    return(new_finding("own_precision", whose, those, value = people))
  }
  if (identical(x$source$fingerprint, source$fingerprint)) return(NULL)
  new_finding("earlier_precision", whose, count_of(max(held$people), "person", "people"),
    value = max(held$people))
}

check_all_scales <- function(wanted, known) {
  absent <- setdiff(wanted, known)
  if (!length(absent)) return(invisible())
  stop_input("scales", "`reliability` must have every scale.",
    got = sprintf("Not there: %s.", name_culprits(absent)),
    todo = sprintf("It has: %s.", name_culprits(known)))
}
