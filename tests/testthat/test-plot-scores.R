# Figures of scores and of rebuilt answers: what they draw is what the results hold.

drawn_of <- function(x, ...) suppressWarnings(ggplot2::autoplot(x, ...))
# The data that a geom draws, built without a device of its own.
layer_of <- function(p, geom, nth = 1) {
  found <- which(vapply(p$layers, function(layer) class(layer$geom)[1], "") == geom)
  ggplot2::layer_data(p, found[nth])
}

test_that("the spread of scores: quarters of each group, of all scores or those asked for", {
  q <- motives()
  scales <- form_scales(q)
  scored <- score_respondents(scales, q)
  p <- drawn_of(scored, group = "cafe", factors = c("thrift", "mending"))
  expect_identical(levels(p$data$of), c("thrift", "mending"))
  own <- as_tibble(scored)
  points <- layer_of(p, "GeomPoint")
  medians <- tapply(own$thrift, own$cafe, median, na.rm = TRUE)
  expect_setequal(round(points$x[points$PANEL == 1], 9), round(medians, 9))
  thick <- layer_of(p, "GeomLinerange", 2)
  quarter <- tapply(own$mending, own$cafe, quantile, .25, na.rm = TRUE)
  expect_setequal(round(thick$xmin[thick$PANEL == 2], 9), round(unlist(quarter), 9))
  alone <- drawn_of(scored)
  expect_identical(nlevels(alone$data$of), 4L)
  expect_equal(sort(unique(as.character(alone$data$group))), sort(scored$values$factors$factor))
  expect_error(drawn_of(scored, group = "caf"), "person and cafe",
    class = "softsieve_error_argument")
  expect_error(drawn_of(scored, factors = "F9"), "Not among them: F9")
})

test_that("the plane of two scores, shared with the plane of people and items", {
  q <- motives()
  scored <- score_respondents(solution4(), q)
  p <- drawn_of(scored, "scores", factors = c("F1", "F4"), group = "cafe", people = "p0007")
  own <- as_tibble(scored)
  expect_equal(p$data$x, own$F1)
  expect_equal(p$data$y, own$F4)
  expect_identical(p$data$id[p$data$chosen], "p0007")
  both <- drawn_of(solution4(), "people", factors = c("F1", "F4"), group = "cafe", people = "p0007")
  expect_equal(both$data[c("id", "x", "y", "chosen")], p$data[c("id", "x", "y", "chosen")])
  expect_match(p$labels$subtitle, softsieve:::format_unit(cor(own$F1, own$F4)), fixed = TRUE)
  expect_error(drawn_of(scored, "scores", people = "nobody"), class = "softsieve_error_people")
  one <- score_respondents(form_scales(list(a = c("m1", "m2"))), q)
  expect_error(drawn_of(one, "scores"), class = "softsieve_error_figure")
})

test_that("a person's profile: T scores, limits and bands by the norms of the person's group", {
  q <- motives()
  scales <- form_scales(q)
  scored <- score_respondents(scales, q, errors = TRUE, also = "t_score", by = "cafe")
  p <- drawn_of(scored, "person", people = c("p0007", "p0040"))
  own <- as_tibble(scored)
  rows <- match(c("p0007", "p0040"), own$person)
  expect_equal(p$data$t_score[p$data$scale == "thrift"], own$thrift_t_score[rows])
  norms <- scored$values$norms
  at <- norms[norms$scale == "thrift" & norms$group == own$cafe[rows[2]], ]
  second <- p$data[p$data$scale == "thrift", ][2, ]
  expect_equal(second$upper, 50 + 10 * (own$thrift_upper[rows[2]] - at$mean) / at$sd)
  expect_equal(second$p25, 50 + 10 * (at$p25 - at$mean) / at$sd)
  expect_match(levels(p$data$person), "Canal Street", all = FALSE)
  # without norms: these people are; the first who has a score
  plain <- score_respondents(scales, q)
  first <- drawn_of(plain, "person")
  expect_identical(as.character(first$data$person[1]), "p0001")
  expect_equal(first$data$t_score[1], 50 + 10 * drop(scale(as_tibble(plain)[[4]]))[1])
  expect_match(first$labels$subtitle, "errors = TRUE")
  expect_error(drawn_of(plain, "person", people = own$person[1:5]), "at most 4",
    class = "softsieve_error_argument")
  expect_error(drawn_of(plain, "person", people = "x"), class = "softsieve_error_people")
})

test_that("the curve has its target, and rebuilt answers stand beside those given", {
  q <- keep_items(motives(), m1:t6)
  back <- reconstruct_responses(extract_components(q, 3), target = .8)
  p <- drawn_of(back)
  expect_equal(p$data$share, back$values$curve$share)
  expect_identical(unique(layer_of(p, "GeomHline")$yintercept), .8)
  expect_identical(sum(p$data$reached), sum(back$values$curve$share >= .8))
  r <- drawn_of(back, "rebuilt", items = c("m1", "t3"), wording = TRUE)
  expect_match(levels(r$data$item), "^m1: .*\nI enjoy", all = FALSE)
  expect_equal(r$data$rebuilt[as.integer(r$data$item) == 2],
    back$values$rebuilt$t3[!is.na(back$values$answers$t3)])
  least <- drawn_of(back, "rebuilt")
  order <- back$values$items$item[order(back$values$items$share)]
  expect_match(levels(least$data$item)[1], paste0("^", order[1], ": "))
  expect_error(drawn_of(back, "rebuilt", items = "m9"), "Did you mean",
    class = "softsieve_error_argument")
  sliders <- as.data.frame(matrix(rnorm(400 * 4), 400))
  fine <- drawn_of(reconstruct_responses(extract_components(sliders, 2)), "rebuilt")
  expect_true("GeomTile" %in% vapply(fine$layers, function(l) class(l$geom)[1], ""))
})
