# The report: content against the objects, in all papers; escaping; prose; in a real browser.

# Runs fixtures/page.js, which opens the page in Chromium.
look_at_page <- function(file, part = "all") {
  chromium <- Sys.which("chromium")
  modules <- Sys.getenv("SOFTSIEVE_NODE_MODULES")
  skip_if(!nzchar(chromium) || !dir.exists(file.path(modules, "playwright-core")), "no browser")
  pdf <- file.path(dirname(file), "page.pdf")
  script <- normalizePath(test_path("fixtures", "page.js"))
  arguments <- c(script, normalizePath(file), modules, chromium, pdf, part)
  said <- system2("node", shQuote(arguments), stdout = TRUE)
  c(jsonlite::fromJSON(said), list(pdf = pdf))
}

# Titles, and numbers from every part of a study, as its papers must show them.
titles_of <- function(study) vapply(softsieve:::sections_of(study), `[[`, "", "title")
numbers_of <- function(study) {
  v <- study$values
  unit <- softsieve:::format_unit
  loadings <- coef(v$solution)
  largest <- loadings[cbind(seq_len(nrow(loadings)), max.col(abs(loadings)))]
  c(unit(v$factorability$values$adequacy), study$source$fingerprint,
    unit(v$reliability$values$scales$omega), unit(largest[abs(largest) >= .3]),
    softsieve:::format_number(v$count$values$eigenvalues$eigenvalue[1:4]), "Harman, H. H.",
    "lowest_uniqueness: 0.005")
}

test_that("every section, table and number is in the page and in the Markdown", {
  study <- run_study(few_study(withr::local_tempdir()))
  dir <- withr::local_tempdir()
  files <- file.path(dir, c("r.html", "r.md"))
  for (file in files) write_report(study, file)
  html <- page_text(files[1])
  md <- gsub("\\", "", page_text(files[2]), fixed = TRUE)
  titles <- titles_of(study)
  expect_length(titles, 15)
  said <- c(titles, numbers_of(study), "seed: 5")
  for (text in said) {
    expect_match(html, as.character(htmltools::htmlEscape(text)), fixed = TRUE)
    expect_match(md, text, fixed = TRUE)
  }
  # figures: in the page, and beside the Markdown
  expect_identical(lengths(regmatches(html, gregexpr("data:image/png;base64,", html))), 7L)
  expect_length(list.files(file.path(dir, "r_figures")), 7)
  for (link in regmatches(md, gregexpr("<r_figures/[^>]+>", md))[[1]]) {
    expect_true(file.exists(file.path(dir, gsub("[<>]", "", link))))
  }
  # the same study gives the same bytes, and needs nothing from outside
  write_report(study, file.path(dir, "again.html"))
  sums <- unname(tools::md5sum(file.path(dir, c("r.html", "again.html"))))
  expect_identical(sums[1], sums[2])
  expect_no_match(html, "(src|href)=\"(?!data:|#)", perl = TRUE)
  expect_error(write_report(study, "r.pdf"), class = "softsieve_error_ending")
  expect_error(write_report(list(study, 1), "r.html"), class = "softsieve_error_class")
  expect_error(write_report(list(), "r.html"), class = "softsieve_error_class")
  expect_error(write_report(data.frame(a = 1), "r.html"), class = "softsieve_error_class")
})

test_that("every section, table and number is in the Word file, with figures at 300 dots", {
  # (the library that writes Word takes long: a study of few items)
  study <- run_study(few_study(withr::local_tempdir()))
  dir <- withr::local_tempdir()
  withr::local_dir(dir)
  write_report(study, "r.docx")
  utils::unzip("r.docx", exdir = "word")
  word <- xml2::xml_text(xml2::read_xml("word/word/document.xml"))
  # (the glossary, tables of rules and figures of spread are for the browser)
  titles <- setdiff(titles_of(study), "Words and numbers")
  for (text in c(titles, numbers_of(study))) expect_match(word, text, fixed = TRUE)
  pictures <- list.files("word/word/media", full.names = TRUE)
  expect_length(pictures, 6)
  wide <- vapply(pictures, function(p) sum(as.integer(readBin(p, "raw", 20)[17:20]) * 256^(3:0)), 0)
  expect_true(all(abs(wide / 6.5 - 300) < 1))
})

