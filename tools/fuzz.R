# Files that nobody means: Rscript tools/fuzz.R [CASES] [SEED] [FOLDER]
# Makes mutated and generated files for every reader and for study files, and acts that nobody means
# (fuzz-acts.R); tries each in a forked process with limits of time and memory, and prints
#   N cases, N classed, N read, N bare, N crashes, N hangs, N changed
# What comes back is held against what was put in. Files that fail are kept in FOLDER (default:
# tests/testthat/fixtures/fuzz). Exit status 1 when there are any. FUZZ_KINDS=a,b tries these only.

suppressPackageStartupMessages(library(softsieve))
source("tools/fuzz-cases.R")
source("tools/fuzz-acts.R")
given <- commandArgs(trailingOnly = TRUE)
cases <- as.integer(c(given[1L], "300")[is.na(given[1L]) + 1L])
seed <- as.integer(c(given[2L], "1")[is.na(given[2L]) + 1L])
folder <- if (is.na(given[3L])) "tests/testthat/fixtures/fuzz" else given[3L]

# a case may take 10; the machine may be busy (a study that is run takes longer)
SECONDS <- 15
LONGER <- c(stage_edited = 90, output_onto_input = 90)
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

kind_of <- function(i) {
  set.seed(seed * 100003L + i)
  draw_kind()
}
make <- function(i) make_case(kind_of(i), work)

start <- function(i) {
  job <- parallel::mcparallel({
    if (nzchar(Sys.which("prlimit"))) {
      system2("prlimit", c("--pid", Sys.getpid(), "--as=8589934592"))
    }
    case <- make(i)
    end <- end_of_case(case)
    if (end %in% c("read", "classed") && length(case$file)) unlink(case$file, recursive = TRUE)
    c(paste(c(case$kind, case$said), collapse = " "), end)
  }, silent = TRUE)
  kind <- kind_of(i)
  most <- if (kind %in% names(LONGER)) LONGER[[kind]] else SECONDS
  now <- proc.time()[["elapsed"]]
  list(job = job, at = i, kind = kind, begun = now, until = now + most)
}

# What came of those that run: a list named by their numbers, each c(kind, end). Waits up to a
# second.
ended_of <- function(running) {
  jobs <- lapply(running, `[[`, "job")
  came <- suppressWarnings(parallel::mccollect(jobs, wait = FALSE, timeout = 1))
  ends <- lapply(running, function(one) {
    pid <- as.character(one$job$pid)
    if (pid %in% names(came)) {
      got <- came[[pid]]
      return(if (is.character(got) && length(got) == 2L) got else c(one$kind, "crash"))
    }
    if (proc.time()[["elapsed"]] < one$until) return(NULL)
    tools::pskill(one$job$pid, tools::SIGKILL)
    suppressWarnings(parallel::mccollect(one$job))
    c(one$kind, "hang")
  })
  names(ends) <- vapply(running, function(one) as.character(one$at), "")
  Filter(Negate(is.null), ends)
}

keep <- function(i, kind, end) {
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  file <- tryCatch(make(i)$file, error = function(e) NULL)
  if (length(file) && !dir.exists(file)) {
    file.copy(file, file.path(folder, sprintf("%d-%d.%s", seed, i, tools::file_ext(file))))
  }
  cat(sprintf("%d %s: %s\n", i, kind, substr(gsub("\n", " ", end), 1L, 200L)))
}

kinds <- ends <- character(cases)
seconds <- numeric(cases)
# once, not in each process
for (made in list(SOLUTION_BYTES, few_solution, RESULTS, RUN, POSTGRES, JOB)) made()
# Tries these cases, so many at any time; those that end so are tried again later.
try_cases <- function(asked, at_once, again = character()) {
  running <- list()
  while (length(asked) || length(running)) {
    while (length(running) < at_once && length(asked)) {
      running <- c(running, list(start(asked[1L])))
      asked <- asked[-1L]
    }
    ended <- ended_of(running)
    for (one in running) {
      end <- ended[[as.character(one$at)]]
      if (is.null(end)) next
      if (one$at %% 1000L == 0L) message("case ", one$at)
      kinds[one$at] <<- end[1L]
      ends[one$at] <<- end[2L]
      seconds[one$at] <<- proc.time()[["elapsed"]] - one$begun
      if (!end[2L] %in% c("read", "classed", again)) keep(one$at, end[1L], end[2L])
    }
    running <- Filter(function(one) !as.character(one$at) %in% names(ended), running)
  }
}
try_cases(seq_len(cases), 2L, again = "hang")
# what starved beside others is no hang: once more, alone
try_cases(which(ends == "hang"), 1L)
type <- sub(":.*$", "", ends)
count <- function(what) sum(type == what)
if (nzchar(Sys.getenv("FUZZ_TABLE"))) {
  plain <- sub(" .*$", "", kinds)
  print(table(plain, type))
  print(sort(round(tapply(seconds, plain, sum)), decreasing = TRUE))
}
cat(sprintf("%d cases, %d classed, %d read, %d bare, %d crashes, %d hangs, %d changed\n",
  length(ends), count("classed"), count("read"), count("bare"), count("crash"), count("hang"),
  count("changed")))
quit(status = if (all(type %in% c("read", "classed"))) 0L else 1L)
