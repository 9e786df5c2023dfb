# Small worlds, each unlike the demo data in its own way. WORLDS$name() returns a list of what a
# user would start from: `answers` (a data frame) and how it is read (`how`, arguments of
# questionnaire()), or `start` (an object that stands for them); `locale` to be in; `without`: the
# packages that are only suggested. Nothing here is anybody's data.

# Answers of n people to p items of k factors, cut into so many answers (0: left as they are).
answers_of <- function(n, p = 8L, k = 2L, answers = 5L, loading = 0.7, missing = 0, names = NULL) {
  of <- rep_len(seq_len(k), p)
  between <- matrix(0.3, k, k)
  diag(between) <- 1
  factors <- matrix(rnorm(n * k), n) %*% chol(between)
  x <- loading * factors[, of, drop = FALSE] + sqrt(1 - loading^2) * matrix(rnorm(n * p), n)
  if (all(answers > 0)) for (j in seq_len(p)) x[, j] <- cut_into(x[, j], rep_len(answers, p)[j])
  x[runif(n * p) < missing] <- NA
  colnames(x) <- if (is.null(names)) sprintf("q%d", seq_len(p)) else names
  as.data.frame(x, check.names = FALSE)
}
cut_into <- function(x, answers) {
  at <- qnorm(seq_len(answers - 1L) / answers) * 1.1
  findInterval(x, at) + 1
}
book_of <- function(items, reversed = FALSE, labels = NA) {
  data.frame(item = items,
    wording = paste("The bench by the window suits me for task", seq_along(items)), lowest = 1,
    highest = 5, reversed = reversed, labels = labels)
}
# What a study makes of answers, from its file.
studied <- function(answers, ...) {
  dir <- tempfile()
  dir.create(dir)
  utils::write.csv(answers, file.path(dir, "answers.csv"), row.names = FALSE)
  file <- file.path(dir, "study.yml")
  lines <- c("answers: {file: answers.csv}", "scales: {replicates: 20}", "seed: 1", ...)
  writeLines(lines, file)
  run_study(file)
}
SAID <- c("never", "rarely", "now and then", "often", "always")
ODD <- c("deparse.level", "recursive", "c", "a b", "x[1]", "größe", "if", "q\"8")

