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
  # of sets whose last factor nobody could see one of three is taught, and counts: too many teach
  # only that there may always be more than meets the eye. That a factor may hide is said by a
  # network of its own (fit_hidden()), which all teach.
  unseen <- conditions$gain < GAIN_SEEN
  conditions$taught <- !unseen | (seq_len(nrow(conditions)) - 1L) %% 3L == 0L
  list(set = all[fine, 1L], j = all[fine, 2L], truth = all[fine, 3L], x = x[fine, ],
    conditions = conditions)
}

# Of each set: logits of its rows, how unlike it is, the share of its first eigenvalue, what the
# network of factors that hide sees of it, the truth, whether its last factor could be seen, and
# whether it was taught.
judge_sets <- function(s, nets, spread, model) {
  z <- core$core_held_features(s$x, model)
  far <- core$core_feature_distance(z, spread)
  said <- core$core_network_logits(z, nets)
  rows <- split(seq_along(said), s$set)
  at <- as.integer(names(rows)) + 1L
  logits <- lapply(rows, function(r) said[r])
  sight <- lapply(rows, function(r) core$core_sight_of_next(z[r, , drop = FALSE], said[r]))
  list(logits = logits,
    unlike = mapply(core$core_unlikeness, logits, lapply(rows, function(r) far[r])),
    first = vapply(rows, function(r) z[[r[1L], "first_share"]], 0), sight = do.call(rbind, sight),
    truth = vapply(rows, function(r) s$truth[r[1L]], 0), unseen = s$conditions$gain[at] < GAIN_SEEN,
    taught = s$conditions$taught[at], people = s$conditions$people[at],
    items = s$conditions$items[at])
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

# What of each make that is taught, one make after the other.
stack_judged <- function(judged) {
  part <- function(name) unlist(lapply(unname(judged), function(g) g[[name]][g$taught]), FALSE)
  parts <- c("logits", "unlike", "first", "truth", "people", "items")
  lapply(stats::setNames(nm = parts), part)
}

# By what the logits are multiplied, exp(a + b * unlikeness beyond its middle), so that what was
# said of makes left out was most likely; which unlikeness is too much; and what mass ranges must
# hold, by kind of set.
fit_honesty <- function(judged) {
  all <- stack_judged(judged)
  middle <- stats::median(all$unlike)
  limit <- stats::quantile(all$unlike, 0.98)
  temper_of <- function(par) list(level = par[1L], slope = par[2L], middle = middle)
  loss <- function(par) {
    temper <- temper_of(par)
    p <- mapply(function(l, u, t) core$core_temper(l, u, temper)[min(t + 1, length(l) + 1L)],
      all$logits, all$unlike, all$truth)
    -mean(log(pmax(p, 1e-6)))
  }
  best <- stats::optim(c(-0.1, -0.1), loss, control = list(maxit = 80))
  temper <- lapply(temper_of(best$par), round, 4L)
  mass <- mapply(function(l, u, t) mass_to_truth(core$core_temper(l, u, temper), t), all$logits,
    all$unlike, all$truth)
  asked <- c(0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 0.975, 0.99, 0.999)
  cuts <- list(people = 500, items = 24, first = round(stats::median(all$first), 3L))
  group <- core$core_coverage_group(all$people, all$items, all$first, cuts)
  held <- t(vapply(1:8, function(g) {
    stats::quantile(if (any(group == g)) mass[group == g] else mass, asked)
  }, asked))
  list(temper = temper, unlike = round(unname(limit), 4L),
    coverage = list(asked = asked, cuts = cuts, mass = round(unname(held), 5L)))
}

# Does a factor hide? A network sees what speaks for one factor more than the most probable number,
# and learns whether the last factor of a set could be seen. Each make is judged by one that has
# not seen it. The share of sets above the limit says so.
fit_hidden <- function(judged, settings) {
  train <- function(makes, seed) {
    x <- do.call(rbind, lapply(judged[makes], `[[`, "sight"))
    y <- as.numeric(unlist(lapply(judged[makes], `[[`, "unseen")))
    net <- train_network(x, y, 16L, 30L, 256L, settings$rate, 1e-5, seed)
    list(hidden = signif(net$hidden, 5L), output = signif(drop(net$output), 5L))
  }
  makes <- names(judged)
  left_out <- parallel::mclapply(makes, function(make) {
    net <- train(setdiff(makes, make), 7)
    stats::plogis(core$core_network_logits(judged[[make]]$sight, list(net)))
  }, mc.cores = parallel::detectCores())
  p <- unlist(left_out)
  unseen <- unlist(lapply(judged, `[[`, "unseen"))
  limits <- seq(0.02, 0.9, by = 0.02)
  # a fifth of the sets whose factors can all be seen are told, as the price of those that cannot
  told <- vapply(limits, function(l) mean(p[!unseen] >= l), 0)
  list(members = list(train(makes, 7)), limit = limits[told <= 0.2][1L],
    share = round(mean(unseen), 3L))
}

report_makes <- function(judged, fitted, hidden) {
  rows <- lapply(names(judged), function(make) {
    g <- judged[[make]]
    p <- Map(function(l, u) core$core_temper(l, u, fitted$temper), g$logits, g$unlike)
    mass <- mapply(function(n, items, first) {
      core$core_mass_for(0.95, fitted$coverage, n, items, first)
    }, g$people, g$items, g$first)
    tells <- stats::plogis(core$core_network_logits(g$sight, hidden$members)) >= hidden$limit
    found <- vapply(p, which.max, 0L) - 1L
    top <- vapply(p, max, 0)
    range <- mapply(core$core_plausible_range, p, mass)
    range[2L, ] <- pmax(range[2L, ], ifelse(tells, found + 1, 0))
    silent <- g$unlike > fitted$unlike
    ok <- !silent
    # what can be seen: one less where the last factor cannot
    seen <- g$truth - g$unseen
    share <- function(x) 100 * mean(x)
    data.frame(make = make, sets = length(p), right = share(found == g$truth),
      right_seen = share(found == seen), right_spoken = share((found == g$truth)[ok]),
      said = share(top[ok]), within_one = share(abs(found - g$truth) <= 1),
      error = mean(found - g$truth),
      holds = share((range[1L, ] <= g$truth & g$truth <= range[2L, ])[ok]),
      width = mean((range[2L, ] - range[1L, ] + 1)[ok]), silent = share(silent),
      unseen = share(g$unseen), unseen_told = share(tells[g$unseen]),
      seen_told = share(tells[!g$unseen]))
  })
  all <- do.call(rbind, rows)
  all[-1L] <- lapply(all[-1L], round, 2L)
  all
}
