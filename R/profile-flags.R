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
flag_items <- function(items, counts, about) {
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
