# Which rules a sifting looks at: chosen, changed, put in order, checked against each other.

#' The rules of sifting
#'
#' Which rules [sift_items()] looks at, in which order, and with which limits. `sift_rule()` makes a
#' rule of one's own.
#'
#' @param ... Rules by name: a number is the rule's limit, `FALSE` disables it, `TRUE` leaves it as
#'   it is; numbers with names (`limit`, and a parameter) give more: `cross_loading = c(limit = .25,
#'   from = .35)`. The rules are listed below.
#' @param order Names of rules that come first, in this order; the others follow in theirs.
#' @param least_items,least_per_factor How many items must stay in all, and on each factor (those
#'   that load on it most, by .30 or more; 0: not held).
#' @param most_omega_loss An item stays when without it the omega of its own factor's items, or the
#'   lowest omega of all, would fall by more than this (from 0 to 1; 1: not held).
#' @param by_limits Does an item break a rule only when its measure lies beyond the limit by 1.645
#'   standard errors, where these are known? `FALSE`: the measure alone counts.
#' @param least_per_facet How many items of each facet must stay (the codebook's column `facet`), or
#'   `NULL`.
#' @param also Rules of one's own, a list of what `sift_rule()` returned.
#' @param name,label What a rule is called, and what its measure is.
#' @param measure A function of the state of a pass: a number for each item, `NA` where the rule is
#'   not about it. The state is a list of `items` (names), `correlations` (p x p), `adequacy` (list:
#'   `overall`, `items`), `communalities` (p), `loadings` (p x k), `home` (p, which factor), `gains`
#'   (p, of omega without the item), `table` (tibble of the items: wording, mean, sd, ...).
#' @param limit The limit that the measure is compared with.
#' @param breaks On which side of it an item breaks the rule: `"below"` or `"above"`.
#' @return `sift_rules()`: an object of class `sift_rules` ([softsieve-result]); `values$table` is a
#'   tibble, one row for each rule in the order they are looked at: `rule`, `label`, `breaks`,
#'   `limit` (`NA`: .50 for components, .20 for factors), `on`. `sift_rule()`: a list.
#' @section Errors: `softsieve_error_rules` (no such rule, rules that contradict each other),
#'   `softsieve_error_argument`.
#' @section Limits of measures: Where the sampling errors of the correlations are known (the answers
#'   are at hand, or a matrix of Pearson correlations), an item breaks the rules of communality,
#'   loading and cross-loading only when its measure lies beyond the limit by 1.645 standard errors.
#'   The limits are those of the marks of [pattern_table()]: whatever a rule takes out, the pattern
#'   marks.
#' @eval describe_sift_rules()
#' @eval describe_sift_accuracy()
#' @eval describe_papers("Kaiser & Rice (1974)", "Howard (2016)")
#' @family sifting
#' @examples
#' sift_rules(communality = 0.2, reliability = FALSE, order = "loading")
#' # a rule of one's own: nobody's answers should be nearly all alike
#' spread <- sift_rule("spread", "standard deviation", function(state) state$table$sd, 0.7)
#' sift_rules(also = list(spread))
#' @export
sift_rules <- function(..., order = NULL, least_items = 3L, least_per_factor = 3L,
    most_omega_loss = cutoff("omega_loss"), by_limits = TRUE, least_per_facet = NULL,
    also = list()) {
  given <- settle_arguments(RULES_TAKE)
  known <- c(SIFTING_RULES, own_rules(also))
  asked <- list(...)
  order <- given$order
  check_rule_names(c(names(asked), order), asked, names(known))
  used <- lapply(known, function(one) settle_rule(one, asked[[one$name]]))
  used <- used[c(order, setdiff(names(used), order))]
  rules <- new_result("sift_rules",
    list(
      table = tibble_of(rule = names(used),
        label = unname(vapply(used, `[[`, "", "label")),
        breaks = unname(vapply(used, `[[`, "", "breaks")),
        limit = unname(vapply(used, function(one) {
          if (is.function(one$limit)) NA_real_ else as.numeric(one$limit)
        }, 0)),
        on = unname(vapply(used, `[[`, NA, "on"))),
      rule_specs = used),
    given, no_findings(), NULL, match.call())
  check_rules_agree(rules, order)
  rules
}

RULES_TAKE <- list(
  order = a_text("Rules that are looked at first, in this order", function() names(SIFTING_RULES),
    several = TRUE),
  least_items = a_whole("So many items must stay", 3),
  least_per_factor = a_whole("So many items must stay on each factor", 0),
  most_omega_loss = a_number(
    "An item stays when a scale's omega would fall by more than this without it", 0, 1),
  by_limits = a_flag("An item breaks a rule only when its limits, too, lie beyond the rule's"),
  least_per_facet = a_whole("So many items of each facet must stay", 1))

