#' What such a sample could not show
#'
#' Factors may hide: two that go together closely look like one, and a small or weak one looks like
#' chance. How closely, how small and how weak depends on the people and the items. Samples are
#' drawn from the solution's own factors, one of them split in two or a further one added, and
#' [count_factors()]'s probabilities say of each how many factors it shows. In a study file,
#' `hidden: {run: true}` asks for it; before anybody has answered, `plan_study(hidden = TRUE)`.
#'
#' @param solution A factor model, as [factor_solution()] gives it (not components).
#' @param people How many people a sample has; those behind the solution when `NULL`.
#' @param share In what share of samples a factor must show to count as seen, from 0.5 to 0.95.
#' @param items On how many of the items a further factor is laid, from 3 on: those that the
#'   solution explains least.
#' @param loadings Of the further factor, which goes with no other: from 0.2 to 0.9.
#' @param samples How many samples are drawn for each question, from 20 on. Each share has a Monte
#'   Carlo standard error of at most `1 / (2 sqrt(samples))`.
#' @param seed,threads As in [parallel_analysis()].
#' @return An object of class `hidden_factors` ([softsieve-result]); `values` holds
#'   * `splits`: tibble, one row for each factor: `factor`, `items` (that load on it most),
#'     `hides_from` (two factors, half of these items on each, that correlate so or more are taken
#'     for one in more than `1 - share` of samples; 1: both show even at .98; 0: not even unrelated
#'     ones show; `NA`: it has fewer than six items, too few for two),
#'     `first` and `second` (the halves);
#'   * `further`: tibble, one row for each of `loadings`: `loading`, `items`, `shown` (share of
#'     samples that show it), `error` (Monte Carlo standard error);
#'   * `tried`: tibble of all questions asked: `factor`, `correlation`, `shown`, `error`;
#'   * `people`, `noise` (of how many people with normal answers the samples have the sampling
#'     error: fewer for polychoric correlations; of a matrix without answers that is not known, and
#'     `people` stands in) and `sentences`.
#' @section How: A factor f is split into (f1, f2) = f sqrt((1 + r) / 2) +- h sqrt((1 - r) / 2), h
#'   being unrelated to everything: f1 and f2 correlate r, and together they are f. Its items go to
#'   the halves in turn, by the size of their loadings. Samples are of normal answers (Bartlett
#'   1933). Five steps of bisection, and a logistic curve through all that was tried, find the
#'   correlation at which `share` of samples show one factor more.
#' @section Errors: `softsieve_error_class` (components), `softsieve_error_hidden` (people, items,
#'   factors or a kind of correlation that the probabilities were not trained on).
#' @family the number of factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' solution <- factor_solution(motives, 4, seed = 1)
#' hidden_factors(solution, samples = 20, seed = 1)
#' @export
hidden_factors <- function(solution, people = NULL, share = 0.8, items = 4L,
    loadings = c(0.4, 0.5, 0.6), samples = 60L, seed = NULL, threads = NULL) {
  check_class(solution, "solution", "factor_solution", "factor_solution()")
  asked <- settle_arguments(HIDDEN_TAKES)
  how <- settle_hidden(solution, people, asked)
  how$seed <- settle_seed(seed)
  how$threads <- settle_threads(threads)
  v <- solution$values
  values <- look_for_hidden(v$loadings, v$factor_correlations, v$items$communality,
    home_factor(v$loadings, cutoff("salient_loading")), how,
    list(factor = factor_names(solution), item = v$items$item))
  new_result("hidden_factors", values,
    c(solution$settings, how[c("share", "samples", "seed")],
      list(further_items = how$items, further_loadings = how$loadings)),
    findings_that_travel(solution$findings), solution$source, match.call())
}

# `home`: on which factor each item loads; `named`: factors and items.
look_for_hidden <- function(l, between, communality, home, how, named) {
  least <- utils::head(order(communality), how$items)
  asked <- ncol(l) * (HIDDEN_STEPS + 2L) + length(how$loadings)
  found <- with_progress("Hidden factors", asked, function(progress) {
    done <- 0
    shown <- function(root) {
      done <<- done + 1
      progress(min(done, asked))
      share_shown(root, ncol(l) + 1L, how)
    }
    list(
      splits = lapply(seq_len(ncol(l)), function(f) {
        find_split(which(home == f), function(r, halves) {
          shown(population_root(l, between, split_off(l, f, halves, r)))
        }, l[, f], how)
      }),
      further = vapply(how$loadings, function(size) {
        added <- list(loadings = l, beside = replace(numeric(nrow(l)), least, size))
        shown(population_root(l, between, added))
      }, 0))
  })
  hidden_tables(named, found, home, how)
}