test_that("hostile wording, names and titles are shown as they are, and nothing else", {
  dir <- withr::local_tempdir()
  bad <- "</script><script>alert(1)</script><img src=x onerror=alert(2)>"
  file <- few_study(dir)
  write(c(sprintf("title: \"%s & *x* | [a](b)\"", bad),
    "decisions: [{name: F1, as: '<b onclick=alert(3)>'}, {drop: m2, why: \"`rm` $x$ </td>\"}]"),
  file, append = TRUE)
  book <- readLines(file.path(dir, "codebook.csv"))
  book[2] <- sub("I enjoy[^,]*", paste0(bad, "\" onfocus=\"alert(4)"), book[2])
  book[2] <- sub(paste0(bad, "\" onfocus=\"alert(4)"),
    "\"<i onmouseover=alert(4)>\"\" onfocus=\"\"alert(4)\"", book[2], fixed = TRUE)
  writeLines(book, file.path(dir, "codebook.csv"))
  study <- run_study(file)
  expect_match(study$values$questionnaire$values$items$wording[1], "onfocus=\"alert", fixed = TRUE)
  for (ending in c("html", "md")) write_report(study, file.path(dir, paste0("r.", ending)))
  html <- page_text(file.path(dir, "r.html"))
  expect_identical(lengths(regmatches(html, gregexpr("<script", html, fixed = TRUE))), 1L)
  expect_match(html, "&lt;b onclick=alert(3)&gt;", fixed = TRUE)
  parsed <- xml2::read_html(html)
  expect_length(xml2::xml_find_all(parsed, "//*[@onclick or @onfocus or @onerror]"), 0)
  md <- page_text(file.path(dir, "r.md"))
  # (the study at the end stands in a block of code)
  running <- grep("^    ", strsplit(md, "\n")[[1]], value = TRUE, invert = TRUE)
  expect_no_match(running, "(?<!\\\\)<(script|b|i|img)", perl = TRUE)
  expect_no_match(running, "(?<!\\\\)\\[a(?<!\\\\)\\]", perl = TRUE)
  if (nzchar(Sys.getenv("SOFTSIEVE_NODE_MODULES"))) {
    seen <- look_at_page(file.path(dir, "r.html"), "load")
    expect_length(seen$errors, 0)
  }
})

test_that("the page works in a browser: links, wording, slider, sorting, phone, print, no script", {
  dir <- withr::local_tempdir()
  study <- demo_run()
  write_report(study, file.path(dir, "r.html"))
  seen <- look_at_page(file.path(dir, "r.html"))
  expect_length(seen$errors, 0)
  expect_length(seen$requests, 0)
  expect_lte(seen$wide, 0)
  expect_lte(seen$narrow, 0)
  expect_length(seen$axe, 0)
  expect_length(seen$axe_dark, 0)
  expect_identical(seen$dead_links, 0L)
  expect_true(seen$jumped)
  expect_identical(
    unlist(seen[c("tip_before", "tip_hover", "tip_focus", "tip_tap")], use.names = FALSE),
    c("none", "block", "block", "block"))
  expect_match(seen$tip_text, repair_cafe_codebook$wording[repair_cafe_codebook$item == "t2"])
  loadings <- abs(coef(study$values$solution))
  expect_identical(seen$shown_at_first, sum(loadings >= .3))
  expect_identical(seen$shown_all, length(loadings))
  expect_identical(seen$shown_half, sum(loadings >= .5))
  expect_match(seen$said, sprintf("%d of 104", sum(loadings < .5)))
  expect_identical(seen$items_first, study$values$pattern$values$table$item)
  expect_equal(seen$sorted, sort(unname(coef(study$values$solution)[, 1]), decreasing = TRUE))
  expect_identical(seen$aria_sort, "descending")
  expect_identical(seen$by_name, sort(rownames(loadings)))
  expect_identical(seen$items_back, seen$items_first)
  expect_identical(seen$dark, "rgb(22, 29, 32)")
  expect_true(seen$without_script)
  # on paper every wording is whole on one page: no row is broken
  skip_if(!nzchar(Sys.which("pdftotext")), "no pdftotext")
  text <- system2("pdftotext", c("-layout", seen$pdf, "-"), stdout = TRUE)
  pages <- strsplit(paste(text, collapse = "\n"), "\f", fixed = TRUE)[[1]]
  for (page in pages[-1]) {
    first <- sub("^\\s*", "", strsplit(sub("^\n*", "", page), "\n")[[1]][1])
    rest <- sub("^\\S+\\s+", "", repair_cafe_codebook$wording)
    expect_false(first %in% rest)
  }
})

