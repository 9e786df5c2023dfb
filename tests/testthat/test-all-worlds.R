# What data unlike the demo brought to light (tests/worlds), each as a test of its own.

source(test_path("..", "worlds", "worlds.R"), local = TRUE)
world <- function(name) {
  set.seed(1)
  WORLDS[[name]]()
}
codes <- function(x) x$findings$code

test_that("measurements are counted and profiled; two items end in words; few answers are drawn", {
  m <- world("measurements")$answers
  expect_no_warning(tabulate_items(m))
  expect_no_warning(p <- profile_items(m))
  expect_identical(nrow(p$values$counts), 0L)
  two <- world("two_items")$answers
  expect_error(sift_items(two, seed = 1), "at least three", class = "softsieve_error_items")
  expect_false(any(c("same_answer", "long_runs") %in% codes(profile_respondents(two))))
  expect_true("same_answer" %in% codes(profile_respondents(answers_of(60L, 6L, 1L, 2L))))
  pairs <- softsieve:::describe_pairs(questionnaire(world("two_answers")$answers))
  expect_true(all(pairs$bars$x - pairs$bars$half >= 0 & pairs$bars$x + pairs$bars$half <= 1))
  r <- factor_solution(world("matrix_alone")$start, n = 150, factors = 2, seed = 1)
  expect_error(information_curves(r), "given as a matrix", class = "softsieve_error_kind")
})

test_that("a draw of people that leaves nobody out tells nothing of those left out", {
  few <- sift_items(world("three_more_people")$answers, factors = 1, passes = 1, seed = 1)
  expect_setequal(softsieve:::drawn_rows(11, 78607522, 10), 1:11)
  paths <- function(replicates) {
    suppressWarnings(sift_paths(few, replicates = replicates, steps = 1, seed = 78607522))
  }
  expect_identical(paths(10)$values$outside, paths(9)$values$outside)
})

test_that("a sifting that goes on takes what it uses, and refuses the rest", {
  x <- world("frame_alone")$answers
  begun <- sift_items(x, passes = 0, seed = 1, replicates = 50)
  expect_output(print(begun), "no more passes were asked for")
  expect_error(sift_items(begun, method = "ml", nonsense = 3), "`nonsense` and `method`",
    class = "softsieve_error_argument")
  expect_identical(sift_items(begun, keep = "q1")$settings$keep, "q1")
})

test_that("after a sifting by study all that is told is of the items left, with before and after", {
  study <- world("sifted_study")$start
  expect_false("edited_by_hand" %in% codes(study))
  expect_false("q9" %in% study$findings$item)
  expect_output(print(study), "8 items, 1 of 9 sifted out")
  trail <- study$values$sift$values$trail
  said <- sprintf("adequacy \\.%02.0f of all items, \\.%02.0f of those left",
    100 * trail$adequacy[1], 100 * trail$adequacy[nrow(trail)])
  expect_output(print(study), gsub("adequacy", "sampling adequacy", said))
  file <- withr::local_tempfile(fileext = ".md")
  write_report(study, file)
  report <- readLines(file)
  expect_match(report, "Sifting took out q9 \\(1 of 9 items\\)", all = FALSE)
  expect_match(report, "Sifting removed 1 of 9 items \\(q9 by .*\\); sampling adeq", all = FALSE)
  expect_no_match(report, "edited by hand")
})

test_that("the same thing noticed of several items is one sentence, and a row for each", {
  set.seed(2)
  x <- answers_of(150L, 8L)
  x$n1 <- sample(5, 150, TRUE)
  x$n2 <- sample(5, 150, TRUE)
  p <- pattern_table(factor_solution(x, 2, seed = 1))
  expect_setequal(p$findings$item[codes(p) == "no_salient_loading"], c("n1", "n2"))
  expect_output(print(p), "n1 and n2 load on no factor \\(all below .30\\)")
  # a serious one is not lost among cautions
  some <- p$findings[codes(p) == "no_salient_loading", ][c(1, 2, 2), ]
  some$severity <- c("caution", "serious", "caution")
  expect_identical(softsieve:::grouped_findings(some)$severity, c("caution", "serious"))
  # of groups, each is told
  by <- profile_items(questionnaire(cbind(x[1:4], g = rep(1:2, 75)), group = g), by = g)
  told <- softsieve:::grouped_findings(by$findings)
  expect_false(any(grepl("^q[0-9] and", told$text)))
})

