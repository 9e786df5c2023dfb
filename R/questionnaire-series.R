# Rows that follow each other: their order, what is taken out of them, and how far they depend on
# their neighbours. Where they do, blocks of rows take the place of rows in errors, tests and limits
# as clusters do.

# Times as numbers: numbers, days, times, and text that is days ("2026-11-30") or months
# ("2026-11").
times_of <- function(x, name) {
  if (inherits(x, "Date")) return(as.numeric(x))
  if (inherits(x, "POSIXt")) return(as.numeric(x) / 86400)
  if (is.numeric(x)) return(as.numeric(x))
  text <- trimws(as.character(x))
  text <- ifelse(grepl("^[0-9]{4}-[0-9]{2}$", text), paste0(text, "-01"), text)
  days <- tryCatch(as.numeric(as.Date(text, format = "%Y-%m-%d")), error = function(e) NA_real_)
  if (!anyNA(days[!is.na(x)])) return(days)
  stop_input("order", "`order` must be a column of numbers, days or times.",
    got = sprintf("%s holds text: %s.", name,
      name_culprits(sprintf("\"%s\"", unique(text[is.na(days)])), 3L)),
    todo = "Days are read as 2026-11-30, months as 2026-11.")
}

# The series that `order` makes of the rows of `people`: `time` and `site` of each row, and `rows`,
# the rows in their order. The last column is the time, those before it tell series apart.
series_of <- function(people, order) {
  if (!length(order)) return(NULL)
  last <- order[length(order)]
  time <- times_of(people[[last]], last)
  if (anyNA(time)) {
    stop_input("order", "Every row must have its place in the order.",
      got = sprintf("Missing: row %s.", name_culprits(which(is.na(time)))),
      todo = "Leave these rows out, or name another column.")
  }
  if (length(unique(time)) < 2L) {
    stop_input("order", "The order must tell rows apart.",
      got = sprintf("%s is the same for all.", last), todo = "Name another column.")
  }
  sites <- order[-length(order)]
  site <- if (length(sites)) {
    as.integer(factor(do.call(paste, c(lapply(people[sites], as.character), sep = "\r"))))
  } else {
    rep(1L, nrow(people))
  }
  list(time = time, site = site, rows = order(site, time))
}

REMOVABLE <- c("trend", "season")

# What `remove` and `period` ask for, with the year as the season of days.
settle_removed <- function(remove, period, people, order, measured, items) {
  if (is.null(remove)) return(NULL)
  remove <- check_words(remove, "remove")
  for (one in remove) check_choice(one, "remove", REMOVABLE)
  if (!is.null(period)) check_number(period, "period", 2, Inf)
  if (!length(order)) {
    stop_input("order", "Trend and season can only be removed from rows that have an order.",
      got = "`order` is missing.", todo = "Name the column of days or times as `order`.")
  }
  if (!all(items %in% measured)) {
    stop_input("order", "Trend and season can only be removed from measurements.",
      got = sprintf("Not measured: %s.", name_culprits(setdiff(items, measured))),
      todo = "Give measured = TRUE, if they are.")
  }
  if (!"season" %in% remove) return(list(trend = TRUE, period = NULL))
  period <- season_of(people[[order[length(order)]]], period)
  if (is.null(period)) {
    stop_input("order", "A season must have a length.", got = "The order is not of days.",
      todo = "Give it in units of the order: period = 12, for example.")
  }
  list(trend = "trend" %in% remove, period = period)
}

without_removed <- function(answers, series, removed) {
  if (is.null(removed)) return(answers)
  rows <- series$rows
  answers[rows, ] <- core_without_pattern(answers[rows, , drop = FALSE] + 0, series$time[rows],
    series$site[rows], removed$trend, removed$period)
  answers
}

DAYS_OF_A_YEAR <- 365.25
season_of <- function(column, period) {
  if (is.null(period) && !is.numeric(column)) DAYS_OF_A_YEAR else period
}

# Lags that autocorrelations are looked at to, of the shortest series' rows.
lags_of <- function(n) max(1L, min(n %/% 4L, as.integer(ceiling(10 * log10(n)))))

# How far the rows depend on their neighbours: `first` (mean autocorrelation of neighbours), `p`
# (least, times the number of columns), `effect` (core_series_effect()), and `block`, so many rows
# of which hardly depend on the next. NULL for fewer than 12 rows.
dependence_of <- function(answers, series) {
  x <- answers[series$rows, , drop = FALSE] + 0
  site <- series$site[series$rows]
  n <- nrow(x)
  shortest <- max(table(site))
  x <- x[, apply(x, 2L, function(v) isTRUE(stats::sd(v, na.rm = TRUE) > 0)), drop = FALSE]
  if (n < 12L || ncol(x) < 2L || shortest < 6L) return(NULL)
  r <- core_autocorrelations(x, site, min(lags_of(n), shortest - 1L))
  few <- seq_len(min(nrow(r), max(1L, min(10L, n %/% 5L))))
  p <- min(1, min(core_dependence(r[few, , drop = FALSE], n)) * ncol(x))
  effect <- core_series_effect(r, n)
  list(first = mean(r[1L, ]), p = p, effect = effect,
    block = max(2L, min(as.integer(ceiling(2 * effect)), n %/% 4L)))
}

