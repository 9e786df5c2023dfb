# A design in a file, as `softsieve plan` reads it.

# The plan that the file asks for. `seed` and `threads` may come from outside.
plan_of_file <- function(file, seed = NULL, threads = NULL) {
  said <- read_yaml_data(file, "design")
  named <- is.list(said) && length(said) && !is.null(names(said))
  known <- c(DESIGN_ENTRIES, "people", "replicates", "seed", "most", "wishes")
  strange <- if (named) setdiff(names(said), known)
  if (!named || length(strange)) {
    stop_input("design", sprintf("A design file may hold: %s.", join_words(known)),
      got = if (named) paste0(name_culprits(strange), ".") else "Something else came.",
      todo = if (length(strange)) hint_nearest(strange[1L], known))
  }
  wishes <- said$wishes
  if (!is.null(wishes) && (!is.list(wishes) || !length(wishes) ||
      !all(names(wishes) %in% WISHES))) {
    stop_input("design", sprintf("`wishes:` may hold: %s.", join_words(WISHES)),
      got = describe_value(wishes))
  }
  plain <- function(x) if (is.list(x)) unlist(x) else x
  about <- lapply(said[intersect(names(said), DESIGN_ENTRIES)], plain)
  if (is.character(about$pattern)) about$pattern <- pattern_of_file(about$pattern, dirname(file))
  if (is.null(about$pattern) && is.null(about$factors)) {
    stop_input("design", "A design must say how many `factors`, or give a `pattern`.",
      got = sprintf("It holds %s.", join_words(names(said))))
  }
  design <- call_with(planned_factors, about)
  how <- lapply(said[intersect(names(said), c("people", "replicates", "seed", "most"))], plain)
  how <- utils::modifyList(how, Filter(length, list(seed = seed, threads = threads)))
  if (is.null(wishes)) {
    call_with(plan_study, c(list(design), how[names(how) != "most"]))
  } else {
    call_with(people_needed, c(list(design), how[names(how) != "people"], wishes))
  }
}

DESIGN_ENTRIES <- c("factors", "items", "loadings", "correlations", "pattern", "answers", "lean",
  "missing", "careless")
WISHES <- c("right_number", "factors_found", "loading_error", "correlation_error", "omega_error")

# Loadings in columns beneath the factors' names, the first column naming the items.
pattern_of_file <- function(pattern, folder) {
  x <- as.data.frame(read_responses(file.path(folder, pattern)))
  m <- as.matrix(x[-1L])
  if (is.numeric(m)) return(`rownames<-`(m, as.character(x[[1L]])))
  stop_input("design", "A file of loadings must hold numbers beside the names of items.",
    got = sprintf("\"%s\" holds words.", pattern))
}