WORLDS <- list(
  measurements = function() {
    x <- answers_of(90L, 6L, answers = 0L)
    list(answers = as.data.frame(lapply(x, function(v) round(20 + 4 * v, 3L))))
  },
  gauges = function() {
    t <- seq_len(120L)
    busy <- stats::filter(rnorm(120L), 0.6, "recursive")
    x <- data.frame(when = as.Date("2025-03-01") + 7 * t, depth = round(3 + busy + rnorm(120L), 2),
      flow = round(40 + 9 * busy + rnorm(120L, sd = 4), 1), silt = round(900 + 200 * rnorm(120L)),
      heat = round(12 + 6 * sin(2 * pi * t / 52) + rnorm(120L), 1),
      lights = round(20 - 5 * busy + rnorm(120L, sd = 3)), people = rpois(120L, 30))
    x$silt[c(5, 60)] <- NA
    list(answers = x, how = list(order = "when", measured = TRUE, remove = "season",
      called = c(row = "week", column = "gauge")))
  },
  kinds_of_soil = function() {
    x <- data.frame(soil = sample(c("clay", "loam", "sand"), 90L, TRUE),
      wet = sample(c("no", "yes"), 90L, TRUE), ph = round(rnorm(90L, 6.5, 0.6), 1),
      lime = round(rexp(90L, 1 / 40)), same = 4)
    list(answers = x, how = list(categories = c("soil", "wet"), measured = TRUE,
      called = c(row = "plot", column = "property")))
  },
  matrix_alone = function() list(start = stats::cor(answers_of(150L)), n = 150),
  frame_alone = function() list(answers = answers_of(120L)),
  words = function() {
    x <- answers_of(120L)
    x[] <- lapply(x, function(v) SAID[v])
    labels <- paste(1:5, "=", SAID, collapse = " | ")
    list(answers = x, how = list(codebook = book_of(names(x), labels = labels)))
  },
  two_answers = function() list(answers = answers_of(200L, answers = 2L) - 1),
  eleven_answers = function() list(answers = answers_of(120L, answers = 11L) - 1),
  mixed_answers = function() list(answers = answers_of(200L, answers = c(2L, 3L, 5L, 7L))),
  one_factor = function() list(answers = answers_of(120L, 6L, 1L)),
  two_items = function() list(answers = answers_of(80L, 2L, 1L)),
  nine_groups = function() {
    x <- answers_of(204L)
    x$shop <- c(rep(sprintf("shop %d", 1:8), each = 25L), rep("attic", 4L))
    list(answers = x, how = list(group = "shop"))
  },
  none_reversed = function() {
    x <- answers_of(120L)
    list(answers = x, how = list(codebook = book_of(names(x))))
  },
  only_reversed = function() {
    x <- answers_of(120L)
    list(answers = x, how = list(codebook = book_of(names(x), reversed = TRUE)))
  },
  three_more_people = function() list(answers = answers_of(11L)),
  fewer_people = function() list(answers = answers_of(7L, 10L)),
  weighted = function() {
    x <- answers_of(150L)
    x$w <- round(exp(rnorm(150L, 0, 0.5)), 3L)
    list(answers = x, how = list(weight = "w"))
  },
  clustered = function() {
    x <- answers_of(160L)
    x$street <- rep(sprintf("s%02d", 1:40), 4L)
    list(answers = x, how = list(cluster = "street"))
  },
  gaps_by_em = function() list(answers = answers_of(150L, missing = 0.15), missing = "em"),
  counts = function() list(start = tabulate_items(answers_of(300L), random_groups = 20L)),
  read_back = function() {
    file <- tempfile(fileext = ".json")
    write_solution(factor_solution(answers_of(150L), 2L, seed = 1), file)
    list(answers = answers_of(20L), solution = read_solution(file))
  },
  sifted_study = function() {
    x <- answers_of(150L, 9L)
    x$q9 <- sample(5, 150, replace = TRUE)
    list(answers = x, start = studied(x, "sift: {run: true}"))
  },
  decided_study = function() {
    x <- answers_of(150L, 9L)
    decided <- c("decisions:", "- {drop: q9, why: asked twice}", "- {number: 2, why: as planned}",
      "- {name: F1, as: thrift (rows), why: by its items}")
    list(answers = x, start = studied(x, decided))
  },
  three_waves = function() {
    x <- answers_of(150L)
    x$person <- rep(sprintf("p%02d", 1:50), 3L)
    x$wave <- rep(1:3, each = 50L)
    list(answers = x, how = list(id = "person", group = "wave"))
  },
  odd_names = function() list(answers = answers_of(120L, names = ODD)),
  many_gaps = function() {
    x <- answers_of(130L, missing = 0.1)
    x[1:9, 1:4] <- NA
    x[10L, ] <- NA
    list(answers = x)
  },
  ill_answered = function() {
    x <- answers_of(140L, 9L, missing = 0.03)
    x$q8 <- pmin(x$q8, 4) # nobody agrees wholly
    x$q9 <- c(rep(1, 130L), 2:5, rep(2, 6L))
    x$q7[which(x$q7 == 5)[-1L]] <- 4 # one does
    x[3:6, ] <- 3
    x$town <- c(NA, NA, rep(c("north", "south"), each = 69L))
    book <- book_of(sprintf("q%d", 1:9))
    list(answers = x, how = list(codebook = book, group = "town"))
  },
  long_questionnaire = function() list(answers = answers_of(150L, 40L, 4L)),
  german = function() c(WORLDS$odd_names(), locale = "de_DE.UTF-8"),
  turkish = function() c(WORLDS$words(), locale = "tr_TR.UTF-8"),
  plain_c = function() c(WORLDS$none_reversed(), locale = "C"),
  only_what_is_needed = function() c(WORLDS$frame_alone(), list(without = TRUE)))

# The same world each time it is made.
world_named <- function(name) {
  set.seed(match(name, names(WORLDS)))
  WORLDS[[name]]()
}