# Blocks of neighbouring rows, as clusters; NULL where neighbours do not depend on each other.
row_blocks_of <- function(x) {
  series <- series_of(x$values$people, x$settings$order)
  if (is.null(series)) return(NULL)
  found <- dependence_of(x$values$answers, series)
  if (is.null(found) || found$p >= cutoff("dependence_p")) return(NULL)
  site <- series$site[series$rows]
  place <- stats::ave(seq_along(site), site, FUN = seq_along)
  block <- character(length(site))
  block[series$rows] <- sprintf("%d/%d", site, (place - 1L) %/% found$block)
  block
}

# How much more correlations of such series vary, 1 of rows that do not follow each other.
series_effect <- function(x) {
  series <- series_of(x$values$people, x$settings$order)
  found <- if (!is.null(series)) dependence_of(x$values$answers, series)
  if (is.null(found) || found$p >= cutoff("dependence_p")) 1 else found$effect
}

# What is told of an order: ties, gaps, dependence, trend and season; and of measurements without
# one whether neighbouring rows are alike.
find_in_series <- function(answers, people, order, measured, period) {
  series <- series_of(people, order)
  if (is.null(series)) {
    if (!length(measured)) return(NULL)
    rows <- list(rows = seq_len(nrow(answers)), site = rep(1L, nrow(answers)))
    found <- dependence_of(answers, rows)
    if (is.null(found) || found$p >= cutoff("dependence_p") || found$effect < 1.1) return(NULL)
    return(new_finding("rows_alike", format_unit(found$first), value = found$first))
  }
  found <- dependence_of(answers, series)
  n <- nrow(answers)
  patterns <- patterns_in(answers, people, order, series, period)
  bind_findings(find_places(series, order),
    if (!is.null(found) && found$p < cutoff("dependence_p")) {
      left <- format_count(floor(n / found$effect))
      new_finding("rows_depend", format_unit(found$first), count_of(n, "person", "people"), left,
        count_of(found$block, "row"), value = floor(n / found$effect), limit = n)
    },
    told_of(patterns$trend, "series_trend"), told_of(patterns$season, "series_season"))
}

told_of <- function(items, code) {
  if (length(items)) new_finding(code, name_culprits(items), value = length(items))
}

find_places <- function(series, order) {
  last <- order[length(order)]
  rows <- series$rows
  steps <- unlist(tapply(series$time[rows], series$site[rows], diff, simplify = FALSE))
  ties <- sum(steps == 0)
  usual <- stats::median(steps[steps > 0])
  gaps <- sum(steps > 1.5 * usual)
  bind_findings(if (ties) new_finding("order_ties", last, count_of(ties, "row"), value = ties),
    if (isTRUE(gaps > 0)) new_finding("order_gaps", last, count_of(gaps, "gap"), value = gaps))
}

# Names of the columns with a trend and with a season, each tested beside the dependence of
# neighbours (Bonferroni over columns).
patterns_in <- function(answers, people, order, series, period) {
  rows <- series$rows
  time <- series$time[rows]
  site <- series$site[rows]
  period <- season_of(people[[order[length(order)]]], period)
  # (a season takes two rounds to be seen)
  if (!is.null(period) && diff(range(time)) < 1.5 * period) period <- NULL
  pattern <- core_pattern(time, TRUE, period)
  limit <- cutoff("pattern_p") / ncol(answers)
  hit <- function(of) {
    p <- apply(answers[rows, , drop = FALSE] + 0, 2L, core_pattern_p, pattern, site, of)
    colnames(answers)[!is.na(p) & p < limit]
  }
  list(trend = hit(2L), season = if (!is.null(period)) hit(3:6))
}

# Why levels of shifted columns cannot be used with these rows, in words, or nothing.
why_not_shifted <- function(x) {
  series <- series_of(x$values$people, x$settings$order)
  if (is.null(series)) return("the rows have no order")
  found <- patterns_in(x$values$answers, x$values$people, x$settings$order, series,
    x$settings$period)
  said <- c(
    if (length(found$trend)) sprintf("a trend in %s", name_culprits(found$trend, 3L)),
    if (length(found$season)) sprintf("a season in %s", name_culprits(found$season, 3L)))
  if (length(said)) sprintf("there is %s", join_words(said))
}