test_that("scores say nothing of other people, nor of factors none of whose items were answered", {
  set.seed(1)
  s <- factor_solution(answers_of(200L), 2, seed = 1)
  new <- answers_of(30L)[c("q1", "q3", "q5", "q7")]
  scored <- score_respondents(s, questionnaire(new, codebook = book_of(names(new))))
  expect_false("no_codebook" %in% codes(scored))
  f <- scored$values$factors
  home <- names(which.max(abs(coef(s)["q1", ])))
  expect_identical(f$people, ifelse(f$factor == home, 30L, 0L))
  # determinacy of the four items, by its formula
  r <- s$values$item_correlations$values$correlations[names(new), names(new)]
  structure <- s$values$structure[names(new), ]
  expect_equal(f$determinacy, unname(sqrt(diag(t(structure) %*% solve(r, structure)))))
  # regression scores of these items have all that can be had
  expect_equal(f$validity, f$determinacy)
  expect_output(print(scored), "no items q2, q4, q6 and q8: everybody")
})

test_that("items that go the other way are told within each factor, and what cannot be told, too", {
  set.seed(4)
  x <- answers_of(300L, 12L, 3L)
  turned <- c("q2", "q6", "q1", "q4")
  x[turned] <- 6 - x[turned]
  found <- softsieve:::seem_reversed(as.matrix(x))
  # of the first factor's items as many go one way as the other
  expect_match(found$open, "q1 and q4")
  expect_match(found$open, "q7 and q10")
  expect_identical(names(found$against), c("q2", "q6"))
  x$q4 <- 6 - x$q4
  found <- softsieve:::seem_reversed(as.matrix(x))
  expect_identical(names(found$against), c("q1", "q2", "q6"))
  expect_true(all(found$against < -.3))
  # a column of yes and no alone, and one in a questionnaire that has more between
  ladders <- softsieve:::ladders_of(list(a = c("no", "yes")))
  expect_identical(ladders$a, c("no", "yes"))
  ladders <- softsieve:::ladders_of(list(a = c("no", "yes"), b = c("no", "rather yes")))
  expect_identical(lengths(ladders), c(a = 4L, b = 4L))
})

test_that("options are used or refused, before anything is computed", {
  dir <- withr::local_tempdir()
  utils::write.csv(world("frame_alone")$answers, file.path(dir, "a.csv"), row.names = FALSE)
  writeLines(c("answers: {file: a.csv}", "decisions: [{number: 3, why: planned}]"),
    file.path(dir, "s.yml"))
  withr::local_dir(dir)
  refused <- function(...) run_command(c("solve", "a.csv", ...))
  expect_match(refused("--out", "x.png")$err, "must end in .csv, .json, .md or .txt", all = FALSE)
  expect_match(refused("--seed", "1.5")$err, "one whole number", all = FALSE)
  expect_match(refused("--seed", "x")$err, "a number is expected", all = FALSE)
  expect_match(refused("--threads", "1.5")$err, "from 1 to 256", all = FALSE)
  expect_match(refused("--answers.items=")$err, "needs a value", all = FALSE)
  expect_match(refused("--format", "x")$err, "must be one of", all = FALSE)
  expect_false(any(grepl("Correlating", refused("--format", "x")$err)))
  # an option goes before the study's decision, and says so
  four <- run_command(c("solve", "s.yml", "--factors.number", "2"))
  expect_match(four$out, "^2 factors explain", all = FALSE)
  expect_match(four$err, "goes before decisions[1]", fixed = TRUE, all = FALSE)
  expect_match(run_command(c("solve", "s.yml"))$out, "^3 factors explain", all = FALSE)
  expect_identical(refused("--out", "s.json", "--quiet")$status, 0L)
  by <- run_command(c("score", "a.csv", "--solution", "s.json", "--factors.number", "2"))
  expect_match(by$err, "must be about the new answers", all = FALSE)
  # no line is wider than the window
  expect_lte(max(nchar(c(by$err, refused("--out", strrep("very long ", 20))$err))), 80)
})

