#' How firm a sifting is
#'
#' Runs the same sifting in other ways: with other limits, with another rule first, with one factor
#' more and one fewer, and on people resampled. An item that stays in nearly all of these is firm;
#' one that stays in half is uncertain.
#'
#' @param x What [sift_items()] returned, from answers.
#' @param replicates How many bootstrap samples of the people are walked, from 0 on. `NULL` is 400,
#'   or as many as take about as long where there are many items, polychoric correlations or a
#'   number of factors that each pass finds again (20 at least; a finding says so).
#' @param steps By which factors each limit is multiplied, one limit at a time.
#' @param uncertain Shares of paths between which an item is uncertain.
#' @inheritParams parallel_analysis
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `sift_paths` ([softsieve-result]); `values` holds `items` (tibble:
#'   `item`, `wording`, `reversed`, `state` in `x`, `stays` (share of all paths), `limits`,
#'   `orders`, `numbers`, `draws` (shares by kind of path), `verdict`: `"stays"`, `"goes"`,
#'   `"uncertain"`), `paths` (tibble: `kind`, `what`, `left` (how many items), `factors`, `ended`),
#'   `stays` (paths x items, logical), `pairs` (tibble of items that compete: `item`, `with`,
#'   `together` (correlation of staying over paths, -.30 and below)), `agreement` (tibble: `scale`
#'   of `x`, `mean` and `lowest` correlation of its score with that of the scale that stands for it
#'   on other paths) and `outside` (`NULL` without draws, or tibble: `measure` (`"omega"`, mean over
#'   scales; `"rmsr"`), `inside` (people drawn), `outside` (people left out of the draw),
#'   `optimism`: means over draws).
#' @section Paths: `"limits"`: each rule in use with its limit times each of `steps`; `"orders"`:
#'   each rule first; `"numbers"`: one factor more and one fewer (where the number is fixed);
#'   `"draws"`.
#' @section Errors: `softsieve_error_class`, `softsieve_error_no_answers` (draws of a sifting of a
#'   matrix), `softsieve_error_argument`.
#' @family sifting
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' sifted <- sift_items(motives, factors = 4, seed = 1)
#' sift_paths(sifted, replicates = 10, seed = 1)
#' @export
sift_paths <- function(x, replicates = NULL, steps = c(0.8, 0.9, 1.1, 1.2), uncertain = c(0.2, 0.8),
    seed = NULL, threads = NULL, ...) {
  check_dots_empty(...)
  check_class(x, "x", "item_sift", "sift_items()")
  usual <- is.null(replicates)
  replicates <- if (usual) {
    usual_draws(x$values$going_on)
  } else {
    check_whole(replicates, "replicates", 0L, 1e5L)
  }
  good <- checkmate::test_numeric(steps, lower = 0.1, upper = 10, any.missing = FALSE, min.len = 1L)
  if (!good) {
    stop_input("argument", "`steps` must be numbers from 0.1 to 10.", got = describe_value(steps))
  }
  if (!checkmate::test_numeric(uncertain, 0, 1, any.missing = FALSE, len = 2L, sorted = TRUE)) {
    stop_input("argument", "`uncertain` must be two shares, the smaller first.",
      got = describe_value(uncertain))
  }
  seed <- settle_seed(seed)
  threads <- settle_threads(threads)
  now <- x$values$going_on
  answers <- now$all$values$questionnaire
  if (replicates && is.null(answers)) {
    stop_input("no_answers", "People can be drawn from answers only.",
      got = "The sifting came from a correlation matrix.",
      todo = "Give replicates = 0 for the other paths.")
  }
  asked <- paths_asked(now, steps, replicates, seed)
  walked <- walk_all(asked, now, answers, threads)
  failed <- vapply(walked, function(end) !is.null(end$failed), NA)
  if (all(failed)) walk_path(asked[[1L]], now, answers) # says why
  values <- values_of_paths(x, asked[!failed], walked[!failed], uncertain)
  new_result("sift_paths", values,
    c(x$settings[setdiff(names(x$settings), "seed")], list(replicates = replicates, steps = steps,
      uncertain = uncertain, seed = seed)),
    bind_findings(findings_that_travel(x$findings), find_in_paths(values), if (any(failed)) {
      new_finding("paths_unsolved", sum(failed), length(failed), walked[[which(failed)[1L]]]$failed,
        value = sum(failed), limit = 0)
    }, if (usual && replicates > 0L && replicates < USUAL_DRAWS) {
      new_finding("fewer_draws", replicates, USUAL_DRAWS, value = replicates, limit = USUAL_DRAWS)
    }),
    x$source, match.call())
}

# As many draws as take about as long as 400 of 26 items by Pearson correlations and a number that
# is given (bench/sifting.R).
USUAL_DRAWS <- 400L
FEWEST_DRAWS <- 20L
usual_draws <- function(now) {
  answers <- now$all$values$questionnaire
  if (is.null(answers)) return(USUAL_DRAWS)
  slow_kind <- !kind_is(now$all$settings$kind, "like_pearson")
  cost <- (ncol(answers$values$answers) / 26)^2 * (if (slow_kind) 3 else 1)
  if (!is.numeric(now$how$factors)) cost <- cost * (if (slow_kind) 10 else 3)
  as.integer(min(USUAL_DRAWS, max(FEWEST_DRAWS, round(USUAL_DRAWS / cost, -1L))))
}

# Every path: kind, what it changes (in words), and the change itself.
paths_asked <- function(now, steps, replicates, seed) {
  rules <- now$rules$values$rule_specs
  on <- names(Filter(function(one) one$on, rules))
  components <- now$how$components
  limits <- lapply(on, function(name) {
    limit <- rules[[name]]$limit
    if (is.function(limit)) limit <- limit(components)
    lapply(steps, function(step) {
      changed <- rules
      changed[[name]]$limit <- limit * step
      list(kind = "limits", what = sprintf("%s %s", name, format(limit * step)), rules = changed)
    })
  })
  orders <- lapply(on[-1L], function(name) {
    list(kind = "orders", what = sprintf("%s first", name),
      rules = rules[c(name, setdiff(names(rules), name))])
  })
  numbers <- if (is.numeric(now$how$factors)) {
    near <- setdiff(now$how$factors + c(-1L, 1L), 0L)
    lapply(near, function(k) list(kind = "numbers", what = sprintf("%d factors", k), factors = k))
  }
  drawn <- lapply(seq_len(replicates), function(i) {
    list(kind = "draws", what = sprintf("draw %d", i), draw = i, seed = seed)
  })
  c(unlist(limits, recursive = FALSE), orders, numbers, drawn)
}

# All paths, by the workers of a plan, or on several processes where the system can; in turn where
# it cannot.
walk_all <- function(asked, now, answers, threads) {
  # (all but draws begin at the same place, and come by many of the same)
  now$how$threads <- now$how$turning$threads <- 1L
  now$passes <- list()
  now$states <- new.env(parent = emptyenv())
  start <- now
  start$left <- setdiff(start$all$values$items$item, removed_by_hand(start))
  one_pass(start, NULL, may_go = FALSE)
  payload <- list(asked = asked, now = now, answers = answers)
  run_ranges(paths_in_range, length(asked), payload, threads, "Walking paths")$value
}

paths_in_range <- function(first, count, payload, threads, progress) {
  asked <- payload$asked[first + seq_len(count)]
  # a draw may have no solution
  run <- function(path) {
    tryCatch(walk_path(path, payload$now, payload$answers),
      softsieve_error = function(e) list(failed = e$message))
  }
  several <- threads > 1L && .Platform$OS.type == "unix"
  size <- if (several) 8L * threads else 4L
  found <- list()
  for (start in seq(1L, length(asked), by = size)) {
    part <- asked[seq(start, min(start + size - 1L, length(asked)))]
    done <- if (several) parallel::mclapply(part, run, mc.cores = threads) else lapply(part, run)
    failed <- Filter(function(one) inherits(one, "try-error"), done)
    if (length(failed)) stop(attr(failed[[1L]], "condition"))
    found <- c(found, done)
    progress(length(found))
  }
  found
}

# The end of one path: items left, scales (a list of items), factors, why it ended; of a draw the
# numbers inside and outside.
walk_path <- function(path, now, answers) {
  if (!is.null(path$rules)) now$rules$values$rule_specs <- path$rules
  if (!is.null(path$factors)) now$how$factors <- path$factors
  rows <- NULL
  if (!is.null(path$draw)) {
    rows <- drawn_rows(nrow(answers$values$answers), path$seed, path$draw)
    now$all <- correlate_alike(subset_people(answers, rows), now$all)
    now$states <- NULL
  }
  now$left <- setdiff(now$all$values$items$item, removed_by_hand(now))
  repeat {
    step <- one_pass(now, NULL, may_go = TRUE)
    now <- step$now
    if (!is.null(step$ended)) break
  }
  last <- now$passes[[length(now$passes)]]
  end <- list(left = now$left, scales = last$members, factors = last$number, ended = step$ended,
    inside = NULL)
  if (!is.null(path$draw)) {
    end[c("inside", "outside")] <- inside_and_outside(now, last, answers, rows)
  }
  end
}

# People drawn with replacement, the same for the same seed and number.
drawn_rows <- function(n, seed, draw) {
  times <- cpp_draw_people(seq_len(n) - 1L, rep(0L, n), seed, draw - 1, FALSE)
  rep(seq_len(n), times)
}

removed_by_hand <- function(now) {
  what <- vapply(now$events, `[[`, "", "what")
  item <- vapply(now$events, `[[`, "", "item")
  last <- !duplicated(item, fromLast = TRUE)
  item[last & what == "removed"]
}

# Mean omega of the scales and the root mean square residual of the loadings, in the people drawn
# and in those left out; NA where nobody was left out, or no item stays.
inside_and_outside <- function(now, last, answers, rows) {
  out <- setdiff(seq_len(nrow(answers$values$answers)), rows)
  own <- now$all$values$correlations[now$left, now$left]
  sd <- now$all$values$items$sd[match(now$left, now$all$values$items$item)]
  nothing <- c(omega = NA_real_, rmsr = NA_real_)
  if (!length(out) || !length(now$left)) return(list(inside = nothing, outside = nothing))
  x <- answers$values$answers[out, now$left, drop = FALSE]
  there <- suppressWarnings(stats::cor(x, use = "pairwise.complete.obs"))
  measured <- function(r, sd) {
    if (anyNA(r)) return(nothing)
    s <- r * (sd %o% sd)
    omegas <- vapply(last$members, function(items) {
      if (length(items) < 2L) return(NA_real_)
      cpp_one_factor_omegas(s[items, items, drop = FALSE], FALSE)
    }, 0)
    left <- r - last$reproduced
    c(omega = mean(omegas, na.rm = TRUE), rmsr = core_residual_sizes(left)$rmsr)
  }
  list(inside = measured(own, sd), outside = measured(there, column_sds(x)))
}

values_of_paths <- function(x, asked, walked, uncertain) {
  items <- x$values$items
  kinds <- vapply(asked, `[[`, "", "kind")
  stays <- t(vapply(walked, function(end) items$item %in% end$left, logical(nrow(items))))
  colnames(stays) <- items$item
  by <- function(kind) {
    if (!any(kinds == kind)) return(rep(NA_real_, nrow(items)))
    unname(colMeans(stays[kinds == kind, , drop = FALSE]))
  }
  share <- unname(colMeans(stays))
  verdict <- ifelse(share < uncertain[1L], "goes", ifelse(share > uncertain[2L], "stays",
    "uncertain"))
  list(
    items = tibble::tibble(items[c("item", "wording", "reversed", "state")], stays = share,
      limits = by("limits"), orders = by("orders"), numbers = by("numbers"), draws = by("draws"),
      verdict = verdict),
    paths = tibble_of(kind = kinds, what = vapply(asked, `[[`, "", "what"),
      left = lengths(lapply(walked, `[[`, "left")),
      factors = vapply(walked, function(end) as.integer(end$factors), 0L),
      ended = vapply(walked, `[[`, "", "ended")),
    stays = stays, pairs = competing_pairs(stays), agreement = agreement_of_scores(x, walked),
    outside = outside_of_paths(walked))
}

# Pairs of which one stays when the other goes.
competing_pairs <- function(stays, most = 20L) {
  moving <- which(apply(stays, 2L, stats::sd) > 0)
  none <- tibble_of(item = character(), with = character(), together = numeric())
  if (length(moving) < 2L) return(none)
  r <- stats::cor(stays[, moving] + 0)
  at <- which(r <= -0.3 & upper.tri(r), arr.ind = TRUE)
  if (!nrow(at)) return(none)
  found <- tibble_of(item = colnames(r)[at[, 1L]], with = colnames(r)[at[, 2L]], together = r[at])
  utils::head(found[order(found$together), ], most)
}

# Each final scale's sum beside that of the scale on another path that correlates with it most.
agreement_of_scores <- function(x, walked) {
  now <- x$values$going_on
  r <- now$all$values$correlations
  own <- now$passes[[length(now$passes)]]$members
  sums <- function(scales) {
    vapply(scales, function(items) rownames(r) %in% items, logical(nrow(r))) + 0
  }
  mine <- sums(own)
  found <- vapply(walked, function(end) {
    apply(abs(core_score_correlations(r, mine, sums(end$scales))), 1L, max, na.rm = TRUE)
  }, numeric(length(own)))
  found <- matrix(found, length(own))
  tibble_of(scale = names(own), mean = rowMeans(found), lowest = apply(found, 1L, min))
}

outside_of_paths <- function(walked) {
  drawn <- Filter(function(end) !is.null(end$inside), walked)
  if (!length(drawn)) return(NULL)
  of_side <- function(side) vapply(drawn, `[[`, c(omega = 0, rmsr = 0), side)
  # (only draws that tell both are compared)
  both <- of_side("inside") + 0 * of_side("outside")
  inside <- rowMeans(both, na.rm = TRUE)
  outside <- rowMeans(of_side("outside") + 0 * both, na.rm = TRUE)
  tibble::tibble(measure = c("omega", "rmsr"), inside = unname(inside), outside = unname(outside),
    optimism = unname(inside - outside))
}

find_in_paths <- function(values) {
  open <- values$items$item[values$items$verdict == "uncertain"]
  if (!length(open)) return(NULL)
  new_finding("uncertain_items", name_culprits(open), value = length(open))
}

#' @exportS3Method tibble::as_tibble
as_tibble.sift_paths <- function(x, ...) x$values$items

#' @export
glance.sift_paths <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble::tibble(paths = nrow(v$paths), items = nrow(v$items),
    stay = sum(v$items$verdict == "stays"), go = sum(v$items$verdict == "goes"),
    uncertain = sum(v$items$verdict == "uncertain"), lowest_agreement = min(v$agreement$lowest))
}
