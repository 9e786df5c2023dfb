# The driver of scoring: people in blocks, so that memory does not grow with how many there are.

# Answers of so many cells are standardised at once.
BLOCK_CELLS <- 2e6

# scores and errors (n x k; errors NULL where not asked), answered (n), and of each score how many
# people: too_few (items answered), impossible (enough, and still no score), with_gaps (scored).
score_people <- function(scoring, answers, least, errors, threads) {
  one <- if (scoring$of == "scales") score_scale_block else score_factor_block
  blocks <- in_blocks("Scoring people", nrow(answers), ncol(answers), function(rows) {
    block <- one(scoring, answers[rows, , drop = FALSE], least, errors, threads)
    block$scores[!block$enough] <- NA_real_
    none <- is.na(block$scores)
    if (errors) block$errors[none] <- NA_real_
    list(
      scores = block$scores,
      errors = if (errors) block$errors,
      answered = as.integer(block$answered),
      too_few = colSums(!block$enough),
      impossible = colSums(none & block$enough),
      with_gaps = colSums(block$gaps & !none)
    )
  })
  together <- function(part, how) do.call(how, unname(lapply(blocks, `[[`, part)))
  added <- function(part) colSums(together(part, rbind))
  scores <- together("scores", rbind)
  colnames(scores) <- scoring$names
  list(
    scores = scores,
    errors = together("errors", rbind),
    answered = together("answered", c),
    too_few = added("too_few"),
    impossible = added("impossible"),
    with_gaps = added("with_gaps")
  )
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
  enough <- enough_answered(answered, p, scoring$gaps, least)
  used <- which(enough)
  scores <- apart <- matrix(NA_real_, nrow(z), k)
  found <- score_standardised(scoring, z[used, , drop = FALSE], errors, threads)
  scores[used, ] <- found$scores
  if (errors) apart[used, ] <- found$errors
  list(
    scores = scores,
    errors = apart,
    answered = answered,
    enough = matrix(enough, nrow(z), k),
    gaps = matrix(answered < p, nrow(z), k)
  )
}

# The core makes the weights it knows for each pattern of gaps; of others R does, one by one.
score_standardised <- function(scoring, z, errors, threads) {
  model <- scoring$model
  best <- scoring$gaps != "own_mean"
  if (!errors && best && scoring$spec$rebuilds) {
    return(list(scores = cpp_predict_from_answers(z, model$correlations, model$structure, threads)))
  }
  home <- home_factor(model$loadings, 0)
  sign <- ifelse(model$loadings[cbind(seq_along(home), home)] < 0, -1, 1)
  weigh <- function(has) {
    if (all(has)) return(scoring$weights)
    if (!best) return(core_own_mean_weights(scoring$weights, has, home, sign))
    scoring$spec$weights(core_part_of_model(model, has))
  }
  core_scores_by_pattern(z, ncol(model$loadings), weigh, if (errors) model)
}

score_scale_block <- function(scoring, answers, least, errors, threads) {
  sizes <- colSums(scoring$members)
  found <- core_scale_means(answers + 0, scoring$members)
  enough <- vapply(
    seq_along(sizes),
    function(j) enough_answered(found$count[, j], sizes[j], scoring$gaps, least),
    logical(nrow(answers))
  )
  list(
    scores = scoring$spec$combine(found$means, sizes),
    errors = if (errors) sqrt(sweep(1 / found$count, 2L, sizes, "*")),
    answered = rowSums(found$count),
    enough = matrix(enough, nrow(answers), length(sizes)),
    gaps = sweep(found$count, 2L, sizes, "<")
  )
}

enough_answered <- function(answered, items, gaps, least) {
  if (gaps == "none") return(answered == items)
  # a share of a number may miss it by rounding
  answered >= max(1L, least$number, least$share * items - 1e-9)
}

# The scales' errors: `found$errors` holds what gaps make of them, sqrt(k / m).
with_measurement_errors <- function(found, scoring, reliability, x, data, call) {
  if (scoring$of != "scales") {
    if (is.null(reliability)) return(found)
    stop_input(
      "argument",
      "`reliability` must be left out for factor scores.",
      got = "Their errors follow from the solution.",
      call = call
    )
  }
  if (is.null(found$errors) && is.null(reliability)) return(found)
  if (is.null(reliability)) {
    if (is.data.frame(data)) data <- data[intersect(scoring$items$item, names(data))]
    reliability <- in_name_of(call, assess_reliability(x, data, replicates = 0L))
  }
  sem <- if (is_result(reliability, "softsieve_reliability")) {
    known <- reliability$values$scales
    check_all_scales(scoring$names, known$scale, call)
    # that of the mean of the items; weights of a sum add up to their number
    known$sem[match(scoring$names, known$scale)] * colSums(scoring$weights)
  } else {
    known <- checkmate::test_numeric(reliability, 0, 1, any.missing = FALSE, names = "unique")
    if (!known) {
      stop_input(
        "argument",
        "`reliability` must be what assess_reliability() returned, or numbers named by scale.",
        got = describe_value(reliability),
        call = call
      )
    }
    check_all_scales(scoring$names, names(reliability), call)
    column_sds(found$scores) * sqrt(1 - reliability[scoring$names])
  }
  if (!is.null(found$errors)) found$errors <- sweep(found$errors, 2L, sem, "*")
  found$reliability <- if (is_result(reliability, "softsieve_reliability")) {
    known$reliability[match(scoring$names, known$scale)]
  } else {
    unname(reliability[scoring$names])
  }
  found
}

check_all_scales <- function(wanted, known, call) {
  absent <- setdiff(wanted, known)
  if (!length(absent)) return(invisible())
  stop_input(
    "scales",
    "`reliability` must have every scale.",
    got = sprintf("Not there: %s.", name_culprits(absent)),
    todo = sprintf("It has: %s.", name_culprits(known)),
    call = call
  )
}
