# Solution files: read back to the last bit, without answers, refused when they are not whole.

saved <- function(x, env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ".json", .local_envir = env)
  write_solution(x, file)
  file
}

parts_of_result <- function(x) {
  x <- unclass(softsieve:::without_people(x))
  x$call <- NULL
  # (what a result held when it was made: a file holds less)
  attr(x, "holds") <- NULL
  if (!is.null(x$values$item_correlations)) attr(x$values$item_correlations, "holds") <- NULL
  x
}

test_that("solutions of every kind come back bit for bit, and score the same", {
  q <- motives()
  solutions <- list(oblimin = solution4(),
    components = rotate_factors(extract_components(q, 3), "varimax", seed = 1),
    named = name_factors(factor_solution(q, 2, seed = 1, starts = 3), c("\u00e4 \"b\"", "c\\n")),
    polychoric = factor_solution(correlate_items(keep_items(q, m1:t6), kind = "polychoric"), 2,
      method = "wls", seed = 1, starts = 3),
    matrix = factor_solution(known_correlations(), 3, n = 300, seed = 1, starts = 3),
    covariances = rotate_factors(extract_components(q, 2, analyse = "covariances"), "promax",
      seed = 1, starts = 3),
    target = rotate_factors(extract_factors(known_correlations(), 3, n = 300), "target",
      target = ifelse(known_pattern() == 0, 0, NA), seed = 1, starts = 3))
  for (name in names(solutions)) {
    x <- solutions[[name]]
    y <- read_solution(saved(x))
    expect_identical(parts_of_result(y), parts_of_result(x), info = name)
    expect_identical(class(y), class(x))
    if (name == "matrix" || name == "target") next
    expect_identical(predict(y, repair_cafe), predict(x, repair_cafe), info = name)
    expect_identical(coef(score_formula(y)), coef(score_formula(x)), info = name)
  }
  expect_output(print(read_solution(saved(solutions$oblimin))), "loadings|factors")
  scales <- form_scales(solutions$oblimin)
  again <- read_solution(saved(scales))
  expect_identical(predict(again, repair_cafe), predict(scales, repair_cafe))
})

test_that("a solution file holds nobody's answers", {
  x <- solution4()
  text <- readLines(saved(x))
  expect_no_match(text, "p0001|Harbour")
  expect_lt(sum(nchar(text)), 150000)
  y <- read_solution(saved(x))
  expect_null(y$values$item_correlations$values$questionnaire)
  expect_error(score_respondents(y), class = "softsieve_error")
})

test_that("numbers of every kind survive", {
  x <- list(a = c(pi, 1e-300, -1e300, 0.1 + 0.2, NA), b = c(Inf, -Inf, NaN, NA, 1 / 3),
    c = c(1L, NA), d = c("a\n\"\\\u00e4\u2028", NA, ""), e = c(TRUE, NA), f = NULL, g = numeric(),
    h = character(), i = matrix(1:6 / 7, 2, dimnames = list(NULL, c("x", "y", "z"))),
    j = tibble::tibble(u = 1:2, v = c("p", NA), w = list(1, NULL)), k = factor(c("b", "a")),
    l = list(1, list(2, "x")), m = list(), n = c(one = 1, two = 2), o = .Machine$double.xmin,
    p = 2^53 + 2, q = structure(list(1, 2), names = c("", "b")), r = -0.0,
    s = as.Date("2026-01-02"))
  back <- softsieve:::from_exact(softsieve:::parse_exact(softsieve:::exact_json(x)))
  for (name in names(x)) expect_identical(back[[name]], x[[name]], info = name)
  expect_identical(1 / back$r, -Inf)
  set.seed(1)
  random <- c(runif(2000), rnorm(2000) * 10^sample(-300:300, 2000, TRUE))
  back <- softsieve:::from_exact(softsieve:::parse_exact(softsieve:::exact_json(random)))
  expect_identical(back, random)
})

test_that("a file of version 1 is read, by the names of today", {
  s <- solution4()
  now <- readLines(saved(s))
  old <- sub("\"version\":2", "\"version\":1", now, fixed = TRUE)
  for (name in c(cumulative_share = "running_share", normalization = "row_weights")) {
    new <- c(running_share = "cumulative_share", row_weights = "normalization")[[name]]
    expect_true(any(grepl(sprintf("\"%s\"", new), old, fixed = TRUE)))
    old <- gsub(sprintf("\"%s\"", new), sprintf("\"%s\"", name), old, fixed = TRUE)
  }
  back <- read_solution(local_file(old, ".json"))
  expect_identical(back$settings$normalization, "none")
  expect_identical(back$values$variance, s$values$variance)
})

