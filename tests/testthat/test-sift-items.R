# Sifting: each rule, the order, ties, pins, every end, going on, restoring, replaying.

# Correlations that a pattern implies exactly; items are named by their rows.
implied <- function(pattern, between = 0.2) {
  k <- ncol(pattern)
  p <- matrix(between, k, k)
  diag(p) <- 1
  r <- pattern %*% p %*% t(pattern)
  diag(r) <- 1
  dimnames(r) <- list(rownames(pattern), rownames(pattern))
  r
}
# Three factors of four good items; `more` adds rows to the pattern.
good_pattern <- function(more = NULL, first = FALSE) {
  good <- kronecker(diag(3), matrix(c(.8, .75, .7, .7), 4))
  rownames(good) <- sprintf("g%02d", 1:12)
  if (first) rbind(more, good) else rbind(good, more)
}
culprit <- function(name, ...) matrix(c(...), 1, 3, dimnames = list(name, NULL))
# Rules by measures alone, with other limits than the default's.
by_measure <- function(..., communality = 0.30, loading = 0.40) {
  own <- list(..., communality = communality, loading = loading, by_limits = FALSE,
    most_omega_loss = 1)
  if (is.null(own$least_per_factor)) own$least_per_factor <- 0
  do.call(sift_rules, own)
}
sift_of <- function(r, rules = by_measure(), ..., factors = 3) {
  sift_items(correlate_items(r, n = 500), rules, factors = factors, ..., seed = 1)
}
out_of <- function(x) {
  t <- as_tibble(x)
  t[t$step == "removed", ]
}

test_that("each rule, and only it, fires, on two different culprits", {
  loose <- list(communality = .1, loading = .3)
  cases <- list(communality = list(c(.5, 0, 0), list()),
    loading = list(c(.35, 0, 0), list(communality = .1, reliability = FALSE)),
    cross_loading = list(c(.6, .5, 0), list()), reliability = list(c(.42, 0, 0), loose))
  for (rule in names(cases)) {
    for (first in c(TRUE, FALSE)) {
      name <- if (first) "aa" else "zz"
      at <- cases[[rule]][[1]]
      if (!first) at <- at[c(2, 3, 1)]
      more <- do.call(culprit, c(list(name), as.list(at)))
      r <- implied(good_pattern(more, first))
      x <- sift_of(r, do.call(by_measure, cases[[rule]][[2]]))
      gone <- out_of(x)
      expect_identical(gone$item, name, label = rule)
      expect_identical(gone$rule, rule, label = rule)
      expect_identical(x$values$ended, "clean", label = rule)
      # without that rule nothing goes
      off <- do.call(by_measure, c(cases[[rule]][[2]], stats::setNames(list(FALSE), rule)))
      expect_identical(nrow(out_of(sift_of(r, off))), 0L, label = rule)
    }
  }
  # two items make a factor of their own
  two <- rbind(cbind(good_pattern(), 0), c(0, 0, 0, .8), c(0, 0, 0, .7))
  rownames(two)[13:14] <- c("y1", "y2")
  x <- sift_of(implied(two), factors = 4, passes = 1)
  expect_identical(out_of(x)[c("item", "rule", "value", "limit")],
    tibble::tibble(item = "y2", rule = "small_factor", value = 2, limit = 3))
  # an item that goes with one other and with what that has of its own
  for (name in c("aa", "zz")) {
    r <- diag(13)
    r[1:12, 1:12] <- implied(good_pattern())
    r[13, 2] <- r[2, 13] <- .3
    dimnames(r) <- list(c(sprintf("g%02d", 1:12), name), c(sprintf("g%02d", 1:12), name))
    if (name == "aa") r <- r[c(13, 1:12), c(13, 1:12)]
    x <- sift_of(r, by_measure(communality = 0, loading = 0))
    expect_identical(out_of(x)$item, name)
    expect_identical(out_of(x)$rule, "adequacy")
    expect_equal(out_of(x)$value,
      unname(softsieve:::core_sampling_adequacy(r)$items[match(name, rownames(r))]))
  }
})

