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
