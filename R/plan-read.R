# A design in a file, as `softsieve plan` reads it.

# The plan that the file asks for. `seed` and `threads` may come from outside.
plan_of_file <- function(file, seed = NULL, threads = NULL) {
  said <- read_design(file)
  design <- planned_of_entries(said, file)
  searched <- !is.null(said$wishes)
  how <- lapply(
    said[intersect(names(said), setdiff(DESIGN_FILE_ENTRIES, c(DESIGN_ENTRIES, "wishes")))],
    plain_entry)
  for (flag in c("alternatives", "hidden")) how[[flag]] <- flag_of_word(how[[flag]])
  how <- utils::modifyList(how, Filter(length, list(seed = seed, threads = threads)))
  call_with(if (searched) people_needed else plan_study, c(list(design), how, said$wishes))
}

planned_of_entries <- function(said, file) {
  about <- lapply(said[intersect(names(said), DESIGN_ENTRIES)], plain_entry)
  if (is.character(about$pattern)) about$pattern <- pattern_of_file(pattern_path(about, file))
  if (is.numeric(about$pattern)) about$pattern <- as.matrix(about$pattern) # (of one factor)
  call_with(planned_factors, about)
}

# The entries of a design file, or of a study's `design:`.
read_design <- function(file) {
  said <- read_yaml_data(file, "design")
  check_design_entries(if (is.list(said) && "design" %in% names(said)) said$design else said)
}

# A list of entries, each known, and none that goes with another kind of plan.
check_design_entries <- function(said) {
  named <- is.list(said) && length(said) && !is.null(names(said))
  refuse <- function(must, got, todo = NULL) stop_input("design", must, got = got, todo = todo)
  known <- DESIGN_FILE_ENTRIES
  if (!named) {
    refuse(sprintf("A design file may hold: %s.", join_words(known)), "Something else came.")
  }
  strange <- setdiff(names(said), known)
  if (length(strange)) {
    refuse(sprintf("A design file may hold: %s.", join_words(known)),
      paste0(name_culprits(strange), "."), hint_nearest(strange[1L], known))
  }
  if (is.null(said$pattern) && is.null(said$factors)) {
    refuse("A design must say how many `factors`, or give a `pattern`.",
      sprintf("It holds %s.", join_words(names(said))))
  }
  searched <- "wishes" %in% names(said)
  wishes <- said$wishes
  if (searched && !(is.list(wishes) && length(wishes) && all(names(wishes) %in% WISHES))) {
    refuse(sprintf("`wishes:` may hold: %s.", join_words(WISHES)), describe_value(wishes))
  }
  not_with <- if (searched) ONLY_WITH_PEOPLE else c("most", "alternatives")
  other <- intersect(not_with, names(said))
  if (length(other)) {
    refuse(if (searched) {
      "A design file says how many `people` (or `hidden`, `rules`, `resamples`), or has `wishes:`."
    } else {
      sprintf("`%s` goes with the search for people, which `wishes:` ask for.", other[1L])
    }, sprintf("`%s` came %s `wishes:`.", other[1L], if (searched) "with" else "without"))
  }
  said
}

# Lists of numbers as vectors, lists of those as matrices.
plain_entry <- function(x) {
  if (!is.list(x)) return(x)
  rows <- any(lengths(x) > 1L) && length(unique(lengths(x))) == 1L
  if (rows) return(do.call(rbind, lapply(x, unlist)))
  unlist(x)
}

pattern_path <- function(said, file) {
  path <- said$pattern
  if (grepl("^(/|~|[A-Za-z]:)", path)) path else file.path(dirname(file), path)
}

# The files that a design is read from.
files_of_design <- function(file) {
  said <- read_design(file)
  c(file, if (is.character(said$pattern)) pattern_path(said, file))
}

DESIGN_ENTRIES <- c("factors", "items", "loadings", "correlations", "pattern", "answers", "lean",
  "missing", "careless", "clusters", "blocks")
ONLY_WITH_PEOPLE <- c("people", "hidden", "rules", "resamples")
DESIGN_FILE_ENTRIES <- c(DESIGN_ENTRIES, ONLY_WITH_PEOPLE, "replicates", "seed", "kind", "most",
  "wishes", "alternatives")
WISHES <- c("right_number", "factors_found", "loading_error", "correlation_error", "omega_error",
  "omega_width", "cross_loading")

# Loadings in columns beneath the factors' names, the first column naming the items.
pattern_of_file <- function(file) {
  x <- as.data.frame(read_responses(file))
  m <- as.matrix(x[-1L])
  if (is.numeric(m)) return(`rownames<-`(m, as.character(x[[1L]])))
  stop_input("design", "A file of loadings must hold numbers beside the names of items.",
    got = sprintf("\"%s\" holds words.", basename(file)))
}
