#' How many people are needed: before anybody has answered
#'
#' Simulates answers of so many people from a design, and sends each set through the stages that
#' real answers go through: correlations, the number of factors, minimum residuals, oblimin.
#' `plan_study()` says what so many people give; `people_needed()` searches the fewest who give what
#' is asked for.
#'
#' @param design From [planned_factors()].
#' @param people How many people, one or several numbers from 50 on.
#' @param replicates How many samples of each size, from 20 on; or `"enough"`: until shares are
#'   known to a Monte Carlo standard error of .01 and errors to one of 2.5 % (for
#'   `people_needed()`: until every wish is met or missed by two of its standard errors, or known
#'   as well as that), 5,000 at most.
#' @param hidden Also look for what so many people could not show ([hidden_factors()], with its
#'   defaults, of what the design gives)? Takes about as long as 2,000 samples for each number.
#' @param kind Correlations that the answers will be analysed by: `"pearson"` or `"polychoric"`
#'   (loadings, omega and determinacies are then of what is behind the answers).
#' @param rules Rules about the number of factors to count as well, besides parallel analysis: their
#'   names, or `"all"` (see [count_factors()], which is called for each sample: a second or two for
#'   20 items).
#' @param resamples How many resamples of each sample's people [loading_stability()] draws to say
#'   how often its limits hold what many people would show; 0 (none), or from 50 on.
#' @param seed,threads As in [parallel_analysis()].
#' @section Progress: Samples go to the workers of a plan of the package future, where there is one;
#'   they give the same bits. When a call is interrupted, what was sampled is kept for the session:
#'   the same call goes on there. `softsieve plan DESIGN.yml` keeps it in a file beside the design
#'   (`.DESIGN.yml.plan`), which is gone when the plan is done.
#' @return An object of class `study_plan` ([softsieve-result]); `values` holds
#'   * `measures`: tibble, one row for each number of people and measure: `people`, `measure`,
#'     `value`, `error` (Monte Carlo standard error), `label`. Shares of samples: `right_number`
#'     (the most probable number of [count_factors()] is the designed one; `NA` where its
#'     probabilities do not apply), `right_parallel` (the same of [parallel_analysis()], its chance
#'     levels drawn once for each number of people, 500 sets, for answers like those of a first
#'     sample), `factors_found` (every factor has a congruence of .95 or more with its own),
#'     `improper` (an item without anything of its own, or no end of the search), `sphericity`
#'     (Bartlett's test rejects unrelated items at .05), `close_fit` (an RMSEA up to .05 is not
#'     rejected at .05, by maximum likelihood and normal theory), `fewer_rejected` (the same of one
#'     factor fewer is rejected; these three of Pearson correlations only). Shares of items, mean
#'     over samples: `astray` (load most on another factor), `sifted_wrongly` (of the items that
#'     break no rule in the target, those that [sift_items()]'s rules of communality, loading and
#'     cross-loading take out at their first look), `weak_kept` (of those that break one, those
#'     that they leave). Root mean squares over items or factors: `loading_error`,
#'     `communality_error`, `correlation_error` (factor correlations), `omega_error` (of the scales
#'     that items form by their largest loading), `determinacy_error` (the correlation of each
#'     factor with its regression scores). `cross_loading`: how large a second loading of a factor's
#'     median item must be to be told from 0 with a power of .8 (2.80 standard deviations over
#'     samples, over the share of it that the rotation leaves; median over factors).
#'     `omega_width`: how wide 95 % limits of omega are, 3.92 times its standard deviation over
#'     samples (mean of the scales). Means over samples: `congruence` of the factors with their own,
#'     `loading_bias` (of each item's largest loading) and `correlation_bias` (of factor
#'     correlations; both above 0 where they come out further from 0 than they are),
#'     `communality_bias`, `omega_bias`. With `rules`: `right_taken` (of the number that
#'     [count_factors()] takes) and `right.` with the name of each rule (one that says nothing is
#'     not right). With `resamples`, shares of 95 % limits that hold what they should:
#'     `loadings_covered`, `communalities_covered`, `correlations_covered` (over samples that have
#'     a solution). `samples`: how many were drawn.
#'     `people_needed()` adds `wish`, and `enough`: is it the number needed?;
#'   * `needed` (`people_needed()`): tibble, one row for each wish: `measure`, `wish`, `value` and
#'     `error` at that many people, `binds` (does it fail at the next smaller number tried?), and
#'     `people`; `lower` and `upper` are the largest number tried that misses, and the smallest that
#'     meets, all wishes by more than two Monte Carlo standard errors (`NA`: none was tried);
#'   * `alternatives` (`people_needed(alternatives = TRUE)`): tibble, one row for each design:
#'     `design` (in words), `items`, `people` (needed for the same wishes; `NA`: `most` are too few)
#'     `asked` (items that each person answers) and `saved` (people fewer than by the design as it
#'     is);
#'   * `items` (`plan_study()`): tibble, one row for each number of people and item: `people`,
#'     `item`, `weak` (does it break a rule in the target?), `out` (share of samples in which the
#'     rules take it out at the first look) and `loading_error` (standard deviation of its largest
#'     loading);
#'   * `hidden` (`plan_study(hidden = TRUE)`): tibble, one row for each number of people and factor:
#'     `people`, `factor`, `items`, `hides_from` (two factors on these items that correlate so are
#'     taken for one), `further` (the smallest loadings of .4, .5 or .6 with which a further factor
#'     on four items shows; `NA`: none), `known` (`FALSE`: beyond what the probabilities know);
#'   * `layout`: tibble of a design with blocks: `item`, `block`;
#'   * `design`, `target` (loadings, factor correlations, determinacies and omega that 50,000 people
#'     of the design give: what errors are measured against) and `sentences`.
#' @section What is compared: Answers with few categories correlate less than what is behind them,
#'   and careless people make all correlations smaller, so the design's loadings are not what many
#'   people would show. Errors are from what 50,000 people of the same design show, to within about
#'   .005. Of 194 forecasts from 500 samples 97.9 % were within two Monte Carlo errors of 10,000
#'   fresh samples, the furthest 2.49 (bench/plan.csv). In a single sample [loading_stability()]
#'   gives 1.0 to 1.3 times the plan's errors of loadings, the more the fewer people and the weaker
#'   the factors (bench/plan-stability.csv).
#' @section Errors: `softsieve_error_plan` (the design, or wishes that no number of people meets).
#' @family planning
#' @examples
#' design <- planned_factors(factors = 2, items = 5, loadings = c(0.5, 0.7))
#' plan_study(design, people = c(100, 300), replicates = 20, seed = 1)
#' @export
plan_study <- function(design, people = c(100, 200, 400, 800), replicates = 500L, seed = NULL,
    threads = NULL, hidden = FALSE, kind = "pearson", rules = NULL, resamples = 0L) {
  check_flag(hidden, "hidden")
  resamples <- check_whole(resamples, "resamples", 0L, 1e5)
  if (resamples %in% 1:49) {
    stop_input("argument", "`resamples` must be 0, or 50 or more.", got = describe_value(resamples))
  }
  how <- settle_plan(design, people, replicates, seed, threads, kind, settle_plan_rules(rules),
    resamples)
  found <- with_progress("Samples", length(how$people) * how$replicates, function(progress) {
    lapply(seq_along(how$people), function(i) {
      before <- (i - 1) * how$replicates
      measure_size(how, how$people[i], function(done) progress(before + done))
    })
  })
  forget_samples()
  how$findings <- lapply(found, `[[`, "findings")
  new_plan(how, stack_rows(lapply(found, `[[`, "measures")), NULL, match.call(),
    items = stack_rows(lapply(found, `[[`, "items")), hidden = if (hidden) plan_hidden(how))
}

