#' Each item at a glance
#'
#' How each item was answered, and what is worth a look before items are correlated: items that do
#' not tell people apart, sparse or unused answers, floors and ceilings, and answers whose distances
#' should not be taken as equal. Nothing is removed. With weights, means and shares are weighted.
#'
#' @param x A [questionnaire()], a data frame of answers, or counts of answers ([tabulate_items()]:
#'   of items of many values these tell mean, standard deviation and skewness only).
#' @param by Group columns, bare or in quotes, for example `cafe`: one profile for each group.
#' @return An object of class `item_profile` ([softsieve-result]); `values` holds `items` (tibble,
#'   one row for each item (and group): `item`, `wording`, `reversed`, `answered`, `missing`,
#'   `missing_share`, `mean`, `sd`, `skewness`, `excess_kurtosis`, `categories`, `floor_share` and
#'   `ceiling_share` (share at the lowest and highest answer of the scale), `largest_share` (of any
#'   one answer), `flags`) and `counts` (tibble: `item`, `answer`, `people`, `share` of those who
#'   answered; items with more than 16 different answers are left out of it) and `bins` (of these:
#'   `item`, `from`, `to`, `share` of those who answered, in ten bins of equal width). Reversed
#'   items are keyed.
#' @section Errors: `softsieve_error_class`, `softsieve_error_groups`.
#' @section Findings: `out_of_range` (from the questionnaire), `no_variance`, `one_answer`,
#'   `sparse_category`, `unused_category`, `floor`, `ceiling`, `not_interval`, `mean_far_off`,
#'   `small_group`; cut-offs are in [catalogue_table()].
#' @section Formulas:
#' With \eqn{m_k} the mean k-th power of the deviations from the mean: skewness
#' \deqn{m_3 / m_2^{1.5}}{m3 / m2^1.5}
#' and excess kurtosis
#' \deqn{m_4 / m_2^2 - 3}{m4 / m2^2 - 3}
#' The standard deviation divides by n - 1.
#' @eval describe_papers("West, Finch & Curran (1995)",
#'   "Rhemtulla, Brosseau-Liard & Savalei (2012)")
#' @family profiles
#' @examples
#' motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
#' profile_items(motives)
#' profile_items(motives, by = cafe)
#' @export
profile_items <- function(x, by = NULL) {
  by <- rlang::enquo(by)
  if (is_item_tables(x)) {
    by <- counted_group(by, x)
    shares <- if (is.null(by)) list(x) else x$values$groups
    parts <- Map(
      function(one, name) profile_part(x, answers_counted(one), if (is.null(by)) NULL else name),
      shares, if (is.null(by)) "" else names(shares))
    groups <- list(findings = NULL)
  } else {
    x <- as_questionnaire(x)
    by <- settle_by(by, x)
    groups <- split_people(x, by)
    parts <- Map(function(rows, name) {
      profile_part(x, answers_by_item(x, rows), if (is.null(by)) NULL else name)
    }, groups$rows, names(groups$rows))
  }
  items <- do.call(rbind, lapply(unname(parts), `[[`, "items"))
  counts <- do.call(rbind, lapply(unname(parts), `[[`, "counts"))
  flagged <- flag_items(items, counts, x$values$items, x$source$measured)
  # treated as missing when the answers came in
  outside <- x$findings[x$findings$code %in% c("out_of_range", "unfit_answers"), ]
  hit <- flagged$items$item %in% outside$item
  flagged$items$flags[hit] <- sub("^, ", "",
    paste(flagged$items$flags[hit], "out_of_range", sep = ", "))
  values <- list(items = flagged$items, counts = counts,
    bins = do.call(rbind, lapply(unname(parts), `[[`, "bins")))
  new_result("item_profile", values,
    list(by = by, weighted = if (is_item_tables(x)) {
      length(x$settings$weight) > 0
    } else {
      !is.null(x$values$weights)
    }, labels = shared_labels(x$values$items$labels)),
    bind_findings(groups$findings, outside, flagged$findings),
    x$source, match.call())
}

#' @exportS3Method tibble::as_tibble
as_tibble.item_profile <- function(x, ...) x$values$items

# What the answers are called, when all items call them alike.
shared_labels <- function(labels) if (length(unique(labels)) == 1L) labels[[1L]]

# Anything that answers can be taken from, as a questionnaire.
as_questionnaire <- function(x) {
  if (is_questionnaire(x)) return(x)
  if (is.data.frame(x)) return(questionnaire(x))
  stop_input("class", "`x` must be a questionnaire or a data frame of answers.",
    got = describe_value(x), todo = "Start with questionnaire(data, codebook = ...).")
}

