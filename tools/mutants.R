# How many small faults do the tests see? Changes one operator, comparison, constant or condition of
# a random function of R/ at a time (in memory, in the installed package's namespace) and runs the
# tests of its room. Prints each mutant that lived, and the share that died.
#
#     Rscript tools/mutants.R [COUNT] [SEED] [FILE-PATTERN]      (make mutants)

args <- commandArgs(TRUE)
count <- if (length(args) > 0L) as.integer(args[1L]) else 100L
seed <- if (length(args) > 1L) as.integer(args[2L]) else 1L
pattern <- if (length(args) > 2L) args[3L] else "[.]R$"

# The tests of each room; the core's files are tested by the rooms that call them.
ROOMS <- list(
  base = c("families", "findings", "wrong-calls", "ranges", "files"),
  read = c("read", "files", "sources", "match"),
  questionnaire = c("questionnaire", "key", "tally", "tables"),
  profile = "profile",
  correlation = c("correlation", "information", "weighted"),
  factorability = "correlation",
  retention = c("parallel", "chance", "count", "rules"),
  extraction = c("extraction", "bounded", "uniqueness", "components"),
  rotation = "rotation",
  solution = c("solution", "stability", "hierarchical", "names", "planes"),
  reliability = c("reliability", "scales"), score = c("scores", "formula", "back"),
  sift = c("sift", "sift-firm"), study = c("study", "study-file", "flow"),
  table = c("faces", "report"), print = "faces", plot = c("faces", "planes", "score-figures"),
  report = "report", cli = "command")
CORE <- c(bounded = "extraction", chance = "retention", comparison = "retention",
  correlation = "correlation", extraction = "extraction", factorability = "factorability",
  profile = "profile", reliability = "reliability", retention = "retention", robust = "correlation",
  rotation = "rotation", score = "score", tally = "questionnaire", wording = "solution")

SWAPS <- list(`+` = "-", `-` = "+", `*` = "/", `/` = "*", `<` = "<=", `<=` = "<", `>` = ">=",
  `>=` = ">", `==` = "!=", `!=` = "==", `&&` = "||", `||` = "&&", `&` = "|", `|` = "&", max = "min",
  min = "max", any = "all", all = "any", which.max = "which.min", rowSums = "colSums")

# Texts are no business of these tests.
SPARED <- c("sprintf", "paste", "paste0", "stop_input", "new_finding", "function")

# Places in an expression where one thing can be changed: paths of indices, with what stands there.
places <- function(e, path = integer()) {
  to <- other_value(e)
  if (!is.null(to)) return(list(list(path = path, to = to)))
  if (!is.call(e)) return(list())
  head <- if (is.name(e[[1L]])) as.character(e[[1L]]) else ""
  if (head %in% SPARED) return(list())
  c(other_call(e, head, path), unlist(lapply(seq_along(e)[-1L], function(i) {
    if (nzchar(as.character(e)[i])) places(e[[i]], c(path, i))
  }), recursive = FALSE))
}

# What takes the place of a constant, or NULL for anything else.
other_value <- function(e) {
  one <- is.atomic(e) && length(e) == 1L && !is.na(e)
  if (one && is.numeric(e) && is.finite(e)) return(e + 1)
  if (one && is.logical(e)) !e
}

other_call <- function(e, head, path) {
  unary <- head == "-" && length(e) == 2L
  if (head %in% names(SWAPS) && !unary) {
    return(list(list(path = c(path, 1L), to = as.name(SWAPS[[head]]))))
  }
  if (head == "!") list(list(path = path, to = e[[2L]]))
}

put <- function(e, path, to) {
  if (!length(path)) return(to)
  e[[path]] <- to
  e
}

tests_of <- function(file) {
  stem <- sub("[.]R$", "", basename(file))
  room <- sub("-.*", "", stem)
  if (room == "core") room <- CORE[sub("^core-", "", stem)]
  ROOMS[[room]]
}

# In a process of its own: TRUE where a test failed. A mutant that never ends is dead, too.
dies <- function(name, body, tests) {
  run <- function(name, body, tests) {
    suppressMessages({
      library(testthat)
      library(softsieve)
    })
    space <- asNamespace("softsieve")
    f <- get(name, space)
    body(f) <- body
    unlockBinding(name, space)
    assign(name, f, space)
    for (test in tests) {
      found <- as.data.frame(test_file(sprintf("tests/testthat/test-%s.R", test),
        package = "softsieve", load_package = "installed", reporter = "silent",
        stop_on_failure = FALSE))
      if (any(found$failed > 0L | found$error)) return(TRUE)
    }
    FALSE
  }
  tryCatch(callr::r(run, list(name, body, tests), timeout = 240), error = function(e) TRUE)
}

set.seed(seed)
files <- list.files("R", pattern, full.names = TRUE)
files <- files[!grepl("RcppExports|package|catalogue", files)]
files <- Filter(function(file) length(tests_of(file)) > 0L, files)
sites <- unlist(lapply(files, function(file) {
  unlist(lapply(parse(file, keep.source = FALSE), function(e) {
    good <- is.call(e) && identical(e[[1L]], as.name("<-")) && is.name(e[[2L]]) &&
      is.call(e[[3L]]) && identical(e[[3L]][[1L]], as.name("function"))
    if (!good) return(list())
    lapply(places(e[[3L]][[3L]]), function(one) {
      c(one, list(file = file, name = as.character(e[[2L]]), body = e[[3L]][[3L]]))
    })
  }), recursive = FALSE)
}), recursive = FALSE)
chosen <- sites[sample(length(sites), min(count, length(sites)))]
ended <- parallel::mclapply(chosen, function(one) {
  dead <- dies(one$name, put(one$body, one$path, one$to), tests_of(one$file))
  was <- if (length(one$path)) one$body[[one$path]] else one$body
  within <- if (length(one$path) > 1L) one$body[[utils::head(one$path, -1L)]] else one$body
  cat(sprintf("%s %s %s: %s -> %s in %s\n", if (dead) "dead " else "LIVES", basename(one$file),
    one$name, paste(deparse(was), collapse = " "), paste(deparse(one$to), collapse = " "),
    substr(paste(deparse(within), collapse = " "), 1L, 90L)))
  dead
}, mc.cores = 2L, mc.preschedule = FALSE)
dead <- vapply(ended, isTRUE, NA)
cat(sprintf("mutants: %d of %d died (%.0f %%)\n", sum(dead), length(dead), 100 * mean(dead)))