test_that("numbers of a pass are those of the stages", {
  q <- motives()
  x <- sift_items(q, factors = 4, drop_first = c(o2 = "about travel"), passes = 0, seed = 1)
  row <- as_tibble(x)[2, ]
  part <- keep_items(q, -o2)
  whole <- assess_factorability(part)
  s <- factor_solution(part, 4, seed = 1, starts = 10)
  expect_equal(row$adequacy, whole$values$adequacy)
  expect_equal(row$sphericity, whole$values$sphericity$statistic)
  expect_equal(row$share, sum(s$values$variance$share), tolerance = 1e-7)
  expect_equal(row$rmsr, s$values$fit$rmsr, tolerance = 1e-5)
  trust <- assess_reliability(form_scales(s, weak = "highest", cross_loading = "highest"), part,
    replicates = 0, seed = 1)
  expect_equal(x$values$scales$omega, trust$values$scales$omega, tolerance = 1e-5)
  expect_equal(coef(x$values$solution), coef(factor_solution(part, 4, seed = 1)), tolerance = 1e-6)
  # the end is a solution like any other
  expect_s3_class(score_respondents(x$values$solution, part), "respondent_scores")
  expect_identical(x$values$solution$values$trail, as_tibble(x))
})

test_that("it does what a loop by hand does, pass by pass", {
  q <- motives()
  x <- sift_items(q, by_measure(), factors = 4, seed = 1)
  left <- q$values$items$item
  for (step in seq_len(nrow(out_of(x)))) {
    part <- keep_items(q, tidyselect::all_of(left))
    adequacy <- assess_factorability(part)$values$items
    s <- factor_solution(part, 4, seed = 1, starts = 10)
    l <- abs(coef(s))
    h <- stats::setNames(s$values$items$communality, left)
    size <- t(apply(l, 1, sort, decreasing = TRUE))
    near <- (size[, 2] >= .3 | size[, 1] - size[, 2] < .2) & size[, 2] > .2
    goes <- if (min(adequacy$adequacy) < .5) {
      adequacy$item[1]
    } else if (min(h) < .3) {
      names(which.min(h))
    } else if (min(size[, 1]) < .4) {
      names(which.min(size[, 1]))
    } else if (any(near)) {
      names(which.max(size[near, 2]))
    }
    expect_identical(out_of(x)$item[step], goes)
    left <- setdiff(left, goes)
  }
  expect_identical(x$values$left, left)
  expect_identical(x$values$ended, "clean")
})

test_that("a known case: adequacy one by one, then communalities, then crossings", {
  more <- rbind(culprit("h1", .45, 0, 0), culprit("h2", 0, .5, 0), culprit("h3", 0, 0, .52),
    culprit("x1", .6, .5, 0), culprit("x2", 0, .58, .52))
  r <- diag(20)
  r[1:17, 1:17] <- implied(good_pattern(more))
  names <- c(rownames(good_pattern(more)), "a1", "a2", "a3")
  r[18, 2] <- r[2, 18] <- .32
  r[19, 6] <- r[6, 19] <- .28
  r[20, 10] <- r[10, 20] <- .24
  dimnames(r) <- list(names, names)
  x <- sift_of(r)
  gone <- out_of(x)
  expect_identical(gone$rule, rep(c("adequacy", "communality", "cross_loading"), c(3, 3, 2)))
  expect_setequal(gone$item[1:3], c("a1", "a2", "a3"))
  expect_identical(gone$item[4:6], c("h1", "h2", "h3"))
  expect_identical(gone$item[7:8], c("x2", "x1"))
  expect_identical(x$values$left, sprintf("g%02d", 1:12))
  # every value is the worst of its pass, below its limit
  expect_true(all((gone$value < gone$limit) == (gone$rule != "cross_loading")))
  expect_identical(as_tibble(x)$items, 20:12)
  # another order takes the crossings first
  y <- out_of(sift_of(r, by_measure(order = "cross_loading")))
  expect_identical(y$rule[1:2], c("cross_loading", "cross_loading"))
})

test_that("ties: the smaller communality goes, then the later item", {
  more <- rbind(culprit("b1", .5, 0, 0), culprit("b2", .5, 0, 0))
  expect_identical(out_of(sift_of(implied(good_pattern(more))))$item, c("b2", "b1"))
  swapped <- implied(good_pattern(more))[c(1:12, 14, 13), c(1:12, 14, 13)]
  expect_identical(out_of(sift_of(swapped))$item, c("b1", "b2"))
  pair <- rbind(cbind(good_pattern(), 0), c(0, 0, 0, .7), c(0, 0, 0, .8))
  rownames(pair)[13:14] <- c("y1", "y2")
  expect_identical(out_of(sift_of(implied(pair), factors = 4, passes = 1))$item, "y1")
})