# Each item's different answers and how many gave them (or what weight of them); how many answered
# it, of how many people; and which items have more than 16.
answers_by_item <- function(x, rows) {
  answers <- x$values$answers[rows, , drop = FALSE]
  weights <- scaled_weights(x)[rows]
  if (!length(weights)) weights <- NULL
  tables <- cpp_categories(answers, weights, 1L)
  plain <- vapply(tables$values, is.null, NA)
  for (i in which(plain)) { # more than 16 different answers: their own table
    seen <- !is.na(answers[, i])
    w <- if (is.null(weights)) rep(1, sum(seen)) else weights[seen]
    sums <- rowsum(w, answers[seen, i])
    tables$values[[i]] <- as.numeric(rownames(sums))
    tables$counts[[i]] <- as.numeric(sums)
  }
  c(tables, list(plain = plain, answered = colSums(!is.na(answers)), people = nrow(answers)))
}

# The same of counts. Items of which only sums were kept have no answers here, but moments.
answers_counted <- function(x) {
  counted <- core_scaled_counts(counted_of(x))
  own <- core_own_counts(counted$values, counted$cells)
  plain <- vapply(counted$values, is.null, NA, USE.NAMES = FALSE)
  kept <- lapply(own, function(n) n > 0)
  moments <- if (any(plain)) core_sums_moments(counted)
  list(
    values = unname(Map(function(v, keep) as.numeric(v[keep]), counted$values, kept)),
    counts = Map(function(n, keep) n[keep], own, kept), plain = plain,
    answered = if (is.null(counted$sums)) vapply(own, sum, 0) else diag(counted$sums[, , 1L]),
    people = counted$people[["people"]],
    moments = if (any(plain)) cbind(moments$means, moments$sds, moments$skewness))
}

counted_group <- function(by, x) {
  said <- if (!rlang::quo_is_null(by)) rlang::as_name(rlang::quo_get_expr(by))
  if (is.null(said) || (identical(said, x$settings$group) && length(x$values$groups))) return(said)
  stop_by(sprintf("%s came.", said), x$settings$group)
}

profile_part <- function(x, tables, name) {
  about <- x$values$items
  plain <- tables$plain
  moments <- t(mapply(core_item_moments, tables$values, tables$counts))
  if (!is.null(tables$moments)) moments[plain, 1:3] <- tables$moments[plain, ]
  # (people of weight 0 may be all that answered)
  share_of <- function(part, counts) if (sum(counts) > 0) part / sum(counts) else NA_real_
  at_end <- function(end, i) {
    if (is.na(end)) end <- NaN
    share_of(sum(tables$counts[[i]][tables$values[[i]] == end]), tables$counts[[i]])
  }
  p <- nrow(about)
  lowest <- ifelse(is.na(about$lowest), vapply(tables$values, function(v) c(v, NA)[1L], 0),
    about$lowest)
  highest <- ifelse(is.na(about$highest),
    vapply(tables$values, function(v) utils::tail(c(NA, v), 1L), 0), about$highest)
  answered <- unname(tables$answered)
  items <- tibble::tibble(item = about$item, wording = about$wording, reversed = about$reversed,
    answered = as.integer(answered),
    missing = as.integer(tables$people - answered),
    missing_share = 1 - answered / tables$people,
    tibble::as_tibble(moments),
    categories = ifelse(lengths(tables$values), lengths(tables$values), NA_integer_),
    floor_share = vapply(seq_len(p), function(i) at_end(lowest[i], i), 0),
    ceiling_share = vapply(seq_len(p), function(i) at_end(highest[i], i), 0),
    largest_share = vapply(tables$counts, function(w) share_of(max(w, 0), w), 0))
  few <- which(!plain)
  counts <- tibble_of(item = rep(about$item[few], lengths(tables$values[few])),
    answer = c(numeric(), unlist(tables$values[few])),
    people = c(numeric(), unlist(tables$counts[few])))
  counts$share <- counts$people /
    unlist(lapply(tables$counts[few], function(w) rep(sum(w), length(w))))
  many <- plain & lengths(tables$values) > 0
  bins <- bins_of(about$item[many], tables$values[many], tables$counts[many])
  if (!is.null(name)) {
    items <- tibble::add_column(items, group = name, .before = 1L)
    counts <- tibble::add_column(counts, group = name, .before = 1L)
    bins <- tibble::add_column(bins, group = rep(name, nrow(bins)), .before = 1L)
  }
  list(items = items, counts = counts, bins = bins)
}

# Ten bins from the lowest to the highest answer of each item.
bins_of <- function(items, values, counts, number = 10L) {
  rows <- Map(function(item, v, w) {
    width <- max(diff(range(v)), 1e-9) / number
    bin <- pmin(floor((v - v[1L]) / width), number - 1L)
    share <- vapply(seq_len(number) - 1L, function(b) sum(w[bin == b]), 0) / sum(w)
    tibble_of(item = item, from = v[1L] + width * (seq_len(number) - 1L),
      to = v[1L] + width * seq_len(number), share = share)
  }, items, values, counts)
  none <- tibble_of(item = character(), from = numeric(), to = numeric(), share = numeric())
  do.call(rbind, c(list(none), unname(rows)))
}

