# Two workers of a plan against one thread, on 500 draws of a polychoric solution; beside it what
# two processes gain that have nothing to do with each other, which is the most that this machine
# can give; and what one range costs. Run from the package root, with the package installed:
#   Rscript bench/workers.R

# Seconds of `code` in a process of its own, `start` left out; of `copies` such at once.
seconds_of <- function(start, code, copies = 1L) {
  script <- tempfile(fileext = ".R")
  writeLines(c("suppressPackageStartupMessages(library(softsieve))",
    "options(cli.progress_show_after = 1e9)", start,
    sprintf("cat(system.time({ %s })[['elapsed']], '\\n')", code)), script)
  run <- function(i) {
    out <- system2(file.path(R.home("bin"), "Rscript"), script, stdout = TRUE)
    as.numeric(utils::tail(out, 1L))
  }
  mean(unlist(parallel::mclapply(seq_len(copies), run, mc.cores = copies)))
}

people <- paste(
  "q <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe);",
  "s <- factor_solution(q, 4, kind = 'polychoric', seed = 1)")
draws <- "x <- loading_stability(s, replicates = 500, halves = 0, seed = 1, threads = 1)"
plan <- function(workers) {
  c(
    sprintf("future::plan('multisession', workers = %d)", workers),
    # workers that are there already, with the package
    sprintf("future_there <- lapply(1:%d, function(i) {", workers),
    "  future::future({ loadNamespace('softsieve'); Sys.sleep(0.5) },",
    "    globals = FALSE, seed = NULL)",
    "}); invisible(lapply(future_there, future::value))")
}
for (i in 1:3) {
  one <- seconds_of(people, draws)
  two <- seconds_of(c(people, plan(2L)), draws)
  beside <- seconds_of(people, draws, copies = 2L)
  cat(sprintf(
    "500 draws: %.1f s on one thread, %.1f on two workers: %.2f times (at most %.2f here)\n",
    one, two, one / two, 2 * one / beside))
}
cost <- seconds_of(plan(2L), paste("for (i in 1:50) future::value(future::future(",
  "softsieve:::hand_of_worker(), globals = FALSE, seed = NULL))"))
cat(sprintf("One range that does nothing but the handshake: %.0f ms\n", cost / 0.050))
