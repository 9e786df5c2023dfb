# Factors matched, compared and split: against worked cases, every assignment there is, and scores
# that were really computed.

core <- function(name) getFromNamespace(name, "softsieve")

# A solution with these loadings, as if it had been extracted from what they reproduce.
solution_of <- function(loadings, between = diag(ncol(loadings)), n = 500) {
  r <- known_correlations(loadings, between)
  dimnames(r) <- rep(list(sprintf("q%02d", seq_len(nrow(loadings)))), 2)
  factor_solution(correlate_items(r, n = n), ncol(loadings), rotation = "varimax", seed = 1)
}

test_that("congruence is that of the formula, by hand", {
  a <- cbind(c(3, 4, 0), c(0, 0, 0))
  b <- cbind(c(4, 3, 0), c(0, 0, 2))
  expect_equal(core("core_congruences")(a, b), rbind(c(24 / 25, 0), c(0, 0)))
})

test_that("swapped and reflected factors are put back, whatever the order and the signs", {
  set.seed(1)
  target <- matrix(rnorm(40), 10)
  for (i in 1:20) {
    order <- sample(4)
    sign <- sample(c(-1, 1), 4, replace = TRUE)
    found <- core("core_aligned")(target[, order] * rep(sign, each = 10), target)
    expect_equal(found$loadings, target)
    expect_identical(found$column, order(order))
    expect_equal(found$sign, sign[order(order)])
    expect_equal(found$congruence, rep(1, 4))
  }
})

test_that("no other assignment has a larger sum", {
  permutations <- as.matrix(expand.grid(1:4, 1:4, 1:4, 1:4))
  permutations <- permutations[apply(permutations, 1, function(x) !anyDuplicated(x)), ]
  set.seed(2)
  for (i in 1:30) {
    a <- matrix(rnorm(24), 6)
    b <- matrix(rnorm(24), 6)
    found <- core("core_aligned")(a, b)
    all <- abs(core("core_congruences")(b, a))
    sums <- apply(permutations, 1, function(x) sum(all[cbind(1:4, x)]))
    expect_equal(sum(found$congruence), max(sums))
  }
  # one factor less: each of three is given another column, the best of all ways
  three <- core("core_aligned")(a, b[, 1:3])
  sums <- apply(permutations, 1, function(x) sum(all[cbind(1:3, x[1:3])]))
  expect_equal(sum(three$congruence), max(sums))
  # one more: one is left without
  more <- core("core_aligned")(a[, 1:3], b)
  expect_identical(sum(is.na(more$column)), 1L)
  expect_true(all(is.na(more$loadings[, is.na(more$column)])))
  # equal sums: always the same
  same <- matrix(1, 3, 3)
  expect_identical(core("core_aligned")(same, same)$column, 1:3)
})

test_that("compared solutions: congruence and difference are those of the loadings", {
  l <- cbind(c(.8, .7, .6, .5, 0, 0, .1, 0), c(0, .1, 0, 0, .7, .6, .5, .5))
  other <- l
  other[4, ] <- c(0, .5)
  a <- solution_of(l)
  b <- solution_of(other)
  x <- compare_solutions(a = a, b = b)
  f <- x$values$factors
  # by hand, in the order of b's factors
  la <- coef(a)
  lb <- coef(b)
  phi <- crossprod(lb, la) / sqrt(colSums(lb^2) %o% colSums(la^2))
  at <- match(f$with, colnames(la))
  expect_equal(f$congruence, unname(abs(phi[cbind(1:2, at)])))
  turned <- la[, at] * rep(f$sign, each = 8)
  expect_equal(f$rms_difference, unname(sqrt(colMeans((lb - turned)^2))))
  items <- x$values$items
  expect_identical(items$item[items$moved], "q04")
  difference <- (lb - turned)["q04", ]
  expect_equal(items$difference[4], difference[[which.max(abs(difference))]])
  expect_identical(items$on[4], names(which.max(abs(difference))))
  expect_match(x$values$verdict, "1 item moves: q04")
  # itself against itself: nothing differs
  same <- compare_solutions(a = a, b = a)$values
  expect_equal(same$factors$congruence, c(1, 1))
  expect_identical(sum(same$items$moved), 0L)
  expect_match(same$verdict, "all 2 factors are found again")
})

test_that("numbers of factors side by side, each against the one before", {
  q <- motives()
  s <- lapply(3:5, function(k) factor_solution(q, k, method = "ml", seed = 1, starts = 5))
  x <- compare_solutions(s)
  v <- x$values
  expect_identical(v$solutions$solution, paste(3:5, "factors"))
  expect_identical(x$settings$against, "before")
  expect_identical(unique(v$factors$against), c("3 factors", "4 factors"))
  expect_equal(v$solutions$bic, vapply(s, function(one) one$values$fit$bic, 0))
  expect_identical(v$solutions$smallest[3], 1L)
  expect_identical(sum(is.na(v$factors$with)), 2L)
  # what was one factor of three becomes two of four: the neighbours' items say so
  expect_setequal(v$items$item[v$items$moved & v$items$against == "3 factors"], paste0("n", 1:6))
  expect_match(v$verdict[1], "its items come from")
  first <- compare_solutions(s, against = "first")$values$factors
  expect_identical(unique(first$against), "3 factors")
  expect_identical(nrow(compare_solutions(s, salient = .9)$values$items), 52L)
  expect_identical(compare_solutions(s, salient = .9)$values$solutions$weak, rep(26L, 3))
})

