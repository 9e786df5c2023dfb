# The tables of retention-accuracy.R, from `found`: what was judged, make by make.

model <- core$retention_model()

# What the networks say of a set: probabilities, most probable number, range, or silence.
weigh <- function(features, n, items) {
  within <- function(x, limits) x >= limits[1L] && x <= limits[2L]
  if (is.null(features) || !all(is.finite(features)) || !within(n, model$limits$people) ||
    !within(items, model$limits$items)) {
    return(NULL)
  }
  core$tell_numbers(list(core$numbers_by_network(features, model, n, items, 0.95)), model)
}

# One row for each set: the truth, and what the verdict says.
verdicts <- function(make, which, of = found) {
  rows <- lapply(of[[make]], function(one) {
    t <- one$truth
    if (which == "latent" && is.null(one$latent)) return(NULL)
    features <- if (which == "latent") one$latent else one$features
    said <- weigh(features, one$n, t[["items"]])
    p <- said$probabilities$probability
    # where it is silent, parallel analysis stands alone
    number <- if (is.null(p)) one$rules[["parallel"]] else which.max(p) - 1L
    hides <- !is.null(p) && said$hidden >= model$hidden$limit
    range <- if (is.null(p)) c(NA, NA) else core$core_plausible_range(p, said$mass)
    if (hides) range[2L] <- max(range[2L], number + 1L)
    truth <- t[["factors"]]
    at <- seq_along(p) - 1L
    data.frame(make = make, t(t), number = number, said = if (is.null(p)) NA else max(p),
      brier = if (is.null(p)) NA else sum((p - (at == truth))^2) + !(truth %in% at),
      low = range[1L], high = range[2L], hides = hides)
  })
  do.call(rbind, rows)
}

accuracy <- function(number, truth) {
  number[is.na(number)] <- -99
  said <- number >= 0
  c(right = mean(number == truth), within_one = mean(abs(number - truth) <= 1),
    error = if (any(said)) mean((number - truth)[said]) else NA)
}

conditions <- function(d) {
  list(all = rep("all", nrow(d)),
    people = cut(d$people, c(0, 150, 300, 600, 1200, 5000, Inf), dig.lab = 6),
    factors = cut(d$factors, c(-1, 0, 1, 2, 3, 4, 6, 8, 13)),
    answers = cut(d$categories, c(-1, 0, 2, 4, 11), c("continuous", "2", "3-4", "5-11")),
    "the last factor's gain" = cut(d$gain, c(-1, 1.645, 5, 20, Inf),
      c("unseen", "1.6 to 5", "5 to 20", "more")),
    "closest factors" = cut(d$closest, c(-1, 0.1, 0.5, 0.8, 1)))
}

rows_of <- function(make) {
  d <- verdicts(make, "pearson")
  rules <- do.call(rbind, lapply(found[[make]], function(one) one$rules))
  columns <- c(list(verdict = d$number), as.list(as.data.frame(rules)))
  levels <- conditions(d)
  out <- lapply(names(levels), function(condition) {
    split <- split(seq_len(nrow(d)), levels[[condition]], drop = TRUE)
    lapply(names(split), function(level) {
      at <- split[[level]]
      each <- t(vapply(columns, function(x) accuracy(x[at], d$factors[at]), numeric(3L)))
      data.frame(make = make, condition = condition, level = level, sets = length(at),
        rule = names(columns), round(each, 4L))
    })
  })
  do.call(rbind, unlist(out, recursive = FALSE))
}

honesty_of <- function(make, which) {
  d <- verdicts(make, which)
  if (is.null(d) || !nrow(d)) return(NULL)
  spoken <- d[!is.na(d$said), ]
  right <- spoken$number == spoken$factors
  data.frame(make = make, seen = which, sets = nrow(d), silent = mean(is.na(d$said)),
    right = mean(right), said = mean(spoken$said), brier = mean(spoken$brier),
    holds = mean(spoken$low <= spoken$factors & spoken$factors <= spoken$high),
    width = mean(spoken$high - spoken$low + 1))
}

calibration_of <- function(make) {
  d <- verdicts(make, "pearson")
  d <- d[!is.na(d$said), ]
  bin <- cut(d$said, seq(0, 1, 0.1))
  data.frame(make = make, bin = levels(bin), sets = as.vector(table(bin)),
    said = round(as.vector(tapply(d$said, bin, mean)), 3L),
    right = round(as.vector(tapply(d$number == d$factors, bin, mean)), 3L))
}

# Cells of one or two conditions with enough sets: how far the verdict lies before the best of the
# fast rules, with the standard error of the paired difference; `behind` where that is more than a
# point and two of them.
LEAST_SETS <- 400L
cells_of <- function() {
  d <- do.call(rbind, lapply(names(all_found), verdicts, "pearson", all_found))
  rules <- do.call(rbind, lapply(unlist(all_found, FALSE), function(one) one$rules[FAST]))
  right <- cbind(verdict = d$number, rules) == d$factors
  right[is.na(right)] <- FALSE
  levels <- c(list(make = d$make, items = cut(d$items, c(5, 12, 20, 35, 150))),
    conditions(d)[c("people", "factors", "closest factors")])
  pairs <- c(as.list(seq_along(levels)), utils::combn(seq_along(levels), 2L, simplify = FALSE))
  rows <- lapply(pairs, function(at) {
    cells <- split(seq_len(nrow(d)), lapply(levels[at], factor), sep = " and ", drop = TRUE)
    cells <- cells[lengths(cells) >= LEAST_SETS]
    lapply(names(cells), function(cell) {
      one <- right[cells[[cell]], , drop = FALSE]
      best <- names(which.max(colMeans(one)[FAST]))
      more <- one[, "verdict"] - one[, best]
      error <- stats::sd(more) / sqrt(length(more))
      data.frame(condition = paste(names(levels)[at], collapse = " and "), cell = cell,
        sets = nrow(one), verdict = mean(one[, "verdict"]), best = best, right = mean(one[, best]),
        more = mean(more), error = error, behind = mean(more) < -0.01 - 2 * error)
    })
  })
  table <- do.call(rbind, unlist(rows, recursive = FALSE))
  number <- vapply(table, is.numeric, NA)
  table[number] <- lapply(table[number], round, 4L)
  table
}

names_found <- names(found)
table <- do.call(rbind, lapply(names_found, rows_of))
overall <- table[table$condition == "all", ]
print(xtabs(round(100 * right, 1) ~ rule + make, overall))
honesty <- do.call(rbind, c(lapply(names_found, honesty_of, "pearson"),
  lapply(names_found, honesty_of, "latent")))
honesty[-(1:3)] <- lapply(honesty[-(1:3)], round, 3L)
print(honesty)
calibration <- do.call(rbind, lapply(names_found, calibration_of))
print(calibration)
cells <- cells_of()
print(cells[cells$behind, ])
if (!is.na(file)) {
  beside <- function(name) sub("[.]csv([.]gz)?$", sprintf("-%s.csv", name), file)
  packed <- if (endsWith(file, ".gz")) gzfile(file) else file(file)
  utils::write.csv(table, packed, row.names = FALSE)
  utils::write.csv(honesty, beside("honesty"), row.names = FALSE)
  utils::write.csv(calibration, beside("calibration"), row.names = FALSE)
  utils::write.csv(cells, beside("cells"), row.names = FALSE)
}