test_that("pins hold, are told in each pass, and every end has its reason", {
  more <- rbind(culprit("b1", .45, 0, 0), culprit("b2", .5, 0, 0))
  r <- implied(good_pattern(more))
  x <- sift_of(r, keep = "b1")
  expect_identical(out_of(x)$item, "b2")
  expect_identical(x$values$ended, "pinned")
  expect_identical(unique(as_tibble(x)$pinned), "b1")
  expect_identical(x$findings$item[x$findings$code == "pinned_offends"], "b1")
  ends <- list(clean = list(), passes = list(passes = 1),
    least = list(by_measure(least_items = 14)), stopped = list(ask = function(question) "stop"))
  for (end in names(ends)) {
    x <- do.call(sift_of, c(list(r), ends[[end]]))
    expect_identical(x$values$ended, end)
    expect_identical("sift_ended_early" %in% x$findings$code, end != "clean", label = end)
  }
  least <- sift_of(r, by_measure(least_per_factor = 6, small_factor = 3))
  expect_identical(nrow(out_of(least)), 0L)
  expect_identical(least$values$ended, "least")
  # facets hold their items
  set.seed(1)
  d <- stats::setNames(as.data.frame(matrix(rnorm(3000 * 14), 3000) %*% chol(r)), rownames(r))
  book <- data.frame(item = rownames(r), facet = rep(c("a", "b"), c(12, 2)))
  q <- questionnaire(d, codebook = book)
  x <- sift_items(q, by_measure(least_per_facet = 1), factors = 3, seed = 1)
  expect_gte(x$values$facets$after[2], 1)
  free <- sift_items(q, by_measure(), factors = 3, seed = 1)
  expect_identical(free$values$facets$after[2], 0L)
  # fewer items than the factors need
  few <- implied(good_pattern())[1:6, 1:6]
  steps <- sift_of(few, by_measure(communality = .6))
  expect_true("fewer_carried" %in% steps$findings$code)
  stop <- sift_of(few, by_measure(communality = .6), if_too_few_items = "stop")
  expect_identical(stop$values$ended, "too_few_items")
})

test_that("people are asked, and say yes, no, another item, or stop", {
  more <- rbind(culprit("b1", .45, 0, 0), culprit("b2", .5, 0, 0), culprit("b3", .52, 0, 0))
  r <- implied(good_pattern(more))
  said <- list("no", "g01", "yes", "stop")
  seen <- list()
  x <- sift_of(r, ask = function(question) {
    seen[[length(seen) + 1L]] <<- question
    said[[length(seen)]]
  })
  expect_identical(seen[[1]]$item, "b1")
  expect_identical(seen[[1]]$others$item, c("b2", "b3"))
  expect_match(seen[[1]]$text, "b1: its communality is .20, below .30", fixed = TRUE)
  expect_identical(seen[[2]]$item, "b2")
  expect_identical(out_of(x)$item, c("g01", "b2"))
  expect_identical(out_of(x)$who, c("person", "person"))
  expect_identical(x$settings$keep, "b1")
  expect_error(sift_of(r, ask = function(question) "maybe"), class = "softsieve_error_answer")
  expect_error(sift_of(r, ask = function(question) "b9"), class = "softsieve_error_answer")
  # functions of people's own that take nothing, fail, or give something else
  own <- function(measure) sift_rules(also = list(sift_rule("mine", "mine", measure, limit = 1)))
  expect_error(sift_of(r, ask = function() "yes"), "`ask` must be a function of one argument",
    class = "softsieve_error_argument")
  expect_error(sift_of(r, ask = function(question) stop("tired")), "ended with: tired",
    class = "softsieve_error_argument")
  expect_error(sift_of(r, rules = own(function(state) stop("tired"))), "`measure` .* tired",
    class = "softsieve_error_argument")
  expect_error(sift_of(r, rules = own(function(state) 1)), "one number for each item",
    class = "softsieve_error_argument")
  expect_error(sift_of(r, ask = TRUE), "no terminal", class = "softsieve_error_argument")
})

