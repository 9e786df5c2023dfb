# Trains the model of count_factors() on the sets of generate.R and writes
# inst/retention/model.json, with how often it is right, and how well its probabilities hold, on
# sets held out and on the test make. Run by Rscript from the package root, with the folder of the
# sets behind it.

folder <- c(commandArgs(trailingOnly = TRUE), "retention-sets")[1L]
SETTINGS <- list(
  members = 10L,
  hidden = 40L,
  epochs = 30L,
  batch = 512L,
  rate = 0.004,
  decay = 1e-6,
  most = 6,
  held_out = 0.05,
  seed = 1
)
LIMITS <- list(people = c(80, 5000), items = c(5, 60), factors = 8)

source("data-raw/retention_training/compile.R")
compile_with_core("network.cpp")
read_sets <- function(what) {
  parts <- lapply(
    sort(list.files(folder, sprintf("^%s-[0-9]+[.]rds$", what), full.names = TRUE)),
    readRDS
  )
  all <- do.call(rbind, lapply(parts, `[[`, "features"))
  list(
    set = all[, 1L],
    j = all[, 2L],
    truth = all[, 3L],
    x = all[, -(1:3)],
    conditions = as.data.frame(do.call(rbind, lapply(parts, `[[`, "conditions")))
  )
}
training <- read_sets("training")
sets <- nrow(training$conditions)
# where a model with no degrees of freedom fits exactly, rounding can leave a residual that is no
# number
bad <- unique(training$set[!is.finite(rowSums(training$x))])
cat(length(bad), "sets of", sets, "with a feature that is no number: left out\n")
keep <- !training$set %in% bad
training[c("set", "j", "truth")] <- lapply(training[c("set", "j", "truth")], `[`, keep)
training$x <- training$x[keep, ]
fit <- training$set < round(sets * (1 - SETTINGS$held_out))
# one more after j: known only where there are at least j
asked <- fit & training$j <= training$truth
model <- list(
  centre = colMeans(training$x[asked, ]),
  scale = apply(training$x[asked, ], 2L, sd),
  most = SETTINGS$most,
  lowest = apply(training$x[fit, ], 2L, min),
  highest = apply(training$x[fit, ], 2L, max)
)
round_to <- function(x) signif(x, 6L)
model <- lapply(model, round_to)
# as core_network_hazards() of the package does it
standardised <- function(x) {
  z <- sweep(sweep(x, 2L, model$centre), 2L, model$scale, "/")
  pmin(pmax(z, -model$most), model$most)
}
x <- standardised(training$x[asked, ])
y <- as.numeric(training$truth[asked] > training$j[asked])
model$members <- lapply(seq_len(SETTINGS$members), function(member) {
  net <- train_network(
    x,
    y,
    SETTINGS$hidden,
    SETTINGS$epochs,
    SETTINGS$batch,
    SETTINGS$rate,
    SETTINGS$decay,
    SETTINGS$seed + member
  )
  cat("member", member, "trained\n")
  list(hidden = round_to(net$hidden), output = round_to(drop(net$output)))
})

hazards <- function(x) {
  z <- standardised(x)
  scores <- lapply(model$members, function(m) {
    cbind(tanh(cbind(z, 1) %*% t(m$hidden)), 1) %*% m$output
  })
  plogis(drop(Reduce(`+`, scores)) / length(scores))
}
assess <- function(sets, rows) {
  h <- split(hazards(sets$x[rows, ]), sets$set[rows])
  truth <- vapply(split(sets$truth[rows], sets$set[rows]), `[`, 0, 1L)
  said <- vapply(
    h,
    function(h) {
      reached <- cumprod(c(1, h))
      p <- c(reached[-length(reached)] * (1 - h), reached[length(reached)])
      c(which.max(p) - 1, max(p))
    },
    numeric(2L)
  )
  right <- said[1L, ] == truth
  bin <- cut(said[2L, ], seq(0, 1, 0.1))
  gap <- tapply(said[2L, ], bin, mean) - tapply(right, bin, mean)
  list(
    right = mean(right),
    said = mean(said[2L, ]),
    gap = sum(abs(gap) * table(bin), na.rm = TRUE) / length(right),
    by_truth = round(tapply(right, truth, mean), 3L)
  )
}
show <- function(name, a) {
  cat(sprintf(
    "%s: right %.1f %%, mean probability %.1f %%, mean gap %.3f\n",
    name,
    100 * a$right,
    100 * a$said,
    a$gap
  ))
  print(a$by_truth)
}
show("training make, fitted", assess(training, which(training$set < 5000)))
show("training make, held out", assess(training, which(!fit)))
test <- read_sets("test")
show("test make", assess(test, seq_along(test$set)))

out <- c(
  list(
    about = paste(
      "Weights behind the probabilities of count_factors(); see the vignette",
      "how-many-factors."
    ),
    sets = sum(seq_len(sets) - 1 < round(sets * (1 - SETTINGS$held_out))),
    settings = SETTINGS,
    limits = LIMITS,
    # the columns' names, as the core gives them (core_evidence.h)
    features = colnames(softsieve:::cpp_features(diag(5), 100L, rep(1, 5), rep(0, 5), 0L, 1L))
  ),
  model
)
dir.create("inst/retention", showWarnings = FALSE)
writeLines(jsonlite::toJSON(out, digits = NA, auto_unbox = TRUE), "inst/retention/model.json")
cat("inst/retention/model.json:", file.size("inst/retention/model.json"), "bytes\n")
