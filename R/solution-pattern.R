#' Which items belong to which factor
#'
#' The pattern matrix as people read it: items sorted by the factor they load on most and by the
#' size of that loading, small loadings left blank, a word for what is wrong with an item, the
#' wording beside.
#'
#' @param solution A `factor_solution`.
#' @param hide_below Loadings smaller than this in size, from 0 to 1, are left blank in print (grey
#'   in Word). Nothing else depends on it: the table and files have them all.
#' @param sort `"factor"`: by the factor an item loads on most (those without a salient loading
#'   last), and by the size of that loading; `"size"`: by the size alone; `"communality"`: the
#'   highest first; `"questionnaire"`: in the questionnaire's order. Equal ones stay in the
#'   questionnaire's order.
#' @param structure Show the structure coefficients (correlations of items with factors) beside the
#'   pattern? They differ from the loadings where factors correlate.
#' @param weak_below An item whose loadings are all smaller in size is marked `weak`.
#' @param cross_loading_from,cross_loading_within An item that is not weak is marked `cross_loading`
#'   when its second largest loading reaches `cross_loading_from` in size, or is within
#'   `cross_loading_within` of the largest.
#' @param communality_below An item whose communality is smaller is marked `low`.
#' @param ... Nothing: what is mis-typed is refused.
#' @return An object of class `pattern_table` ([softsieve-result]); `values` holds
#'   * `table`: tibble, one row for each item: `item`, `factor` (the one it loads on most, `NA` when
#'     it is weak), a column for each factor, with `structure` one more for each (`structure_F1`,
#'     ...), `communality`, `uniqueness`, `complexity`, `marks` (their words, or `""`), `wording`,
#'     `reversed`;
#'   * `marks`: tibble, one row for each mark: `item`, `mark`, `value` (what breaks the limit),
#'     `limit`, `source`;
#'   * `loadings` and `structure`: all of them, p x k; `hidden`: how many loadings are blank in
#'     print; `factors`: their names.
#' @eval describe_marks()
#' @section Findings: `no_salient_loading`, `cross_loading_item`, `low_communality`,
#'   `against_wording`.
#' @eval describe_papers("Floyd & Widaman (1995)", "Howard (2016)", "Child (2006)")
#' @family factors
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' pattern_table(factor_solution(motives, seed = 1))
#' @concept cross-loading
#' @export
pattern_table <- function(solution, hide_below = cutoff("salient_loading"),
    sort = c("factor", "size", "communality", "questionnaire"), structure = FALSE,
    weak_below = cutoff("salient_loading"), cross_loading_from = cutoff("salient_loading"),
    cross_loading_within = cutoff("cross_loading_distance"),
    communality_below = cutoff("low_communality"), ...) {
  check_dots_empty(...)
  check_class(solution, "solution", "factor_solution", "extract_factors() or rotate_factors()")
  asked <- settle_arguments(PATTERN_TAKES)
  limits <- asked[c("weak_below", "cross_loading_from", "cross_loading_within",
    "communality_below")]
  loadings <- solution$values$loadings
  marks <- marks_of(solution, limits)
  values <- list(table = lay_out_pattern(solution, marks, weak_below, structure), marks = marks,
    loadings = loadings, structure = solution$values$structure,
    hidden = sum(abs(loadings) < hide_below), factors = colnames(loadings))
  values$table <- values$table[PATTERN_ORDERS[[asked$sort]](solution, weak_below), ]
  new_result("pattern_table", values, c(solution$settings, asked),
    find_in_marks(marks, solution, limits), solution$source, match.call())
}

PATTERN_TAKES <- list(hide_below = a_number("Smaller loadings are not shown", 0, 1),
  sort = a_text("In which order items stand", function() names(PATTERN_ORDERS)),
  structure = a_flag("Show the correlations of items with factors beside the loadings"),
  weak_below = a_number("An item whose loadings are all smaller is marked weak", 0, 1),
  cross_loading_from = a_number("An item whose second loading is as large is marked cross_loading",
    0, 1),
  cross_loading_within = a_number(
    "An item whose second loading is as near the first is marked cross_loading", 0, 1),
  communality_below = a_number("An item whose communality is smaller is marked low", 0, 1))

