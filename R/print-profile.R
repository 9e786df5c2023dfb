# Prints of the profiles of items and of people.

#' @export
print.item_profile <- function(x, ...) {
  i <- x$values$items
  grouped <- "group" %in% names(i)
  flagged <- sum(nzchar(i$flags))
  verdict <- sprintf(
    "%s%s: %s flagged.",
    count_of(length(unique(i$item)), "item"),
    if (grouped) sprintf(" in %s", count_of(length(unique(i$group)), "group")) else "",
    if (flagged) format_count(flagged) else "none"
  )
  # all items of one profile; of several groups those flagged most
  shown <- if (grouped) utils::head(i[order(-lengths(strsplit(i$flags, ", "))), ], 12L) else i
  rest <- nrow(i) - nrow(shown)
  columns <- list(
    item = shown$item,
    missing = format_share(shown$missing_share, 1L),
    mean = format_number(shown$mean),
    sd = format_number(shown$sd),
    skewness = format_number(shown$skewness, 1L),
    kurtosis = format_number(shown$excess_kurtosis, 1L),
    floor = format_share(shown$floor_share),
    ceiling = format_share(shown$ceiling_share),
    wording = keyed_wording(shown$wording, shown$reversed)
  )
  right <- c(FALSE, rep(TRUE, 7L), FALSE)
  if (grouped) { # the groups' names take the place of one column
    columns$kurtosis <- NULL
    right <- right[-6L]
    columns <- c(list(group = shown$group), columns)
    right <- c(FALSE, right)
  }
  show_result(
    x,
    verdict,
    c(
      paste(
        "Kurtosis is in excess of a normal distribution's. Floor and ceiling: share at",
        "the lowest and the highest answer."
      ),
      if (x$settings$weighted) "Weighted."
    ),
    table_lines(columns, right),
    below = if (rest) sprintf("and %s more rows, in as_tibble()", format_count(rest)),
    next_step = paste(
      "profile_respondents() looks at the people; assess_factorability() at the items",
      "together."
    )
  )
}

#' @export
print.respondent_profile <- function(x, ...) {
  p <- x$values$people
  flagged <- p[nzchar(p$flags), ]
  order <- order(-lengths(strsplit(flagged$flags, ", ")), flagged$p)
  shown <- utils::head(flagged[order, ], 8L)
  who <- if (length(x$settings$id)) {
    as.character(shown[[x$settings$id]])
  } else {
    as.character(shown$row)
  }
  columns <- list(
    person = who,
    missing = format_count(shown$missing),
    run = format_count(shown$longest_run),
    "even-odd" = format_unit(shown$even_odd),
    distance = format_number(shown$distance, 1L),
    p = sub("^p = |^p ", "", format_p(shown$p)),
    contradictions = format_count(shown$contradictions),
    flags = shown$flags
  )
  rest <- nrow(flagged) - nrow(shown)
  show_result(
    x,
    sprintf(
      "%s: %s flagged, none removed.",
      count_of(nrow(p), "person", "people"),
      if (nrow(flagged)) format_count(nrow(flagged)) else "none"
    ),
    "One flag is no proof of careless answers: look for several together.",
    if (nrow(shown)) table_lines(columns, c(FALSE, rep(TRUE, 6L), FALSE)),
    below = if (rest > 0) sprintf("and %s with fewer flags", count_of(rest, "person", "people")),
    next_step = "plot() shows distances and runs; keep_people() keeps those you want, and says so."
  )
}
