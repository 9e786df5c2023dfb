# How many small faults do the tests see? Changes one operator, comparison, constant or condition at
# a time, of a random function of R/ (in memory, in the installed package's namespace) or of a line
# of src/ (installed into a library of its own), and runs the tests of its room. Prints each mutant
# that lived, and the share that died.
#
#     Rscript tools/mutants.R [COUNT] [SEED] [FILE-PATTERN]      (make mutants)
#
# FILE-PATTERN "[.]R$" is R alone, "[.]cpp$" the core alone.

args <- commandArgs(TRUE)
count <- if (length(args) > 0L) as.integer(args[1L]) else 100L
seed <- if (length(args) > 1L) as.integer(args[2L]) else 1L
pattern <- if (length(args) > 2L) args[3L] else "[.](R|cpp)$"

# Tests mirror files: those of R/x.R are test-x.R and those of its room (test-<room>-*.R). What only
# shows and writes is tested by what it is done with; the core by the rooms that call it.
ROOMS <- list(factorability = "correlation", table = c("all-faces", "report"), print = "all-faces",
  plot = c("plot", "all-faces"), study = c("study", "all-flow"),
  score = c("score", "reliability-scales"), base = c("base", "all-wrong-calls", "read-files"))
CORE <- list(align = "solution", bounded = "extraction", cells = "correlation",
  chance = "retention", coarse = "correlation", coding = "read", comparison = "retention",
  correlation = "correlation", criteria = "rotation", drawing = c("reliability", "solution"),
  eigenvalues = "retention", em = "correlation", evidence = "retention", extraction = "extraction",
  factorability = "correlation", features = "retention", hierarchy = c("solution", "reliability"),
  influence = "correlation", likeness = "solution", linear = "extraction", minrank = "extraction",
  nearest = "correlation", ordinal = "reliability", people_sums = c("questionnaire", "base-ranges"),
  polychoric = "correlation", popcount = "correlation", prediction = "score", profile = "profile",
  random = "retention", reliability = "reliability", resample = "retention",
  resample_people = c("reliability", "base-ranges"), retention = "retention",
  robust = "correlation", rotation = "rotation", score = "score", search = "extraction",
  solution = "solution", spectrum = "retention", stability = c("solution", "base-ranges"),
  subsets = "sift", sums = c("questionnaire", "correlation"), tables = "correlation",
  tally = "questionnaire", uniqueness = "extraction", weighted = c("core-robust", "correlation"),
  wording = "solution")

SWAPS <- list(`+` = "-", `-` = "+", `*` = "/", `/` = "*", `<` = "<=", `<=` = "<", `>` = ">=",
  `>=` = ">", `==` = "!=", `!=` = "==", `&&` = "||", `||` = "&&", `&` = "|", `|` = "&", max = "min",
  min = "max", any = "all", all = "any", which.max = "which.min", rowSums = "colSums")

# Texts are no business of these tests, nor is how large, thick and bright a figure's marks are.
SPARED <- c("sprintf", "paste", "paste0", "stop_input", "new_finding", "function")
LOOKS <- c("size", "linewidth", "alpha", "width", "height", "hjust", "vjust", "margin", "expand",
  "linetype", "shape", "digits", "nudge_x", "nudge_y")