settle_plan <- function(design, people, replicates, seed, threads, kind = "pearson",
    rules = character(), resamples = 0L) {
  design <- check_planned(design)
  kind <- check_choice(kind, "kind", c("pearson", "polychoric"))
  if (kind == "polychoric" && design$answers == 0L) {
    stop_input("plan", "Polychoric correlations need answers in categories.",
      got = "The design has answers on a continuous scale (answers = 0).",
      todo = "Give kind = \"pearson\", or say how many answers an item offers.")
  }
  if (!checkmate::test_integerish(people, lower = 50, upper = 1e5, any.missing = FALSE,
    min.len = 1L, max.len = 50L)) {
    stop_input("argument", "`people` must be whole numbers from 50 to 100,000.",
      got = describe_value(people))
  }
  enough <- identical(replicates, "enough")
  how <- list(design = design, people = sort(unique(as.integer(people))), replicates = if (enough) {
    MOST_SAMPLES
  } else {
    check_whole(replicates, "replicates", 20L, 1e5)
  }, enough = enough, seed = settle_seed(seed), threads = settle_threads(threads), kind = kind,
  rules = rules, resamples = resamples)
  too_few <- how$people <= nrow(design$loadings)
  if (any(too_few)) {
    stop_input("plan", "There must be more people than items.",
      got = sprintf("%s for %s.", count_of(how$people[1L], "person", "people"),
        count_of(nrow(design$loadings), "item")))
  }
  how$target <- target_of(how)
  how
}