#' @rdname sift_rules
#' @export
sift_rule <- function(name, label, measure, limit, breaks = c("below", "above")) {
  check_text(name, "name")
  check_text(label, "label")
  check_number(limit, "limit", -1e6, 1e6)
  breaks <- check_choice(breaks, "breaks", c("below", "above"))
  if (!is.function(measure)) {
    stop_input("argument", "`measure` must be a function of the state of a pass.",
      got = describe_value(measure), todo = "For example function(state) state$table$sd.")
  }
  c(list(name = name), spec(label = label, stage = "scales", limit = limit, lowest = -1e6,
    highest = 1e6, breaks = breaks, measure = function(state, asked) measured_by(measure, state),
    parameters = list(), digits = 2L))
}

measured_by <- function(measure, state) {
  value <- theirs(measure, "measure")(state)
  numbers <- is.numeric(value) || is.logical(value)
  if (numbers && length(value) == length(state$items)) return(value)
  stop_input("argument", "`measure` must give one number for each item of the state.",
    got = c(describe_value(value), paste("The state has", count_of(length(state$items), "item."))),
    todo = "For example function(state) state$table$sd.")
}

own_rules <- function(also) {
  good <- is.list(also) && all(vapply(also,
    function(one) is.list(one) && is.function(one[["measure"]]), NA))
  if (!good) {
    stop_input("argument", "`also` must be a list of what sift_rule() returned.",
      got = describe_value(also))
  }
  names(also) <- vapply(also, `[[`, "", "name")
  twice <- intersect(names(also), c(names(SIFTING_RULES), names(also)[duplicated(names(also))]))
  if (!length(twice)) return(also)
  stop_input("rules", "Every rule must have a name of its own.",
    got = sprintf("Taken: %s.", name_culprits(twice)))
}

check_rule_names <- function(wanted, asked, known) {
  unnamed <- length(asked) && (is.null(names(asked)) || !all(nzchar(names(asked))))
  strange <- if (unnamed) "a rule without a name" else setdiff(wanted, known)
  if (!length(strange)) return(invisible())
  stop_input("rules", "Rules must be called by their names.",
    got = sprintf("Not known: %s.", name_culprits(strange)),
    todo = c(hint_nearest(strange[1L], known),
      sprintf("Rules: %s.", paste(known, collapse = ", "))))
}

# A rule as it was asked for: whether it is `on`, its limit, its parameters.
settle_rule <- function(one, asked) {
  one$on <- !isFALSE(asked)
  given <- if (is.numeric(asked)) as.list(asked) else list()
  if (length(given) == 1L && is.null(names(given))) names(given) <- "limit"
  if (!is.null(asked) && !is.numeric(asked) && !checkmate::test_flag(asked)) {
    stop_input("argument",
      sprintf("`%s` must be a number, numbers with names, TRUE or FALSE.", one$name),
      got = describe_value(asked))
  }
  whose <- sprintf("The rule \"%s\"", one$name)
  own <- c(list(limit = parameter("number", "its limit", one$lowest, one$highest)), one$parameters)
  settled <- settle_asked(own, whose, given, function(wrong) hint_nearest(wrong, names(own)))
  if (!is.null(settled$limit)) one$limit <- settled$limit
  one$asked <- settled[setdiff(names(own), "limit")]
  one
}

# Rules that cannot be held together.
check_rules_agree <- function(rules, order) {
  t <- rules$values$table
  s <- rules$settings
  off <- intersect(order, t$rule[!t$on])
  small <- t$limit[t$rule == "small_factor"]
  clash <- c(if (length(off)) sprintf("%s: disabled, and put first.", name_culprits(off)),
    if (anyDuplicated(order)) sprintf("%s: twice in `order`.", order[duplicated(order)][1L]),
    if (s$least_per_factor > 0L && t$on[t$rule == "small_factor"] && small > s$least_per_factor) {
      sprintf("small_factor (fewer than %s items go) and least_per_factor (%d stay).",
        format(small), s$least_per_factor)
    },
    if (!any(t$on)) "All rules are disabled.")
  if (!length(clash)) return(invisible())
  stop_input("rules", "Rules must not contradict each other.", got = clash)
}

#' @exportS3Method tibble::as_tibble
as_tibble.sift_rules <- function(x, ...) x$values$table

#' @export
glance.sift_rules <- function(x, ...) {
  check_dots_empty(...)
  tibble_of(rules = nrow(x$values$table), on = sum(x$values$table$on),
    least_items = x$settings$least_items)
}

