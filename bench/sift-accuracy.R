# What the default sifting takes out: shares of sound items (a loading of .50 or more on one factor
# and below .20 elsewhere), of items without any loading, and of clear cross-loadings (second
# loading at least .75 of the first, both above .35), on questionnaires of several makes. Run:
# Rscript bench/sift-accuracy.R [questionnaires] [seed]. Writes inst/retention/accuracy-sifting.csv;
# takes half an hour on two processors. Limits were chosen on seeds below 1,000.
suppressPackageStartupMessages(library(softsieve))
arguments <- as.integer(commandArgs(trailingOnly = TRUE))
sets <- c(arguments, 200L)[1L]
first_seed <- c(arguments[-1L], 1000L)[1L]

# Makes: how many factors, items a factor, their correlations, loadings, and answers.
makes <- list(
  plain = list(factors = 3:4, items = 5:7, between = c(.1, .4), loadings = c(.5, .75)),
  few_items = list(factors = 2:3, items = 4, between = c(0, .3), loadings = c(.5, .75)),
  related = list(factors = 3:4, items = 6, between = c(.4, .6), loadings = c(.55, .8)),
  answers = list(factors = 3:5, items = 5:6, between = c(.1, .4), loadings = c(.58, .8),
    answers = 5))
pick <- function(x) x[sample.int(length(x), 1L)]

make_questionnaire <- function(make, n) {
  k <- pick(make$factors)
  sizes <- replicate(k, pick(make$items))
  sound <- sum(sizes)
  cross_loading <- 2L
  none <- 2L
  p <- sound + cross_loading + none
  loadings <- matrix(0, p, k)
  loadings[seq_len(sound), ] <- runif(sound * k, -.1, .1)
  loadings[cbind(seq_len(sound), rep(seq_len(k), sizes))] <- runif(sound, make$loadings[1L],
    make$loadings[2L])
  for (i in sound + seq_len(cross_loading)) {
    two <- sample.int(k, 2L)
    first <- runif(1L, .5, .6)
    loadings[i, two] <- c(first, first * runif(1L, .75, .95))
  }
  between <- matrix(runif(1L, make$between[1L], make$between[2L]), k, k)
  diag(between) <- 1
  r <- loadings %*% between %*% t(loadings)
  over <- diag(r) > .95
  if (any(over)) {
    loadings[over, ] <- loadings[over, ] * sqrt(.9 / diag(r)[over])
    r <- loadings %*% between %*% t(loadings)
  }
  diag(r) <- 1
  x <- matrix(rnorm(n * p), n) %*% chol(r)
  if (length(make$answers)) x <- matrix(findInterval(x, c(-1.3, -.4, .4, 1.3)) + 1, n)
  kind <- rep(c("sound", "cross_loading", "none"), c(sound, cross_loading, none))
  order <- sample.int(p)
  list(data = as.data.frame(x[, order]), kind = kind[order])
}

one_set <- function(name, n, seed) {
  set.seed(seed)
  made <- make_questionnaire(makes[[name]], n)
  sifted <- suppressMessages(sift_items(questionnaire(made$data), seed = seed, threads = 1L))
  out <- !names(made$data) %in% sifted$values$left
  c(sound = sum(made$kind == "sound"), sound_out = sum(out & made$kind == "sound"),
    none = sum(made$kind == "none"), none_out = sum(out & made$kind == "none"),
    cross_loading = sum(made$kind == "cross_loading"),
    crossing_out = sum(out & made$kind == "cross_loading"))
}

cells <- expand.grid(make = names(makes), n = c(200, 300, 1000), stringsAsFactors = FALSE)
rows <- parallel::mclapply(seq_len(nrow(cells)), function(i) {
  cell <- cells[i, ]
  each <- ceiling(sets / length(makes))
  all <- rowSums(vapply(first_seed + seq_len(each), function(s) {
    one_set(cell$make, cell$n, s)
  }, numeric(6L)))
  data.frame(cell, questionnaires = each, sound_items = all[["sound"]],
    sound_out = round(100 * all[["sound_out"]] / all[["sound"]], 1),
    none_out = round(100 * all[["none_out"]] / all[["none"]], 1),
    crossing_out = round(100 * all[["crossing_out"]] / all[["cross_loading"]], 1))
}, mc.cores = 2L, mc.preschedule = FALSE)
table <- do.call(rbind, rows)
utils::write.csv(table, "inst/retention/accuracy-sifting.csv", row.names = FALSE, quote = FALSE)
print(table, row.names = FALSE)
