#' @rdname plan_study
#' @param right_number,factors_found Wishes: in what share of samples the number of factors must be
#'   right (by the most probable number), and every factor found; from 0.5 to 0.99.
#' @param loading_error,correlation_error,omega_error,omega_width Wishes: how large root mean square
#'   errors may be, and how wide limits of omega; from 0.01 to 0.5.
#' @param cross_loading A wish: how large a cross-loading must be for 8 of 10 samples to tell it
#'   from 0; from 0.05 to 0.5.
#' @param most The largest number of people that is tried, up to 30,000.
#' @param alternatives Also search how many people other designs would need: one more item on each
#'   factor (like its median item), loadings that are .05 larger, three of four blocks asked of each
#'   person, and more answers (five, or seven from five on)? Each takes as long again.
#' @export
people_needed <- function(design, right_number = NULL, factors_found = NULL, loading_error = NULL,
    correlation_error = NULL, omega_error = NULL, omega_width = NULL, cross_loading = NULL,
    most = 20000L, replicates = 200L, seed = NULL, threads = NULL, alternatives = FALSE,
    kind = "pearson") {
  design <- check_planned(design)
  shares <- list(right_number = right_number, factors_found = factors_found)
  errors <- list(loading_error = loading_error, correlation_error = correlation_error,
    omega_error = omega_error, omega_width = omega_width)
  wishes <- c(settle_wishes(shares, 0.5, 0.99), settle_wishes(errors, 0.01, 0.5),
    settle_wishes(list(cross_loading = cross_loading), 0.05, 0.5))
  if (!length(wishes)) {
    stop_input("argument", "There must be a wish.", got = "None came.",
      todo = "For instance right_number = 0.9, loading_error = 0.08.")
  }
  most <- check_whole(most, "most", 100L, 30000L)
  check_flag(alternatives, "alternatives")
  how <- settle_plan(design, most, replicates, seed, threads, kind)
  how$most <- most
  check_wishes(names(wishes), how)
  searched <- search_sizes(how, wishes, most)
  tried <- searched$tried
  how$findings <- searched$findings
  how$people <- sort(unique(tried$people))
  needed <- needed_table(tried, wishes, how)
  tried$wish <- unname(wishes[tried$measure])
  tried$enough <- tried$people == needed$people[1L]
  others <- if (alternatives) try_alternatives(how, wishes, most, needed$people[1L])
  forget_samples()
  new_plan(how, tried[order(tried$people), ], needed, match.call(), others)
}

# Everything measured on the way to the fewest people who meet all wishes.
search_sizes <- function(how, wishes, most) {
  least <- min(most, max(FEWEST_PEOPLE, round_people(1.2 * nrow(how$design$loadings) + 1)))
  findings <- list()
  tried <- with_progress("Sizes", 18, function(progress) {
    sizes <- 0
    search_people(how, wishes, least, most, function(n) {
      sizes <<- sizes + 1
      progress(min(sizes, 18))
      one <- measure_size(how, n, function(done) NULL, wishes)
      findings <<- c(findings, list(one$findings))
      one$measures
    })
  })
  list(tried = tried, findings = findings)
}

# What other designs would need for the same wishes.
try_alternatives <- function(how, wishes, most, as_it_is) {
  others <- other_designs(how$design)
  people <- vapply(others, function(design) {
    tryCatch({
      how$design <- check_planned(design)
      how$target <- target_of(how)
      tried <- search_sizes(how, wishes, most)$tried
      needed_table(tried, wishes, how)$people[1L]
    }, softsieve_error_plan = function(e) NA_integer_)
  }, 0L)
  all <- c(list("as it is" = how$design), others)
  tibble_of(design = names(all),
    items = unname(vapply(all, function(design) nrow(design$loadings), 0L)),
    asked = unname(vapply(all, items_asked, 0L)), people = unname(c(as_it_is, people)),
    saved = unname(c(0L, as_it_is - people)))
}

other_designs <- function(design) {
  l <- design$loadings
  home <- home_factor(l, 0)
  middle <- median_items(l, home)
  changed <- function(...) {
    structure(utils::modifyList(unclass(design), list(...)), class = class(design))
  }
  more <- rbind(l, l[middle, , drop = FALSE])
  rownames(more) <- make.unique(c(rownames(l), paste0(rownames(l)[middle], "_like")))
  own <- cbind(seq_along(home), home)
  better <- l
  better[own] <- sign(l[own]) * (abs(l[own]) + 0.05)
  found <- list("one more item on each factor" = changed(loadings = more),
    "loadings .05 larger" = changed(loadings = better))
  if (design$answers %in% 2:4) found[["five answers"]] <- changed(answers = 5L)
  if (is.null(design$blocks) && nrow(l) >= 8L) {
    found[["3 of 4 blocks asked of each person"]] <- changed(blocks = c(of = 4L, asked = 3L))
  }
  if (design$answers %in% 5:6) found[["seven answers"]] <- changed(answers = 7L)
  found
}