HIDDEN_TAKES <- list(
  share = a_number("In what share of samples a factor must show to count as seen", 0.5, 0.95),
  items = a_whole("On how many items a further factor is laid", 3, setting = "further_items",
    check = NULL),
  loadings = a_number("Loadings of the further factor", several = TRUE,
    default = list(0.4, 0.5, 0.6), setting = "further_loadings", check = NULL),
  samples = a_whole("Samples for each question", 20, 1e5))

HIDDEN_STEPS <- 5L
FEWEST_TO_SPLIT <- 6L

settle_hidden <- function(solution, people, asked) {
  if (one_of_model(solution$settings) == "component") {
    stop_input("class", "`solution` must be of a factor model.", got = "Components came.",
      todo = "factor_solution(answers, method = \"minres\")")
  }
  v <- solution$values
  p <- nrow(v$loadings)
  people <- if (is.null(people)) as.integer(v$n) else check_whole(people, "people", 10L, 1e6)
  loadings <- unlist(asked$loadings)
  if (!checkmate::test_numeric(loadings, 0.2, 0.9, any.missing = FALSE, min.len = 1L)) {
    stop_input("argument", "`loadings` must be numbers from 0.2 to 0.9.",
      got = describe_value(loadings))
  }
  how <- list(people = people, share = asked$share,
    items = check_whole(asked$items, "items", 3L, p), loadings = sort(unique(loadings)),
    samples = asked$samples, latent = seen_as(list(correlations = v$item_correlations))[1L],
    noise = noise_of(v$item_correlations, people))
  k <- ncol(v$loadings)
  kind <- v$item_correlations$settings$kind
  wrong <- if (!kind_is(kind, "weighed")) {
    "Pearson or polychoric correlations"
  } else {
    beyond_the_probabilities(people, how$noise, p, k)
  }
  if (!length(wrong)) return(how)
  limits <- retention_model()$limits
  stop_input("hidden", sprintf("There must be %s.", wrong),
    got = sprintf("%s of %s (%s) from %s.", count_of(k, "factor"), count_of(p, "item"),
      if (kind == "given") "a matrix" else KINDS[[kind]]$label,
      count_of(people, "person", "people")),
    todo = sprintf(
      "The probabilities, which say what shows, know %s to %s people, %d to %d items, %d factors.",
      format_count(limits$people[1L]), format_count(limits$people[2L]), limits$items[1L],
      limits$items[2L], limits$factors))
}

# What keeps the probabilities from saying what shows of k factors of p items, or nothing.
beyond_the_probabilities <- function(people, noise, p, k) {
  limits <- retention_model()$limits
  within <- function(x, range) x >= range[1L] && x <= range[2L]
  first_wrong(
    "so many people as the probabilities were trained on, and more than items" =
      !within(people, limits$people) || noise <= p,
    "so many items as the probabilities were trained on" = !within(p, limits$items),
    "items enough for one factor more, and no more factors than were trained" =
      k + 1L > min(limits$factors, core_most_factors(p) - 1L, p - 3L))
}

# Of how many people's normal answers correlations have the sampling error that these have.
noise_of <- function(correlations, people) {
  v <- correlations$values
  above <- upper.tri(v$correlations)
  plain <- (1 - v$correlations[above]^2) / sqrt(v$n_pair[above])
  ratio <- stats::median((plain / v$standard_errors[above])^2, na.rm = TRUE)
  if (!kind_is(correlations$settings$kind, "ordinal") || !is.finite(ratio)) return(people)
  as.integer(round(people * min(ratio, 1)))
}

# The factor's items in two halves of equal strength, +1 and -1: 1, 4, 5, 8, ... and the others.
halves_of <- function(items, loadings) {
  falling <- items[order(-abs(loadings[items]))]
  stats::setNames(rep_len(c(1, -1, -1, 1), length(falling)), falling)
}

# Loadings on the factors as they are, and on what parts the halves of factor f.
split_off <- function(loadings, f, halves, r) {
  at <- as.integer(names(halves))
  beside <- numeric(nrow(loadings))
  beside[at] <- loadings[at, f] * halves * sqrt((1 - r) / 2)
  loadings[at, f] <- loadings[at, f] * sqrt((1 + r) / 2)
  list(loadings = loadings, beside = beside)
}

# The root of the population's correlations. What would explain an item wholly is made less.
population_root <- function(loadings, between, with) {
  common <- with$loadings %*% between %*% t(with$loadings) + tcrossprod(with$beside)
  keep <- pmin(1, sqrt(0.97 / diag(common)))
  common <- common * (keep %o% keep)
  diag(common) <- 1
  t(chol(common))
}

# The share of samples in which at least k factors are the most probable number.
share_shown <- function(root, k, how) {
  model <- retention_model()
  p <- nrow(root)
  most <- min(k + 2L, model$limits$factors - 1L, core_most_factors(p) - 1L, p - 3L)
  features <- cpp_features_of_samples(how$noise, root, how$people, how$latent, most,
    min(most + 2L, core_most_factors(p)), how$samples, how$seed, how$threads)
  logits <- core_network_logits(core_held_features(features, model), model$members)
  each <- matrix(logits, most + 1L)
  mean(apply(each, 2L, function(l) {
    isTRUE(which.max(core_hazards_to_probabilities(stats::plogis(l))) - 1L >= k)
  }))
}

