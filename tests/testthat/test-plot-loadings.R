# Figures of solutions: what they show is what the solution holds, and their layout holds for one
# factor, for many, and for people by the thousand.

built <- function(p) ggplot2::ggplot_build(p)
# What is drawn, without warnings of things that fall off the figure.
drawn <- function(...) {
  p <- ggplot2::autoplot(...)
  expect_no_warning(built(p))
  expect_s3_class(p$data, "data.frame")
  p
}
solution2 <- function(...) {
  factor_solution(keep_items(motives(), m1:t6), 2, ..., seed = 1, starts = 3)
}

test_that("bars, planes, paths and residuals show every number, and only those", {
  s <- factor_solution(motives(), 4, seed = 1, starts = 5)
  l <- coef(s)
  bars <- drawn(s, "bars")$data
  expect_equal(bars$loading, as.numeric(l))
  expect_identical(sum(bars$own), 24L)
  plane <- drawn(s, "plane")$data
  expect_identical(nrow(plane), 26L * 6L)
  one <- plane[plane$plane == "F4 over F2", ]
  expect_equal(one$x, unname(l[, "F2"]))
  expect_equal(one$y, unname(l[, "F4"]))
  two <- drawn(s, "plane", factors = c("F4", "F1"))$data
  expect_equal(unique(two$x), unname(l[, "F4"]))
  expect_identical(drawn(s, "plane", factors = 2:3)$labels$x, "F2")
  path <- drawn(s, "path")$data
  expect_equal(sort(path$loading), sort(l[abs(l) >= .3]))
  expect_identical(nrow(drawn(s, "path", hide_below = .5)$data), sum(abs(l) >= .5))
  left <- drawn(s, "residuals")$data
  expect_equal(left$residual[left$item == "n5" & left$with == "t3"], residuals(s)["n5", "t3"])
  expect_identical(nrow(left), 325L)
  shares <- drawn(s, "variance")$data
  expect_equal(shares$share, c(s$values$variance_unrotated$share, s$values$variance$share))
  expect_equal(drawn(s, "cumulative")$data$cumulative_share[8], sum(s$values$variance$share))
})

test_that("wordings are written where they are asked for, and names wherever factors are", {
  s <- name_factors(factor_solution(motives(), 4, seed = 1, starts = 5), c(F1 = "being thrifty"))
  words <- function(p) unlist(lapply(built(p)$data, function(layer) as.character(layer$label)))
  axis <- function(p) built(p)$layout$panel_params[[1]]$y$get_labels()
  said <- "I keep track of what repairing saves me"
  expect_match(axis(drawn(s, "bars", wording = TRUE)), said, all = FALSE)
  expect_false(any(grepl(said, axis(drawn(s, "bars")))))
  expect_match(axis(drawn(s, "loadings")), said, all = FALSE)
  expect_false(any(grepl(said, axis(drawn(s, "loadings", wording = FALSE)))))
  expect_match(axis(drawn(s, "residuals", wording = TRUE)), "keep track", all = FALSE)
  expect_match(words(drawn(s, "path", wording = TRUE)), said, all = FALSE)
  expect_false(any(grepl(said, words(drawn(s, "path")))))
  expect_match(drawn(s, "plane", wording = TRUE)$labels$caption, "t2  I keep track")
  expect_null(drawn(s, "plane")$labels$caption)
  expect_match(words(drawn(s, "path")), "being", all = FALSE)
  expect_true("being thrifty" %in% drawn(s, "bars")$data$factor)
  ladder <- solution_ladder(s, seed = 1)
  expect_match(words(drawn(ladder, "ladder")), "being thrifty", all = FALSE)
  expect_match(words(drawn(ladder, "ladder", wording = TRUE)), "rubbish", all = FALSE)
  sure <- loading_stability(s, replicates = 20, halves = 0, seed = 1)
  expect_match(axis(drawn(sure, "limits", wording = TRUE)), said, all = FALSE)
  expect_identical(nrow(drawn(sure)$data), 104L)
})

