# Reading sets, what networks say of them, and how honest it is. What the package does with a matrix
# is done here by the package's own functions.
core <- asNamespace("softsieve")

# What the last factor must gain to be seen: see last_gain() in make.h.
GAIN_SEEN <- 1.645

read_sets <- function(make, folder, with_items = FALSE) {
  files <- list.files(folder, sprintf("^%s-[0-9]+[.]rds$", make), full.names = TRUE)
  parts <- lapply(sort(files), readRDS)
  all <- do.call(rbind, lapply(parts, `[[`, "features"))
  conditions <- as.data.frame(do.call(rbind, lapply(parts, `[[`, "conditions")))
  x <- all[, -(1:3)]
  colnames(x) <- parts[[1L]]$names
  if (with_items) x <- cbind(x, log_items = log(conditions$items[all[, 1L] + 1] / 20))
  fine <- is.finite(rowSums(x))
  # of sets whose last factor nobody could see two of three are left out: they teach only that there
  # may always be more than meets the eye
  unseen <- conditions$gain[all[, 1L] + 1] < GAIN_SEEN & all[, 1L] %% 3 != 0
  if (!startsWith(make, "test_")) fine <- fine & !unseen
  list(set = all[fine, 1L], j = all[fine, 2L], truth = all[fine, 3L], x = x[fine, ],
    conditions = conditions)
}

# Of each set: logits and distances of its rows, and the truth.
judge_sets <- function(s, nets, spread, model) {
  z <- core$core_held_features(s$x, model)
  far <- core$core_feature_distance(z, spread)
  said <- core$core_network_logits(z, nets)
  rows <- split(seq_along(said), s$set)
  list(logits = lapply(rows, function(r) said[r]), far = lapply(rows, function(r) far[r]),
    truth = vapply(rows, function(r) s$truth[r[1L]], 0), at = as.integer(names(rows)) + 1L)
}

# mass that the plausible range must hold to reach the truth
mass_to_truth <- function(p, truth) {
  low <- high <- which.max(p)
  last <- length(p)
  at <- truth + 1
  if (at > last) return(1)
  inside <- p[low]
  before <- 0
  while (low > at || high < at) {
    left <- if (low > 1L) p[low - 1L] else -1
    right <- if (high < last) p[high + 1L] else -1
    before <- inside
    if (left > right) low <- low - 1L else high <- high + 1L
    inside <- sum(p[low:high])
  }
  before
}

# By what the logits are multiplied, exp(a + b * unlikeness beyond its middle), so that what was
# said of makes left out was most likely; which unlikeness is too much; and what mass ranges must
# hold.
fit_honesty <- function(judged) {
  l <- unlist(lapply(judged, `[[`, "logits"), recursive = FALSE)
  far <- unlist(lapply(judged, `[[`, "far"), recursive = FALSE)
  truth <- unlist(lapply(judged, `[[`, "truth"))
  u <- mapply(core$core_unlikeness, l, far)
  middle <- stats::median(u)
  limit <- stats::quantile(u, 0.98)
  loss <- function(par) {
    temper <- list(level = par[1L], slope = par[2L], middle = middle)
    p <- mapply(function(l, u, t) core$core_temper(l, u, temper)[min(t + 1, length(l) + 1L)], l, u,
      truth)
    -mean(log(pmax(p, 1e-6)))
  }
  best <- stats::optim(c(-0.1, -0.1), loss, control = list(maxit = 80))
  temper <- c(level = best$par[1L], slope = best$par[2L], middle = middle)
  temper <- as.list(round(temper, 4L))
  mass <- mapply(function(l, u, t) mass_to_truth(core$core_temper(l, u, temper), t), l, u, truth)
  asked <- c(0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.975, 0.99, 0.999)
  list(temper = temper, unlike = round(unname(limit), 4L),
    coverage = list(asked = asked, mass = round(unname(stats::quantile(mass, asked)), 5L)))
}

report_makes <- function(judged, fitted) {
  mass <- fitted$coverage$mass[fitted$coverage$asked == 0.95]
  rows <- lapply(names(judged), function(make) {
    g <- judged[[make]]
    u <- mapply(core$core_unlikeness, g$logits, g$far)
    p <- Map(function(l, u) core$core_temper(l, u, fitted$temper), g$logits, u)
    found <- vapply(p, which.max, 0L) - 1L
    top <- vapply(p, max, 0)
    range <- vapply(p, core$core_plausible_range, numeric(2L), mass)
    silent <- u > fitted$unlike
    ok <- !silent
    data.frame(make = make, sets = length(p), right = 100 * mean(found == g$truth),
      right_spoken = 100 * mean((found == g$truth)[ok]), said = 100 * mean(top[ok]),
      within_one = 100 * mean(abs(found - g$truth) <= 1), error = mean(found - g$truth),
      holds = 100 * mean((range[1L, ] <= g$truth & g$truth <= range[2L, ])[ok]),
      width = mean((range[2L, ] - range[1L, ] + 1)[ok]), silent = 100 * mean(silent))
  })
  all <- do.call(rbind, rows)
  all[-1L] <- lapply(all[-1L], round, 2L)
  all
}
