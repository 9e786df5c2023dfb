# Runs everything that is exported, drawn, written, and every verb of the command, in small worlds
# unlike the demo data: by NAMESPACE and the registry, so that what is new is in by itself. A call
# must end in a result or in a classed error, warn of nothing but in our own classes, print within
# 80 columns, and be taken by the next stage.
#
#     Rscript tests/worlds/run.R            all worlds (`make worlds`)
#     Rscript tests/worlds/run.R 3/10       the third tenth of them
#     Rscript tests/worlds/run.R words      worlds by name

suppressPackageStartupMessages(library(softsieve))
here <- dirname(sub("^--file=", "", grep("^--file=", commandArgs(), value = TRUE)[1L]))
files <- c("worlds.R", "calls.R", "looks.R", "verbs.R", "claims.R", "advice.R")
for (file in file.path(here, files)) source(file)
options(cli.width = 80L, width = 80L, cli.num_colors = 1L, cli.progress_show_after = 1e6)

chosen <- function(asked) {
  all <- names(WORLDS)
  if (!length(asked)) return(all)
  if (!grepl("^[0-9]+/[0-9]+$", asked[1L])) return(intersect(asked, all))
  part <- as.integer(strsplit(asked[1L], "/")[[1L]])
  all[seq_along(all) %% part[2L] == part[1L] %% part[2L]]
}

# Each world has a process of its own, so that these need no way back.
settle_in <- function(world) {
  if (isTRUE(world$without)) .libPaths(only_needed(), include.site = FALSE)
  if (is.null(world$locale)) return(TRUE)
  Sys.setenv(LANGUAGE = sub("_.*", "", world$locale))
  nzchar(suppressWarnings(Sys.setlocale("LC_ALL", world$locale)))
}

# A library of the package and what it imports, directly or not, beside R's own.
only_needed <- function() {
  needed <- tools::package_dependencies("softsieve", utils::installed.packages(), recursive = TRUE)
  at <- find.package(c("softsieve", needed[[1L]]))
  at <- at[dirname(at) != .Library]
  library <- tempfile()
  dir.create(library)
  file.symlink(at, file.path(library, basename(at)))
  library
}

# A world is done in two parts that stand alone, so that two processors are done at the same time.
PARTS <- list(calls = function(world, told) {
  pool <- everything_called(world, told)
  for (of in names(pool)) look_at(pool[[of]], of, told)
  formulas_agree(pool, told)
  claims_hold(pool, world, told)
  advice_works(pool, world, told)
  length(pool)
}, verbs = function(world, told) {
  verbs_run(world, told)
  0L
})

in_world <- function(name, part) {
  started <- proc.time()[["elapsed"]]
  told <- new_log(name)
  world <- world_named(name)
  if (!settle_in(world)) {
    cat(sprintf("%s: skipped, there is no locale %s\n", name, world$locale))
    return(told)
  }
  results <- PARTS[[part]](world, told)
  took <- proc.time()[["elapsed"]] - started
  cat(sprintf("%s, %s: %d results, %d calls, %d claims, %.0f s\n", name, part, results, told$calls,
    sum(told$claims), took))
  told
}

todo <- expand.grid(name = chosen(commandArgs(TRUE)), part = names(PARTS), stringsAsFactors = FALSE)
# (a part of the worlds writes a third of the Word files, which take longest)
options(worlds.part = grepl("/", paste(commandArgs(TRUE), collapse = "")))
logs <- parallel::mclapply(seq_len(nrow(todo)), function(i) in_world(todo$name[i], todo$part[i]),
  mc.cores = 2L, mc.preschedule = FALSE)
died <- !vapply(logs, is.environment, NA)
for (one in logs[died]) cat("a world ended:", format(one), "\n")
wrong <- unlist(lapply(logs[!died], function(log) log$wrong))
cat(unique(wrong), sep = "\n")
calls <- sum(vapply(logs[!died], function(log) log$calls, 0L))
cat(sprintf("\nworlds: %d calls, %d wrong\n", calls, length(unique(wrong)) + sum(died)))
quit(status = if (length(wrong) || any(died)) 1L else 0L)
