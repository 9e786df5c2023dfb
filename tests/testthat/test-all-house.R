# The house: a file of R/ may call its own room and rooms before it, never a later one; the core
# computes and does nothing else; the compiled core knows nothing of R.

rooms <- c("core", "base", "read", "questionnaire", "profile", "correlation", "factorability",
  "retention", "extraction", "rotation", "solution", "reliability", "score", "sift", "plan",
  "study", "table", "print", "plot", "report", "cli", "page")
outside <- c("softsieve-package.R", "data.R")
interface <- c("print", "cat", "message", "warning", "writeLines", "readline", "library", "require",
  "requireNamespace", "plot", "browser", "structure")

# For each file of code: its room, what it defines, the names it uses, the packages it names.
read_house <- function(files) {
  lapply(stats::setNames(files, basename(files)), function(path) {
    code <- parse(path, keep.source = TRUE)
    tokens <- utils::getParseData(code)
    tokens <- tokens[tokens$terminal, ]
    assigns <- vapply(code,
      function(e) is.call(e) && identical(e[[1]], as.name("<-")) && is.name(e[[2]]), NA)
    inner <- c(FALSE, head(tokens$token, -1) %in% c("'$'", "'@'", "NS_GET", "NS_GET_INT"))
    local <- tokens$text[
      tokens$token == "SYMBOL_FORMALS" |
        (tokens$token == "SYMBOL" & c(tokens$token[-1] == "LEFT_ASSIGN", FALSE))
    ]
    calls <- tokens$text[tokens$token == "SYMBOL_FUNCTION_CALL" & !inner]
    list(room = sub("-.*", "", basename(path)),
      defines = vapply(code[assigns], function(e) as.character(e[[2]]), ""),
      uses = union(calls, setdiff(tokens$text[tokens$token == "SYMBOL" & !inner], local)),
      calls = calls, packages = tokens$text[tokens$token == "SYMBOL_PACKAGE"])
  })
}

# What is broken, in words.
broken_rules <- function(house) {
  home <- unlist(lapply(house, function(file) {
    stats::setNames(rep(file$room, length(file$defines)), file$defines)
  }), use.names = TRUE)
  names(home) <- sub("^[^.]*[.]R[.]", "", names(home))
  unlist(lapply(names(house), function(name) {
    file <- house[[name]]
    floor <- match(file$room, rooms)
    if (is.na(floor)) return(paste(name, "stands in no room"))
    later <- file$uses[!is.na(home[file$uses]) & match(home[file$uses], rooms) > floor]
    c(if (length(later)) paste(name, "calls up:", later), if (floor == 1) {
      c(if (length(found <- intersect(file$calls, interface))) {
        paste(name, "is core and calls", found)
      }, if (length(found <- setdiff(file$packages, c("base", "stats", "methods", "utils")))) {
        paste(name, "is core and uses the package", found)
      })
    })
  }))
}

r_in_core <- function(lines) {
  grep("#include.*(<R|\"R|Rcpp|Rinternals|RcppEigen)|Rprintf|std::cout|std::cerr|printf|\\bSEXP\\b",
    lines, value = TRUE)
}

root <- test_path("..", "..")
skip_without_sources <- function() {
  skip_if_not(
    file.exists(file.path(root, "R", "core-score.R")) && dir.exists(file.path(root, "src")),
    "the package's sources")
}

test_that("no file calls a later room and the core only computes", {
  skip_without_sources()
  files <- setdiff(list.files(file.path(root, "R"), "[.]R$"), c(outside, "RcppExports.R"))
  expect_gt(length(files), 30)
  house <- read_house(file.path(root, "R", files))
  expect_identical(broken_rules(house), NULL)
  defined <- unlist(lapply(house, `[[`, "defines"))
  expect_identical(unname(defined[duplicated(defined)]), character())
})

test_that("the compiled core includes nothing of R and prints nothing", {
  skip_without_sources()
  core <- list.files(file.path(root, "src"), "^core_.*[.](h|cpp)$", full.names = TRUE)
  expect_gt(length(core), 6)
  for (file in core) {
    expect_identical(r_in_core(readLines(file)), character(), label = basename(file))
  }
  others <- setdiff(list.files(file.path(root, "src"), "[.](h|cpp)$"),
    c(basename(core), "RcppExports.cpp"))
  # (RcppExports.cpp includes a header of this name by itself)
  expect_match(setdiff(others, "softsieve_types.h"), "^bind_")
})

test_that("the rules are able to fail", {
  dir <- withr::local_tempdir()
  writeLines(
    c("core_a <- function(x) show_b(x)", "core_c <- function(x) { cat(x); rlang::abort(\"no\") }"),
    file.path(dir, "core-a.R"))
  writeLines("show_b <- function(x) core_a(x)", file.path(dir, "print-b.R"))
  writeLines("lost <- 1", file.path(dir, "attic-c.R"))
  expect_identical(broken_rules(read_house(list.files(dir, full.names = TRUE))),
    c("attic-c.R stands in no room", "core-a.R calls up: show_b", "core-a.R is core and calls cat",
      "core-a.R is core and uses the package rlang"))
  expect_length(
    r_in_core(c("#include <Rcpp.h>", "#include <R.h>", "Rprintf(\"x\");", "#include <random>",
      "int x;")),
    3)
})

test_that("the catalogues that are installed are those that people edit", {
  files <- list.files(test_path("..", "..", "inst", "catalogue"), "[.]yml$", full.names = TRUE)
  skip_if(!length(files), "no source tree")
  for (file in files) {
    expect_identical(softsieve:::catalogue(sub("[.]yml$", "", basename(file))),
      yaml::read_yaml(file), label = file)
  }
})

test_that("what is installed packed is what people edit", {
  for (folder in c("catalogue", "web")) {
    home <- test_path("..", "..", "inst", folder)
    skip_if_not(dir.exists(home), "not in the source tree")
    files <- setdiff(list.files(home), "all.xz")
    packed <- softsieve:::packed_files(folder)
    expect_setequal(names(packed), sub("[.]yml$", "", files))
    for (file in files) {
      lines <- readLines(file.path(home, file), encoding = "UTF-8")
      expect_identical(enc2utf8(packed[[sub("[.]yml$", "", file)]]), enc2utf8(lines), label = file)
    }
  }
})