# From which correlation on two halves are taken for one factor, and what was tried.
find_split <- function(items, shown, loadings, how) {
  if (length(items) < FEWEST_TO_SPLIT) return(list(from = NA_real_, halves = NULL, tried = NULL))
  halves <- halves_of(items, loadings)
  r <- c(0, 0.98)
  tried <- data.frame(correlation = r, shown = c(shown(r[1L], halves), shown(r[2L], halves)))
  for (step in seq_len(HIDDEN_STEPS)) {
    if (tried$shown[1L] < how$share || tried$shown[2L] >= how$share) break
    middle <- mean(r)
    at <- shown(middle, halves)
    tried <- rbind(tried, data.frame(correlation = middle, shown = at))
    r <- if (at >= how$share) c(middle, r[2L]) else c(r[1L], middle)
  }
  from <- if (tried$shown[1L] < how$share) {
    0
  } else if (tried$shown[2L] >= how$share) {
    1
  } else {
    crossing_of(tried, r, how)
  }
  list(from = from, halves = halves, tried = tried)
}

# Where a logistic curve through what was tried falls to the share asked for, not beyond the
# neighbours of the last bracket.
crossing_of <- function(tried, bracket, how) {
  fit <- suppressWarnings(stats::glm(shown ~ correlation, stats::binomial(), tried,
    weights = rep(how$samples, nrow(tried))))
  at <- unname((stats::qlogis(how$share) - stats::coef(fit)[1L]) / stats::coef(fit)[2L])
  wide <- 2 * diff(bracket)
  if (!is.finite(at)) at <- mean(bracket)
  min(max(at, bracket[1L] - wide, 0), bracket[2L] + wide, 1)
}

hidden_tables <- function(named, found, home, how) {
  names <- named$factor
  item <- named$item
  half <- function(one, sign) {
    if (is.null(one$halves)) return(NA_character_)
    paste(item[sort(as.integer(names(one$halves)[one$halves == sign]))], collapse = ", ")
  }
  splits <- tibble_of(factor = names, items = tabulate(home, length(names)),
    hides_from = vapply(found$splits, `[[`, 0, "from"), first = vapply(found$splits, half, "", 1),
    second = vapply(found$splits, half, "", -1))
  error <- function(share) sqrt(share * (1 - share) / how$samples)
  further <- tibble_of(loading = how$loadings, items = how$items, shown = found$further,
    error = error(found$further))
  tried <- stack_rows(lapply(seq_along(names), function(f) {
    one <- found$splits[[f]]$tried
    if (is.null(one)) return(NULL)
    one <- one[order(one$correlation), ]
    tibble_of(factor = names[f], correlation = one$correlation, shown = one$shown,
      error = error(one$shown))
  }))
  if (is.null(tried)) {
    tried <- tibble_of(factor = character(), correlation = numeric(), shown = numeric(),
      error = numeric())
  }
  values <- list(splits = splits, further = further, tried = tried, people = how$people,
    noise = how$noise)
  values$sentences <- say_hidden(values, how)
  values
}

say_hidden <- function(values, how) {
  s <- values$splits[!is.na(values$splits$hides_from), ]
  said <- ifelse(s$hides_from <= 0,
    sprintf("%s: two factors on its %d items would look like one, however unrelated.", s$factor,
      s$items),
    ifelse(s$hides_from >= 1,
      sprintf("%s: two factors on its %d items would show, even at .98.", s$factor, s$items),
      sprintf("%s: two factors on its %d items that correlate %s or more would look like one.",
        s$factor, s$items, format_unit(s$hides_from))))
  few <- values$splits$factor[is.na(values$splits$hides_from)]
  seen <- values$further$loading[values$further$shown >= how$share]
  c(said,
    if (length(few)) {
      sprintf("%s: too few items (under %d) for two factors.", join_words(few), FEWEST_TO_SPLIT)
    },
    sprintf("A further factor on %d of the items %s.", how$items, if (length(seen)) {
      sprintf("would show with loadings of %s", join_words(format_unit(seen)))
    } else {
      sprintf("would go unseen, also with loadings of %s", format_unit(max(how$loadings)))
    }))
}

#' @exportS3Method tibble::as_tibble
as_tibble.hidden_factors <- function(x, ...) x$values$splits

#' @export
glance.hidden_factors <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  from <- v$splits$hides_from
  tibble_of(people = v$people, share = x$settings$share,
    lowest_hides_from = if (all(is.na(from))) NA_real_ else min(from, na.rm = TRUE),
    samples = x$settings$samples, seed = x$settings$seed)
}