# For the help page.
describe_sift_rules <- function() {
  each <- vapply(SIFTING_RULES, function(one) {
    limit <- if (is.function(one$limit)) {
      ".50 for components, .20 for factors"
    } else {
      format(one$limit)
    }
    more <- vapply(names(one$parameters), function(name) {
      p <- one$parameters[[name]]
      sprintf("; `%s` (%s): %s", name, format(p$default), p$description)
    }, "")
    sprintf("* `%s`: %s %s the limit (%s)%s.", one$name, one$label, one$breaks, limit,
      paste(more, collapse = ""))
  }, "")
  paste(
    c("@section Rules: In this order people work; an item breaks a rule when its", "", each),
    collapse = "\n")
}

# How often the default takes out what, as measured (bench/sift-accuracy.R).
describe_sift_accuracy <- function() {
  file <- system.file("retention", "accuracy-sifting.csv", package = "softsieve")
  measured <- if (nzchar(file)) utils::read.csv(file) else NULL
  if (is.null(measured)) return("")
  rows <- sprintf("%s \\tab %d \\tab %d \\tab %s \\tab %s \\tab %s \\cr",
    gsub("_", " ", measured$make), measured$n, measured$questionnaires, measured$sound_out,
    measured$none_out, measured$crossing_out)
  c("@section How often it errs: Per cent of sound items (a loading of .50 or more on one factor,",
    "below .20 elsewhere), of items without a loading, and of clear cross-loadings (second loading",
    "at least .75 of the first, both above .35) that the default takes out, on made-up",
    "questionnaires. Cross-loadings of small scales are missed most with 200 people.",
    "\\tabular{lrrrrr}{",
    "make \\tab people \\tab questionnaires \\tab sound \\tab no loading \\tab cross-loading \\cr",
    rows, "}")
}

# The rules of sifting. An entry has a label, its paper and
#
#   stage      what it looks at: "correlations", "factors", "rotation" or "scales"
#   limit      what it holds a measure against; a function(components) where that depends on
#              the model
#   lowest, highest  what the limit may be
#   breaks     "below" or "above": on which side of the limit an item breaks the rule
#   measure    function(state, asked): a number for each item, NA where the rule is not about it
#              (sift-state.R says what a state holds; `asked` are the parameters)
#   parameters what else it can be asked (base-families.R)
#   error      function(state): standard errors of the measure, or NULL where there are none
#   digits     with how many decimals the measure is shown

SIFTING_RULES <- family(
  adequacy = spec(label = "sampling adequacy", reference = "Kaiser & Rice (1974)",
    stage = "correlations", limit = cutoff("adequacy_least"), lowest = 0, highest = 1,
    breaks = "below", measure = function(state, asked) state$adequacy$items, parameters = list(),
    digits = 2L),
  communality = spec(label = "communality", reference = "Child (2006)", stage = "factors",
    limit = function(components) if (components) 0.50 else cutoff("low_communality"),
    error = function(state) state$errors$communality, lowest = 0, highest = 1, breaks = "below",
    measure = function(state, asked) state$communalities, parameters = list(), digits = 2L),
  loading = spec(label = "largest loading", reference = NA_character_, stage = "rotation",
    limit = cutoff("salient_loading"), error = function(state) state$errors$first, lowest = 0,
    highest = 1, breaks = "below",
    measure = function(state, asked) two_largest_sizes(state$loadings)$first,
    parameters = list(), digits = 2L),
  cross_loading = spec(label = "second loading of an item that crosses",
    reference = "Howard (2016)",
    stage = "rotation", limit = cutoff("second_loading"),
    error = function(state) state$errors$second, lowest = 0, highest = 1, breaks = "above",
    measure = function(state, asked) {
      if (ncol(state$loadings) < 2L) return(rep(NA_real_, nrow(state$loadings)))
      size <- two_largest_sizes(state$loadings)
      crosses <- size$second >= asked$from | size$first - size$second < asked$within
      ifelse(crosses, size$second, NA_real_)
    },
    parameters = list(
      from = parameter("number", "second loadings from here on cross", 0, 1,
        cutoff("salient_loading")),
      within = parameter("number", "so do those within this of the first", 0, 1,
        cutoff("cross_loading_distance"))),
    digits = 2L),
  small_factor = spec(label = "items of its factor", reference = NA_character_, stage = "rotation",
    limit = 3, lowest = 1, highest = 100, breaks = "below",
    measure = function(state, asked) as.numeric(table(state$home)[as.character(state$home)]),
    parameters = list(), digits = 0L),
  reliability = spec(label = "gain of its scale's omega without it", reference = "McDonald (1999)",
    stage = "scales", limit = cutoff("high_alpha_gain"), lowest = 0, highest = 1, breaks = "above",
    measure = function(state, asked) state$gains, parameters = list(), digits = 3L))
