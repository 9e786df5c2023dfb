# Prints and figures: what people see is what the results hold.

results <- function() {
  q <- motives()
  s <- factor_solution(q, seed = 1)
  list(q, profile_items(q), profile_items(q, by = "cafe"), profile_respondents(q),
    correlate_items(q), correlate_items(q, kind = "polychoric"), assess_factorability(q),
    assess_factorability(q, by = "cafe"), parallel_analysis(q, by = "cafe", seed = 1),
    count_factors(q, replicates = 50, seed = 1), parallel_analysis(q, seed = 1), s,
    pattern_table(s),
    pattern_table(name_factors(s, c(F1 = "thrift, as people call it", F2 = "p")), structure = TRUE),
    name_factors(s),
    compare_solutions(s, factor_solution(q, 3, seed = 1), rotate_factors(s, "geomin", seed = 1)),
    solution_ladder(s, seed = 1), hidden_factors(s, samples = 20, seed = 1),
    plan_study(planned_factors(3), c(100, 200), replicates = 20, seed = 1),
    people_needed(planned_factors(3), loading_error = .1, replicates = 20, seed = 1),
    factor_solution(q, 4, by = "cafe", replicates = 20, seed = 1),
    loading_stability(s, replicates = 40, halves = 5, seed = 1), form_scales(s),
    assess_reliability(s, q, replicates = 60, seed = 1), component_layers(extract_components(q, 4)),
    hierarchical_form(s), extract_factors(q, 4, kind = "polychoric", method = "wls"),
    extract_factors(q, 2, method = "ml", analyse = "covariances"),
    score_respondents(s, q, errors = TRUE),
    score_respondents(form_scales(s), q, also = c("t_score", "percentile"), by = "cafe"),
    score_formula(s), carry_back(c(F1 = 1, F2 = 2), s), reconstruct_responses(s), sift_rules(),
    sift_items(q, factors = 4, keep = "p6", seed = 1),
    replay(sift_items(q, factors = 4, seed = 1), keep_people(q, cafe != "Harbour")),
    sift_paths(sift_items(q, factors = 4, seed = 1), replicates = 2, seed = 1),
    shorten_scales(q, size = 3, replicates = 2, seed = 1), demo_run())
}

# The largest share of any pair of two answers.
bubbles_share <- function(q) {
  a <- q$values$answers
  max(utils::combn(colnames(a), 2, function(p) max(prop.table(table(a[, p[1]], a[, p[2]])))))
}

test_that("every result has the one shape, prints within the width and returns itself", {
  withr::local_options(cli.width = 80, cli.num_colors = 1)
  for (x in results()) {
    expect_named(unclass(x), c("values", "settings", "findings", "source", "call"))
    expect_named(x$findings, names(softsieve:::no_findings()))
    printed <- capture.output(back <- withVisible(print(x)))
    expect_identical(back$value, x)
    expect_lte(max(nchar(printed, "width")), 81)
    expect_s3_class(as_tibble(x), "tbl_df")
    expect_s3_class(as.data.frame(x), "data.frame")
  }
})

test_that("the prints hold the verdicts' numbers", {
  withr::local_options(cli.width = 100, cli.num_colors = 1)
  q <- motives()
  pa <- parallel_analysis(q, seed = 1)
  printed <- capture.output(print(pa))
  expect_match(printed[1], "suggests 4 factors")
  expect_match(printed, sprintf("^ +1 +%.2f ", as_tibble(pa)$eigenvalue[1]), all = FALSE)
  s <- factor_solution(q, seed = 1)
  shown <- capture.output(print(summary(s)))
  expect_match(shown,
    sprintf("^  p6 +\\.%02.0f +\\.%02.0f ", 100 * s$values$loadings["p6", "F1"],
      100 * s$values$loadings["p6", "F2"]),
    all = FALSE)
  expect_match(shown, "(reversed) ", fixed = TRUE, all = FALSE)
})

test_that("numbers lose no sign and gain no zero", {
  expect_identical(softsieve:::format_unit(c(0.5, -0.456, 1, -0.001, NA, 0)),
    c(".50", "-.46", "1.00", ".00", "", ".00"))
  expect_identical(softsieve:::format_number(c(-0.004, -1.5, 1234.567, NA)),
    c("0.00", "-1.50", "1,234.57", ""))
  expect_identical(softsieve:::format_p(c(0.0001, 0.0421)), c("p < .001", "p = .042"))
  expect_identical(softsieve:::name_culprits(letters[1:12]),
    "a, b, c, d, e, f, g, h, i, j and 2 more")
})

test_that("the eigenvalue figure draws the eigenvalues, the chance levels and the cut", {
  pa <- parallel_analysis(motives(), seed = 1)
  built <- ggplot2::ggplot_build(ggplot2::autoplot(pa))
  layer <- function(geom) which(vapply(built$plot$layers, function(l) inherits(l$geom, geom), NA))
  points <- built$data[[layer("GeomPoint")]]
  expect_equal(points$y, as_tibble(pa)$eigenvalue)
  expect_identical(length(unique(points$fill)), 2L)
  expect_identical(sum(points$fill == points$fill[1]), 4L)
  expect_equal(built$data[[layer("GeomRibbon")]]$ymax, as_tibble(pa)$chance_upper)
  expect_match(built$plot$labels$title, "4 factors exceed chance; 6 eigenvalues are above 1")
})