#' @export
glance.item_profile <- function(x, ...) {
  check_dots_empty(...)
  i <- x$values$items
  tibble_of(items = length(unique(i$item)), flagged = sum(nzchar(i$flags)),
    most_missing = max(i$missing_share), largest_skewness = max(abs(i$skewness), na.rm = TRUE))
}

# What makes an item worth a look: a table of rules by their finding's code
# (inst/catalogue/findings.yml), each a test on the item's profile and what its sentence says beside
# the item.

# `i` is the profile, `used` the smallest count over the scale's answers (`all`: 0 is an answer that
# nobody gave; `given`: of those that somebody gave), `place` where the mean lies on the scale, from
# 0 to 1.
item_flag <- function(hit, said = function(i) list()) list(hit = hit, said = said)

ITEM_FLAGS <- list(no_variance = item_flag(function(i, used, place) i$largest_share == 1),
  one_answer = item_flag(
    function(i, used, place) i$largest_share >= cutoff("one_answer") & i$largest_share < 1,
    function(i) list(format_share(i$largest_share))),
  unused_category = item_flag(function(i, used, place) used$all == 0),
  sparse_category = item_flag(function(i, used, place) used$given < cutoff("sparse_people"),
    function(i) list(cutoff("sparse_people"))),
  floor = item_flag(function(i, used, place) {
    i$floor_share >= cutoff("end_share") & i$largest_share < cutoff("one_answer")
  }, function(i) list(format_share(i$floor_share))),
  ceiling = item_flag(function(i, used, place) {
    i$ceiling_share >= cutoff("end_share") & i$largest_share < cutoff("one_answer")
  }, function(i) list(format_share(i$ceiling_share))),
  not_interval = item_flag(function(i, used, place) {
    uneven <- i$categories < cutoff("interval_categories") |
      abs(i$skewness) > cutoff("interval_skewness") |
      i$excess_kurtosis > cutoff("interval_kurtosis")
    uneven & i$largest_share < 1
  }, function(i) {
    list(vapply(i$categories, count_of, "", one = "different answer"),
      format_number(i$skewness, 1L))
  }),
  mean_far_off = item_flag(
    function(i, used, place) place < cutoff("outer_fifth") | place > 1 - cutoff("outer_fifth"),
    function(i) list(format_number(i$mean))))

# The items with a column `flags` (codes, or empty), and a finding for each flag.
flag_items <- function(items, counts, about, measured = NULL) {
  at <- match(items$item, about$item)
  low <- about$lowest[at]
  high <- about$highest[at]
  place <- (items$mean - low) / (high - low)
  grouped <- "group" %in% names(items)
  used <- vapply(seq_len(nrow(items)), function(i) {
    none <- c(all = NA_real_, given = NA_real_)
    if (is.na(low[i]) || is.na(high[i]) || high[i] - low[i] > 15) return(none)
    mine <- counts[
      counts$item == items$item[i] & (if (grouped) counts$group == items$group[i] else TRUE),

    ]
    scale <- seq(low[i], high[i])
    # (answers of measurements are not counted)
    if (!nrow(mine) || !all(mine$answer %in% scale)) return(none)
    people <- ifelse(scale %in% mine$answer, mine$people[match(scale, mine$answer)], 0)
    c(all = min(people), given = min(people[people > 0], Inf))
  }, c(all = 0, given = 0))
  used <- as.data.frame(t(used))
  hits <- lapply(ITEM_FLAGS, function(rule) {
    hit <- rule$hit(items, used, place)
    !is.na(hit) & hit
  })
  # measurements have no ends, and no categories that somebody could have chosen
  of_answers <- setdiff(names(hits), c("no_variance", "one_answer"))
  hits[of_answers] <- lapply(hits[of_answers], `&`, !items$item %in% measured)
  items$flags <- vapply(seq_len(nrow(items)),
    function(i) paste(names(ITEM_FLAGS)[vapply(hits, `[`, NA, i)], collapse = ", "), "")
  found <- lapply(names(ITEM_FLAGS), function(code) {
    hit <- hits[[code]]
    if (!any(hit)) return(NULL)
    i <- items[hit, ]
    where <- if (grouped) paste0(i$group, ": ") else ""
    said <- c(list(code, where, i$item), ITEM_FLAGS[[code]]$said(i))
    do.call(new_finding, c(said, list(item = i$item, value = i$largest_share)))
  })
  list(items = items, findings = do.call(bind_findings, found))
}
