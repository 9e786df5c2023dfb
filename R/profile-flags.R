# What makes an item worth a look: a table of rules, each a test on the item's profile and a
# sentence.

# `items` is the profile, `used` the smallest count over the scale's answers (0: an answer nobody
# gave), `place` where the mean lies on the scale, from 0 to 1.
ITEM_FLAGS <- list(
  list(
    code = "no_variance",
    severity = "serious",
    hit = function(i, used, place) i$largest_share == 1,
    text = function(i, used, place) {
      sprintf("%s has the same answer from all: it cannot be correlated", i$item)
    }
  ),
  list(
    code = "one_answer",
    severity = "caution",
    hit = function(i, used, place) i$largest_share >= cutoff("one_answer") & i$largest_share < 1,
    text = function(i, used, place) {
      sprintf(
        "%s has one answer from %s of the people: it hardly tells them apart",
        i$item,
        format_share(i$largest_share)
      )
    }
  ),
  list(
    code = "unused_category",
    severity = "note",
    hit = function(i, used, place) used == 0,
    text = function(i, used, place) sprintf("%s has an answer that nobody gave", i$item)
  ),
  list(
    code = "sparse_category",
    severity = "note",
    hit = function(i, used, place) used > 0 & used < cutoff("sparse_people"),
    text = function(i, used, place) {
      sprintf("%s has an answer that fewer than %d people gave", i$item, cutoff("sparse_people"))
    }
  ),
  list(
    code = "floor",
    severity = "caution",
    hit = function(i, used, place) {
      i$floor_share >= cutoff("end_share") & i$largest_share < cutoff("one_answer")
    },
    text = function(i, used, place) {
      sprintf(
        "%s has %s of its answers at the lowest there is (floor)",
        i$item,
        format_share(i$floor_share)
      )
    }
  ),
  list(
    code = "ceiling",
    severity = "caution",
    hit = function(i, used, place) {
      i$ceiling_share >= cutoff("end_share") & i$largest_share < cutoff("one_answer")
    },
    text = function(i, used, place) {
      sprintf(
        "%s has %s of its answers at the highest there is (ceiling)",
        i$item,
        format_share(i$ceiling_share)
      )
    }
  ),
  list(
    code = "not_interval",
    severity = "note",
    hit = function(i, used, place) {
      i$categories < cutoff("interval_categories") |
        abs(i$skewness) > cutoff("interval_skewness") |
        i$excess_kurtosis > cutoff("interval_kurtosis")
    },
    text = function(i, used, place) {
      sprintf(
        paste(
          "%s has %s, skewness %s: its distances should not be taken as equal; see kind =",
          "\"polychoric\""
        ),
        i$item,
        vapply(i$categories, count_of, "", one = "different answer"),
        format_number(i$skewness, 1L)
      )
    }
  ),
  list(
    code = "mean_far_off",
    severity = "note",
    hit = function(i, used, place) {
      place < cutoff("outer_fifth") | place > 1 - cutoff("outer_fifth")
    },
    text = function(i, used, place) {
      sprintf("%s has its mean (%s) near the end of the scale", i$item, format_number(i$mean))
    }
  )
)

# The items with a column `flags` (codes, or empty), and a finding for each flag.
flag_items <- function(items, counts, about) {
  at <- match(items$item, about$item)
  low <- about$lowest[at]
  high <- about$highest[at]
  place <- (items$mean - low) / (high - low)
  grouped <- "group" %in% names(items)
  used <- vapply(
    seq_len(nrow(items)),
    function(i) {
      if (is.na(low[i]) || is.na(high[i]) || high[i] - low[i] > 15) return(NA_real_)
      mine <- counts[
        counts$item == items$item[i] & (if (grouped) counts$group == items$group[i] else TRUE),

      ]
      scale <- seq(low[i], high[i])
      if (!all(mine$answer %in% scale)) return(NA_real_)
      min(ifelse(scale %in% mine$answer, mine$people[match(scale, mine$answer)], 0))
    },
    0
  )
  hits <- lapply(ITEM_FLAGS, function(rule) {
    hit <- rule$hit(items, used, place)
    !is.na(hit) & hit
  })
  codes <- vapply(ITEM_FLAGS, `[[`, "", "code")
  items$flags <- vapply(
    seq_len(nrow(items)),
    function(i) paste(codes[vapply(hits, `[`, NA, i)], collapse = ", "),
    ""
  )
  found <- Map(
    function(rule, hit) {
      if (!any(hit)) return(NULL)
      i <- items[hit, ]
      where <- if (grouped) paste0(i$group, ": ") else ""
      new_finding(
        "profile",
        rule$code,
        rule$severity,
        paste0(where, rule$text(i, used[hit], place[hit]), "."),
        item = i$item,
        value = i$largest_share
      )
    },
    ITEM_FLAGS,
    hits
  )
  list(items = items, findings = do.call(bind_findings, found))
}