settle_wishes <- function(wishes, lowest, highest) {
  wishes <- Filter(Negate(is.null), wishes)
  unlist(Map(function(x, name) check_number(x, name, lowest, highest), wishes, names(wishes)))
}

# Each must be about something that this design has.
check_wishes <- function(names, how) {
  p <- nrow(how$design$loadings)
  limits <- retention_model()$limits$items
  none <- c(right_number = if (p < limits[1L] || p > limits[2L]) {
    sprintf("its probabilities know %d to %d items, not %d", limits[1L], limits[2L], p)
  }, correlation_error = if (ncol(how$design$loadings) == 1L) {
    "one factor correlates with no other"
  }, cross_loading = if (ncol(how$design$loadings) == 1L) {
    "with one factor there are none"
  }, omega_error = NULL, omega_width = NULL)
  if (all(is.na(how$target$omega))) {
    none[c("omega_error", "omega_width")] <- "no factor has three items"
  }
  none <- none[intersect(names, names(none))]
  if (!length(none)) return(invisible())
  stop_input("plan", "A wish must be about something that the design has.",
    got = sprintf("`%s`: %s", names(none), none), todo = "Leave it out.")
}

FEWEST_PEOPLE <- 50L

round_people <- function(n) as.integer(ceiling(n / 10) * 10)

# By how much each wish is met (from 0 on) or missed at one size; -Inf where that is not known.
met_by <- function(measures, wishes) {
  at <- match(names(wishes), measures$measure)
  better <- ifelse(names(wishes) %in% names(PLAN_ERRORS), -1, 1)
  margin <- better * (measures$value[at] - wishes)
  stats::setNames(ifelse(is.na(margin), -Inf, margin), names(wishes))
}

# Doubled until all wishes are met, then halved between, down to a twentieth.
search_people <- function(how, wishes, least, most, measure) {
  tried <- list()
  met <- function(n) {
    one <- measure(n)
    tried <<- c(tried, list(one))
    all(met_by(one, wishes) >= 0)
  }
  low <- NULL
  n <- least
  while (!met(n)) {
    if (n >= most) stop_unmet(tried[[length(tried)]], wishes, most)
    low <- n
    n <- min(most, 2L * n)
  }
  high <- n
  while (!is.null(low) && high > 1.05 * low && high - low > 10L) {
    n <- round_people(sqrt(low * high))
    if (n >= high || n <= low) break
    if (met(n)) high <- n else low <- n
  }
  stack_rows(tried)
}

stop_unmet <- function(measures, wishes, most) {
  forget_samples()
  margin <- met_by(measures, wishes)
  missed <- names(wishes)[margin < 0]
  reached <- measures$value[match(missed, measures$measure)]
  stop_input("plan",
    sprintf("There must be a number of people up to %s that meets all wishes.", format_count(most)),
    got = sprintf("%s: %s is asked for, %s people give %s", missed,
      format_number(wishes[missed], 3L), format_count(most), format_number(reached, 3L)),
    todo = "Plan more or better items, or wish for less.")
}

needed_table <- function(tried, wishes, how) {
  sizes <- sort(unique(tried$people))
  each <- lapply(sizes, function(n) tried[tried$people == n, ])
  met <- vapply(each, function(one) all(met_by(one, wishes) >= 0), NA)
  # (more people never make it worse: what is met by luck below a size that misses is none)
  at <- max(which(!met), 0L) + 1L
  own <- each[[at]]
  here <- own[match(names(wishes), own$measure), ]
  fewer <- met_by(each[[max(1L, at - 1L)]], wishes)
  surely <- function(sign) {
    vapply(each, function(one) {
      error <- one$error[match(names(wishes), one$measure)]
      margin <- met_by(one, wishes) - sign * 2 * error
      if (sign > 0) all(margin > 0) else any(margin < 0)
    }, NA)
  }
  below <- sizes[which(surely(-1) & sizes < sizes[at])]
  above <- sizes[which(surely(1) & sizes >= sizes[at])]
  tibble_of(measure = names(wishes), wish = unname(wishes), value = here$value, error = here$error,
    binds = unname(fewer < 0), people = sizes[at],
    lower = if (length(below)) max(below) else NA_integer_,
    upper = if (length(above)) min(above) else NA_integer_, label = here$label)
}
