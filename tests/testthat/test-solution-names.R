# Names of factors, help with finding them, and marks of items.

named4 <- function() {
  s <- factor_solution(motives(), 4, seed = 1, starts = 5)
  name_factors(s, c(F1 = "thrift", F2 = "planet", F3 = "pleasure in mending"))
}

# Of a bare matrix: items without wordings.
solution_of_matrix <- function() {
  r <- known_correlations()
  factor_solution(correlate_items(r, n = 300), 3, seed = 1, starts = 3)
}

test_that("names stand wherever factors are told", {
  s <- named4()
  names <- c("thrift", "planet", "pleasure in mending", "F4")
  v <- s$values
  expect_identical(colnames(v$loadings), names)
  expect_identical(colnames(v$structure), names)
  expect_identical(dimnames(v$factor_correlations), list(names, names))
  expect_identical(v$variance$factor, names)
  expect_identical(s$settings$factor_names, stats::setNames(names, paste0("F", 1:4)))
  expect_true(all(names %in% names(as_tibble(pattern_table(s, sort = "size")))))
  expect_identical(unique(form_scales(s)$values$scales$scale), names)
  expect_true(all(names %in% names(score_respondents(s, motives())$values$scores)))
  expect_true(all(names %in% colnames(hierarchical_form(s)$values$loadings)))
  expect_match(paste(capture.output(print(s)), collapse = "\n"), "thrift +planet +mending")
  file <- withr::local_tempfile(fileext = ".csv")
  write_table(pattern_table(s), file)
  expect_true("pleasure in mending" %in% names(read.csv(file, check.names = FALSE)))
  # nothing but names changes
  plain <- factor_solution(motives(), 4, seed = 1, starts = 5)
  expect_equal(unname(coef(s)), unname(coef(plain)))
  expect_equal(s$values$fit, plain$values$fit)
})

test_that("names can be given in order, changed, and taken back", {
  s <- factor_solution(keep_items(motives(), m1:t6), 2, seed = 1, starts = 3)
  one <- name_factors(s, c("mending", "thrift"))
  expect_identical(colnames(coef(one)), c("mending", "thrift"))
  two <- name_factors(one, c(thrift = "saving"))
  expect_identical(colnames(coef(two)), c("mending", "saving"))
  expect_identical(colnames(coef(name_factors(two, c(F2 = "money")))), c("mending", "money"))
  back <- name_factors(two, c(mending = "F1", saving = "F2"))
  expect_null(back$settings$factor_names)
  components <- factor_solution(keep_items(motives(), m1:t6), 2, method = "components", seed = 1,
    starts = 3)
  expect_identical(colnames(coef(name_factors(components, c(C2 = "x")))), c("C1", "x"))
})

test_that("rotating again, and a solution of nearly the same items, keep the names and say so", {
  s <- named4()
  g <- rotate_factors(s, "geomin", starts = 5, seed = 1)
  expect_setequal(colnames(coef(g)), colnames(coef(s)))
  for (f in colnames(coef(s))) expect_gt(cor(coef(g)[, f], coef(s)[, f]), .98)
  expect_match(g$findings$text[g$findings$code == "names_kept"], "thrift \\(F[1-4], congruence")
  fewer <- factor_solution(keep_items(motives(), -c(o1, o2, p6)), 4, seed = 1, starts = 5)
  again <- name_factors(fewer, s)
  shared <- fewer$values$items$item
  for (f in c("thrift", "planet", "pleasure in mending")) {
    expect_gt(cor(coef(again)[, f], coef(s)[shared, f]), .98)
  }
  two <- name_factors(factor_solution(motives(), 2, seed = 1, starts = 5), s)
  expect_true("names_lost" %in% two$findings$code)
  expect_error(name_factors(s, fewer), class = "softsieve_error_names")
})

test_that("names that cannot be are refused in words", {
  s <- named4()
  refused <- function(names, text) {
    expect_error(name_factors(s, names), text, class = "softsieve_error_names")
  }
  refused(c(F9 = "x"), "No factor is called F9")
  refused(c(F1 = "x", F2 = "x"), "Twice: x")
  refused(c(F1 = "x", thrift = "y"), "named once")
  refused(c(F1 = " "), "1 to 60 letters")
  refused(c(F1 = "a\nb"), "on one line")
  refused(c(F1 = strrep("x", 61)), "1 to 60 letters")
  refused(c(F1 = "communality"), "Taken: communality")
  refused(c(F1 = "cafe"), "Taken: cafe")
  refused(c(F1 = "F2"), "plain name of another")
  refused(c("a", "b"), "2 names for 4 factors")
  refused(1:4, "must be words")
  refused(c(F1 = NA_character_), "must be words")
  refused(c(F4 = "Thrift"), "Twice: Thrift")
  # whatever else is written is a name, and no code
  odd <- name_factors(s, c(F1 = "<b>`system('ls')`</b>"))
  asked <- list(values = list(questionnaire = motives()))
  context <- softsieve:::html_context(asked, "a", softsieve:::new_counts())
  block <- softsieve:::show_table(odd, "variance")[[1]]
  expect_match(as.character(softsieve:::html_table(block, context)[[1]]), "&lt;b&gt;`system",
    fixed = TRUE)
})

