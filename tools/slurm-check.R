# What tools/slurm-check.sh asks of a SLURM that runs: draws through its jobs, a job killed in the
# middle, and that the bits are those of this process.
suppressPackageStartupMessages(library(softsieve))
home <- commandArgs(TRUE)[1L]
options(cli.progress_show_after = 1e9, softsieve.verbose = TRUE, future.cache.path = home)
began <- Sys.time()

motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
scales <- form_scales(factor_solution(motives, 4, seed = 1))
draw <- function() assess_reliability(scales, motives, replicates = 1000, seed = 1, threads = 1)
here <- draw()

template <- file.path(home, "batchtools.slurm.tmpl")
writeLines(c("#!/bin/bash", "#SBATCH --job-name=<%= job.name %>",
  "#SBATCH --output=<%= log.file %>", "#SBATCH --ntasks=1",
  sprintf("export R_LIBS=%s", paste(.libPaths(), collapse = ":")),
  "Rscript -e 'batchtools::doJobCollection(\"<%= uri %>\")'"), template)
future::plan(future.batchtools::batchtools_slurm, template = template, workers = 2)
# (a batch job would be worth its while from 20 s on: less here, so that there are several)
options(softsieve.range_seconds = 0.4)

same <- function(one, other) identical(one$values, other$values)
plain <- draw()
cat(sprintf("through SLURM: %s\n", if (same(here, plain)) "the same bits" else "OTHER bits"))

# somebody ends a job that runs
killer <- callr::r_bg(function() {
  repeat {
    running <- system2("squeue", c("-h", "-t", "R", "-o", "%A"), stdout = TRUE)
    if (length(running)) {
      Sys.sleep(0.5)
      system2("scancel", c("--signal=KILL", running[1L]))
      return(running[1L])
    }
    Sys.sleep(0.05)
  }
})
killed <- draw()
killer$wait(5000)
ended <- killer$get_result()
cat(sprintf("job %s killed in the middle: %s\n", ended,
  if (same(here, killed)) "the same bits" else "OTHER bits"))
future::plan("sequential")
ok <- same(here, plain) && same(here, killed) && length(ended) == 1L
seconds <- as.numeric(difftime(Sys.time(), began, units = "secs"))
cat(sprintf("slurm: %s in %.0f s\n", if (ok) "all holds" else "NOT so", seconds))
quit(status = !ok)
