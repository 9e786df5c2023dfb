# Makes the simulated sets that the model of count_factors() is trained and judged on, in files of
# 500 sets under `folder`; files that are there are kept, so it goes on where it was stopped. Some
# 20 ms a set and processor. Run from the package root:
#   Rscript data-raw/retention_training/generate.R [folder] [sets of each make that is trained on]
#     [sets of each make that is kept for judging]

arguments <- commandArgs(trailingOnly = TRUE)
folder <- c(arguments, "retention-sets")[1L]
sets <- as.integer(c(arguments[2L], 20000)[1L + is.na(arguments[2L])])
kept_sets <- as.integer(c(arguments[3L], 3000)[1L + is.na(arguments[3L])])
SEED <- 20261127
PART <- 500L

source("data-raw/retention_training/compile.R")
compile_with_core("generator.cpp")
dir.create(folder, showWarnings = FALSE)
make_part <- function(make, from) {
  file <- file.path(folder, sprintf("%s-%03d.rds", make, from / PART))
  if (file.exists(file)) return(invisible())
  part <- simulated_features(make, SEED, from, PART, parallel::detectCores())
  saveRDS(part, paste0(file, ".part"), compress = FALSE)
  file.rename(paste0(file, ".part"), file)
}
# round by round, so that what is there is of all makes alike
for (from in seq(0, max(sets, kept_sets) - 1, by = PART)) {
  for (make in makes()$trained) if (from < sets) make_part(make, from)
  for (make in makes()$kept) if (from < kept_sets) make_part(make, from)
}