# Samples where they are to be enough: at most, and after how many it is looked.
MOST_SAMPLES <- 5000L
LOOK_AGAIN <- 96L

# The design, looked at again: it may have been edited.
check_planned <- function(design) {
  if (!inherits(design, "planned_factors")) {
    stop_input("class", "`design` must come from planned_factors().", got = describe_value(design))
  }
  d <- unclass(design)
  call_with(planned_factors, c(list(pattern = d$loadings, correlations = d$factor_correlations),
    d[c("answers", "lean", "missing", "careless", "clusters", "blocks")]))
}

# All measures of one number of people. Where samples are to be enough they end when `wishes` are
# decided, or everything is known. What was sampled is kept until the plan is done: a call that was
# interrupted goes on there when it is repeated.
measure_size <- function(how, n, progress, wishes = NULL) {
  payload <- list(how = how[c("design", "target", "seed", "kind", "rules", "resamples")], n = n,
    chance = chance_limits(n, how))
  findings <- NULL
  upto <- 0L
  repeat {
    upto <- if (how$enough) min(upto + LOOK_AGAIN, how$replicates) else how$replicates
    drawn <- samples_up_to(upto, payload, how, progress)
    if (!is.null(drawn$findings)) findings <- drawn$findings
    sums <- sum_up(drawn$each, n, how)
    if (upto == how$replicates || is_enough(sums$measures, wishes)) {
      return(c(sums, list(findings = findings)))
    }
  }
}

# The first so many samples: those that are kept, and more.
samples_up_to <- function(upto, payload, how, progress) {
  key <- rlang::hash(payload)
  findings <- NULL
  while ((done <- length(SAMPLED[[key]])) < upto) {
    if (workers_there() > 1L) {
      ran <- run_ranges(measured_in_range, upto - done, payload, how$threads,
        sprintf("Samples of %s people", format_count(payload$n)), done, SAMPLES_AT_ONCE)
      more <- ran$value
      findings <- ran$findings
    } else {
      more <- measured_in_range(done, min(upto - done, LOOK_AGAIN), payload, how$threads,
        function(few) progress(done + few))
    }
    assign(key, c(SAMPLED[[key]], more), envir = SAMPLED)
  }
  list(each = utils::head(SAMPLED[[key]], upto), findings = findings)
}

SAMPLED <- new.env()
forget_samples <- function() rm(list = ls(SAMPLED), envir = SAMPLED)