test_that("numbers that differ look different beside their limit", {
  against <- softsieve:::format_against
  expect_identical(against(1.0912, 1.0934), "1.091 against 1.093")
  expect_identical(against(0.75, 1.18), "0.75 against 1.18")
  expect_identical(against(1, 1), "1.00 against 1.00")
  reason <- softsieve:::sift_reasons(
    data.frame(rule = "loading", value = .2999, limit = .3, why = "", who = "rule"))
  expect_identical(reason, "loading .2999 < .30")
})

test_that("what an earlier run left is taken up by other verbs, and left as it is", {
  dir <- withr::local_tempdir()
  utils::write.csv(world("one_factor")$answers, file.path(dir, "a.csv"), row.names = FALSE)
  writeLines(c("answers: {file: a.csv}", "scales: {replicates: 0}", "seed: 1"),
    file.path(dir, "s.yml"))
  withr::local_dir(dir)
  run_command(c("run", "s.yml", "--quiet"))
  stored <- file.path("results", "stages", "factorability.json")
  # (a number that only the store can tell)
  adequacy <- run_command(c("factorability", "s.yml", "--format", "json"))$out
  own <- format(jsonlite::fromJSON(adequacy)$values$adequacy, digits = 6)
  text <- paste(readLines(stored), collapse = "\n")
  changed <- gsub(own, "0.123456", text, fixed = TRUE)
  writeLines(changed, stored)
  # what somebody changed is worked out again; with the sum of what it holds it is what it is
  said <- run_command(c("factorability", "s.yml", "--quiet"))$out
  expect_no_match(said, "adequacy is .12", fixed = TRUE)
  sum_of <- function(text) rlang::hash(sub("^[^\n]*\n", "", text))
  expect_match(text, sum_of(text), fixed = TRUE)
  writeLines(sub(sum_of(text), sum_of(changed), changed, fixed = TRUE), stored)
  before <- tools::md5sum(list.files("results", recursive = TRUE, full.names = TRUE))
  for (from in c("s.yml", "results")) {
    said <- run_command(c("factorability", from, "--quiet"))$out
    expect_match(said, "adequacy is .12", fixed = TRUE, all = FALSE)
  }
  run_command(c("report", "s.yml", "--out", "r.md", "--quiet"))
  expect_match(readLines("r.md"), "adequacy is .12", fixed = TRUE, all = FALSE)
  after <- tools::md5sum(list.files("results", recursive = TRUE, full.names = TRUE))
  expect_identical(after, before)
  # not what no longer holds
  said <- run_command(c("factorability", "s.yml", "--quiet", "--correlations.kind", "spearman"))$out
  expect_no_match(said, "adequacy is .12", fixed = TRUE)
  expect_identical(run_command(c("compare", "results", "--with", "s.yml", "--quiet"))$status, 0L)
})

test_that("mixed kinds of items have the number of plain parallel analysis", {
  set.seed(9005) # (sequential analysis, whose draws are of Pearson correlations, says two)
  f <- matrix(rnorm(500))
  x <- as.data.frame(.65 * f[, rep(1, 8)] + sqrt(1 - .65^2) * matrix(rnorm(4000), 500))
  x[1:4] <- lapply(x[1:4], function(v) findInterval(v, c(-.8, .8)) + 1)
  count <- count_factors(x, kind = "mixed", seed = 1, replicates = 200)
  by_step <- count$values$rules$suggested[count$values$rules$rule == "sequential"]
  expect_identical(count$values$taken, 1L)
  expect_gt(by_step, 1L)
  expect_identical(count$values$taken_by, "parallel analysis")
  said <- capture.output(print(count))
  expect_match(said, "Taken: 1 factor, by parallel analysis. The probabilities", all = FALSE)
  # and the text to paste says so
  study <- studied(x, "correlations: {kind: mixed}")
  said <- softsieve:::prose_of(study)$methods
  expect_match(said, "was determined by parallel analysis")
  expect_no_match(said, "sequential|networks")
})