test_that("files that are spoiled are refused, by name, and nothing in them runs", {
  file <- saved(solution4())
  text <- paste(readLines(file), collapse = "\n")
  refused <- function(text, what) {
    bad <- local_file(text, ".json")
    expect_error(read_solution(bad), what, class = "softsieve_error_solution")
  }
  refused(substr(text, 1, nchar(text) / 2), "not JSON, or not whole")
  refused("{}", "`format` is not")
  refused("[1, 2]", "`format` is not")
  refused("3", "`format` is not")
  # (a reader of JSON that takes this for a pattern of text ends R)
  refused(paste0("[1, 2", strrep("%s", 40), "%n]"), "not JSON")
  spoiled <- gsub("(\"kind\":\\{\"words\":\\[)\"[a-z]+\"", "\\11000", text)
  expect_false(spoiled == text)
  refused(spoiled, "no kind of correlation")
  two <- "\"kind\":{\"flags\":[true,false"
  refused(gsub("\"kind\":\\{\"words\":\\[\"[a-z]+\"", two, text), "is not one word")
  refused(sub("\"version\":2", "\"version\":3", text), "version 3")
  refused(gsub("\"factor_solution\"", "\"function\"", text), "class function")
  refused(sub("\"loadings\"", "\"laodings\"", text, fixed = TRUE), "loadings are not a matrix")
  refused(gsub("\"settings\":", "\"setings\":", text, fixed = TRUE), "has no settings")
  refused(gsub("{\"nothing\":true}", "{\"run\":\"system('x')\"}", text, fixed = TRUE), "one kind")
  for (spoil in list(function(v) `[[<-`(v, "loadings", `[<-`(v$loadings, 1, 1, Inf)),
    function(v) `[[<-`(v, "loadings", `rownames<-`(v$loadings, rev(rownames(v$loadings)))))) {
    one <- solution4()
    one$values <- spoil(one$values)
    refused(softsieve:::solution_text(one), "loadings")
  }
  expect_error(write_solution(motives(), file), class = "softsieve_error_class")
  expect_error(write_solution(solution4(), "a.rds"), class = "softsieve_error_ending")
  expect_error(read_solution("nowhere.json"), class = "softsieve_error_file_missing")
  # bytes changed at random: a solution, or an error of ours
  withr::local_seed(3)
  bytes <- charToRaw(text)
  for (i in 1:60) {
    one <- bytes
    at <- sample(length(one), 3)
    one[at] <- as.raw(sample(32:126, 3, TRUE))
    bad <- withr::local_tempfile(fileext = ".json")
    writeBin(one, bad)
    got <- tryCatch(read_solution(bad), error = function(e) e)
    expect_true(inherits(got, c("factor_solution", "softsieve_error")), info = i)
  }
})

test_that("solution files fit their schema, which other files do not", {
  schema <- system.file("schema", "solution.schema.json", package = "softsieve")
  made <- jsonlite::toJSON(softsieve:::solution_schema(), auto_unbox = TRUE, digits = NA,
    null = "null")
  expect_identical(jsonlite::read_json(schema), jsonlite::parse_json(made))
  node <- Sys.which("node")
  modules <- Sys.getenv("SOFTSIEVE_NODE_MODULES")
  skip_if(!nzchar(node) || !dir.exists(file.path(modules, "ajv")), "node and ajv are not here")
  good <- saved(solution4())
  bad <- local_file(sub("\"words\"", "\"wrods\"", readLines(good)), ".json")
  script <- withr::local_tempfile(fileext = ".js", lines = c(
    "const Ajv = require('ajv/dist/2020');", "const fs = require('fs');",
    "const read = f => JSON.parse(fs.readFileSync(f));",
    "const valid = new Ajv({strict: true, allowUnionTypes: true}).compile(read(process.argv[2]));",
    "console.log(JSON.stringify(process.argv.slice(3).map(f => valid(read(f)))));"))
  withr::local_envvar(NODE_PATH = modules)
  said <- system2(node, shQuote(c(script, schema, good, bad)), stdout = TRUE)
  expect_identical(said, "[true,false]")
})