# In which order items stand.
PATTERN_ORDERS <- list(
  factor = function(solution, weak_below) {
    loadings <- solution$values$loadings
    home <- home_factor(loadings, weak_below)
    order(home, -largest_size(loadings), na.last = TRUE)
  },
  size = function(solution, weak_below) order(-largest_size(solution$values$loadings)),
  communality = function(solution, weak_below) {
    order(-round(solution$values$items$communality, EQUAL_TO))
  },
  questionnaire = function(solution, weak_below) seq_len(nrow(solution$values$items)))

largest_size <- function(loadings) round(apply(abs(loadings), 1L, max), EQUAL_TO)

# One row for each item, in the questionnaire's order.
lay_out_pattern <- function(solution, marks, weak_below, structure) {
  items <- solution$values$items
  loadings <- solution$values$loadings
  beside <- solution$values$structure
  colnames(beside) <- structure_columns(colnames(loadings))
  words <- vapply(items$item, function(one) paste(marks$mark[marks$item == one], collapse = ", "),
    "")
  tibble::as_tibble(c(
    list(item = items$item, factor = colnames(loadings)[home_factor(loadings, weak_below)]),
    columns_of(loadings), if (structure) columns_of(beside),
    items[c("communality", "uniqueness", "complexity")], list(marks = unname(words)),
    items[c("wording", "reversed")]))
}

structure_columns <- function(factors) paste0("structure_", factors)

# The columns of a matrix as a list of plain vectors, by their names.
columns_of <- function(x) {
  stats::setNames(lapply(seq_len(ncol(x)), function(j) unname(x[, j])), colnames(x))
}

# For the help page.
describe_marks <- function() {
  lines <- vapply(MARKS, function(one) {
    source <- if (is.na(one$reference)) "" else sprintf("; %s", one$reference)
    limits <- paste0("`", one$limits, "`", collapse = ", ")
    sprintf("* `%s`: %s (%s%s).", one$name, one$label, limits, source)
  }, "")
  rest <- paste(
    "Before a rotation, items are expected to load on several factors and with any sign: neither",
    "`cross_loading` nor `against` is marked.")
  paste(c("@section Marks:", lines, "", rest), collapse = "\n")
}

#' @exportS3Method tibble::as_tibble
as_tibble.pattern_table <- function(x, ...) x$values$table

#' @export
glance.pattern_table <- function(x, ...) {
  check_dots_empty(...)
  t <- x$values$table
  tibble_of(items = nrow(t), factors = length(x$values$factors),
    without_factor = sum(is.na(t$factor)), hidden = x$values$hidden)
}

#' @export
tidy.pattern_table <- function(x, ...) {
  check_dots_empty(...)
  l <- x$values$loadings[x$values$table$item, , drop = FALSE]
  tibble_of(item = rep(rownames(l), ncol(l)), factor = rep(colnames(l), each = nrow(l)),
    loading = as.numeric(l), hidden = as.logical(abs(l) < x$settings$hide_below))
}

#' @export
coef.pattern_table <- function(object, ...) {
  check_dots_empty(...)
  object$values$loadings
}

# Marks: what is wrong with an item, in a word. An entry has a label (what it means), its paper and
#
#   limits  which limits it takes, by their names among the arguments of pattern_table()
#   find    function(solution, limits): a named vector, for each item that has it the number that
#           breaks the limit
#   limit   function(solution, limits, items): the limit that each is compared with
#   rule    function(limits): when it is given, with these limits, for the line below the table
#   told    the code of its finding, and `words` function(solution, item, value, limits): a list of
#           what its sentence takes

# Numbers that are equal to so many decimals differ by rounding alone.
EQUAL_TO <- 9L

# The index of the factor an item loads on most, NA when no loading is salient.
home_factor <- function(loadings, salient) {
  size <- round(abs(loadings), EQUAL_TO)
  home <- max.col(size, ties.method = "first")
  home[size[cbind(seq_along(home), home)] < salient] <- NA
  home
}

# Items with salient loadings on two or more factors.
cross_loading_items <- function(loadings, salient) {
  rownames(loadings)[rowSums(abs(loadings) >= salient) > 1L]
}

# What all marks look at: the largest loading of each item, the second, and where they are.
largest_loadings <- function(solution) {
  size <- round(abs(solution$values$loadings), EQUAL_TO)
  home <- max.col(size, ties.method = "first")
  first <- size[cbind(seq_along(home), home)]
  size[cbind(seq_along(home), home)] <- -1
  second <- if (ncol(size) > 1L) apply(size, 1L, max) else rep(0, nrow(size))
  list(
    home = home,
    first = stats::setNames(first, rownames(size)),
    second = stats::setNames(second, rownames(size)),
    signed = stats::setNames(solution$values$loadings[cbind(seq_along(home), home)], rownames(size))
  )
}