test_that("exports with three header rows are read, in numbers and in words", {
  file <- withr::local_tempfile(fileext = ".csv")
  head <- c("Id,q1,q2,q3", "Response,\"I like it, always\",Mending is fun,It saves money",
    paste(sprintf("\"{\"\"ImportId\"\":\"\"Q%d\"\"}\"", 0:3), collapse = ","))
  set.seed(2)
  at <- replicate(3, sample(4, 40, TRUE))
  words <- array(c("never", "sometimes", "often", "always")[at], dim(at))
  for (m in list(at, words)) {
    body <- paste0("R_", 1:40, ",", apply(m, 1, paste, collapse = ","))
    for (rows in 1:3) {
      writeLines(c(head[seq_len(rows)], body), file)
      read <- read_responses(file)
      expect_identical(dim(read), c(40L, 4L), info = rows)
      expect_equal(unname(as.matrix(read[-1])), unname(m), info = rows)
      if (rows > 1) expect_identical(attr(read$q1, "label"), "I like it, always")
    }
  }
  expect_match(attr(read, "reading")$text, "two lines below the names", all = FALSE)
  expect_identical(nrow(read_responses(file, header_rows = 1)), 42L)
})

test_that("JSON lines may hold many decimals, codebooks several documents", {
  file <- withr::local_tempfile(fileext = ".jsonl")
  writeLines(c('{"id": 12345678901234567890, "a": 0.1234567890123456789}', '{"a": 3}'), file)
  read <- read_responses(file)
  expect_identical(read$id, c("12345678901234567890", NA))
  expect_equal(read$a, c(0.1234567890123456789, 3))
  book <- local_file(c("---", "defaults: {lowest: 1, highest: 5}", "items:", "  - item: q1", "---",
    "items: [{item: q2, highest: 3}]", "---", "item: q3"), ".yml")
  read <- read_codebook(book)
  expect_identical(read$item, c("q1", "q2", "q3"))
  expect_identical(read$highest, c(5, 3, NA))
  expect_error(read_study(book), "one document.*holds 3", class = "softsieve_error_study")
  directed <- local_file(c("%YAML 1.1", "---", "items: [{item: q1}]", "..."), ".yml")
  expect_identical(read_codebook(directed)$item, "q1")
})