# Places in an expression where one thing can be changed: paths of indices, with what stands there.
places <- function(e, path = integer()) {
  to <- other_value(e)
  if (!is.null(to)) return(list(list(path = path, to = to)))
  if (!is.call(e)) return(list())
  head <- if (is.name(e[[1L]])) as.character(e[[1L]]) else ""
  if (head %in% SPARED) return(list())
  c(other_call(e, head, path), unlist(lapply(seq_along(e)[-1L], function(i) {
    looks <- grepl("^(geom_|annotate|element_|theme|ggplot2::)", deparse(e[[1L]])[1L]) &&
      names(e)[i] %in% LOOKS
    if (nzchar(as.character(e)[i]) && !isTRUE(looks)) places(e[[i]], c(path, i))
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
  stem <- gsub("_", "-", sub("[.][A-Za-z]+$", "", basename(file)))
  room <- sub("-.*", "", stem)
  rooms <- if (room == "core") CORE[[gsub("-", "_", sub("^core-", "", stem))]] else ROOMS[[room]]
  if (is.null(rooms) && room == "core") rooms <- CORE[[sub("^core-([a-z]+).*", "\\1", stem)]]
  if (is.null(rooms)) rooms <- room
  all <- sub("^test-(.*)[.]R$", "\\1", list.files("tests/testthat", "^test-"))
  found <- all[grepl(sprintf("^(%s)(-|$)", paste(rooms, collapse = "|")), all)]
  unique(c(intersect(stem, all), found))
}

# In a process of its own: TRUE where a test failed. A mutant that never ends is dead, too.
dies <- function(tests, library = NULL, name = NULL, body = NULL) {
  run <- function(tests, name, body) {
    Sys.setenv(NOT_CRAN = "true") # (snapshots are looked at)
    suppressMessages({
      library(testthat)
      library(softsieve)
    })
    if (!is.null(name)) {
      space <- asNamespace("softsieve")
      f <- get(name, space)
      body(f) <- body
      unlockBinding(name, space)
      assign(name, f, space)
    }
    for (test in tests) {
      found <- as.data.frame(test_file(sprintf("tests/testthat/test-%s.R", test),
        package = "softsieve", load_package = "installed", reporter = "silent",
        stop_on_failure = FALSE))
      if (any(found$failed > 0L | found$error)) return(TRUE)
    }
    FALSE
  }
  tryCatch(
    callr::r(run, list(tests, name, body), timeout = 300, libpath = c(library, .libPaths())),
    error = function(e) TRUE)
}

try_r <- function(one) {
  dead <- dies(tests_of(one$file), NULL, one$name, put(one$body, one$path, one$to))
  was <- if (length(one$path)) one$body[[one$path]] else one$body
  within <- if (length(one$path) > 1L) one$body[[utils::head(one$path, -1L)]] else one$body
  text <- function(e) substr(paste(deparse(e), collapse = " "), 1L, 90L)
  list(dead = dead, what = sprintf("%s: %s -> %s in %s", one$name, text(was), text(one$to),
    text(within)))
}

# What does not compile is no mutant.
try_cpp <- function(one) {
  tree <- tempfile("mutant")
  dir.create(file.path(tree, "library"), recursive = TRUE)
  on.exit(unlink(tree, recursive = TRUE))
  file.copy(
    c("DESCRIPTION", "NAMESPACE", "R", "src", "data", "exec", "inst", "man", "tools"),
    tree, recursive = TRUE)
  place <- file.path(tree, one$file)
  lines <- readLines(place)
  lines[one$line] <- one$to
  writeLines(lines, place)
  built <- callr::rcmd("INSTALL",
    c("--no-test-load", "--no-docs", "--no-byte-compile",
      paste0("--library=", file.path(tree, "library")), tree),
    env = c(callr::rcmd_safe_env(), MAKEFLAGS = "-j2", R_MAKEVARS_USER = makevars))
  if (built$status != 0L) return(NULL)
  list(dead = dies(tests_of(one$file), file.path(tree, "library")),
    what = sprintf("line %d: %s -> %s", one$line, trimws(one$was), trimws(one$to)))
}

sites_in_r <- function(file) {
  unlist(lapply(parse(file, keep.source = FALSE), function(e) {
    good <- is.call(e) && identical(e[[1L]], as.name("<-")) && is.name(e[[2L]]) &&
      is.call(e[[3L]]) && identical(e[[3L]][[1L]], as.name("function"))
    if (!good) return(list())
    lapply(places(e[[3L]][[3L]]), function(one) {
      c(one, list(file = file, name = as.character(e[[2L]]), body = e[[3L]][[3L]]))
    })
  }), recursive = FALSE)
}

# Operators between spaces, and whole numbers; not of declarations, contracts and comments.
IN_CPP <- c(` + ` = " - ", ` - ` = " + ", ` * ` = " / ", ` / ` = " * ", ` < ` = " <= ",
  ` <= ` = " < ", ` > ` = " >= ", ` >= ` = " > ", ` == ` = " != ", ` != ` = " == ", ` && ` = " || ",
  ` || ` = " && ", ` += ` = " -= ", ` -= ` = " += ", `std::min` = "std::max",
  `std::max` = "std::min", ` 0.5 ` = " 1.5 ", ` 1.0 ` = " 2.0 ", ` 2.0 ` = " 3.0 ", ` 1;` = " 2;",
  ` 0;` = " 1;")

sites_in_cpp <- function(file) {
  lines <- readLines(file)
  code <- sub("//.*", "", lines)
  code[grepl("^ *(#|\\*|/\\*|template)|throw|error|stop", code)] <- ""
  unlist(lapply(which(nzchar(code)), function(at) {
    lapply(Filter(function(one) grepl(one, code[at], fixed = TRUE), names(IN_CPP)), function(one) {
      list(file = file, line = at, was = lines[at],
        to = sub(one, IN_CPP[[one]], lines[at], fixed = TRUE))
    })
  }), recursive = FALSE)
}

set.seed(seed)
makevars <- tempfile()
system2("bash", c("tools/makevars.sh", makevars))
files <- list.files(c("R", "src"), pattern, full.names = TRUE)
files <- files[!grepl("RcppExports|package|catalogue|/bind_", files)]
files <- Filter(function(file) length(tests_of(file)) > 0L, files)
sites <- lapply(files, function(file) {
  if (grepl("[.]R$", file)) sites_in_r(file) else sites_in_cpp(file)
})
sites <- unlist(sites, recursive = FALSE)
chosen <- sites[sample(length(sites), min(count, length(sites)))]
ended <- parallel::mclapply(chosen, function(one) {
  found <- if (is.null(one$line)) try_r(one) else try_cpp(one)
  if (is.null(found)) return(NA)
  cat(sprintf("%s %s %s\n", if (found$dead) "dead " else "LIVES", basename(one$file), found$what))
  found$dead
}, mc.cores = 2L, mc.preschedule = FALSE)
dead <- vapply(ended, isTRUE, NA)[!vapply(ended, function(one) identical(one, NA), NA)]
cat(sprintf("mutants: %d of %d died (%.0f %%)\n", sum(dead), length(dead), 100 * mean(dead)))