test_that("people and items in one plane: scores, groups, chosen people, and what angles are", {
  q <- keep_items(motives(), m1:t6)
  s <- solution2(rotation = "varimax")
  p <- drawn(s, "people", group = "cafe", people = c("p0007", "p0040"))
  scores <- as_tibble(score_respondents(s, q))
  expect_equal(p$data$x, scores$F1[!is.na(scores$F1)])
  expect_identical(sort(levels(p$data$group)), sort(unique(repair_cafe$cafe)))
  expect_identical(p$data$id[p$data$chosen], c("p0007", "p0040"))
  expect_identical(p$labels$fill, "cafe")
  # arrows are loadings times what is said
  arrows <- Filter(function(layer) all(c("xend", "x") %in% names(layer)), built(p)$data)[[1]]
  times <- as.numeric(sub(".*times ([0-9.]+);.*", "\\1", gsub("\n", " ", p$labels$subtitle)))
  expect_equal(arrows$xend, unname(coef(s)[, 1]) * times)
  # angles: correlations of what two uncorrelated factors explain, and of nothing else
  said <- function(x, ...) gsub("\n", " ", drawn(x, "people", ...)$labels$subtitle)
  expect_match(said(s), "cosine of the angle between two arrows is the correlation of what")
  l <- coef(s)[c("m1", "t1"), ]
  common <- l %*% t(l)
  cosine <- sum(l[1, ] * l[2, ]) / sqrt(sum(l[1, ]^2) * sum(l[2, ]^2))
  expect_equal(cov2cor(common)[1, 2], cosine)
  expect_match(said(solution2(rotation = "oblimin")), "angles between arrows are not correlations")
  four <- factor_solution(motives(), 4, rotation = "varimax", seed = 1, starts = 3)
  expect_match(said(four), "outside this plane: angles between arrows are not correlations")
  expect_match(said(solution2(method = "components", rotation = "varimax")), "cosine")
  # other people than the solution's
  expect_identical(nrow(drawn(s, "people", data = repair_cafe[1:50, ])$data), 50L)
  expect_error(drawn(s, "people", group = "caff"), "Their columns: person and cafe")
  expect_error(drawn(s, "people", people = "p9"), "p9", class = "softsieve_error_people")
  expect_error(drawn(s, "people", factors = 1), class = "softsieve_error_argument")
  expect_error(drawn(s, "people", factors = c("F1", "F7")), "Not among them: F7")
  expect_error(drawn(s, "people", grup = "cafe"), "Did you mean \"group\"")
})

test_that("many people are a density, many groups are put together", {
  set.seed(1)
  big <- repair_cafe[sample(840, 3000, TRUE), ]
  big$street <- sprintf("street %02d", sample(12, 3000, TRUE, prob = 12:1))
  q <- questionnaire(big[-1], codebook = repair_cafe_codebook, group = c(cafe, street))
  s <- factor_solution(keep_items(q, m1:t6), 2, seed = 1, starts = 3)
  p <- drawn(s, "people", group = "street")
  layers <- vapply(p$layers, function(layer) class(layer$geom)[1], "")
  expect_true("GeomTile" %in% layers)
  expect_false("GeomPoint" %in% layers)
  expect_identical(nlevels(p$data$group), 8L)
  expect_true("5 others" %in% levels(p$data$group))
  expect_match(p$labels$subtitle, "darker where more")
})

test_that("one factor, many factors, bare matrices, hostile words: figures or an error in words", {
  one <- factor_solution(keep_items(motives(), m1:m5), 1, seed = 1)
  for (what in c("loadings", "bars", "path", "residuals", "variance", "cumulative")) drawn(one,
    what)
  expect_error(ggplot2::autoplot(one, "plane"), class = "softsieve_error_figure")
  expect_error(ggplot2::autoplot(one, "people"), class = "softsieve_error_figure")
  many <- factor_solution(motives(), 8, seed = 1, starts = 3)
  for (what in c("bars", "plane", "path", "variance", "cumulative")) drawn(many, what)
  expect_match(gsub("\n", " ", drawn(many, "plane")$labels$subtitle), "The first 5 of 8")
  bare <- factor_solution(correlate_items(known_correlations(), n = 200), 3, seed = 1, starts = 3)
  for (what in c("bars", "plane", "path", "residuals")) drawn(bare, what, wording = TRUE)
  expect_error(ggplot2::autoplot(bare, "people"), class = "softsieve_error_figure")
  raw <- extract_factors(motives(), 3)
  expect_identical(unique(drawn(raw, "variance")$data$when), factor("as extracted"))
  odd <- name_factors(bare, c("a %s %d", "<b>x</b>", "$\\alpha$"))
  for (what in c("bars", "plane", "path", "variance")) drawn(odd, what)
})

test_that("files of a solution and of what is made of it hold no answers", {
  s <- solution2()
  file <- withr::local_tempfile(fileext = ".json")
  made <- list(s, solution_ladder(s, seed = 1),
    factor_solution(keep_items(motives(), m1:t6), 2, by = "cafe", replicates = 0, seed = 1))
  for (x in made) {
    write_table(x, file)
    said <- paste(readLines(file), collapse = "")
    expect_false(grepl("p0001|\"answers\"", said))
    expect_true(grepl("\"loadings\"", said))
  }
  word <- withr::local_tempfile(fileext = ".docx")
  big <- factor_solution(motives(), 4, by = "cafe", replicates = 0, seed = 1, starts = 3)
  write_table(big, word)
  expect_gt(file.size(word), 5000)
})