test_that("a new study proposes attention checks, drops stems, tells why, and writes all entries", {
  dir <- withr::local_tempdir()
  data <- repair_cafe
  data$attn <- ifelse(seq_len(nrow(data)) %% 40 == 1, 2, 4)
  data$age <- 20 + seq_len(nrow(data)) %% 40
  data$`odd[1]` <- rep(c("a b", "c"), length.out = nrow(data))
  data$m1 <- replace(as.character(data$m1), 5, "3?")
  label <- paste0("How often: ", repair_cafe_codebook$wording)
  head <- stats::setNames(rep("", ncol(data)), names(data))
  head[repair_cafe_codebook$item] <- label
  head["attn"] <- "Please choose 'mostly' here"
  file <- file.path(dir, "odd.csv")
  data <- rbind(head, as.data.frame(lapply(data, as.character), check.names = FALSE))
  utils::write.csv(data, file, row.names = FALSE, na = "")
  begun <- begin_study(file, dir, full = TRUE)
  role <- stats::setNames(begun$columns$role, begun$columns$column)
  expect_identical(role[["attn"]], "check")
  expect_identical(begun$checks$failed, 21L)
  expect_match(begun$checks$who, "p0001, p0041, .* and 11 more")
  expect_match(begun$said, "m1 (numbers, but for cells to mend: \"3?\")", fixed = TRUE, all = FALSE)
  expect_identical(begun$codebook$wording[1], repair_cafe_codebook$wording[2])
  # every entry stands in the file, once
  lines <- readLines(begun$files[1])
  known <- vapply(softsieve:::study_entries(), `[[`, "", "name")
  keys <- sub(".*[.]", "", known)
  for (key in keys) expect_match(lines, sprintf("^ *(# *)?%s:", key), all = FALSE)
  expect_s3_class(read_study(begun$files[1]), "softsieve_study")
  # one line leaves out who failed
  writeLines(sub("^  # filters:", "  filters:", lines), begun$files[1])
  asked <- softsieve:::questionnaire_of_study(read_study(begun$files[1])$settings)
  expect_identical(nrow(asked$values$answers), 819L)
  # questions that are all put as a request are no checks
  asks <- as.list(paste("Please answer how often:", letters[1:6]))
  few <- tibble::tibble(!!!stats::setNames(rep(list(rep(c(1, 1, 1, 2, 3), 40)), 6), letters[1:6]))
  few[] <- Map(function(x, label) structure(x, label = label), few, asks)
  expect_identical(unique(softsieve:::propose_columns(few)$role), "item")
  # columns kept apart are there for choosing people, under any name
  q <- questionnaire(read_responses(file), m2:p6, id = person)
  expect_identical(nrow(keep_people(q, age < 30, attn == 4)$values$answers),
    sum(20 + seq_len(840) %% 40 < 30 & seq_len(840) %% 40 != 1))
  expect_identical(nrow(keep_people(q, where = "`odd[1]` = c")$values$answers), 420L)
  expect_error(keep_people(q, where = "odd[1] = c"), "stand in backticks")
  some <- keep_people(keep_people(q, age < 30), attn == 4)
  expect_identical(nrow(some$values$apart), nrow(some$values$answers))
})

test_that("new people of a saved solution have ids, scale scores, findings of their own", {
  dir <- withr::local_tempdir()
  solution <- factor_solution(motives(), 4, seed = 1, starts = 2)
  file <- file.path(dir, "s.json")
  write_solution(solution, file)
  new <- repair_cafe[1:12, ]
  new$m1[2] <- 7
  path <- file.path(dir, "new.csv")
  utils::write.csv(new, path, row.names = FALSE, na = "")
  score <- function(...) {
    run_command(c("score", path, "--solution", file, "--answers.id", "person", ...))
  }
  refused <- score()
  expect_match(refused$err, "--answers.out_of_range missing", all = FALSE)
  got <- score("--answers.out_of_range", "missing", "--format", "csv")
  table <- utils::read.csv(text = got$out)
  expect_identical(table$person, new$person)
  # by another road
  q <- questionnaire(new, codebook = solution, id = person, out_of_range = "missing")
  scores <- score_respondents(solution, q)
  expect_equal(table[paste0("F", 1:4)], as.data.frame(as_tibble(scores))[paste0("F", 1:4)])
  on_scales <- as_tibble(score_respondents(form_scales(solution), q))
  expect_equal(table$F2_mean, on_scales$F2)
  expect_false(any(scores$findings$code == "n_of_tests"))
  expect_true(any(scores$findings$code == "out_of_range"))
  said <- score("--answers.out_of_range", "missing")
  expect_match(said$out, "^Next: --format csv", all = FALSE)
  expect_error(questionnaire(new["m1"], codebook = solution), class = "softsieve_error_codebook")
})

test_that("ids of many digits stay apart when they come from a database", {
  skip_if_not_installed("RSQLite")
  file <- withr::local_tempfile(fileext = ".sqlite")
  connection <- DBI::dbConnect(RSQLite::SQLite(), file)
  DBI::dbExecute(connection, "create table a (id integer, q1 integer, q2 integer)")
  ids <- c("1234567890123456789", "1234567890123456788", "100000")
  DBI::dbExecute(connection, sprintf("insert into a values %s",
    paste0("(", ids, ", ", c(1, 2, 3), ", 4)", collapse = ", ")))
  DBI::dbDisconnect(connection)
  read <- read_responses(database_table(file, "a"))
  expect_identical(read$id, ids)
  expect_equal(read$q1, 1:3)
})