test_that("solutions of other items are compared on what they share, or refused", {
  q <- motives()
  a <- factor_solution(keep_items(q, m1:t6), 2, seed = 1, starts = 3)
  b <- factor_solution(keep_items(q, c(m1:m6, t1:t4)), 2, seed = 1, starts = 3)
  x <- compare_solutions(a, b)
  expect_identical(x$values$items$item, b$values$items$item)
  expect_match(x$findings$text, "without t5 and t6", all = FALSE)
  other <- factor_solution(keep_items(q, c(m1, m2, n1:n6)), 1, seed = 1)
  expect_error(compare_solutions(a, other), "They share 2 items: m1 and m2",
    class = "softsieve_error_other_items")
  expect_error(compare_solutions(a), class = "softsieve_error_solutions")
  expect_error(compare_solutions(a, q), class = "softsieve_error_solutions")
  expect_error(compare_solutions(x = a, x = b), "Twice: x", class = "softsieve_error_solutions")
  # waves of the same items need no names of their own
  expect_identical(compare_solutions(a, a)$values$solutions$solution, paste("solution", 1:2))
})

test_that("a ladder's correlations are those of the scores of everybody", {
  answers <- as.data.frame(motives()$values$answers)
  q <- questionnaire(answers[stats::complete.cases(answers), ])
  for (method in c("minres", "components")) {
    s <- factor_solution(q, 4, method = method, seed = 1, starts = 5)
    x <- solution_ladder(s, from = 2, seed = 1)
    expect_identical(names(x$values$solutions), c("2", "3", "4"))
    for (level in c("3", "4")) {
      both <- c(level, as.character(as.integer(level) - 1))
      scores <- lapply(x$values$solutions[both], predict, q)
      expect_equal(x$values$correlations[[level]], cor(scores[[1]], scores[[2]]), tolerance = 1e-8,
        ignore_attr = TRUE)
    }
  }
  r <- x$values$rungs
  expect_identical(nrow(r), 3L * 2L + 4L * 3L)
  expect_identical(sum(r$parent), 7L)
  for (f in unique(r$factor[r$level == 4])) {
    own <- r[r$level == 4 & r$factor == f, ]
    expect_identical(which.max(abs(own$correlation)), which(own$parent))
  }
})

test_that("a parent may run against its child", {
  q <- keep_items(motives(), m1:t6)
  two <- factor_solution(q, 2, seed = 1, starts = 3)
  turned <- two
  for (part in c("loadings", "structure")) {
    turned$values[[part]][, 1] <- -turned$values[[part]][, 1]
  }
  found <- core("rungs_between")(two, turned)$rungs
  own <- found[found$parent, ]
  expect_identical(own$factor, own$factor_before)
  expect_equal(own$correlation, c(-1, 1))
})

test_that("a ladder takes what it is given, and says what it cannot", {
  q <- keep_items(motives(), m1:t6)
  x <- solution_ladder(q, to = 3, method = "ml", rotation = "varimax", starts = 3, seed = 1)
  expect_identical(names(x$values$solutions), c("1", "2", "3"))
  expect_identical(x$settings$method, "ml")
  expect_identical(x$values$solutions[["2"]]$settings$rotation, "varimax")
  expect_identical(solution_ladder(q, seed = 1, starts = 3)$settings$to, 2L)
  # one factor: there are two levels all the same
  one <- solution_ladder(keep_items(q, m1:m6), seed = 1, starts = 3)
  expect_identical(unlist(one$settings[c("from", "to")], use.names = FALSE), 1:2)
  named <- name_factors(factor_solution(q, 2, seed = 1, starts = 3), c("mending", "thrift"))
  two <- solution_ladder(named, to = 3, seed = 1)
  second <- two$values$factors[two$values$factors$level == 2, ]
  expect_setequal(second$factor, c("mending", "thrift"))
  expect_error(solution_ladder(q, from = 3, to = 3, seed = 1), class = "softsieve_error_levels")
  expect_error(solution_ladder(q, to = 9, seed = 1), class = "softsieve_error_factors")
  expect_error(solution_ladder(named, to = 9, seed = 1), class = "softsieve_error_levels")
  expect_error(solution_ladder(named, from = 0), class = "softsieve_error_argument")
})

test_that("loadings count from a size between 0 and 1", {
  q <- keep_items(motives(), m1:t6)
  s <- factor_solution(q, 2, seed = 1, starts = 3)
  t <- factor_solution(q, 3, seed = 1, starts = 3)
  for (size in c(-0.01, 1.01)) {
    expect_error(compare_solutions(s, t, salient = size), class = "softsieve_error_argument")
  }
  weak <- function(size) compare_solutions(s, t, salient = size)$values$solutions$weak
  expect_identical(weak(0), c(0L, 0L))
  expect_identical(weak(1), c(12L, 12L))
})
