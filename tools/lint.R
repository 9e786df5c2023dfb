# Lints the R code by .lintr, and the C++ code by .clang-format where clang-format is there. Prints
# what is wrong, file and line first; exit status 1 when anything is. Rscript tools/lint.R recent
# gives lintr the files that the last fifteen commits touched, and a fifth of the others, another
# one for each commit.
if (!requireNamespace("lintr", quietly = TRUE)) {
  cat("lint: lintr is not installed here; nothing was looked at\n")
  quit(status = 0L)
}
folders <- c("R", "tests", "bench", "tools", "data-raw")
code <- list.files(folders, "[.][rR]$", recursive = TRUE, full.names = TRUE)
code <- setdiff(code, "R/RcppExports.R")
# the largest first, one after the other to whoever is free
code <- code[order(-file.size(code))]
cores <- if (.Platform$OS.type == "windows") 1L else 2L
git <- function(...) suppressWarnings(system2("git", c(...), stdout = TRUE, stderr = FALSE))
looked_at <- code
if (identical(commandArgs(trailingOnly = TRUE), "recent")) {
  commits <- git("rev-list", "--max-count=15", "HEAD")
  if (length(commits) > 1L) {
    touched <- git("diff", "--name-only", commits[length(commits)])
    fifth <- strtoi(substr(commits[1L], 1L, 6L), 16L) %% 5L
    looked_at <- code[code %in% touched | seq_along(code) %% 5L == fifth]
  }
}
each <- parallel::mclapply(looked_at, lintr::lint, mc.cores = cores, mc.preschedule = FALSE)
died <- looked_at[vapply(each, inherits, NA, "try-error")]
if (length(died)) stop("lintr broke down on ", paste(died, collapse = ", "))
found <- unlist(each, recursive = FALSE)
for (one in found) {
  cat(sprintf("%s:%d: %s\n", one$filename, one$line_number, one$message))
}
# what is defined is named in snake_case, constants in capitals; methods as generic.class
names_in <- function(file) {
  code <- parse(file, keep.source = FALSE)
  is_assigned <- function(e) is.call(e) && identical(e[[1L]], as.name("<-")) && is.name(e[[2L]])
  vapply(Filter(is_assigned, as.list(code)), function(e) as.character(e[[2L]]), "")
}
good <- paste("^[.]?[a-z][a-z0-9_]*([.][a-z][a-z_]*(frame)?)*$", "^[.]on[A-Z][a-z]+$",
  "^[A-Z][A-Z0-9_]*$", "^(\\$|\\[\\[)<-[.][a-z_]+$", sep = "|")
files <- setdiff(list.files("R", "[.]R$", full.names = TRUE), "R/RcppExports.R")
odd <- unlist(lapply(files, function(file) {
  named <- names_in(file)
  sprintf("%s: %s is no name in snake_case or CAPITALS", file, named[!grepl(good, named)])
}))
writeLines(as.character(odd))
# ways through a function: its branches, loops and conditions, those of functions within it too
WAYS <- 15L
ways_of <- function(e) {
  if (!is.call(e)) return(0L)
  own <- is.name(e[[1L]]) && as.character(e[[1L]]) %in% c("if", "for", "while", "repeat")
  own + sum(vapply(as.list(e)[-1L], function(part) if (missing(part)) 0L else ways_of(part), 0L))
}
tangled <- unlist(lapply(code, function(file) {
  parts <- as.list(parse(file, keep.source = FALSE))
  is_function <- function(e) {
    is.call(e) && length(e) == 3L && is.call(e[[3L]]) && identical(e[[3L]][[1L]], quote(`function`))
  }
  parts <- Filter(is_function, parts)
  ways <- vapply(parts, function(e) ways_of(e[[3L]][[3L]]), 0L)
  named <- vapply(parts, function(e) deparse(e[[2L]])[1L], "")
  sprintf("%s: %s has %d branches and loops", file, named, ways)[ways > WAYS]
}))
writeLines(as.character(tangled))
# a test stands for a file of R/ and is found by its name; those of the whole are called all-
stands <- sub("^test-(.*)", "\\1", list.files("tests/testthat", "^test-"))
stray <- setdiff(grep("^all-", stands, invert = TRUE, value = TRUE), basename(files))
stray <- sprintf("tests/testthat/test-%s: there is no R/%s", stray, stray)
writeLines(stray)
# tools/format.R brings them to where they belong
alone <- unlist(lapply(code, function(file) {
  lines <- readLines(file)
  at <- which(grepl("^\\s*\\)", lines))
  before <- lines[pmax(at - 1L, 1L)]
  hit <- !grepl("#", before) & nchar(before) + nchar(trimws(lines[at])) <= 100L
  sprintf("%s:%d: a bracket stands alone that could end the line above", file, at[hit])
}))
writeLines(as.character(alone))
# names that nothing gives, values that nothing takes, and functions that nothing calls (help pages,
# tools and tests count; what glue takes from text is not seen)
usage <- character()
if (requireNamespace("softsieve", quietly = TRUE)) {
  space <- asNamespace("softsieve")
  utils::capture.output(codetools::checkUsageEnv(space, suppressParamUnused = TRUE,
    report = function(x) usage <<- c(usage, sub("\n$", "", x))))
  usage <- usage[!grepl("[.]data|_softsieve_|^with_counter", usage)]
}
text <- unlist(lapply(c(code, "NAMESPACE", "exec/softsieve"), readLines))
words <- table(unlist(regmatches(text, gregexpr("[A-Za-z.][A-Za-z0-9._]*", text))))
defined <- unlist(lapply(files, names_in))
methods <- grep("^S3method", readLines("NAMESPACE"), value = TRUE)
methods <- gsub("^S3method[(](.*::)?|[)]$|\"", "", methods)
methods <- sub(",", ".", methods, fixed = TRUE)
dead <- defined[words[defined] < 2L & !defined %in% methods & !grepl("^[.]on|^[$[]", defined)]
dead <- sprintf("%s is called by nothing", dead[!is.na(dead)])
usage <- c(usage, dead)
writeLines(as.character(usage))
sources <- setdiff(list.files(c("src", "tools"), "[.](cpp|h)$", full.names = TRUE),
  "src/RcppExports.cpp")
wrong <- character()
if (nzchar(Sys.which("clang-format"))) {
  said <- suppressWarnings(system2("clang-format", c("--dry-run", "--Werror", shQuote(sources)),
    stdout = TRUE, stderr = TRUE))
  wrong <- grep("warning|error", said, value = TRUE)
  writeLines(wrong)
} else {
  cat("lint: clang-format is not installed here; the C++ code was not looked at\n")
}
all <- length(c(found, odd, tangled, stray, alone, usage, wrong))
cat(sprintf("lint: %d things to mend\n", all))
quit(status = if (all) 1L else 0L)
