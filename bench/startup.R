# What it costs to load the package, and to run the command for a word: beside a bare Rscript, in
# one run. At most 3 times for library(softsieve), 2 times for help, version and errors.

seconds <- function(...) {
  times <- vapply(1:9, function(i) {
    system.time(system2(file.path(R.home("bin"), "Rscript"), c(...), stdout = FALSE,
      stderr = FALSE))[[
      "elapsed"
    ]]
  }, 0)
  median(times)
}
command <- system.file("exec", "softsieve", package = "softsieve")
bare <- seconds("-e", "1")
told <- c("library(softsieve)" = seconds("-e", shQuote("library(softsieve)")),
  "softsieve --help" = seconds(command, "--help"),
  "softsieve --version" = seconds(command, "--version"),
  "softsieve with a wrong word" = seconds(command, "mend"),
  "softsieve run with no such file" = seconds(command, "run", "nowhere.yml"))
cat(sprintf("Bare Rscript: %.2f s\n", bare))
cat(sprintf("%s: %.2f s, %.1f times\n", names(told), told, told / bare), sep = "")