test_that("it goes on, takes out and puts back by hand, and keeps the reasons", {
  q <- motives()
  whole <- sift_items(q, factors = 4, seed = 1)
  one <- sift_items(q, factors = 4, passes = 1, seed = 1)
  expect_identical(out_of(one)$item, out_of(whole)$item[1])
  on <- sift_items(one)
  expect_equal(as_tibble(on), as_tibble(whole))
  expect_equal(as_tibble(sift_items(sift_items(one, passes = 2))), as_tibble(whole))
  by_hand <- sift_remove(one, c("m1", "p1"), "asked twice")
  t <- as_tibble(by_hand)
  expect_identical(t$item[t$who %in% "person"], c("m1", "p1"))
  expect_identical(t$why[t$item %in% "m1"], "asked twice")
  expect_identical(t$items[nrow(t)], 23L)
  back <- sift_restore(by_hand, "o2", "the owner wishes it")
  expect_true("o2" %in% back$values$left)
  end <- sift_items(back, factors = 3)
  expect_true("o2" %in% end$values$left)
  expect_identical(end$values$items$state[end$values$items$item == "m1"], "out")
  expect_identical(as_tibble(end)$factors[nrow(as_tibble(end))], 3L)
  expect_false("o2" %in% sift_items(sift_restore(by_hand, "o2", "try", keep = FALSE))$values$left)
  expect_error(sift_remove(one, "o2", "gone"), "Not there: o2", class = "softsieve_error_items")
  expect_error(sift_restore(one, "m1", "there"), "Not taken out: m1",
    class = "softsieve_error_items")
  expect_error(sift_remove(one, "m1"), class = "simpleError")
  expect_error(sift_remove(one, one$values$left[-(1:2)], "all"), "three items",
    class = "softsieve_error_items")
})

test_that("a trail is replayed on the same and on other answers", {
  q <- motives()
  rules <- by_measure()
  x <- sift_items(q, rules, factors = 4, drop_first = c(o1 = "about coffee"), seed = 1)
  same <- replay(x, q)
  expect_true(same$values$same)
  expect_identical(same$values$departs, NA_integer_)
  expect_equal(same$values$steps$then, same$values$steps$here)
  other <- replay(x, keep_people(q, cafe != "Harbour"))
  expect_false(all(other$values$steps$same))
  first <- other$values$departs
  expect_true(all(other$values$steps$same[seq_len(first - 1)]))
  expect_false(identical(other$values$steps$would_go[first], other$values$steps$item[first]))
  expect_s3_class(other$values$again, "item_sift")
  expect_error(replay(x, keep_items(q, m1:t6)), "Not there", class = "softsieve_error_items")
})

test_that("rules: changed, put first, off, of one's own, and what contradicts is named", {
  r <- sift_rules(adequacy = .6, communality = FALSE, cross_loading = c(limit = .1, from = .25),
    order = c("loading", "adequacy"))
  t <- as_tibble(r)
  expect_identical(t$rule[1:2], c("loading", "adequacy"))
  expect_identical(t$limit[t$rule == "adequacy"], .6)
  expect_false(t$on[t$rule == "communality"])
  expect_identical(r$values$rule_specs$cross_loading$asked$from, .25)
  own <- sift_rule("ends", "name", function(state) (state$items == "g05") + 0, .5, "above")
  x <- sift_of(implied(good_pattern()), by_measure(also = list(own)))
  expect_identical(out_of(x)[c("item", "rule")], tibble::tibble(item = "g05", rule = "ends"))
  clash <- list("disabled, and put first" = list(loading = FALSE, order = "loading"),
    "twice" = list(order = c("loading", "loading")), "small_factor" = list(least_per_factor = 2L),
    "All rules are disabled" = as.list(stats::setNames(rep(FALSE, 6), t$rule)))
  for (why in names(clash)) {
    expect_error(do.call(sift_rules, clash[[why]]), why, class = "softsieve_error_rules")
  }
  expect_error(sift_rules(comunality = .2), "Did you mean \"communality\"",
    class = "softsieve_error_rules")
  expect_error(sift_rules(adequacy = 1.2), "from 0 to 1", class = "softsieve_error_argument")
  expect_error(sift_rules(adequacy = "high"), class = "softsieve_error_argument")
  expect_error(sift_rules(cross_loading = c(limit = .1, form = .2)), "Did you mean \"from\"",
    class = "softsieve_error_argument")
  expect_error(sift_rules(also = list(1)), class = "softsieve_error_argument")
  expect_error(sift_rules(also = list(sift_rule("loading", "x", identity, 1))), "Taken: loading",
    class = "softsieve_error_rules")
  expect_error(sift_rule("a", "b", "c", 1), class = "softsieve_error_argument")
})