test_that("the loadings figure shows each salient loading once, negative ones as rings", {
  r <- known_correlations()
  turned <- c(1, -1, rep(1, 7))
  s <- factor_solution(r * (turned %o% turned), 3, n = 300, seed = 1)
  built <- ggplot2::ggplot_build(ggplot2::autoplot(s))
  discs <- built$data[[2]]
  expect_identical(nrow(discs), 9L)
  expect_identical(length(unique(discs$fill)), 2L)
  expect_identical(sum(discs$fill == softsieve:::sieve_colour("paper")), 1L)
  expect_identical(nrow(built$data[[1]]), 18L)
})

test_that(
  paste(
    "the figures of answers, people, missing answers, pairs, correlations and adequacy draw what",
    "the results hold"),
  {
    q <- motives()
    layers <- function(x, ...) ggplot2::ggplot_build(ggplot2::autoplot(x, ...))$data
    items <- profile_items(q)
    bars <- layers(items)[[1]]
    expect_equal(sort(bars$xmax - bars$xmin), sort(items$values$counts$share))
    middle <- bars[bars$fill == softsieve:::answer_colours(5)[3], ]
    expect_equal(middle$xmin, -middle$xmax) # the middle answer stands astride the line
    people <- as_tibble(profile_respondents(q))
    points <- layers(profile_respondents(q))[[3]]
    expect_equal(sort(points$y), sort(-log10(people$p)))
    expect_identical(sum(points$fill == softsieve:::sieve_colour("turned")),
      sum(nzchar(people$flags)))
    gaps <- layers(q)[[1]]
    expect_identical(
      sum(gaps$fill == softsieve:::sieve_colour("turned")),
      13L) # the 13 commonest patterns miss one each
    r <- correlate_items(q)
    cells <- layers(r)[[2]]
    expect_identical(nrow(cells), 325L)
    expect_setequal(as.numeric(cells$label),
      round(100 * r$values$correlations[upper.tri(diag(26))]))
    few <- keep_items(q, t1:t4)
    bubbles <- layers(few, "pairs")[[3]]
    bubbles$PANEL <- droplevels(bubbles$PANEL)
    joint <- table(few$values$answers[, "t1"], few$values$answers[, "t2"])
    expect_identical(length(unique(bubbles$PANEL)), 6L)
    cells <- layers(few, "pairs")[[4]] # a correlation in each cell, and nothing in the upper half
    expect_setequal(cells$label,
      softsieve:::format_unit(correlate_items(few)$values$correlations[upper.tri(diag(4))]))
    expect_identical(sort(unique(as.character(cells$PANEL))), sort(levels(bubbles$PANEL)))
    expect_equal(sort(bubbles$size[bubbles$PANEL == bubbles$PANEL[1]]^2 / max(bubbles$size)^2),
      sort(as.numeric(joint[joint > 0] / sum(joint))) / max(bubbles_share(few)), tolerance = 1e-6)
    expect_error(ggplot2::autoplot(q, "pairs"), "up to 12 items", class = "softsieve_error_items")
    set.seed(1)
    sliders <- questionnaire(data.frame(a = runif(90, 0, 100), b = rnorm(90),
      c = sample(5, 90, replace = TRUE)))
    expect_identical(
      nlevels(droplevels(layers(sliders, "pairs")[[3]]$PANEL)),
      3L) # many answers are put into bins
    profiled <- profile_items(sliders)
    expect_equal(tapply(profiled$values$bins$share, profiled$values$bins$item, sum),
      c(a = 1, b = 1), ignore_attr = TRUE)
    expect_equal(nrow(layers(profiled, what = "bins")[[1]]), 20)
    expect_error(ggplot2::autoplot(items, what = "bins"), "more than 16",
      class = "softsieve_error_figure")
    adequacy <- layers(assess_factorability(q))
    expect_equal(adequacy[[4]]$x, as_tibble(assess_factorability(q))$adequacy)
    expect_error(plot(form_scales(q)), "has a figure", class = "softsieve_error_class")
  })

test_that("the palette keeps apart in grey what the figures keep apart by colour", {
  grey <- function(colour) {
    sum(grDevices::col2rgb(softsieve:::sieve_colour(colour)) * c(.2126, .7152, .0722)) / 255
  }
  expect_gt(abs(grey("kept") - grey("chance")), .3)
  expect_gt(abs(grey("kept") - grey("paper")), .5)
  expect_gt(abs(grey("turned") - grey("kept")), .08)
})

test_that("text commands do not load ggplot2", {
  code <- paste("library(softsieve); q <- questionnaire(repair_cafe, codebook =",
    "repair_cafe_codebook, id = person, group = cafe);",
    "invisible(capture.output(print(factor_solution(q, seed = 1)))); cat('ggplot2'",
    "%in% loadedNamespaces())")
  expect_identical(
    system2(file.path(R.home("bin"), "Rscript"), c("-e", shQuote(code)), stdout = TRUE),
    "FALSE")
})