test_that("no print is longer than a screen, unless it is asked for", {
  s <- factor_solution(world("long_questionnaire")$answers, 4, seed = 1, starts = 2)
  short <- capture.output(print(s))
  expect_lte(length(short), 50)
  expect_match(short, "more lines: print(x, lines = 999)", fixed = TRUE, all = FALSE)
  expect_gt(length(capture.output(print(s, lines = 999))), 50)
  expect_gt(length(capture.output(print(summary(s)))), 50)
  # what an earlier stage found is told once, then counted; a result's own findings always are
  some <- questionnaire(repair_cafe[1:301, ], codebook = repair_cafe_codebook, id = person)
  r <- correlate_items(some)
  chance <- r$findings$text[r$findings$code == "n_of_tests"]
  said <- function(x) gsub("\\s+", " ", paste(capture.output(print(x)), collapse = " "))
  count <- count_factors(r, replicates = 20, seed = 1)
  expect_match(said(count), chance, fixed = TRUE)
  expect_no_match(said(count), chance, fixed = TRUE)
  expect_match(said(count), "earlier finding")
  expect_match(said(r), chance, fixed = TRUE)
})

test_that("the text says who was left out, what went and why, with statistics in italics", {
  dir <- withr::local_tempdir()
  x <- world("frame_alone")$answers
  x$q9 <- rep_len(c(1, 5, 3), nrow(x))
  x$town <- rep(c("Mill", "Dock", "Pier"), length.out = nrow(x))
  x[2, 1:9] <- NA
  utils::write.csv(x, file.path(dir, "a.csv"), row.names = FALSE, na = "")
  writeLines(c(
    "answers: {file: a.csv, items: [q1, q2, q3, q4, q5, q6, q7, q8, q9], filters: [town != Pier]}",
    "correlations: {missing: complete}", "scales: {replicates: 0}", "sift: {run: true}",
    "factors: {number: 2}", "seed: 1"), file.path(dir, "s.yml"))
  study <- suppressWarnings(run_study(file.path(dir, "s.yml")))
  left <- softsieve:::people_left(study)
  expect_identical(left$left[1:4], c(120L, 80L, 79L, 79L))
  expect_identical(left$out[2:4], c(40L, 1L, 0L))
  prose <- softsieve:::prose_of(study)
  expect_match(prose$methods, "Of the 120 people in the file, 80 met .*others \\(40 people\\)")
  expect_match(prose$methods, "None of the items was answered by 1 person")
  expect_match(prose$methods, "communality below .20; largest loading below .30")
  kmo <- function(items) {
    r <- stats::cor(x[x$town != "Pier", items], use = "complete.obs")
    q <- -stats::cov2cor(solve(r))
    diag(q) <- diag(r) <- 0
    sub("^0", "", sprintf("%.2f", sum(r^2) / (sum(r^2) + sum(q^2))))
  }
  went <- setdiff(names(x)[1:9], study$values$sift$values$left)
  expect_identical(went, "q9")
  expect_match(prose$results, "removed 1 of 9 items (q9 by ", fixed = TRUE)
  expect_match(prose$results, sprintf("was %s before and %s after", kmo(1:9), kmo(1:8)),
    fixed = TRUE)
  file <- file.path(dir, c("r.html", "r.md"))
  for (one in file) write_report(study, one)
  html <- page_text(file[1])
  expect_match(html, "<em>p</em> &lt; .001", fixed = TRUE)
  expect_match(html, "<em>N</em> = 79", fixed = TRUE)
  expect_match(paste(readLines(file[2]), collapse = " "), "*p* \\< .001", fixed = TRUE)
  expect_no_match(html, "[\ue000\ue001]")
})