is_enough <- function(measures, wishes) {
  of_share <- !measures$measure %in% names(PLAN_ERRORS)
  known <- measures$error <= ifelse(of_share, 0.01, 0.025 * measures$value)
  decided <- rep(FALSE, length(known))
  if (length(wishes)) {
    at <- match(names(wishes), measures$measure)
    known <- known[at]
    decided <- abs(measures$value[at] - wishes) > 2 * measures$error[at]
  }
  all(known | decided | is.na(known))
}

# The samples' measures as rows of a table.
sum_up <- function(each, n, how) {
  target <- how$target
  asked <- asked_measures(how)
  all <- do.call(rbind, lapply(each, `[[`, "measures"))
  solved <- Filter(function(one) !is.null(one$loadings), each)
  each_sample <- c(setdiff(names(PLAN_MEASURES), OF_ALL_SAMPLES), names(asked))
  known <- vapply(each_sample, function(name) {
    mean_and_error(all[!is.na(all[, name]), name], squared = name %in% names(PLAN_ERRORS))
  }, c(0, 0))
  omegas <- all[, startsWith(colnames(all), "omega."), drop = FALSE]
  width <- 2 * stats::qnorm(0.975) * mean(apply(omegas, 2L, stats::sd, na.rm = TRUE), na.rm = TRUE)
  if (is.nan(width)) width <- NA_real_
  sifted <- sift_samples(solved, target)
  # (the standard error of a standard deviation, over each scale as if alone)
  of_spread <- function(value) c(value, value / sqrt(2 * (nrow(all) - 1)))
  known <- cbind(known, omega_width = of_spread(width),
    cross_loading = of_spread(crossing_seen(solved, target$crossings)),
    sifted_wrongly = share_out(solved, target, !target$breaks),
    weak_kept = abs(c(1, 0) - share_out(solved, target, target$breaks)))
  labels <- c(PLAN_MEASURES, asked)
  names <- names(labels)
  list(measures = tibble_of(people = n, measure = names, value = unname(known[1L, names]),
    error = unname(known[2L, names]), label = unname(labels), samples = nrow(all)),
  items = if (!is.null(sifted)) tibble_of(people = n, item = rownames(target$loadings),
    weak = target$breaks, out = rowMeans(sifted$out), loading_error = sifted$errors[, 2L]))
}

# The share of these items that are out, and its Monte Carlo error: over samples, or over parts of
# them with errors of their own, where that is more (the errors of the measures are samples', too).
share_out <- function(solved, target, items) {
  if (length(solved) < 2L || !any(items)) return(c(NA_real_, NA_real_))
  out <- function(some) colMeans(sift_samples(some, target)$out[items, , drop = FALSE])
  known <- mean_and_error(out(solved), squared = FALSE)
  parts <- min(10L, max(2L, length(solved) %/% 10L))
  each <- split(solved, rep_len(seq_len(parts), length(solved)))
  if (any(lengths(each) < 2L)) return(known)
  own <- stats::sd(vapply(each, function(some) mean(out(some)), 0)) / sqrt(parts)
  c(known[1L], max(known[2L], own))
}

# A share or a root mean square over samples, and its Monte Carlo standard error.
mean_and_error <- function(x, squared) {
  if (!length(x)) return(c(NA_real_, NA_real_))
  value <- mean(x)
  error <- if (length(x) > 1L) stats::sd(x) / sqrt(length(x)) else NA_real_
  if (squared) {
    # (squares were kept: the error of a root is that of the square over twice the root)
    value <- sqrt(value)
    return(c(value, if (value > 0) error / (2 * value) else 0))
  }
  if (isTRUE(error == 0)) {
    # (what all samples agree on is not known for sure: two more of each kind, Agresti & Coull
    # 1998, Am. Stat. 52, 119-126)
    near <- (sum(x) + 2) / (length(x) + 4)
    error <- sqrt(near * (1 - near) / (length(x) + 4))
  }
  c(value, error)
}
