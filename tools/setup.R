# Installs what the package needs and is not there yet: Debian's built packages where apt and root
# are there, CRAN's otherwise. Run by make: Rscript tools/setup.R [run|test|docs|site|adbc|slurm]
# Prints one line when nothing is missing.

what <- c(commandArgs(trailingOnly = TRUE), "run")[1L]
fields <- read.dcf("DESCRIPTION", fields = c("Imports", "LinkingTo", "Suggests"))[1L, ]
names_of <- function(field) sub("[[:space:](].*", "", trimws(strsplit(field, ",")[[1L]]))
wanted <- unique(c(names_of(fields[["Imports"]]), names_of(fields[["LinkingTo"]])))
# the command, its report, its figures and its page
if (what == "run") {
  wanted <- c(wanted, "ragg", "optparse", "htmltools", "patchwork", "shiny", "bslib", "callr",
    "later")
}
# what takes minutes to build, or only one script needs, is asked for by name
apart <- list(adbc = c("adbcdrivermanager", "adbcpostgresql"), slurm = "future.batchtools")
if (what != "run") wanted <- unique(c(wanted, names_of(fields[["Suggests"]]), apart[[what]]))
if (what == "docs") wanted <- c(wanted, "roxygen2")
if (what == "site") wanted <- c(wanted, "pkgdown")
# what some tests ask: a validator of JSON Schemas, and what looks at pages in a real browser;
# without
# node they are skipped
modules <- c("ajv", "axe-core", "playwright-core")
has_modules <- all(dir.exists(file.path(".build/node/node_modules", modules)))
if (what == "test" && nzchar(Sys.which("npm")) && !has_modules) {
  dir.create(".build/node", recursive = TRUE, showWarnings = FALSE)
  invisible(system2("npm",
    c("install", "--silent", "--no-audit", "--no-fund", "--prefix", ".build/node", modules),
    stdout = FALSE, stderr = FALSE))
}
# worlds in other languages than the machine's
no_locales <- function() {
  there <- if (nzchar(Sys.which("locale"))) system2("locale", "-a", stdout = TRUE)
  setdiff(c("de_DE", "tr_TR"), sub("[.].*", "", there))
}
is_there <- function(packages) vapply(packages, function(p) nzchar(system.file(package = p)), NA)
missing <- wanted[!is_there(wanted)]
programs <- if (what != "run") {
  needed <- c(pandoc = "pandoc", "clang-format" = "clang-format", ccache = "ccache")
  # spreadsheet formulas are tried out in a spreadsheet program
  if (what == "test") {
    needed["soffice"] <- "libreoffice-calc-nogui"
    needed["chromium"] <- "chromium"
    needed["pdftotext"] <- "poppler-utils"
  }
  absent <- unname(needed[!nzchar(Sys.which(names(needed)))])
  # a server for the tests of databases, and what its client is built with
  if (what == "test" && !length(Sys.glob("/usr/lib/postgresql/*/bin/initdb"))) {
    absent <- c(absent, "postgresql")
  }
  if (what == "test" && "RPostgres" %in% missing) absent <- c(absent, "libpq-dev")
  if (what == "test" && length(no_locales())) absent <- c(absent, "locales")
  absent
}
if (!length(missing) && !length(programs)) {
  cat("set-up: everything is there\n")
  quit(status = 0L)
}

run <- function(...) system2(..., stdout = FALSE, stderr = FALSE) == 0
is_root <- nzchar(Sys.which("id")) && identical(system2("id", "-u", stdout = TRUE), "0")
on_debian <- nzchar(Sys.which("apt-get")) && is_root
from_debian <- function(packages, programs = NULL) {
  debian <- paste0("r-cran-", tolower(packages))
  has <- vapply(debian, function(p) run("apt-cache", c("show", p)), NA)
  if (!any(has) && !length(programs)) return(invisible())
  cat("set-up: installing from Debian:", c(debian[has], programs), "\n")
  run("apt-get", c("install", "-y", "-qq", "--no-install-recommends", debian[has], programs))
}
if (on_debian) {
  Sys.setenv(DEBIAN_FRONTEND = "noninteractive")
  run("apt-get", c("update", "-qq"))
  from_debian(missing, programs)
  missing <- missing[!is_there(missing)]
  if (what == "test") {
    for (one in no_locales()) {
      run("localedef", c("-i", one, "-f", "UTF-8", paste0(one, ".UTF-8")))
    }
  }
}
if (length(missing)) {
  library <- .libPaths()[1L]
  if (file.access(library, 2L) != 0) {
    library <- Sys.getenv("R_LIBS_USER")
    dir.create(library, recursive = TRUE, showWarnings = FALSE)
  }
  repository <- getOption("repos")[["CRAN"]]
  if (repository == "@CRAN@") {
    utils::chooseCRANmirror(ind = 1L) # the first of R's own list
    repository <- getOption("repos")[["CRAN"]]
  }
  # what these need comes built from Debian too where it can
  needs <- unique(unlist(tools::package_dependencies(missing,
    available.packages(repos = repository), recursive = TRUE)))
  needs <- setdiff(needs[!is_there(needs)], missing)
  if (on_debian && length(needs)) from_debian(needs)
  cat("set-up: building from CRAN (a minute or two):", missing, "\n")
  install.packages(missing, lib = library, repos = repository, quiet = TRUE, Ncpus = 2L)
  missing <- missing[!is_there(missing)]
}
needed <- intersect(missing,
  c(names_of(fields[["Imports"]]), names_of(fields[["LinkingTo"]]), "testthat"))
if (length(needed)) {
  message("set-up: could not install ", paste(needed, collapse = ", "))
  quit(status = 1L)
}