test_that("help to name: strongest items, telling words, and what speaks against", {
  d <- data.frame(item = paste0("q", 1:8),
    wording = c("I like gardens", "Garden work is fine", "A garden for all", "My lawn is dull",
      "Boats are fun", "A boat at sea", "The boat waits", "Gardens need boats"))
  l <- matrix(0, 8, 2)
  l[1:4, 1] <- c(.8, .7, .6, -.6)
  l[5:8, 2] <- c(.8, .7, .6, .5)
  l[8, 1] <- .35
  set.seed(1)
  x <- as.data.frame(with_correlations(known_correlations(l, diag(2)), 200))
  names(x) <- d$item
  s <- factor_solution(questionnaire(round(x, 3), codebook = d), 2, rotation = "varimax", seed = 1)
  h <- name_factors(s, strongest = 2)
  v <- h$values
  garden <- v$factors[which.max(abs(coef(s)["q1", ]))]
  own <- v$strongest[v$strongest$factor == garden, ]
  expect_identical(own$item, c("q1", "q2", "q4"))
  expect_identical(own$direction, c("high", "high", "low"))
  expect_identical(unname(own$agree), c(TRUE, TRUE, FALSE))
  # m4 was reverse-scored by its key: who likes mending does not say that it bores them
  all <- name_factors(named4(), strongest = 9)$values$strongest
  expect_gt(all$loading[all$item == "m4"], .3)
  expect_false(all$agree[all$item == "m4"])
  expect_true(all$agree[all$item == "m1"])
  words <- v$words[v$words$factor == garden, ]
  expect_identical(words$word, "garden")
  expect_identical(words$own, 3L)
  expect_identical(words$others, 1L)
  expect_identical(v$words$word[v$words$factor != garden], "boat")
  against <- v$against[v$against$factor == garden, ]
  expect_identical(against$item, "q8")
  expect_identical(against$why, "elsewhere")
  expect_identical(nrow(name_factors(s, strongest = 1)$values$strongest), 3L)
  expect_output(print(h), "disagree +q4")
  expect_identical(name_factors(solution_of_matrix())$findings$code, "no_wordings")
})

test_that("marks: each by its limit, with what breaks it", {
  l <- cbind(c(.8, .7, .6, .5, .1, -.6, .45), c(0, .1, .35, .35, .1, 0, .2))
  r <- known_correlations(l, diag(2))
  s <- factor_solution(correlate_items(r, n = 300), 2, rotation = "varimax", seed = 1)
  # as if these were the loadings: what is marked depends on them alone
  s$values$loadings[] <- l
  s$values$items$communality <- rowSums(l^2)
  marked <- function(...) {
    m <- pattern_table(s, ...)$values$marks
    split(m$item, m$mark)
  }
  items <- rownames(coef(s))
  m <- marked(weak_below = .3, cross_loading_from = .3, cross_loading_within = 0,
    communality_below = .2)
  expect_identical(m, list(against = items[6], cross_loading = items[3:4], low = items[5],
    weak = items[5]))
  expect_identical(marked(cross_loading_within = .26)$cross_loading, items[c(3, 4, 7)])
  expect_identical(marked(cross_loading_from = .36, cross_loading_within = .2)$cross_loading,
    items[4])
  expect_identical(marked(weak_below = .55)$weak, items[c(4, 5, 7)])
  expect_identical(marked(communality_below = .3)$low, items[c(5, 7)])
  p <- pattern_table(s)
  cross <- p$values$marks[p$values$marks$mark == "cross_loading", ]
  expect_equal(cross$value, c(.35, .35))
  expect_identical(unique(cross$source), "Howard (2016)")
  expect_identical(p$values$table$marks[p$values$table$item == items[5]], "weak, low")
  # an item that turned against its factor says so, until it is reverse-scored
  q <- questionnaire(transform(repair_cafe[-(1:2)], m2 = 6 - m2))
  told <- pattern_table(factor_solution(q, 4, seed = 1, starts = 5))
  expect_true("m2" %in% told$values$marks$item[told$values$marks$mark == "against"])
  expect_false("m2" %in% pattern_table(named4())$values$marks$item)
  # before rotation neither cross-loading nor against is told
  raw <- pattern_table(extract_factors(motives(), 4))$values$marks$mark
  expect_false(any(c("cross_loading", "against") %in% raw))
})

test_that("the pattern in every order, with structure, and within 80 columns", {
  s <- named4()
  t <- function(sort) pattern_table(s, sort = sort)$values$table
  expect_identical(t("questionnaire")$item, s$values$items$item)
  expect_false(is.unsorted(-t("communality")$communality))
  size <- apply(abs(coef(s)), 1, max)
  expect_identical(t("size")$item, names(sort(-size)))
  beside <- as_tibble(pattern_table(s, structure = TRUE, sort = "questionnaire"))
  expect_equal(beside$structure_F4, unname(s$values$structure[, "F4"]))
  # equal loadings stay in the questionnaire's order
  flat <- matrix(.6, 5, 5)
  diag(flat) <- 1
  dimnames(flat) <- rep(list(letters[5:1]), 2)
  even <- factor_solution(correlate_items(flat, n = 100), 1, seed = 1)
  expect_identical(pattern_table(even)$values$table$item, letters[5:1])
  many <- extract_factors(motives(), 12, seed = 1)
  for (x in list(pattern_table(s, structure = TRUE), pattern_table(many, hide_below = 0))) {
    withr::local_options(cli.width = 80, cli.num_colors = 1)
    lines <- capture.output(print(x))
    expect_lte(max(nchar(lines)), 80)
    # every loading is there in full
    k <- length(x$values$factors)
    shown <- sum(lengths(regmatches(lines, gregexpr("-?[.][0-9]{2}|1[.]00", lines))))
    expect_gte(shown, sum(!is.na(as.matrix(x$values$table[x$values$factors]))))
  }
  withr::local_options(cli.width = 120)
  wide <- capture.output(print(pattern_table(factor_solution(motives(), 4, seed = 1, starts = 5))))
  expect_match(wide, "uniqueness +complexity", all = FALSE)
})