test_that("two studies stand side by side, and are compared", {
  dir <- withr::local_tempdir()
  one <- run_study(few_study(dir))
  half <- few_study(withr::local_tempdir())
  lines <- readLines(half)
  writeLines(sub("id: person", "id: person, filters: 'not cafe = Harbour'", lines), half)
  two <- run_study(half)
  for (ending in c("html", "md")) {
    write_report(list(all = one, harbour = two), file.path(dir, paste0("two.", ending)))
  }
  page <- xml2::read_html(file.path(dir, "two.html"))
  sections <- xml2::xml_find_all(page, "//section[@id='s-factors']//h3[@class='whose']")
  expect_identical(trimws(xml2::xml_text(sections)), c("all", "harbour"))
  expect_length(xml2::xml_find_all(page, "//section[@id='s-agree']//table"), 3)
  numbered <- xml2::xml_text(xml2::xml_find_all(page, "//caption/b"))
  expect_identical(numbered, sprintf("Table %d.", seq_along(numbered)))
  md <- page_text(file.path(dir, "two.md"))
  expect_identical(lengths(regmatches(md, gregexpr("### harbour", md))), 14L)
  ids <- xml2::xml_attr(xml2::xml_find_all(page, "//*[@id]"), "id")
  expect_identical(anyDuplicated(ids), 0L)
})

test_that("prose says the numbers in both languages, and every language has every sentence", {
  en <- softsieve:::languages()[["en"]]
  braces <- function(x) lapply(regmatches(x, gregexpr("\\{[a-z]+\\}", x)), sort)
  for (tongue in softsieve:::languages()) {
    expect_setequal(names(tongue$sentences), names(en$sentences))
    expect_setequal(names(tongue$words), names(en$words))
    same <- names(en$sentences)
    expect_identical(braces(tongue$sentences[same]), braces(en$sentences[same]))
    kinds <- sub("[.].*", "", names(tongue$methods))
    expect_true(all(kinds %in% c("kind", "missing", "basis", "chance", "extraction", "rotation",
      "rows", "score", "sifting", "mark", "make", "rule")))
    for (key in names(tongue$methods)) {
      kind <- sub("[.].*", "", key)
      family <- if (kind == "make") softsieve:::MAKES else softsieve:::method_families()[[kind]]
      known <- names(family)
      expect_true(sub("^[a-z]+[.]", "", key) %in% known, info = key)
    }
  }
  dir <- withr::local_tempdir()
  study <- run_study(demo_study(dir, c("scales: {replicates: 0}", "language: de",
    "sift: {run: true, keep: [p6]}",
    "decisions: [{drop: o2, why: Reise}, {number: 4, why: wie geplant}]")))
  prose <- softsieve:::prose_of(study)
  expect_no_match(unlist(prose), "[{}]")
  expect_match(prose$methods, "Nach einer Entscheidung entfielen o2 \\(Reise\\)")
  expect_match(prose$methods, "auf vier festgelegt \\(wie geplant\\)")
  expect_match(prose$methods, "Schwache Items wurden.*Kommunalit.t unter 0,20.*nicht f.r p6")
  comma <- function(...) sub(".", ",", sprintf(...), fixed = TRUE)
  adequacy <- study$values$factorability$values$adequacy
  expect_match(prose$results, comma("Stichprobeneignung betrug %.2f", adequacy), fixed = TRUE)
  omega <- study$values$reliability$values$scales$omega[1]
  expect_match(prose$results, comma("\u03c9 = %.2f", omega), fixed = TRUE)
  # other choices, other words
  others <- run_study(demo_study(withr::local_tempdir(), c(
    "correlations: {kind: spearman, missing: complete}",
    "factors: {method: components, rotation: varimax, number: 2, replicates: 40, starts: 5}",
    "scales: {replicates: 0, defined_by: codebook}"
  ), drop = "^factors|^  number|^  rotation|^  replicates|^  starts"))
  said <- softsieve:::prose_of(others)
  expect_match(said$methods, "Spearman correlations (Spearman, 1904)", fixed = TRUE)
  expect_match(said$methods, "rest on the 420 people who answered all items", fixed = TRUE)
  expect_match(said$methods, "rotated orthogonally by varimax (Kaiser, 1958)", fixed = TRUE)
  expect_match(said$results, "The two components extracted explained", fixed = TRUE)
  expect_no_match(said$results, "Correlations between")
  # components in the report: shares, and what each is made of
  page <- file.path(dir, "components.md")
  write_report(others, page)
  text <- gsub("\\", "", page_text(page), fixed = TRUE)
  expect_no_match(text, "df = NA", fixed = TRUE)
  expect_match(text, "Shares of the variance: C1 [0-9]+ %, C2 [0-9]+ %; together")
  expect_match(text, "C1: [0-9]+ % [a-z][0-9], ")
})
