# How often each rule of count_factors(), and its probabilities, find the true number of factors, on
# sets of the makes that were kept from the training, drawn anew. (How honest the networks are about
# the makes of the training is told by train.R, in bench/left_out.csv: each make judged by
# the networks that had not seen it.) What the rules say and the features are kept in `folder`,
# make by make, so that it goes on where it was stopped; some three seconds a set and processor.
# Further sets are asked of the rules that take no time only, so that there are enough in each cell
# of number of factors, people, items and correlations. Run from the package root:
#   Rscript bench/retention-accuracy.R [folder] [sets of each make] [further sets] [file]
# The tables go to the screen, and into `file` (CSV): the article shows those that stand in bench.

suppressPackageStartupMessages(library(softsieve))
options(width = 160)
arguments <- commandArgs(trailingOnly = TRUE)
given <- function(at, otherwise) if (is.na(arguments[at])) otherwise else arguments[at]
folder <- given(1L, "retention-judged")
sets <- as.integer(given(2L, 150))
further <- as.integer(given(3L, 500))
file <- given(4L, NA)
FAST <- c("parallel", "parallel_mean", "empirical_kaiser", "average_partial", "hull", "bic")
REPLICATES <- 100L
SEED <- 4242 # not used in training
core <- asNamespace("softsieve")

source("data-raw/retention_training/compile.R")
compile_with_core("generator.cpp")
dir.create(folder, showWarnings = FALSE)

features_of <- function(correlations, latent) {
  v <- correlations$values
  p <- ncol(v$correlations)
  most <- min(11L, core$core_most_factors(p) - 1L, p - 3L)
  reach <- min(most + 2L, core$core_most_factors(p))
  tryCatch(core$cpp_features(v$correlations, ncol(v$correlations), as.integer(v$n), latent, most,
    reach, 1L),
    error = function(e) NULL)
}

judge <- function(make, set) {
  asked <- if (set >= sets) FAST
  made <- simulated_set(make, SEED, set)
  answers <- as.data.frame(made$answers)
  names(answers) <- sprintf("i%03d", seq_along(answers))
  answers <- suppressWarnings(questionnaire(answers))
  r <- suppressWarnings(correlate_items(answers, threads = 1))
  count <- suppressWarnings(count_factors(r, rules = asked, replicates = REPLICATES, seed = 1,
    threads = 1))
  rules <- count$values$rules
  ordinal <- is.null(asked) && made$categories > 0 && made$categories <= 7 && made$items <= 60
  latent <- if (ordinal) {
    suppressWarnings(correlate_items(answers, kind = "polychoric", threads = 1))
  }
  list(truth = unlist(made[setdiff(names(made), "answers")]),
    rules = stats::setNames(rules$suggested, rules$rule), n = r$values$n,
    features = features_of(r, FALSE), latent = if (ordinal) features_of(latent, TRUE))
}

judged <- function(make, count) {
  kept <- file.path(folder, sprintf("%s-%d.rds", make, count))
  if (file.exists(kept)) return(readRDS(kept))
  parts <- parallel::mclapply(seq_len(count) - 1, function(set) judge(make, set),
    mc.cores = parallel::detectCores(), mc.preschedule = FALSE)
  failed <- vapply(parts, inherits, NA, "try-error")
  if (any(failed)) stop("sets that failed: ", sum(failed), "; first: ", parts[[which(failed)[1L]]])
  saveRDS(parts, kept)
  parts
}
all_found <- sapply(makes()$kept, judged, sets + further, simplify = FALSE)
found <- lapply(all_found, utils::head, sets)
source("bench/retention-tables.R")
