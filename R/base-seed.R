# Seeds and threads of simulations.

# The seed that was given, or one drawn from R's generator, so that set.seed() settles it. A seed is
# a whole number from 0 to 2^31 - 1; it is always on the result.
settle_seed <- function(seed) {
  if (is.null(seed)) return(sample.int(.Machine$integer.max, 1L))
  check_whole(seed, "seed", 0L)
}

# All processors but never more than eight, unless told; results do not depend on it.
settle_threads <- function(threads) {
  if (!is.null(threads)) return(check_whole(threads, "threads", 1L, 256L))
  # what containers, clusters and R CMD check allow is known there; OpenMP's limit is not
  limit <- suppressWarnings(as.integer(Sys.getenv("OMP_THREAD_LIMIT", "8")))
  # (a batch system without its configuration is asked, and would warn)
  cores <- suppressWarnings(parallelly::availableCores())
  as.integer(max(1L, min(cores, 8L, limit, na.rm = TRUE)))
}
