# Errors of what is carried back that know that the weights, too, come from a sample: people are
# resampled, and the solution, the scores and the fit made again of each draw.

# People of more than this are not drawn here.
CARRIED_PEOPLE <- 5000L

# A list of `raw` and `standardised` (terms x draws), or `why` there are none.
carried_draws <- function(fit, x, given, replicates, seed, threads) {
  answers <- if (is_result(x, "factor_solution")) {
    x$values$item_correlations$values$questionnaire
  }
  if (is.null(answers)) return(list(why = "the answers behind the scores are not at hand"))
  if (!inherits(fit, "lm")) return(list(why = "only coefficients were given, not the fit"))
  n <- nrow(answers$values$answers)
  if (n > CARRIED_PEOPLE) {
    return(list(why = sprintf("there are more than %s people", format_count(CARRIED_PEOPLE))))
  }
  rows <- people_of_fit(fit, x, answers)
  if (is.null(rows)) {
    why <- "the fit's people or scores are not what score_respondents() gives by itself"
    return(list(why = why))
  }
  units <- rep(0L, n)
  drawn <- with_progress("People resampled", replicates, function(progress) {
    lapply(seq_len(replicates), function(i) {
      times <- cpp_draw_people(seq_len(n) - 1L, units, seed, i - 1, FALSE)
      progress(i)
      tryCatch(carry_draw(fit, x, answers, given, rows, times, seed, threads),
        softsieve_error = function(e) NULL)
    })
  })
  drawn <- Filter(Negate(is.null), drawn)
  if (length(drawn) < 20L) return(list(why = "too few draws have a solution"))
  together <- function(part) do.call(cbind, lapply(drawn, `[[`, part))
  list(raw = together("raw"), standardised = together("standardised"))
}

# Which of the solution's people each row of the fit is: by row names, when the scores agree.
people_of_fit <- function(fit, x, answers) {
  frame <- stats::model.frame(fit)
  at <- suppressWarnings(as.integer(rownames(frame)))
  if (anyNA(at) || any(at < 1L | at > nrow(answers$values$answers))) return(NULL)
  scores <- as_tibble(score_respondents(x, answers))
  shared <- intersect(colnames(x$values$loadings), names(frame))
  same <- vapply(shared, function(name) {
    isTRUE(all.equal(as.numeric(frame[[name]]), scores[[name]][at], tolerance = 1e-8))
  }, NA)
  if (length(shared) && all(same)) at
}

carry_draw <- function(fit, x, answers, given, rows, times, seed, threads) {
  part <- subset_people(answers, rep(seq_along(times), times))
  correlations <- correlate_alike(part, x$values$item_correlations, threads)
  found <- solve_alike(correlations, x, seed = seed, threads = threads, starts = 1L,
    extraction_starts = 0L, tested = FALSE)
  found <- turned_as(found, x)
  scored <- as_tibble(score_respondents(found, answers, threads = threads))
  scores <- as.matrix(scored[intersect(colnames(x$values$loadings), names(scored))])
  scores <- scores[rows, , drop = FALSE]
  again <- refit(fit, scores, times[rows])
  if (anyNA(again[given$terms[given$terms != "(Intercept)"]])) return(NULL)
  estimates <- stats::setNames(again[given$terms], given$terms)
  estimates[is.na(estimates)] <- 0 # a fit without an intercept
  v <- score_formula(found)$values
  center <- rep(0, ncol(v$weights))
  list(raw = carry_matrix(v$weights, v$constant, given$terms) %*% estimates,
    standardised = carry_matrix(v$standardised, center, given$terms) %*% estimates)
}

# Factors in the order, with the signs and names of another solution's.
turned_as <- function(found, x) {
  aligned <- core_aligned(found$values$loadings, x$values$loadings)
  v <- found$values
  turn <- aligned$column
  sign <- aligned$sign
  names <- colnames(x$values$loadings)
  v$loadings <- aligned$loadings
  v$factor_correlations <- v$factor_correlations[turn, turn, drop = FALSE] * (sign %o% sign)
  dimnames(v$loadings) <- dimnames(x$values$loadings)
  dimnames(v$factor_correlations) <- list(names, names)
  v$structure <- core_structure(v$loadings, v$factor_correlations)
  parts <- unclass(found)
  parts$values <- v
  structure(parts, class = oldClass(found))
}

# The fit's coefficients with other scores, and people counting so often.
refit <- function(fit, scores, times) {
  frame <- stats::model.frame(fit)
  design <- stats::model.matrix(fit)
  here <- intersect(colnames(scores), colnames(design))
  design[, here] <- scores[, here]
  y <- stats::model.response(frame)
  w <- stats::model.weights(frame)
  w <- times * (if (is.null(w)) 1 else w)
  offset <- stats::model.offset(frame)
  used <- w > 0 & stats::complete.cases(design)
  if (inherits(fit, "glm")) {
    again <- suppressWarnings(stats::glm.fit(design[used, , drop = FALSE],
      if (is.matrix(y)) y[used, ] else y[used], w[used], offset = offset[used],
      family = stats::family(fit)))
  } else {
    again <- stats::lm.wfit(design[used, , drop = FALSE], y[used], w[used], offset = offset[used])
  }
  found <- again$coefficients
  names(found) <- gsub("^`|`$", "", names(found))
  found
}

# What makes coefficients of the intercept, the items and other predictors out of the fit's `terms`.
carry_matrix <- function(weights, constant, terms) {
  items <- rownames(weights)
  scores <- colnames(weights)
  other <- setdiff(terms, c("(Intercept)", scores))
  a <- matrix(0, 1L + length(items) + length(other), length(terms))
  dimnames(a) <- list(c("(Intercept)", items, other), terms)
  here <- intersect(scores, terms)
  a["(Intercept)", "(Intercept)"] <- 1
  a["(Intercept)", here] <- constant[match(here, scores)]
  a[1L + seq_along(items), here] <- weights[, here]
  for (one in other) a[1L + length(items) + match(one, other), one] <- 1
  a
}
