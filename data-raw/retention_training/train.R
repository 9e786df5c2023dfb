# Trains the model of count_factors() on the sets of generate.R and writes
# inst/retention/model.json.xz. Networks are trained in groups, each without one make; what a group
# says of the make it has not seen is what probabilities, ranges and the measure of unlikeness are
# set by, and what left_out.csv tells, with what all networks say of the makes that are kept.
#   Networks that are there are kept. Some three minutes on two processors. Run from the package
#   root:
#   Rscript data-raw/retention_training/train.R [folder of the sets] [mode]
#     mode: "items" lets the networks know how many items there are, for comparison only (nothing is
#     written)

arguments <- commandArgs(trailingOnly = TRUE)
folder <- c(arguments, "retention-sets")[1L]
with_items <- identical(arguments[2L], "items")
SETTINGS <- list(
  groups = "each without one make",
  members = 2L, # networks of each group
  hidden = 32L,
  epochs = 24L,
  batch = 512L,
  rate = 0.004,
  decay = 1e-6,
  most = 6,
  seed = 1)
# more say the same of sets that were kept (right, and log loss to .0001), and take up room
WEIGHT_DIGITS <- 3L
LIMITS <- list(people = c(60, 30000), items = c(6, 150), factors = 12)

source("data-raw/retention_training/compile.R")
compile_with_core("network.cpp")
source("data-raw/retention_training/judge.R")
parts <- list.files(folder, "[.]rds$")
makes <- unique(sub("-[0-9]+[.]rds$", "", parts))
trained <- makes[!startsWith(makes, "test_")]
sets <- stats::setNames(lapply(makes, read_sets, folder, with_items), makes)
cat("sets:", vapply(sets, function(s) nrow(s$conditions), 0L), "\n")

# one more after j: known only where there are at least j
asked_of <- function(s) s$j <= s$truth & s$conditions$taught[s$set + 1]
all_x <- do.call(rbind, lapply(sets[trained], function(s) s$x[asked_of(s), ]))
round_to <- function(x) signif(x, 5L)
half_of <- function(symmetric) symmetric[upper.tri(symmetric, diag = TRUE)]
model <- list(centre = round_to(colMeans(all_x)), scale = round_to(apply(all_x, 2L, sd)),
  most = SETTINGS$most)
x_of <- lapply(sets[trained], function(s) core$core_held_features(s$x[asked_of(s), ], model))
y_of <- lapply(sets[trained], function(s) as.numeric(s$truth > s$j)[asked_of(s)])

train_group <- function(left_out) {
  name <- sprintf("network-%s%s.RData", left_out, if (with_items) "-items" else "")
  file <- file.path(folder, name)
  if (file.exists(file)) return(get(load(file)))
  seen <- setdiff(trained, left_out)
  x <- do.call(rbind, x_of[seen])
  y <- unlist(y_of[seen])
  nets <- lapply(seq_len(SETTINGS$members), function(member) {
    seed <- SETTINGS$seed + 100 * match(left_out, trained) + member
    net <- train_network(x, y, SETTINGS$hidden, SETTINGS$epochs, SETTINGS$batch, SETTINGS$rate,
      SETTINGS$decay, seed)
    lapply(list(hidden = net$hidden, output = drop(net$output)), signif, WEIGHT_DIGITS)
  })
  save(nets, file = file)
  nets
}
groups <- parallel::mclapply(trained, train_group, mc.cores = parallel::detectCores())
names(groups) <- trained

# How far rows lie from the middle of those trained on: their squared distance by the covariances
# (Mahalanobis), over its mean.
spread_of <- function(makes) {
  x <- do.call(rbind, x_of[makes])
  list(middle = colMeans(x), inverse = solve(cov(x) + diag(0.01, ncol(x))))
}

judged <- lapply(trained, function(make) {
  judge_sets(sets[[make]], groups[[make]], spread_of(setdiff(trained, make)), model)
})
names(judged) <- trained
spread <- spread_of(trained)
every <- unlist(groups, recursive = FALSE)
for (make in setdiff(makes, trained)) {
  judged[[make]] <- judge_sets(sets[[make]], every, spread, model)
}

fitted <- fit_honesty(judged[trained])
print(unlist(fitted$temper))
hidden <- fit_hidden(judged[trained], SETTINGS)
report <- report_makes(judged, fitted, hidden)
print(report)
if (with_items) quit()
utils::write.csv(report, "bench/left_out.csv", row.names = FALSE)

out <- c(
  list(
    about = paste("Weights behind the probabilities of count_factors(); see the article",
      "how-many-factors on the site."),
    sets = sum(vapply(sets[trained], function(s) nrow(s$conditions), 0L)),
    makes = trained, settings = SETTINGS, limits = LIMITS, features = colnames(all_x)),
  model,
  list(middle = round_to(spread$middle), inverse = half_of(round_to(spread$inverse)),
    temper = fitted$temper,
    unlike = fitted$unlike, coverage = fitted$coverage, hidden = hidden, members = unname(every)))
dir.create("inst/retention", showWarnings = FALSE)
packed <- xzfile("inst/retention/model.json.xz", compression = -9)
writeLines(jsonlite::toJSON(out, digits = NA, auto_unbox = TRUE), packed)
close(packed)
cat("inst/retention/model.json.xz:", file.size("inst/retention/model.json.xz"), "bytes\n")
