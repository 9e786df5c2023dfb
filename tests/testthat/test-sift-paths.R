# How firm a sifting is, and short forms: against brute force and on people left out.

test_that("paths change what they say, draws are the people's, and threads do not matter", {
  q <- motives()
  x <- sift_items(q, factors = 4, seed = 1)
  p <- sift_paths(x, replicates = 6, seed = 3, threads = 2)
  paths <- p$values$paths
  expect_identical(as.vector(table(paths$kind)[c("limits", "orders", "numbers", "draws")]),
    c(24L, 5L, 2L, 6L))
  expect_equal(p$values$items, sift_paths(x, replicates = 6, seed = 3, threads = 1)$values$items)
  # paths by hand
  lower <- sift_items(q, sift_rules(communality = .2 * 1.1), factors = 4, seed = 1)
  at <- which(paths$what == "communality 0.22")
  expect_identical(unname(p$values$stays[at, ]), q$values$items$item %in% lower$values$left)
  first <- sift_items(q, sift_rules(order = "cross_loading"), factors = 4, seed = 1)
  at <- which(paths$what == "cross_loading first")
  expect_identical(unname(p$values$stays[at, ]), q$values$items$item %in% first$values$left)
  three <- sift_items(q, factors = 3, seed = 1)
  expect_identical(paths$left[paths$what == "3 factors"], length(three$values$left))
  rows <- softsieve:::drawn_rows(840, 3, 2)
  drawn <- questionnaire(repair_cafe[rows, -1], codebook = repair_cafe_codebook, group = cafe)
  again <- sift_items(drawn, factors = 4, seed = 1)
  at <- which(paths$what == "draw 2")
  expect_identical(unname(p$values$stays[at, ]), q$values$items$item %in% again$values$left)
  expect_equal(p$values$items$stays, unname(colMeans(p$values$stays)))
  expect_true(all(p$values$agreement$mean > .8))
  # omega outside: by hand from the people left out of that draw
  expect_identical(p$values$outside$measure, c("omega", "rmsr"))
  expect_gt(p$values$outside$outside[2], p$values$outside$inside[2])
  none <- sift_paths(x, replicates = 0, steps = 1, seed = 1)
  expect_null(none$values$outside)
  same <- none$values$paths$kind == "limits"
  expect_true(all(none$values$paths$left[same] == length(x$values$left)))
  bare <- sift_items(correlate_items(correlate_items(q)$values$correlations, n = 800), factors = 4,
    seed = 1)
  expect_error(sift_paths(bare), class = "softsieve_error_no_answers")
  expect_s3_class(sift_paths(bare, replicates = 0), "sift_paths")
  expect_error(sift_paths(q), class = "softsieve_error_class")
  expect_error(sift_paths(x, steps = -1), class = "softsieve_error_argument")
  expect_error(sift_paths(x, uncertain = c(.8, .2)), class = "softsieve_error_argument")
})

test_that("items that compete are those of which one stays when the other goes", {
  stays <- cbind(a = rep(c(TRUE, FALSE), 10), b = rep(c(FALSE, TRUE), 10), c = TRUE,
    d = rep(c(TRUE, TRUE, FALSE, FALSE), 5))
  pairs <- softsieve:::competing_pairs(stays)
  expect_identical(pairs$item, "a")
  expect_identical(pairs$with, "b")
  expect_equal(pairs$together, -1)
})

# Covariances of p items with one factor and a little beside it.
scale_covariances <- function(p, seed) {
  set.seed(seed)
  l <- runif(p, .3, .9)
  tcrossprod(l) + diag(runif(p, .2, .8)) + .02 * crossprod(matrix(rnorm(2 * p), 2))
}

test_that("short forms are the best of all subsets, by either measure, with pins and facets", {
  core <- function(name) getFromNamespace(name, "softsieve")
  for (p in c(5, 8, 11)) for (by in c("omega", "fidelity")) for (size in c(1, 3, 4)) {
    s <- scale_covariances(p, p)
    factor <- core("one_factor_of")(s)
    facet <- rep_len(c(1L, 2L, NA), p)
    forced <- seq_len(p) == 4
    least <- if (size > 2) 1L else 0L
    found <- core("cpp_best_subsets")(s, factor$loadings, factor$uniquenesses, size, by, forced,
      facet, least, 4L)
    sets <- utils::combn(p, size)
    fits <- apply(sets, 2, function(set) 4 %in% set && all(tabulate(facet[set], 2) >= least))
    sets <- sets[, fits, drop = FALSE]
    value <- apply(sets, 2, function(set) {
      common <- s
      diag(common) <- factor$loadings^2
      l <- sum(factor$loadings[set])^2
      if (by == "omega") return(l / (l + sum(factor$uniquenesses[set])))
      sum(common[set, ]) / sqrt(sum(s[set, set]) * sum(s))
    })
    order <- order(-value)[seq_len(min(4, length(value)))]
    where <- paste(p, by, size)
    expect_equal(found$values, value[order], label = where)
    expect_equal(found$sets, t(sets[, order, drop = FALSE]), ignore_attr = TRUE, label = where)
  }
})

