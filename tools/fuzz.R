# Files that nobody means: Rscript tools/fuzz.R [CASES] [SEED] [FOLDER]
# Makes mutated and generated files for every reader and for study files, reads each in a forked
# process with limits of time and memory, and prints
#   N cases, N classed, N read, N bare, N crashes, N hangs, N changed
# What is read is held against what was put in. Failures are kept in FOLDER (default:
# tests/testthat/fixtures/fuzz). Exit status 1 when there are any.

suppressPackageStartupMessages(library(softsieve))
source("tools/fuzz-cases.R")
given <- commandArgs(trailingOnly = TRUE)
cases <- as.integer(c(given[1L], "300")[is.na(given[1L]) + 1L])
seed <- as.integer(c(given[2L], "1")[is.na(given[2L]) + 1L])
folder <- if (is.na(given[3L])) "tests/testthat/fixtures/fuzz" else given[3L]

SECONDS <- 15 # a case may take 10; the machine may be busy
work <- tempfile("fuzz-")
dir.create(work)

# How one case ends, in its own process: "read", "classed", "bare: ...", "changed: ...".
end_of_case <- function(case) {
  told <- NULL
  ended <- tryCatch(
    withCallingHandlers({
      got <- case$read(case$file)
      wrong <- case$compare(got)
      if (length(wrong)) paste("changed:", wrong[1L]) else "read"
    }, warning = function(w) {
      if (!inherits(w, "softsieve_warning")) told <<- paste("bare: warning", conditionMessage(w))
      invokeRestart("muffleWarning")
    }),
    softsieve_error = function(e) "classed",
    error = function(e) paste("bare:", conditionMessage(e)))
  if (is.null(told)) ended else told
}

make <- function(i) {
  set.seed(seed * 100003L + i)
  make_case(i, work)
}

start <- function(i) {
  job <- parallel::mcparallel({
    if (nzchar(Sys.which("prlimit"))) {
      system2("prlimit", c("--pid", Sys.getpid(), "--as=8589934592"))
    }
    case <- make(i)
    end <- end_of_case(case)
    if (end %in% c("read", "classed")) unlink(case$file)
    c(case$kind, end)
  }, silent = TRUE)
  list(job = job, at = i)
}

finish <- function(one) {
  got <- suppressWarnings(parallel::mccollect(one$job, wait = FALSE, timeout = SECONDS))
  if (is.null(got)) {
    tools::pskill(one$job$pid, tools::SIGKILL)
    parallel::mccollect(one$job)
    return(c(make(one$at)$kind, "hang"))
  }
  got <- got[[1L]]
  if (is.character(got) && length(got) == 2L) got else c(make(one$at)$kind, "crash")
}

keep <- function(i, kind, end) {
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  case <- make(i)
  file.copy(case$file, file.path(folder, sprintf("%d-%d.%s", seed, i, tools::file_ext(case$file))))
  cat(sprintf("%d %s: %s\n", i, kind, substr(gsub("\n", " ", end), 1L, 200L)))
}

kinds <- character()
ends <- character()
invisible(SOLUTION_BYTES()) # once, not in each process
for (first in seq(1L, cases, by = 2L)) {
  running <- lapply(first:min(first + 1L, cases), start)
  for (one in running) {
    got <- finish(one)
    kinds <- c(kinds, got[1L])
    ends <- c(ends, got[2L])
    if (!got[2L] %in% c("read", "classed")) keep(one$at, got[1L], got[2L])
  }
}
type <- sub(":.*$", "", ends)
count <- function(what) sum(type == what)
if (nzchar(Sys.getenv("FUZZ_TABLE"))) print(table(kinds, type))
cat(sprintf("%d cases, %d classed, %d read, %d bare, %d crashes, %d hangs, %d changed\n",
  length(ends), count("classed"), count("read"), count("bare"), count("crash"), count("hang"),
  count("changed")))
quit(status = if (all(type %in% c("read", "classed"))) 0L else 1L)
