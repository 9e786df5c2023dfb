# What is text for people stands in files that can be edited without R (inst/catalogue; what is
# installed of them is packed: tools/catalogue.R), each read once.
FOUND <- new.env(parent = emptyenv())

catalogue <- function(name) {
  key <- paste0("catalogue ", name)
  if (is.null(FOUND[[key]])) {
    text <- paste(packed_files("catalogue")[[name]], collapse = "\n")
    assign(key, yaml::yaml.load(text, eval.expr = FALSE), envir = FOUND)
  }
  FOUND[[key]]
}

# The lines of each file of a folder, by its name.
packed_files <- function(folder) {
  key <- paste0("files of ", folder)
  if (is.null(FOUND[[key]])) {
    lines <- lines_of(system.file(folder, "all.xz", package = "softsieve", mustWork = TRUE))
    begins <- startsWith(lines, "%% ")
    held <- split(lines[!begins], cumsum(begins)[!begins])
    assign(key, stats::setNames(held, sub("%% ", "", lines[begins], fixed = TRUE)), envir = FOUND)
  }
  FOUND[[key]]
}

# The name by which an argument, an entry or a code of an earlier version goes now; NULL for others.
now_called <- function(name) catalogue("renamed")[[name]]

# Every cut-off that the package compares a number with stands in inst/catalogue/cutoffs.yml, with
# the paper it comes from.
cutoff <- function(name) as.numeric(cutoff_spec(name)$value)
cutoff_source <- function(name) cutoff_spec(name)$source

cutoff_spec <- function(name) {
  found <- catalogue("cutoffs")[[name]]
  if (is.null(found)) stop("no cut-off is called ", name, call. = FALSE)
  found
}

# Families that are such files: findings in one, languages each in its own.
finding_kinds <- function() {
  if (is.null(FOUND$findings)) {
    all <- catalogue("findings")
    entries <- Map(function(one, name) c(list(name = name, label = one$text), one), all, names(all))
    assign("findings", entries, envir = FOUND)
  }
  FOUND$findings
}

languages <- function() {
  if (is.null(FOUND$languages)) {
    files <- grep("^language-", names(packed_files("catalogue")), value = TRUE)
    entries <- lapply(files, function(file) {
      lapply(catalogue(file), function(one) if (is.list(one)) unlist(one) else one)
    })
    names(entries) <- vapply(entries, `[[`, "", "name")
    entries <- entries[order(vapply(entries, `[[`, 0, "order"))]
    assign("languages", entries, envir = FOUND)
  }
  FOUND$languages
}