test_that("bad input is told before anything is sifted", {
  q <- motives()
  wrong <- list(items = quote(sift_items(q, keep = "zz", factors = 4)),
    items = quote(sift_items(q, drop_first = c(zz = "why"), factors = 4)),
    items = quote(sift_items(q, keep = "o1", drop_first = c(o1 = "why"), factors = 4)),
    argument = quote(sift_items(q, drop_first = "o1", factors = 4)),
    factors = quote(sift_items(q, factors = 0)), factors = quote(sift_items(q, factors = "many")),
    facets = quote(sift_items(q, sift_rules(least_per_facet = 1), factors = 4)),
    class = quote(sift_items(q, rules = list(), factors = 4)),
    class = quote(sift_items(1, factors = 4)),
    argument = quote(sift_items(q, passes = -1, factors = 4)),
    argument = quote(sift_items(q, factors = 4, rotations = "varimax")),
    argument = quote(sift_items(q, factors = 4, method = "mnres")))
  for (i in seq_along(wrong)) {
    expect_error(eval(wrong[[i]]), class = paste0("softsieve_error_", names(wrong)[i]))
  }
  expect_error(
    sift_items(q, drop_first = stats::setNames(rep("x", 24), q$values$items$item[1:24])),
    "three items", class = "softsieve_error_items")
})

test_that("components, parallel analysis in each pass, other methods and seeds", {
  q <- motives()
  x <- sift_items(q, method = "components", factors = 4, rotation = "varimax", seed = 1)
  expect_true(all(out_of(x)$limit[out_of(x)$rule == "communality"] == .5))
  expect_match(colnames(coef(x$values$solution)), "^C")
  y <- sift_items(q, factors = "parallel", seed = 1, replicates = 100)
  expect_identical(unique(as_tibble(y)$number_by), "parallel analysis")
  expect_match(as_tibble(sift_items(q, seed = 1, passes = 0))$number_by, "most probable number")
  again <- sift_items(q, factors = "parallel", seed = 1, replicates = 100, threads = 1)
  expect_equal(as_tibble(again), as_tibble(y))
  ml <- sift_items(q, factors = 4, method = "ml", rotation = "geomin", delta = .01, seed = 1)
  expect_identical(ml$values$solution$settings$delta, .01)
  ordinal <- sift_items(keep_items(q, m1:t6), factors = 2, kind = "polychoric", method = "wls",
    seed = 1)
  expect_identical(ordinal$values$solution$settings$kind, "polychoric")
})

test_that("by default limits decide, scales keep their items and their reliability", {
  # sound items stay, what belongs nowhere and what crosses goes
  x <- sift_items(motives(), factors = 4, seed = 1)
  expect_setequal(out_of(x)$item, c("o1", "o2", "p6"))
  # what is below a limit by less than its error stays, and goes by the measure alone
  r <- implied(good_pattern(culprit("b1", .42, 0, 0)))
  limits <- sift_rules(reliability = FALSE)
  kept <- sift_items(correlate_items(r, n = 200), limits, factors = 3, seed = 1)
  expect_identical(nrow(out_of(kept)), 0L)
  free <- sift_rules(by_limits = FALSE, reliability = FALSE)
  gone <- sift_items(correlate_items(r, n = 200), free, factors = 3, seed = 1)
  expect_identical(out_of(gone)$item, "b1")
  # a factor keeps its third item, whatever it breaks
  three <- good_pattern(culprit("b1", .6, .5, 0))[-(1:2), ]
  end <- sift_of(implied(three), sift_rules(least_per_factor = 3))
  expect_identical(end$values$ended, "least")
  # and a scale its reliability
  state <- list(items = c("a", "b"), home = c(1L, 2L), gains = c(-.2, .01),
    scales = list(omega = c(.8, .7)))
  expect_true(softsieve:::loses_omega("a", state, .1))
  expect_false(softsieve:::loses_omega("a", state, .25))
  expect_false(softsieve:::loses_omega("b", state, 0))
  # the only item of a factor, whose number is fixed
  one <- rbind(cbind(good_pattern(), 0), c(0, 0, 0, .6))
  rownames(one)[13] <- "z1"
  alone <- implied(one)
  alone["z1", 1:4] <- alone[1:4, "z1"] <- .25
  only <- sift_of(alone, sift_rules(by_limits = FALSE), factors = 4)
  expect_true(only$values$ended %in% c("only_item", "clean", "least"))
})

test_that("what an item would cost is the larger of its scale's loss and the lowest omega's", {
  loses <- softsieve:::loses_omega
  state <- list(items = c("a", "b"), gains = c(-0.04, 0.02), home = c(1L, 2L),
    scales = list(omega = c(0.7, 0.8)))
  expect_true(loses("a", state, 0.03))
  expect_false(loses("a", state, 0.04))
  expect_false(loses("b", state, 0))
  # an item whose loss is not known keeps nobody in
  expect_false(loses("a", replace(state, "gains", list(c(NA, 0))), 0))
  # of a scale that is not the lowest, the loss is the scale's own until it falls below it
  state$home[1L] <- 2L
  expect_true(loses("a", state, 0.03))
})