test_that("short forms: what is lost, the next best, every length, people left out", {
  q <- motives()
  short <- shorten_scales(q, size = 4, replicates = 12, seed = 1)
  s <- short$values$scales
  expect_identical(s$kept, rep(4L, 4))
  trust <- assess_reliability(form_scales(q), q, replicates = 0, seed = 1)
  expect_equal(s$omega, trust$values$scales$omega, tolerance = 1e-4)
  sets <- short$values$sets
  expect_identical(sets$rank, rep(1:5, 4))
  expect_true(all(tapply(sets$omega, sets$scale, function(x) all(diff(x) <= 1e-12))))
  lengths <- short$values$lengths
  expect_equal(lengths$omega[lengths$kept == 6], s$omega)
  expect_equal(lengths$omega[lengths$kept == 4], s$omega_short)
  expect_true(all(tapply(lengths$fidelity, lengths$scale, function(x) all(diff(x) > 0))))
  expect_equal(short$values$outside$optimism,
    short$values$outside$inside - short$values$outside$outside)
  often <- tapply(short$values$items$often, short$values$items$scale, sum)
  expect_equal(as.vector(often), rep(4, 4))
  scored <- score_respondents(short$values$short, repair_cafe)
  chosen <- strsplit(sets$set[sets$scale == "thrift" & sets$rank == 1], ", ")[[1]]
  keyed <- q$values$answers[, chosen]
  whole <- stats::complete.cases(keyed)
  expect_equal(as_tibble(scored)$thrift[whole], unname(rowMeans(keyed[whole, ])))
  # other sizes, pins, measures
  mixed <- shorten_scales(q, size = c(mending = 3, thrift = 2, neighbours = 6, planet = 5),
    keep = "t4", criterion = "fidelity", replicates = 0, seed = 1)
  expect_identical(mixed$values$scales$kept, c(3L, 2L, 6L, 5L))
  expect_match(mixed$values$sets$set[mixed$values$sets$scale == "thrift"], "t4")
  expect_null(mixed$values$outside)
  full <- mixed$values$scales
  expect_equal(full$omega_short[3], full$omega[3])
  # facets of the codebook are held
  book <- repair_cafe_codebook
  book$facet <- ifelse(grepl("[12]$", book$item), "first", "others")
  faceted <- questionnaire(repair_cafe, codebook = book, id = person, group = cafe)
  held <- shorten_scales(faceted, size = 3, least_per_facet = 1, replicates = 0, seed = 1)
  free <- shorten_scales(faceted, size = 3, least_per_facet = 0, replicates = 0, seed = 1)
  kinds <- tapply(held$values$items$facet[held$values$items$chosen],
    held$values$items$scale[held$values$items$chosen], function(x) length(unique(x)))
  expect_true(all(kinds == 2))
  expect_true(all(held$values$scales$omega_short <= free$values$scales$omega_short + 1e-12))
  expect_error(shorten_scales(faceted, size = 1, replicates = 0), "facets hold 2",
    class = "softsieve_error_items")
  expect_error(shorten_scales(q, size = 7), "7 of 6", class = "softsieve_error_items")
  expect_error(shorten_scales(q, size = 1, keep = c("t1", "t2")), "2 are kept",
    class = "softsieve_error_items")
  expect_error(shorten_scales(q, size = c(a = 2)), class = "softsieve_error_argument")
  expect_error(shorten_scales(q, keep = "zz"), class = "softsieve_error_items")
  expect_error(shorten_scales(list(a = c("m1", "m2"))), class = "softsieve_error_class")
})

test_that("figures of sifting draw what the results hold", {
  x <- sift_items(motives(), factors = 4, seed = 1)
  tiles <- ggplot2::autoplot(x, wording = TRUE)
  expect_identical(nrow(tiles$data), nrow(x$values$tiles))
  expect_identical(sum(tiles$data$state == "goes"), sum(x$values$items$state == "out"))
  expect_match(levels(tiles$data$label), "I usually come by bicycle", all = FALSE)
  passes <- ggplot2::autoplot(x, "passes")
  omega <- passes$data$value[passes$data$measure == "lowest omega"]
  expect_equal(omega, as_tibble(x)$lowest_omega)
  p <- sift_paths(x, replicates = 2, seed = 1)
  expect_equal(sort(ggplot2::autoplot(p)$data$stays), sort(p$values$items$stays))
  short <- shorten_scales(motives(), replicates = 0, seed = 1)
  drawn <- ggplot2::autoplot(short)$data
  expect_equal(drawn$value[drawn$measure == "omega"], short$values$lengths$omega)
})

test_that("what a person took out stays out on every path; what came back may stay", {
  q <- motives()
  x <- sift_items(q, factors = 4, drop_first = c(m4 = "asked twice", n6 = "unclear"), seed = 1)
  back <- sift_restore(x, "n6", why = "clear enough")
  expect_true("n6" %in% back$values$left)
  stays <- sift_paths(back, replicates = 3, seed = 3)$values$stays
  colnames(stays) <- q$values$items$item
  expect_false(any(stays[, "m4"]))
  expect_gt(mean(stays[, "n6"]), 0.5)
})