# Before rotation items are expected to load on several factors, and with any sign.
is_read <- function(solution) {
  solution$settings$rotation != "none" || ncol(solution$values$loadings) == 1L
}

MARKS <- family(
  weak = spec(label = "no loading reaches the limit", reference = "Floyd & Widaman (1995)",
    limits = "weak_below",
    find = function(solution, limits) {
      first <- largest_loadings(solution)$first
      first[first < limits$weak_below]
    },
    limit = function(solution, limits, items) limits$weak_below,
    rule = function(limits) sprintf("no loading of %s or more", format_unit(limits$weak_below)),
    told = "no_salient_loading",
    words = function(solution, items, values, limits) list(items, format_unit(limits$weak_below))),
  cross_loading = spec(label = "a second loading reaches the limit, or is near the first",
    reference = "Howard (2016)", limits = c("weak_below", "cross_loading_from",
      "cross_loading_within"),
    find = function(solution, limits) {
      if (!is_read(solution) || ncol(solution$values$loadings) == 1L) return(numeric())
      at <- largest_loadings(solution)
      near <- at$first - at$second < limits$cross_loading_within
      at$second[at$first >= limits$weak_below & (at$second >= limits$cross_loading_from | near)]
    },
    limit = function(solution, limits, items) {
      first <- largest_loadings(solution)$first[items]
      unname(pmin(limits$cross_loading_from, first - limits$cross_loading_within))
    },
    rule = function(limits) {
      sprintf("a second loading of %s or more, or within %s of the first",
        format_unit(limits$cross_loading_from), format_unit(limits$cross_loading_within))
    },
    told = "cross_loading_item",
    words = function(solution, items, values, limits) list(items, format_unit(values))),
  low = spec(label = "low communality: the factors explain little of the item",
    reference = "Child (2006)", limits = "communality_below",
    find = function(solution, limits) {
      items <- solution$values$items
      common <- stats::setNames(items$communality, items$item)
      common[common < limits$communality_below]
    },
    limit = function(solution, limits, items) limits$communality_below,
    rule = function(limits) sprintf("communality below %s", format_unit(limits$communality_below)),
    told = "low_communality",
    words = function(solution, items, values, limits) list(items, format_share(values))),
  against = spec(
    label = "against its wording: as keyed, it runs against the other items of its factor",
    reference = NA_character_, limits = "weak_below",
    find = function(solution, limits) {
      if (!is_read(solution)) return(numeric())
      signed <- largest_loadings(solution)$signed
      signed[signed <= -limits$weak_below]
    },
    limit = function(solution, limits, items) -limits$weak_below,
    rule = function(limits) "loads negatively on its own factor: look at its wording and key",
    told = "against_wording",
    words = function(solution, items, values, limits) list(items, format_unit(values))))

# One row for each mark of each item: item, mark, value, limit, source.
marks_of <- function(solution, limits) {
  rows <- lapply(MARKS, function(mark) {
    found <- mark$find(solution, limits)
    # (measurements have no key, nor has who is in which category)
    keyless <- unlist(solution$source[c("measured", "made")])
    if (mark$name == "against") found <- found[!names(found) %in% keyless]
    source <- if (is.na(mark$reference)) "convention of this package" else mark$reference
    tibble::tibble(item = as.character(names(found)), mark = rep(mark$name, length(found)),
      value = unname(found),
      limit = rep_len(!!mark$limit(solution, limits, names(found)), length(found)),
      source = rep(source, length(found)))
  })
  stack_rows(rows)
}

find_in_marks <- function(marks, solution, limits) {
  found <- lapply(MARKS, function(mark) {
    own <- marks[marks$mark == mark$name, ]
    if (!nrow(own)) return(NULL)
    # an item without a salient loading has a low communality anyway
    if (mark$name == "low") {
      own <- own[!own$item %in% marks$item[marks$mark == "weak"], ]
      if (!nrow(own)) return(NULL)
    }
    do.call(new_finding,
      c(list(mark$told), mark$words(solution, own$item, own$value, limits),
        list(item = own$item, value = own$value, limit = own$limit)))
  })
  do.call(bind_findings, unname(found))
}
