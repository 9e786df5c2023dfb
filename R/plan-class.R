# Plans as results: what they hold, and what is said of them.

new_plan <- function(how, measures, needed, call, alternatives = NULL, items = NULL,
    hidden = NULL) {
  values <- list(measures = measures, needed = needed, alternatives = alternatives, items = items,
    hidden = hidden, layout = layout_of(how$design), design = unclass(how$design),
    target = how$target[c("loadings", "between", "omega", "determinacy")])
  values$sentences <- c(say_plan(measures, needed), say_alternatives(alternatives),
    say_hidden_plan(hidden), say_design(how$design))
  source <- list(file = NULL, fingerprint = rlang::hash(how$design), people = NA_integer_)
  settings <- how[intersect(PLAN_SETTINGS, names(how))]
  if (how$enough) settings$replicates <- "enough"
  new_result("study_plan", values, settings,
    do.call(bind_findings, as.list(how$findings)), source, call)
}

PLAN_SETTINGS <- c("people", "most", "replicates", "kind", "rules", "resamples", "seed")

# How many samples each size has, in words.
say_samples <- function(measures, to = "to", count = format_count) {
  paste(unique(count(range(measures$samples))), collapse = paste0(" ", to, " "))
}

say_alternatives <- function(alternatives) {
  if (is.null(alternatives)) return(NULL)
  others <- alternatives[-1L, ]
  ifelse(is.na(others$people), sprintf("With %s: none of the numbers tried.", others$design),
    sprintf("With %s: %s people, %d items each.", others$design, format_count(others$people),
      others$asked))
}

# What so many people could not show.
say_hidden_plan <- function(hidden) {
  unlist(lapply(unique(hidden$people), function(n) {
    own <- hidden[hidden$people == n, ]
    who <- count_of(n, "person", "people")
    if (!own$known[1L]) return(sprintf("What %s could not show is not known.", who))
    from <- own$hides_from[!is.na(own$hides_from)]
    c(if (length(from)) {
      sprintf("From %s, two factors on the items of one %s.", who, if (min(from) <= 0) {
        "may look like one, however unrelated"
      } else if (min(from) >= 1) {
        "would show, even at .98"
      } else {
        sprintf("may look like one where they correlate %s or more", format_unit(min(from)))
      })
    }, sprintf("From %s, a further factor on four items %s.", who, if (is.na(own$further[1L])) {
      "would go unseen, also with loadings of .60"
    } else {
      sprintf("shows with loadings of %s", format_unit(own$further[1L]))
    }))
  }))
}

# A sentence for each number of people.
say_plan <- function(measures, needed) {
  if (!is.null(needed)) return(say_needed(needed, measures$people))
  vapply(unique(measures$people), function(n) {
    at <- plan_at(measures, n)
    omega <- sprintf(", omega by %s", format_unit(at$omega_error))
    if (is.na(at$omega_error)) omega <- ""
    sprintf(paste("%s: the number of factors is right in %s of samples%s, every factor is found in",
      "%s; loadings are off by %s%s."),
    count_of(n, "person", "people"), format_share(at$number),
    if (at$by_parallel) " (by parallel analysis)" else "", format_share(at$factors_found),
    format_unit(at$loading_error), omega)
  }, "")
}

# The measures of one size, by name; `number`: how often the number of factors is right, by parallel
# analysis where the probabilities do not apply.
plan_at <- function(measures, n) {
  own <- measures[measures$people == n, ]
  at <- as.list(stats::setNames(own$value, own$measure))
  at$by_parallel <- is.na(at$right_number)
  at$number <- if (at$by_parallel) at$right_parallel else at$right_number
  at
}

#' @exportS3Method tibble::as_tibble
as_tibble.study_plan <- function(x, ...) x$values$measures

#' @export
glance.study_plan <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble_of(items = nrow(v$design$loadings), factors = ncol(v$design$loadings),
    people = if (is.null(v$needed)) max(v$measures$people) else v$needed$people[1L],
    replicates = max(v$measures$samples), seed = x$settings$seed)
}

say_needed <- function(needed, tried) {
  n <- needed$people[1L]
  between <- if (!is.na(needed$lower[1L]) && !is.na(needed$upper[1L])) {
    sprintf(" (by two Monte Carlo errors: more than %s, at most %s)",
      format_count(needed$lower[1L]), format_count(needed$upper[1L]))
  } else if (n == min(tried)) {
    " at most; fewer were not tried"
  } else {
    ""
  }
  c(sprintf("%s are needed%s.", capitalise(count_of(n, "person", "people")), between),
    sprintf("%s: %s asked for, %s reached%s.", capitalise(needed$label),
      format_number(needed$wish, 3L), format_number(needed$value, 3L),
      ifelse(needed$binds, "; with fewer people this fails", "")))
}
