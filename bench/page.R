# How long the page takes to show new numbers after a click, and what 200 decisions cost in memory.
# Needs the set-up of `make test` (chromium, playwright-core). Rscript bench/page.R writes page.csv.

library(softsieve)
modules <- normalizePath(".build/node/node_modules")

large_study <- function(folder, people = 24000L, items = 48L, factors = 6L) {
  set.seed(3)
  home <- rep_len(seq_len(factors), items)
  loading <- runif(items, .4, .8)
  topic <- matrix(rnorm(people * factors), people)
  x <- t(t(topic[, home]) * loading) + t(t(matrix(rnorm(people * items), people)) *
    sqrt(1 - loading^2))
  x[] <- findInterval(x, c(-1.2, -.4, .4, 1.2)) + 1
  x[sample(length(x), length(x) / 100)] <- NA
  colnames(x) <- sprintf("i%03d", seq_len(items))
  write_table(data.frame(person = sprintf("p%05d", seq_len(people)), x),
    file.path(folder, "answers.csv"))
  file <- file.path(folder, "study.yml")
  writeLines(c("answers: {file: answers.csv, id: person}", "factors: {number: probable}",
    "seed: 1"), file)
  file
}

demo_study <- function(folder) {
  from <- system.file("extdata", package = "softsieve")
  file.copy(list.files(from, "^repair_cafe_", full.names = TRUE), folder)
  file.path(folder, "repair_cafe_study.yml")
}

# Megabytes of a page's process and its workers.
megabytes <- function(pid) {
  children <- scan(sprintf("/proc/%d/task/%d/children", pid, pid), quiet = TRUE)
  sum(vapply(c(pid, children), function(one) {
    line <- grep("^VmRSS", readLines(sprintf("/proc/%d/status", one)), value = TRUE)
    as.numeric(gsub("\\D", "", line)) / 1024
  }, 0))
}

measure <- function(name, make, decisions) {
  folder <- tempfile()
  dir.create(folder)
  study <- make(folder)
  log <- tempfile()
  page <- processx::process$new("Rscript",
    c("-e", "softsieve::open_page(commandArgs(TRUE)[1], browser = FALSE)", study), stdout = log,
    stderr = "2>&1")
  on.exit(page$kill())
  while (!any(grepl("http", readLines(log, warn = FALSE)))) Sys.sleep(.2)
  url <- sub(".*(http[^ ]*).*", "\\1", grep("http", readLines(log, warn = FALSE), value = TRUE))
  Sys.sleep(1)
  click <- function(n) {
    said <- system2("node", shQuote(c("bench/page.js", url, modules, Sys.which("chromium"), n)),
      stdout = TRUE)
    jsonlite::fromJSON(said)
  }
  first <- click(8)
  before <- megabytes(page$get_pid())
  if (decisions) click(decisions)
  data.frame(data = name, what = c("take out, weighed before", "take out at once", "undo"),
    clicks = lengths(first[c("thought", "once", "undo")]),
    median_ms = vapply(first[c("thought", "once", "undo")], median, 0),
    worst_ms = vapply(first[c("thought", "once", "undo")], max, 0), decisions = decisions,
    grew_mb = round(megabytes(page$get_pid()) - before))
}

all <- rbind(measure("840 x 26", demo_study, 200L), measure("24,000 x 48", large_study, 0L))
print(all, row.names = FALSE)
utils::write.csv(all, "bench/page.csv", row.names = FALSE)
