# Makes the simulated sets that the model of count_factors() is trained and tested on, in files of
# 1,000 sets under `folder`. Takes about 15 ms a set and thread; files that are there are kept.
# Run from the package root: Rscript data-raw/retention_training/generate.R [folder] [training sets]
# [test sets]

arguments <- commandArgs(trailingOnly = TRUE)
folder <- c(arguments, "retention-sets")[1L]
sets <- as.integer(c(arguments[2L], 210000)[1L + is.na(arguments[2L])])
test_sets <- as.integer(c(arguments[3L], 6000)[1L + is.na(arguments[3L])])
SEED <- list(training = 20261123, test = 77)
LEVELS <- 24L # chance matrices behind each set's chance means

source("data-raw/retention_training/compile.R")
compile_with_core("generator.cpp")
dir.create(folder, showWarnings = FALSE)
make <- function(what, count) {
  for (from in seq(0, count - 1, by = 1000)) {
    file <- file.path(folder, sprintf("%s-%03d.rds", what, from / 1000))
    if (file.exists(file)) next
    part <- simulated_features(
      what == "training",
      SEED[[what]],
      from,
      1000L,
      LEVELS,
      parallel::detectCores()
    )
    saveRDS(part, paste0(file, ".part"), compress = FALSE)
    file.rename(paste0(file, ".part"), file)
  }
}
make("test", test_sets)
make("training", sets)
